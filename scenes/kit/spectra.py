"""Spectra, sampled every 10 nm from 380 to 780 nm: lamps, daylight, and human skin."""

import colour
import numpy as np

WAVELENGTHS = np.arange(380, 781, 10.0)


def as_spectrum(values):
    """Mitsuba dictionary for `values` at `WAVELENGTHS`."""
    return {
        "type": "irregular",
        "wavelengths": ",".join(f"{w:g}" for w in WAVELENGTHS),
        "values": ",".join(f"{v:.6f}" for v in values),
    }


def planck(kelvin):
    """Black-body radiance, 1 at 560 nm."""
    radiance = 1 / (WAVELENGTHS**5 * (np.exp(1.4388e7 / (WAVELENGTHS * kelvin)) - 1))
    return radiance / np.interp(560, WAVELENGTHS, radiance)


def daylight(kelvin):
    """CIE daylight of a correlated colour temperature (4000 to 25000 K), 1 at 560 nm."""
    xy = colour.temperature.CCT_to_xy_CIE_D(kelvin)
    spectrum = colour.sd_CIE_illuminant_D_series(xy).align(colour.SpectralShape(380, 780, 10))
    return np.asarray(spectrum.values) / spectrum[560]


def daylight_rgb(kelvin):
    """Linear sRGB of CIE daylight, green 1."""
    xyz = colour.xy_to_XYZ(colour.temperature.CCT_to_xy_CIE_D(kelvin))
    rgb = colour.RGB_COLOURSPACES["sRGB"].matrix_XYZ_to_RGB @ xyz
    return rgb / rgb[1]


def _read(values):
    return [float(v) for v in values.split()]


# Molar extinction of oxygenated and deoxygenated haemoglobin, cm-1/M, at these wavelengths in nm.
_BLOOD_NM = _read(
    "380 390 400 410 420 430 440 450 460 470 480 490 500 510 520 530 540 550 560 570 580 590 "
    "600 610 620 630 640 650 660 680 700 720 780"
)
_OXY = _read(
    "150000 167748 266232 466840 480360 246072 102580 62816 44480 33209 26629 23684 20933 20035 "
    "24202 39957 53236 43016 32613 44496 50104 14401 3200 1506 942 610 442 368 320 278 290 348 "
    "710"
)
_DEOXY = _read(
    "160000 167780 223296 303956 407560 528600 413280 103292 23389 16156 14550 16684 20862 "
    "25774 31590 39037 46592 53412 53788 45072 37020 28324 14677 9444 6510 5149 4345 3750 3227 "
    "2408 1794 1326 1075"
)


def skin_reflectance(melanin, blood, melanin_slope):
    """Diffuse reflectance of skin: a melanin layer over a blood-filled scattering layer.

    Parameters
    ----------
    melanin, blood : float
        Volume fractions of melanosomes in the outer layer and of blood below it.
    melanin_slope : float
        Exponent of melanin's fall with wavelength; the textbook 3.33 turns dark skin orange.

    Notes
    -----
    Transmission of the upper layer by Beer's law over 45 micrometres, twice; the lower layer by
    diffusion theory for a half space with scattering 46 (w/500)^-1.421 per cm.
    """
    w = WAVELENGTHS
    base = 0.244 + 85.3 * np.exp(-(w - 154) / 66.2)
    absorb_top = 6.6e11 * 560**-3.33 * (w / 560) ** -melanin_slope * melanin + (1 - melanin) * base
    through = np.exp(-2 * 1.4 * absorb_top * 0.0045)
    oxy, deoxy = np.interp(w, _BLOOD_NM, _OXY), np.interp(w, _BLOOD_NM, _DEOXY)
    absorb = (
        blood * 2.303 * (0.72 * oxy + 0.28 * deoxy) * 150 / 64500 + base + 0.6 * (w / 500) ** -4
    )
    scatter = 46 * (w / 500) ** -1.421
    albedo = scatter / (absorb + scatter)
    internal = (1 + 0.53) / (1 - 0.53)
    q = np.sqrt(3 * (1 - albedo))
    reflect = albedo / 2 * (1 + np.exp(-4 / 3 * internal * q)) * np.exp(-q) * 1.12
    return np.clip(through * reflect, 0, 0.95)

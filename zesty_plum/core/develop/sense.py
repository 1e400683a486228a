"""Sense: which ISO the camera takes, where it clips, and the noise that light and electronics
bring.

Electrons at mid grey fall with ISO: n = electrons x base / ISO. A level of e electrons has a
standard deviation of sqrt(e + read_noise^2): photons by Poisson's law, electronics on top. A
picture that is shown smaller than the sensor averages photosites, so its noise is smaller by the
ratio of widths; what the mosaic of colours makes of it is in `photosites`.
"""

import itertools
import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..base.late import library
from ..look import Sensor
from . import photosites

cv2 = library("cv2")

# The habit behind the automatic exposure: f/5.6 in good light, and no longer than 1/125 s with
# people in the frame; no camera stays open longer than 30 s by itself.
SLOWEST, TYPICAL, LONGEST = 1 / 125, 5.6, 30.0


@dataclass(frozen=True, slots=True)
class Exposure:
    """What the camera would set: f-number, time in seconds, ISO, and the least ISO that the guard
    asks for; `filter`, stops that a grey filter before the lens takes; `off`, stops by which the
    picture is brighter than it was to be, as nothing else is left; `dark`, seconds of the dark
    picture that is taken after it."""

    aperture: float
    time: float
    iso: float
    floor: float
    filter: int = 0
    off: float = 0.0
    dark: float = 0.0


@dataclass(frozen=True, slots=True)
class Programme:
    """What a look asks of the exposure: stops of guard and bias; limits of the automatic ISO, 0
    being the sensor's own; a fixed f-number and the slowest time in seconds, 0 if they are free;
    and pictures a second of a clip, 0 of a picture."""

    guard: float = 0.0
    bias: float = 0.0
    iso_least: float = 0.0
    iso_most: float = 0.0
    aperture: float = 0.0
    slowest: float = 0.0
    rate: float = 0.0


def least_iso(sensor: Sensor, guard: float) -> float:
    """Base ISO doubled for every stop of guard."""
    return float(sensor.base_iso * 2.0**guard)


def expose(sensor: Sensor, ev100: float, asked: Programme = Programme()) -> Exposure:
    """Choose time, aperture, ISO and grey filter for a scene of `ev100`: N^2/t = 2^EV x ISO/100
    (ISO 2721). A guard raises the lower end of the ISO range.

    A picture: f/5.6 in good light, the lens closes when the shutter can be no faster; first the
    lens opens, then ISO rises, then the shutter stays open. A clip: half the time of a frame.
    """
    floor = max(least_iso(sensor, asked.guard), asked.iso_least)
    ceiling = max(min(asked.iso_most or sensor.top_iso, sensor.top_iso), floor)
    need = 2.0 ** (ev100 - asked.bias) / 100  # N^2 / (t ISO)
    usual = asked.aperture or min(max(TYPICAL, sensor.widest), sensor.narrowest)
    wide = asked.aperture or sensor.widest
    if asked.rate:
        return _clip(need, (floor, ceiling), (wide, usual), 0.5 / asked.rate, bool(asked.aperture))
    longest = asked.slowest or SLOWEST
    aperture, iso = usual, floor
    time = aperture**2 / (need * iso)
    if time < sensor.fastest and not asked.aperture:
        aperture = min(math.sqrt(sensor.fastest * need * iso), sensor.narrowest)
    elif time > longest:
        aperture = max(wide, math.sqrt(longest * need * iso)) if not asked.aperture else usual
        iso = min(max(aperture**2 / (longest * need), floor), ceiling)
    wanted = aperture**2 / (need * iso)
    time = min(max(wanted, sensor.fastest), LONGEST)
    return Exposure(aperture, time, iso, floor, 0, math.log2(time / wanted))


def _clip(
    need: float, isos: tuple[float, float], apertures: tuple[float, float], time: float, fixed: bool
) -> Exposure:
    """A clip's exposure: where there is too much light a filter of whole stops, and the aperture
    takes the rest, or if that is fixed the ISO; where there is too little the lens opens, then ISO
    rises."""
    (floor, ceiling), (wide, usual) = isos, apertures
    over = math.log2(time * need * floor / usual**2)
    if over > 0.5 or (fixed and over > 0):
        stops = math.ceil(over - 1e-9) if fixed else round(over)
        need /= 2.0**stops
        aperture = usual if fixed else usual * 2.0 ** ((over - stops) / 2)
    else:
        stops, aperture = 0, usual if fixed else max(wide, math.sqrt(time * need * floor))
    iso = min(max(aperture**2 / (time * need), floor), ceiling)
    return Exposure(aperture, time, iso, floor, stops, math.log2(time * need * iso / aperture**2))


LONG = 0.5  # seconds from which on the dark current of photosites shows
WARMS, WARMEST = 0.6, 12.0  # degrees a second that a sensor warms while it is open, and at most


def warm_pattern(sensor: Sensor, exposure: Exposure, celsius: float) -> float:
    """Light (mid grey 0.18) for each electron a second of `photosites.dark_current`, in a place of
    a temperature."""
    if exposure.time < LONG or exposure.dark:
        return 0.0
    warm = celsius + min(WARMS * exposure.time, WARMEST) - 25
    electrons = exposure.time * 2.0 ** (warm / photosites.DOUBLES)
    return float(MID_GREY * electrons * exposure.iso / (sensor.electrons * sensor.base_iso))


DIAGONAL = 21.63  # mm, half the diagonal of a frame 36 mm wide
_WAY = np.linspace(0, 1, 65)
_FIT = np.linalg.pinv(np.stack([_WAY**k for k in (1, 2, 3, 4)], 1))  # by powers, least squares


@dataclass(frozen=True, slots=True)
class Fall:
    """How light falls off towards the corners of a frame, and how much of that is made up for.

    law : (2, 4), by powers one to four of the square of the way from the middle to a corner: how
    many times less light arrives, less 1, and the share of it that the picture keeps, less 1. down
    (h,), across (3 w,) : squares of the way, of a picture's rows and of its columns' colours.
    """

    law: Array
    down: Array
    across: Array


@lru_cache(maxsize=32)
def falling(sensor: Sensor, aperture: float, lens: float, share: float) -> Array:
    """The law of `Fall` for a lens of so many mm on a frame 36 mm wide: cos^4 of the angle, as of
    every lens (the law of natural illumination), and the rims of the usual one, which take
    `Sensor.vignette` stops wide open and less by the square of the f-number."""
    natural = (1 + _WAY * (DIAGONAL / lens) ** 2) ** 2.0
    rims = sensor.vignette * min(1.0, (sensor.widest / aperture) ** 2) * _WAY**2
    less = natural * np.exp2(rims)
    return np.asarray([_FIT @ (less - 1), _FIT @ (less ** (share - 1) - 1)], np.float32)


def noise_deviation(level: Array, sensor: Sensor, iso: float, width: int) -> Array:
    """Standard deviation of the noise at scene levels (mid grey 0.18) in a picture `width` pixels
    wide."""
    return deviation(level, noise_law(sensor, iso, width))


def deviation(level: Array, law: tuple[float, float]) -> Array:
    """Standard deviation of noise at scene levels, by a law as of `noise_law`."""
    per_light, floor = law
    return np.asarray(np.sqrt(np.maximum(level, 0) * per_light + floor), np.float32)


def noise_law(sensor: Sensor, iso: float, width: int) -> tuple[float, float]:
    """(per_light, floor): noise variance of a picture `width` pixels wide is per_light * level +
    floor."""
    at_grey = sensor.electrons * sensor.base_iso / iso
    scale = MID_GREY / at_grey * min(1.0, width / sensor.width)
    return at_grey / MID_GREY * scale * scale, (sensor.electronics(iso) * scale) ** 2


BANDS = 12  # of brightness, in which noise is estimated
# A quarter of what the mask answers to independent noise of deviation 1 lies below; and the share
# by which it answers less to LibRaw's demosaiced noise, whose neighbours are alike, at 100 percent.
QUARTER, ALIKE = 6 * 0.31864, 0.6


def estimated(light: Array, pitch: float) -> tuple[float, float]:
    """The law of `noise_law` at 100 percent that the noise of light (h, w, 3) follows, which has
    `pitch` pixels a photosite.

    In bands of brightness the calmer half of what a mask blind to planes and edges answers
    (Immerkaer 1996), so that texture is left out.
    """
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)

    def answer(green: Array) -> Array:
        return np.asarray(np.abs(cv2.filter2D(np.ascontiguousarray(green), -1, mask)))

    green = np.ascontiguousarray(light[..., 1], np.float32)
    own = photosites.unit_noise(96, 96, 1, pitch)[..., 1].std()
    unit = float(own) * pitch * QUARTER * (1 - ALIKE * pitch)
    level, seen = cv2.blur(green, (5, 5)), answer(green)
    edges = np.unique(np.percentile(level, np.linspace(0, 98, BANDS + 1)))
    levels, squares = [], []
    for low, high in itertools.pairwise(edges):
        inside = (level >= low) & (level < high)
        if inside.sum() >= 400:
            levels.append(float(level[inside].mean()))
            squares.append((float(np.percentile(seen[inside], 25)) / unit) ** 2)
    if not levels:
        return 0.0, 0.0
    at, square = np.array(levels), np.maximum(np.array(squares), 1e-12)
    rows = np.stack([at, np.ones_like(at)], 1) / square[:, None]
    slope, floor = np.linalg.lstsq(rows, np.ones_like(at), rcond=None)[0]
    if slope < 0:
        return 0.0, float(np.median(square))
    if floor < 0:
        return float(np.median(square / np.maximum(at, 1e-6))), 0.0
    return float(slope), float(floor)

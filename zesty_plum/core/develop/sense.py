"""Sense: which ISO the camera takes, where it clips, and the noise that light and electronics
bring.

Electrons at mid grey fall with ISO: n = electrons x base / ISO. A level of e electrons has a
standard deviation of sqrt(e + read_noise^2): photons by Poisson's law, electronics on top. A
picture that is shown smaller than the sensor averages photosites, so its noise is smaller by the
ratio of widths; what the mosaic of colours makes of it is in `photosites`.
"""

from dataclasses import dataclass

import numpy as np

from ..arrays import MID_GREY, Array
from ..look import Sensor

# The habit behind the automatic ISO: open to f/2.8, and no longer than 1/125 s with people in the
# frame.
SLOWEST, WIDEST, TYPICAL = 1 / 125, 2.8, 5.6
FASTEST = 1 / 4000


@dataclass(frozen=True, slots=True)
class Exposure:
    """What the camera would set: f-number, time in seconds, ISO, and the least ISO that the guard
    asks for."""

    aperture: float
    time: float
    iso: float
    floor: float


def least_iso(sensor: Sensor, guard: float) -> float:
    """Base ISO doubled for every stop of guard."""
    return float(sensor.base_iso * 2.0**guard)


def expose(
    sensor: Sensor,
    ev100: float,
    guard: float = 0.0,
    bias: float = 0.0,
    iso_range: tuple[float, float] = (0.0, 0.0),
) -> Exposure:
    """Choose time, aperture and ISO for a scene of `ev100` with a bias in stops.

    `iso_range` limits the automatic ISO, 0 being the sensor's own limit; a guard raises the lower
    end.

    f/5.6 in good light; first the lens opens to f/2.8, then ISO rises. With N^2/t = 2^EV x ISO/100
    (ISO 2721).
    """
    floor = max(least_iso(sensor, guard), iso_range[0])
    ceiling = max(min(iso_range[1] or sensor.top_iso, sensor.top_iso), floor)
    need = 2.0 ** (ev100 - bias)
    time = TYPICAL**2 / (need * floor / 100)
    if time <= SLOWEST:
        aperture = TYPICAL
        if time < FASTEST:
            aperture, time = float(np.sqrt(FASTEST * need * floor / 100)), FASTEST
        return Exposure(aperture, time, floor, floor)
    time = WIDEST**2 / (need * floor / 100)
    if time <= SLOWEST:
        return Exposure(float(np.sqrt(SLOWEST * need * floor / 100)), SLOWEST, floor, floor)
    iso = 100 * WIDEST**2 / (SLOWEST * need)
    iso = min(iso, ceiling)
    return Exposure(WIDEST, WIDEST**2 / (need * iso / 100), iso, floor)


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

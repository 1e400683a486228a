"""Sense: which ISO the camera takes, where it clips, and the noise that light and electronics bring.

Electrons at mid grey fall with ISO: n = electrons x base / ISO. A level of e electrons has a standard deviation of
sqrt(e + read_noise^2): photons by Poisson's law, electronics on top. A picture that is shown smaller than the sensor
averages photosites, so its noise is smaller by the ratio of widths.
"""

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np

from ..arrays import MID_GREY, Array
from ..look import Sensor

# The habit behind the automatic ISO: open to f/2.8, and no longer than 1/125 s with people in the frame.
SLOWEST, WIDEST, TYPICAL = 1 / 125, 2.8, 5.6
FASTEST = 1 / 4000


@dataclass(frozen=True, slots=True)
class Exposure:
    """What the camera would set: f-number, time in seconds, ISO, and the least ISO that the guard asks for."""

    aperture: float
    time: float
    iso: float
    floor: float


def least_iso(sensor: Sensor, guard: float) -> float:
    """Base ISO doubled for every stop of guard."""
    return float(sensor.base_iso * 2.0**guard)


def expose(sensor: Sensor, ev100: float, guard: float = 0.0, bias: float = 0.0) -> Exposure:
    """Choose time, aperture and ISO for a scene of `ev100` with a bias in stops.

    f/5.6 in good light; first the lens opens to f/2.8, then ISO rises. With N^2/t = 2^EV x ISO/100 (ISO 2721).
    """
    floor = least_iso(sensor, guard)
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
    if iso > sensor.top_iso:
        iso = max(sensor.top_iso, floor)
    return Exposure(WIDEST, WIDEST**2 / (need * iso / 100), iso, floor)


def noise_deviation(level: Array, sensor: Sensor, iso: float, width: int) -> Array:
    """Standard deviation of the noise at scene levels (mid grey 0.18) in a picture `width` pixels wide."""
    at_grey = sensor.electrons * sensor.base_iso / iso
    electrons = np.maximum(level, 0) / MID_GREY * at_grey
    scale = MID_GREY / at_grey * min(1.0, width / sensor.width)
    return np.asarray(np.sqrt(electrons + sensor.read_noise**2) * scale, np.float32)


@lru_cache(maxsize=3)
def unit_noise(height: int, width: int, seed: int) -> Array:
    """Standard normal noise (height, width, 3), the same for the same seed."""
    return np.random.default_rng([seed, 1]).standard_normal((height, width, 3), dtype=np.float32)


def add_noise(light: Array, sensor: Sensor, iso: float, seed: int, frame_width: int | None = None) -> Array:
    """Return `light` (h, w, 3) with noise; `frame_width` is the width of the whole frame at this scale."""
    height, width = light.shape[:2]
    at_grey = sensor.electrons * sensor.base_iso / iso
    scale = MID_GREY / at_grey * min(1.0, (frame_width or width) / sensor.width)
    # electrons + read noise squared, in one pass
    variance = np.concatenate([np.eye(3) * (at_grey / MID_GREY), np.full((3, 1), sensor.read_noise**2)], 1)
    # One array, worked on in place: fresh large arrays cost more than the arithmetic.
    out = cv2.transform(light, variance.astype(np.float32))
    cv2.sqrt(out, dst=out)
    cv2.multiply(out, unit_noise(height, width, seed), dst=out, scale=scale)
    return np.asarray(cv2.add(light, out, dst=out), np.float32)

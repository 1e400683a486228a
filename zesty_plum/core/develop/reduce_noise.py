"""Reduce noise, before tone, on an encoding that is even to the eye: brightness and colour apart, edges kept.

A guided filter (He, Sun and Tang 2010) of the picture by itself: where the local variance is well above the noise
it is kept, where it is not the mean takes over. The threshold is in multiples of the noise present, so a clean frame is
hardly touched, and a large multiple at high ISO smears texture, as in a camera.
"""

import cv2
import numpy as np

from ..arrays import Array

RADIUS, COLOUR_RADIUS = 1, 2  # in pixels of the half-size planes that the statistics are taken on
COLOUR_MORE = 1.6  # colour noise is uglier than brightness noise and its detail matters less
HALF_KEEPS = 0.7  # averaging four pixels halves independent noise; its local variance is judged on what is left


def _guided(plane: Array, variance: Array, radius: int) -> Array:
    """Fast guided filter (He and Sun 2015): statistics at half size, applied at full size."""
    height, width = plane.shape
    half = (max(1, width // 2), max(1, height // 2))
    size = (2 * radius + 1, 2 * radius + 1)
    small = cv2.resize(plane, half, interpolation=cv2.INTER_LINEAR)
    mean = cv2.blur(small, size)
    local = cv2.subtract(cv2.blur(cv2.multiply(small, small), size), cv2.multiply(mean, mean))
    local = cv2.max(local, 0.0)
    keep = cv2.divide(local, cv2.add(local, cv2.resize(variance, half, interpolation=cv2.INTER_LINEAR)))
    offset = cv2.subtract(mean, cv2.multiply(keep, mean))
    keep = cv2.resize(cv2.blur(keep, size), (width, height), interpolation=cv2.INTER_LINEAR)
    offset = cv2.resize(cv2.blur(offset, size), (width, height), interpolation=cv2.INTER_LINEAR)
    return np.asarray(cv2.add(cv2.multiply(keep, plane), offset), np.float32)


def reduce_noise(encoded: Array, deviation: Array | float, strength: float) -> Array:
    """Return `encoded` (h, w, 3) with noise taken out.

    deviation : noise present, in units of `encoded`: a number, or a map of any size over the same picture.
    strength : threshold over it; 0 does nothing.
    """
    noise = np.atleast_2d(np.asarray(deviation, np.float32))
    if strength <= 0 or not noise.any():
        return encoded
    red, green, blue = cv2.split(encoded)
    luma = cv2.addWeighted(cv2.addWeighted(red, 0.5, blue, 0.5, 0), 0.5, green, 0.5, 0)
    variance = np.maximum((noise * strength * HALF_KEEPS) ** 2, 1e-12).astype(np.float32)
    # Three equal noises averaged 1:2:1 leave 0.375 of one's variance; a difference with luma about 0.65.
    smooth = _guided(luma, variance * np.float32(0.375), RADIUS)
    wide = variance * np.float32(COLOUR_MORE**2 * 0.65)
    warm = _guided(cv2.subtract(red, luma), wide, COLOUR_RADIUS)
    cool = _guided(cv2.subtract(blue, luma), wide, COLOUR_RADIUS)
    # luma = (red + 2 green + blue) / 4, so green - luma = -(red - luma + blue - luma) / 2.
    rest = cv2.addWeighted(warm, -0.5, cool, -0.5, 0)
    return np.asarray(cv2.merge([cv2.add(warm, smooth), cv2.add(rest, smooth), cv2.add(cool, smooth)]), np.float32)


def present(encoded: Array) -> float:
    """Estimate the noise of a finished picture, for which no ISO is known.

    Median absolute response to a mask that ignores planes and edges (Immerkaer 1996), turned into a standard deviation.
    """
    grey = encoded.mean(-1, dtype=np.float32)
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
    response = np.abs(cv2.filter2D(grey, -1, mask))[1:-1, 1:-1]
    return float(np.median(response) / 0.6745 / 6 * np.sqrt(3))

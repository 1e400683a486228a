"""Reduce noise, before tone, on an encoding that is even to the eye: brightness and colour apart, edges kept.

A guided filter (He, Sun and Tang 2010) of the picture by itself: where the local variance is well above the noise
it is kept, where it is not the mean takes over. The threshold is in multiples of the noise present, so a clean frame is
hardly touched, and a large multiple at high ISO smears texture, as in a camera.
"""

import cv2
import numpy as np

from ..arrays import Array

RADIUS = 1  # in pixels of the half-size planes that the statistics are taken on
COLOUR_MORE = 2.0  # colour noise is uglier than brightness noise and its detail matters less
ENOUGH = 1200  # pixels each way to estimate noise on
HALF_KEEPS = 0.7  # averaging four pixels halves independent noise; its local variance is judged on what is left

# Brightness (1:2:1), and red and blue against it; and back, with green - brightness = -(warm + cool) / 2.
TO_PLANES = np.array([[0.25, 0.5, 0.25], [0.75, -0.5, -0.25], [-0.25, -0.5, 0.75]], np.float32)
FROM_PLANES = np.array([[1, 1, 0], [1, -0.5, -0.5], [1, 0, 1]], np.float32)
# Share of one channel's noise variance in each plane: the sums of the squares of the rows above.
SHARES = (TO_PLANES**2).sum(1) * np.array([1, COLOUR_MORE**2, COLOUR_MORE**2])


def reduce_noise(encoded: Array, deviation: Array | float, strength: float) -> Array:
    """Return `encoded` (h, w, 3) with noise taken out.

    deviation : noise present, in units of `encoded`: a number, or a map of any size over the same picture.
    strength : threshold over it; 0 does nothing.

    Statistics are taken at half size and applied at full size (He and Sun 2015).
    """
    noise = np.atleast_2d(np.asarray(deviation, np.float32))
    if strength <= 0 or not noise.any():
        return encoded
    height, width = encoded.shape[:2]
    half, box = (max(1, width // 2), max(1, height // 2)), (2 * RADIUS + 1, 2 * RADIUS + 1)
    planes = cv2.transform(encoded, TO_PLANES)
    variance = np.maximum((noise * strength * HALF_KEEPS) ** 2, 1e-12)
    variance = cv2.resize(variance.astype(np.float32), half, interpolation=cv2.INTER_LINEAR)
    small = cv2.resize(planes, half, interpolation=cv2.INTER_LINEAR)
    mean = cv2.blur(small, box)
    local = cv2.subtract(cv2.blur(cv2.multiply(small, small), box), cv2.multiply(mean, mean))
    local = cv2.max(local, (0.0,) * 4)
    floor = cv2.transform(variance, SHARES.astype(np.float32)[:, None])
    keep = cv2.divide(local, cv2.add(local, floor))
    offset = cv2.subtract(mean, cv2.multiply(keep, mean))
    keep = cv2.resize(cv2.blur(keep, box), (width, height), interpolation=cv2.INTER_LINEAR)
    offset = cv2.resize(cv2.blur(offset, box), (width, height), interpolation=cv2.INTER_LINEAR)
    cv2.multiply(keep, planes, dst=planes)
    cv2.add(planes, offset, dst=planes)
    return np.asarray(cv2.transform(planes, FROM_PLANES), np.float32)


def present(encoded: Array) -> float:
    """Estimate the noise of a finished picture, for which no ISO is known.

    Median absolute response to a mask that ignores planes and edges (Immerkaer 1996), turned into a standard deviation.
    """
    # The middle is enough, and the frame may be large.
    top, left = (max(0, (n - ENOUGH) // 2) for n in encoded.shape[:2])
    grey = encoded[top : top + ENOUGH, left : left + ENOUGH].mean(-1, dtype=np.float32)
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
    response = np.abs(cv2.filter2D(grey, -1, mask))[1:-1, 1:-1]
    return float(np.median(response) / 0.6745 / 6 * np.sqrt(3))

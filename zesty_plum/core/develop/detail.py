"""Sharpness: fine detail of the brightness added back or taken away, with the overshoot a camera gives, but bounded."""

import cv2
import numpy as np

from ..arrays import Array

OVERSHOOT = 0.06  # largest change of a pixel, as a share of full scale


def radius(width: int) -> float:
    """Standard deviation of the blur in pixels: a pixel or so, at every size that is looked at."""
    return max(1.0, width / 1100)


def sharpening(luma: Array, amount: float) -> Array:
    """What sharpness adds to an encoded brightness (h, w): `amount` times its fine detail; -1 leaves only the blur."""
    fine = cv2.subtract(luma, cv2.GaussianBlur(luma, (0, 0), radius(luma.shape[1])))
    change = cv2.multiply(fine, float(amount))
    if amount > 0:
        # x / (1 + |x| / m): the slope at 0 is 1, no change exceeds m.
        change = cv2.divide(change, cv2.add(cv2.absdiff(change, 0.0), OVERSHOOT), scale=OVERSHOOT)
    return np.asarray(change, np.float32)

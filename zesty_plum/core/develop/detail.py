"""Sharpness: fine detail of the brightness added back or taken away, with the overshoot a camera gives, but bounded."""

import cv2
import numpy as np

from ..arrays import Array

OVERSHOOT = 0.06  # largest change of a pixel, as a share of full scale
LUMA = np.array([[0.2126, 0.7152, 0.0722]], np.float32)


def radius(width: int) -> float:
    """Standard deviation of the blur in pixels: a pixel or so, at every size that is looked at."""
    return max(1.0, width / 1100)


def sharpen(encoded: Array, amount: float) -> Array:
    """Add `amount` times the fine detail to an encoded picture (h, w, 3); minus softens, -1 leaves only the blur."""
    if not amount:
        return encoded
    luma = cv2.transform(encoded, LUMA)
    fine = cv2.subtract(luma, cv2.GaussianBlur(luma, (0, 0), radius(encoded.shape[1])))
    change = cv2.multiply(fine, float(amount))
    if amount > 0:
        # x / (1 + |x| / m): the slope at 0 is 1, no change exceeds m.
        change = cv2.divide(change, cv2.add(np.abs(change), OVERSHOOT), scale=OVERSHOOT)
    return np.asarray(cv2.add(encoded, cv2.merge([change] * 3)), np.float32)

"""Sharpness: fine detail of the brightness added back or taken away, with the overshoot a camera
gives, but bounded."""

import cv2

from .. import bands
from ..arrays import Array
from . import kernels

OVERSHOOT = 0.06  # largest change of a pixel, as a share of full scale


def radius(width: int) -> float:
    """Standard deviation of the blur in pixels: a pixel or so, at every size that is looked at."""
    return max(1.0, width / 1100)


def sharpen(luma: Array, amount: float) -> None:
    """Add `amount` times its fine detail to an encoded brightness (h, w), in place; -1 leaves only
    the blur."""
    blurred = cv2.GaussianBlur(luma, (0, 0), radius(luma.shape[1]))
    bands.run(
        lambda top, end: kernels.sharpen(luma[top:end], blurred[top:end], amount, OVERSHOOT),
        luma.shape[0],
    )

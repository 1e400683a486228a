"""Sharpness: fine detail of the brightness added back or taken away, with the overshoot a camera
gives, but bounded."""

import cv2

from .. import bands
from ..arrays import Array
from ..look import Look
from . import kernels
from .part import Part

FIELDS = ("sharpness",)
OVERSHOOT = 0.06  # largest change of a pixel, as a share of full scale


def radius(width: int) -> float:
    """Standard deviation of the blur in pixels: a pixel or so, at every size that is looked at."""
    return max(1.0, width / 1100)


def reach(width: int) -> float:
    """How far it looks: the blur to four deviations."""
    return 4 * radius(width)


def shape(luma: Array, look: Look, part: Part) -> None:
    """Add a look's sharpness to an encoded brightness (h, w), in place; -1 leaves only the blur."""
    del part
    if not look.sharpness:
        return
    blurred = cv2.GaussianBlur(luma, (0, 0), radius(luma.shape[1]))

    def work(top: int, end: int) -> None:
        kernels.sharpen(luma[top:end], blurred[top:end], look.sharpness, OVERSHOOT)

    bands.run(work, luma.shape[0])


def noise(deviation: float, look: Look, grey: float) -> float:
    """Fine noise is fine detail."""
    del grey
    return deviation * (1 + max(0.0, look.sharpness))

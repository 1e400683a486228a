"""Sharpness: fine detail of the brightness added back or taken away, with the overshoot a camera
gives, but bounded.

It acts on photosites, so a picture that is shown small has little of it."""

import numpy as np

from ..base import bands
from ..base.arrays import Array
from ..look import Look
from . import kernels
from .part import Part
from .photosites import FEW, blurred

FIELDS = ("sharpness",)
RADIUS = 1.0  # standard deviation of the blur in photosites
AVERAGED = 1.18  # over it where a pixel averages several: what sharpened edges add to averages
OVERSHOOT = 0.06  # largest change of a pixel, as a share of full scale
REACH = 4  # pixels that it looks away, at most


def shape(luma: Array, look: Look, part: Part) -> None:
    """Add a look's sharpness to an encoded brightness (h, w), in place; -1 leaves only the blur."""
    if not look.sharpness:
        return
    deviation = RADIUS * part.pitch * (1.0 if part.pitch * FEW > 1 else AVERAGED)
    soft = np.empty_like(luma)

    def blur(top: int, end: int) -> None:
        first = max(0, top - REACH)
        soft[top:end] = blurred(luma[first : end + REACH], deviation)[top - first : end - first]

    def work(top: int, end: int) -> None:
        kernels.sharpen(luma[top:end], soft[top:end], look.sharpness, OVERSHOOT)

    bands.run(blur, len(luma))
    bands.run(work, len(luma))

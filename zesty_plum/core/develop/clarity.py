"""Clarity: local contrast over large parts of the picture, with edges kept so that nothing gets a
halo.

The brightness is split by a wide guided filter (He, Sun and Tang 2010) into a base that keeps
strong edges and what is left over; the rest is added again, more or less of it. Where the base
would smear an edge, a plain blur would draw a halo there; the guided one follows the edge instead.
"""

import numpy as np

from ..base import bands
from ..base.arrays import Array
from ..base.late import library
from ..look import Look
from . import small_loops
from .part import Part

cv2 = library("cv2")

FIELDS = ("clarity",)
RADIUS = 0.025  # of the window, as a share of the frame's width
EDGE = 0.07  # encoded contrast above which a step counts as an edge and stays in the base
SMALL = 240  # pixels across on which the base is found: it is smooth by construction
GAIN = 2.2  # brings a step of the dials to a visible amount
MOST = 0.08  # largest change of a pixel, as a share of full scale


def base(luma: Array, frame_width: int) -> Array:
    """Slope and offset (2, h2, w2) of the base, base = slope * luma + offset, by guided filtering
    at a small size."""
    height, width = luma.shape
    scale = min(1.0, SMALL / width)
    size = (max(1, round(width * scale)), max(1, round(height * scale)))
    radius = max(1, round(RADIUS * frame_width * scale))
    box = (2 * radius + 1,) * 2
    small = cv2.resize(luma, size, interpolation=cv2.INTER_AREA)
    mean = cv2.blur(small, box)
    variance = np.maximum(cv2.blur(small * small, box) - mean * mean, 0)
    slope = variance / (variance + EDGE * EDGE)
    return np.stack([cv2.blur(plane, box) for plane in (slope, mean - slope * mean)])


def shape(luma: Array, look: Look, part: Part) -> None:
    """Add a look's clarity to rows of an encoded brightness (h, w), in place; none at black and
    white."""
    if not look.clarity:
        return
    whole = luma if part.whole is None else part.whole
    frame = part.frame if part.whole is None else part.whole.shape[1]
    leading = base(whole, frame)

    def work(a: int, b: int) -> None:
        small_loops.clarify(
            luma[a:b], leading, GAIN * look.clarity, MOST, part.top + a, part.height
        )

    bands.run(work, len(luma))

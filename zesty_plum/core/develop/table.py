"""The point stages baked: a ramp for tone and a cube for colour, and a look-up that goes through
both in one pass."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from .. import bands
from ..arrays import Array
from ..colour.spaces import LUMA_709
from . import kernels
from .point import FINE, Point


@dataclass(frozen=True, eq=False)
class Table:
    """ramp : (n, 2) over each channel, 0 to 1: encoded grey, and the place in the cube, 0 to 1.
    cube : (size**3, 4), red slowest: what is added to the ramp's encoded values, and the brightness
    of that in the fourth.
    """

    ramp: Array
    cube: Array
    size: int

    def apply(self, encoded: Array, luma: Array) -> None:
        """Put a picture (h, w, 3), float32, through the table in place, and its brightness into
        `luma` (h, w)."""
        height, width = luma.shape
        rows = encoded.reshape(height, 3 * width)
        bands.run(
            lambda top, end: kernels.look_up(
                rows[top:end], luma[top:end], self.ramp, self.cube, self.size
            ),
            height,
        )


@lru_cache(maxsize=24)
def bake(point: Point, size: int = FINE) -> Table:
    """The table of a look with `size` points a side.

    A finished picture is encoded evenly already: its ramp is a straight line.
    """
    straight = np.array([0.0, 1.0])
    grey, places = (straight, straight) if point.finished else point.ramp()
    at_corners = np.interp(np.linspace(0, 1, size), places, grey).astype(np.float32)
    cube = np.empty((size, size, size, 4), np.float32)
    cube[..., :3] = point.table(size)
    for channel, axis in enumerate(
        ([slice(None), None, None], [None, slice(None), None], [None, None, slice(None)])
    ):
        cube[..., channel] -= at_corners[tuple(axis)]
    cube[..., 3] = cube[..., :3] @ LUMA_709
    return Table(np.stack([grey, places], 1).astype(np.float32), cube.reshape(-1, 4), size)

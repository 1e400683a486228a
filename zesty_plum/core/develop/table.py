"""The point stages as a ramp for tone and a cube for colour, and a look-up that goes through both
in one pass."""

from functools import lru_cache

import numpy as np

from .. import bands
from ..arrays import Array, Mask
from . import kernels
from .point import FINE, Point


class Table:
    """A look's table with `size` points a side, worked out where pictures go: of the cube's colours
    a picture touches a few in a hundred.

    ramp : (n, 2) over each channel, 0 to 1: encoded grey, and the place in the cube, 0 to 1.
    cube : (size**3, 4), red slowest: what is added to the ramp's encoded values, and the brightness
    of that in the fourth; only where it is known.
    """

    def __init__(self, point: Point, size: int) -> None:
        # A finished picture is encoded evenly already: its ramp is a straight line.
        straight = np.array([0.0, 1.0])
        grey, places = (straight, straight) if point.finished else point.ramp()
        self.ramp = np.stack([grey, places], 1).astype(np.float32)
        # Zeros, since on the border of two cells a rounding may go to the one that was not touched,
        # with next to no weight.
        self.cube, self.size = np.zeros((size**3, 4), np.float32), size
        self._places = np.ascontiguousarray(self.ramp[:, 1])
        self._point, self._axis = point, point.axis(size)
        self._grey = np.interp(np.linspace(0, 1, size), places, grey).astype(np.float32)
        self._known = np.zeros(size**3, bool)

    def apply(self, encoded: Array, luma: Array) -> None:
        """Put a picture (h, w, 3), float32, through the table in place, and its brightness into
        `luma` (h, w)."""
        height, width = luma.shape
        rows = encoded.reshape(height, 3 * width)
        cells = np.zeros(self.size**3, bool)
        bands.run(
            lambda top, end: kernels.touch(rows[top:end], self._places, cells, self.size),
            height,
        )
        self._know(cells)
        bands.run(
            lambda top, end: kernels.look_up(
                rows[top:end], luma[top:end], self.ramp, self.cube, self.size
            ),
            height,
        )

    def _know(self, cells: Mask) -> None:
        """Work out the corners of `cells` (size**3,), named by their lowest corner, that are not
        known yet."""
        corners = cells.reshape((self.size,) * 3)
        corners[1:] |= corners[:-1]
        corners[:, 1:] |= corners[:, :-1]
        corners[:, :, 1:] |= corners[:, :, :-1]
        new = np.flatnonzero(cells & ~self._known)
        if len(new):
            encoded = self._point.at(kernels.corners(new, self._axis))
            kernels.store(new, encoded, self._grey, self.cube)
            # Last, so that no other thread takes for known what is not there yet; two that need the
            # same find the same.
            self._known[new] = True


@lru_cache(maxsize=10)
def bake(point: Point, size: int = FINE) -> Table:
    """The table of a look, kept for its next picture."""
    return Table(point, size)

"""The point stages as a ramp for tone and a cube for colour, and a look-up that goes through both
in one pass."""

from functools import lru_cache
from typing import Any

import numpy as np

from ..base import bands
from ..base.arrays import Array
from . import cube_loops
from .point import FINE, Point

SOME = 8  # every so manyth row of a large picture is looked at first


class Table:
    """A look's table with `size` points a side, worked out where pictures go: of the cube's colours
    a picture touches a few in a hundred.

    ramp : (n, 2) over each channel, 0 to 1: encoded grey, and the place in the cube, 0 to 1.
    cube : (size, size, size, 4), red slowest: what is added to the ramp's encoded values, and the
    brightness of that in the fourth; only where it is known.
    """

    def __init__(self, point: Point, size: int) -> None:
        # A finished picture is encoded evenly already: its ramp is a straight line.
        straight = np.array([0.0, 1.0])
        grey, places = (straight, straight) if point.finished else point.ramp()
        self.ramp = np.stack([grey, places], 1).astype(np.float32)
        # Zeros, since on the border of two cells a rounding may go to the one that was not touched,
        # with next to no weight.
        self.cube, self.size = np.zeros((size, size, size, 4), np.float32), size
        self._places = np.ascontiguousarray(self.ramp[:, 1])
        self._point, self._axis = point, point.axis(size)
        self._grey = np.interp(np.linspace(0, 1, size), places, grey).astype(np.float32)
        self._known = np.zeros(size**3, bool)
        self._ready = np.zeros(size**3, bool)  # cells all of whose corners are known

    def apply(self, encoded: Array, luma: Array, out: Array | None = None) -> None:
        """Put a picture (h, w, 3), float32, through the table into `out`, or else in place, and its
        brightness into `luma` (h, w)."""
        height, width = luma.shape
        rows, out = encoded.reshape(height, 3 * width), encoded if out is None else out
        into = out.reshape(height, 3 * width)
        if not self._ready.any():
            # Where a large picture goes is known by some of its rows; the rest is caught up on.
            some = rows if height < bands.SMALL else np.ascontiguousarray(rows[SOME // 2 :: SOME])
            cells = np.zeros(self.size**3, bool)
            cube_loops.touch(some, self._places, cells, self.size)
            self._know(np.flatnonzero(cells))
        left: list[tuple[int, int, Array, Array]] = []

        def work(top: int, end: int) -> None:
            at = np.empty(((end - top) * width, 2), np.int32)
            parts = np.empty(((end - top) * width, 3), np.float32)
            band, table = slice(top, end), (self.ramp, self.cube, self._ready)
            many = cube_loops.look_up(rows[band], into[band], luma[band], *table, at, parts)
            if many:
                left.append((top, end, at[:many], parts[:many]))

        bands.run(work, height)
        if left:
            self._know(np.unique(np.concatenate([at[:, 1] for _, _, at, _ in left])))
        for top, end, at, parts in left:
            pixels = out[top:end].reshape(-1, 3)
            cube_loops.add_left_out(pixels, luma[top:end].reshape(-1), self.cube, at, parts)

    def _know(self, cells: Any) -> None:
        """Work out the corners of cells (n,), named by their lowest corner, that are not known
        yet."""
        red, green = self.size**2, self.size
        corners = np.zeros(self.size**3, bool)
        for further in (0, 1, green, green + 1, red, red + 1, red + green, red + green + 1):
            corners[cells + further] = True
        new = np.flatnonzero(corners & ~self._known)
        if len(new):
            encoded = self._point.at(cube_loops.corners(new, self._axis))
            cube_loops.store(new, encoded, self._grey, self.cube.reshape(-1, 4))
            self._known[new] = True
        # Last, so that no other thread takes for known what is not there yet; two that need the
        # same find the same.
        self._ready[cells] = True


@lru_cache(maxsize=10)
def bake(point: Point, size: int = FINE) -> Table:
    """The table of a look, kept for its next picture."""
    return Table(point, size)

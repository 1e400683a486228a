"""Which rows of a picture a stage has in hand, and where in the frame they lie."""

import math
from dataclasses import dataclass

import numpy as np

from ..base.arrays import Array


@dataclass(frozen=True, slots=True)
class Where:
    """Where a picture lies in its whole frame, in its own pixels: its first row and column, and
    rows and columns of the frame. A picture of the whole frame begins at 0, 0 and is as large."""

    top: float
    left: float
    rows: float
    columns: float

    def down(self, first: int, many: int) -> Array:
        """How far the rows from `first` on lie below the middle of the frame (many,), in units of
        half its diagonal."""
        half = math.hypot(self.columns, self.rows) / 2
        return ((np.arange(first, first + many) + self.top + 0.5 - self.rows / 2) / half).astype(
            np.float32
        )

    def across(self, many: int) -> Array:
        """How far its columns lie to the right of the middle (many,), in the same units."""
        half = math.hypot(self.columns, self.rows) / 2
        return ((np.arange(many) + self.left + 0.5 - self.columns / 2) / half).astype(np.float32)


def all_of(shape: tuple[int, ...]) -> Where:
    """A picture (h, w, ...) that is the whole frame."""
    return Where(0, 0, shape[0], shape[1])


def amid(shape: tuple[int, ...], columns: float, rows: float) -> Where:
    """A picture (h, w, ...) in the middle of a frame."""
    return Where((rows - shape[0]) / 2, (columns - shape[1]) / 2, rows, columns)


@dataclass(frozen=True, slots=True)
class Part:
    """Rows of a picture on their way: those from `top` on of `height`, of a frame that is `frame`
    pixels wide and has `pitch` pixels a photosite, at most 1. `where` the picture lies in its
    frame; a stage that depends on the place asks it, and not the rows. `whole` is the brightness of
    the whole picture, small, where the rows are not all of it; `colours` are the rows as encoded
    colours (h, w, 3), before any stage on neighbours."""

    frame: int
    top: int
    height: int
    where: Where
    whole: Array | None = None
    pitch: float = 1.0
    colours: Array | None = None


def alone(
    shape: tuple[int, ...], frame: int, pitch: float = 1.0, colours: Array | None = None
) -> Part:
    """All rows of a picture (h, w) that is looked at by itself, as the middle of a frame `frame`
    pixels wide."""
    where = amid(shape, frame, frame / 1.5)
    return Part(frame, 0, shape[0], where, pitch=pitch, colours=colours)

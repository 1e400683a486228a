"""Which rows of a picture a stage has in hand."""

from dataclasses import dataclass

from ..arrays import Array


@dataclass(frozen=True, slots=True)
class Part:
    """Rows of a picture on their way: those from `top` on of `height`, of a frame that is `frame`
    pixels wide and has `pitch` pixels a photosite, at most 1. `whole` is the brightness of the
    whole picture, small, where the rows are not all of it; `colours` are the rows as encoded
    colours (h, w, 3), before any stage on neighbours."""

    frame: int
    top: int
    height: int
    whole: Array | None = None
    pitch: float = 1.0
    colours: Array | None = None

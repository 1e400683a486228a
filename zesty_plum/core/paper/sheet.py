"""A PDF to be drawn on, in points of 1/72 inch, with all faces at hand."""

import io
from functools import cache
from typing import Any

from ..base.late import library
from . import faces

Canvas = Any  # of a library that does not say its types
MM = 72 / 25.4
A4, LETTER = (210 * MM, 297 * MM), (612.0, 792.0)
PAPERS = {"a4": A4, "letter": LETTER}
_canvas, _utils = library("reportlab.pdfgen.canvas"), library("reportlab.lib.utils")
_metrics, _fonts = library("reportlab.pdfbase.pdfmetrics"), library("reportlab.pdfbase.ttfonts")


@cache
def _ready() -> None:
    for file in (*faces.OURS, *faces.OTHERS):
        _metrics.registerFont(_fonts.TTFont(file, str(faces.HERE / f"{file}.ttf")))


def begun(out: io.BytesIO, size: tuple[float, float], title: str) -> Canvas:
    """A document whose pages have a size, the same bytes for the same marks."""
    _ready()
    canvas = _canvas.Canvas(out, pagesize=size, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Zesty Plum")
    return canvas


def drawable(picture: Any) -> Any:
    """A Pillow image, or a file of one, as a canvas takes it."""
    return _utils.ImageReader(picture)

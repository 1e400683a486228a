"""The chart that teaches a camera, on paper."""

import io

import numpy as np

from ..base.late import library
from ..learn.chart import ACROSS, DOWN, MARK, MARK_AT, PATCHES, SHEET, marks, printed
from . import faces
from .sheet import MM, PAPERS, Canvas, begun, drawable

Image = library("PIL.Image")


cv2 = library("cv2")

GREY = 0.55  # around the patches
TEXT = (
    "Print it on matt paper, as large as it comes, without colour management if your printer asks. "
    "Printers differ, so what it teaches is rough.",
    "Photograph it flat and filling most of the frame, in even daylight, at the camera's standard "
    "settings, exposed as its meter says.",
)


def sheet(paper: str = "a4") -> bytes:
    """The chart as a PDF of one page, landscape."""
    height, width = PAPERS[paper]
    out = io.BytesIO()
    page = begun(out, (width, height), "Chart to teach a camera")
    left, top = (width - SHEET[0] * MM) / 2, height - 12 * MM
    page.setFillGray(GREY)
    page.rect(left, top - SHEET[1] * MM, SHEET[0] * MM, SHEET[1] * MM, stroke=0, fill=1)
    for number, (x, y) in enumerate(MARK_AT):
        _mark(page, number, left + x * MM, top - y * MM)
    x0, y0, x1, y1 = PATCHES
    wide, high = (x1 - x0) / ACROSS * MM, (y1 - y0) / DOWN * MM
    for k, value in enumerate(printed()[1]):
        row, column = divmod(k, ACROSS)
        page.setFillColorRGB(*(value / 255))
        page.rect(
            left + x0 * MM + column * wide, top - y0 * MM - (row + 1) * high, wide, high, 0, 1
        )
    page.setFillGray(0.2)
    page.setFont(faces.OURS[0], 8)
    for k, line in enumerate(TEXT):
        page.drawString(left, top - SHEET[1] * MM - (5 + 4 * k) * MM, line)
    page.save()
    return out.getvalue()


def _mark(page: Canvas, number: int, x: float, y: float) -> None:
    """A mark with its white border, around its middle."""
    drawn = cv2.aruco.generateImageMarker(marks(), number, 240)
    size, border = MARK * MM, 2 * MM
    page.saveState()
    page.setFillGray(1)
    page.rect(
        x - size / 2 - border, y - size / 2 - border, size + 2 * border, size + 2 * border, 0, 1
    )
    image = drawable(Image.fromarray(np.asarray(drawn)))
    page.drawImage(image, x - size / 2, y - size / 2, size, size)
    page.restoreState()

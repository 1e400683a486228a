"""A day on paper for the pocket: an A4 sheet that folds twice to A6, or a plain A4 page."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

from ..base.arrays import Bytes8
from ..base.errors import PlumError
from .card import HAIR, PLUM, SOFT
from .pdf import one_line, picture, wrapped, write
from .sheet import A4, MM, Canvas, begun

KINDS = ("fold", "page")
MARGIN = 8 * MM
FEW = 8  # shoots that two quarters hold


@dataclass(frozen=True)
class Line:
    """A shoot: when, what, camera and slot, exposure, sentences below it, and its picture (h, w, 3)
    uint8 if it has one."""

    hours: str
    title: str
    at: str
    printed: str
    below: Sequence[str] = ()
    picture: Bytes8 | None = None


@dataclass
class _Panel:
    """A page or a quarter of one, written from its top."""

    sheet: Canvas
    left: float
    right: float
    y: float
    bottom: float
    size: float

    def room(self, high: float) -> bool:
        """Whether so much fits below."""
        return self.y - high >= self.bottom

    def text(
        self, words: str, face: str, size: float, fill: str = "#000000", most: int = 4
    ) -> None:
        """Words in lines."""
        for line in wrapped(words, face, size, self.right - self.left, most):
            self.y -= size * 1.28
            write(self.sheet, self.left, self.y, line, face, size, fill)

    def space(self, high: float) -> None:
        """Nothing for a while."""
        self.y -= high


def sheet(
    title: str, head: str, lines: Sequence[Line], leaving: Sequence[str], kind: str = "fold"
) -> bytes:
    """A PDF of a day. `kind` 'fold' puts it on quarters of A4, the upper two upside down: fold the
    upper half back, then the left half back, and the title is in front; 'page' on plain A4."""
    if kind not in KINDS:
        raise PlumError(f"A day is printed as {' or '.join(KINDS)}, not as '{kind}'.")
    out = io.BytesIO()
    canvas = begun(out, A4, title)
    (_folded if kind == "fold" else _plain)(canvas, title, head, lines, leaving)
    canvas.save()
    return out.getvalue()


def _plain(
    canvas: Canvas, title: str, head: str, lines: Sequence[Line], leaving: Sequence[str]
) -> None:
    panel = _whole(canvas)
    _title(panel, title, head)
    for line in lines:
        if not panel.room(_height(panel, line)):
            canvas.showPage()
            panel = _whole(canvas)
        _line(panel, line)
    rest = _leaving(panel, list(leaving))
    while rest:
        canvas.showPage()
        rest = _leaving(_whole(canvas), rest)
    canvas.showPage()


def _whole(canvas: Canvas) -> _Panel:
    wide, high = A4
    return _Panel(canvas, 18 * MM, wide - 18 * MM, high - 16 * MM, 14 * MM, 10.5)


def _folded(
    canvas: Canvas, title: str, head: str, lines: Sequence[Line], leaving: Sequence[str]
) -> None:
    rest, left = list(lines), list(leaving)
    share = -(-len(rest) // (2 if len(rest) <= FEW else 3))  # of a quarter
    begun = False
    while not begun or rest or left:
        _creases(canvas)
        for place in ("front", "left", "right", "back"):
            panel = _quarter(canvas, place)
            if place == "front":
                _title(panel, title, head)
                left = left if begun else _leaving(panel, left)
            else:
                done = 0
                while rest and (not done or panel.room(_height(panel, rest[0]))) and done < share:
                    _line(panel, rest.pop(0))
                    done += 1
                if not rest:
                    left = _leaving(panel, left)
            canvas.restoreState()
        canvas.showPage()
        begun = True


def _creases(canvas: Canvas) -> None:
    wide, high = A4
    canvas.setStrokeColor(HAIR)
    canvas.setLineWidth(0.4)
    canvas.setDash(2, 3)
    canvas.line(0, high / 2, wide, high / 2)
    canvas.line(wide / 2, 0, wide / 2, high)
    canvas.setDash()


def _quarter(canvas: Canvas, place: str) -> _Panel:
    """A quarter as it is read once it is folded: the inner two are upside down on the sheet, the
    right one of it on the left."""
    wide, high = A4[0] / 2, A4[1] / 2
    canvas.saveState()
    if place in ("left", "right"):
        canvas.translate(2 * wide if place == "left" else wide, 2 * high)
        canvas.rotate(180)
    elif place == "front":
        canvas.translate(wide, 0)
    return _Panel(canvas, MARGIN, wide - MARGIN, high - MARGIN, MARGIN, 8.2)


def _title(panel: _Panel, title: str, head: str) -> None:
    panel.text(title, "head", panel.size * 2, PLUM, 3)
    panel.space(panel.size * 0.3)
    panel.text(head, "text", panel.size, SOFT)
    panel.space(panel.size)


def _height(panel: _Panel, line: Line) -> float:
    across = _beside(panel, line)
    rows = 2 + sum(
        len(wrapped(words, "text", panel.size, across, 4)) for words in (line.printed, *line.below)
    )
    return max(rows * panel.size * 1.28, _picture_high(panel, line)) + panel.size


def _picture_wide(panel: _Panel) -> float:
    return (panel.right - panel.left) * 0.36


def _picture_high(panel: _Panel, line: Line) -> float:
    if line.picture is None:
        return 0.0
    high, wide = line.picture.shape[:2]
    return float(_picture_wide(panel) * high / wide)


def _beside(panel: _Panel, line: Line) -> float:
    taken = _picture_wide(panel) + panel.size if line.picture is not None else 0.0
    return panel.right - panel.left - taken


def _line(panel: _Panel, line: Line) -> None:
    top, left, right, size = panel.y, panel.left, panel.right, panel.size
    if line.picture is not None:
        picture(panel.sheet, line.picture, left, top, _picture_wide(panel))
        panel.left += _picture_wide(panel) + size
    panel.y -= size * 1.1
    write(panel.sheet, panel.left, panel.y, line.hours, "mono", size)
    write(panel.sheet, right, panel.y, line.at, "head", size * 1.3, PLUM, right=True)
    panel.y -= size * 1.4
    words = one_line(line.title, "head", size * 1.2, right - panel.left)
    write(panel.sheet, panel.left, panel.y, words, "head", size * 1.2)
    panel.text(line.printed, "mono", size)
    for words in line.below:
        panel.text(words, "text", size * 0.92)
    panel.left = left
    panel.y = min(panel.y, top - _picture_high(panel, line)) - size
    panel.sheet.setStrokeColor(HAIR)
    panel.sheet.setLineWidth(0.4)
    panel.sheet.line(left, panel.y + size * 0.4, right, panel.y + size * 0.4)


def _leaving(panel: _Panel, leaving: list[str]) -> list[str]:
    """Boxes to tick; returns those that did not fit."""
    size = panel.size
    if not leaving or not panel.room(size * 6):
        return leaving
    panel.text("Before you leave", "head", size * 1.2, PLUM)
    panel.space(size * 0.4)
    left = panel.left
    for k, words in enumerate(leaving):
        if not panel.room(size * 3):
            return leaving[k:]
        panel.sheet.rect(left, panel.y - size * 1.2, size * 0.8, size * 0.8)
        panel.left = left + size * 1.4
        panel.text(words, "text", size)
        panel.left = left
        panel.space(size * 0.3)
    return []

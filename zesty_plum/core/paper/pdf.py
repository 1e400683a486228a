"""Slips on paper: one a page with a picture, or pocket cards to cut out, as PDF."""

import io
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..base.arrays import Bytes8
from ..base.errors import PlumError
from ..base.late import library
from ..recipe import INTENT_WORDS, Recipe
from . import code, faces
from .card import HAIR, INK, PLUM, SOFT, rows
from .sheet import MM, PAPERS, Canvas, begun, drawable

Image = library("PIL.Image")
ImageDraw = library("PIL.ImageDraw")
Size = tuple[float, float]  # of paper, points


POCKET = (85.6 * MM, 54 * MM)  # ISO/IEC 7810 ID-1, what a wallet holds
LEAST_MODULE = 0.32 * MM  # of a code, for telephones to read it on paper
SCALE = 4  # pixels a point for lines that are drawn as pictures


@dataclass(frozen=True)
class Slip:
    """What a sheet shows of one slip; `render` (h, w, 3) uint8, or None where there is no room for
    one."""

    recipe: Recipe
    version: int
    render: Bytes8 | None = None


def write(
    sheet: Canvas,
    x: float,
    y: float,
    text: str,
    face: str,
    size: float,
    fill: str = INK,
    right: bool = False,
) -> None:
    """A line at its baseline.

    In other scripts it is a picture, for their letters join and turn, with the text behind it.
    """
    parts = faces.runs(text, face)
    if [file for file, _ in parts] in ([face], []):
        sheet.setFillColor(fill)
        sheet.setFont(face, size)
        (sheet.drawRightString if right else sheet.drawString)(x, y, text)
        return
    pixels = round(size * SCALE)
    across = faces.width(text, face, pixels)
    image = Image.new("RGBA", (int(across) + pixels, pixels * 2), (255, 255, 255, 0))
    faces.write(ImageDraw.Draw(image), (pixels // 2, pixels * 1.4), text, face, pixels, fill)
    left = x - across / SCALE if right else x
    sheet.drawImage(
        drawable(image),
        left - size / 2,
        y - size * 0.6,
        image.width / SCALE,
        image.height / SCALE,
        mask="auto",
    )
    sheet.saveState()
    hidden = sheet.beginText(left, y)
    hidden.setTextRenderMode(3)
    for file, part in parts:
        hidden.setFont(file, size)
        hidden.textOut(part)
    sheet.drawText(hidden)
    sheet.restoreState()


def _across(text: str, face: str, size: float) -> float:
    return faces.width(text, face, round(size * SCALE)) / SCALE


def wrapped(text: str, face: str, size: float, across: float, most: int) -> list[str]:
    return faces.wrapped(text, face, round(size * SCALE), across * SCALE, most)


def one_line(text: str, face: str, size: float, across: float) -> str:
    return faces.shortened(
        " ".join(faces.printable(text).split()), face, round(size * SCALE), across * SCALE
    )


def _code(sheet: Canvas, recipe: Recipe, x: float, y: float, side: float) -> None:
    text, _, module = code.placed(recipe, side, side, LEAST_MODULE)
    pixels = code.square(text, 4)
    side = module * code.modules(text)  # the quiet zone lies outside
    x, y = x - module * code.QUIET, y - module * code.QUIET
    sheet.drawImage(drawable(Image.fromarray(pixels)), x, y, side, side)


def picture(sheet: Canvas, pixels: Bytes8, x: float, y: float, across: float) -> float:
    """Draw a picture with its top at `y`; returns its height."""
    high: float = across * pixels.shape[0] / pixels.shape[1]
    stream = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(pixels)).save(stream, "JPEG", quality=90)
    sheet.drawImage(drawable(stream), x, y - high, across, high)
    return high


def _table(
    sheet: Canvas,
    listed: list[tuple[str, str]],
    box: tuple[float, float, float, float],
    columns: int,
    size: float,
) -> None:
    """Rows in columns; box is (left, top, right, row height)."""
    left, top, right, high = box
    gap = size * 1.2
    across = (right - left - gap * (columns - 1)) / columns
    down = max(-(-len(listed) // columns), 1)
    for k, (label, value) in enumerate(listed):
        x, y = left + (k // down) * (across + gap), top - (k % down) * high
        room = across - _across(value, "mono", size) - size * 0.6
        write(sheet, x, y - high * 0.68, one_line(label, "text", size, room), "text", size)
        write(sheet, x + across, y - high * 0.68, value, "mono", size, right=True)
        sheet.setStrokeColor(HAIR)
        sheet.setLineWidth(0.5)
        sheet.line(x, y - high, x + across, y - high)


def _page(sheet: Canvas, slip: Slip, size: tuple[float, float]) -> None:
    width, height = size
    left, right, y = 20 * MM, width - 20 * MM, height - 20 * MM
    recipe = slip.recipe
    if slip.render is not None:
        y -= picture(sheet, slip.render, left, y, right - left) + 14 * MM
    for line in wrapped(recipe.name, "head", 26, right - left, 2):
        write(sheet, left, y, line, "head", 26)
        y -= 28
    write(
        sheet, left, y + 4, f"{recipe.camera.name}, {INTENT_WORDS[recipe.intent]}", "text", 12, SOFT
    )
    y -= 14
    listed, rest = rows(recipe)
    deep, side = max(-(-len(listed) // 2), 1), 40 * MM
    row = min(21.0, (y - 70 * MM) / deep)
    _table(sheet, listed, (left, y, right - side - 8 * MM, row), 2, min(12.0, row * 0.66))
    _code(sheet, recipe, right - side, y - side, side)
    y -= max(row * deep, side) + 24
    for line in wrapped(rest, "text", 9.5, right - left, 6) if rest else []:
        write(sheet, left, y, line, "text", 9.5, SOFT)
        y -= 12.5
    y -= 8
    for line in (
        wrapped(recipe.note, "text", 11, right - left, max(1, int((y - 26 * MM) / 15)))
        if recipe.note.strip()
        else []
    ):
        write(sheet, left, y, line, "text", 11)
        y -= 15
    write(sheet, left, 14 * MM, "Zesty Plum", "head", 10, PLUM)
    who = ", ".join(t for t in (recipe.author.strip(), f"version {slip.version}") if t)
    write(sheet, right, 14 * MM, one_line(who, "text", 9.5, 90 * MM), "text", 9.5, SOFT, right=True)
    sheet.showPage()


def _pocket(sheet: Canvas, slip: Slip, x: float, y: float) -> None:
    """One card with its lower left corner at (x, y): cut along the hairline."""
    across, high = POCKET
    sheet.setStrokeColor(HAIR)
    sheet.setLineWidth(0.4)
    sheet.setDash(2, 2)
    sheet.rect(x, y, across, high)
    sheet.setDash()
    left, right, top = x + 4 * MM, x + across - 4 * MM, y + high - 4 * MM
    side = 17 * MM
    recipe = slip.recipe
    write(sheet, left, top - 8, one_line(recipe.name, "head", 11, right - left), "head", 11)
    line = ", ".join(
        t for t in (recipe.camera.name, INTENT_WORDS[recipe.intent], recipe.author.strip()) if t
    )
    write(sheet, left, top - 17, one_line(line, "text", 6.5, right - left), "text", 6.5, SOFT)
    listed, rest = rows(recipe)
    small = wrapped(rest, "text", 4.8, right - left - side - 2 * MM, 7) if rest else []
    note = wrapped(recipe.note, "text", 6.2, right - left, 1) if recipe.note.strip() else []
    room = high - 16 * MM - 5.8 * len(small) - 8 * len(note)
    row = min(11.5, room / max(-(-len(listed) // 2), 1))
    _table(sheet, listed, (left, top - 22, right - side - 2 * MM, row), 2, min(6.3, row * 0.72))
    _code(sheet, recipe, right - side, top - 22 - side, side)
    below = top - 22 - row * max(-(-len(listed) // 2), 1) - 7
    for k, text in enumerate(small):
        write(sheet, left, below - 5.8 * k, text, "text", 4.8, SOFT)
    for text in note:
        write(sheet, left, y + 3 * MM, text, "text", 6.2, SOFT)


def _pages(sheet: Canvas, slips: list[Slip], size: Size) -> None:
    for slip in slips:
        _page(sheet, slip, size)


def _pockets(sheet: Canvas, slips: list[Slip], size: Size) -> None:
    columns, deep = 2, int((size[1] - 16 * MM) // POCKET[1])
    left = (size[0] - columns * POCKET[0]) / 2
    bottom = (size[1] - deep * POCKET[1]) / 2
    for k, slip in enumerate(slips):
        place = k % (columns * deep)
        if k and not place:
            sheet.showPage()
        _pocket(
            sheet,
            slip,
            left + (place % columns) * POCKET[0],
            bottom + (deep - 1 - place // columns) * POCKET[1],
        )
    sheet.showPage()


@dataclass(frozen=True)
class Sheets:
    """A kind of sheets: how many slips a file holds at most, whether they have a picture, and how
    they are drawn."""

    most: int
    pictured: bool
    draw: Callable[[Canvas, list[Slip], Size], None]


KINDS = {"page": Sheets(100, True, _pages), "pocket": Sheets(1000, False, _pockets)}


def sheets(slips: list[Slip], kind: str = "page", paper: str = "a4") -> bytes:
    """A PDF of slips: `kind` 'page' for one a page, 'pocket' for cards to cut out; `paper` 'a4' or
    'letter'."""
    if kind not in KINDS or paper not in PAPERS:
        raise PlumError(
            f"Sheets are of the kind {' or '.join(KINDS)}, on {' or '.join(PAPERS)} paper."
        )
    if not slips:
        raise PlumError("No slip is chosen to be printed. Select some first.")
    out, size = io.BytesIO(), PAPERS[paper]
    title = slips[0].recipe.name if len(slips) == 1 else f"{len(slips)} slips"
    sheet = begun(out, size, title)
    KINDS[kind].draw(sheet, slips, size)
    sheet.save()
    return out.getvalue()

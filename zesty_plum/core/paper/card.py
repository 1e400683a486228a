"""The card of a recipe: two or three renders, its dials as the body prints them, a note, and a code
that holds it whole."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..base.arrays import Bytes8
from ..base.errors import PlumError
from ..base.late import library
from ..bodies import Dial
from ..recipe import INTENT_WORDS, Recipe
from . import code, faces

if TYPE_CHECKING:
    from PIL import Image, ImageDraw, ImageOps
else:  # a picture is drawn seldom
    Image = library("PIL.Image")
    ImageDraw = library("PIL.ImageDraw")
    ImageOps = library("PIL.ImageOps")


cv2 = library("cv2")

PAPER, INK, SOFT, HAIR, PLUM, ZEST = (
    "#fbfaf7",
    "#211a1f",
    "#5f565c",
    "#d9d3d2",
    "#6a1d4e",
    "#f0a400",
)
TOOTH = 20  # pixels of a tooth of the torn edge
LEAST_MODULE, CODE_ACROSS, CODE_MOST = (
    4,
    200,
    430,
)  # pixels: of a module, usually and at most across the code
NAME_SIZES, LONG_NAME_SIZES = range(72, 39, -4), range(40, 23, -2)
# Heights of a row and sizes of the small print below the table, the most readable first.
TABLE_SIZES = ((44, 19), (40, 18), (36, 17), (32, 16), (30, 15), (28, 14), (26, 13))
Box = tuple[int, int, int, int]


@dataclass(frozen=True)
class Shape:
    """Where things lie, in pixels: `prints` the pictures, largest first, `paper` the written part,
    `columns` of dials."""

    size: tuple[int, int]
    prints: tuple[Box, Box, Box]
    paper: Box
    columns: int
    name_across: int
    bordered: bool = True


SHAPES = {
    "portrait": Shape(
        (1080, 1350),
        ((0, 0, 1080, 720), (544, 640, 769, 790), (792, 640, 1017, 790)),
        (0, 720, 1080, 1350),
        2,
        490,
    ),
    "square": Shape(
        (1080, 1080),
        ((0, 0, 1080, 500), (634, 424, 814, 544), (837, 424, 1017, 544)),
        (0, 500, 1080, 1080),
        2,
        580,
    ),
    "landscape": Shape(
        (1500, 1000),
        ((0, 0, 900, 600), (0, 612, 444, 1000), (456, 612, 900, 1000)),
        (912, 0, 1500, 1000),
        1,
        490,
        bordered=False,
    ),
}


def rows(recipe: Recipe) -> tuple[list[tuple[str, str]], str]:
    """(label, value as printed) of the style and of all dials that were turned, in the order of the
    menus; and in one line all others that count, which a used body has to be brought to as well."""
    camera = recipe.camera
    counting = [d for d in camera.dials if camera.counts(d, recipe.dials)]
    turned = camera.changed(recipe.dials)
    told = [d for d in counting if d.id in turned or d is camera.style_dial]

    def printed(dial: Dial) -> tuple[str, str]:
        return dial.label, dial.choice(recipe.dials[dial.id]).label

    rest = [
        f"{label} {value}" for label, value in map(printed, (d for d in counting if d not in told))
    ]
    return [printed(d) for d in told], f"As shipped: {', '.join(rest)}." if rest else ""


def covering(pixels: Bytes8, across: int, down: int) -> Image.Image:
    """Fill a box: scaled to cover it, cut evenly left and right, a little more below than above,
    where less is told."""
    height, width = pixels.shape[:2]
    scale = max(across / width, down / height)
    size = (max(across, round(width * scale)), max(down, round(height * scale)))
    scaled = cv2.resize(
        pixels, size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC
    )
    left, top = (size[0] - across) // 2, int((size[1] - down) * 0.3)
    return Image.fromarray(np.ascontiguousarray(scaled[top : top + down, left : left + across]))


def _torn(draw: ImageDraw.ImageDraw, paper: Box, upright: bool) -> None:
    """Teeth along the paper's edge that meets the pictures."""
    left, top, right, bottom = paper
    start, end, edge = (left, right, top) if upright else (top, bottom, left)
    for at in range(start, end, TOOTH):
        a, b = at + 4, at + TOOTH - 4
        draw.ellipse(
            (a, edge - 7, b, edge + 5) if upright else (edge - 7, a, edge + 5, b), fill=PAPER
        )


def draw(
    recipe: Recipe, renders: list[Bytes8], shape: str = "portrait", version: int = 1
) -> Bytes8:
    """The card as sRGB pixels (h, w, 3) uint8.

    Parameters
    ----------
    renders : one to three pictures (h, w, 3) uint8, the telling one first; at least as wide as
    their places come out sharp.
    """
    if shape not in SHAPES:
        raise PlumError(
            f"There is no card of the shape '{shape[:20]}'. It can be {', '.join(SHAPES)}."
        )
    form = SHAPES[shape]
    upright = form.paper[0] == 0
    image = Image.new("RGB", form.size, PAPER)
    pen = ImageDraw.Draw(image)
    _hang(image, pen, form, renders)
    if upright:
        _torn(pen, form.paper, upright)
    for place, pixels in list(zip(form.prints, renders))[1:]:
        _stick(image, pen, place, pixels, form.bordered)
    _write(image, pen, recipe, form, version, upright)
    return np.asarray(image)


def _hang(image: Image.Image, pen: ImageDraw.ImageDraw, form: Shape, renders: list[Bytes8]) -> None:
    left, top, right, bottom = form.prints[0]
    if not form.bordered and len(renders) == 1:
        bottom = form.size[1]
    image.paste(covering(renders[0], right - left, bottom - top), (left, top))


def _stick(
    image: Image.Image, pen: ImageDraw.ImageDraw, place: Box, pixels: Bytes8, bordered: bool
) -> None:
    left, top, right, bottom = place
    if bordered:
        pen.rectangle((left - 7, top - 7, right + 6, bottom + 6), fill="#ffffff", outline=HAIR)
    image.paste(covering(pixels, right - left, bottom - top), (left, top))


def _heading(pen: ImageDraw.ImageDraw, recipe: Recipe, form: Shape, left: int, top: int) -> int:
    """Name, body and intent; returns where the next line may stand."""
    name, size = faces.fitted(recipe.name, "head", NAME_SIZES, form.name_across, 2)
    if size == NAME_SIZES[-1]:
        name, size = faces.fitted(recipe.name, "head", LONG_NAME_SIZES, form.name_across, 3)
    y = top + round(size * 0.75)
    for line in name:
        faces.write(pen, (left, y), line, "head", size, INK)
        y += round(size * 1.02)
    y += 40 - round(size * 1.02)
    camera, about = recipe.camera.name, f", {INTENT_WORDS[recipe.intent]}"
    faces.write(pen, (left, y), camera, "bold", 25, INK)
    faces.write(pen, (left + faces.width(camera, "bold", 25), y), about, "text", 25, SOFT)
    return y + 32


def _caption(
    pen: ImageDraw.ImageDraw, whole: bool, at: tuple[float, float], across: float, step: int
) -> None:
    """What the code holds, in small lines from `at` on."""
    said = (
        "The whole recipe is in this code and in the file."
        if whole
        else "Code and file hold the recipe; all of the note is in the file."
    )
    for k, line in enumerate(faces.wrapped(said, "text", 17, across, 4)):
        faces.write(pen, (at[0], at[1] + step * k), line, "text", 17, SOFT)


def _write(
    image: Image.Image,
    pen: ImageDraw.ImageDraw,
    recipe: Recipe,
    form: Shape,
    version: int,
    upright: bool,
) -> None:
    left, top, right, bottom = form.paper
    left, right, base = left + (56 if upright else 44), right - (56 if upright else 44), bottom - 44
    y = _heading(pen, recipe, form, left, top + 44)
    # The code stands right of the dials, or below them where the paper is narrow.
    room = base - 78 - y if upright else CODE_MOST
    text, whole, exact = code.placed(recipe, room, CODE_ACROSS, LEAST_MODULE)
    module = int(exact)
    side, quiet = code.modules(text) * module, code.QUIET * module
    most = 2 if upright else 3
    said = recipe.note.strip()
    note = faces.wrapped(recipe.note, "text", 22, right - left, most) if said else []
    note_top = base - 34 - 29 * len(note)
    table_right = right - side - 34 if upright else right
    table_bottom = note_top - 24 if upright else min(note_top, base - 40) - side - 36
    _table(pen, recipe, (left, y, table_right, table_bottom), form.columns)
    at = (right - side + quiet, y + 10 - quiet) if upright else (left - quiet, table_bottom + 14)
    image.paste(ImageOps.colorize(Image.fromarray(code.square(text, module)), INK, PAPER), at)
    if upright:
        below = (at[0] + quiet, at[1] + side - quiet + 26)
        _caption(pen, whole, below, side - 2 * quiet, 21)
    else:
        beside = (at[0] + side + 20, at[1] + 52)
        _caption(pen, whole, beside, right - left - side - 20, 22)
    for k, line in enumerate(note):
        faces.write(pen, (left, note_top + 22 + 29 * k), line, "text", 22, INK)
    author = " ".join(faces.printable(recipe.author).split())
    foot(pen, left, right, base, ", ".join(t for t in (author, f"version {version}") if t))


def _table(pen: ImageDraw.ImageDraw, recipe: Recipe, box: Box, columns: int) -> None:
    """Dials in columns; rows as high as there is room for, from readable at arm's length down to
    small print; below them what stands as shipped, small."""
    left, top, right, bottom = box
    listed, rest = rows(recipe)
    for high, small in TABLE_SIZES:
        lines = faces.wrapped(rest, "text", small, right - left, 20) if rest else []
        step = round(small * 1.3)
        deep = max(1, (bottom - top - len(lines) * step - 10) // high)
        if len(listed) <= deep * columns:
            break
    if len(listed) > deep * columns:
        more = len(listed) - deep * columns
        listed, lines = listed[: deep * columns], [f"{more} more settings are in the code."]
    size, gap = min(24, round(high * 0.56)), 42
    across = (right - left - gap * (columns - 1)) // columns
    down = max(-(-len(listed) // columns), 1)
    for k, (label, value) in enumerate(listed):
        x, y = left + (k // down) * (across + gap), top + (k % down) * high
        faces.write(
            pen,
            (x, y + high * 0.66),
            faces.shortened(label, "text", size, across * 0.64),
            "text",
            size,
            INK,
        )
        room = across - faces.width(label, "text", size) - 12
        faces.write(
            pen,
            (x + across, y + high * 0.66),
            faces.shortened(value, "mono", size - 1, max(room, 60)),
            "mono",
            size - 1,
            INK,
            right=True,
        )
        pen.line((x, y + high - 1, x + across, y + high - 1), fill=HAIR)
    for k, line in enumerate(lines):
        faces.write(
            pen, (left, top + down * high + 10 + step * (k + 0.8)), line, "text", small, SOFT
        )


def foot(pen: ImageDraw.ImageDraw, left: int, right: int, y: int, told: str) -> None:
    """Our name, and a line at the right."""
    faces.write(pen, (left, y), "Zesty", "head", 25, PLUM)
    x = left + faces.width("Zesty", "head", 25)
    pen.ellipse((x + 1, y - 9, x + 10, y), fill=ZEST)
    faces.write(pen, (x + 12, y), "Plum", "head", 25, PLUM)
    room = right - left - 170
    faces.write(
        pen, (right, y), faces.shortened(told, "text", 19, room), "text", 19, SOFT, right=True
    )

"""The card of a camera: what stands in each of its slots, with a picture of each, to be kept on a
phone or passed on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..base.arrays import Bytes8
from ..base.late import library
from . import faces
from .card import HAIR, INK, PAPER, PLUM, SOFT, covering, foot

if TYPE_CHECKING:
    from PIL import Image, ImageDraw
else:  # a picture is drawn seldom
    Image = library("PIL.Image")
    ImageDraw = library("PIL.ImageDraw")


ACROSS, MARGIN, GAP = 1080, 48, 36
SINGLE = 6  # slots up to which each has the whole width
ROW, PRINT = {1: 200, 2: 196}, {1: (252, 168), 2: (186, 124)}  # by columns, pixels
SMALL = {1: (22, 29), 2: (19, 25)}  # size and step of the lines of dials
HEAD, FOOT = 178, 78


@dataclass(frozen=True)
class Slot:
    """A slot: its label as the body prints it, the name of what stands in it, what it is for, its
    dials that do not stand as shipped, and a picture (h, w, 3) uint8."""

    label: str
    name: str
    why: str
    dials: str
    picture: Bytes8


def draw(name: str, about: str, slots: Sequence[Slot], today: str) -> Bytes8:
    """The card as sRGB pixels (h, 1080, 3) uint8, as high as its slots need. `about` is a line on
    the camera, `today` the day that it is drawn."""
    columns = 1 if len(slots) <= SINGLE else 2
    down = -(-len(slots) // columns)
    image = Image.new("RGB", (ACROSS, HEAD + down * ROW[columns] + FOOT), PAPER)
    pen = ImageDraw.Draw(image)
    lines, size = faces.fitted(name, "head", range(60, 29, -3), ACROSS - 2 * MARGIN, 1)
    faces.write(pen, (MARGIN, 92), lines[0], "head", size, INK)
    told = faces.shortened(about, "text", 25, ACROSS - 2 * MARGIN)
    faces.write(pen, (MARGIN, 136), told, "text", 25, SOFT)
    across = (ACROSS - 2 * MARGIN - GAP * (columns - 1)) // columns
    for k, slot in enumerate(slots):
        left = MARGIN + (k // down) * (across + GAP)
        _row(image, pen, slot, (left, HEAD + (k % down) * ROW[columns]), across, columns)
    foot(pen, MARGIN, ACROSS - MARGIN, image.height - 34, f"as planned on {today}")
    return np.asarray(image)


def _row(
    image: Image.Image,
    pen: ImageDraw.ImageDraw,
    slot: Slot,
    at: tuple[int, int],
    across: int,
    columns: int,
) -> None:
    left, top = at
    wide, high = PRINT[columns]
    pen.line((left, top, left + across, top), fill=HAIR)
    image.paste(covering(slot.picture, wide, high), (left, top + 16))
    x, room = left + wide + 20, across - wide - 20
    faces.write(pen, (x, top + 44), slot.label, "bold", 25, PLUM)
    beside = faces.width(slot.label, "bold", 25) + 12
    name = faces.shortened(slot.name, "bold", 25, room - beside)
    faces.write(pen, (x + beside, top + 44), name, "bold", 25, INK)
    y = top + 76
    if slot.why:
        faces.write(pen, (x, y), faces.shortened(slot.why, "text", 22, room), "text", 22, INK)
        y += 30
    size, step = SMALL[columns]
    most = (top + ROW[columns] - 16 - y) // step + 1
    for line in faces.wrapped(slot.dials, "text", size, room, most):
        faces.write(pen, (x, y), line, "text", size, SOFT)
        y += step

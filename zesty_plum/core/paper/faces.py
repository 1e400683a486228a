"""Setting text in any language: our faces first, then ones that hold other scripts, letter by
letter.

Letters are measured and drawn by Pillow with HarfBuzz and FriBiDi, so joined and right-to-left
scripts come out right.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from functools import cache
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING

from ..base.late import library

if TYPE_CHECKING:
    from PIL import ImageDraw, ImageFont
else:  # a picture is drawn seldom
    ImageDraw = library("PIL.ImageDraw")
    ImageFont = library("PIL.ImageFont")


_fonts = library("reportlab.pdfbase.ttfonts")

HERE = Path(__file__).parent / "fonts"
OURS = ("head", "text", "bold", "mono")
SCRIPTS = (
    "Bengali",
    "Devanagari",
    "Ethiopic",
    "Gujarati",
    "Gurmukhi",
    "Kannada",
    "Khmer",
    "Lao",
    "Malayalam",
    "Myanmar",
    "Sinhala",
    "Tamil",
    "Telugu",
    "Thai",
)
OTHERS = ("DejaVuSans", "DroidSansFallback", *(f"NotoSans{script}-Regular" for script in SCRIPTS))
WIDE = ("W", "F")  # East Asian widths after which a line may break


@cache
def _covers(file: str) -> frozenset[int]:
    return frozenset(_fonts.TTFont(file, str(HERE / f"{file}.ttf")).face.charToGlyph)


def printable(text: str) -> str:
    """Text without control characters and such as no face can show; line breaks stay."""
    kept = (
        c
        for c in unicodedata.normalize("NFC", text)
        if c == "\n" or unicodedata.category(c) not in ("Cc", "Co", "Cs", "Cn")
    )
    return "".join(kept)


def runs(text: str, face: str) -> list[tuple[str, str]]:
    """(file, letters) in order: each letter in the first file that has it; marks and spaces stay
    with what is before them."""
    chain, made = (face, *OTHERS), list[tuple[str, str]]()
    for letter in text:
        stays = made and (
            letter.isspace() or unicodedata.category(letter) in ("Mn", "Mc", "Me", "Cf")
        )
        file = (
            made[-1][0]
            if stays
            else next((f for f in chain if ord(letter) in _covers(f)), OTHERS[0])
        )
        if made and made[-1][0] == file:
            made[-1] = (file, made[-1][1] + letter)
        else:
            made.append((file, letter))
    return made


@cache
def font(file: str, size: int) -> ImageFont.FreeTypeFont:
    """A face at a size in pixels."""
    return ImageFont.truetype(str(HERE / f"{file}.ttf"), size)


def width(text: str, face: str, size: int) -> float:
    """Pixels across."""
    return sum(font(file, size).getlength(part) for file, part in runs(text, face))


def write(
    draw: ImageDraw.ImageDraw,
    at: tuple[float, float],
    text: str,
    face: str,
    size: int,
    fill: str,
    right: bool = False,
) -> None:
    """One line with its baseline at `at`; `right` sets its end there."""
    x, y = at
    if right:
        x -= width(text, face, size)
    for file, part in runs(text, face):
        draw.text((x, y), part, font=font(file, size), fill=fill, anchor="ls")
        x += font(file, size).getlength(part)


def _pieces(text: str) -> list[str]:
    """Parts that a line may break behind: words with their space, and each letter of scripts
    without spaces."""
    pieces, word = list[str](), ""
    for letter in text:
        if unicodedata.east_asian_width(letter) in WIDE:
            pieces += [word] if word else []
            pieces.append(letter)
            word = ""
        else:
            word += letter
            if letter.isspace():
                pieces.append(word)
                word = ""
    return [*pieces, word] if word else pieces


NARROWEST = 0.12  # of a face's size: hardly a letter is narrower, so no more of them are looked at
MARKS = 200  # letters on top of that, for marks that have no width


def _fits(text: str, face: str, size: int, across: float) -> int:
    """How many letters of a text fit, at least one; found by halving."""
    low, high = 1, len(text)
    while low < high:
        middle = (low + high + 1) // 2
        if width(text[:middle], face, size) <= across:
            low = middle
        else:
            high = middle - 1
    return low


def _lines(paragraph: str, face: str, size: int, across: float) -> Iterator[str]:
    """A paragraph in lines; a word that is longer than a line is broken."""
    line = ""
    for piece in _pieces(paragraph):
        if width((line + piece).rstrip(), face, size) <= across:
            line += piece
            continue
        if line.strip():
            yield line.rstrip()
        line = piece
        while len(line) > 1 and width(line.rstrip(), face, size) > across:
            fits = _fits(line.rstrip(), face, size, across)
            yield line[:fits]
            line = line[fits:]
    yield line.rstrip()


def wrapped(text: str, face: str, size: int, across: float, most: int) -> list[str]:
    """Lines no wider than `across`, at most `most`; what does not fit ends in an ellipsis.

    The time goes with the lines that are asked for, whatever the text: of what cannot fit into them
    nothing is measured.
    """
    room = int((most + 1) * (across / (NARROWEST * size) + 1)) + MARKS
    paragraphs = printable(text[: 2 * room])[:room].splitlines() or [""]
    every = (line for p in paragraphs for line in _lines(p, face, size, across))
    lines = list(islice(every, most + 1))
    if len(lines) > most:
        lines = [*lines[: most - 1], shortened(lines[most - 1] + " …", face, size, across)]
    return lines


def shortened(text: str, face: str, size: int, across: float) -> str:
    """One line, cut with an ellipsis where it is too long."""
    text = text[: int(across / (NARROWEST * size)) + MARKS]
    if width(text, face, size) <= across:
        return text
    text = text.rstrip(" …")
    kept = text[: _fits(text, face, size, across - width("…", face, size))].rstrip()
    return kept + "…"


def fitted(text: str, face: str, sizes: range, across: float, most: int) -> tuple[list[str], int]:
    """Lines at the largest of `sizes` at which they fit into `most` lines, and that size."""
    text = " ".join(printable(text).split())
    for size in sizes:
        lines = wrapped(text, face, size, across, most + 1)
        if len(lines) <= most:
            return lines, size
    return wrapped(text, face, sizes[-1], across, most), sizes[-1]

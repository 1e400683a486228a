"""A camera that somebody has, as it is told of, and what stands in its slots."""

import re
from dataclasses import dataclass

from ..fields.declared import says
from ..fields.kinds import Number, Text

MOST_WORD = 60
MOST_AHEAD = 14 * 86400  # seconds
WORD = Text(MOST_WORD)


@dataclass(frozen=True)
class About:
    """What is said of a camera; its name is its body's where it has none of its own. 0 is not
    said: nobody counted, it never stopped of heat."""

    name: str = says(WORD, "Name", "")
    letter: str = says(Text(8), "Letter its file names begin with", "")
    carried: str = says(WORD, "Who carries it", "", private=True)
    cards: str = says(WORD, "Cards", "", note="As 2 of 64 GB")
    batteries: int = says(Number(0, 99, 0, True), "Batteries", 0)
    charge: int = says(Number(0, 20_000, 0, True), "Pictures of a charge, if you counted", 0)
    hot: int = says(
        Number(0, 600, 0, True, "min"), "Minutes of 4K or fast clips until heat stopped it", 0
    )
    ahead: int = says(
        Number(-MOST_AHEAD, MOST_AHEAD, 0, True, "s", "2"), "Its clock is ahead, seconds", 0
    )
    crop: float = says(Number(0.2, 8), "Crop factor", 1.0)
    note: str = says(Text(1000), "Note", "", private=True)


_CARDS = re.compile(r"(?:(\d+)\s*of\s*)?(\d+(?:[.,]\d+)?)\s*(GB|TB)", re.IGNORECASE)


def gigabytes(cards: str, mode: str) -> float:
    """What cards hold together, as it is said of them: 2 of 64 GB, which are both the same, or
    filled in turn; 0 where nothing is said that can be read."""
    found = _CARDS.search(cards)
    if not found:
        return 0.0
    each = float(found[2].replace(",", ".")) * (1000 if found[3].upper() == "TB" else 1)
    many = int(found[1] or 1)
    return each * many if many > 1 and mode == "in_turn" else each


@dataclass(frozen=True)
class Stands:
    """What is said of a slot beside its recipe."""

    key: str = says(Text(8), "Slot", note="2, or c2 for clips")
    version: int = says(
        Number(0, 10**6, whole=True), "Version", 0, note="Of its slip; 0 where it is none"
    )
    why: str = says(WORD, "What for", "")
    scene: str = says(WORD, "Shown on", "")

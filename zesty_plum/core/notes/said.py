"""What is said of a trial: what was looked for and seen, what came of it, and what to try next."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..base.errors import PlumError
from ..fields.declared import says
from ..fields.kinds import Choice, Text

MOST_TAGS, MOST_TAG = 12, 30
KEPT, BACK, OPEN = "kept", "back", ""
CAME = {OPEN: "not settled", KEPT: "kept", BACK: "taken back"}
LINE = Text(160)


@dataclass(frozen=True)
class Said:
    """What is said of a trial; what is empty is not said."""

    seen: str = says(Text(4000, lines=True), "What did you see?", "")
    kept: str = says(Choice(lambda: CAME, OPEN), "It is", OPEN)
    asked: str = says(LINE, "What was looked for", "")
    next: str = says(LINE, "Next question", "")
    place: str = says(LINE, "Where", "", private=True)


def tags_of(texts: Sequence[str]) -> tuple[str, ...]:
    """Tags that were typed or ticked, each once."""
    words = [" ".join(part.split()) for text in texts for part in text.split(",")]
    found = tuple(dict.fromkeys(w for w in words if w))
    if len(found) > MOST_TAGS or any(len(w) > MOST_TAG for w in found):
        raise PlumError(f"A note has up to {MOST_TAGS} tags of up to {MOST_TAG} letters.")
    return found

"""What a drill is begun with, and passed on by: the same kind, seed and number ask everybody the
same."""

from dataclasses import dataclass

from ..fields.declared import says
from ..fields.kinds import Choice, Number, Text
from .kinds import KINDS

MOST_MANY, MOST_SEED = 200, 2**31 - 1
NAME = Text(40)


def _titles() -> dict[str, str]:
    return {kind.id: kind.title for kind in KINDS.values()}


@dataclass(frozen=True)
class Begun:
    """A drill before its first question; a seed that is None is drawn."""

    kind: str = says(Choice(_titles, "which"), "Which drill", "which")
    many: int = says(Number(1, MOST_MANY, whole=True), "Questions", 12)
    seed: int | None = says(
        Number(0, MOST_SEED - 1, None, True), "Seed", None, note="Draws the questions"
    )


@dataclass(frozen=True)
class Person:
    """Who does it."""

    name: str = says(NAME, "Who", "Somebody")

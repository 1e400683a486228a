"""What the person whose eye words follow can see, if they follow anybody's."""

from collections.abc import Mapping

from ...core.drill.dimensions import BY_ID, DIMENSIONS, SEEN_AS
from ...core.drill.quest import replayed
from ...core.judge.rules import rules
from ...core.judge.verdicts import Verdict
from ...store import drills
from ...store.drills import Answer
from ..frame.context import db

LATELY, FEWEST = 240, 12  # answers that are counted, and from which on they are


def answers_of(who: int, but: int = 0) -> list[Answer]:
    """All that somebody answered, the oldest first, without those of one drill."""
    return [a for d in drills.of(db(), who) if d.id != but for a in d.answers]


def followed() -> Mapping[str, float]:
    """Just visible changes by figure, as multiples of a careful eye's; empty where words follow
    that."""
    who = next((e for e in drills.eyes(db()) if e.used), None)
    if who is None:
        return {}
    seen = seen_of(who.id)
    return {at: seen[dim] for at, dim in SEEN_AS.items() if dim in seen}


def seen_of(who: int) -> dict[str, float]:
    """Thresholds as multiples of a careful eye's, by dial; those that were asked often enough."""
    out = {}
    every = answers_of(who)
    for dim in DIMENSIONS:
        mine = [(a.size, a.right) for a in every if a.measure == f"which:{dim.id}"]
        if len(mine) >= FEWEST:
            found = replayed(dim.scale, mine[-LATELY:]).threshold
            out[dim.id] = 2.0 ** (found.middle - BY_ID[dim.id].scale.expected)
    return out


def visible(verdicts: list[Verdict], eye: Mapping[str, float]) -> list[Verdict]:
    """Verdicts without those that this eye would not notice: their limits move with it."""
    if not eye:
        return verdicts
    figures = {rule.id: rule.figure for rule in rules()}
    return [v for v in verdicts if not _unseen(v, eye.get(figures.get(v.rule, ""), 1.0))]


def _unseen(verdict: Verdict, times: float) -> bool:
    return times > 1 and abs(verdict.figure) < abs(verdict.limit) * times

"""What somebody can see by now: thresholds with their intervals, how they went from day to day, and
whether it is time for a break."""

from dataclasses import dataclass
from itertools import groupby

from ...core.drill import memory
from ...core.drill.kinds import KINDS
from ...core.drill.quest import Quest, Scale
from ...store import drills
from ...store.drills import Answer, Eye
from ..frame.context import db
from ..render.eyes import LATELY, answers_of

WIDE, HIGH = 160, 30  # of a small plot
FEWEST = 4  # answers, from which a threshold is told


@dataclass(frozen=True)
class Line:
    """A measure: its label, what is seen in words with its interval, and points of a small plot,
    which falls as smaller changes are seen."""

    label: str
    words: str
    points: str
    answers: int


def lines(who: Eye) -> list[Line]:
    """What somebody can see, by measure; those that were asked often enough."""
    every, out = answers_of(who.id), []
    for measure in (m for kind in KINDS.values() for m in kind.measures):
        mine = [a for a in every if a.measure == measure.id]
        if len(mine) < FEWEST:
            continue
        points, threshold = _path(mine, measure.scale)
        last = mine[-10:]
        words = measure.words(threshold, sum(a.right for a in last), len(last))
        out.append(Line(measure.label, words, points, len(mine)))
    return out


def _path(mine: list[Answer], scale: Scale) -> tuple[str, tuple[float, float, float]]:
    """Points of the plot from day to day, and the threshold with its interval, octaves."""
    quest, heights = Quest(scale), []
    for _, day in groupby(mine[-LATELY:], key=lambda a: a.at[:10]):
        for given in day:
            quest.told(given.size, given.right)
        heights.append(quest.threshold.middle)
    found = quest.threshold
    if len(heights) == 1:
        heights = [scale.expected, *heights]
    low, high = scale.low, scale.high
    step = WIDE / max(1, len(heights) - 1)
    points = " ".join(
        f"{k * step:.1f},{HIGH - 3 - (HIGH - 6) * min(max((h - low) / (high - low), 0), 1):.1f}"
        for k, h in enumerate(heights)
    )
    return points, (found.middle, found.low, found.high)


def honest(who: Eye) -> str:
    """How often somebody saw a change where there was none, in words; empty before it was asked."""
    caught = [a for a in answers_of(who.id) if a.measure == "which:nothing"]
    if not caught:
        return ""
    wrong = sum(not a.right for a in caught)
    if not wrong:
        return f"No change was seen where there was none, in {len(caught)} of {len(caught)} tries."
    return f"A change was seen where there was none {wrong} of {len(caught)} times: guess less."


def tired(who: Eye) -> str:
    """Whether a break would help."""
    given = [
        memory.Given("", a.right, _day(a.at), a.seconds)
        for d in drills.of(db(), who.id)
        for a in d.answers
        if d.screen != "from a file"
    ]
    return memory.tired(given)


def _day(moment: str) -> int:
    return int(moment[:10].replace("-", ""))

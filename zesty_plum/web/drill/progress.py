"""What somebody can see by now: thresholds with their intervals, how they went from day to day, and
whether it is time for a break."""

from dataclasses import dataclass
from itertools import groupby

from ...core.drill import memory
from ...core.drill.dimensions import DIMENSIONS
from ...core.drill.places import SCALE
from ...core.drill.quest import Quest, Scale
from ...store import drills
from ...store.drills import Answer, Eye
from ..context import db
from ..eyes import LATELY, answers_of
from .asking import FAR_SCALE

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
    every = answers_of(who.id)
    out = []
    for dim in DIMENSIONS:
        mine = [a for a in every if a.measure == f"which:{dim.id}"]
        if len(mine) < FEWEST:
            continue
        points, last = _path(mine, dim.scale)
        middle, low, high = (2.0**v for v in last)
        told = dim.words(middle, True).rsplit(" ", 1)[0]
        words = f"{told} ({_short(low, dim.unit)} to {_short(high, dim.unit)})"
        out.append(Line(dim.label, words, points, len(mine)))
    for label, measure, scale in (("How far", "far", FAR_SCALE), ("Where", "where", SCALE)):
        mine = [a for a in every if a.measure == measure]
        if len(mine) < FEWEST:
            continue
        points, last = _path(mine, scale)
        right = sum(a.right for a in mine[-10:])
        of = min(10, len(mine))
        if measure == "far":
            words = f"tells sizes {2.0 ** last[0]:.2f} times apart; {right} of the last {of} right"
        else:
            words = f"finds {right} of the last {of} places, of {2.0 ** last[0]:.1f} % of the frame"
        out.append(Line(label, words, points, len(mine)))
    return out


def _short(value: float, unit: str) -> str:
    if unit == "share":
        return f"{100 * value:.1f}" if value < 0.1 else f"{100 * value:.0f}"
    return f"{value:.2g}" if value < 10 else f"{value:.0f}"


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

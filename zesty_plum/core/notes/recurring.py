"""What keeps coming back in somebody's trials, with counts and their intervals; never from a
handful.

Shares come with the score interval of Wilson (1927) at 95 percent; two shares are said to differ
where the interval of their difference (Newcombe 1998, method 10) leaves out nothing.
"""

import math
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from ..recipe import Recipe
from .moves import Move, moves

FEWEST, OFTEN = 5, 4  # trials of a kind, and times that something comes back, before it is said
Z = 1.959964  # of a normal distribution, for 95 percent
_NUMBERS = re.compile(r"\s*(?:by )?[-+−]?\d+(?:[.,]\d+)?\s*(?:mired|stops?|%|of L\*|steps?)?")


@dataclass(frozen=True)
class Tried:
    """A trial: what was set before and after, whether it was kept (None while nobody said), and
    what was seen in words."""

    before: Recipe
    after: Recipe
    kept: bool | None
    words: tuple[str, ...] = ()

    @property
    def moved(self) -> tuple[Move, ...]:
        """What moved."""
        return moves(self.before, self.after)


def wilson(many: int, of: int) -> tuple[float, float]:
    """The interval of a share, 0 to 1."""
    if not of:
        return 0.0, 1.0
    p, zz = many / of, Z * Z
    middle = (p + zz / (2 * of)) / (1 + zz / of)
    half = Z * math.sqrt(p * (1 - p) / of + zz / (4 * of * of)) / (1 + zz / of)
    return max(0.0, middle - half), min(1.0, middle + half)


def apart(many: int, of: int, other: int, of_other: int) -> tuple[float, float]:
    """The interval of a share less another."""
    p, q = many / of, other / of_other
    (a, b), (c, d) = wilson(many, of), wilson(other, of_other)
    return (
        p - q - math.sqrt((p - a) ** 2 + (d - q) ** 2),
        p - q + math.sqrt((b - p) ** 2 + (q - c) ** 2),
    )


def comes_back(trials: Sequence[Tried]) -> list[str]:
    """Sentences, the most frequent first; none from fewer than five trials."""
    if len(trials) < FEWEST:
        return []
    out = [*_seen(trials), *_kept(trials)]
    single = _single(trials)
    return [words for _, words in sorted(out, key=lambda pair: -pair[0])] + (
        [single] if single else []
    )


def _seen(trials: Sequence[Tried]) -> list[tuple[int, str]]:
    """What was seen again and again, and where a dial stood in all of those."""
    kinds = [{_NUMBERS.sub("", w).strip().rstrip(",") for w in t.words} for t in trials]
    out = []
    for kind, many in Counter(k for each in kinds for k in each if k).items():
        if many < OFTEN:
            continue
        mine = [t for t, each in zip(trials, kinds, strict=True) if kind in each]
        rest = [t for t, each in zip(trials, kinds, strict=True) if kind not in each]
        words = f"{kind[:1].upper()}{kind[1:]}: {many} of {len(trials)} trials"
        out.append((many, f"{words}{_common(mine, rest)}."))
    return out


def _common(mine: Sequence[Tried], rest: Sequence[Tried]) -> str:
    """A dial that moved one way in all of some trials, and in less than half of the others."""
    ways = [{(m.dial, m.label, m.up) for m in t.moved if m.up} for t in mine]
    for dial, label, up in sorted(set.intersection(*ways)) if ways else ():
        others = sum(any(m.dial == dial and m.up == up for m in t.moved) for t in rest)
        if others * 2 < len(rest) or not rest:
            return f", all with {label} {'raised' if up > 0 else 'lowered'}"
    return ""


def _kept(trials: Sequence[Tried]) -> list[tuple[int, str]]:
    """Which ways of which dials were kept."""
    ways: dict[tuple[str, int], list[bool]] = {}
    for trial in trials:
        for m in trial.moved:
            if m.up and trial.kept is not None:
                ways.setdefault((m.label, m.up), []).append(trial.kept)
    out = []
    for (label, up), kept in ways.items():
        if len(kept) < FEWEST:
            continue
        low, high = wilson(sum(kept), len(kept))
        way = "raised" if up > 0 else "lowered"
        words = f"{label} {way}: kept {sum(kept)} of {len(kept)} times"
        out.append((len(kept), f"{words} ({100 * low:.0f} to {100 * high:.0f} %)."))
    return out


def _single(trials: Sequence[Tried]) -> str:
    """Whether trials with one change are kept more often, where that can be told."""
    settled = [t for t in trials if t.kept is not None and t.moved]
    one = [bool(t.kept) for t in settled if len(t.moved) == 1]
    more = [bool(t.kept) for t in settled if len(t.moved) > 1]
    if min(len(one), len(more)) < FEWEST:
        return ""
    low, high = apart(sum(one), len(one), sum(more), len(more))
    if low <= 0 <= high:
        return ""
    often = "more often" if low > 0 else "less often"
    return (
        f"Trials with one change were kept {often}: {sum(one)} of {len(one)}, with several "
        f"{sum(more)} of {len(more)}."
    )

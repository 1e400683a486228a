"""A sum as fields of which any may be filled in: what is left empty follows.

Each sum says what follows from its fields; the other way round is found by bisection, between the
ends of the field that is empty, so that no sum is written down twice.
"""

import itertools
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ..base.errors import PlumError
from ..base.nominal import APERTURES, nearest, printed_time
from ..fields import number as numbers
from .time import seconds

Values = Mapping[str, Any]
Answers = list[tuple[str, str]]
SCANNED, HALVED = 80, 90  # places that are looked at for a change of sign, and halvings after it


def number(value: float) -> str:
    """A number as people write it: three figures, whole ones above a hundred."""
    return f"{value:,.0f}".replace(",", " ") if abs(value) >= 100 else f"{value:.3g}"


def duration(value: float) -> str:
    """Seconds as a camera prints them, or in minutes and hours."""
    if value <= 30:
        return f"{printed_time(value)} s"
    if value < 120:
        return f"{value:.0f} s"
    return f"{value / 60:.1f} min" if value < 5400 else f"{value / 3600:.1f} h"


def aperture(value: float) -> str:
    """As a camera prints it."""
    return f"f/{nearest(APERTURES, value):g}"


@dataclass(frozen=True)
class Field:
    """Something of a sum: its name, its label with unit, what stands in it first, between what it
    lies, how it is printed when it follows; `time` where it is written as 1/125, 20s or 2h, `word`
    where it is no number, `free` where a sum does without; `puts` is what a shoot or a recipe calls
    it, if that is another name."""

    name: str
    label: str
    first: str = ""
    low: float = 1e-4
    high: float = 1e6
    prints: Callable[[float], str] = field(default=number)
    time: bool = False
    word: bool = False
    free: bool = False
    puts: str = ""

    def read(self, text: str) -> float:
        """What was typed as a number."""
        if self.time:
            return seconds(text)
        value = numbers.number(text.strip().removeprefix("f/"))
        if value is None:
            label = self.label[:1].upper() + self.label[1:]
            raise PlumError(f"{label} is a number, not '{text}'.")
        return value


@dataclass(frozen=True)
class Sum:
    """A sum of the sheet: the fields that it asks for, those that follow, how; what else is told of
    it, the formula, and whose rule it is."""

    id: str
    label: str
    asks: tuple[Field, ...]
    gives: tuple[Field, ...]
    follows: Callable[[Values], Values]
    tells: Callable[[Values], Answers]
    formula: str
    rule: str

    @property
    def fields(self) -> tuple[Field, ...]:
        """All of them."""
        return (*self.asks, *self.gives)

    @property
    def firsts(self) -> dict[str, str]:
        """What stands in the fields first."""
        return {f.name: f.first for f in self.asks} | {f.name: "" for f in self.gives}


def solve(one: Sum, given: Values) -> Values:
    """All fields of a sum from those that are given; PlumError says what is missing or too much."""
    lacking = [f for f in one.asks if f.name not in given and not f.free]
    known = [f for f in one.gives if f.name in given]
    if len(lacking) > 1 or (lacking and not known):
        missing = lacking[0] if not known else lacking[1]
        raise PlumError(f"Fill in: {missing.label}.")
    if len(known) > len(lacking):
        raise PlumError("One number too many. Clear the one that is to follow.")
    whole = {k: v for k, v in given.items() if k not in {f.name for f in one.gives}}
    if lacking:
        whole[lacking[0].name] = _found(one, whole, lacking[0], known[0], given[known[0].name])
    return {**whole, **one.follows(whole)}


def _found(one: Sum, given: Values, empty: Field, of: Field, wanted: float) -> float:
    """The value of the empty field that gives what is wanted."""

    def off(value: float) -> float:
        try:
            return float(one.follows({**given, empty.name: value})[of.name]) - wanted
        except (PlumError, OverflowError, ZeroDivisionError, KeyError):
            return math.nan

    ratio = empty.low > 0
    low, high = (math.log(empty.low), math.log(empty.high)) if ratio else (empty.low, empty.high)
    at = [low + (high - low) * k / SCANNED for k in range(SCANNED + 1)]
    place = math.exp if ratio else float
    signs = [off(place(x)) for x in at]
    if len({s for s in signs if not math.isnan(s)}) == 1:
        raise PlumError(f"The {empty.label} does not follow from that. Clear another field.")
    for (a, b), (u, v) in zip(itertools.pairwise(at), itertools.pairwise(signs), strict=True):
        if u == 0:
            return place(a)
        if u * v <= 0:
            for _ in range(HALVED):
                middle = (a + b) / 2
                if off(place(middle)) * u > 0:
                    a = middle
                else:
                    b = middle
            return place(b)
    raise PlumError(f"No {empty.label} comes to that. Look through the numbers.")


@dataclass(frozen=True)
class Answered:
    """shown : fields that follow, as they are printed; values : all of them that are numbers; rows
    : what else is told."""

    shown: dict[str, str]
    values: dict[str, float]
    rows: Answers


def answered(one: Sum, texts: Mapping[str, str]) -> Answered:
    """What follows from what was typed."""
    given: dict[str, Any] = {}
    for f in one.fields:
        text = str(texts.get(f.name, "")).strip()
        if text:
            given[f.name] = text if f.word else f.read(text)
    try:
        whole = solve(one, given)
        shown = {
            f.name: f.prints(whole[f.name])
            for f in one.fields
            if f.name in whole and f.name not in given
        }
        numbers = {k: float(v) for k, v in whole.items() if not isinstance(v, str)}
        return Answered(shown, numbers, one.tells(whole))
    except (OverflowError, ValueError, ZeroDivisionError, KeyError) as error:
        raise PlumError("These numbers do not go together. Look through them.") from error

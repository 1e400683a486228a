"""Kinds of fields: how each reads what people type, what fits, and how it stands in files.

Sentences begin where a field's name ends: "goes from 1 to 15, not 50".
"""

import re
from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from ..base.errors import PlumError
from ..base.text import shortened, well_formed
from . import number as numbers

Schema = dict[str, Any]
CLOCK, DATE = r"^([01]?[0-9]|2[0-3]):[0-5][0-9]$|^24:00$", r"^[0-9]{4}-[0-9]{2}-[0-9]{2}$"
DAY = 24 * 60
YEARS = 1950, 2150  # of days; the sun's place is sure within them


class Kind(ABC):
    """What a field holds. `unsaid` is the value that says nothing, and is written as nothing; it
    may be of another type."""

    unsaid: Any = ""

    @abstractmethod
    def read(self, text: str) -> Any:
        """The value of what was typed, which is not empty. PlumError goes on from its label."""

    @abstractmethod
    def check(self, value: Any) -> Any:
        """The value of what a file holds. PlumError as above."""

    def write(self, value: Any) -> str:
        """A value as a form shows it."""
        return str(value)

    def json(self, value: Any) -> Any:
        """A value as a file holds it."""
        return value

    @property
    @abstractmethod
    def schema(self) -> Schema:
        """JSON Schema of it in a file."""


def _not(text: object) -> str:
    return f"not '{shortened(well_formed(str(text)), 20)}'"


@dataclass(frozen=True)
class Number(Kind):
    """A number within limits; `whole` ones only, with `unit` behind it. `unsaid` outside of the
    limits, as 0 or None, is what stands for none."""

    low: float
    high: float
    unsaid: Any = ""
    whole: bool = False
    unit: str = ""
    example: str = ""

    def read(self, text: str) -> float | int:
        value = numbers.number(text, self.unit, counted=self.whole)
        if value is None or (self.whole and not value.is_integer()):
            what = "a whole number" if self.whole else "a number"
            shown = self.example or numbers.shown(self.low if self.low > 0 else min(2, self.high))
            raise PlumError(f"takes {what}, as {shown}, {_not(text)}")
        return int(self._within(value)) if self.whole else self._within(value)

    def check(self, value: Any) -> Any:
        if value is None and self.unsaid is None:
            return None
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise PlumError(f"takes a number, {_not(value)}")
        if value == self.unsaid:
            return value
        value = self._within(value)
        if self.whole and not float(value).is_integer():
            raise PlumError(f"takes a whole number, {_not(value)}")
        return int(value) if self.whole else value

    def _within(self, value: float) -> float | int:
        if not self.low <= value <= self.high:
            low, high = map(numbers.spoken, (self.low, self.high))
            raise PlumError(f"goes from {low} to {high}, not {numbers.spoken(value)}")
        return value

    def write(self, value: Any) -> str:
        return "" if value is None or value == self.unsaid else numbers.shown(value)

    @property
    def schema(self) -> Schema:
        kind = "integer" if self.whole else "number"
        within: Schema = {"type": kind, "minimum": self.low, "maximum": self.high}
        if self.unsaid is None:
            return {"anyOf": [within, {"type": "null"}]}
        if isinstance(self.unsaid, int | float) and not self.low <= self.unsaid <= self.high:
            return {"anyOf": [within, {"const": self.unsaid}]}
        return within


@dataclass(frozen=True)
class Text(Kind):
    """Words of at most so many letters; on one line, if not `lines`."""

    most: int
    lines: bool = False
    unsaid: Any = ""

    def read(self, text: str) -> str:
        return self.check(text)

    def check(self, value: Any) -> str:
        if not isinstance(value, str):
            raise PlumError(f"takes words, {_not(value)}")
        said = well_formed(value).replace("\r\n", "\n")
        said = said.strip() if self.lines else " ".join(said.split())
        if len(said) > self.most:
            raise PlumError(f"holds {self.most} letters; this has {len(said)}")
        return said

    @property
    def schema(self) -> Schema:
        return {"type": "string", "maxLength": self.most}


@dataclass(frozen=True)
class Choice(Kind):
    """One of some names or numbers; their words come from `among`, when they are asked for."""

    among: Callable[[], Mapping[Any, str]]
    unsaid: Any = ""

    def read(self, text: str) -> Any:
        said, known = " ".join(text.split()), self.among()
        for name in (*known, self.unsaid):
            if str(name) == said:
                return name
        raise PlumError(f"can be {', '.join(known.values())}, {_not(text)}")

    def check(self, value: Any) -> Any:
        known = self.among()
        for name in (*known, self.unsaid):
            if type(name) is type(value) and name == value:
                return name
        raise PlumError(f"can be {', '.join(str(k) for k in known if k != '')}, {_not(value)}")

    @property
    def schema(self) -> Schema:
        return {"enum": list(dict.fromkeys([self.unsaid, *self.among()]))}


def among(names: Iterable[Any]) -> Callable[[], Mapping[Any, str]]:
    """Names that are their own words."""
    known = {name: str(name) for name in names}
    return lambda: known


@dataclass(frozen=True)
class Clock(Kind):
    """A time of day, in minutes since midnight; beyond 1440 on the next day. Written as 06:15."""

    unsaid: Any = ""

    def read(self, text: str) -> int:
        return self.check(text.strip().replace(".", ":"))

    def check(self, value: Any) -> int:
        if not isinstance(value, str) or not re.search(CLOCK, value):
            raise PlumError(f"takes a time of day, as 06:15, {_not(value)}")
        hour, minute = value.split(":")
        return int(hour) * 60 + int(minute)

    def write(self, value: Any) -> str:
        return f"{int(value) // 60 % 24:02}:{int(value) % 60:02}"

    def json(self, value: Any) -> Any:
        return self.write(value)

    @property
    def schema(self) -> Schema:
        return {"type": "string", "pattern": CLOCK}


@dataclass(frozen=True)
class Day(Kind):
    """A date, as 2026-11-07."""

    unsaid: Any = ""

    def read(self, text: str) -> date:
        return self.check(text.strip())

    def check(self, value: Any) -> date:
        try:
            if isinstance(value, str) and re.search(DATE, value):
                day = date.fromisoformat(value)
                if YEARS[0] <= day.year <= YEARS[1]:
                    return day
                raise PlumError(f"takes a date from {YEARS[0]} to {YEARS[1]}, {_not(value)}")
        except ValueError:
            pass  # a day that no month has
        raise PlumError(f"takes a date, as 2026-11-07, {_not(value)}")

    def write(self, value: Any) -> str:
        return str(value.isoformat())

    def json(self, value: Any) -> Any:
        return self.write(value)

    @property
    def schema(self) -> Schema:
        return {"type": "string", "pattern": DATE}


@dataclass(frozen=True)
class Typed(Kind):
    """A number that people may say in another way: `reads` takes what was typed first, and returns
    None where it is a plain number; `shows` writes a value."""

    plain: Number
    reads: Callable[[str], float | None]
    shows: Callable[[float], str]

    @property
    def unsaid(self) -> Any:
        return self.plain.unsaid

    def read(self, text: str) -> Any:
        value = self.reads(text)
        return self.plain.read(text) if value is None else self.plain.check(value)

    def check(self, value: Any) -> Any:
        return self.plain.check(value)

    def write(self, value: Any) -> str:
        return "" if value is None else self.shows(value)

    def json(self, value: Any) -> Any:
        return self.plain.json(value)

    @property
    def schema(self) -> Schema:
        return self.plain.schema

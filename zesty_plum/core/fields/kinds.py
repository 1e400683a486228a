"""Kinds of fields: how each reads what people type, what fits, and how it stands in files.

Sentences begin where a field's name ends: "goes from 1 to 15, not 50".
"""

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any, Protocol

from ..base.errors import PlumError
from ..base.text import shortened, well_formed
from . import number as numbers

Schema = dict[str, Any]
_CLOCK = re.compile(r"([01]?\d|2[0-3])[:.]([0-5]\d)|(24)[:.](00)")
DAY = 24 * 60


class Kind(Protocol):
    """What a field holds. `unsaid` is the value that says nothing, and is written as nothing."""

    @property
    def unsaid(self) -> Any:
        """What stands for nothing said; may be of another type."""

    def read(self, text: str) -> Any:
        """The value of what was typed, which is not empty. PlumError goes on from its label."""

    def check(self, value: Any) -> Any:
        """The value of a file, or the same as one that fits. PlumError as above."""

    def write(self, value: Any) -> str:
        """A value as a form shows it."""

    def json(self, value: Any) -> Any:
        """A value as a file holds it."""

    @property
    def schema(self) -> Schema:
        """JSON Schema of it in a file."""


def _not(text: object) -> str:
    return f"not '{shortened(well_formed(str(text)), 20)}'"


@dataclass(frozen=True)
class Number:
    """A number within limits; `whole` ones only, with `unit` behind it. `unsaid` outside of the
    limits, as 0 or None, is what stands for none."""

    low: float
    high: float
    unsaid: Any = ""
    whole: bool = False
    unit: str = ""
    example: str = ""

    def read(self, text: str) -> float | int:
        """As in `Kind`."""
        value = numbers.number(text, self.unit)
        if value is None or (self.whole and not value.is_integer()):
            what = "a whole number" if self.whole else "a number"
            shown = self.example or numbers.shown(self.low)
            raise PlumError(f"takes {what}, as {shown}, {_not(text)}")
        return self._within(value)

    def check(self, value: Any) -> Any:
        """As in `Kind`."""
        if value is None or isinstance(value, bool) or not isinstance(value, int | float):
            if value is None and self.unsaid is None:
                return None
            raise PlumError(f"takes a number, {_not(value)}")
        if self.whole and not float(value).is_integer():
            raise PlumError(f"takes a whole number, {_not(value)}")
        return value if value == self.unsaid else self._within(value)

    def _within(self, value: float) -> float | int:
        if not self.low <= value <= self.high:
            low, high = map(numbers.spoken, (self.low, self.high))
            raise PlumError(f"goes from {low} to {high}, not {numbers.spoken(value)}")
        return int(value) if self.whole else float(value)

    def write(self, value: Any) -> str:
        """As in `Kind`."""
        return "" if value is None or value == self.unsaid else numbers.shown(value)

    def json(self, value: Any) -> Any:
        """As in `Kind`."""
        return value

    @property
    def schema(self) -> Schema:
        """As in `Kind`."""
        kind = "integer" if self.whole else "number"
        within: Schema = {"type": kind, "minimum": self.low, "maximum": self.high}
        if self.unsaid is None:
            return {"anyOf": [within, {"type": "null"}]}
        if isinstance(self.unsaid, int | float) and not self.low <= self.unsaid <= self.high:
            return {"anyOf": [within, {"const": self.unsaid}]}
        return within


@dataclass(frozen=True)
class Text:
    """Words of at most so many letters; on one line, if not `lines`."""

    most: int
    lines: bool = False
    unsaid: Any = ""

    def read(self, text: str) -> str:
        """As in `Kind`."""
        said = well_formed(text).replace("\r\n", "\n")
        return self.check(said.strip() if self.lines else " ".join(said.split()))

    def check(self, value: Any) -> str:
        """As in `Kind`."""
        if not isinstance(value, str):
            raise PlumError(f"takes words, {_not(value)}")
        if len(value) > self.most:
            raise PlumError(f"holds {self.most:,} letters; this has {len(value):,}")
        return value

    def write(self, value: Any) -> str:
        """As in `Kind`."""
        return str(value)

    def json(self, value: Any) -> Any:
        """As in `Kind`."""
        return value

    @property
    def schema(self) -> Schema:
        """As in `Kind`."""
        return {"type": "string", "maxLength": self.most}


@dataclass(frozen=True)
class Choice:
    """One of some names or numbers; their words come from `among`, when they are asked for."""

    among: Callable[[], Mapping[Any, str]]
    unsaid: Any = ""

    def read(self, text: str) -> Any:
        """As in `Kind`."""
        said, known = " ".join(text.split()), self.among()
        found = next((k for k in known if str(k) == said), said)
        if found != self.unsaid and found not in known:
            raise PlumError(f"can be {', '.join(known.values())}, {_not(text)}")
        return found

    def check(self, value: Any) -> Any:
        """As in `Kind`."""
        known = self.among()
        if isinstance(value, bool | list | dict) or (value != self.unsaid and value not in known):
            names = ", ".join(str(k) for k in known if k != "")
            raise PlumError(f"can be {names}, {_not(value)}")
        return value

    def write(self, value: Any) -> str:
        """As in `Kind`."""
        return str(value)

    def json(self, value: Any) -> Any:
        """As in `Kind`."""
        return value

    @property
    def schema(self) -> Schema:
        """As in `Kind`."""
        return {"enum": list(dict.fromkeys([self.unsaid, *self.among()]))}


def among(names: Iterable[Any]) -> Callable[[], Mapping[Any, str]]:
    """Names that are their own words."""
    known = {name: str(name) for name in names}
    return lambda: known


@dataclass(frozen=True)
class Clock:
    """A time of day, in minutes since midnight; beyond 1440 on the next day. Written as 06:15."""

    unsaid: Any = ""

    def read(self, text: str) -> int:
        """As in `Kind`."""
        found = _CLOCK.fullmatch(text.strip())
        if not found:
            raise PlumError(f"takes a time of day, as 06:15, {_not(text)}")
        hour, minute = filter(None, found.groups())
        return int(hour) * 60 + int(minute)

    def check(self, value: Any) -> int:
        """As in `Kind`."""
        return self.read(value if isinstance(value, str) else str(value))

    def write(self, value: Any) -> str:
        """As in `Kind`."""
        return f"{int(value) // 60 % 24:02}:{int(value) % 60:02}"

    def json(self, value: Any) -> Any:
        """As in `Kind`."""
        return self.write(value)

    @property
    def schema(self) -> Schema:
        """As in `Kind`."""
        return {"type": "string", "pattern": r"^([01]?\d|2[0-4]):[0-5]\d$"}


@dataclass(frozen=True)
class Day:
    """A date, as 2026-11-07."""

    unsaid: Any = ""

    def read(self, text: str) -> date:
        """As in `Kind`."""
        return self.check(text.strip())

    def check(self, value: Any) -> date:
        """As in `Kind`."""
        try:
            return value if isinstance(value, date) else date.fromisoformat(str(value))
        except ValueError as error:
            raise PlumError(f"takes a date, as 2026-11-07, {_not(value)}") from error

    def write(self, value: Any) -> str:
        """As in `Kind`."""
        return str(value.isoformat())

    def json(self, value: Any) -> Any:
        """As in `Kind`."""
        return self.write(value)

    @property
    def schema(self) -> Schema:
        """As in `Kind`."""
        return {"type": "string", "pattern": r"^\d{4}-\d\d-\d\d$"}


@dataclass(frozen=True)
class Typed:
    """A number that people may say in another way: `reads` takes what was typed first, and returns
    None where it is a plain number; `shows` writes a value."""

    plain: Number
    reads: Callable[[str], float | None]
    shows: Callable[[float], str]

    @property
    def unsaid(self) -> Any:
        """As in `Kind`."""
        return self.plain.unsaid

    def read(self, text: str) -> Any:
        """As in `Kind`."""
        value = self.reads(text)
        return self.plain.read(text) if value is None else self.plain.check(value)

    def check(self, value: Any) -> Any:
        """As in `Kind`."""
        return self.plain.check(value)

    def write(self, value: Any) -> str:
        """As in `Kind`."""
        return "" if value is None else self.shows(value)

    def json(self, value: Any) -> Any:
        """As in `Kind`."""
        return self.plain.json(value)

    @property
    def schema(self) -> Schema:
        """As in `Kind`."""
        return self.plain.schema

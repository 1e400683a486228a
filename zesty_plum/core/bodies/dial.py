"""A dial: a setting of a body with its places in order, and when it counts."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from ..base.errors import PlumError
from ..base.text import shortened
from ..look import Stage, about, at_rest

Value = float | int | str
Values = Mapping[str, Value]
MOST_SPELLED = 24  # values that a sentence lists one by one


@dataclass(frozen=True)
class Need:
    """When something counts: another dial stands at one of `only`, at none of `never`, at `least`
    or above."""

    dial: str
    why: str
    only: tuple[Value, ...] = ()
    never: tuple[Value, ...] = ()
    least: float | None = None

    def met(self, dials: Values) -> bool:
        """Whether it counts; a body without that dial sets no condition."""
        return self.dial not in dials or self.met_at(dials[self.dial])

    def met_at(self, value: Value) -> bool:
        """Whether it counts with the other dial at a value."""
        if self.least is not None:
            return not isinstance(value, str) and value >= self.least
        return value in self.only if self.only else value not in self.never


@dataclass(frozen=True)
class Choice:
    """One place of a dial: its value in files, how the body prints it, what it sets or adds in a
    look, and when it can; `note` is what it makes impossible or costs."""

    value: Value
    label: str
    sets: Mapping[str, Any] = field(default_factory=dict)
    adds: Mapping[str, float] = field(default_factory=dict)
    needs: tuple[Need, ...] = ()
    note: str = ""

    @property
    def style(self) -> str:
        """Id of the style that it sets; the look's own at rest where it sets none."""
        return str(self.sets.get("style", at_rest()["style"]))


@dataclass(frozen=True)
class Dial:
    """A setting of a body: its places in order and where it stands as shipped."""

    id: str
    label: str
    group: str
    unit: str
    purpose: str
    means: str
    later: str
    choices: tuple[Choice, ...]
    default: Value
    needs: tuple[Need, ...] = ()

    @cached_property
    def values(self) -> tuple[Value, ...]:
        """All values it can take, in order."""
        return tuple(c.value for c in self.choices)

    @property
    def named(self) -> bool:
        """Whether its places are choices by name, with no order that a step could follow."""
        return isinstance(self.values[0], str)

    @property
    def spoken(self) -> str:
        """Its label inside a sentence."""
        return self.label if self.label[1:2].isupper() else self.label[:1].lower() + self.label[1:]

    @cached_property
    def touches(self) -> frozenset[str]:
        """Fields of the look that it can change."""
        return frozenset(name for c in self.choices for name in (*c.sets, *c.adds))

    @property
    def fine(self) -> bool:
        """Whether all that it changes shows only at 100 percent."""
        return bool(self.touches) and all(about()[name].fine for name in self.touches)

    @property
    def filed(self) -> bool:
        """Whether all that it changes shows only in the file as it is written, at 100 percent."""
        return self.fine and all(about()[name].stage is Stage.FILE for name in self.touches)

    @property
    def taking(self) -> bool:
        """Whether it has a say only while a picture is taken."""
        return bool(self.touches) and all(about()[name].taking for name in self.touches)

    @cached_property
    def _places(self) -> dict[Value, int]:
        return {value: k for k, value in enumerate(self.values)}

    def position(self, value: Value) -> int:
        """Index of a value; PlumError says what the dial can take."""
        if type(value) in (int, float, str) and (known := self._places.get(value)) is not None:
            return known
        for k, own in enumerate(self.values):
            if _same(own, value):
                return k
        raise PlumError(
            f"{self.label} ('{self.id}') cannot be set to {shortened(repr(value), 40)}. It can "
            f"take {self.spelled()}{self._nearest(value)}."
        )

    def number(self, value: Value) -> float | None:
        """A value as a number to search by: of strengths by name their rank from 0, None of other
        names."""
        if not isinstance(value, str):
            return float(value)
        return float(self.position(value)) if self.unit == "level" else None

    def choice(self, value: Value) -> Choice:
        """The place at `value`."""
        return self.choices[self.position(value)]

    def own(self, value: Value) -> Value:
        """A value in the body's own spelling."""
        return self.values[self.position(value)]

    def spelled(self) -> str:
        """The values in words, shortened where there are many."""
        values = [f"{v:g}" if isinstance(v, float) else str(v) for v in self.values]
        if len(values) <= MOST_SPELLED:
            return ", ".join(values)
        return f"{len(values)} values from {values[0]}, {values[1]}, {values[2]} to {values[-1]}"

    def _nearest(self, value: Any) -> str:
        """The places next to a number, where there are too many to list."""
        numbers = [v for v in self.values if not isinstance(v, str)]
        if isinstance(value, str | bool) or not isinstance(value, int | float):
            return ""
        if len(numbers) <= MOST_SPELLED or not numbers[0] < value < numbers[-1]:
            return ""
        near = sorted(sorted(numbers, key=lambda v: abs(v - value))[:2])
        return f"; next to it are {near[0]:g} and {near[1]:g}"


def unsigned(text: str) -> str:
    """A text without its sentence on which way plus goes, for a dial that goes another way."""
    return re.sub(r"\s*Plus is [^.]*\.", "", text)


def _same(a: Value, b: Value) -> bool:
    if isinstance(a, str) or isinstance(b, str | bool) or not isinstance(b, int | float):
        return isinstance(b, str) and a == b
    return abs(a - b) < 0.006  # thirds are written with two decimals

"""A body: a camera model, its dials, and what their values mean."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from ..base.errors import PlumError
from ..base.text import shortened
from ..look import Balance, Look, Metering, Sensor, at_rest
from ..styles import Style
from .dial import Dial, Need, Value, Values


@dataclass(frozen=True)
class Pair:
    """Two dials that are the two directions of one thing, with words for the ends of each."""

    across: str
    down: str
    left: str
    right: str
    top: str
    bottom: str


@dataclass(frozen=True)
class Step:
    """How far a dial goes, as it was learnt: times what the body that it is like has, from so many
    pairs, and in a sentence."""

    dial: str
    times: float
    pairs: int
    moves: str


@dataclass(frozen=True)
class Reset:
    """A place in its menu that puts dials back as shipped: all of them where it names none."""

    label: str
    dials: tuple[str, ...] = ()


@dataclass(frozen=True)
class Body:
    """A camera model; `separate` says that stills and clips keep settings of their own.

    edition : which one of its files this is. styles : those of its own, which were learnt. steps :
    of the dials that were learnt. beside : its settings beside the look. outside : dials that a
    slot does not hold. resets : as they stand in its menu, whose pages are the groups of its dials.
    """

    id: str
    name: str
    kind: str
    about: str
    slots: int
    separate: bool
    sensor: Sensor
    dials: tuple[Dial, ...]
    pairs: tuple[Pair, ...] = ()
    edition: int = 1
    styles: tuple[Style, ...] = ()
    steps: tuple[Step, ...] = ()
    beside: tuple[Dial, ...] = ()
    outside: tuple[str, ...] = ()
    resets: tuple[Reset, ...] = ()

    @cached_property
    def by_id(self) -> Mapping[str, Dial]:
        """Its dials by their ids, in order."""
        return {d.id: d for d in self.dials}

    @cached_property
    def style_dial(self) -> Dial | None:
        """The dial that chooses its style, however it is called."""
        return next((d for d in self.dials if "style" in d.touches), None)

    @cached_property
    def held(self) -> tuple[Dial, ...]:
        """The dials that a slot holds."""
        return tuple(d for d in self.dials if d.id not in self.outside)

    @cached_property
    def beside_by_id(self) -> Mapping[str, Dial]:
        """Its settings beside the look by their ids, in order."""
        return {d.id: d for d in self.beside}

    def dial(self, dial_id: str) -> Dial:
        """A dial by id; PlumError names those that exist."""
        if dial_id not in self.by_id:
            raise PlumError(
                f"{self.name} has no dial '{shortened(dial_id, 40)}'. Its dials are "
                f"{', '.join(self.by_id)}."
            )
        return self.by_id[dial_id]

    @cached_property
    def touches(self) -> frozenset[str]:
        """Fields of the look that it can change."""
        return frozenset().union(*(d.touches for d in self.dials))

    @cached_property
    def shipped(self) -> dict[str, Value]:
        """All dials as they stand when it is bought or reset."""
        return {d.id: d.default for d in self.dials}

    def complete(self, dials: Values) -> dict[str, Value]:
        """All dials in order: those given, checked and put in the body's own spelling, the others
        as shipped."""
        known = self.by_id
        own = {name: (known.get(name) or self.dial(name)).own(v) for name, v in dials.items()}
        return {**self.shipped, **own}

    def changed(self, dials: Values) -> dict[str, Value]:
        """Only the dials that do not stand as shipped."""
        full = self.complete(dials)
        return {name: v for name, v in full.items() if v != self.shipped[name]}

    def unmet(self, dial: Dial, dials: Values) -> Need | None:
        """The first condition that keeps a dial from counting where it stands."""
        needs = (*dial.needs, *dial.choice(dials[dial.id]).needs)
        return next((need for need in needs if not need.met(dials)), None)

    def idle(self, dial: Dial, dials: Values) -> str:
        """Why a dial has no say where it stands, given all the others; empty when it has one."""
        need = self.unmet(dial, dials)
        return need.why if need else ""

    def counts(self, dial: Dial, dials: Values) -> bool:
        """Whether a dial has a say, given the others."""
        return self.unmet(dial, dials) is None

    def interpret(self, dials: Values) -> Look:
        """Turn dial values into a look."""
        return self.meaning(self.complete(dials))

    def meaning(self, full: Values) -> Look:
        """The look of values that are complete and in the body's own spelling."""
        fields: dict[str, Any] = {}
        rest = at_rest()
        for dial in self.dials:
            choice = dial.choice(full[dial.id])
            if any(not need.met(full) for need in (*dial.needs, *choice.needs)):
                continue
            fields |= choice.sets
            for name, more in choice.adds.items():
                fields[name] = fields.get(name, rest[name]) + more
        for name, kind in (("balance", Balance), ("metering", Metering)):
            if name in fields:
                fields[name] = kind(fields[name])
        return Look(**fields)

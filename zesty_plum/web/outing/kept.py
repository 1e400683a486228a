"""The cameras of a day, their slots and how they stand, each looked up once."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from ...core.outing import leaving
from ...store import cases, plans, readings
from ...store.cases import Case
from ...store.plans import Put
from ..frame.context import db


@dataclass(frozen=True)
class Stands:
    """A camera's last reading, and the slots that were found otherwise than planned."""

    last: readings.Reading | None
    wrong: tuple[str, ...]


@dataclass
class Kept:
    """What was looked up."""

    known: dict[int, Stands] = field(default_factory=dict)
    held: dict[int, Mapping[str, Put]] = field(default_factory=dict)

    @cached_property
    def cases(self) -> dict[int, Case]:
        """All cameras by id."""
        return {c.id: c for c in cases.listed(db())}

    def slots(self, case: Case) -> Mapping[str, Put]:
        """What should be in a camera's slots."""
        if case.id not in self.held:
            self.held[case.id] = plans.slots_of(db(), case.id)
        return self.held[case.id]

    def camera(self, case: Case) -> leaving.Camera:
        """A camera as it is looked at before a day."""
        at = self.of(case)
        return leaving.Camera(
            case.id,
            case.called,
            case,
            case.camera,
            plans.beside_of(db(), case),
            at.last.read_at if at.last else "",
            at.last.state.beside if at.last else {},
            at.wrong,
        )

    def of(self, case: Case) -> Stands:
        """How a camera stands."""
        if case.id not in self.known:
            last = readings.last(db(), case)
            plan = plans.plan_of(db(), case).slots if last else {}
            there = last.state.slots if last else {}
            wrong = [
                key
                for key, held in plan.items()
                if key in there and dict(there[key].dials) != dict(held.dials)
            ]
            self.known[case.id] = Stands(last, tuple(wrong))
        return self.known[case.id]

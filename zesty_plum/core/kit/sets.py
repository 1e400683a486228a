"""Sets of settings beside the look, by what a job asks for."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from ..base.datafile import DataFile
from ..base.errors import NotFound
from ..bodies import Body, Value


@dataclass(frozen=True)
class Set:
    """A set: what it is called, what it is for, and its values by setting."""

    id: str
    label: str
    purpose: str
    values: Mapping[str, Value]

    def of(self, body: Body) -> dict[str, Value]:
        """Its values as far as a body has them."""
        return {
            name: value
            for name, value in self.values.items()
            if name in body.beside_by_id and value in body.beside_by_id[name].values
        }


@cache
def sets() -> dict[str, Set]:
    """All sets by id, in their order."""
    told = DataFile(Path(__file__).with_suffix(".toml")).data
    return {name: Set(name, s["label"], s["purpose"], s["values"]) for name, s in told.items()}


def named(set_id: str) -> Set:
    """A set by id."""
    if set_id not in sets():
        raise NotFound(f"There is no such set. The sets are {', '.join(sets())}.")
    return sets()[set_id]


def changes(body: Body, chosen: Set, now: Mapping[str, Value]) -> list[tuple[str, str, str]]:
    """What a set would change: (label, before, after)."""
    out = []
    for name, value in chosen.of(body).items():
        dial = body.beside_by_id[name]
        before = now.get(name, dial.default)
        if before != value:
            out.append((dial.label, dial.choice(before).label, dial.choice(value).label))
    return out

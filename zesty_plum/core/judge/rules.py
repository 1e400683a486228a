"""The rules of judgement, read from their file."""

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from ..datafile import DataFile
from ..look import Look, about
from ..recipe import Intent
from ..seen import Unit

SCHOOLS = {
    "subject_first": "Expose the subject and let the background go",
    "keep_mood": "Leave the colour of lamps in the picture",
    "filter_off": "Noise filter off; noise is taken out later or left",
    "contrast_alone": "Leave contrast alone for a grade: lowering it only raises noise",
}


@dataclass(frozen=True)
class Rule:
    """One rule; see rules.toml for the meaning of its fields."""

    id: str
    figure: str
    above: float | None
    below: float | None
    intents: frozenset[Intent]
    not_for: frozenset[str]
    weight: int
    says: str
    reason: str
    unit: str
    fields: tuple[str, ...]
    chosen: tuple[tuple[str, str], ...]
    alone: bool
    less_by_lamps: bool

    def wanted_so(self, look: Look) -> bool:
        """Whether the look says that what the rule speaks of is meant: it stands at one of
        `unless`, or at anything but rest."""
        return any(
            bool(getattr(look, n)) if value == "any" else str(getattr(look, n)) == value
            for n, value in self.chosen
        )

    @property
    def limit(self) -> float:
        """The value beyond which it speaks."""
        return self.above if self.above is not None else float(self.below or 0.0)

    def excess(self, value: float) -> float:
        """How far beyond the limit a value is, in the figure's unit; at most 0 when it is not."""
        return value - self.limit if self.above is not None else self.limit - value


HERE = Path(__file__).parent
PARTS = (
    "figure",
    "above",
    "below",
    "for",
    "not_for",
    "unless",
    "alone",
    "less_by_lamps",
    "weight",
    "says",
    "reason",
    "unit",
    "try",
)


def read(path: Path) -> tuple[Rule, ...]:
    """The rules of a file, in its order; PlumError says in which line a fault is."""
    file = DataFile(path)
    return tuple(_rule(file, name, r) for name, r in file.data.items())


@cache
def rules() -> tuple[Rule, ...]:
    """All rules that ship."""
    return read(HERE / "rules.toml")


def _rule(file: DataFile, name: str, r: dict[str, Any]) -> Rule:
    at = f"[{name}]"
    file.known(r, PARTS, f"Rule '{name}'", at)
    file.need(r, ("figure", "for", "weight", "says", "reason", "unit", "try"), f"Rule '{name}'", at)
    file.known((*r["try"], *r.get("unless", {})), about(), "A look", at)
    file.known((r["unit"],), Unit, "A figure", at)
    return Rule(
        id=name,
        figure=r["figure"],
        above=r.get("above"),
        below=r.get("below"),
        intents=frozenset(Intent(i) for i in r["for"]),
        not_for=frozenset(r.get("not_for", ())),
        weight=r["weight"],
        says=r["says"],
        reason=r["reason"],
        unit=r["unit"],
        fields=tuple(r["try"]),
        chosen=tuple((k, str(v)) for k, v in r.get("unless", {}).items()),
        alone=bool(r.get("alone")),
        less_by_lamps=bool(r.get("less_by_lamps")),
    )

"""The rules of judgement, read from their file."""

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from ..base.datafile import DataFile
from ..look import Look, about
from ..measure.report import Report
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
    only_if: tuple[tuple[str, float], ...]
    hides: tuple[str, ...]
    meant: tuple[str, ...]
    grows: float
    undo: bool

    def wanted_so(self, look: Look) -> bool:
        """Whether the look says that what the rule speaks of is meant: it stands at one of
        `unless`, or at anything but rest."""
        return any(
            bool(getattr(look, n)) if value == "any" else str(getattr(look, n)) == value
            for n, value in self.chosen
        )

    def seen_in(self, report: Report) -> tuple[str, float] | None:
        """The region that it has most to say of, and its figure; None where it has nothing."""
        if any((report.value(k) or 0.0) < least for k, least in self.only_if):
            return None
        found = [(r, v) for r, v in report.values(self.figure) if self.excess(v) > 0]
        return max(found, key=lambda pair: self.excess(pair[1]), default=None)

    def importance(self, value: float) -> float:
        """How much a fault of that size matters: its weight, up to twice for one far beyond."""
        over = self.excess(value) / max(abs(self.limit), 1e-6)
        return self.weight * min(2.0, 1 + self.grows * over)

    @property
    def limit(self) -> float:
        """The value beyond which it speaks."""
        return self.above if self.above is not None else float(self.below or 0.0)

    def excess(self, value: float) -> float:
        """How far beyond the limit a value is, in the figure's unit; at most 0 when it is not."""
        return value - self.limit if self.above is not None else self.limit - value


HERE = Path(__file__).parent
GROWS = 0.25  # by which a fault gets more important for each limit that it is beyond the first
PARTS = (
    "figure",
    "above",
    "below",
    "for",
    "not_for",
    "unless",
    "alone",
    "less_by_lamps",
    "only_if",
    "hides",
    "meant",
    "grows",
    "undo",
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
    file.known(r.get("hides", ()), file.data, "The file of rules", at)
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
        only_if=tuple((k, float(v)) for k, v in r.get("only_if", {}).items()),
        hides=tuple(r.get("hides", ())),
        meant=tuple(r.get("meant", ())),
        grows=float(r.get("grows", GROWS)),
        undo=bool(r.get("undo")),
    )

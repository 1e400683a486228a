"""Bodies: camera models as data, and what their dials mean.

A body is one TOML file beside this one. `Body.interpret` turns the values of its dials into a look.
"""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from pathlib import Path
from typing import Any

from ..errors import NotFound, PlumError
from ..look import Balance, Look, Sensor
from ..styles import styles

HERE = Path(__file__).parent
MOST_SPELLED = 24  # values that a sentence lists one by one
Value = float | int | str


@dataclass(frozen=True)
class Choice:
    """One place of a dial: its value in files, how the body prints it, and what it sets or adds in a look."""

    value: Value
    label: str
    sets: Mapping[str, Any] = field(default_factory=dict)
    adds: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Need:
    """When a dial counts: another dial stands at one of `only`, or at none of `never`."""

    dial: str
    why: str
    only: tuple[Value, ...] = ()
    never: tuple[Value, ...] = ()

    def met(self, dials: Mapping[str, Value]) -> bool:
        """Whether the dial counts."""
        value = dials[self.dial]
        return value in self.only if self.only else value not in self.never


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
    needs: Need | None = None

    @property
    def values(self) -> tuple[Value, ...]:
        """All values it can take, in order."""
        return tuple(c.value for c in self.choices)

    def position(self, value: Value) -> int:
        """Index of a value; PlumError says what the dial can take."""
        for k, choice in enumerate(self.choices):
            if _same(choice.value, value):
                return k
        raise PlumError(
            f"{self.label} ('{self.id}') cannot stand at {value!r}. It can take {self.spelled()}{self._nearest(value)}."
        )

    def choice(self, value: Value) -> Choice:
        """The place at `value`."""
        return self.choices[self.position(value)]

    def spelled(self) -> str:
        """The values in words, shortened where there are many."""
        values = [f"{v:g}" if isinstance(v, float) else str(v) for v in self.values]
        if len(values) <= MOST_SPELLED:
            return ", ".join(values)
        return f"{len(values)} values from {values[0]}, {values[1]}, {values[2]} to {values[-1]}"

    def _nearest(self, value: Any) -> str:
        """The places next to a number, where there are too many to list."""
        numbers = [v for v in self.values if not isinstance(v, str)]
        if len(numbers) <= MOST_SPELLED or isinstance(value, str | bool) or not isinstance(value, int | float):
            return ""
        if not numbers[0] < value < numbers[-1]:
            return ""
        near = sorted(sorted(numbers, key=lambda v: abs(v - value))[:2])
        return f"; next to it are {near[0]:g} and {near[1]:g}"


def _same(a: Value, b: Value) -> bool:
    if isinstance(a, str) or isinstance(b, str | bool) or not isinstance(b, int | float):
        return isinstance(b, str) and a == b
    return abs(a - b) < 0.006  # thirds are written with two decimals


@dataclass(frozen=True)
class Body:
    """A camera model."""

    id: str
    name: str
    kind: str
    slots: int
    sensor: Sensor
    dials: tuple[Dial, ...]

    def dial(self, dial_id: str) -> Dial:
        """A dial by id; PlumError names those that exist."""
        for dial in self.dials:
            if dial.id == dial_id:
                return dial
        raise PlumError(f"{self.name} has no dial '{dial_id}'. Its dials are {', '.join(d.id for d in self.dials)}.")

    def complete(self, dials: Mapping[str, Value]) -> dict[str, Value]:
        """All dials in order: those given, checked and put in the body's own spelling, the others as shipped."""
        for name in dials:
            self.dial(name)
        return {d.id: d.choice(dials[d.id]).value if d.id in dials else d.default for d in self.dials}

    def changed(self, dials: Mapping[str, Value]) -> dict[str, Value]:
        """Only the dials that do not stand as shipped."""
        full = self.complete(dials)
        return {d.id: full[d.id] for d in self.dials if full[d.id] != d.default}

    def counts(self, dial: Dial, dials: Mapping[str, Value]) -> bool:
        """Whether a dial has a say, given the others."""
        return dial.needs is None or dial.needs.met(dials)

    def interpret(self, dials: Mapping[str, Value]) -> Look:
        """Turn dial values into a look."""
        full = self.complete(dials)
        look = Look()
        for dial in self.dials:
            if not self.counts(dial, full):
                continue
            choice = dial.choice(full[dial.id])
            changes = dict(choice.sets) | {k: getattr(look, k) + v for k, v in choice.adds.items()}
            if "balance" in changes:
                changes["balance"] = Balance(changes["balance"])
            look = replace(look, **changes)
        return look


def _number_label(value: float, unit: str, thirds: bool) -> str:
    sign = "-" if value < 0 else "+" if value > 0 and unit != "stops" else ""
    size = abs(value)
    whole, part = int(size + 0.01), size - int(size + 0.01)
    fraction = {0: "", 1: "1/3", 2: "2/3"}[round(part * 3)] if thirds else {0: "", 1: "1/2"}[round(part * 2)]
    number = " ".join(p for p in (str(whole) if whole or not fraction else "", fraction) if p)
    return f"{sign}{number}" if unit != "stops" else f"{number} {'stop' if size == 1 else 'stops'}"


def _numbers(data: dict[str, Any]) -> tuple[Choice, ...]:
    low, high, thirds = data["from"], data["to"], data.get("thirds", False)
    step = 1 / 3 if thirds else data.get("step", 1)
    adds = data.get("adds", {})
    plain = data["from"] >= 0 and data["unit"] != "stops"
    made = []
    for k in range(round((high - low) / step) + 1):
        exact = low + k * step
        value: Value = round(exact) if abs(exact - round(exact)) < 1e-6 else round(exact, 2)
        label = _number_label(exact, data["unit"], thirds)
        made.append(Choice(value, label.lstrip("+") if plain else label, adds={f: a * exact for f, a in adds.items()}))
    return tuple(made)


def _mireds(data: dict[str, Any]) -> tuple[Choice, ...]:
    start, stop, step = data["mired_from"], data["mired_to"], data["mired_step"]
    made = []
    for mired in range(start, stop - 1, step):
        kelvin = round(1e6 / mired, -1)
        made.append(Choice(int(kelvin), f"{kelvin:.0f} K", sets={data["sets"]: float(mired)}))
    return tuple(made)


def _dial(data: dict[str, Any]) -> Dial:
    if data.get("choices") == "styles":
        choices = tuple(Choice(s.id, s.name, sets={"style": s.id}) for s in styles().values())
    elif "choices" in data:
        choices = tuple(Choice(c["id"], c["label"], c.get("sets", {}), c.get("adds", {})) for c in data["choices"])
    elif "mired_from" in data:
        choices = _mireds(data)
    else:
        choices = _numbers(data)
    default = data.get("default", choices[0].value if "from" not in data else 0)
    needs = data.get("needs")
    need = Need(needs["dial"], needs["why"], tuple(needs.get("only", ())), tuple(needs.get("not", ()))) if needs else None
    texts = {k: data[k] for k in ("id", "label", "group", "unit", "purpose", "means", "later")}
    dial = Dial(**texts, choices=choices, default=default, needs=need)
    dial.position(default)
    return dial


def _read(path: Path) -> Body:
    data = tomllib.loads(path.read_text(encoding="utf-8"))
    sensor = Sensor(**data["sensor"])
    return Body(path.stem, data["name"], data["kind"], data["slots"], sensor, tuple(_dial(d) for d in data["dials"]))


@cache
def bodies() -> dict[str, Body]:
    """All bodies by id."""
    return {p.stem: _read(p) for p in sorted(HERE.glob("*.toml"))}


def body(body_id: str) -> Body:
    """A body by id; NotFound names those that exist."""
    if body_id not in bodies():
        raise NotFound(f"There is no body '{body_id}'. The bodies are {', '.join(bodies())}.")
    return bodies()[body_id]

"""Bodies: camera models as data, and what their dials mean.

A body is one TOML file beside this one. `Body.interpret` turns the values of its dials into a look.
What a dial is for and what can be undone later is the same on every body that has it, and stands in
`texts/dials.toml`; a body may say it anew.
"""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache, cached_property
from pathlib import Path
from typing import Any

from ..errors import NotFound, PlumError
from ..look import Balance, Look, Metering, Sensor
from ..styles import styles

HERE = Path(__file__).parent
FIRST = "heron-m2"  # where nothing says which
MOST_SPELLED = 24  # values that a sentence lists one by one
Value = float | int | str
_AT_REST = Look()


@dataclass(frozen=True)
class Need:
    """When something counts: another dial stands at one of `only`, at none of `never`, at `least`
    or above."""

    dial: str
    why: str
    only: tuple[Value, ...] = ()
    never: tuple[Value, ...] = ()
    least: float | None = None

    def met(self, dials: Mapping[str, Value]) -> bool:
        """Whether it counts; a body without that dial sets no condition."""
        if self.dial not in dials:
            return True
        value = dials[self.dial]
        if self.least is not None:
            return not isinstance(value, str) and value >= self.least
        return value in self.only if self.only else value not in self.never


@dataclass(frozen=True)
class Choice:
    """One place of a dial: its value in files, how the body prints it, what it sets or adds in a
    look, and when it can."""

    value: Value
    label: str
    sets: Mapping[str, Any] = field(default_factory=dict)
    adds: Mapping[str, float] = field(default_factory=dict)
    needs: tuple[Need, ...] = ()


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

    @property
    def values(self) -> tuple[Value, ...]:
        """All values it can take, in order."""
        return tuple(c.value for c in self.choices)

    def position(self, value: Value) -> int:
        """Index of a value; PlumError says what the dial can take."""
        if type(value) in (int, float, str) and (known := self._places.get(value)) is not None:
            return known
        for k, choice in enumerate(self.choices):
            if _same(choice.value, value):
                return k
        raise PlumError(
            f"{self.label} ('{self.id}') cannot stand at {value!r}. It can take "
            f"{self.spelled()}{self._nearest(value)}."
        )

    @cached_property
    def _places(self) -> dict[Value, int]:
        return {c.value: k for k, c in enumerate(self.choices)}

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
        if (
            len(numbers) <= MOST_SPELLED
            or isinstance(value, str | bool)
            or not isinstance(value, int | float)
        ):
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
    """A camera model; `separate` says that stills and clips keep settings of their own."""

    id: str
    name: str
    kind: str
    about: str
    slots: int
    separate: bool
    sensor: Sensor
    dials: tuple[Dial, ...]

    def dial(self, dial_id: str) -> Dial:
        """A dial by id; PlumError names those that exist."""
        for dial in self.dials:
            if dial.id == dial_id:
                return dial
        raise PlumError(
            f"{self.name} has no dial '{dial_id}'. Its dials are "
            f"{', '.join(d.id for d in self.dials)}."
        )

    def complete(self, dials: Mapping[str, Value]) -> dict[str, Value]:
        """All dials in order: those given, checked and put in the body's own spelling, the others
        as shipped."""
        for name in dials:
            self.dial(name)
        return {
            d.id: d.choice(dials[d.id]).value if d.id in dials else d.default for d in self.dials
        }

    def changed(self, dials: Mapping[str, Value]) -> dict[str, Value]:
        """Only the dials that do not stand as shipped."""
        full = self.complete(dials)
        return {d.id: full[d.id] for d in self.dials if full[d.id] != d.default}

    def idle(self, dial: Dial, dials: Mapping[str, Value]) -> str:
        """Why a dial has no say where it stands, given all the others; empty when it has one."""
        needs = (*dial.needs, *dial.choice(dials[dial.id]).needs)
        return next((need.why for need in needs if not need.met(dials)), "")

    def counts(self, dial: Dial, dials: Mapping[str, Value]) -> bool:
        """Whether a dial has a say, given the others."""
        return not self.idle(dial, dials)

    def interpret(self, dials: Mapping[str, Value]) -> Look:
        """Turn dial values into a look."""
        full = self.complete(dials)
        fields: dict[str, Any] = {}
        for dial in self.dials:
            if not self.counts(dial, full):
                continue
            choice = dial.choice(full[dial.id])
            fields |= choice.sets
            for name, more in choice.adds.items():
                fields[name] = fields.get(name, getattr(_AT_REST, name)) + more
        for name, kind in (("balance", Balance), ("metering", Metering)):
            if name in fields:
                fields[name] = kind(fields[name])
        return Look(**fields)


def _number_label(value: float, unit: str, thirds: bool) -> str:
    sign = "-" if value < 0 else "+" if value > 0 and unit != "stops" else ""
    size = abs(value)
    whole, part = int(size + 0.01), size - int(size + 0.01)
    fraction = (
        {0: "", 1: "1/3", 2: "2/3"}[round(part * 3)]
        if thirds
        else {0: "", 1: "1/2"}[round(part * 2)]
    )
    number = " ".join(p for p in (str(whole) if whole or not fraction else "", fraction) if p)
    return f"{sign}{number}" if unit != "stops" else f"{number} {'stop' if size == 1 else 'stops'}"


def _numbers(data: dict[str, Any]) -> tuple[Choice, ...]:
    low, high, thirds = data["from"], data["to"], data.get("thirds", False)
    step = 1 / 3 if thirds else data.get("step", 1)
    adds, starts, each = data.get("adds", {}), data.get("starts", {}), data.get("sets_each", {})
    plain = data["from"] >= 0 and data.get("unit", "steps") != "stops"
    made = []
    for k in range(round((high - low) / step) + 1):
        exact = low + k * step
        value: Value = round(exact) if abs(exact - round(exact)) < 1e-6 else round(exact, 2)
        label = _number_label(exact, data.get("unit", "steps"), thirds)
        sets = {f: a * exact for f, a in each.items()}
        added = {f: starts.get(f, 0.0) + a * exact for f, a in adds.items()}
        made.append(Choice(value, label.lstrip("+") if plain else label, sets, added))
    return tuple(made)


def _mireds(data: dict[str, Any]) -> tuple[Choice, ...]:
    start, stop, step = data["mired_from"], data["mired_to"], data["mired_step"]
    made = []
    for mired in range(start, stop - 1, step):
        kelvin = round(1e6 / mired, -1)
        made.append(
            Choice(
                int(kelvin),
                f"{kelvin:.0f} K",
                sets={data["sets"]: float(mired), **data.get("also", {})},
            )
        )
    return tuple(made)


def _needs(data: Any) -> tuple[Need, ...]:
    rows = [data] if isinstance(data, dict) else data or []
    return tuple(
        Need(r["dial"], r["why"], tuple(r.get("only", ())), tuple(r.get("not", ())), r.get("least"))
        for r in rows
    )


@cache
def _texts() -> dict[str, dict[str, str]]:
    return tomllib.loads((HERE / "texts" / "dials.toml").read_text(encoding="utf-8"))


def _dial(data: dict[str, Any]) -> Dial:
    if data.get("choices") == "styles":
        some = data.get("some", list(styles()))
        choices = tuple(Choice(s, styles()[s].name, sets={"style": s}) for s in some)
    elif "choices" in data:
        choices = tuple(
            Choice(
                c["id"], c["label"], c.get("sets", {}), c.get("adds", {}), _needs(c.get("needs"))
            )
            for c in data["choices"]
        )
    elif "mired_from" in data:
        choices = _mireds(data)
    else:
        choices = _numbers(data)
    default = data.get("default", choices[0].value if "from" not in data else 0)
    known = _texts().get(data["id"], {})
    texts = {
        k: data.get(k, known.get(k, "")) for k in ("label", "group", "purpose", "means", "later")
    }
    for key, text in texts.items():
        if not text:
            raise PlumError(f"Dial '{data['id']}' has no {key}: write one in the body's file.")
    dial = Dial(
        data["id"],
        **texts,
        unit=data.get("unit", "steps"),
        choices=choices,
        default=default,
        needs=_needs(data.get("needs")),
    )
    dial.position(default)
    return dial


def read(path: Path) -> Body:
    """Read a body from its TOML file."""
    data = tomllib.loads(path.read_text(encoding="utf-8"))
    dials = tuple(_dial(d) for d in data["dials"])
    facts = {k: data[k] for k in ("name", "kind", "slots")}
    return Body(
        path.stem,
        **facts,
        about=data.get("about", ""),
        separate=data.get("separate", False),
        sensor=Sensor(**data["sensor"]),
        dials=dials,
    )


@cache
def bodies() -> dict[str, Body]:
    """All bodies by id."""
    return {p.stem: read(p) for p in sorted(HERE.glob("*.toml"))}


def body(body_id: str) -> Body:
    """A body by id; NotFound names those that exist."""
    if body_id not in bodies():
        raise NotFound(f"There is no body '{body_id}'. The bodies are {', '.join(bodies())}.")
    return bodies()[body_id]

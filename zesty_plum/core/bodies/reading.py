"""A body read from its TOML file; what is wrong in it is told with file and line."""

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

from ..base.datafile import DataFile
from ..base.errors import PlumError
from ..look import Sensor, about
from ..styles import Trait, styles
from .body import Body, Pair, Reset
from .dial import Choice, Dial, Need, Value

TEXTS = Path(__file__).parent / "texts" / "dials.toml"
BESIDE = TEXTS.with_name("beside.toml")
PARTS = (
    *("name", "edition", "kind", "about", "slots", "separate", "sensor", "dials", "pairs"),
    *("beside", "outside", "resets"),
)
WORDS = ("label", "group", "purpose", "means", "later")
NUMBERS = ("from", "to", "step", "thirds", "adds", "adds_at", "starts", "sets_each", "notes")
PRINTED = ("prints", "prints_each")
MIREDS = ("mired_from", "mired_to", "mired_step", "sets", "also")
OF_DIAL = ("id", "unit", "default", "needs", "choices", "some", *NUMBERS, *PRINTED, *MIREDS, *WORDS)
OF_CHOICE = ("id", "label", "sets", "adds", "needs", "note")
OF_NEED = ("dial", "why", "only", "not", "least", "trait")
WHY = {
    Trait.COLOUR: "A monochrome style has no colour to change.",
    Trait.MONOCHROME: "A style in colour leaves nothing for it to do.",
    Trait.UNTONED: "A filter works on {styles} only.",
    Trait.SHAPED: "A log curve keeps its shape, so that a grade can count on it.",
}


def read(path: Path, labels: Mapping[str, str] | None = None) -> Body:
    """Read a body from its TOML file; PlumError says in which line a fault is. With `labels` it is
    an earlier edition, whose dials say no more of themselves than what they were called."""
    file = DataFile(path)
    data = file.data
    file.known(data, PARTS, "A body")
    file.need(data, ("name", "kind", "slots", "sensor", "dials"), "The body")
    sensor = file.filled(Sensor, data["sensor"], "a sensor", "[sensor]")
    dials = tuple(_Reader(file, each, labels).dial() for each in data["dials"])
    known = {d.id: d for d in dials}
    for dial in dials:
        for need in (*dial.needs, *(n for c in dial.choices for n in c.needs)):
            _check_need(file, dial, need, known)
    pairs = tuple(_pair(file, p, known) for p in data.get("pairs", ()))
    resets = tuple(_reset(file, r, known) for r in data.get("resets", ()))
    for dial_id in data.get("outside", ()):
        if dial_id not in known:
            raise file.fault(f"There is no dial '{dial_id}' to be outside slots.", "outside")
    return Body(
        id=path.stem,
        name=data["name"],
        kind=data["kind"],
        about=data.get("about", ""),
        slots=data["slots"],
        separate=data.get("separate", False),
        sensor=sensor,
        dials=dials,
        pairs=pairs,
        edition=data.get("edition", 1),
        beside=tuple(_beside(file, b) for b in data.get("beside", ())),
        outside=tuple(data.get("outside", ())),
        resets=resets,
    )


def _beside(file: DataFile, data: dict[str, Any]) -> Dial:
    """A setting beside the look: one of those that are known, with the body's own standard and the
    places that it has."""
    at = "[[beside]]"
    file.known(data, ("id", "default", "some"), "A setting beside the look", at)
    file.need(data, ("id", "default"), "A setting beside the look", at)
    if data["id"] not in _settings():
        listed = ", ".join(_settings())
        raise file.fault(f"There is no setting '{data['id']}'. There are {listed}.", "id", at)
    whole = _settings()[data["id"]]
    some = data.get("some", list(whole.values))
    choices = tuple(whole.choice(value) for value in some)
    made = replace(whole, choices=choices, default=data["default"])
    made.position(made.default)
    return made


@cache
def _settings() -> dict[str, Dial]:
    """All settings beside the look, by id."""
    out = {}
    for name, told in DataFile(BESIDE).data.items():
        choices = tuple(
            Choice(c["id"], c["label"], note=c.get("note", "")) for c in told["choices"]
        )
        words = (told["label"], told["group"], told["unit"], told["purpose"], "")
        out[name] = Dial(name, *words, told.get("later", ""), choices, choices[0].value)
    return out


def _reset(file: DataFile, data: dict[str, Any], known: dict[str, Dial]) -> Reset:
    file.known(data, ("label", "dials"), "A reset", "[[resets]]")
    file.need(data, ("label",), "A reset", "[[resets]]")
    for dial_id in data.get("dials", ()):
        if dial_id not in known:
            raise file.fault(f"There is no dial '{dial_id}' to reset.", "dials", "[[resets]]")
    return Reset(data["label"], tuple(data.get("dials", ())))


def _check_need(file: DataFile, dial: Dial, need: Need, known: dict[str, Dial]) -> None:
    at = f'id = "{dial.id}"'
    if need.dial not in known:
        raise file.fault(f"'{dial.id}' needs a dial '{need.dial}' that is not there.", "needs", at)
    for value in (*need.only, *need.never):
        try:
            known[need.dial].position(value)
        except PlumError as error:
            raise file.fault(f"'{dial.id}' needs what cannot be: {error}", "needs", at) from error


def _pair(file: DataFile, data: dict[str, Any], known: dict[str, Dial]) -> Pair:
    file.known(data, Pair.__dataclass_fields__, "A pair of dials", "[[pairs]]")
    file.need(data, Pair.__dataclass_fields__, "A pair of dials", "[[pairs]]")
    for key in ("across", "down"):
        if data[key] not in known:
            raise file.fault(f"There is no dial '{data[key]}' to pair.", key, "[[pairs]]")
    return Pair(**data)


@cache
def _texts() -> dict[str, dict[str, str]]:
    return DataFile(TEXTS).data


class _Reader:
    """Reads one dial's table."""

    def __init__(
        self, file: DataFile, data: dict[str, Any], labels: Mapping[str, str] | None
    ) -> None:
        self.file, self.data, self.labels = file, data, labels
        file.need(data, ("id",), "A dial", "[[dials]]")
        self.at = f'id = "{data["id"]}"'

    def dial(self) -> Dial:
        """The dial with its places, texts and conditions."""
        data, file = self.data, self.file
        name = f"Dial '{data['id']}'"
        file.known(data, OF_DIAL, name, self.at)
        choices = self._choices()
        known = _texts().get(data["id"], {})
        texts = {k: data.get(k, known.get(k, "")) for k in WORDS}
        if self.labels is None:
            file.need({k: v for k, v in texts.items() if v}, WORDS, name, self.at)
        else:
            texts |= {"label": self.labels.get(data["id"], texts["label"])}
            file.need({k: v for k, v in texts.items() if v}, ("label",), name, self.at)
        dial = Dial(
            id=data["id"],
            **texts,
            unit=data.get("unit", "steps"),
            choices=choices,
            default=data.get("default", choices[0].value if "from" not in data else 0),
            needs=self._needs(data.get("needs")),
        )
        try:
            dial.position(dial.default)
        except PlumError as error:
            raise file.fault(str(error), "default", self.at) from error
        return dial

    def _choices(self) -> tuple[Choice, ...]:
        data = self.data
        if data.get("choices") == "styles":
            return tuple(self._style(s) for s in data.get("some", list(styles())))
        if "choices" in data:
            return tuple(map(self._choice, data["choices"]))
        if "mired_from" in data:
            return self._mireds()
        self.file.need(data, ("from", "to"), f"Dial '{data['id']}'", self.at)
        return self._numbers()

    def _style(self, style_id: str) -> Choice:
        if style_id not in styles():
            raise self.file.fault(f"There is no style '{style_id}'.", "some", self.at)
        made = styles()[style_id]
        room = {"guard": made.guard} if made.guard else {}
        return Choice(style_id, made.name, sets={"style": style_id}, adds=room)

    def _choice(self, data: dict[str, Any]) -> Choice:
        what = f"A choice of '{self.data['id']}'"
        self.file.known(data, OF_CHOICE, what, self.at)
        self.file.need(data, ("id", "label"), what, self.at)
        sets, adds = self._fields(data, "sets"), self._fields(data, "adds")
        needs = self._needs(data.get("needs"))
        return Choice(data["id"], data["label"], sets, adds, needs, data.get("note", ""))

    def _fields(self, data: dict[str, Any], key: str) -> dict[str, Any]:
        """What a table sets or adds; only fields of a look have a meaning."""
        given: dict[str, Any] = data.get(key, {})
        self.file.known(given, about(), "A look", self.at)
        return given

    def _numbers(self) -> tuple[Choice, ...]:
        data, unit = self.data, self.data.get("unit", "steps")
        low, high, thirds = data["from"], data["to"], data.get("thirds", False)
        step = 1 / 3 if thirds else data.get("step", 1)
        adds, starts = self._fields(data, "adds"), self._fields(data, "starts")
        each, at = self._fields(data, "sets_each"), self._fields(data, "adds_at")
        many, notes, made = round((high - low) / step) + 1, data.get("notes", {}), []
        for name, places in at.items():
            if len(places) != many:
                raise self.file.fault(
                    f"'{name}' has {len(places)} values for {many} places.", "adds_at", self.at
                )
        for k in range(many):
            exact = low + k * step
            value: Value = round(exact) if abs(exact - round(exact)) < 1e-6 else round(exact, 2)
            sets = {f: a * exact for f, a in each.items()}
            added = {f: starts.get(f, 0.0) + a * exact for f, a in adds.items()}
            added |= {f: float(places[k]) for f, places in at.items()}
            signed = low < 0 and unit != "stops"
            label = printed(exact, unit, thirds, signed)
            if "prints" in data:
                shown = data["prints"].format(exact * data.get("prints_each", 1))
                label = shown if exact else "0"
            made.append(Choice(value, label, sets, added, note=notes.get(str(value), "")))
        return tuple(made)

    def _mireds(self) -> tuple[Choice, ...]:
        """Kelvin in steps that are even in mired."""
        data = self.data
        start, stop, step = data["mired_from"], data["mired_to"], data["mired_step"]
        self.file.known((data["sets"],), about(), "A look", self.at)
        made = []
        for mired in range(start, stop - 1, step):
            kelvin = round(1e6 / mired, -1)
            sets = {data["sets"]: float(mired), **data.get("also", {})}
            made.append(Choice(int(kelvin), f"{kelvin:.0f} K", sets=sets))
        return tuple(made)

    def _needs(self, data: Any) -> tuple[Need, ...]:
        rows = [data] if isinstance(data, dict) else data or []
        return tuple(map(self._need, rows))

    def _need(self, row: dict[str, Any]) -> Need:
        what = f"A need of '{self.data['id']}'"
        self.file.known(row, OF_NEED, what, self.at)
        if "trait" in row:
            return self._trait(row, what)
        self.file.need(row, ("dial", "why"), what, self.at)
        only, never = tuple(row.get("only", ())), tuple(row.get("not", ()))
        return Need(row["dial"], row["why"], only, never, row.get("least"))

    def _trait(self, row: dict[str, Any], what: str) -> Need:
        """A condition on what a style is; which styles that are is theirs to say."""
        if row["trait"] not in set(Trait):
            raise self.file.fault(f"{what} can be a trait: {', '.join(Trait)}.", "trait", self.at)
        trait = Trait(row["trait"])
        dials = self.file.data["dials"]
        offered = next((d.get("some") for d in dials if d.get("id") == "style"), None)
        mine = [s for s in styles().values() if offered is None or s.id in offered]
        fit = " and ".join(s.name for s in mine if trait in s.traits)
        why = row.get("why", WHY[trait]).format(styles=fit)
        unfit = tuple(s.id for s in mine if trait not in s.traits)
        return Need(row.get("dial", "style"), why, never=unfit)


def printed(value: float, unit: str, thirds: bool, signed: bool) -> str:
    """A number as bodies print it, with halves or thirds as fractions."""
    sign = "-" if value < 0 else "+" if value > 0 and signed else ""
    size = abs(value)
    whole, part = int(size + 0.01), size - int(size + 0.01)
    fractions = {0: "", 1: "1/3", 2: "2/3"} if thirds else {0: "", 1: "1/2"}
    fraction = fractions[round(part * len(fractions))]
    shown = " ".join(p for p in (str(whole) if whole or not fraction else "", fraction) if p)
    if unit == "stops":
        return f"{shown} {'stop' if 0 < size <= 1 else 'stops'}"
    return f"{sign}{shown}"

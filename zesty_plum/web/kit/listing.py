"""A body's list of dials, put into the words and the order of somebody's own camera."""

import re
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Any

from ...core.base.errors import PlumError, Refused
from ...core.bodies import Body, Choice, Dial, Value, known, shipped
from ...core.bodies.listed import KELVIN, LABEL, SLOTS, Listed
from ...core.bodies.remade import Place, Steps, divided, named, steps_of
from ...core.bodies.trimmed import with_dials
from ...core.bodies.whole import check
from ...core.fields.declared import declared, from_form
from ...core.fields.kinds import Kind
from ...core.learn.naming import called, slug
from ...core.lists import read_list
from ...core.lists.protocol import Kind as Piece

NOTHING = "nothing"  # where a list begins with no dial ticked
SPARE = 2  # empty rows for names that are new


@dataclass(frozen=True)
class Named:
    """A place of a dial of names, as the form shows it."""

    label: str
    value: Value
    kelvin: int | None
    style: str


@dataclass(frozen=True)
class Row:
    """A dial of the list: its number in it, how it is divided, its names where it has some, whether
    they are of lights or of styles, and whether the camera has it."""

    dial: Dial
    number: int
    steps: Steps | None
    names: tuple[Named, ...]
    lights: bool
    styles: bool
    label: str
    has: bool


@dataclass(frozen=True)
class Seems:
    """What a pasted list says of a camera: names of its dials by ours, and what was not
    understood."""

    has: Mapping[str, str]
    unclear: tuple[str, ...]


def seems(text: str, like: Body) -> Seems | None:
    """What dials a list of settings speaks of, in its own words; None where there is no list."""
    if not text.strip():
        return None
    read = read_list(text, like)
    has = {}
    for piece in read.pieces:
        for dial_id in piece.sets if piece.counts else ():
            has[dial_id] = _called(piece.text, like.dial(dial_id)) if len(piece.sets) == 1 else ""
    return Seems(has, tuple(p.text for p in read.pieces if p.kind is Piece.UNCLEAR))


def _called(text: str, dial: Dial) -> str:
    """The words of a piece before its value, if they are some."""
    found = re.match(r"[^\W\d][^\d:=+\u2212-]{1,38}(?=\s*[:=+\u2212-]|\s+\d)", text.strip())
    words = " ".join(found[0].split()) if found else ""
    places = {c.label.casefold() for c in dial.choices}
    return words if words and words.casefold() not in places else ""


def rows(like: Body, said: Seems | None = None, bare: bool = False) -> list[Row]:
    """The list of a body, then what else a dial can do; of what a pasted list speaks of, in its
    words, where there is one. None is ticked where it begins from nothing."""
    out = []
    for k, dial in enumerate(offered(like), 1):
        own = dial.id in like.by_id
        has = own and not bare if said is None else dial.id in said.has
        label = (said.has.get(dial.id) if said else "") or dial.label
        names = tuple(map(_named, dial.choices)) if dial.named else ()
        lights = any(n.kelvin for n in names)
        styles = dial is like.style_dial or (not own and "style" in dial.touches)
        out.append(Row(dial, k, steps_of(dial), names, lights, styles, label, has))
    return out


def _named(choice: Choice) -> Named:
    mired, style = choice.sets.get("light_mired"), choice.sets.get("style", "")
    return Named(choice.label, choice.value, round(1e6 / mired, -1) if mired else None, style)


def offered(like: Body) -> list[Dial]:
    """The dials of a body, and those of the bodies that ship that do what none of its own does; one
    that can be divided anew before others."""
    out = list(like.dials)
    others = [d for b in shipped().values() for d in b.dials]
    for dial in sorted(others, key=lambda d: steps_of(d) is None):
        if all(dial.id != d.id and (dial.touches != d.touches or not d.touches) for d in out):
            out.append(dial)
    return out


class _Reader:
    """What a form says, by name; what does not fit is noted, row by row, and refused at the end."""

    def __init__(self, form: Mapping[str, str]) -> None:
        self.form = form
        self.faults: dict[str, str] = {}
        self._first = ""

    def wrong(self, name: str, what: str, why: str) -> None:
        """Note a field that does not fit: `what` it is, and why."""
        self.faults[name] = f"It {why}."
        self._first = self._first or f"“{what}” {why}."

    def read(self, name: str, what: str, kind: Kind, usual: Any) -> Any:
        """The value of a field; the usual one where nothing is said, or nothing that fits."""
        text = self.form.get(name, "").strip()
        try:
            return kind.read(text) if text else usual
        except PlumError as error:
            self.wrong(name, what, str(error))
            return usual

    def row(self, dial: Dial) -> Listed:
        """What is said of a dial; as nothing where it does not fit."""
        names = {f.form: f"{f.form}-{dial.id}" for f in declared(Listed)}
        try:
            return from_form(Listed, {k: self.form.get(name, "") for k, name in names.items()})
        except Refused as error:
            self.faults |= {names[k]: why for k, why in error.faults.items()}
            self._first = self._first or f"{dial.label}: {error}"
            return Listed()

    @contextmanager
    def beside(self, name: str) -> Iterator[None]:
        """Put what is refused within beside a field, if nothing of it was before."""
        before = len(self.faults)
        try:
            yield
        except PlumError as error:
            if len(self.faults) == before:
                self.faults[name] = str(error)
                self._first = self._first or str(error)

    def end(self) -> None:
        """Refused where anything did not fit."""
        if self.faults:
            raise Refused(self.faults, self._first)


def changed(like: Body, form: Mapping[str, str]) -> Body:
    """The body that a form asks for: dials by the fields of `Listed` with `-ID`, `keep-ID` and
    `turn-ID`; or the ends `from-ID` and `to-ID` of one that cannot be divided; those of names by
    `place-ID-N`, `kelvin-ID-N` and `style-ID-N`. Refused tells of every row that cannot be."""
    reader = _Reader(form)
    name, body_id = _names(like, reader)
    kept = []
    for k, dial in enumerate(offered(like)):
        if f"keep-{dial.id}" in form:
            row = reader.row(dial)
            kept.append((k if row.order is None else row.order, k, _dial(dial, row, reader, like)))
    slots = reader.read("slots", "Slots", SLOTS, like.slots)
    reader.end()
    if not kept:
        raise PlumError("A list without dials is no list. Keep at least one.")
    own = like.id == body_id
    made = replace(
        with_dials(like, [dial for _, _, dial in sorted(kept, key=lambda row: row[:2])]),
        id=body_id,
        name=name,
        about=like.about if own else f"Its list is your own; it renders like {like.name}.",
        styles=like.styles if own else (),
        slots=slots,
        separate="separate" in form,
        edition=1,
    )
    check(made, known())
    return made


def _names(like: Body, reader: _Reader) -> tuple[str, str]:
    with reader.beside("name"):
        name, body_id = called(reader.form.get("name", ""))
        if like.id not in shipped():
            return name, like.id
        if slug(name) in shipped():
            raise PlumError(f"There is a body '{name}' that ships. Give yours another name.")
        return name, body_id
    return like.name, like.id


def _dial(was: Dial, row: Listed, reader: _Reader, like: Body) -> Dial:
    dial = replace(was, label=row.label or was.label, group=row.group or was.group)
    if dial.named:
        with reader.beside(f"place-{dial.id}-0"):
            return _renamed(dial, reader, was is like.style_dial)
        return dial
    before = steps_of(dial)
    if before is None:
        with reader.beside(f"from-{dial.id}"):
            return _narrower(dial, reader.form)
        return dial
    sign = -1 if f"turn-{dial.id}" in reader.form else 1
    low, high, step = (
        old if new is None else new
        for new, old in ((row.low, before.low), (row.high, before.high), (row.step, before.step))
    )
    # Who empties the unit wants none.
    after = row.after if f"after-{dial.id}" in reader.form else before.after
    asked = Steps(low, high, step, sign * (1.0 if row.times is None else row.times), after)
    with reader.beside(f"low-{dial.id}"):
        return dial if asked == before else divided(dial, asked)
    return dial


def _renamed(dial: Dial, reader: _Reader, styles: bool) -> Dial:
    """With the names that a form gives its places: an empty one is left out."""
    places = []
    for k in range(len(dial.choices) + SPARE):
        was = dial.choices[k] if k < len(dial.choices) else None
        name, what = f"place-{dial.id}-{k}", f"{dial.label}, name {k + 1}"
        label = reader.read(name, what, LABEL, was.label if was and name not in reader.form else "")
        if not label:
            continue
        mired = was.sets.get("light_mired") if was else None
        before = round(1e6 / mired, -1) if mired else None
        name, what = f"kelvin-{dial.id}-{k}", f"{dial.label}, kelvin of name {k + 1}"
        kelvin = reader.read(name, what, KELVIN, before)
        if kelvin is not None and kelvin != before:
            mired = 1e6 / kelvin
        style = reader.form.get(f"style-{dial.id}-{k}", "")
        place = Place(label, was.value if was else None, mired, style)
        if not styles and place.of is None and mired is None and not style:
            reader.wrong(name, what, "is needed for a new light, as 5200")
        places.append(place)
    return dial if reader.faults else named(dial, places)


def _narrower(dial: Dial, form: Mapping[str, str]) -> Dial:
    """With a range cut from its own places."""
    places = [str(c.value) for c in dial.choices]
    first, last = form.get(f"from-{dial.id}", places[0]), form.get(f"to-{dial.id}", places[-1])
    if first not in places or last not in places:
        raise PlumError(f"'{dial.label}' has no such place. Choose one from its list.")
    a, b = sorted((places.index(first), places.index(last)))
    if not a <= dial.position(dial.default) <= b:
        raise PlumError(
            f"The range of '{dial.label}' leaves out its standard, "
            f"{dial.choice(dial.default).label}."
        )
    return replace(dial, choices=dial.choices[a : b + 1])

"""A body's list of dials, put into the words and the order of somebody's own camera."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from ...core.bodies import Body, Choice, Dial, Value, known, shipped
from ...core.bodies.file import MOST_AFTER, MOST_LABEL
from ...core.bodies.remade import Place, Steps, divided, named, steps_of
from ...core.bodies.trimmed import with_dials
from ...core.bodies.whole import check
from ...core.errors import PlumError
from ...core.learn.naming import called, slug
from ...core.lists import read_list
from ...core.lists.protocol import Kind

DIVISION = ("low", "high", "step")  # what a form says of a dial of numbers
WARMEST, COLDEST = 1800, 20000  # kelvin

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
    return Seems(has, tuple(p.text for p in read.pieces if p.kind is Kind.UNCLEAR))


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


def changed(like: Body, form: Mapping[str, str]) -> Body:
    """The body that a form asks for; dials by `label-ID`, `group-ID`, `order-ID` and `keep-ID`;
    those of numbers by `low-ID`, `high-ID`, `step-ID`, `after-ID`, `times-ID` and `turn-ID`, or
    the ends `from-ID` and `to-ID`; those of names by `place-ID-N`, `kelvin-ID-N` and
    `style-ID-N`."""
    name, body_id = called(form.get("name", ""))
    if like.id not in shipped():
        body_id = like.id
    elif slug(name) in shipped():
        raise PlumError(f"There is a body '{name}' that ships. Give yours another name.")
    kept = [
        (_order(form, d, k), _dial(d, form, d is like.style_dial))
        for k, d in enumerate(offered(like))
        if _kept(form, d)
    ]
    if not kept:
        raise PlumError("A list without dials is no list. Keep at least one.")
    own = like.id == body_id
    made = replace(
        with_dials(like, [dial for _, dial in sorted(kept, key=lambda pair: pair[0])]),
        id=body_id,
        name=name,
        about=like.about if own else f"Its list is your own; it renders like {like.name}.",
        styles=like.styles if own else (),
        slots=_whole(form, "slots", like.slots, 0, 100, "The number of slots"),
        separate="separate" in form,
        edition=1,
    )
    check(made, known())
    return made


def _kept(form: Mapping[str, str], dial: Dial) -> bool:
    return f"keep-{dial.id}" in form


def _order(form: Mapping[str, str], dial: Dial, number: int) -> tuple[float, int]:
    text = form.get(f"order-{dial.id}", "").strip().replace(",", ".")
    try:
        return float(text), number
    except ValueError as error:
        raise PlumError(
            f"The place of '{dial.label}' in the list is a number, not '{text[:20]}'."
        ) from error


def _dial(dial: Dial, form: Mapping[str, str], styles: bool) -> Dial:
    label = " ".join(form.get(f"label-{dial.id}", "").split())[:MOST_LABEL] or dial.label
    group = " ".join(form.get(f"group-{dial.id}", "").split())[:MOST_LABEL] or dial.group
    dial = replace(dial, label=label, group=group)
    if dial.named:
        return _renamed(dial, form, styles)
    before = steps_of(dial)
    if before is None:
        return _narrower(dial, form)
    sign = -1 if f"turn-{dial.id}" in form else 1
    low, high, step = (
        _number(form, f"{key}-{dial.id}", getattr(before, key), dial) for key in DIVISION
    )
    after = " ".join(form.get(f"after-{dial.id}", before.after).split())
    if len(after) > MOST_AFTER or re.search(r"\d", after):
        raise PlumError(
            f"After the numbers of '{dial.label}' stands a unit as EV or %, at most {MOST_AFTER} "
            "letters and no digit."
        )
    asked = Steps(low, high, step, sign * _number(form, f"times-{dial.id}", 1.0, dial), after)
    return dial if asked == before else divided(dial, asked)


def _renamed(dial: Dial, form: Mapping[str, str], styles: bool) -> Dial:
    """With the names that a form gives its places: an empty one is left out."""
    places = []
    for k in range(len(dial.choices) + SPARE):
        was = dial.choices[k] if k < len(dial.choices) else None
        label = form.get(f"place-{dial.id}-{k}", was.label if was else "")
        label = " ".join(label.split())[:MOST_LABEL]
        if not label:
            continue
        kelvin = form.get(f"kelvin-{dial.id}-{k}", "").strip()
        mired = was.sets.get("light_mired") if was else None
        if kelvin and (mired is None or round(1e6 / mired, -1) != _kelvin(kelvin, label)):
            mired = 1e6 / _kelvin(kelvin, label)
        style = form.get(f"style-{dial.id}-{k}", "")
        places.append(Place(label, was.value if was else None, mired, style))
    if not styles and any(p.of is None and p.mired is None and not p.style for p in places):
        raise PlumError(f"A new light of '{dial.label}' needs its kelvin, as 5200.")
    return named(dial, places)


def _kelvin(text: str, label: str) -> float:
    if not re.fullmatch(r"\d{4,5}", text) or not COLDEST >= int(text) >= WARMEST:
        raise PlumError(f"'{label}' has a light from {WARMEST} to {COLDEST} kelvin, as 5200.")
    return float(text)


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


def _number(form: Mapping[str, str], key: str, usual: float, dial: Dial) -> float:
    text = form.get(key, "").strip().replace(",", ".").replace("\u2212", "-").lstrip("+")
    if not text:
        return usual
    if not re.fullmatch(r"-?\d{1,5}(\.\d{1,4})?", text):
        raise PlumError(f"'{dial.label}' needs a number, as 0.5, not '{text[:20]}'.")
    return float(text)


def _whole(form: Mapping[str, str], key: str, usual: int, least: int, most: int, what: str) -> int:
    text = form.get(key, str(usual)).strip()
    if not re.fullmatch(r"\d{1,4}", text) or not least <= int(text) <= most:
        raise PlumError(f"{what} is a whole number from {least} to {most}.")
    return int(text)

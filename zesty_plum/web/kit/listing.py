"""A body's list of dials, put into the words and the order of somebody's own camera."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from ...core.bodies import Body, Choice, Dial, shipped
from ...core.bodies.dial import unsigned
from ...core.bodies.file import MOST_LABEL, MOST_NAME
from ...core.bodies.trimmed import trimmed
from ...core.errors import PlumError
from ...core.learn.teach import slug
from ...core.lists import read_list
from ...core.lists.protocol import Kind


@dataclass(frozen=True)
class Row:
    """A dial of the list: its number in it, and its range as it is printed."""

    dial: Dial
    number: int
    low: str
    high: str
    turns: bool  # whether its sign can be turned round
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


def rows(like: Body, said: Seems | None = None) -> list[Row]:
    """The list of a body; of what a pasted list speaks of, in its words, where there is one."""
    return [
        Row(
            dial,
            k,
            dial.choices[0].label,
            dial.choices[-1].label,
            turnable(dial),
            (said.has.get(dial.id) if said else "") or dial.label,
            said is None or dial.id in said.has,
        )
        for k, dial in enumerate(like.dials, 1)
    ]


def turnable(dial: Dial) -> bool:
    """Whether plus could be the other way: its values lie evenly on both sides of nothing."""
    numbers = [v for v in dial.values if not isinstance(v, str)]
    same = {round(v, 4) for v in numbers} == {round(-v, 4) for v in numbers}
    return len(numbers) == len(dial.values) > 1 and same


def changed(like: Body, form: Mapping[str, str]) -> Body:
    """The body that a form asks for; dials by `label-ID`, `group-ID`, `order-ID`, `keep-ID`,
    `turn-ID` and the ends of their range, `from-ID` and `to-ID`."""
    name = " ".join(form.get("name", "").split())[:MOST_NAME]
    body_id = slug(name)
    if not name or body_id == "own":
        raise PlumError("Your camera needs a name with letters or digits.")
    if like.id not in shipped():
        body_id = like.id
    elif body_id in shipped():
        raise PlumError(f"There is a body '{name}' that ships. Give yours another name.")
    kept = [
        (_order(form, d, k), _dial(d, form)) for k, d in enumerate(like.dials) if _kept(form, d)
    ]
    if not kept:
        raise PlumError("A list without dials is no list. Keep at least one.")
    dials = trimmed([dial for _, dial in sorted(kept, key=lambda pair: pair[0])])
    ids = {d.id for d in dials}
    own = like.id == body_id
    styles = tuple(like.styles) if own else ()
    return replace(
        like,
        id=body_id,
        name=name,
        about=like.about if own else f"Its list is your own; it renders like {like.name}.",
        dials=dials,
        pairs=tuple(p for p in like.pairs if {p.across, p.down} <= ids),
        styles=styles,
        steps=tuple(s for s in like.steps if s.dial in ids),
        edition=1,
    )


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


def _dial(dial: Dial, form: Mapping[str, str]) -> Dial:
    label = " ".join(form.get(f"label-{dial.id}", "").split())[:MOST_LABEL] or dial.label
    group = " ".join(form.get(f"group-{dial.id}", "").split())[:MOST_LABEL] or dial.group
    places = [str(c.value) for c in dial.choices]
    first, last = form.get(f"from-{dial.id}", places[0]), form.get(f"to-{dial.id}", places[-1])
    if first not in places or last not in places:
        raise PlumError(f"'{dial.label}' has no such place. Choose one from its list.")
    a, b = sorted((places.index(first), places.index(last)))
    if not a <= dial.position(dial.default) <= b:
        raise PlumError(
            f"The range of '{label}' leaves out its standard, {dial.choice(dial.default).label}."
        )
    choices = dial.choices[a : b + 1]
    if f"turn-{dial.id}" in form and turnable(dial):
        across = [(c, _opposite(dial, c)) for c in choices]
        choices = tuple(replace(c, adds=other.adds, sets=other.sets) for c, other in across)
        means = f"{unsigned(dial.means)} Here plus goes the other way."
        dial = replace(dial, purpose=unsigned(dial.purpose), means=means.strip())
    return replace(dial, label=label, group=group, choices=choices)


def _opposite(dial: Dial, choice: Choice) -> Choice:
    """The place on the other side of nothing."""
    return next(c for c in dial.choices if abs(float(c.value) + float(choice.value)) < 1e-3)

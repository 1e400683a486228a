"""Whether a body that somebody wrote is whole: its parts fit each other, and what its dials set is
something that pictures can show."""

import itertools
from collections.abc import Iterable, Mapping
from typing import Any

from ..base.errors import PlumError
from ..base.text import shortened
from ..look import about, at_rest
from ..styles import Style, styles
from ..styles.learnt import SIDE
from .body import Body
from .dial import Choice, Dial, Need

FREE = {"brights": (-0.12, 0.12), "darks": (-0.12, 0.12)}  # what no shipped body sets
ROOM = 0.5  # of the range that shipped bodies have, on both sides of it


def _numeric(name: str) -> bool:
    return type(at_rest()[name]) is float


class Known:
    """What the looks of some bodies can be: the measure for a body that somebody writes."""

    def __init__(self, shipped: Iterable[Body]) -> None:
        told = list(shipped)
        self.names = {name: self._words(name, told) for name in about() if not _numeric(name)}
        ranges = {name: self._range(name, told) for name in about() if _numeric(name)}
        self.limits = ranges | FREE

    def holds(self, body: Body, names: Iterable[str]) -> bool:
        """Whether what a body's dials bring some fields to can be shown."""
        reaches = ((name, *_reach(body, name)) for name in names if _numeric(name))
        return all(
            self.limits[n][0] - 1e-9 <= low and high <= self.limits[n][1] + 1e-9
            for n, low, high in reaches
        )

    @staticmethod
    def _words(name: str, told: list[Body]) -> frozenset[Any]:
        if name == "style":
            return frozenset(styles())
        sets = [c.sets for b in told for d in b.dials for c in d.choices]
        return frozenset({at_rest()[name], *(s[name] for s in sets if name in s)})

    @staticmethod
    def _range(name: str, told: list[Body]) -> tuple[float, float]:
        every = [_reach(b, name) for b in told]
        low, high = min(a for a, _ in every), max(b for _, b in every)
        room = ROOM * (high - low)
        return (max(0.0, low - room) if low >= 0 else low - room), high + room


def _reach(body: Body, name: str) -> tuple[float, float]:
    """The least and the most that a body's dials can bring a field to."""
    rest = float(at_rest()[name])
    told = [float(c.sets[name]) for d in body.dials for c in d.choices if name in c.sets]
    low, high = min(rest, *told, rest), max(rest, *told, rest)
    for dial in body.dials:
        added = [c.adds.get(name, 0.0) for c in dial.choices]
        low, high = low + min(0.0, *added), high + max(0.0, *added)
    return low, high


def check(body: Body, known: Known) -> None:
    """PlumError says what does not fit."""
    if len(body.by_id) < len(body.dials):
        raise PlumError("Two dials of the body file have one id. Rename one.")
    if len({style.id for style in body.styles}) < len(body.styles):
        raise PlumError("Two styles of the body file have one id. Rename one.")
    for style in body.styles:
        _check_style(body, style)
    if body.sensor.widest > body.sensor.narrowest:
        raise PlumError("The lens of the body file is wider than it opens: exchange the two.")
    for dial in body.dials:
        if len(set(map(str, dial.values))) < len(dial.values):
            raise PlumError(f"Two places of '{dial.id}' in the body file have one value.")
        if len({isinstance(v, str) for v in dial.values}) > 1:
            raise PlumError(f"'{dial.id}' in the body file mixes numbers and words. Use one kind.")
        dial.position(dial.default)
        for need in (*dial.needs, *(n for c in dial.choices for n in c.needs)):
            _check_need(body, dial, need)
        for choice in dial.choices:
            _check_fields(dial, choice, known.names | {"style": _styles(body, known)})
    for pair in body.pairs:
        body.dial(pair.across), body.dial(pair.down)
    _check_beside(body)
    _check_sums(body, known)


def _check_beside(body: Body) -> None:
    """What a slot holds, resets, and settings beside the look."""
    for dial_id in (*body.outside, *(d for r in body.resets for d in r.dials)):
        body.dial(dial_id)
    if len(body.beside_by_id) < len(body.beside):
        raise PlumError("Two settings beside the look of the body file have one id. Rename one.")
    for dial in body.beside:
        dial.position(dial.default)
        if dial.touches or dial.needs or any(c.needs for c in dial.choices):
            raise PlumError(
                f"'{dial.id}' of the body file stands beside the look: it sets and needs nothing."
            )


def _check_need(body: Body, dial: Dial, need: Need) -> None:
    if need.dial == dial.id:
        raise PlumError(f"'{dial.id}' in the body file needs itself. Name another dial.")
    other = body.dial(need.dial)
    for value in (*need.only, *need.never):
        other.position(value)


def _styles(body: Body, known: Known) -> frozenset[Any]:
    return known.names["style"] | {style.id for style in body.styles}


def _check_style(body: Body, style: Style) -> None:
    if not style.id.startswith(f"{body.id}-") or style.id in styles():
        raise PlumError(
            f"The style '{style.id}' of the body file needs an id that begins with '{body.id}-'."
        )
    assert style.learnt is not None
    if len(style.learnt.rest) not in (0, 3 * SIDE**3):
        raise PlumError(
            f"The table 'rest' of the style '{style.id}' has {len(style.learnt.rest):,} numbers; "
            f"it has {3 * SIDE**3:,}, or none."
        )
    if any(b < a for a, b in itertools.pairwise(style.learnt.curve)):
        raise PlumError(f"The curve of the style '{style.id}' falls; a curve only rises.")


def _check_fields(dial: Dial, choice: Choice, names: Mapping[str, frozenset[Any]]) -> None:
    for name in (*choice.sets, *choice.adds):
        if name not in about():
            raise PlumError(
                f"'{dial.id}' in the body file sets '{shortened(name, 40)}', which no look has. It "
                f"can be {', '.join(about())}."
            )
    for name in choice.adds:
        if not _numeric(name):
            raise PlumError(f"'{dial.id}' in the body file adds to '{name}', which is no number.")
    for name, value in choice.sets.items():
        if _numeric(name):
            if isinstance(value, bool | str):
                raise PlumError(f"'{dial.id}' in the body file sets '{name}' to no number.")
        elif value not in names[name]:
            listed = ", ".join(str(v) for v in sorted(names[name], key=str))
            raise PlumError(
                f"'{dial.id}' in the body file sets '{name}' to {shortened(repr(value), 40)}. It "
                f"can be {listed}."
            )


def _check_sums(body: Body, known: Known) -> None:
    for name in filter(_numeric, body.touches):
        (low, high), (least, most) = _reach(body, name), known.limits[name]
        if low < least - 1e-9 or high > most + 1e-9:
            raise PlumError(
                f"The dials of the body file bring '{name}' from {low:g} to {high:g}; it can go "
                f"from {least:g} to {most:g}. Make their steps smaller."
            )

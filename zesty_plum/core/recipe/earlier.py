"""Recipes of a body's first edition, carried over to its dials of today by look.

Both editions have one sensor, so their looks are told apart field by field, in just visible
changes; that brings every dial to where it belongs, and the appearance of a fixed set of colours
decides between neighbouring places where something remains (`develop.appearance`).
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from ..base.errors import PlumError
from ..base.text import joined, shortened
from ..bodies import Body, Dial, Value, body, first
from ..bodies.descent import descend
from ..develop.appearance import (
    SEEN_IN_COLOUR,
    appearance,
    colour_distance,
    point_look,
    texture_distance,
)
from ..look import Look, about
from ..seen import SAME
from . import EDITION

SWEEPS, LEAST = 4, 1e-4
REFINED = 0.5  # mean CIEDE2000 from which on neighbouring places are tried too
NEARLY = 0.6  # mean CIEDE2000 over colours, at which some picture may show what remains


@dataclass(frozen=True)
class Carried:
    """What became of a recipe: its dials now, what remains (mean CIEDE2000 over colours, and
    texture in the same currency), and sentences."""

    dials: dict[str, Value]
    remains: float
    texture: float
    words: tuple[str, ...]


def is_earlier(body_id: str, edition: Any) -> bool:
    """Whether what says `edition` of itself, or nothing, has the dials of a first edition;
    PlumError where it has those of a later one than is known."""
    if body_id not in first():
        return False
    now = body(body_id).edition
    if edition is None:
        return True
    if type(edition) is not int or edition < 1:
        raise PlumError(
            f"'{EDITION}' is {shortened(repr(edition), 20)}; it is a whole number, {now} for "
            f"{body(body_id).name} as it is today."
        )
    if edition > now:
        raise PlumError(
            f"This was made for edition {edition} of {body(body_id).name}; this program knows up "
            f"to edition {now}. Update it."
        )
    return edition < now


def carry(body_id: str, dials: dict[str, Value]) -> Carried:
    """Dials of a body's first edition as those of today; PlumError where they are neither's."""
    old, now = first()[body_id], body(body_id)
    try:
        full = old.complete(dials)
    except PlumError as error:
        if not _fit(now, dials):
            raise
        raise PlumError(
            f"These are dials of {now.name}'s edition {now.edition}, but the recipe does not say "
            f'so, and so counts as edition 1. Write "{EDITION}": {now.edition} beside its body.'
        ) from error
    return _carried(body_id, tuple(full.items()))


def _fit(camera: Body, dials: dict[str, Value]) -> bool:
    try:
        camera.complete(dials)
    except PlumError:
        return False
    return True


@lru_cache(maxsize=4096)  # lists meet the same recipe over and over
def _carried(body_id: str, items: tuple[tuple[str, Value], ...]) -> Carried:
    old, now, full = first()[body_id], body(body_id), dict(items)
    goal = old.meaning(full)
    dials = _by_fields(goal, now, _kept(old, full, now))
    look = now.meaning(dials)
    remains = _mean(goal, look, now)
    fresh = _standing_in(old, now) if _moves(old, full, now) else []
    if remains > REFINED or fresh:
        dials = _by_eye(goal, now, dials, fresh)
        look = now.meaning(dials)
        remains = _mean(goal, look, now)
    idle = {d.id: d.default for d in now.dials if not now.counts(d, dials)}
    dials |= {k: v for k, v in idle.items() if k not in full or full[k] != dials[k]}
    words = (
        f"Written for the first edition of {now.name} and carried over.",
        _moved(old, full, now, dials),
        *_lost(old, full, goal, now, look),
    )
    return Carried(dials, remains, texture_distance(goal, look), tuple(filter(None, words)))


def _mean(goal: Look, look: Look, now: Body) -> float:
    if point_look(goal) == point_look(look):
        return 0.0
    return colour_distance(appearance(goal, now.sensor), appearance(look, now.sensor))[0]


def _kept(old: Body, full: dict[str, Value], now: Body) -> dict[str, Value]:
    """A start: places that mean what they meant are kept."""
    same = {}
    for dial in now.dials:
        value = full.get(dial.id)
        if value in dial.values:
            before, after = old.by_id[dial.id].choice(value), dial.choice(value)
            if (before.sets, before.adds) == (after.sets, after.adds):
                same[dial.id] = value
    return now.complete(same)


def _fields_apart(goal: Look, look: Look) -> float:
    """How far two looks are apart in all their fields: the sum of squares of just visible changes,
    or a little for what nobody sees, so that it is kept too."""
    total = 0.0
    for name, known in about().items():
        a, b = getattr(goal, name), getattr(look, name)
        if a == b:
            continue
        if math.isinf(known.seen):
            total += 1.0 if isinstance(a, str | bool) or not (a and b) else abs(math.log2(a / b))
        else:
            total += known.apart(a, b) ** 2
    return total


def _by_fields(goal: Look, now: Body, start: dict[str, Value]) -> dict[str, Value]:
    """The places whose look is nearest field by field: each dial that has a say in what is not
    exact yet tries all of its places."""
    look = now.meaning(start)
    off = {n for n in about() if getattr(goal, n) != getattr(look, n)}
    over = [d for d in now.dials if d.touches & off]

    def cost(dials: dict[str, Value]) -> float:
        return _fields_apart(goal, now.meaning(dials))

    best, dials = cost(start), start
    for _ in range(SWEEPS):
        before = best
        for dial in over:
            for value in dial.values:
                found = cost(trial := {**dials, dial.id: value})
                if found < best - 1e-9:
                    best, dials = found, trial
        if before - best < 1e-9:
            break
    return dials


def _standing_in(old: Body, now: Body) -> list[Dial]:
    """Dials of colour for which the body had none: they may stand in for those that it lost."""
    return [d for d in now.dials if d.touches & SEEN_IN_COLOUR and not d.touches & old.touches]


def _moves(old: Body, full: dict[str, Value], now: Body) -> bool:
    """Whether a dial was turned whose fields no dial moves today."""
    return any(
        d.touches and not d.touches & now.touches and full[d.id] != d.default for d in old.dials
    )


def _by_eye(goal: Look, now: Body, start: dict[str, Value], fresh: list[Dial]) -> dict[str, Value]:
    """The same, where neighbouring places of the dials that are not exact, and all places of
    `fresh` ones, are tried by what they look like."""
    wanted, look = appearance(goal, now.sensor), now.meaning(start)
    off = {n for n in about() if getattr(goal, n) != getattr(look, n)}

    def cost(dials: dict[str, Value]) -> float:
        found = now.meaning(dials)
        away = colour_distance(wanted, appearance(point_look(found), now.sensor))[0]
        return away + texture_distance(goal, found)

    over = [d for d in now.dials if d.touches & off and not d.named]
    near = [replace(d, choices=_around(d, start[d.id])) for d in over]
    return descend(start, [*fresh, *near], cost, SWEEPS, LEAST)[1]


def _around(dial: Dial, value: Value) -> tuple[Any, ...]:
    at = dial.position(value)
    return dial.choices[max(0, at - 1) : at + 2]


# ---- words ---------------------------------------------------------------------------------------
def _told(camera: Body, dials: dict[str, Value], ids: Iterable[str]) -> str:
    return joined([f"{camera.dial(k).label} {camera.dial(k).choice(dials[k]).label}" for k in ids])


def _moved(old: Body, full: dict[str, Value], now: Body, dials: dict[str, Value]) -> str:
    """What stands where it did not, or is called otherwise."""
    was = [
        d.id
        for d in old.dials
        if full[d.id] != d.default and (d.id not in dials or dials[d.id] != full[d.id])
    ]
    became = [
        d.id
        for d in now.dials
        if dials[d.id] != d.default and (d.id not in full or dials[d.id] != full[d.id])
    ]
    if not was:
        return ""
    verb = "is" if len(was) == 1 else "are"
    there = f"now {_told(now, dials, became)}" if became else "left out"
    return f"{_told(old, full, was)} {verb} {there}."


def _lost(old: Body, full: dict[str, Value], goal: Look, now: Body, look: Look) -> list[str]:
    """A sentence for each dial that could not follow: how far what it did is away."""
    gone, off, fresh = [], [], _standing_in(old, now)
    for dial in old.dials:
        if full[dial.id] == dial.default or not dial.touches:
            continue
        gone_for_good = not dial.touches & now.touches
        instead = [n for d in fresh for n in d.touches] if gone_for_good else []
        fields = {n: getattr(look, n) for n in (*dial.touches, *instead)}
        if all(getattr(goal, n) == v for n, v in fields.items()):
            continue
        without = replace(goal, **fields)
        away = max(_mean(goal, without, now), texture_distance(goal, without))
        called = f"{dial.label} {dial.choice(full[dial.id]).label}"
        if gone_for_good:
            gone.append(
                f"{now.name} has no dial for {called} any more: a difference of {away:.1f} remains."
            )
        else:
            off.append(
                (away, f"{called} could not follow exactly: a difference of {away:.1f} remains.")
            )
    off.sort(reverse=True)
    far = [told for away, told in off if away >= SAME]
    if not far and not gone and _mean(goal, look, now) >= NEARLY:
        far = [told for _, told in off[:1]]
    if not gone and not far:
        return []
    return [*gone, *far, f"In CIEDE2000, on average; under {SAME:g} the eye sees the same."]

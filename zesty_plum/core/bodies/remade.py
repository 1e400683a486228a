"""Dials made over: other steps, ranges, signs and names of places, as another camera has them."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..base.arrays import Array
from ..base.errors import PlumError
from ..styles import style
from .dial import Choice, Dial, Value, unsigned
from .reading import printed

MOST_PLACES = 400
EXACT = 1e-6  # by which a number may miss a whole one or a half


@dataclass(frozen=True)
class Steps:
    """Where a dial of numbers begins and ends, how far its places are apart, how far one step of it
    goes, in times of what it did before, and what is printed after its numbers; minus turns its
    sign."""

    low: float
    high: float
    step: float
    times: float = 1.0
    after: str = ""


@dataclass(frozen=True)
class Place:
    """A place of a dial of names: its label, the mired of its light and the style it sets, where it
    does; `of` is the value of the place that it was, None for a new one."""

    label: str
    of: Value | None = None
    mired: float | None = None
    style: str = ""


Effect = tuple[Array, Array]  # numbers of a dial, rising, and what each adds to a field


def effects(dial: Dial) -> dict[str, Effect] | None:
    """What each field of a dial of numbers gains at its places; None where those are no numbers, do
    not add, or depend on other dials."""
    numbers = np.array([_exact(v) for v in dial.values if not isinstance(v, str)])
    plain = all(not c.needs and not c.sets for c in dial.choices)
    if len(numbers) < max(3, len(dial.values)) or not plain:
        return None
    order = np.argsort(numbers)
    added = {n: np.array([c.adds.get(n, 0.0) for c in dial.choices]) for n in sorted(dial.touches)}
    return {n: (numbers[order], values[order]) for n, values in added.items()} or None


def _exact(value: float) -> float:
    """A third that is written with two decimals, as it is."""
    return round(value * 3) / 3 if abs(value * 3 - round(value * 3)) < 0.03 else float(value)


def _at(value: float, effect: Effect) -> float:
    """What a number adds, between places and beyond them by the last step."""
    numbers, added = effect
    for k, end in ((0, value < numbers[0]), (-2, value > numbers[-1])):
        if end:
            slope = (added[k + 1] - added[k]) / (numbers[k + 1] - numbers[k])
            return float(added[k] + slope * (value - numbers[k]))
    return float(np.interp(value, numbers, added))


def steps_of(dial: Dial) -> Steps | None:
    """How a dial of numbers is divided; None where it cannot be divided anew."""
    if effects(dial) is None:
        return None
    numbers = [float(v) for v in dial.values]
    return Steps(numbers[0], numbers[-1], round(numbers[1] - numbers[0], 2), after=_after(dial))


def _after(dial: Dial) -> str:
    """What is printed after every number of a dial."""
    found = [re.fullmatch(r"[-+]?\d[\d ./]*? ?([^\d ./].*)", c.label) for c in dial.choices]
    every = {m[1] if m else "" for m in found}
    return every.pop() if len(every) == 1 else ""


def divided(dial: Dial, steps: Steps) -> Dial:
    """The dial with other steps; its standard stays where it was, or is 0."""
    found = effects(dial)
    assert found is not None
    many, after = _many(dial, steps), f" {steps.after}".rstrip()
    unit = "steps" if after else dial.unit
    third = abs(steps.step - 1 / 3) < 0.01
    step = 1 / 3 if third else steps.step
    low = round(steps.low * 3) / 3 if third else steps.low
    signed = steps.low < 0 and unit != "stops"
    choices = []
    for k in range(many):
        exact = low + k * step
        near = abs(exact - round(exact)) < EXACT
        value: Value = round(exact) if near else round(exact, 2)
        halves = not near and abs(2 * exact - round(2 * exact)) > EXACT and not third
        label = f"{value:+g}" if halves and signed else str(value) if halves else ""
        adds = {n: _at(steps.times * exact, effect) for n, effect in found.items()}
        label = label or printed(exact, unit, third, signed)
        choices.append(Choice(value, label + after, {}, adds))
    made = replace(dial, choices=tuple(choices))
    default = next((v for v in (dial.default, 0) if v in made.values), None)
    if default is None:
        was = dial.choice(dial.default).label
        raise PlumError(f"The range of '{dial.label}' leaves out its standard, {was}.")
    if steps.times < 0:
        means = f"{unsigned(dial.means)} Here plus goes the other way."
        made = replace(made, purpose=unsigned(dial.purpose), means=means.strip())
    return replace(made, default=default)


def _many(dial: Dial, steps: Steps) -> int:
    if steps.step < 0.01 or steps.high <= steps.low:
        raise PlumError(
            f"'{dial.label}' goes from a smaller number to a larger one in steps of 0.01 or more."
        )
    many = round((steps.high - steps.low) / steps.step) + 1
    if many > MOST_PLACES:
        raise PlumError(f"'{dial.label}' would have {many:,} places; {MOST_PLACES} are the most.")
    if not steps.times:
        raise PlumError(f"One step of '{dial.label}' does nothing so. Give a number other than 0.")
    return many


def named(dial: Dial, places: Sequence[Place]) -> Dial:
    """The dial with other names of its places, some left out, and others new."""
    used = {str(v) for v in dial.values}
    choices = []
    for place in places:
        if place.of is not None:
            made = replace(dial.choice(place.of), label=place.label)
        else:
            made = Choice(_fresh(place.label, used), place.label)
        sets, adds = dict(made.sets), made.adds
        if place.mired is not None:
            sets |= {"balance": "fixed", "light_mired": place.mired}
        if place.style and place.style != sets.get("style"):
            sets["style"] = place.style
            room = style(place.style).guard
            adds = {"guard": room} if room else {}
        choices.append(replace(made, sets=sets, adds=adds))
    made_over = replace(dial, choices=tuple(choices))
    if dial.default not in made_over.values:
        was = dial.choice(dial.default).label
        raise PlumError(f"'{dial.label}' needs its standard, {was}. Rename it, but keep it.")
    return made_over


def _fresh(label: str, used: set[str]) -> str:
    """A value for a new place, other than all before."""
    base = re.sub(r"[^a-z0-9]+", "_", label.lower()).strip("_")[:40] or "place"
    made, number = base, 2
    while made in used:
        made, number = f"{base}_{number}", number + 1
    used.add(made)
    return made

"""Dials made over: other steps, ranges, signs and names of places, as another camera has them."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..base.errors import PlumError
from ..styles import style
from .dial import Choice, Dial, Value, unsigned
from .reading import printed

MOST_PLACES = 400
EXACT = 1e-6  # of the largest effect, that a place may lie off the line of the others


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


def lines(dial: Dial) -> dict[str, tuple[float, float]] | None:
    """What each field of a dial of numbers gains a unit of its value, and what it has at 0; None
    where its places do not lie on such lines."""
    numbers = np.array([v for v in dial.values if not isinstance(v, str)], float)
    plain = all(not c.needs and not c.sets for c in dial.choices)
    if len(numbers) < max(3, len(dial.values)) or not plain:
        return None
    out = {}
    for name in sorted(dial.touches):
        added = np.array([c.adds.get(name, 0.0) for c in dial.choices])
        slope, start = np.polyfit(numbers, added, 1)
        # Thirds are written with two decimals, but add what a third adds.
        off = np.abs(added - slope * numbers - start).max()
        if off > max(EXACT, 0.004 * abs(slope)):
            return None
        out[name] = (float(slope), float(start) if abs(start) > abs(slope) / 50 else 0.0)
    return out or None


def steps_of(dial: Dial) -> Steps | None:
    """How a dial of numbers is divided; None where it cannot be divided anew."""
    if lines(dial) is None:
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
    found = lines(dial)
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
        adds = {n: start + a * steps.times * exact for n, (a, start) in found.items()}
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

"""One change at a time: a dial at several places under several lights, and what came of it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..base.errors import PlumError
from ..base.text import joined
from ..bodies import Value
from ..recipe import Recipe
from .moves import moves
from .recurring import wilson

MOST_PLACES, MOST_LIGHTS = 9, 12
BEST, BAD = "best", "bad"
MARKS = {BEST: "the best here", "good": "good", BAD: "not this", "": "not looked at yet"}


@dataclass(frozen=True)
class Plan:
    """A recipe, the dial that is tried, at which places, under which lights: scenes, or words of
    one's own."""

    base: Recipe
    dial: str
    places: tuple[Value, ...]
    lights: tuple[str, ...]

    @property
    def recipes(self) -> dict[Value, Recipe]:
        """The recipe at each place."""
        return {v: replace(self.base, dials={**self.base.dials, self.dial: v}) for v in self.places}


def plan(base: Recipe, dial: str, places: Sequence[Value], lights: Sequence[str]) -> Plan:
    """A plan, checked; places stand in the order of the dial."""
    found = base.camera.dial(dial)
    known = sorted({found.position(v) for v in places})
    if not 2 <= len(known) <= MOST_PLACES:
        raise PlumError(f"Choose 2 to {MOST_PLACES} places of {found.spoken} to try.")
    named = tuple(dict.fromkeys(" ".join(light.split()) for light in lights if light.strip()))
    if not 1 <= len(named) <= MOST_LIGHTS:
        raise PlumError(f"Choose 1 to {MOST_LIGHTS} lights to try it under.")
    return Plan(base, dial, tuple(found.values[k] for k in known), named)


def confounded(made: Plan, tried: Recipe) -> str:
    """That a picture was not made as the plan has it, in a sentence; empty where it was."""
    if tried.body != made.base.body:
        return "Another body made it: you cannot tell what the dial did."
    others = [m.label for m in moves(made.base, tried) if m.dial != made.dial]
    label = made.base.camera.dial(made.dial).label
    if not others:
        return ""
    many = {1: "Two", 2: "Three"}.get(len(others), str(len(others) + 1))
    listed = ", ".join([label, *others])
    return f"{many} dials moved, {listed}: you cannot tell which."


def result(made: Plan, marks: Mapping[tuple[str, Value], str]) -> str:
    """What came of it, in words; `marks` by light and place. Says how many lights it rests on."""
    dial = made.base.camera.dial(made.dial)
    looked = [light for light in made.lights if any(marks.get((light, p)) for p in made.places)]
    if not looked:
        return "Nothing has been looked at yet."
    best = {light: [p for p in made.places if marks.get((light, p)) == BEST] for light in looked}
    decided = {light: found[0] for light, found in best.items() if len(found) == 1}
    torn = [light for light, found in best.items() if len(found) > 1]
    parts = []
    if torn:
        parts.append(f"Under {', '.join(torn)} more than one is marked best: settle on one.")
    if not decided:
        bad = [p for p in made.places if all(marks.get((x, p)) == BAD for x in looked)]
        if bad:
            said = ", ".join(dial.choice(p).label for p in bad)
            parts.append(f"{dial.label} {said} was refused everywhere.")
        return " ".join(parts) or "No place was the best yet: mark one under each light."
    for place in made.places:
        here = [light for light, p in decided.items() if p == place]
        if here:
            label = dial.choice(place).label
            parts.append(f"{dial.label} {label} was best under {joined(here)}.")
    if len(set(decided.values())) == 1 and len(decided) == len(made.lights) > 1:
        low, _ = wilson(len(decided), len(decided))
        parts = [
            f"{dial.label} {dial.choice(next(iter(decided.values()))).label} was best under all "
            f"{len(decided)} lights; so few say no more than that it is best in {100 * low:.0f} % "
            "of such lights or more."
        ]
    left = len(made.lights) - len(looked)
    if left:
        parts.append(
            f"{'One light is' if left == 1 else f'{left} lights are'} still to be looked at."
        )
    return " ".join(parts)

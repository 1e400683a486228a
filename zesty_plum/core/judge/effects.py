"""What a dial does here: the figures that a step of it moves on this scene, computed and put in
words."""

from collections.abc import Callable
from dataclasses import dataclass

from ..bodies import Value
from ..measure.report import Report
from ..recipe import Recipe
from ..scenes.scene import Scene
from ..seen import FIGURES, STEP_FROM
from .workbench import TRY_AT, Workbench

MOST = 3


@dataclass(frozen=True)
class Effect:
    """A figure that a move changes: where from, where to, and the words for it."""

    figure: str
    before: float
    after: float
    words: str


@dataclass(frozen=True)
class Move:
    """One step of a dial: where it goes and what that does, the strongest effect first."""

    value: Value
    printed: str
    effects: list[Effect]

    @property
    def sentence(self) -> str:
        """The effects in one sentence."""
        if not self.effects:
            return f"{self.printed}: nothing that can be measured in this scene."
        return f"{self.printed}: {', '.join(e.words for e in self.effects)}."


def told(now: Report, then: Report) -> list[Effect]:
    """The strongest changes from one report to another."""
    found = []
    for figure in FIGURES:
        moved = figure.moved(now, then)
        if figure.step is None or moved is None:
            continue
        size, was, after = moved
        if abs(size) >= STEP_FROM:
            words = figure.filled(figure.step, was, after)
            found.append((abs(size), Effect(figure.at, was, after, words)))
    return [e for _, e in sorted(found, key=lambda pair: -pair[0])][:MOST]


def effects(
    scene: Scene, recipe: Recipe, dial_id: str, pause: Callable[[], None] = lambda: None
) -> list[Move]:
    """What the steps next to where a dial stands would do in this scene; all its places where they
    are choices by name."""
    camera = recipe.camera
    dial, dials = camera.dial(dial_id), recipe.dials
    bench = Workbench(scene, camera, TRY_AT, pause)
    now = bench.report(dials)
    at = dial.position(dials[dial.id])
    places = range(len(dial.values)) if dial.named else (at - 1, at + 1)
    made = []
    for place in places:
        if place == at or not 0 <= place < len(dial.values):
            continue
        choice = dial.choices[place]
        then = bench.report({**dials, dial.id: choice.value})
        made.append(Move(choice.value, choice.label, told(now, then)))
    return made

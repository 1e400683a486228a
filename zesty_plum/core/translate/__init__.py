"""Moving a recipe between bodies: the dial values of another body whose look is nearest, and what
remains.

Nearness is the mean CIEDE2000 over a fixed set of colours under three lights, through exposure,
balance and the point stages, plus what the neighbourhood stages differ by, in the same currency. A
scene at hand has its say too, by colours of its own under its own light.
The search walks the dials by coordinate descent from several starts, and again from where it came
to with a few dials shaken (iterated local search: two dials that make up for one another hold a
walk along one of them fast). Since dials are steps, every value it visits is one that the body can
be set to.
"""

import math
import random
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from ..base.arrays import Array
from ..base.errors import PlumError
from ..bodies import Body, Value
from ..bodies.descent import descend
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..develop.appearance import (
    SEEN_IN_COLOUR,
    appearance,
    colour_distance,
    point_look,
    texture_distance,
)
from ..develop.taking import make_point
from ..look import Look, Metering, Sensor, missing
from ..measure.compare import Difference
from ..measure.looking import apart
from ..recipe import EDITION, MOST_NAME, Recipe, as_now, make
from ..scenes.scene import Scene
from ..seen import DUV, MIRED, REMAINS, Unit, amount
from ..styles import style

FROM = "translated_from"  # where a recipe's file says what it came from
HERE = 0.4  # share of a scene at hand; the rest is for all other pictures
SCENE_COLOURS = 240  # about so many are taken from a scene
MORE_HERE = 1.0  # by which a scene's own remainder is larger before it is told apart
MOST_SWEEPS = 12
STARTS = 3  # styles that are searched to the end
SHAKEN, FREE = 4, 5  # dials shaken at once; with so few that tell of colour nothing is hidden
SHAKEN_SWEEPS, SHAKEN_LEAST = 3, 1e-3
FEW = 2.5  # times the average that the colours furthest away may be before they tell
MOST_TEXTURE = REMAINS[-2][0] - 0.1  # texture alone never makes another picture


def scene_colours(scene: Scene) -> Array:
    """Colours (n, 3) of a scene, evenly over the frame, as they are in it."""
    sparse = scene.frame.sparse
    step = max(1, round(math.sqrt(sparse.shape[0] * sparse.shape[1] / SCENE_COLOURS)))
    return sparse[step // 2 :: step, step // 2 :: step].reshape(-1, 3)


def scene_appearance(look: Look, sensor: Sensor, scene: Scene, colours: Array) -> Array:
    """L*a*b* (n, 3) of a scene's colours through a look, in the light of the scene."""
    made = make_point(scene, look, sensor)
    if scene.finished:
        encoded = made.finish(colours)
    else:
        matrix = np.array(made.matrix, np.float32)
        rgb = colours * np.float32(2.0**look.exposure) @ matrix.T
        encoded = made.develop(np.clip(rgb, 0, np.float32(made.clip)))
    return encoded_to_lab(encoded)


@dataclass(frozen=True)
class Translation:
    """The nearest recipe; mean and 95th percentile of CIEDE2000 that remain, the texture that
    remains, what remains in the scene at hand, and words."""

    recipe: Recipe
    mean: float
    p95: float
    texture: float
    words: list[str] = field(default_factory=list)
    tried: int = 0
    here: Difference | None = None


class _Search:
    """Coordinate descent over the dials of one body towards one look."""

    def __init__(
        self,
        goal: Look,
        sensor: Sensor,
        camera: Body,
        pause: Callable[[], None] = lambda: None,
        scene: Scene | None = None,
    ):
        self.camera, self.goal, self.pause, self.scene = camera, goal, pause, scene
        self.wanted = appearance(goal, sensor)
        self._over = [d for d in camera.dials if d is not camera.style_dial]
        self.known: dict[Look, float] = {}
        self.tried = 0
        if scene is not None:
            self._colours = scene_colours(scene)
            self._there = scene_appearance(goal, sensor, scene, self._colours)

    def cost(self, dials: dict[str, Value]) -> float:
        look = self.camera.interpret(dials)
        key = point_look(look)
        if key not in self.known:
            self.pause()
            self.tried += 1
            self.known[key] = self._colour_cost(look)
        return self.known[key] + texture_distance(self.goal, look)

    def _colour_cost(self, look: Look) -> float:
        sensor = self.camera.sensor
        anywhere = colour_distance(self.wanted, appearance(look, sensor))[0]
        if self.scene is None:
            return anywhere
        found = scene_appearance(look, sensor, self.scene, self._colours)
        here = float(ciede2000(self._there, found).mean())
        return (1 - HERE) * anywhere + HERE * here

    def descend(self, dials: dict[str, Value]) -> tuple[float, dict[str, Value]]:
        """Walk downhill from somewhere, keeping its style."""
        return descend(dials, self._over, self.cost, MOST_SWEEPS, 1e-4)

    def shake(self, best: float, dials: dict[str, Value]) -> dict[str, Value]:
        """Look for a better place behind the nearest hills, the same ones at each call."""
        dice = random.Random(0)
        tell = [d for d in self.camera.dials if SEEN_IN_COLOUR & set(d.touches)]
        for _ in range(max(0, len(tell) - FREE) // 3):
            some = dice.sample(tell, SHAKEN)
            shaken = {**dials, **{d.id: dice.choice(d.values) for d in some}}
            cost, found = descend(shaken, self._over, self.cost, SHAKEN_SWEEPS, SHAKEN_LEAST)
            if cost < best:
                best, dials = cost, found
        return dials


def translate(
    recipe: Recipe,
    camera: Body,
    pause: Callable[[], None] = lambda: None,
    scene: Scene | None = None,
) -> Translation:
    """The nearest recipe on `camera`, with a scene at hand weighed in. Takes a second or three;
    `pause` is called before each try, it may wait, or raise."""
    goal, sensor = recipe.look, recipe.camera.sensor
    search = _Search(goal, sensor, camera, pause, scene)
    start = _same_names(recipe, camera)
    chosen, starts = camera.style_dial, [start]
    if chosen:
        every = [{**start, chosen.id: s} for s in chosen.values]
        starts = [start, *[s for s in sorted(every, key=search.cost) if s != start]][:STARTS]
    before = origin(recipe)
    if before is not None and before.body == camera.id:
        starts.append(before.dials)
    dials = search.shake(*min((search.descend(s) for s in starts), key=lambda pair: pair[0]))
    made = Recipe(
        recipe.name,
        camera.id,
        _without_idle(camera, camera.complete(dials)),
        recipe.intent,
        recipe.note,
        recipe.author,
        {**recipe.extra, FROM: origin_of(recipe)},
    )
    return replace(_remains(recipe, made, camera, scene), tried=search.tried)


def _without_idle(camera: Body, dials: dict[str, Value]) -> dict[str, Value]:
    """What has no say stands as shipped: the search may have passed over it."""
    return {d.id: dials[d.id] if camera.counts(d, dials) else d.default for d in camera.dials}


def origin_of(recipe: Recipe) -> dict[str, Any]:
    """What a translated recipe keeps of the one that it came from."""
    return {
        "name": recipe.name,
        "body": recipe.body,
        EDITION: recipe.camera.edition,
        "dials": recipe.camera.changed(recipe.dials),
    }


def origin(recipe: Recipe) -> Recipe | None:
    """The recipe that one was translated from, if it says so and it can still be read."""
    said = recipe.extra.get(FROM)
    if not isinstance(said, dict) or not isinstance(said.get("dials"), dict):
        return None
    with suppress(PlumError):  # what a file says of its past may be no longer true
        name = str(said.get("name") or recipe.name)[:MOST_NAME]
        dials, _ = as_now(str(said.get("body")), said.get(EDITION), said["dials"])
        return make(name, str(said.get("body")), dials)
    return None


def remains(recipe: Recipe, made: Recipe, scene: Scene | None = None) -> Translation:
    """How far `made`, on another body, is from the recipe that it stands for, in words too."""
    return _remains(recipe, made, made.camera, scene)


def _remains(recipe: Recipe, made: Recipe, camera: Body, scene: Scene | None) -> Translation:
    goal, look = recipe.look, camera.interpret(made.dials)
    mean, p95 = colour_distance(
        appearance(goal, recipe.camera.sensor), appearance(look, camera.sensor)
    )
    texture = texture_distance(goal, look)
    here = apart(scene, recipe, made).whole if scene is not None else None
    words = _words(goal, look, camera, (mean, p95), texture)
    if here is not None and here.mean > mean + MORE_HERE:
        words.insert(1, f"In this scene more remains: {here.mean:.1f} on average.")
    return Translation(made, mean, p95, texture, words, here=here)


def _same_names(recipe: Recipe, camera: Body) -> dict[str, Value]:
    """A start: dials of the same name and scale keep their value, the others stand as shipped."""
    kept = {}
    for dial in camera.dials:
        value = recipe.dials.get(dial.id)
        if value is not None and value in dial.values:
            kept[dial.id] = value
    return camera.complete(kept)


def remaining(colours: tuple[float, float], texture: float) -> list[str]:
    """The first sentences: how far tone and colour are away, on average and where they are away
    most, and how far the texture is."""
    mean, p95 = colours
    level, other = (
        next(k for k, (limit, _) in enumerate(REMAINS) if value < limit)
        for value in (max(mean, p95 / FEW), min(texture, MOST_TEXTURE))
    )
    if level or not other:
        return [REMAINS[level][1], *(["Its texture differs as well."] if other else [])]
    how = "a little" if other == 1 else "visibly"
    return [f"Tone and colour to the eye the same; the texture differs {how}."]


def _words(
    goal: Look, found: Look, camera: Body, colours: tuple[float, float], texture: float
) -> list[str]:
    """What remains, in sentences."""
    says = remaining(colours, texture)
    offered = {c.style for c in camera.style_dial.choices} if camera.style_dial else set()
    if found.style != goal.style and goal.style not in offered:
        says.append(
            f"{camera.name} has no {style(goal.style).name}; "
            f"{style(found.style).name} comes closest."
        )
    says += [f"{camera.name} has no {called}." for called in missing(goal, set(camera.touches))]
    mired, duv = goal.shift_mired - found.shift_mired, goal.shift_duv - found.shift_duv
    if goal.balance == found.balance and (abs(mired) > MIRED or abs(duv) > DUV):
        side = "cooler" if mired > 0 else "warmer"
        says.append(f"Its balance stays {amount(mired, Unit.MIRED)} {side} than wanted.")
    if goal.balance != found.balance:
        says.append(
            "It takes white from somewhere else, so the two part ways when the light changes."
        )
    if goal.metering is not Metering.HAND and goal.metering != found.metering:
        says.append("It meters differently: compare exposures before you rely on it.")
    return says

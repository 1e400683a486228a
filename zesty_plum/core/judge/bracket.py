"""A bracket: one dial at places around where it stands, so far apart that each step is seen."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from ..base.arrays import Array
from ..base.errors import PlumError
from ..bodies import Dial, Value, Values
from ..colour.difference import ciede2000
from ..develop import balance
from ..develop.pipeline import develop
from ..look import Stage, about
from ..measure.compare import to_lab
from ..recipe import Recipe
from ..scenes.scene import Scene

LOOK_AT = 200  # pixels across that steps are told apart at; at 100 percent LOOK_CLOSE of them
LOOK_CLOSE = 400
TONE_STEP = 2.0  # CIEDE2000 on average over the frame, from one print to the next
TEXTURE_STEP = 1.0  # the same at 100 percent, in the most changed 5 % of places
EACH_SIDE, MOST = 3, 8
WIDTHS = {"finer": 0.5, "": 1.0, "wider": 2.0}
# A dial that has no say unless another stands somewhere is given it, where that is the same thing.
GIVES_A_SAY = {"white_balance": "kelvin"}


@dataclass(frozen=True)
class Bracket:
    """The prints in order, which of them is one's own, and a sentence on how far apart they are."""

    recipes: list[Recipe]
    own: int
    said: str


def bracket(
    scene: Scene,
    recipe: Recipe,
    dial_id: str,
    width: str = "",
    pause: Callable[[], None] = lambda: None,
) -> Bracket:
    """Bracket a dial in a scene; PlumError says why there is nothing to see. `width` is one of
    `WIDTHS`."""
    dial = recipe.camera.dial(dial_id)
    recipe, told = _counting(scene, recipe, dial)
    if dial.named:
        return _named(recipe, dial, told)
    search = _Steps(scene, recipe, dial, WIDTHS.get(width, 1.0), pause)
    at = dial.position(recipe.dials[dial.id])
    below, above = list(search.places(at, -1)), list(search.places(at, 1))
    places = [*below[::-1], at, *above]
    if len(places) < 2:
        raise PlumError(f"{dial.label} changes nothing in this scene that anybody would see.")
    made = [_at(recipe, dial, dial.values[p]) for p in places]
    return Bracket(made, len(below), f"{told}{search.said}")


def _counting(scene: Scene, recipe: Recipe, dial: Dial) -> tuple[Recipe, str]:
    """The recipe with the dial having a say, looking as it does; PlumError says why it has none."""
    camera = recipe.camera
    need = camera.unmet(dial, recipe.dials)
    if need is None:
        return recipe, ""
    value = GIVES_A_SAY.get(need.dial)
    if value is None or value not in need.only:
        raise PlumError(f"{dial.label} has no effect in this recipe. {need.why}")
    dials: dict[str, Value] = {**recipe.dials, need.dial: value}
    if dial.id == "kelvin":
        light = balance.assumed_light(recipe.look, scene.auto_light, scene.card_light)
        kelvins = [v for v in dial.values if not isinstance(v, str)]
        dials[dial.id] = min(kelvins, key=lambda v: abs(1e6 / v - light[0]))
    told = f"{camera.dial(need.dial).label} stands at {value} here, so that it counts. "
    return replace(recipe, dials=dials), told


def _at(recipe: Recipe, dial: Dial, value: Value) -> Recipe:
    name = f"{dial.label} {dial.choice(value).label}"
    return replace(recipe, name=name, dials={**recipe.dials, dial.id: value})


def _named(recipe: Recipe, dial: Dial, told: str) -> Bracket:
    """Choices by name that have a say, one's own in the middle."""
    camera = recipe.camera
    own = recipe.dials[dial.id]
    every = [
        v for v in dial.values if v != own and camera.counts(dial, {**recipe.dials, dial.id: v})
    ]
    others = every[: MOST - 1]
    half = (len(others) + 1) // 2
    values = [*others[:half], own, *others[half:]]
    if len(values) < 2:
        raise PlumError(f"{dial.label} has only one setting.")
    made = [_at(recipe, dial, v) for v in values]
    more = f" There are {len(every) - len(others)} more." if len(every) > len(others) else ""
    return Bracket(made, half, f"{told}Your own setting is the standard.{more}")


class _Steps:
    """Walks a dial away from where it stands, from one visible change to the next."""

    def __init__(
        self,
        scene: Scene,
        recipe: Recipe,
        dial: Dial,
        wide: float,
        pause: Callable[[], None],
    ) -> None:
        self.scene, self.recipe, self.dial, self.pause = scene, recipe, dial, pause
        self.close = dial.fine or all(about()[n].stage is Stage.NEIGHBOURS for n in dial.touches)
        self.least = wide * (TEXTURE_STEP if self.close else TONE_STEP)
        self.labs: dict[int, Array] = {}

    @property
    def said(self) -> str:
        """How far apart the prints are."""
        if self.close:
            return f"Each step is seen at 100 %: {self.least:g} of CIEDE2000 where it changes most."
        return f"Each step changes the picture by about {self.least:g} of CIEDE2000."

    def places(self, at: int, way: int) -> Iterator[int]:
        """Places on one side, nearest first; the end of the dial where it is seen at all."""
        last, found = len(self.dial.values) - 1, 0
        before, place = at, at
        while found < EACH_SIDE and 0 <= place + way <= last:
            place = self._next(before, way, last)
            if place == before:
                return
            yield place
            before, found = place, found + 1

    def _next(self, before: int, way: int, last: int) -> int:
        """The first place that looks clearly different, found by halving; the last one where it is
        at least half as different."""
        end = last if way > 0 else 0
        most = self.apart(before, end)
        if most < self.least:
            return end if most >= self.least / 2 and end != before else before
        near, far = before, end  # near is too like, far is not
        while abs(far - near) > 1:
            middle = (near + far) // 2
            if self.apart(before, middle) < self.least:
                near = middle
            else:
                far = middle
        return far

    def apart(self, a: int, b: int) -> float:
        """How far two places are apart, in the measure of this dial."""
        if a == b:
            return 0.0
        d = ciede2000(self._lab(a), self._lab(b))
        return float(np.percentile(d, 95) if self.close else d.mean())

    def _lab(self, place: int) -> Array:
        if place not in self.labs:
            self.pause()
            dials: Values = {**self.recipe.dials, self.dial.id: self.dial.values[place]}
            camera = self.recipe.camera
            width = LOOK_CLOSE if self.close else LOOK_AT
            picture = develop(
                self.scene, camera.meaning(dials), camera.sensor, width, full_detail=self.close
            )
            self.labs[place] = to_lab(picture)
        return self.labs[place]

"""What the Wall measured lately, so that looking at it again costs next to nothing; bounded in
number."""

from dataclasses import dataclass

import numpy as np

from ...core.cache import BoundedCache
from ...core.develop.pipeline import Picture, develop
from ...core.develop.sense import Exposure
from ...core.judge.beside import in_words, looked_at
from ...core.measure.compare import Difference, by_region, to_lab
from ...core.measure.figures import Report
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from .. import address

WIDTH = 360  # pixels across on which recipes are compared
MOST_SEEN, MOST_PLAIN, MOST_BESIDE = 32, 6, 200


@dataclass(frozen=True)
class Seen:
    """A recipe on a scene: its figures, colours (h, w, 3) float16, half a megabyte, and
    exposure."""

    report: Report
    lab: np.ndarray
    exposure: Exposure | None


@dataclass(frozen=True)
class Beside:
    """A recipe beside a standard: CIEDE2000 on the whole and by region, and in words."""

    whole: Difference
    regions: dict[str, Difference]
    words: list[str]


_seen: BoundedCache[Seen] = BoundedCache(MOST_SEEN)
_plain: BoundedCache[Picture] = BoundedCache(MOST_PLAIN)
_beside: BoundedCache[Beside] = BoundedCache(MOST_BESIDE)


def _look(recipe: Recipe) -> str:
    return address.code(recipe).split("~", 1)[1]


def seen(scene: Scene, recipe: Recipe) -> Seen:
    """A recipe on a scene, measured or from memory."""

    def plain() -> Picture:
        return develop(scene, recipe.camera.interpret({}), recipe.camera.sensor, WIDTH)

    def make() -> Seen:
        picture, report = looked_at(
            scene, recipe, WIDTH, _plain.make((scene.id, recipe.body), plain)
        )
        return Seen(report, to_lab(picture).astype(np.float16), picture.exposure)

    return _seen.make((scene.id, _look(recipe)), make)


def against(scene: Scene, standard: Recipe, other: Recipe) -> Beside:
    """A recipe beside a standard, compared or from memory."""

    def make() -> Beside:
        one, two = seen(scene, standard), seen(scene, other)
        whole, regions = by_region(scene, one.lab.astype(np.float32), two.lab.astype(np.float32))
        return Beside(whole, regions, in_words(scene, (standard, one.report), (other, two.report)))

    return _beside.make((scene.id, _look(standard), _look(other)), make)

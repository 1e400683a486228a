"""What was measured lately, so that looking at it again costs next to nothing; bounded in
number."""

from dataclasses import dataclass

from ..core.arrays import Array
from ..core.cache import BoundedCache
from ..core.develop.pipeline import Picture
from ..core.develop.sense import Exposure
from ..core.judge.beside import in_words
from ..core.measure.compare import Difference, compare
from ..core.measure.looking import look_at, shipped
from ..core.measure.report import Report
from ..core.recipe import Recipe
from ..core.scenes.scene import Scene

MOST_SEEN, MOST_PLAIN, MOST_BESIDE = 20, 4, 200


@dataclass(frozen=True)
class Seen:
    """A recipe on a scene: its figures, L*a*b* (h, w, 3), a megabyte, and exposure."""

    report: Report
    lab: Array
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


def seen(scene: Scene, recipe: Recipe) -> Seen:
    """A recipe on a scene, measured or from memory."""

    def make() -> Seen:
        plain = _plain.make((scene.id, recipe.body), lambda: shipped(scene, recipe))
        looked = look_at(scene, recipe, plain=plain)
        return Seen(looked.report, looked.lab, looked.picture.exposure)

    return _seen.make((scene.id, scene.spot, recipe.key), make)


def against(scene: Scene, standard: Recipe, other: Recipe) -> Beside:
    """A recipe beside a standard, compared or from memory."""

    def make() -> Beside:
        one, two = seen(scene, standard), seen(scene, other)
        found = compare(scene, one.lab, two.lab)
        return Beside(found.whole, found.regions, in_words(one.report, two.report))

    return _beside.make((scene.id, scene.spot, standard.key, other.key), make)

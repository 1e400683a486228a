"""Looking at a recipe in a scene: its picture and its figures, at the one size at which recipes are
compared, so that every part of the program gives the same answer."""

from dataclasses import dataclass
from functools import cached_property

from ..base.arrays import Array
from ..base.cache import BoundedCache
from ..bodies import Body
from ..develop.pipeline import Picture, develop
from ..recipe import Recipe
from ..scenes.scene import Scene
from .compare import Comparison, compare, to_lab
from .figures import measure
from .report import Report

WIDTH = 360  # pixels across


@dataclass(frozen=True)
class Looked:
    """A recipe's picture of a scene, and its figures against the body as shipped."""

    picture: Picture
    report: Report

    @cached_property
    def lab(self) -> Array:
        """L*a*b* (h, w, 3) of the picture."""
        return to_lab(self.picture)


MOST_BYTES = 32 * 2**20
_shipped: BoundedCache[Array] = BoundedCache(MOST_BYTES, lambda lab: lab.nbytes)


def shipped(scene: Scene, camera: Body, width: int = WIDTH) -> Array:
    """L*a*b* overview (h, w, 3) of the scene as a body renders it when nothing was turned; worked
    out once for a while."""

    look, sensor = camera.meaning(camera.shipped), camera.sensor
    key = scene.frame, scene.spot, look, sensor, width
    return _shipped.make(key, lambda: develop(scene, look, sensor, width).overview_lab)


def look_at(scene: Scene, recipe: Recipe, width: int = WIDTH, from_plain: bool = True) -> Looked:
    """Develop and measure a recipe; `from_plain` as in `measure`."""
    look, sensor = recipe.look, recipe.camera.sensor
    picture = develop(scene, look, sensor, width)
    plain = shipped(scene, recipe.camera, width)
    return Looked(picture, measure(scene, look, sensor, picture, plain, from_plain))


def apart(scene: Scene, first: Recipe, second: Recipe) -> Comparison:
    """How far two recipes are apart on a scene. Noise and grain are the same in both, so that only
    the looks differ."""
    labs = (to_lab(develop(scene, r.look, r.camera.sensor, WIDTH)) for r in (first, second))
    return compare(scene, *labs)

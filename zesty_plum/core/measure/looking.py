"""Looking at a recipe in a scene: its picture and its figures, at the one size at which recipes are
compared, so that every part of the program gives the same answer."""

from dataclasses import dataclass
from functools import cached_property

from ..arrays import Array
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


def shipped(scene: Scene, recipe: Recipe, width: int = WIDTH) -> Picture:
    """The scene as the recipe's body renders it when nothing was turned."""
    camera = recipe.camera
    return develop(scene, camera.interpret({}), camera.sensor, width)


def look_at(
    scene: Scene, recipe: Recipe, width: int = WIDTH, plain: Picture | None = None
) -> Looked:
    """Develop and measure a recipe; `plain` is what `shipped` gives, where it is at hand."""
    look, sensor = recipe.look, recipe.camera.sensor
    picture = develop(scene, look, sensor, width)
    plain = plain or shipped(scene, recipe, width)
    return Looked(picture, measure(scene, look, sensor, picture, plain))


def apart(scene: Scene, first: Recipe, second: Recipe) -> Comparison:
    """How far two recipes are apart on a scene. Noise and grain are the same in both, so that only
    the looks differ."""
    labs = (to_lab(develop(scene, r.look, r.camera.sensor, WIDTH)) for r in (first, second))
    return compare(scene, *labs)

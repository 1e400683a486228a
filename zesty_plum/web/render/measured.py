"""What was measured lately, so that looking at it again costs next to nothing; bounded in
number."""

import hashlib
from dataclasses import dataclass, replace

import numpy as np

from ...core.base.arrays import Array
from ...core.base.cache import BoundedCache
from ...core.develop.pipeline import Picture, develop
from ...core.develop.sense import Exposure
from ...core.judge.beside import in_words
from ...core.judge.verdicts import Verdict, judge
from ...core.measure.compare import Difference, compare, to_lab
from ...core.measure.figures import measure
from ...core.measure.looking import WIDTH, look_at, shipped
from ...core.measure.purpose import in_the_end
from ...core.measure.report import Report
from ...core.recipe import Intent, Recipe
from ...core.scenes.scene import Scene
from ..frame.context import renders
from ..server.turns import Rank, turn
from .address import engine_of
from .eyes import followed

MOST_SEEN, MOST_BESIDE, MOST_JUDGED = 8, 200, 200


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
_beside: BoundedCache[Beside] = BoundedCache(MOST_BESIDE)
_judged: BoundedCache[list[Verdict]] = BoundedCache(MOST_JUDGED)


def seen(scene: Scene, recipe: Recipe) -> Seen:
    """A recipe on a scene, measured or from memory."""

    def make() -> Seen:
        with turn(Rank.FIGURES):
            looked = look_at(scene, recipe, from_plain=False)
        return Seen(looked.report, looked.lab, looked.picture.exposure)

    return _seen.make((scene.id, scene.spot, recipe.key), make)


def against(scene: Scene, standard: Recipe, other: Recipe) -> Beside:
    """A recipe beside a standard, compared or from memory."""

    def make() -> Beside:
        one, two = seen(scene, standard), seen(scene, other)
        found = compare(scene, one.lab, two.lab)
        words = in_words(one.report, two.report, eye=eye)
        return Beside(found.whole, found.regions, words)

    eye = followed()
    followed_by = tuple(sorted(eye.items()))
    return _beside.make((scene.id, scene.spot, standard.key, other.key, followed_by), make)


def graded(scene: Scene, recipe: Recipe, bits: int) -> Seen:
    """A recipe's files on a scene after the standard grade, measured or from memory."""

    def make() -> Seen:
        look, sensor = replace(recipe.look, bits=bits), recipe.camera.sensor
        with turn(Rank.FIGURES):
            before = develop(scene, look, sensor, WIDTH)
            end = in_the_end(scene, look, sensor, Intent.GRADE, WIDTH).pixels
            shown = Picture(end, end / np.float32(255), before.marks, before.exposure)
            plain = shipped(scene, recipe.camera)
            report = measure(scene, look, sensor, shown, plain, from_plain=False)
        return Seen(report, to_lab(shown), before.exposure)

    return _seen.make((scene.id, scene.spot, recipe.key, bits), make)


def against_graded(scene: Scene, standard: Recipe, other: Recipe, bits: int) -> Beside:
    """Two recipes after the standard grade, in words and figures of the graded pictures."""

    def make() -> Beside:
        one, two = (graded(scene, r, bits) for r in (standard, other))
        found = compare(scene, one.lab, two.lab)
        return Beside(found.whole, found.regions, in_words(one.report, two.report, graded=True))

    return _beside.make((scene.id, scene.spot, standard.key, other.key, bits), make)


def weighty(scene: Scene, recipe: Recipe, wait: bool = True) -> int | None:
    """How many verdicts weigh on a recipe in a scene, kept on disk; None where that is not known
    yet and nobody is to wait."""
    told = "|".join(map(str, (engine_of(recipe), scene.id, scene.spot, recipe.key, recipe.intent)))
    key = f"verdicts-{hashlib.sha256(told.encode()).hexdigest()[:32]}"
    held = renders().get(key)
    if held is not None:
        return int(held)
    if not wait:
        return None
    many = sum(v.weight > 1 for v in judged(scene, recipe, frozenset()))
    renders().put(key, str(many).encode())
    return many


def judged(scene: Scene, recipe: Recipe, schools: frozenset[str]) -> list[Verdict]:
    """Verdicts on a recipe in a scene, without remedies, worked out or from memory."""

    def make() -> list[Verdict]:
        with turn(Rank.FIGURES) as pause:
            return judge(scene, recipe, schools, remedies=False, pause=pause)

    return _judged.make((scene.id, scene.spot, recipe.key, recipe.intent, schools), make)

"""Verdicts: rules held against the figures of a recipe in a scene, each with the nearest dial
change that mends it."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..base.late import library
from ..base.nominal import printed_time
from ..develop.pipeline import Picture
from ..recipe import Recipe
from ..scenes.scene import Scene
from ..seen import amount
from .faults import Eye, Fault
from .remedies import Remedy, remedy
from .rules import Rule, rules
from .workbench import LOOK_AT, TRY_AT, Workbench

cv2 = library("cv2")

WORDS = {
    "skin": "skin",
    "skin_light": "light skin",
    "skin_dark": "dark skin",
    "white": "white",
    "sky": "the sky",
    "frame": "the frame",
}

GLANCE = 2.0  # times its limit from which on a fault is seen at first glance


@dataclass(frozen=True)
class Verdict:
    """One sentence with its evidence: `weight` as in the rules (1: only worth knowing), `region`,
    the middle of the spot (x, y as shares), the figure and its limit."""

    rule: str
    sentence: str
    reason: str
    weight: int
    importance: float
    region: str
    at: tuple[float, float] | None
    figure: float
    limit: float
    remedy: Remedy | None


def _spot(scene: Scene, picture: Picture, rule: Rule, region: str) -> tuple[float, float] | None:
    """Middle of the evidence: the clipped or crushed part of the region, else the region."""
    height, width = picture.pixels.shape[:2]
    inside = np.ones((height, width), bool)
    if region in scene.regions and scene.mask is not None:
        mask = cv2.resize(scene.mask, (width, height), interpolation=cv2.INTER_NEAREST)
        inside = mask == scene.regions[region]
    elif region != "frame":
        return None
    for name in ("clipped", "crushed"):
        if rule.figure.endswith(name):
            inside = inside & getattr(picture, name)
    rows, columns = np.nonzero(inside)
    if not len(rows):
        return None
    return float(np.median(columns) + 0.5) / width, float(np.median(rows) + 0.5) / height


def _clear(rule: Rule, value: float) -> str:
    """How plain a fault is to see."""
    return "seen at first glance" if abs(value) >= GLANCE * abs(rule.limit) else "clearly visible"


def judge(
    scene: Scene,
    recipe: Recipe,
    schools: frozenset[str] = frozenset(),
    remedies: bool = True,
    pause: Callable[[], None] = lambda: None,
) -> list[Verdict]:
    """Verdicts on a recipe in a scene, the weightiest first; none is the best answer. `pause` as in
    `Workbench`. Remedies take longer than all else; without them they can follow by `mended`."""
    bench = Workbench(scene, recipe.camera, LOOK_AT, pause)
    picture, report = bench.of(recipe.dials)
    eye = Eye(scene, recipe.intent, schools)
    found = [_verdict(scene, picture, fault) for fault in eye.faults(recipe.look, report)]
    return mended(scene, recipe, found, schools, pause) if remedies else found


def _verdict(scene: Scene, picture: Picture, fault: Fault) -> Verdict:
    rule, region, value = fault.rule, fault.region, fault.value
    return Verdict(
        rule=rule.id,
        sentence=rule.says.format(
            where=WORDS.get(region, region.replace("_", " ")),
            much=amount(value, rule.unit),
            limit=amount(rule.limit, rule.unit),
            clear=_clear(rule, value),
            time=printed_time(picture.exposure.time) if picture.exposure else "",
        ),
        reason=rule.reason,
        weight=rule.weight,
        importance=fault.importance,
        region=region,
        at=_spot(scene, picture, rule, region),
        figure=value,
        limit=rule.limit,
        remedy=None,
    )


def mended(
    scene: Scene,
    recipe: Recipe,
    verdicts: list[Verdict],
    schools: frozenset[str] = frozenset(),
    pause: Callable[[], None] = lambda: None,
) -> list[Verdict]:
    """The same verdicts, each with the nearest change that mends it, where there is one."""
    known = {rule.id: rule for rule in rules()}
    if not any(known[v.rule].fields for v in verdicts):
        return verdicts
    bench = Workbench(scene, recipe.camera, TRY_AT, pause)
    eye = Eye(scene, recipe.intent, schools)

    def with_remedy(verdict: Verdict) -> Verdict:
        rule = known[verdict.rule]
        if not rule.fields:
            return verdict
        found = remedy(rule, verdict.region, verdict.figure, recipe, bench, eye)
        return replace(verdict, remedy=found)

    return [with_remedy(v) for v in verdicts]

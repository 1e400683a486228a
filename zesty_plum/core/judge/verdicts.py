"""Verdicts: rules held against the figures of a recipe in a scene, each with the nearest dial
change that mends it."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ..develop.balance import keep_warm
from ..develop.pipeline import Picture
from ..measure.report import Report
from ..nominal import printed_iso, printed_time
from ..recipe import Recipe
from ..scenes.scene import Scene
from ..seen import amount
from .remedies import Remedy, remedy
from .rules import Rule, rules
from .workbench import LOOK_AT, TRY_AT, Workbench

WORDS = {
    "skin": "skin",
    "skin_light": "light skin",
    "skin_dark": "dark skin",
    "white": "white",
    "sky": "the sky",
    "frame": "the frame",
}


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


def _speaks(rule: Rule, recipe: Recipe, scene: Scene, schools: frozenset[str]) -> bool:
    """Whether a rule has anything to do with this intent, look, scene and person."""
    decided = rule.not_for & schools or rule.wanted_so(recipe.look)
    known = scene.mask is not None
    return recipe.intent in rule.intents and not decided and not (rule.alone and known)


def _expected(scene: Scene) -> float:
    """Mired by which people expect a light to look warm: what keep-warm leaves of it."""
    mired = scene.card_light[0]
    return mired - keep_warm(mired)


def _worst(rule: Rule, report: Report) -> tuple[str, float] | None:
    """The region that a rule has most to say of, and its figure."""
    found = [(r, v) for r, v in report.values(rule.figure) if rule.excess(v) > 0]
    return max(found, key=lambda pair: rule.excess(pair[1]), default=None)


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
    found = []
    for rule in rules():
        worst = _worst(rule, report) if _speaks(rule, recipe, scene, schools) else None
        if worst is None:
            continue
        region, value = worst
        if rule.less_by_lamps and value <= rule.limit + _expected(scene):
            continue
        sentence = rule.says.format(
            where=WORDS.get(region, region.replace("_", " ")),
            much=amount(value, rule.unit),
            limit=amount(rule.limit, rule.unit),
            iso=printed_iso(picture.exposure.floor) if picture.exposure else "",
            time=printed_time(picture.exposure.time) if picture.exposure else "",
        )
        over = rule.excess(value) / max(abs(rule.limit), 1e-6)
        found.append(
            Verdict(
                rule=rule.id,
                sentence=sentence,
                reason=rule.reason,
                weight=rule.weight,
                importance=rule.weight * min(2.0, 1 + 0.25 * over),
                region=region,
                at=_spot(scene, picture, rule, region),
                figure=value,
                limit=rule.limit,
                remedy=None,
            )
        )
    found.sort(key=lambda v: -v.importance)
    return mended(scene, recipe, found, pause) if remedies else found


def mended(
    scene: Scene,
    recipe: Recipe,
    verdicts: list[Verdict],
    pause: Callable[[], None] = lambda: None,
) -> list[Verdict]:
    """The same verdicts, each with the nearest change that mends it, where there is one."""
    known = {rule.id: rule for rule in rules()}
    if not any(known[v.rule].fields for v in verdicts):
        return verdicts
    bench = Workbench(scene, recipe.camera, TRY_AT, pause)

    def with_remedy(verdict: Verdict) -> Verdict:
        rule = known[verdict.rule]
        if not rule.fields:
            return verdict
        found = remedy(rule, verdict.region, verdict.figure, recipe, bench)
        return replace(verdict, remedy=found)

    return [with_remedy(v) for v in verdicts]

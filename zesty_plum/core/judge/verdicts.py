"""Verdicts: rules held against the figures of a recipe in a scene, each with the nearest dial
change that mends it.

Remedies are found by trying: every dial that bears on the fault is moved a step, two, three, and
the look is rendered and measured again; the smallest move that mends the fault wins, and what it
costs elsewhere is said with it.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import cv2
import numpy as np

from ..bodies import Body, Dial
from ..develop.pipeline import Picture, develop
from ..measure.compare import difference, to_lab
from ..measure.figures import Report, measure
from ..nominal import printed_iso
from ..recipe import Recipe
from ..scenes.scene import Scene
from .rules import Rule, rules

LOOK_AT, TRY_AT = 480, 240  # pixels across: to judge, and to try remedies
MOST_STEPS = 4
WORTH = 0.15  # of the limit: a remedy that moves the figure by less is none
WORDS = {
    "skin": "skin",
    "skin_light": "light skin",
    "skin_medium": "medium skin",
    "skin_dark": "dark skin",
    "white": "white",
    "sky": "the sky",
    "frame": "the frame",
}
PLACES = (
    ("upper left", "top", "upper right"),
    ("left", "middle", "right"),
    ("lower left", "bottom", "lower right"),
)


@dataclass(frozen=True)
class Remedy:
    """A dial change that mends a fault: where it goes, what the figure becomes, and what it costs,
    in words."""

    dial: str
    label: str
    value: float | int | str
    printed: str
    before: float
    after: float
    mended: bool
    sentence: str


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


def figures_at(report: Report, path: str) -> list[tuple[str, float]]:
    """Values of a rule's figure: (region or group, value); nothing where the scene has no such
    region."""
    group, _, name = path.partition(".")
    if group == "regions":
        region, _, name = name.rpartition(".")
        wanted = [
            r
            for r in report.regions
            if r == region or (region.endswith("*") and r.startswith(region[:-1]))
        ]
        return [(r, float(getattr(report.regions[r], name))) for r in wanted]
    part = getattr(report, group)
    if part is None:
        return []
    return [(group, float(part[name] if isinstance(part, dict) else getattr(part, name)))]


def amount(value: float, unit: str) -> str:
    """A figure in words."""
    size = abs(value)
    if unit == "share":
        return f"{100 * size:.1f} %" if size < 0.0995 else f"{100 * size:.0f} %"
    if unit == "stops":
        return f"{size:.1f} {'stop' if 0.95 <= size < 1.05 else 'stops'}"
    if unit == "mired":
        return f"{size:.0f} mired"
    if unit == "duv":
        return f"{size:.3f}"
    return f"{size:.1f}"


def place_of(at: tuple[float, float] | None) -> str:
    """A spot of the frame in words."""
    if at is None:
        return ""
    return PLACES[min(2, int(at[1] * 3))][min(2, int(at[0] * 3))]


def _spot(scene: Scene, picture: Picture, rule: Rule, region: str) -> tuple[float, float] | None:
    """Middle of the evidence: the clipped or crushed part of the region, else the region."""
    height, width = picture.pixels.shape[:2]
    inside = np.ones((height, width), bool)
    if region in scene.regions and scene.mask is not None:
        inside = (
            cv2.resize(scene.mask, (width, height), interpolation=cv2.INTER_NEAREST)
            == scene.regions[region]
        )
    elif region not in ("frame",):
        return None
    for name in ("clipped", "crushed"):
        if rule.figure.endswith(name):
            inside = inside & getattr(picture, name)
    rows, columns = np.nonzero(inside)
    if not len(rows):
        return None
    return float(np.median(columns) + 0.5) / width, float(np.median(rows) + 0.5) / height


class Workbench:
    """Renders and measures recipes of one body in one scene, each once.

    `pause` is called before each: it may wait, or raise.
    """

    def __init__(
        self, scene: Scene, camera: Body, width: int, pause: Callable[[], None] = lambda: None
    ):
        self.scene, self.camera, self.width, self.pause = scene, camera, width, pause
        self.reports: dict[tuple[tuple[str, object], ...], Report] = {}
        pause()
        self.plain = develop(scene, camera.interpret({}), camera.sensor, width)

    def of(self, dials: dict[str, float | int | str]) -> tuple[Picture, Report]:
        """A recipe's picture and its figures."""
        self.pause()
        look = self.camera.interpret(dials)
        picture = develop(self.scene, look, self.camera.sensor, self.width)
        report = measure(self.scene, look, self.camera.sensor, picture, self.plain)
        self.reports[tuple(dials.items())] = report
        return picture, report

    def report(self, dials: dict[str, float | int | str]) -> Report:
        """The figures alone, remembered."""
        known = self.reports.get(tuple(dials.items()))
        return known if known is not None else self.of(dials)[1]

    @staticmethod
    def apart(first: Picture, second: Picture) -> float:
        """Mean CIEDE2000 between two pictures."""
        return difference(to_lab(first), to_lab(second)).mean


def _touches(camera: Body, dial_id: str) -> frozenset[str]:
    """Fields of the look that a dial can change."""
    fields: set[str] = set()
    for choice in camera.dial(dial_id).choices:
        fields |= set(choice.sets) | set(choice.adds)
    return frozenset(fields)


def _moves(
    camera: Body, dial: Dial, dials: dict[str, float | int | str]
) -> Iterable[tuple[int, float | int | str]]:
    """Places near where a dial stands as (steps, value), nearest first; all of them where they are
    choices by name."""
    at = dial.position(dials[dial.id])
    named = isinstance(dial.values[0], str)
    reach = len(dial.values) if named else MOST_STEPS
    for steps in range(1, reach + 1):
        for way in (-1, 1):
            place = at + way * steps
            if 0 <= place < len(dial.values):
                value = dial.values[place]
                if camera.counts(dial, {**dials, dial.id: value}):
                    yield (1 if named else steps), value


def _cost(now: Report, then: Report) -> str:
    """The greatest price of a change elsewhere, in words; empty when there is none worth saying."""
    if now.skin and then.skin:
        stops = now.skin["darker"] - then.skin["darker"]
        if abs(stops) >= 0.08:
            return f"faces get {amount(stops, 'stops')} {'lighter' if stops > 0 else 'darker'}"
    if now.iso and then.iso and then.iso > 1.3 * now.iso:
        return f"the ISO goes from {printed_iso(now.iso)} to {printed_iso(then.iso)}"
    if then.frame.crushed > now.frame.crushed + 0.02:
        return f"{amount(then.frame.crushed, 'share')} of the frame closes to black"
    if then.frame.clipped > now.frame.clipped + 0.01:
        return f"{amount(then.frame.clipped, 'share')} of the frame clips"
    change = then.frame.chroma / max(now.frame.chroma, 1e-6) - 1
    if abs(change) > 0.06:
        return f"colour gets {100 * abs(change):.0f} % {'stronger' if change > 0 else 'weaker'}"
    lighter = then.frame.lightness - now.frame.lightness
    if abs(lighter) > 1.5:
        return (
            f"the whole picture gets {abs(lighter):.0f} units of lightness "
            f"{'lighter' if lighter > 0 else 'darker'}"
        )
    return ""


def _remedy(rule: Rule, region: str, recipe: Recipe, bench: Workbench) -> Remedy | None:
    camera, dials = recipe.camera, dict(recipe.dials)
    now = bench.report(dials)
    start = dict(figures_at(now, rule.figure)).get(region)
    if start is None or rule.excess(start) <= 0:
        return None
    best: tuple[float, Dial, float | int | str, float, Report] | None = None
    for dial in camera.dials:
        touched = _touches(camera, dial.id) & set(rule.fields)
        if not touched or not camera.counts(dial, dials):
            continue
        rank = min(rule.fields.index(f) for f in touched)
        for steps, value in _moves(camera, dial, dials):
            then = bench.report({**dials, dial.id: value})
            figure = dict(figures_at(then, rule.figure)).get(region)
            if figure is None:
                continue
            left = max(0.0, rule.excess(figure)) / rule.excess(start)
            overshot = (
                figure * start < 0 and abs(figure) > abs(start) / 2
            )  # the same fault the other way round
            if left > 0.6 or overshot or abs(figure - start) < WORTH * abs(rule.limit):
                continue
            # Mended counts most, then few steps, then the order of the rule, then a small change of
            # the picture.
            price = (
                10 * left
                + steps
                + 0.6 * rank
                + 0.15 * abs(then.frame.lightness - now.frame.lightness)
            )
            price += 4.0 if "style" in touched else 0.0  # another style is another picture
            if best is None or price < best[0]:
                best = (price, dial, value, figure, then)
    if best is None:
        return None
    _, dial, value, figure, then = best
    mended = rule.excess(figure) <= 0
    printed = dial.choice(value).label
    cost = _cost(now, then)
    move = f"{dial.label} {printed}"
    verb = "brings it" if mended else "takes it part of the way"
    sentence = (
        f"{move} {verb} from {amount(start, rule.unit)} to "
        f"{amount(figure, rule.unit)}{'; ' + cost if cost else ''}."
    )
    return Remedy(dial.id, dial.label, value, printed, start, figure, mended, sentence)


def judge(
    scene: Scene,
    recipe: Recipe,
    schools: frozenset[str] = frozenset(),
    remedies: bool = True,
    pause: Callable[[], None] = lambda: None,
) -> list[Verdict]:
    """Verdicts on a recipe in a scene, the weightiest first; none is the best answer. `pause` as in
    `Workbench`."""
    camera = recipe.camera
    bench = Workbench(scene, camera, LOOK_AT, pause)
    picture, report = bench.of(dict(recipe.dials))
    small = Workbench(scene, camera, TRY_AT, pause) if remedies else None
    found = []
    for rule in rules():
        if (
            recipe.intent not in rule.intents
            or rule.not_for & schools
            or rule.wanted_so(recipe.look)
        ):
            continue
        if rule.alone and scene.mask is not None:
            continue
        speaking = [(r, v) for r, v in figures_at(report, rule.figure) if rule.excess(v) > 0]
        if not speaking:
            continue
        region, value = max(speaking, key=lambda pair: rule.excess(pair[1]))
        at = _spot(scene, picture, rule, region)
        where = WORDS.get(region, region.replace("_", " "))
        much = amount(value, rule.unit)
        iso = f"{picture.exposure.floor:.0f}" if picture.exposure else ""
        sentence = rule.says.format(
            where=where, much=much, limit=amount(rule.limit, rule.unit), iso=iso
        )
        over = rule.excess(value) / max(abs(rule.limit), 1e-6)
        importance = rule.weight * min(2.0, 1 + 0.25 * over)
        remedy = _remedy(rule, region, recipe, small) if small and rule.fields else None
        found.append(
            Verdict(
                rule.id,
                sentence,
                rule.reason,
                rule.weight,
                importance,
                region,
                at,
                value,
                rule.limit,
                remedy,
            )
        )
    return sorted(found, key=lambda v: -v.importance)

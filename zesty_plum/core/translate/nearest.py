"""From finished pictures that somebody loves to recipes that come near them.

Nobody knows what was in front of that camera. So where a picture shows one of our scenes, or comes
with a plain version of itself, colours are compared place by place; else what it has in common with
the scenes is compared, each figure by how much it differs from scene to scene anyway: tone, the
colour of darks, middles and lights, and skin with skin, sky with sky, foliage, greys. What leaves a
figure where it was is preferred, so a picture that tells nothing of a dial leaves it as shipped.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np

from .. import scenes
from ..base.arrays import Array, Matrix
from ..base.errors import PlumError
from ..base.late import library
from ..bodies import FIRST, Body, Dial, Value, body
from ..bodies.descent import descend
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..colour.spaces import srgb_encode
from ..develop.appearance import appearance, colour_distance
from ..learn.align import COARSE, correlation, structure
from ..look import Look, Stage, about
from ..recipe import Recipe
from ..scenes.scene import Scene
from . import grainy, scene_appearance
from .kinds import KINDS, LEAST, SAID, kinds

cv2 = library("cv2")

ACROSS = 96  # cells of a picture that are compared
SHOWS = 0.72  # correlation of structure from which a picture shows a scene
MOST, APART = 3, 2.0  # recipes that are given; mean CIEDE2000 between two of them
FAR = 1.9  # times the least distance, up to which another style is worth a look
SWEEPS = 3
PARTS, SHRUNK = 8, 0.15  # of each scene, and share of independence
UNKNOWN = (
    "What light it was taken in: white balance is given as automatic, with the shift that its "
    "colours ask for.",
    "Sharpness and noise reduction: they go with the lens and with what is in it. Grain is told of "
    "even places, if the picture has its own size still.",
    "Guard, metering and ISO: they act before the picture is there.",
)
TESTED = ("exposure", "shift_mired", "shift_duv")  # of what acts before tone


@dataclass(frozen=True)
class Nearest:
    """A recipe, how far from the picture it is (mean CIEDE2000 where places are compared, else in
    units of what scenes differ by), and what it is nearest in and furthest from."""

    recipe: Recipe
    distance: float
    words: tuple[str, ...]


@dataclass(frozen=True)
class Answer:
    """What was found: recipes, best first; how pictures were compared; what cannot be known."""

    found: tuple[Nearest, ...]
    by: str
    unknown: tuple[str, ...] = UNKNOWN


def nearest(
    pictures: Sequence[Scene],
    camera: Body,
    plain: Scene | None = None,
    pause: Callable[[], None] = lambda: None,
) -> Answer:
    """Recipes of a body that come nearest to finished pictures; `plain` is the same picture without
    a look. PlumError where a raw is given."""
    if not pictures:
        raise PlumError("Give a finished picture whose look you are after.")
    for picture in pictures:
        if not picture.finished:
            raise PlumError(
                f"'{picture.title}' is a raw: it has no look yet. Give a finished picture."
            )
    cost, by = _cost(pictures, plain, camera)
    search = _Search(camera, cost, pause)
    tried = sorted((search.descend(style) for style in search.styles()), key=lambda t: t[0])
    grain = next(filter(None, map(grainy.found, pictures)), None)
    if grain:
        tried = [(off, grainy.put(grain, camera, dials)) for off, dials in tried]
        by = f"{by}; its grain told of even places"
    return Answer(_different(tried, camera, cost), by)


def _cost(
    pictures: Sequence[Scene], plain: Scene | None, camera: Body
) -> tuple["_ByPlace | _ByFigures", str]:
    if plain is not None:
        places = _ByPlace([(plain, pictures[0])])
        return places, "place by place, with its plain version"
    shown = [(scene, picture) for picture in pictures if (scene := _scene_in(picture))]
    if len(shown) == len(pictures):
        names = ", ".join(scene.title for scene, _ in shown)
        return _ByPlace(shown), f"place by place: it shows {names}"
    figures = _ByFigures(pictures, camera)
    common = [SAID[k] for k in KINDS if k in figures.present]
    return figures, "by tone and colour" + (f", and {', '.join(common)}" if common else "")


# ---- place by place ------------------------------------------------------------------------------
def _grey(scene: Scene) -> Array:
    pixels = scene.at_width(COARSE)
    if not scene.finished:
        pixels = srgb_encode(np.clip(pixels / np.float32(1.44), 0, 1) ** np.float32(0.7))
    return np.ascontiguousarray(pixels @ np.array([0.2126, 0.7152, 0.0722], np.float32))


@cache
def _structures() -> dict[str, Array]:
    return {name: structure(_grey(scenes.load(name)), 6.0) for name in scenes.index()}


def _scene_in(picture: Scene) -> Scene | None:
    """The sample scene that a picture shows, whole, if it does."""
    drawn = structure(_grey(picture), 6.0)
    best, found = SHOWS, None
    for name, known in _structures().items():
        if abs(known.shape[0] - drawn.shape[0]) > 6:
            continue
        rows = min(len(known), len(drawn))
        now = correlation(known[:rows], drawn[:rows], np.ones((rows, COARSE), np.float32))
        if now > best:
            best, found = now, name
    return scenes.load(found) if found else None


def _cells(scene: Scene, rows: int) -> Array:
    made = cv2.resize(scene.at_width(2 * ACROSS), (ACROSS, rows), interpolation=cv2.INTER_AREA)
    return np.asarray(made, np.float32).reshape(-1, 3)


class _ByPlace:
    """Mean CIEDE2000 of pictures from scenes, place by place."""

    price, most, doubt = 0.05, frozenset(TESTED), 0.0

    def __init__(self, both: Sequence[tuple[Scene, Scene]]) -> None:
        self._both = []
        for scene, picture in both:
            rows = max(1, round(ACROSS * picture.size[1] / picture.size[0]))
            aim = encoded_to_lab(_cells(picture, rows))
            self._both.append((scene, _cells(scene, rows), aim))

    def __call__(self, look: Look, camera: Body) -> float:
        means = []
        for scene, colours, aim in self._both:
            lab = scene_appearance(look, camera.sensor, scene, colours)
            means.append(float(ciede2000(lab, aim).mean()))
        return float(np.mean(means))

    def words(self, look: Look, camera: Body) -> tuple[str, ...]:
        """How near it comes."""
        return (f"{self(look, camera):.1f} CIEDE2000 from it on average, place by place.",)


# ---- by figures ----------------------------------------------------------------------------------
PERCENTILES = (3, 15, 35, 50, 65, 85, 97)
NAMES = (
    *[f"tone {p}" for p in PERCENTILES],
    *[f"{part} {axis}" for part in ("darks", "middles", "lights") for axis in ("a*", "b*")],
    "all colour",
    "fullest colour",
    *[f"{k} {what}" for k in KINDS for what in ("lightness", "a*", "b*")],
)


def _figures(lab: Array, height: Array) -> Array:
    """Figures of colours (n, 3), in the order of `NAMES`; NaN of kinds that are not there."""
    light, chroma = lab[:, 0], np.hypot(lab[:, 1], lab[:, 2])
    out = list(np.percentile(light, PERCENTILES))
    low, high = np.percentile(light, (33, 67))
    for part in (light <= low, (light > low) & (light < high), light >= high):
        out += [float(lab[part, k].mean()) if part.any() else 0.0 for k in (1, 2)]
    out += [float(chroma.mean()), float(np.percentile(chroma, 95))]
    for where in kinds(lab, height).values():
        there = where.mean() >= LEAST
        out += list(np.median(lab[where], 0)) if there else [math.nan] * 3
    return np.array(out)


class _ByFigures:
    """How far the figures of pictures are from those of the scenes, against what they differ by
    from picture to picture anyway, together (Mahalanobis): what a picture shows moves tones and
    colours jointly, and only what is left of that speaks of a look. Exposure is left alone: how
    bright a picture is says more of what it shows. What is far from as shipped has to say more for
    itself (`doubt`, for each CIEDE2000), for one picture says little."""

    price, most, doubt = 2.0, frozenset(TESTED) - {"exposure"}, 0.02

    def __init__(self, pictures: Sequence[Scene], camera: Body) -> None:
        each = []
        for picture in pictures:
            rows = max(1, round(ACROSS * picture.size[1] / picture.size[0]))
            each.append(_figures(encoded_to_lab(_cells(picture, rows)), _heights(rows)))
        aim = _mean(np.array(each))[0]
        self._known = np.flatnonzero(~np.isnan(aim))
        self._aim = aim[self._known]
        self.present = {k for k in KINDS if not np.isnan(aim[NAMES.index(f"{k} a*")])}
        self._scenes = [(scenes.load(n), *_small(n)) for n in scenes.index()]
        spread = _content()[np.ix_(self._known, self._known)] / len(pictures)
        self._whiten = np.linalg.cholesky(np.linalg.inv(spread + np.eye(len(self._known)))).T
        self._deviation = np.sqrt(np.diag(spread) + 1)

    def _off(self, look: Look, camera: Body) -> Array:
        made = [
            _figures(scene_appearance(look, camera.sensor, s, c), h) for s, c, h in self._scenes
        ]
        return np.asarray(_mean(np.array(made))[0][self._known] - self._aim)

    def __call__(self, look: Look, camera: Body) -> float:
        off = self._whiten @ self._off(look, camera)
        return float(np.sqrt((np.minimum(np.abs(off), 3.0) ** 2).mean()))

    def words(self, look: Look, camera: Body) -> tuple[str, ...]:
        """What it is nearest in and furthest from."""
        off = np.abs(self._off(look, camera)) / self._deviation
        order = np.argsort(off)
        near = list(dict.fromkeys(_said(NAMES[self._known[k]]) for k in order))
        far = _said(NAMES[self._known[order[-1]]])
        return (f"Nearest in {near[0]} and {near[1]}; furthest off in {far}.",)


@cache
def _content() -> Matrix:
    """Covariance of the figures from picture to picture, of parts of the scenes in plain
    rendering, drawn towards independence where there are few."""
    random, rows_of = np.random.default_rng(1), []
    for name in scenes.index():
        scene = scenes.load(name)
        rows = max(1, round(ACROSS * scene.size[1] / scene.size[0]))
        colours = _cells(scene, rows)
        lab = scene_appearance(Look(), body(FIRST).sensor, scene, colours).reshape(rows, ACROSS, 3)
        for _ in range(PARTS):
            share = random.uniform(0.5, 1.0)
            down, across = int(share * rows), int(share * ACROSS)
            y, x = int(random.uniform(0, rows - down)), int(random.uniform(0, ACROSS - across))
            part = np.ascontiguousarray(lab[y : y + down, x : x + across])
            heights = np.repeat(1 - (np.arange(down) + 0.5) / down, across)
            rows_of.append(_figures(part.reshape(-1, 3), heights.astype(np.float32)))
    made = np.array(rows_of)
    mean, spread = _mean(made)
    off = np.where(np.isnan(made), 0, made - mean)
    both = (~np.isnan(made)).astype(float)
    joint = (off.T @ off) / np.maximum(both.T @ both, 1)
    return np.asarray((1 - SHRUNK) * joint + SHRUNK * np.diag(spread**2))


def _mean(rows: Array) -> tuple[Array, Array]:
    """Mean and standard deviation of the columns of (n, m), without NaN; NaN where all are."""
    known = ~np.isnan(rows)
    many = np.where(known.any(0), known.sum(0), np.nan)
    mean = np.where(known, rows, 0).sum(0) / many
    off = np.where(known, rows - mean, 0)
    return np.asarray(mean), np.asarray(np.sqrt((off * off).sum(0) / many))


def _said(name: str) -> str:
    first, last = name.rsplit(" ", 1)
    if first == "tone":
        p = int(last)
        return "dark tones" if p < 30 else "middle tones" if p < 70 else "bright tones"
    if first in KINDS:
        return {"skin": "skin and wood", "sky": "sky", "foliage": "foliage", "grey": "greys"}[first]
    return (
        f"the colour of {first}"
        if first in ("darks", "middles", "lights")
        else "strength of colour"
    )


def _heights(rows: int) -> Array:
    return np.repeat(1 - (np.arange(rows) + 0.5) / rows, ACROSS).astype(np.float32)


@cache
def _small(name: str) -> tuple[Array, Array]:
    scene = scenes.load(name)
    rows = max(1, round(ACROSS * scene.size[1] / scene.size[0]))
    keep = np.arange(rows * ACROSS) % 3 == 0
    return _cells(scene, rows)[keep], _heights(rows)[keep]


# ---- the search ----------------------------------------------------------------------------------
class _Search:
    """Coordinate descent over the dials that a picture can tell of, one style at a time."""

    def __init__(
        self, camera: Body, cost: _ByPlace | _ByFigures, pause: Callable[[], None]
    ) -> None:
        self._camera, self._of, self._pause = camera, cost, pause
        self._known: dict[Look, float] = {}
        self._shipped = appearance(camera.interpret({}), camera.sensor)
        self._style = camera.style_dial
        self._dials = [d for d in camera.dials if _tells(d, cost.most) and d is not self._style]

    def styles(self) -> list[dict[str, Value]]:
        """Starts: each style of the body, the likeliest first, or as shipped where it has none."""
        whole = self._camera.complete({})
        if self._style is None:
            return [whole]
        starts = [{**whole, self._style.id: v} for v in self._style.values]
        return sorted(starts, key=self._cost)[: MOST + 2]

    def _cost(self, dials: dict[str, Value]) -> float:
        look = self._camera.interpret(dials)
        if look not in self._known:
            self._pause()
            shown = appearance(look, self._camera.sensor)
            far = colour_distance(shown, self._shipped)[0]
            self._known[look] = self._of(look, self._camera) + self._of.doubt * far
        return self._known[look] + self._of.price * sum(
            ((d.position(dials[d.id]) - d.position(d.default)) / len(d.values)) ** 2
            for d in self._dials
        )

    def descend(self, dials: dict[str, Value]) -> tuple[float, dict[str, Value]]:
        """Walk downhill from somewhere, keeping its style."""
        return descend(dials, self._dials, self._cost, SWEEPS, 1e-3)


def _tells(dial: Dial, most: frozenset[str]) -> bool:
    """Whether a finished picture tells of a dial, with these fields of what acts before tone."""
    stages = {about()[name].stage for name in dial.touches if name not in most}
    return bool(dial.touches) and stages <= {Stage.TABLE}


def _different(
    tried: list[tuple[float, dict[str, Value]]], camera: Body, cost: _ByPlace | _ByFigures
) -> tuple[Nearest, ...]:
    """At most `MOST` that differ to the eye, none much further off than the best."""
    out: list[Nearest] = []
    least = cost(camera.interpret(tried[0][1]), camera)
    for _, dials in tried:
        look = camera.interpret(dials)
        distance = cost(look, camera)
        seen = appearance(look, camera.sensor)
        far = [colour_distance(seen, appearance(n.recipe.look, camera.sensor))[0] for n in out]
        if out and (distance > FAR * least + 0.3 or min(far) < APART):
            continue
        name = f"Near it {len(out) + 1}" if out else "Near it"
        own = {d.id: dials[d.id] if camera.counts(d, dials) else d.default for d in camera.dials}
        recipe = Recipe(name, camera.id, own)
        out.append(Nearest(recipe, round(distance, 3), cost.words(look, camera)))
        if len(out) == MOST:
            break
    return tuple(out)

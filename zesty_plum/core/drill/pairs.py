"""Two pictures, one dial apart: which one moved, and how far; each question drawn from a seed, and
its answer explained by what to look at."""

import itertools
import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ..base.arrays import Array
from ..base.late import library
from ..bodies import Body
from ..colour.difference import ciede2000
from ..judge.verdicts import WORDS
from ..look import Look
from ..scenes.scene import Scene
from .dimensions import BY_ID, DIMENSIONS, Dimension
from .quest import Quest

cv2 = library("cv2")

CHOICES, CATCH = 4, 8  # dials to choose from; one question in so many shows no change at all
SOFT = 0.03  # of the width, over which differences are gathered before the place is marked
NOTHING = "nothing"
Known = Callable[[Dimension], Quest | None]  # what is believed of the person, if anything
RATIOS = (3.0, 2.4, 2.0, 1.7, 1.45, 1.28, 1.16)  # between sizes to choose from, the easiest first


@dataclass(frozen=True)
class Pair:
    """A question: the scene, what moves by how much of its unit and which way, whether the moved
    one stands on the right, and the answers to choose from; `dim` NOTHING where nothing moves."""

    scene: str
    dim: str
    size: float
    up: bool
    right: bool
    choices: tuple[str, ...]
    fine: bool = False

    @property
    def answer(self) -> str:
        """What is right."""
        return self.dim

    def looks(self, base: Look) -> tuple[Look, Look]:
        """The looks on the left and on the right."""
        if self.dim == NOTHING:
            return base, base
        moved = BY_ID[self.dim].moved(base, self.size, self.up)
        return (base, moved) if self.right else (moved, base)


def _way(dim: Dimension, base: Look, size: float, draw: random.Random) -> bool:
    """Which way it goes: grain and sharpness cannot go below nothing."""
    if dim.id == "grain" and getattr(base, dim.field) - size < 0:
        return True
    return draw.random() < 0.5


def which(seed: int, number: int, scenes: Sequence[str], base: Look, known: Known) -> Pair:
    """Question `number` of a drill: dials come in turn, shuffled; the size tells most about the
    person where something is `known` of them, else it goes down by the seed alone."""
    draw = random.Random(f"which-{seed}-{number}")
    order = random.Random(f"order-{seed}-{number // len(DIMENSIONS)}")
    dims = list(DIMENSIONS)
    order.shuffle(dims)
    dim = dims[number % len(dims)]
    scene = scenes[draw.randrange(len(scenes))]
    catch = number % CATCH == random.Random(f"catch-{seed}-{number // CATCH}").randrange(CATCH)
    size = _size(dim, number, draw, known)
    others = [d.id for d in DIMENSIONS if d.id != dim.id and d.fine == dim.fine]
    if len(others) < CHOICES - 1:
        others += [d.id for d in DIMENSIONS if d.id != dim.id and d.fine != dim.fine]
        offered = others[: CHOICES - 1]
    else:
        offered = draw.sample(others, CHOICES - 1)
    choices = tuple(d.id for d in DIMENSIONS if d.id in (dim.id, *offered))
    up = _way(dim, base, 2.0**size, draw)
    right = draw.random() < 0.5
    if catch:
        return Pair(scene, NOTHING, 0.0, True, right, (*choices, NOTHING), dim.fine)
    return Pair(scene, dim.id, 2.0**size, up, right, (*choices, NOTHING), dim.fine)


def _size(dim: Dimension, number: int, draw: random.Random, known: Known) -> float:
    quest = known(dim)
    if quest is not None:
        return quest.ask(dim.sizes)
    step = min(number // len(DIMENSIONS), 6)
    return dim.scale.expected + 2.5 - 0.5 * step + draw.uniform(-0.25, 0.25)


@dataclass(frozen=True)
class Far:
    """How far: a pair whose dial is told, and sizes of its unit to choose from, a ratio apart."""

    pair: Pair
    sizes: tuple[float, ...]
    ratio: float


def far(seed: int, number: int, scenes: Sequence[str], base: Look, known: Quest | None) -> Far:
    """Question `number` of how far: well above what is just seen, so that only its size is asked;
    the ratio between the answers is what makes it hard."""
    draw = random.Random(f"far-{seed}-{number}")
    dims = [d for d in DIMENSIONS if not d.fine]
    random.Random(f"far-order-{seed}-{number // len(dims)}").shuffle(dims)
    dim = dims[number % len(dims)]
    ratio = RATIOS[min(number // 3, len(RATIOS) - 1)]
    if known is not None:
        ratio = 2.0 ** known.ask([math.log2(r) for r in RATIOS])
    size = 2.0 ** draw.uniform(
        dim.scale.expected + 1.2, min(dim.scale.high, dim.scale.expected + 2.4)
    )
    place = draw.randrange(CHOICES)
    sizes = tuple(size * ratio ** (k - place) for k in range(CHOICES))
    up = _way(dim, base, size, draw)
    pair = Pair(scenes[draw.randrange(len(scenes))], dim.id, size, up, True, (dim.id,), dim.fine)
    return Far(pair, sizes, ratio)


# ---- what to look at -----------------------------------------------------------------------------
@dataclass(frozen=True)
class Shown:
    """Where a change shows most: the place as shares of width and height, the name of the region
    there or empty, and CIEDE2000 there."""

    at: tuple[float, float]
    region: str
    there: float


def shown(scene: Scene, first: Array, second: Array) -> Shown:
    """Where two L*a*b* pictures (h, w, 3) of a scene differ most, gathered over a small area."""
    across = max(3, round(SOFT * first.shape[1])) | 1
    places = ciede2000(first, second).astype(np.float32)
    soft = cv2.blur(places, (across, across), borderType=cv2.BORDER_CONSTANT)  # not at the edge
    y, x = np.unravel_index(int(soft.argmax()), soft.shape)
    height, width = soft.shape
    at = float((x + 0.5) / width), float((y + 0.5) / height)
    return Shown(at, _named(scene, *at), float(soft[y, x]))


def _named(scene: Scene, across: float, down: float) -> str:
    """The region of a scene at a place, shares of width and height; empty where there is none."""
    if scene.mask is None:
        return ""
    height, width = scene.mask.shape
    value = scene.mask[int(down * height), int(across * width)]
    return next((name for name, v in scene.regions.items() if v == value), "")


def explained(pair: Pair, chosen: str, seen: Shown, camera: Body) -> str:
    """Why an answer is right or wrong, and what to look at next time."""
    if pair.dim == NOTHING:
        return "Nothing moved: both are the same picture. Such questions keep the others honest."
    dim = BY_ID[pair.dim]
    words = f"{dim.label}, {dim.words(pair.size, pair.up)}{in_steps(dim, pair.size, camera)}. "
    words += dim.look_at
    on = WORDS.get(seen.region, "")
    region = f" It shows most at the mark{f', on {on}' if on and on != 'the frame' else ''}."
    words += region if seen.there >= 0.5 else " Nobody sees this for certain."
    if chosen in BY_ID and chosen != pair.dim:
        words += f" {_instead(BY_ID[chosen], dim)}"
    return words


def _instead(said: Dimension, dim: Dimension) -> str:
    """Where what somebody took it for would show."""
    if said.look_at == dim.look_at:
        return f"{said.label} would show there too, as {said.more} or {said.less}."
    return f"{said.label} would show elsewhere: {_lower(said.look_at)}"


def _lower(text: str) -> str:
    return text[:1].lower() + text[1:]


def in_steps(dim: Dimension, size: float, camera: Body) -> str:
    """The same in steps of a body's dial, where it has one for it."""
    for dial in camera.dials:
        places = [c for c in dial.choices if dim.field in c.adds or dim.field in c.sets]
        if len(places) < 3 or dial.named:
            continue
        values = [camera.interpret({dial.id: v}) for v in dial.values]
        at = [getattr(v, dim.field) for v in values]
        steps = [abs(b - a) for a, b in itertools.pairwise(at) if abs(b - a) > 1e-9]
        if steps:
            many = size / (sum(steps) / len(steps))
            told = f"{many:.1f}".rstrip("0").rstrip(".")
            return f", {told} {'step' if told == '1' else 'steps'} of {dial.label} on {camera.name}"
    return ""

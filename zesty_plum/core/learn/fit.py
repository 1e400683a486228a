"""Fitting the smooth core and its table to colours of which both are known: the light, and what the
camera made of it.

The core is fitted by Levenberg and Marquardt's method with differences for slopes, on differences
of L*a*b* that are scaled as CIEDE2000 scales them at the camera's colour; large ones count like
Huber's. What it leaves is a table in Oklab, smooth by its second differences.
"""

from dataclasses import dataclass, fields
from functools import cache
from typing import Any

import numpy as np

from ..base.arrays import Array, Matrix
from ..colour.lab import encoded_to_lab
from ..colour.spaces import (
    REC2020_TO_SRGB,
    linear_srgb_to_oklab,
    oklab_to_linear_srgb,
    srgb_decode,
    srgb_encode,
)
from ..develop import gamut, learnt
from ..styles.learnt import (
    ALL,
    BRIGHT,
    DARK,
    KNOTS,
    MANY,
    ORDERS,
    PLACES,
    REACH,
    SIDE,
    off_diagonal,
)

ROUNDS = 14  # at most
LARGE = 2.0  # CIEDE2000 from which a difference counts in proportion, not by its square
STEP = 1e-3  # of a number, for slopes
PULL = 6.0  # towards smooth curves and small numbers, over the evidence of one colour
NEVER = 1e-9


@dataclass(frozen=True)
class Colours:
    """light : (n, 3) balanced linear Rec.2020, not brightened towards the corners; lamp : (n, 2)
    how far the light that it was balanced for is from white, as `learnt.off_white`; clip : (n,)
    light at which it clips; far : (n,) square of the way from the middle, 1 at the corners;
    shown : encoded sRGB (n, 3) that the camera made; weight : (n,); shot : (n,) which pair each
    comes from."""

    light: Array
    lamp: Array
    clip: Array
    far: Array
    shown: Array
    weight: Array
    shot: Array

    def take(self, which: Array) -> "Colours":
        """Some of them."""
        parts = (getattr(self, f.name) for f in fields(self))
        return Colours(*(part[which] for part in parts))


def start() -> Matrix:
    """The numbers of an unforced rendering, from which a fit begins."""
    core = np.zeros(ALL)
    core[PLACES["curve"]] = srgb_encode(
        1 - np.exp(-0.2 * np.exp2(np.linspace(DARK, BRIGHT, KNOTS)))
    )
    core[PLACES["joint"]] = 0.3, 0.0, 0.0
    return core


def entered(colours: Colours, numbers: Matrix) -> Array:
    """Their light in the display's primaries (n, 3), as the core meets it."""
    shade, lamps = numbers[PLACES["shade"]], numbers[PLACES["lamps"]]
    far = colours.far
    light = colours.light * (1 + shade[0] * far + shade[1] * far * far)[:, None]
    warm, green = colours.lamp[:, :1], colours.lamp[:, 1:]
    by_lamp = warm * (light @ off_diagonal(lamps[:6]).T) + green * (
        light @ off_diagonal(lamps[6:]).T
    )
    light = np.maximum(light + by_lamp, 0)
    made = gamut.enter(light.astype(np.float32), REC2020_TO_SRGB)
    return np.asarray(np.minimum(made, colours.clip[:, None]), np.float32)


def encoded(rgb: Array, core: Matrix, table: Matrix) -> Array:
    """Encoded sRGB 0 to 1 of light (n, 3)."""
    shown = oklab_to_linear_srgb(learnt.oklab(rgb, core, table))
    return np.asarray(srgb_encode(np.clip(shown, 0, 1)), np.float32)


class _Measure:
    """Differences from the camera's colours, along lightness, chroma and hue, about as CIEDE2000
    weighs them (CIE 142)."""

    def __init__(self, shown: Array) -> None:
        self._lab = lab = encoded_to_lab(shown).astype(np.float64)
        chroma = np.hypot(lab[:, 1], lab[:, 2])
        from_middle = (lab[:, 0] - 50) ** 2
        lightness = 1 + 0.015 * from_middle / np.sqrt(20 + from_middle)
        self._scale = np.stack([lightness, 1 + 0.045 * chroma, 1 + 0.015 * chroma], 1)
        grey = chroma < 2  # where hue means nothing
        self._cos = np.where(grey, 1, lab[:, 1] / np.maximum(chroma, NEVER))
        self._sin = np.where(grey, 0, lab[:, 2] / np.maximum(chroma, NEVER))

    def __call__(self, made: Array) -> Matrix:
        light, a, b = (encoded_to_lab(made) - self._lab).T
        along, across = a * self._cos + b * self._sin, b * self._cos - a * self._sin
        return np.asarray(np.stack([light, along, across], 1) / self._scale)


def _pulls(numbers: Matrix, towards: Matrix | None) -> Matrix:
    """What the fit is held to beside the evidence: a smooth curve, small numbers, or those of
    another style of the same camera."""
    off = numbers if towards is None else numbers - towards
    core = off
    orders = np.array([1, *np.repeat(np.arange(1, ORDERS + 1), 2)])
    waves = [core[PLACES[n]] * orders * 3 for n in ("turn", "chroma", "light")]
    joint = core[PLACES["joint"]] - (0 if towards is not None else np.array([0.3, 0.0, 0.0]))
    curve = 9.6 * np.diff(core[PLACES["curve"]], 2)
    level = [] if towards is None else [core[PLACES["curve"]] * 0.6]
    small = [
        core[PLACES["matrix"]] * 2,
        core[PLACES["dyes"]] * 4,
        core[PLACES["lamps"]] * 4,
        core[PLACES["shade"]],
        joint,
        core[PLACES["by_light"]],
    ]
    return np.concatenate([curve, *level, *small, *waves, core[PLACES["tint"]] * 20])


def core_of(
    colours: Colours,
    towards: Matrix | None = None,
    rounds: int = ROUNDS,
    begin: Matrix | None = None,
) -> Matrix:
    """All numbers (`ALL`,), fitted to colours; they are held to those of another style where there
    is one, and start from those, or from where they are told to `begin`."""
    numbers = start() if towards is None else towards.copy()
    numbers = numbers if begin is None else begin.copy()
    measure, none = _Measure(colours.shown), np.zeros((0, 3))
    weight = np.sqrt(colours.weight / colours.weight.mean())[:, None]

    def left(at: Matrix, rgb: Array | None = None) -> Matrix:
        light = entered(colours, at) if rgb is None else rgb
        return measure(encoded(light, at[:MANY], none))

    def cost(found: Matrix, at: Matrix, share: Matrix) -> float:
        pulls = PULL * _pulls(at, towards)
        return float(((weight * share * found) ** 2).sum() + pulls @ pulls)

    give, found = 1e-2, left(numbers)
    for _ in range(rounds):
        size = np.sqrt((found**2).sum(1))
        share = np.sqrt(1 / np.maximum(1, size / LARGE))[:, None]
        slopes, rgb = np.empty((found.size, ALL)), entered(colours, numbers)
        for k in range(ALL):
            moved = numbers.copy()
            moved[k] += STEP
            slopes[:, k] = (
                (left(moved, rgb if k < MANY else None) - found) / STEP * (weight * share)
            ).ravel()
        pulls = PULL * _pulls(numbers, towards)
        bend = np.stack(
            [
                (PULL * _pulls(numbers + STEP * np.eye(ALL)[k], towards) - pulls) / STEP
                for k in range(ALL)
            ],
            1,
        )
        square = slopes.T @ slopes + bend.T @ bend
        down = slopes.T @ (weight * share * found).ravel() + bend.T @ pulls
        before = cost(found, numbers, share)
        for _ in range(6):
            step = np.linalg.solve(square + give * np.diag(np.diag(square) + 1e-6), down)
            trial = numbers - step
            there = left(trial)
            now = cost(there, trial, share)
            if now < before:
                numbers, found, give = trial, there, give / 5
                break
            give *= 6
        else:
            break
        if before - now < 1e-4 * before:
            break
    curve = PLACES["curve"]
    numbers[curve] = np.clip(np.maximum.accumulate(numbers[curve]), 0, 1.2)
    return numbers


# ---- what the core leaves ------------------------------------------------------------------------
def _corners(colours: Matrix) -> tuple[Any, Matrix]:
    low, high = np.array([0, -REACH, -REACH]), np.array([1, REACH, REACH])
    place = np.clip((colours - low) / (high - low), 0, 1) * (SIDE - 1)
    first = np.minimum(place.astype(int), SIDE - 2)
    share = place - first
    index, weights = [], []
    for corner in np.ndindex(2, 2, 2):
        at = first + corner
        index.append((at[:, 0] * SIDE + at[:, 1]) * SIDE + at[:, 2])
        weights.append(np.where(np.array(corner), share, 1 - share).prod(1))
    return np.stack(index, 1), np.stack(weights, 1)


@cache
def _rough() -> Matrix:
    """Sum of the squares of second differences along the three axes, as a matrix."""
    line = np.diff(np.eye(SIDE), 2, axis=0)
    along, one = line.T @ line, np.eye(SIDE)
    ways = ((along, one, one), (one, along, one), (one, one, along))
    return np.asarray(sum(np.kron(np.kron(a, b), c) for a, b, c in ways))


def tables_of(colours: Colours, numbers: Matrix, smooth: tuple[float, ...]) -> list[Matrix]:
    """What the core leaves of colours, as tables (SIDE^3, 3), one for each smoothness; where
    little is known they leave the core as it is."""
    made = learnt.oklab(entered(colours, numbers), numbers[:MANY], np.zeros((0, 3)))
    aim = linear_srgb_to_oklab(srgb_decode(colours.shown)).astype(np.float64)
    # What a display cannot show is not known: the camera's colour is that of its edge.
    held = linear_srgb_to_oklab(np.clip(oklab_to_linear_srgb(made), 0, 1))
    off = aim - held
    index, weights = _corners(made.astype(np.float64))
    weight, many = colours.weight / colours.weight.mean() / 10, SIDE**3
    square, right = np.zeros(many * many), np.zeros((many, 3))
    for a in range(8):
        for b in range(8):
            square += np.bincount(
                index[:, a] * many + index[:, b],
                weight * weights[:, a] * weights[:, b],
                many * many,
            )
        for k in range(3):
            right[:, k] += np.bincount(index[:, a], weight * weights[:, a] * off[:, k], many)
    whole = square.reshape(many, many)
    return [
        np.asarray(np.linalg.solve(whole + s * _rough() + s / 30 * np.eye(many), right))
        for s in smooth
    ]

"""Time: while the shutter is open, what moves draws its light out along its way, and hands shake.

What moves lies over what stands still, and what it hides is filled in from beside it; water and
leaves move within their outline. A hand that is held as still as most can blurs by 0.03 mm on a
frame 36 mm wide in one over the focal length, the rule that people go by; drifting is slower the
longer it takes. Stabilisation takes stops off it.
"""

import math
from collections.abc import Hashable
from dataclasses import dataclass
from functools import partial
from typing import Any, NamedTuple

import numpy as np

from ..base import bands
from ..base.arrays import Array, Bytes8
from ..base.cache import BoundedCache
from ..base.late import library
from ..scenes.scene import Move, Scene
from . import kernels

cv2 = library("cv2")

SHAKE = 0.03 / 36  # widths of the frame in one over the focal length in mm
SETTLES = 0.25  # seconds after which a hand has turned back as often as not
SHAKES_TOWARDS = 65.0  # degrees: breath and a finger on the release move a camera up and down most
LEAST = 0.35  # pixels of blur below which nothing shows
SHORT = 20  # pixels up to which a way is one mask
FEW = 256  # samples along a way at most, by doubling; longer ways have them further apart
GROWN = 2  # pixels by which what moves is taken larger, so that its rim goes with it
SMALL = 240  # pixels across on which what is hidden is filled in
MOST_KEPT = 8 * 2**20  # bytes of what moves, which is the same at every time
ENOUGH = 0.3  # share of a neighbourhood that has to be known to fill in from it alone


def shake(scene: Scene, time: float, steady: float) -> float:
    """Blur by hand in widths of the frame."""
    return float(scene.lens * SHAKE * time / math.sqrt(1 + time / SETTLES) / 2.0**steady)


def moves_at_all(scene: Scene, time: float, steady: float, frame: int) -> bool:
    """Whether anything shows in a picture that is part of one `frame` pixels wide."""
    ways = [move.way(time) / move.across for move in scene.moves]
    return max([shake(scene, time, steady), *ways]) * frame >= LEAST


def drawn_out(picture: Array, length: float, heading: float) -> Array:
    """A picture (h, w, n) averaged along a way of `length` pixels, its middle where it was;
    `heading` in degrees from the right against the clock."""
    if length < LEAST:
        return picture
    along = math.cos(math.radians(heading)), -math.sin(math.radians(heading))
    if length <= SHORT:
        line, made = _line(length, *along), np.empty_like(picture)
        far = len(line) // 2

        def average(top: int, end: int) -> None:
            first = max(0, top - far)
            rows = picture[first : end + far]
            done = cv2.filter2D(rows, -1, line, borderType=cv2.BORDER_REPLICATE)
            made[top:end] = done[top - first : end - first]

        bands.run(average, len(picture))
        return made
    doublings = math.ceil(math.log2(min(length, FEW)))
    step = length / 2**doublings
    x, y = along[0] * step, along[1] * step
    out = _shifted(picture, -x * (2**doublings - 1) / 2, -y * (2**doublings - 1) / 2)
    for k in range(doublings):
        out += _shifted(out, x * 2**k, y * 2**k)
        out *= np.float32(0.5)
    return out


def _line(length: float, x: float, y: float) -> Array:
    """A mask that averages along a way, its ends between pixels."""
    far = math.ceil(length / 2)
    wide, high = 2 * math.ceil(abs(x) * far) + 1, 2 * math.ceil(abs(y) * far) + 1
    mask = np.zeros((high + 2, wide + 2))
    many = 8 * far + 1
    for at in np.linspace(-0.5, 0.5, many) * length * (1 - 1 / many):
        column, row = at * x + wide // 2 + 1, at * y + high // 2 + 1
        i, j = int(column), int(row)
        u, v = column - i, row - j
        mask[j : j + 2, i : i + 2] += np.outer((1 - v, v), (1 - u, u))
    return np.asarray(mask / mask.sum(), np.float32)


def _shifted(picture: Array, x: float, y: float) -> Array:
    matrix = np.array([[1, 0, x], [0, 1, y]], np.float64)
    size = picture.shape[1], picture.shape[0]
    moved = cv2.warpAffine(picture, matrix, size, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(moved, np.float32)


class Box(NamedTuple):
    """Part of a picture: first and past the last row, first and past the last column."""

    top: int
    end: int
    left: int
    right: int

    def grown(self, far: int, height: int, width: int) -> "Box":
        """Larger on each side, within a picture."""
        return Box(
            max(0, self.top - far),
            min(height, self.end + far),
            max(0, self.left - far),
            min(width, self.right + far),
        )

    def meets(self, other: "Box") -> bool:
        """Whether they have a pixel in common."""
        return (
            self.top < other.end
            and other.top < self.end
            and self.left < other.right
            and other.left < self.right
        )

    def around(self, other: "Box") -> "Box":
        """The least that holds both."""
        low, high = map(min, self, other), map(max, self, other)
        (top, _, left, _), (_, end, _, right) = low, high
        return Box(top, end, left, right)


@dataclass(frozen=True)
class Mover:
    """One thing that moves, at some size: its share of each pixel (h, w) uint8, the places where it
    is, and small what it hides (h2, w2, 3), which is smooth. All are the same for every time."""

    share: Bytes8
    islands: tuple[Box, ...]
    behind: Array

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return self.share.nbytes + self.behind.nbytes


_movers: BoundedCache[tuple[Any, Mover]] = BoundedCache(MOST_KEPT, lambda kept: kept[1].nbytes)


def in_time(
    scene: Scene,
    light: Array,
    numbers: Bytes8 | None,
    time: float,
    steady: float,
    frame: int,
    part: Hashable = None,
) -> Array:
    """Light (h, w, 3) of a scene, or of a `part` of one `frame` pixels wide, as it falls while the
    shutter is open; `numbers` says what moves there, of any size."""
    out = np.empty_like(light)
    bands.run(lambda top, end: np.copyto(out[top:end], light[top:end]), len(out))
    for k, move in enumerate(scene.moves, 1):
        length = move.way(time) / move.across * frame
        if numbers is not None and length >= LEAST:
            key = id(scene.frame), k, light.shape, part
            kept = _movers.make(key, partial(_kept, scene, light, numbers, k))
            _move(out, kept[1], length, move)
    return drawn_out(out, shake(scene, time, steady) * frame, SHAKES_TOWARDS)


def _kept(scene: Scene, light: Array, numbers: Bytes8, k: int) -> tuple[Any, Mover]:
    """A mover, with the frame that it is of, so that no other takes its number."""
    height, width = light.shape[:2]
    where = (numbers == k).astype(np.uint8) * 255
    grown = cv2.dilate(where, np.ones((2 * GROWN + 1,) * 2, np.uint8))
    share = cv2.resize(grown, (width, height), interpolation=cv2.INTER_AREA)
    found = cv2.connectedComponentsWithStats((share > 0).astype(np.uint8))[2][1:]
    islands = tuple(Box(y, y + h, x, x + w) for x, y, w, h, _ in found.tolist())
    return scene.frame, Mover(share, islands, _filled(light, share))


def _crossed(mover: Mover, length: float, height: int, width: int) -> list[Box]:
    """The parts of a picture that something crosses, none of which meets another."""
    far, apart = math.ceil(length / 2) + 2, list[Box]()
    for island in mover.islands:
        box = island.grown(far, height, width)
        while met := next((b for b in apart if b.meets(box)), None):
            apart.remove(met)
            box = box.around(met)
        apart.append(box)
    return apart


def _move(light: Array, mover: Mover, length: float, move: Move) -> None:
    """Draw one thing out in place, within the parts of the picture that it crosses."""
    height, width = light.shape[:2]
    behind = light if move.within else cv2.resize(mover.behind, (width, height))
    for box in _crossed(mover, length, height, width):
        down = slice(box.top, box.end)
        _move_within(box, light[down], mover.share[down], behind[down], length, move)


def _move_within(
    box: Box, light: Array, share: Bytes8, behind: Array, length: float, move: Move
) -> None:
    """The same within one part, of these rows."""
    alone, left = np.empty((len(light), box.right - box.left, 4), np.float32), box.left
    bands.run(lambda a, b: kernels.cut_out(light[a:b], share[a:b], left, alone[a:b]), len(light))
    over = drawn_out(alone, length, move.heading)

    def lay(top: int, end: int) -> None:
        band = slice(top, end)
        kernels.lay_over(light[band], share[band], over[band], behind[band], move.within, left)

    bands.run(lay, len(light))


def _filled(light: Array, hidden: Bytes8) -> Array:
    """Light small (h2, w2, 3) that fills in what is `hidden` (h, w), from as near as there is
    anything."""
    height, width = light.shape[:2]
    size = max(1, min(SMALL, width)), max(1, round(height * min(SMALL, width) / width))
    known = 255 - hidden
    done = cv2.resize(known, size, interpolation=cv2.INTER_LINEAR)[..., None] / np.float32(255)
    out = cv2.resize(light, size, interpolation=cv2.INTER_LINEAR) * done
    both, side = np.concatenate([out, done], 2), 3
    while side < 2 * max(size) and float(done.min()) < 0.999:
        near = cv2.blur(both, (side, side))
        share = (1 - done) * np.clip(near[..., 3:] / ENOUGH, 0, 1)
        out = out + share * near[..., :3] / np.maximum(near[..., 3:], 1e-4)
        done = done + share
        side = 2 * side + 1
    return np.asarray(out / np.maximum(done, 1e-4), np.float32)

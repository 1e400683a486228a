"""A pair on one grid: light as the pipeline has it before tone, and the camera's colours."""

from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from ..base.arrays import Array, Mask
from ..base.errors import PlumError
from ..base.late import library
from ..bodies import FIRST, body
from ..colour.spaces import LUMINANCE_2020, apply_matrix, srgb_decode, srgb_encode
from ..develop import learnt
from ..develop.taking import make_point
from ..look import Look
from ..pictures.read import read
from ..scenes.frame import Deep
from ..scenes.scene import Scene
from .align import ACROSS, ALIKE, lay
from .fit import Colours

cv2 = library("cv2")

CELL = 3  # pixels a side that are averaged, so that 240 x 160 cells are compared
FULL = 0.985  # of a sample's largest value, from which it counts as clipped
CLIPPED = 0.02  # share of a cell's pixels that may be
UNEVEN = 0.05  # variance of log2 light in a cell at which it counts half
COLOURLESS = 0.012  # mean difference of channels of a picture that has no colour
LEAST_CELLS = 600
PICKED, MORE = 1500, 9000  # cells of a pair that a core, and a table, is fitted to


@dataclass(frozen=True)
class Shot:
    """A pair, laid over each other, `ACROSS` pixels wide.

    scene : the raw picture. light : (h, w, 3) balanced linear Rec.2020. shown : encoded
    sRGB (h, w, 3). good : cells (h / 3, w / 3) that can be compared. even : weights of cells, 0 to
    1. white : stops from mid grey to the clip point. alike, moved : as in `align`.
    """

    name: str
    scene: Scene
    light: Array
    shown: Array
    good: Mask
    even: Array
    white: float
    alike: float
    moved: float

    def far(self, across: int = CELL) -> Array:
        """Square of the way from the middle to the corners, of cells (n,)."""
        height, width = self.light.shape[0] // across, self.light.shape[1] // across
        y, x = np.mgrid[0:height, 0:width].astype(np.float32)
        u, v = x - (width - 1) / 2, y - (height - 1) / 2
        return np.asarray((u * u + v * v) / ((width / 2) ** 2 + (height / 2) ** 2)).ravel()

    @property
    def cells(self) -> Array:
        """The camera's colours by cell (h / 3, w / 3, 3)."""
        return averaged(self.shown)

    def colours(self, number: int, few: bool) -> Colours:
        """Some of its cells, or `few`, picked so that rare colours count."""
        light, shown = averaged(self.light).reshape(-1, 3), self.cells.reshape(-1, 3)
        weight = (self.even * self.good).ravel()
        which = np.flatnonzero(weight > 0)
        most = PICKED if few else MORE
        if len(which) > most:
            _, place, many = np.unique(
                (shown[which] * 12).astype(int) @ [1, 16, 256],
                return_inverse=True,
                return_counts=True,
            )
            share = weight[which] / np.sqrt(many[place])
            random = np.random.default_rng(number)
            which = random.choice(which, most, replace=False, p=share / share.sum())
        return self.at(light[which], self.far()[which], shown[which], weight[which], number)

    def whole(self) -> Colours:
        """All its pixels, unweighted, in rows."""
        return self.at(
            self.light.reshape(-1, 3),
            self.far(1),
            self.shown.reshape(-1, 3),
            np.ones(self.light[..., 0].size),
            0,
        )

    def at(self, light: Array, far: Array, shown: Array, weight: Array, number: int) -> Colours:
        """Colours of this pair."""
        clip, many = np.float32(0.18 * 2.0**self.white), len(light)
        return Colours(
            light,
            np.tile(np.array(learnt.off_white(self.scene.auto_light), np.float32), (many, 1)),
            np.full(many, clip, np.float32),
            far,
            shown,
            weight,
            np.full(many, number),
        )


def averaged(picture: Array) -> Array:
    """Means of cells of a picture (h, w, ...)."""
    rows, columns = picture.shape[0] // CELL, picture.shape[1] // CELL
    cut = np.ascontiguousarray(picture[: rows * CELL, : columns * CELL], np.float32)
    return np.asarray(cv2.resize(cut, (columns, rows), interpolation=cv2.INTER_AREA))


def balanced(scene: Scene) -> tuple[Array, float]:
    """Linear Rec.2020 of a raw picture (h, w, 3), balanced for the light of the shot, at most
    `ACROSS` wide, and stops to the clip point."""
    made = make_point(scene, Look(), body(FIRST).sensor)
    width = min(ACROSS, scene.size[0])
    if scene.finished:  # of which only where things are is asked
        return srgb_decode(scene.at_width(width)), made.white
    return apply_matrix(scene.at_width(width), np.array(made.matrix)), made.white


def load(raw: Path, finished: Path) -> Shot:
    """Read a pair; PlumError says why it cannot teach anything."""
    scene = read(raw.read_bytes(), raw.name, "own-taught", longest=2 * ACROSS)
    if scene.finished or not isinstance(scene.frame, Deep):
        raise PlumError(f"'{raw.name}' is a finished picture, not a raw.")
    made = read(finished.read_bytes(), finished.name, "own-taught", longest=2 * ACROSS)
    if not made.finished:
        raise PlumError(f"'{finished.name}' is a raw, not a finished picture.")
    return lie(raw.name, scene, made.pixels)


def lie(name: str, scene: Scene, made: Array) -> Shot:
    """Lay a finished picture (h, w, 3) over a scene, a raw one where light is to be learnt from."""
    light, white = balanced(scene)
    if min(light.shape[0], min(made.shape[:2])) < 3 * CELL * 8:
        raise PlumError(f"'{name}' is too small to learn from.")
    _check(name, light, made, white)
    luma = np.maximum(light @ LUMINANCE_2020, 0)
    drawn = srgb_encode(np.clip(luma / np.float32(0.18 * 2.0**white), 0, 1) ** np.float32(0.7))
    lies = lay(np.asarray(drawn, np.float32), made)
    if lies.alike < ALIKE:
        raise PlumError(f"The raw and the finished picture of '{name}' do not show the same.")
    full = scene.frame.full(FULL) if isinstance(scene.frame, Deep) else scene.pixels.max(-1) >= FULL
    full = np.asarray(full, np.float32)
    full = cv2.resize(full, (light.shape[1], light.shape[0]), interpolation=cv2.INTER_AREA)
    inside = averaged(lies.inside.astype(np.float32)) > 0.999
    log = np.log2(np.maximum(luma, 1e-4))
    uneven = np.maximum(averaged(log * log) - averaged(log) ** 2, 0)
    good = inside & (averaged(np.asarray(full, np.float32)) < CLIPPED)
    if good.sum() < LEAST_CELLS:
        raise PlumError(f"'{name}' is clipped nearly everywhere, so it teaches nothing.")
    even = 1 / (1 + uneven / UNEVEN)
    return Shot(
        name,
        replace(scene, whole=None),
        light,
        lies.shown,
        good,
        even,
        white,
        lies.alike,
        lies.moved,
    )


def _check(name: str, light: Array, made: Array, white: float) -> None:
    if float(np.percentile(made, 99)) < 0.03 or float(np.percentile(light, 99)) < 2e-4:
        raise PlumError(f"'{name}' is black, so it teaches nothing.")
    if float(np.percentile(made, 2)) > 0.99 or float(np.percentile(light, 5)) > 0.97 * 0.18 * (
        2.0**white
    ):
        raise PlumError(f"'{name}' is clipped nearly everywhere, so it teaches nothing.")
    if float((made.max(-1) - made.min(-1)).mean()) < COLOURLESS:
        raise PlumError(f"'{name}' has no colour: monochrome styles are not learnt.")

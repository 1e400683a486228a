"""A rendering from a picture of a chart in one light: little, but more than nothing, where a camera
writes no raws.

What a chart does not show is taken to be as in the reference style, and the exposure to be that of
a meter at the chart. Corners of a chart that we print are found by their marks (`cv2.aruco`); of
the common 24-patch target a person says where the middles of its four corner patches are.
"""

from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np

from .. import scenes
from ..base.arrays import Array, Bytes8, Matrix
from ..base.errors import PlumError
from ..base.late import library
from ..bodies import FIRST, Body, body
from ..bodies.dial import Choice
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..colour.spaces import (
    REC2020_TO_SRGB,
    REC2020_TO_XYZ,
    oklab_to_linear_srgb,
    srgb_decode,
    srgb_encode,
)
from ..develop.taking import make_point
from ..look import Look
from ..styles import taught
from ..styles.learnt import MANY, of_numbers
from . import fit
from .fit import Colours
from .naming import called
from .teach import with_styles

cv2 = library("cv2")

# CIE L*a*b* (D50) of the common target of six by four patches, row by row, as its maker publishes
# them for those made since November 2014.
TARGET = (
    (37.54, 14.37, 14.92), (64.66, 19.27, 17.50), (49.32, -3.82, -22.54),
    (43.46, -12.74, 22.72), (54.94, 9.61, -24.79), (70.48, -32.26, -0.37),
    (62.73, 35.83, 56.50), (39.43, 10.75, -45.17), (50.57, 48.64, 16.67),
    (30.10, 22.54, -20.87), (71.77, -24.13, 58.19), (71.51, 18.24, 67.37),
    (28.37, 15.42, -49.80), (54.38, -39.72, 32.27), (42.43, 51.05, 28.62),
    (81.80, 2.67, 80.41), (50.63, 51.28, -14.12), (49.57, -29.71, -28.32),
    (95.19, -1.03, 2.93), (81.29, -0.57, 0.44), (66.89, -0.75, -0.06),
    (50.76, -0.13, 0.14), (35.63, -0.46, -0.48), (20.64, 0.07, -0.46),
)  # fmt: skip
D50 = np.array([0.96422, 1.0, 0.82521])
# Bradford's matrix from D50 to D65 (ICC.1, annex E, turned round).
TO_D65 = np.array(
    [
        [0.9555766, -0.0230393, 0.0631636],
        [-0.0282895, 1.0099416, 0.0210077],
        [0.0122982, -0.0204830, 1.3299098],
    ]
)
ACROSS, DOWN = 8, 6  # patches of the chart that we print
PAPER = 0.86  # of the light, that white paper gives back
# Where its patches and the middles of its marks lie, in millimetres from the upper left.
SHEET, PATCHES = (250.0, 170.0), (26.0, 26.0, 224.0, 144.0)
MARK, MARK_AT = 16.0, ((10.0, 10.0), (240.0, 10.0), (240.0, 160.0), (10.0, 160.0))
PART = 0.5  # of a patch, around its middle, that is looked at
WEIGHT = 12  # colours that one patch counts as
FOLDS = 6  # groups of patches that are left out in turn
UNEVEN = 0.06  # of encoded values within a patch, from which it is no patch


def marks() -> Any:
    """The dictionary that our marks are from."""
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)


@dataclass(frozen=True)
class Chart:
    """A chart: its patches by row, their light (n, 3), linear Rec.2020 in D65, and how many are in
    a row."""

    light: Matrix
    across: int


def target() -> Chart:
    """The common target of 24 patches."""
    light, a, b = np.array(TARGET).T
    y = (light + 16) / 116
    f = np.stack([y + a / 500, y, y - b / 200], 1)
    xyz = np.where(f > 6 / 29, f**3, 3 * (6 / 29) ** 2 * (f - 4 / 29)) * D50
    return Chart(np.maximum(xyz @ TO_D65.T @ np.linalg.inv(REC2020_TO_XYZ).T, 0), 6)


@cache
def printed() -> tuple[Chart, Bytes8]:
    """The chart that we print, and its sRGB values (48, 3): eight greys, and eight hues from pale
    to deep."""
    greys = np.linspace(250, 22, ACROSS)[:, None].repeat(3, 1)
    hue = np.radians(22 + 45 * np.arange(ACROSS))
    rows = [greys]
    for light, chroma in ((0.86, 0.07), (0.72, 0.13), (0.58, 0.15), (0.44, 0.12), (0.32, 0.08)):
        lab = np.stack([np.full(ACROSS, light), chroma * np.cos(hue), chroma * np.sin(hue)], 1)
        rows.append(255 * _shown(lab))
    values = np.asarray(np.rint(np.concatenate(rows)), np.uint8)
    linear = np.asarray(srgb_decode((values / 255).astype(np.float32)), np.float64)
    return Chart(PAPER * linear @ np.linalg.inv(REC2020_TO_SRGB).T, ACROSS), values


def _shown(oklab: Matrix) -> Matrix:
    return np.asarray(srgb_encode(np.clip(oklab_to_linear_srgb(oklab), 0, 1)))


# ---- finding the patches -------------------------------------------------------------------------
def corners(encoded: Array) -> Matrix | None:
    """Middles of the four corner patches (4, 2) of a chart of ours in a picture (h, w, 3), in
    pixels, from the upper left clockwise; None where its marks are not seen."""
    grey = cv2.cvtColor((encoded * 255).astype(np.uint8), cv2.COLOR_RGB2GRAY)
    finder = cv2.aruco.ArucoDetector(marks())
    found, ids, _ = finder.detectMarkers(grey)
    at = (
        {int(k): c.reshape(4, 2).mean(0) for k, c in zip(ids.ravel(), found)}
        if ids is not None
        else {}
    )
    if not {0, 1, 2, 3} <= at.keys():
        return None
    seen = np.array([at[k] for k in range(4)], np.float32)
    lies = cv2.getPerspectiveTransform(np.array(MARK_AT, np.float32), seen)
    left, top, right, bottom = PATCHES
    wide, high = (right - left) / ACROSS / 2, (bottom - top) / DOWN / 2
    ends = [
        (left + wide, top + high),
        (right - wide, top + high),
        (right - wide, bottom - high),
        (left + wide, bottom - high),
    ]
    return np.asarray(cv2.perspectiveTransform(np.array([ends], np.float32), lies)[0], float)


def patches(encoded: Array, at: Matrix, chart: Chart) -> Array:
    """Mean colours (n, 3) of the patches of a chart whose corner patches lie `at` (4, 2)."""
    across, down = chart.across, len(chart.light) // chart.across
    size = 24
    square = (
        np.array([(0, 0), (across - 1, 0), (across - 1, down - 1), (0, down - 1)], np.float32)
        * size
        + size / 2
    )
    lies = cv2.getPerspectiveTransform(np.asarray(at, np.float32), square)
    flat = cv2.warpPerspective(encoded, lies, (across * size, down * size), flags=cv2.INTER_AREA)
    edge = round(size * (1 - PART) / 2)
    cells = flat.reshape(down, size, across, size, 3)[:, edge:-edge, :, edge:-edge]
    cells = cells.transpose(0, 2, 1, 3, 4).reshape(len(chart.light), -1, 3)
    if float(np.median(cells.std(1).max(-1))) > UNEVEN:
        raise PlumError(
            "What lies in these places is no chart: its patches are not even. Say again where its "
            "corner patches are."
        )
    return np.asarray(cells.mean(1), np.float32)


# ---- learning from them --------------------------------------------------------------------------
@cache
def _reference() -> Matrix:
    """Numbers of a learnt rendering that does what the reference style does."""
    random = np.random.default_rng(1)
    light = 0.18 * np.exp2(random.uniform(-5, 2.4, (2500, 1)) + random.normal(0, 0.7, (2500, 3)))
    rgb = np.asarray(light, np.float32)
    through = make_point(scenes.load("table"), Look(), body(FIRST).sensor)
    return fit.core_of(_colours(rgb, through.develop(rgb), 1))


def _colours(light: Array, shown: Array, times: int) -> Colours:
    light, shown = np.repeat(light, times, 0), np.repeat(shown, times, 0)
    many = len(light)
    none = np.zeros((many, 2), np.float32)
    clip = np.full(many, 0.18 * 2.0**3, np.float32)
    ones = np.ones(many)
    return Colours(light, none, clip, np.zeros(many), shown, ones, np.zeros(many))


@dataclass(frozen=True)
class Learnt:
    """A body that a chart taught, and how far its patches are off (CIEDE2000): each while it and
    its neighbours were left out, and with a rendering as the reference style's."""

    body: Body
    mean: float
    worst: float
    before: float


def learn(shown: Array, chart: Chart, like: Body, name: str) -> Learnt:
    """A body from the colours (n, 3), encoded, that a camera made of a chart's patches."""
    lab = encoded_to_lab(np.asarray(shown, np.float32))
    if float(np.ptp(lab[:, 0])) < 30 or float(np.hypot(lab[:, 1], lab[:, 2]).max()) < 8:
        raise PlumError(
            "The chart in this picture has hardly any tones or colours. Light it evenly."
        )
    light = np.asarray(chart.light, np.float32)
    every = np.arange(len(light))
    made = np.empty_like(shown)
    for fold in range(FOLDS):
        out = every % FOLDS == fold
        numbers = _fitted(light[~out], shown[~out])
        made[out] = _rendered(light[out], numbers)
    off = ciede2000(encoded_to_lab(made), lab)
    before = ciede2000(encoded_to_lab(_rendered(light, _reference())), lab)
    learnt = of_numbers(_fitted(light, shown), None, 3.0)
    tidy, body_id = called(name)
    purpose = "Learnt from a chart in one light."
    style = taught(f"{body_id}-chart", tidy, purpose, learnt, None)
    about = (
        f"Learnt from {len(light)} patches of a chart in one light; other lights, texture and "
        f"corners are taken to be like {like.name}'s."
    )
    own = replace(like, id=body_id, name=tidy, about=about, styles=(style,), steps=(), edition=1)
    made_body = with_styles(own, (Choice("chart", tidy, sets={"style": style.id}),))
    return Learnt(made_body, float(off.mean()), float(off.max()), float(before.mean()))


def _fitted(light: Array, shown: Array) -> Matrix:
    return fit.core_of(_colours(light, shown, WEIGHT), _reference())


def _rendered(light: Array, numbers: Matrix) -> Array:
    colours = _colours(light, light, 1)
    return fit.encoded(fit.entered(colours, numbers), numbers[:MANY], np.zeros((0, 3)))

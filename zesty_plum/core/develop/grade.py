"""A standard grade for flat pictures: contrast and saturation back to what Plain would have given.

So flat recipes are judged as what they are for. The picture is first rounded to the codes of its
file, then graded, as an editor would, so that the bands which a steep grade makes of few codes are
there to be seen.
"""

from dataclasses import dataclass, replace

import numpy as np

from ..base.arrays import MID_GREY, Array, Bytes8
from ..base.late import library
from ..colour.lab import encoded_to_lab
from ..colour.spaces import LUMA_709
from ..look import Look, Sensor
from ..scenes.scene import Scene
from . import encode
from .pipeline import Picture, develop
from .taking import make_point

cv2 = library("cv2")

LEAST_STOPS, POINTS = -8.0, 400
MOST_SATURATION, MOST_SLOPE = 3.0, 6.0
SMALL = 240  # pixels across on which chroma is compared


@dataclass(frozen=True)
class Grade:
    """`before` and `after`: a rising curve of encoded values for every channel; `saturation` a
    factor about luma."""

    before: Array
    after: Array
    saturation: float

    @property
    def idle(self) -> bool:
        """Whether it leaves pictures as they are."""
        return self.saturation == 1.0 and np.array_equal(self.before, self.after)

    def steepest(self, bits: int, limited: bool) -> float:
        """How many of a screen's 255 steps one code of a file of `bits` becomes where the curve is
        steepest."""
        black, white = encode.levels(bits, limited)
        codes = np.linspace(0, 1, white - black + 1)
        return float(np.diff(np.interp(codes, self.before, self.after)).max() * 255)

    def apply(self, encoded: Array) -> Array:
        """Graded encoded values (h, w, 3), 0 to 1."""
        curved = np.interp(encoded, self.before, self.after).astype(np.float32)
        luma = (curved @ LUMA_709).astype(np.float32)[..., None]
        return np.clip(luma + np.float32(self.saturation) * (curved - luma), 0, 1)


def _chroma(encoded: Array) -> float:
    lab = encoded_to_lab(encoded)
    return float(np.hypot(lab[..., 1], lab[..., 2]).mean())


def standard_grade(scene: Scene, look: Look, sensor: Sensor) -> Grade:
    """The grade that takes a look's greys to Plain's and its mean chroma in this scene to Plain's;
    idle for a firm, full look."""
    plain = replace(Look(), guard=look.guard, balance=look.balance, light_mired=look.light_mired)
    own, goal = make_point(scene, look, sensor), make_point(scene, plain, sensor)
    stops = np.linspace(LEAST_STOPS, own.white, POINTS)
    grey = (MID_GREY * np.exp2(stops)).astype(np.float32)
    before, after = (
        own.grey_curve(grey).astype(np.float64),
        goal.grey_curve(grey).astype(np.float64),
    )
    at = int(np.searchsorted(stops, 0.0))
    if np.gradient(before)[at] >= np.gradient(after)[at]:
        after = before
    else:  # rising, and no steeper than an editor would dare
        before = np.maximum.accumulate(before + np.arange(POINTS) * 1e-9)
        slope = np.minimum(np.diff(after) / np.maximum(np.diff(before), 1e-9), MOST_SLOPE)
        after = after[0] + np.concatenate([[0.0], np.cumsum(slope * np.diff(before))])
    grade = Grade(before, after, 1.0)
    flat, wanted = (
        develop(scene, replace(look, grain=0.0), sensor, SMALL),
        _chroma(develop(scene, plain, sensor, SMALL).encoded),
    )
    for _ in range(2):  # chroma is nearly, not quite, in proportion
        now = _chroma(grade.apply(flat.encoded))
        if now < 0.5:  # without colour
            break
        grade = replace(
            grade, saturation=float(np.clip(grade.saturation * wanted / now, 1.0, MOST_SATURATION))
        )
    return grade


def graded(picture: Picture, grade: Grade) -> Bytes8:
    """A picture as its file holds it, graded: sRGB (h, w, 3) uint8."""
    return np.asarray(cv2.convertScaleAbs(grade.apply(picture.encoded), alpha=255))

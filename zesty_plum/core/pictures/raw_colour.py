"""From a camera's raw samples to CIE XYZ: by a DNG's own tags, or else by what LibRaw knows of the
model.

Matrices lead from XYZ under the light of the shot to the camera, so the cast of that light stays in
the picture (DNG specification 1.7, "Mapping camera color space to CIE XYZ space").
"""

import io
import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base.arrays import Array, Matrix
from ..base.late import library
from ..colour.spaces import D65_XY, xy_to_xyz
from ..colour.white import mired_and_duv

tifffile = library("tifffile")

# Colour temperatures of EXIF's light sources, by which a file names the two lights that it has
# matrices for.
KELVIN = {
    **{1: 5500, 2: 4230, 3: 2850, 4: 5500, 9: 5500, 10: 6504, 11: 7504, 12: 6430, 13: 5035},
    **{14: 4150, 15: 3525, 16: 2925, 17: 2856, 18: 4874, 19: 6774, 20: 5503, 21: 6504, 22: 7504},
    **{23: 5003, 24: 3200},
}
D50_XY = (0.3457, 0.3585)
ROUNDS = 30  # at most, to find a white whose own matrix gives the neutral that a file tells
MOST_BASELINE = 4.0  # stops either way; more is a fault of the file


@dataclass(frozen=True)
class Colour:
    """gains : factors on red, green and blue that make the light of the shot neutral, the least 1.
    to_xyz : (3, 3), from samples under these gains, 1 where the file clips, to XYZ under the light
    of the shot; (1, 1, 1) has Y 1. as_shot : (mired, Duv) of that light, or None where it is not
    told. baseline : stops that the file asks to be shown brighter.
    """

    gains: tuple[float, float, float]
    to_xyz: Matrix
    as_shot: tuple[float, float] | None
    baseline: float


@dataclass(frozen=True)
class _Told:
    """What a DNG tells: matrices from XYZ to the camera with their lights' mired, one or two; the
    neutral or the white of the shot; stops."""

    matrices: list[tuple[float, Matrix]]
    neutral: Matrix | None
    white: tuple[float, float] | None
    baseline: float

    def matrix(self, mired: float) -> Matrix:
        """From XYZ to the camera under a light, between the two lights by mired."""
        (a, first), (b, second) = self.matrices[0], self.matrices[-1]
        share = 1.0 if a == b else float(np.clip((mired - b) / (a - b), 0, 1))
        return share * first + (1 - share) * second


def colour_of(data: bytes, known: Matrix, multipliers: list[float]) -> Colour:
    """How a raw file's samples become XYZ; `known` is LibRaw's matrix from XYZ to the camera, which
    may be all zero, and `multipliers` its white balance of the shot."""
    told = _dng(data)
    if told is not None:
        white = told.white or _white(told)
        if white is not None:
            matrix = told.matrix(_mired(white))
            return _colour(matrix, matrix @ xy_to_xyz(white), white, told.baseline)
    matrix = np.array(known[:3], float)
    if not np.isfinite(matrix).all() or abs(np.linalg.det(matrix)) < 1e-9:
        matrix = np.linalg.inv(_PLAIN)
    baseline, gains = told.baseline if told else 0.0, np.array(multipliers[:3], float)
    if np.isfinite(gains).all() and (gains > 0).all():
        white = _xy(np.linalg.solve(matrix, 1 / gains))
        if white is not None:
            return _colour(matrix, 1 / gains, white, baseline)
    return _colour(matrix, matrix @ xy_to_xyz(D65_XY), None, baseline)


# From a camera of which nothing is known: its channels are taken for sRGB's primaries.
_PLAIN = np.array(
    [[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]], float
)


def _colour(
    matrix: Matrix, neutral: Matrix, white: tuple[float, float] | None, baseline: float
) -> Colour:
    back = np.linalg.inv(matrix) @ np.diag(neutral)
    gains = neutral.max() / neutral
    return Colour(
        (float(gains[0]), float(gains[1]), float(gains[2])),
        back / back.sum(1)[1],
        mired_and_duv(white) if white else None,
        baseline,
    )


def _xy(xyz: Array) -> tuple[float, float] | None:
    """Chromaticity, or None of what is no light."""
    total = float(xyz.sum())
    if not np.isfinite(xyz).all() or total <= 0 or (xyz <= 0).any():
        return None
    return float(xyz[0]) / total, float(xyz[1]) / total


def _mired(xy: tuple[float, float]) -> float:
    return float(np.clip(mired_and_duv(xy)[0], 20, 1000))


def _white(told: _Told) -> tuple[float, float] | None:
    """The white whose own matrix makes the file's neutral, by rounds from D50."""
    if told.neutral is None:
        return None
    white = D50_XY
    for _ in range(ROUNDS):
        found = _xy(np.linalg.solve(told.matrix(_mired(white)), told.neutral))
        if found is None:
            return None
        done = math.dist(found, white) < 1e-7
        white = found
        if done:
            break
    return white


def _dng(data: bytes) -> _Told | None:
    """The colour tags of a DNG; None of other files and of those that tell no usable matrix."""
    try:
        with tifffile.TiffFile(io.BytesIO(data)) as file:
            page = file.pages[0]
            tags = {t.code: (t.dtype, t.value) for t in page.tags.values() if t.code > 50000}
        if 50706 not in tags:
            return None
        baseline = _numbers(tags, 50730)
        white = _numbers(tags, 50729)
        return _Told(
            _matrices(tags),
            _numbers(tags, 50728, 3),
            (float(white[0]), float(white[1])) if white is not None and len(white) == 2 else None,
            float(np.clip(baseline[0], -MOST_BASELINE, MOST_BASELINE))
            if baseline is not None
            else 0,
        )
    except Exception:  # a parser meets broken files with errors of every kind; LibRaw may read it
        return None


def _numbers(tags: dict[int, tuple[Any, Any]], code: int, many: int | None = None) -> Matrix | None:
    """The numbers of a tag, fractions worked out; None where it is missing or has not so `many`."""
    if code not in tags:
        return None
    kind, value = tags[code]
    flat = np.atleast_1d(np.array(value, float)).ravel()
    if int(kind) in (5, 10):  # pairs: numerator, denominator
        flat = flat[::2] / flat[1::2]
    if not np.isfinite(flat).all() or (many is not None and len(flat) != many):
        raise ValueError
    return flat


def _matrices(tags: dict[int, tuple[Any, Any]]) -> list[tuple[float, Matrix]]:
    """Mired of a light, and the matrix from XYZ to the camera under it, of one light or two."""
    balance = _numbers(tags, 50727, 3)
    out = []
    for matrix_code, calibration_code, light_code in ((50721, 50723, 50778), (50722, 50724, 50779)):
        matrix = _numbers(tags, matrix_code, 9)
        if matrix is None:
            continue
        own = _numbers(tags, calibration_code, 9)
        made = (np.eye(3) if own is None else own.reshape(3, 3)) @ matrix.reshape(3, 3)
        if balance is not None:
            made = np.diag(balance) @ made
        if abs(np.linalg.det(made)) < 1e-9:
            raise ValueError
        light = tags.get(light_code, (3, 0))[1]
        out.append((1e6 / KELVIN.get(int(light), 5003), made))
    if not out:
        raise ValueError
    return out

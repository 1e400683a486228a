"""Colour spaces as matrices and transfer curves.

Rec.2020 and sRGB share the white D65 (x 0.3127, y 0.3290); XYZ is relative, Y of white 1.
"""

import numpy as np

from ..base.arrays import Array, Matrix
from ..base.late import library

cv2 = library("cv2")

D65_XY = (0.3127, 0.3290)
LUMA_709 = np.array([0.2126, 0.7152, 0.0722], np.float32)  # of sRGB's primaries too
LUMINANCE_2020 = np.array([0.2627, 0.6780, 0.0593], np.float32)


def xy_to_xyz(xy: tuple[float, float]) -> Matrix:
    """Return XYZ (3,) of a chromaticity at Y = 1."""
    x, y = xy
    return np.array([x / y, 1.0, (1 - x - y) / y])


def rgb_to_xyz_matrix(primaries: list[tuple[float, float]], white: tuple[float, float]) -> Matrix:
    """Matrix from linear RGB to XYZ for three primaries (x, y) and a white (SMPTE RP 177)."""
    columns = np.stack([xy_to_xyz(p) for p in primaries], 1)
    scale = np.linalg.solve(columns, xy_to_xyz(white))
    return np.asarray(columns * scale, np.float64)


REC2020_TO_XYZ = rgb_to_xyz_matrix([(0.708, 0.292), (0.170, 0.797), (0.131, 0.046)], D65_XY)
SRGB_TO_XYZ = rgb_to_xyz_matrix([(0.64, 0.33), (0.30, 0.60), (0.15, 0.06)], D65_XY)
REC2020_TO_SRGB: Matrix = np.asarray(np.linalg.inv(SRGB_TO_XYZ) @ REC2020_TO_XYZ, np.float64)

# Oklab (Ottosson 2020): linear sRGB to cone-like responses, then to lightness and two opponents.
_TO_CONES = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_OPPONENT = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
_FROM_OPPONENT = np.linalg.inv(_TO_OPPONENT)
_FROM_CONES = np.linalg.inv(_TO_CONES)
# The same for compiled loops: there and back (2, 3, 3).
OKLAB_CONES, OKLAB_OPPONENTS = (
    np.stack([_TO_CONES, _FROM_CONES]),
    np.stack([_TO_OPPONENT, _FROM_OPPONENT]),
)


def apply_matrix(colours: Array, matrix: Matrix) -> Array:
    """Multiply colours (..., 3) by a 3 x 3 matrix."""
    flat = np.ascontiguousarray(colours, np.float32).reshape(-1, 1, 3)
    return np.asarray(
        cv2.transform(flat, matrix.astype(np.float32)).reshape(np.shape(colours)), np.float32
    )


def srgb_encode(linear: Array) -> Array:
    """IEC 61966-2-1 encoding of linear values 0 to 1; values outside are clipped. Keeps the
    precision it is given."""
    x = np.clip(linear, 0, 1)
    return np.asarray(
        np.where(
            x <= 0.0031308, 12.92 * x, 1.055 * np.power(np.maximum(x, 0.0031308), 1 / 2.4) - 0.055
        )
    )


def srgb_decode(encoded: Array) -> Array:
    """Inverse of `srgb_encode`."""
    x = np.clip(encoded, 0, 1)
    return np.asarray(np.where(x <= 0.04045, x / 12.92, np.power((x + 0.055) / 1.055, 2.4)))


def linear_srgb_to_oklab(linear: Array) -> Array:
    """Linear sRGB (..., 3) to Oklab (L 0 to 1, a, b)."""
    cones = apply_matrix(linear, _TO_CONES)
    return apply_matrix(np.cbrt(cones), _TO_OPPONENT)


def oklab_to_linear_srgb(oklab: Array) -> Array:
    """Inverse of `linear_srgb_to_oklab`; may leave 0 to 1."""
    cones = apply_matrix(oklab, _FROM_OPPONENT)
    return apply_matrix(cones * cones * cones, _FROM_CONES)


def linear_srgb_to_lab(linear: Array) -> Array:
    """Linear sRGB (..., 3) to CIE L*a*b* under D65 (CIE 15)."""
    xyz = apply_matrix(linear, SRGB_TO_XYZ / xy_to_xyz(D65_XY)[:, None])
    small = 24 / 116
    f = np.where(xyz > small**3, np.cbrt(xyz), xyz * (841 / 108) + 16 / 116)
    return np.stack(
        [116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], -1
    ).astype(np.float32)

"""Encoded sRGB to CIE L*a*b* for whole pictures, in one compiled pass."""

import numpy as np

from ..base import bands, fastmath
from ..base.arrays import Array
from ..base.loops import inlined, quick_loop
from .spaces import D65_XY, SRGB_TO_XYZ, srgb_decode, xy_to_xyz

_DECODED = srgb_decode(
    np.linspace(0, 1, 4097)
)  # a straight line between its entries errs by less than 1e-7
_TO_WHITE = SRGB_TO_XYZ / xy_to_xyz(D65_XY)[:, None]
_SMALL = (24 / 116) ** 3


@inlined
def _decoded(table: Array, value: float) -> float:
    at = min(max(value, 0.0), 1.0) * 4096
    k = min(int(at), 4095)
    return float(table[k] + (at - k) * (table[k + 1] - table[k]))


@inlined
def _root(x: float) -> float:
    return fastmath.cube_root(x) if x > _SMALL else x * (841 / 108) + 16 / 116


@quick_loop
def _lab(encoded: Array, out: Array, table: Array, m: Array) -> None:
    for i in range(out.shape[0]):
        r, g, b = (
            _decoded(table, encoded[i, 0]),
            _decoded(table, encoded[i, 1]),
            _decoded(table, encoded[i, 2]),
        )
        x = _root(m[0, 0] * r + m[0, 1] * g + m[0, 2] * b)
        y = _root(m[1, 0] * r + m[1, 1] * g + m[1, 2] * b)
        z = _root(m[2, 0] * r + m[2, 1] * g + m[2, 2] * b)
        out[i, 0], out[i, 1], out[i, 2] = 116 * y - 16, 500 * (x - y), 200 * (y - z)


def encoded_to_lab(encoded: Array) -> Array:
    """L*a*b* (..., 3) under D65 (CIE 15) of encoded sRGB (..., 3), clipped to 0 to 1."""
    flat = np.ascontiguousarray(encoded, np.float32).reshape(-1, 3)
    out = np.empty_like(flat)
    bands.run(
        lambda top, end: _lab(flat[top:end], out[top:end], _DECODED, _TO_WHITE),
        len(flat),
        bands.MANY,
    )
    return out.reshape(np.shape(encoded))

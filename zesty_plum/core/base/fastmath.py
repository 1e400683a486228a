"""Elementary functions for compiled loops, quicker than the library's and as exact as pictures
need.

Each is fitted when the module loads or refined by a known iteration; the tests hold them against
NumPy.
"""

import math
from typing import Any

import numpy as np

from .loops import inlined

F = np.float32


def _fitted() -> tuple[Any, Any]:
    """log2(1 + t), and atan(t) / t in powers of t^2, for t in 0 to 1 through Chebyshev's points,
    highest power first."""
    t = 0.5 - 0.5 * np.cos(np.pi * np.arange(400) / 399)
    inside = np.maximum(t, 1e-6)
    return np.polyfit(t, np.log2(1 + t), 6).astype(np.float32), np.polyfit(
        inside**2, np.arctan(inside) / inside, 7
    )


_LOG2, _ATAN = _fitted()


@inlined
def log2(x: float) -> float:
    """log2 of a positive float32, error below 3e-6: the exponent read off the number, a polynomial
    for the mantissa.

    Without branches, so that the compiler makes vector instructions of it.
    """
    bits = F(x).view(np.int32)
    exponent = F((bits >> np.int32(23)) - np.int32(127))
    t = np.int32((bits & np.int32(0x007FFFFF)) | np.int32(0x3F800000)).view(F) - F(1)
    c = _LOG2
    low = ((c[0] * t + c[1]) * t + c[2]) * t + c[3]
    found: float = exponent + (((low * t + c[4]) * t + c[5]) * t + c[6])
    return found


@inlined
def cube_root(x: float) -> float:
    """Cube root of x >= 0, relative error below 1e-12: a guess from a third of the exponent, two
    steps of Halley's method."""
    if x < 1e-30:
        return 0.0
    y = float(np.int32(F(x).view(np.int32) // np.int32(3) + np.int32(709921077)).view(F))
    y3 = y * y * y
    y *= (y3 + 2 * x) / (2 * y3 + x)
    y3 = y * y * y
    return float(y * (y3 + 2 * x) / (2 * y3 + x))


@inlined
def angle(v: float, u: float) -> float:
    """atan2(v, u) in radians, error below 1e-7; 0 at the origin."""
    a, b = abs(u), abs(v)
    most = max(a, b)
    if most == 0:
        return 0.0
    t = min(a, b) / most
    s, c = t * t, _ATAN
    r = (
        ((((((c[0] * s + c[1]) * s + c[2]) * s + c[3]) * s + c[4]) * s + c[5]) * s + c[6]) * s
        + c[7]
    ) * t
    if b > a:
        r = math.pi / 2 - r
    if u < 0:
        r = math.pi - r
    return float(-r if v < 0 else r)

"""CIEDE2000 colour difference (CIE 142; formulas as in Sharma, Wu and Dalal 2005)."""

import math
from typing import Any

import numpy as np

from ..base import bands, fastmath
from ..base.arrays import Array
from ..base.loops import inlined, quick_loop

_25_7 = 25.0**7
COS30, SIN30 = math.cos(math.radians(30)), math.sin(math.radians(30))
COS6, SIN6 = math.cos(math.radians(6)), math.sin(math.radians(6))
COS63, SIN63 = math.cos(math.radians(63)), math.sin(math.radians(63))
TURN = 2 * math.pi
OPPOSITE = 1e-5  # of the sum of two unit vectors, below which their hues lie opposite each other
BLUE = -0.7071  # cosine of 135 degrees: 5.6 widths of its bell away from the blue that is rotated
PART = 4096  # colours a worker takes at least


@inlined
def _seventh(x: float) -> float:
    cube = x * x * x
    return cube * cube * x


@inlined
def _by_angles(a1: float, b1: float, a2: float, b2: float) -> Any:
    """Sine of half the turn from one colour to another, and cosine and sine of the hue half way, by
    the angles themselves, as the standard has it where two hues lie opposite each other."""
    h1, h2 = fastmath.angle(b1, a1), fastmath.angle(b2, a2)
    h1 = h1 + TURN if h1 < 0 else h1
    h2 = h2 + TURN if h2 < 0 else h2
    turn, total = h2 - h1, h1 + h2
    if turn > math.pi:
        turn -= TURN
    elif turn < -math.pi:
        turn += TURN
    if abs(h1 - h2) > math.pi:
        total = total + TURN if total < TURN else total - TURN
    return math.sin(turn / 2), math.cos(total / 2), math.sin(total / 2)


@quick_loop
def _between(first: Array, second: Array, out: Array) -> None:
    """CIEDE2000 of two flat lists of L*a*b* (n, 3) into (n,)."""
    for i in range(out.size):
        l1, a1, b1 = float(first[i, 0]), float(first[i, 1]), float(first[i, 2])
        l2, a2, b2 = float(second[i, 0]), float(second[i, 1]), float(second[i, 2])
        mean = (math.sqrt(a1 * a1 + b1 * b1) + math.sqrt(a2 * a2 + b2 * b2)) / 2
        mean7 = _seventh(mean)
        g = 1.5 - 0.5 * math.sqrt(mean7 / (mean7 + _25_7))
        a1, a2 = a1 * g, a2 * g
        c1, c2 = math.sqrt(a1 * a1 + b1 * b1), math.sqrt(a2 * a2 + b2 * b2)
        dl, dc = l2 - l1, c2 - c1
        lightness, chroma = (l1 + l2) / 2, (c1 + c2) / 2
        dh, t, rotate = 0.0, 1.0, 0.0
        if c1 * c2 > 0:
            # Hues as unit vectors: half way between two is the way of their sum, and their
            # difference is twice the sine of half the angle between them.
            one, two = 1 / c1, 1 / c2
            u1, v1, u2, v2 = a1 * one, b1 * one, a2 * two, b2 * two
            c, s, u, v = u1 + u2, v1 + v2, u2 - u1, v2 - v1
            size = math.sqrt(c * c + s * s)
            if size > OPPOSITE:
                half = math.sqrt(u * u + v * v) / 2
                half = -half if u1 * v2 < v1 * u2 else half
                c, s = c / size, s / size
            else:
                half, c, s = _by_angles(a1, b1, a2, b2)
            dh = 2 * math.sqrt(c1 * c2) * half
            # Cosines of the multiples of the hue by the addition theorem.
            c_2, s_2 = c * c - s * s, 2 * s * c
            c_3, s_3 = c_2 * c - s_2 * s, s_2 * c + c_2 * s
            c_4, s_4 = c_2 * c_2 - s_2 * s_2, 2 * s_2 * c_2
            t = (
                1
                - 0.17 * (c * COS30 + s * SIN30)
                + 0.24 * c_2
                + 0.32 * (c_3 * COS6 - s_3 * SIN6)
                - 0.20 * (c_4 * COS63 + s_4 * SIN63)
            )
            if c < BLUE or s < 0:  # elsewhere the rotation is nothing
                hue = fastmath.angle(s, c) * 57.29577951308232
                off = ((hue + 360 if hue < 0 else hue) - 275) / 25
                chroma7 = _seventh(chroma)
                rotate = (
                    -2
                    * math.sqrt(chroma7 / (chroma7 + _25_7))
                    * math.sin(math.pi / 3 * math.exp(-off * off))
                )
        away = (lightness - 50) ** 2
        ll = dl / (1 + 0.015 * away / math.sqrt(20 + away))
        cc = dc / (1 + 0.045 * chroma)
        hh = dh / (1 + 0.015 * chroma * t)
        out[i] = math.sqrt(max(ll * ll + cc * cc + hh * hh + rotate * cc * hh, 0.0))


def ciede2000(first: Array, second: Array) -> Array:
    """Difference of two L*a*b* arrays that broadcast to one shape (..., 3); returns (...,)
    float32."""
    first, second = np.broadcast_arrays(
        np.asarray(first, np.float32), np.asarray(second, np.float32)
    )
    one, two = (np.ascontiguousarray(a).reshape(-1, 3) for a in (first, second))
    out = np.empty(len(one), np.float32)
    bands.run(lambda top, end: _between(one[top:end], two[top:end], out[top:end]), len(one), PART)
    return out.reshape(first.shape[:-1])

"""A rendering that was learnt from a camera's pictures: light in the display's primaries to display
light, by a smooth core (`styles.learnt`) and a table of what the core leaves."""

import math
from dataclasses import dataclass

import numpy as np

from ..base import bands, fastmath
from ..base.arrays import MID_GREY, Array, Matrix
from ..base.loops import inlined, quick_loop
from ..colour.spaces import OKLAB_CONES, OKLAB_OPPONENTS, oklab_to_linear_srgb
from ..styles.learnt import (
    BRIGHT,
    DARK,
    KNOTS,
    MANY,
    ORDERS,
    PLACES,
    REACH,
    SIDE,
    WAVES,
    Learnt,
    off_diagonal,
)
from .balance import WHITE
from .part import Where

LEAST = 1e-4  # light below which channels run out softly, so that none is negative
EVEN = 0.02  # stops of headroom that make no difference
GREYISH = 0.02  # chroma at which hue counts by half
_CURVE, _JOINT, _TINT = (PLACES[n].start for n in ("curve", "joint", "tint"))
_TURN, _CHROMA, _LIGHT = (PLACES[n].start for n in ("turn", "chroma", "light"))
_DYES = PLACES["dyes"].start
_BY = PLACES["by_light"].start
_STEP = (BRIGHT - DARK) / (KNOTS - 1)
_LOG_GREY = math.log2(MID_GREY)


@inlined
def _curve(p: Array, log: float) -> float:
    """Display light of the curve at log2 of light: Catmull and Rom's spline through the knots,
    level beyond them."""
    x = (log - _LOG_GREY - DARK) / _STEP
    x = min(max(x, 0.0), KNOTS - 1.000001)
    k = int(x)
    f = x - k
    b, c = p[_CURVE + k], p[_CURVE + k + 1]
    a = p[_CURVE + k - 1] if k > 0 else 2 * b - c
    d = p[_CURVE + k + 2] if k < KNOTS - 2 else 2 * c - b
    e = b + 0.5 * f * (c - a + f * (2 * a - 5 * b + 4 * c - d + f * (3 * (b - c) + d - a)))
    return float(((e + 0.055) / 1.055) ** 2.4) if e > 0.04045 else float(e / 12.92)


@inlined
def _held(light: float) -> float:
    """Never below nothing, without an edge."""
    return light if light > LEAST else LEAST * math.exp(max(light / LEAST - 1, -30.0))


@quick_loop
def _rendered(
    rgb: Array, p: Array, table: Array, cones: Array, opponents: Array, out: Array
) -> None:
    """`oklab` on a flat list (n, 3)."""
    side = SIDE if table.shape[0] else 0
    for i in range(rgb.shape[0]):
        x, y, z = float(rgb[i, 0]), float(rgb[i, 1]), float(rgb[i, 2])
        r = _held(x + p[0] * (y - x) + p[1] * (z - x))
        g = _held(y + p[2] * (x - y) + p[3] * (z - y))
        b = _held(z + p[4] * (x - z) + p[5] * (y - z))
        u, v, w = math.log2(r), math.log2(g), math.log2(b)
        r = u + p[_DYES] * (v - u) + p[_DYES + 1] * (w - u)
        g = v + p[_DYES + 2] * (u - v) + p[_DYES + 3] * (w - v)
        b = w + p[_DYES + 4] * (u - w) + p[_DYES + 5] * (v - w)
        u, v, w = _curve(p, r), _curve(p, g), _curve(p, b)
        r, g, b = 2.0**r, 2.0**g, 2.0**b
        n, most, least = 0.2126 * r + 0.7152 * g + 0.0722 * b, max(r, g, b), min(r, g, b)
        peak = min(max(p[_JOINT + 1], -0.3), 1.0)
        n = max(n + peak * (most - n), 1e-6)
        joint, kept = p[_JOINT], p[_JOINT + 2]
        even, low = joint * _curve(p, math.log2(n)) / n, min(u, v, w)
        each, between = 1 - joint - kept, kept * (max(u, v, w) - low) / max(most - least, 1e-9)
        r = each * u + r * even + kept * low + (r - least) * between
        g = each * v + g * even + kept * low + (g - least) * between
        b = each * w + b * even + kept * low + (b - least) * between
        q = cones[0]
        u = fastmath.cube_root(max(q[0, 0] * r + q[0, 1] * g + q[0, 2] * b, 0.0))
        v = fastmath.cube_root(max(q[1, 0] * r + q[1, 1] * g + q[1, 2] * b, 0.0))
        w = fastmath.cube_root(max(q[2, 0] * r + q[2, 1] * g + q[2, 2] * b, 0.0))
        q = opponents[0]
        light = q[0, 0] * u + q[0, 1] * v + q[0, 2] * w
        s = q[1, 0] * u + q[1, 1] * v + q[1, 2] * w
        t = q[2, 0] * u + q[2, 1] * v + q[2, 2] * w
        full = math.sqrt(s * s + t * t) + 1e-9
        cos, sin = s / full, t / full
        hued = full / (full + GREYISH)
        turn, grown, lighter = p[_TURN], p[_CHROMA], p[_LIGHT]
        c, d = cos, sin
        for k in range(ORDERS):
            turn += p[_TURN + 1 + 2 * k] * c + p[_TURN + 2 + 2 * k] * d
            grown += hued * (p[_CHROMA + 1 + 2 * k] * c + p[_CHROMA + 2 + 2 * k] * d)
            lighter += p[_LIGHT + 1 + 2 * k] * c + p[_LIGHT + 2 + 2 * k] * d
            c, d = c * cos - d * sin, c * sin + d * cos
        from_middle = light - 0.6
        turn = hued * (turn + p[_BY + 2] * from_middle)
        grown += (p[_BY] + p[_BY + 1] * from_middle) * from_middle + p[_BY + 3] * (full - 0.1)
        grown = math.exp(min(max(grown, -2.0), 2.0))
        c, d = math.cos(turn) * grown, math.sin(turn) * grown
        grey, of = 4 * light * (1 - light), light - 0.5
        tint_a = p[_TINT] + of * (p[_TINT + 1] + of * p[_TINT + 2])
        tint_b = p[_TINT + 3] + of * (p[_TINT + 4] + of * p[_TINT + 5])
        light += lighter * full * hued
        s, t = s * c - t * d + grey * tint_a, s * d + t * c + grey * tint_b
        if side:
            fl = min(max(light, 0.0), 1.0) * (side - 1)
            fs = min(max((s + REACH) / (2 * REACH), 0.0), 1.0) * (side - 1)
            ft = min(max((t + REACH) / (2 * REACH), 0.0), 1.0) * (side - 1)
            kl, ks, kt = min(int(fl), side - 2), min(int(fs), side - 2), min(int(ft), side - 2)
            fl, fs, ft = fl - kl, fs - ks, ft - kt
            dl, ds, dt = 0.0, 0.0, 0.0
            for corner in range(8):
                hl, hs, ht = corner >> 2, corner >> 1 & 1, corner & 1
                weight = (fl if hl else 1 - fl) * (fs if hs else 1 - fs) * (ft if ht else 1 - ft)
                at = ((kl + hl) * side + ks + hs) * side + kt + ht
                dl += weight * table[at, 0]
                ds += weight * table[at, 1]
                dt += weight * table[at, 2]
            light, s, t = light + dl, s + ds, t + dt
        out[i, 0], out[i, 1], out[i, 2] = light, s, t


def oklab(rgb: Array, core: Matrix, table: Matrix) -> Array:
    """Oklab (n, 3) of light in the display's primaries (n, 3), of a core's numbers (`MANY`,) and a
    table (SIDE^3, 3) or none (0, 3). It may lie outside what a display can show."""
    assert core.shape == (MANY,)
    assert WAVES == 2 * ORDERS + 1
    flat = np.ascontiguousarray(rgb, np.float32)
    out = np.empty_like(flat)
    bands.run(
        lambda top, end: _rendered(
            flat[top:end], core, table, OKLAB_CONES, OKLAB_OPPONENTS, out[top:end]
        ),
        len(flat),
        bands.MANY,
    )
    return out


def display(rgb: Array, how: Learnt) -> Array:
    """Display light 0 to 1 (..., 3) of light in the display's primaries (..., 3)."""
    flat = np.asarray(rgb, np.float32).reshape(-1, 3)
    shown = oklab_to_linear_srgb(oklab(flat, how.core, how.table))
    return np.clip(shown, 0, 1).astype(np.float32).reshape(np.shape(rgb))


def off_white(light: tuple[float, float]) -> tuple[float, float]:
    """How far a light (mired, Duv) is from the display's white, in the units of `lamps`."""
    return (light[0] - WHITE[0]) / 100, (light[1] - WHITE[1]) / 0.01


def lamp(light: tuple[float, float], lamps: Matrix) -> Matrix:
    """What a camera makes of linear Rec.2020 that was balanced for a light (3, 3); white stays."""
    warm, green = off_white(light)
    return np.eye(3) + warm * off_diagonal(lamps[:6]) + green * off_diagonal(lamps[6:])


@dataclass(frozen=True)
class Corners:
    """What makes up for a lens's falling off, on a picture or a part of one: place of each row and
    column of it, from the middle in half diagonals, and the two numbers of `Learnt.shade`."""

    down: Array
    across: Array
    shade: tuple[float, ...]

    def rows(self, first: int, many: int) -> Array:
        """Factors of some rows (many, w, 1)."""
        far = self.down[first : first + many, None] ** 2 + self.across[None] ** 2
        return np.asarray(1 + far * (self.shade[0] + self.shade[1] * far), np.float32)[..., None]


def corners(how: Learnt, shape: tuple[int, ...], where: Where) -> Corners | None:
    """For a picture of a `shape` (h, w, ...) that lies somewhere in its frame; None where nothing
    falls off."""
    if not any(how.shade):
        return None
    return Corners(where.down(0, shape[0]), where.across(shape[1]), how.shade)


def roomy(light: Array, white: float, how: Learnt) -> Array:
    """Light (...) that clips `white` stops above mid grey, brought to where the learnt pictures
    clip: what is above mid grey is pressed together or drawn apart, more so the brighter it is."""
    if abs(white - how.white) < EVEN:
        return light
    stops = np.log2(np.maximum(light, 1e-9) / np.float32(MID_GREY))
    way = np.clip(stops / white, 0, 1)
    bright = MID_GREY * np.exp2(how.white * (1 - np.power(1 - way, white / how.white)))
    return np.asarray(np.where(stops > 0, bright, light), np.float32)


def grey(light: Array, how: Learnt) -> Array:
    """Display light of greys (...,), of luminance, rising."""
    flat = np.asarray(light, np.float32).reshape(-1)
    lightness = oklab(np.repeat(flat[:, None], 3, 1), how.core, how.table)[:, 0].astype(float)
    order = np.argsort(flat, kind="stable")
    rising = np.maximum.accumulate(np.clip(lightness[order], 0, 1))
    out = np.empty_like(rising)
    out[order] = rising**3
    return np.asarray(out.reshape(np.shape(light)))

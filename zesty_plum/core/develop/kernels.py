"""The inner loops of a picture, each one pass over its rows, compiled (numba) and free of the
interpreter's lock; those of its colours are in `cube_loops`, those that look around in
`small_loops`.

They hold no idea of their own: each docstring names the stage whose formula it carries out on whole
pictures. A picture is split into bands of rows that run side by side; a band may be any height, so
large pictures go through in tiles.
"""

from typing import Any

import numpy as np

from ..base import fastmath
from ..base.arrays import Array, Bytes8
from ..base.fastmath import F
from ..base.loops import inlined, pixel_loop
from ..colour.spaces import LUMA_709
from . import gamut

_W = tuple(LUMA_709)  # compiled in
NEAR = 0.9  # share of the clip point from which on a channel counts as nearly clipped


@inlined
def _gone(light: Any, near: Any, clip: Any, least: Any, own: Any) -> Any:
    """Share of colour that is gone since a channel with `light` of at most `clip` is clipped, which
    is `own` after balance and the lowest channel `least`."""
    full = max((light - near) / (clip - near), F(0))
    share = least / max(own, F(1e-9))
    return full * share * share


@pixel_loop
def sense_to_log(
    light: Array,
    noise: Array,
    first: int,
    out: Array,
    gain: float,
    per_light: float,
    floor: float,
    matrices: Array,
    reach: Array,
    scale: Array,
    fall: Array,
    down: Array,
    across: Array,
) -> None:
    """Expose, sense and clip, balance (`sense`, `balance`), enter the display's primaries
    (`gamut`), then the shaper's scale (`point`), on rows of pixels (h, 3 w).

    Noise variance is per_light * level + floor, and noise adds at most as much as it could take, so
    that black is not lifted; `noise` (any height, 3 w) repeats, `first` is the row that `light`
    begins at; `matrices` (2, 3, 3) balance, and lead to the display's primaries
    with `reach` (3,); scale = (clip, dark, low, span): out = (log2(v + dark) - low) / span; `fall`,
    `down` and `across` (3 w,) as in `sense.Fall`, `across` of one where nothing falls off.
    """
    g, p, f, zero, one, tiny, calm = (
        F(gain),
        F(per_light),
        F(floor),
        F(0),
        F(1),
        F(1e-9),
        F(1 - gamut.KNEE),
    )
    a, b = matrices[0].astype(np.float32), matrices[1].astype(np.float32)
    near = F(scale[0] * NEAR)
    clip, dark, low, k = F(scale[0]), F(scale[1]), F(scale[2]), F(1.0 / scale[3])
    far0, far1, far2 = F(reach[0]), F(reach[1]), F(reach[2])
    # One row at a time through plain loops: the simple ones become vector instructions, and the row
    # stays in the cache.
    row, falls = np.empty(light.shape[1], np.float32), across.size > 1
    l1, l2, l3, l4 = F(fall[0, 0]), F(fall[0, 1]), F(fall[0, 2]), F(fall[0, 3])
    k1, k2, k3, k4 = F(fall[1, 0]), F(fall[1, 1]), F(fall[1, 2]), F(fall[1, 3])
    for y in range(light.shape[0]):
        at = (first + y) % noise.shape[0]
        if falls:
            for i in range(row.size):
                way = down[y] + across[i]
                less = F(1) + way * (l1 + way * (l2 + way * (l3 + way * l4)))
                kept = F(1) + way * (k1 + way * (k2 + way * (k3 + way * k4)))
                level = max(light[y, i] * g, zero)
                added = np.sqrt((level * p + f * less) * less) * noise[at, i]
                row[i] = min(level + min(max(added, -level), level), clip * less) * kept
        else:
            for i in range(row.size):
                level = max(light[y, i] * g, zero)
                added = np.sqrt(level * p + f) * noise[at, i]
                row[i] = level + min(max(added, -level), level)
        for x in range(row.size // 3):
            u, v, w = min(row[3 * x], clip), min(row[3 * x + 1], clip), min(row[3 * x + 2], clip)
            r = max(a[0, 0] * u + a[0, 1] * v + a[0, 2] * w, zero)
            s = max(a[1, 0] * u + a[1, 1] * v + a[1, 2] * w, zero)
            t = max(a[2, 0] * u + a[2, 1] * v + a[2, 2] * w, zero)
            if max(u, v, w) > near:
                # Of a clipped channel more light is not known: colour goes as the least of the
                # others comes up to where that one stands.
                least, top = min(r, s, t), max(r, s, t)
                full = _gone(u, near, clip, least, r)
                full = max(full, _gone(v, near, clip, least, s))
                full = max(full, _gone(w, near, clip, least, t))
                r, s, t = r + full * (top - r), s + full * (top - s), t + full * (top - t)
            r, s, t = min(r, clip), min(s, clip), min(t, clip)
            u = b[0, 0] * r + b[0, 1] * s + b[0, 2] * t
            v = b[1, 0] * r + b[1, 1] * s + b[1, 2] * t
            w = b[2, 0] * r + b[2, 1] * s + b[2, 2] * t
            top = max(u, v, w, tiny)
            if min(u, v, w) < calm * top:
                even = one / top
                u = top * max(one - gamut.rolled_off(one - u * even, far0), zero)
                v = top * max(one - gamut.rolled_off(one - v * even, far1), zero)
                w = top * max(one - gamut.rolled_off(one - w * even, far2), zero)
            row[3 * x], row[3 * x + 1], row[3 * x + 2] = u + dark, v + dark, w + dark
        for i in range(row.size):
            out[y, i] = (fastmath.log2(row[i]) - low) * k


@pixel_loop
def sharpen(luma: Array, blurred: Array, amount: float, most: float) -> None:
    """Sharpness in place on a band of brightness: `amount` of its fine detail; added, it moves no
    pixel by more than `most`."""
    k, m = F(amount), F(most)
    for y in range(luma.shape[0]):
        for x in range(luma.shape[1]):
            change = k * (luma[y, x] - blurred[y, x])
            if k > 0:
                change = change * m / (m + abs(change))
            luma[y, x] += change


@pixel_loop
def finish(
    encoded: Array,
    luma: Array,
    grain: Array,
    first: int,
    rms: float,
    white: float,
    out: Array,
    pixels: Bytes8,
    marks: Bytes8,
) -> None:
    """Put a changed brightness and grain (`grain`) into `encoded`, and write the result, its bytes
    and its marks; pixels are (h, 3 w).

    luma : (h, w), the brightness after clarity and sharpness. grain : (any height, w), repeats;
    `first` is the row that the band begins at. marks : 1 clipped, at `white`, 2 crushed, all
    channels, before both.
    """
    s, one, zero, two = F(rms * 4.0), F(1), F(0), np.uint8(2)
    high, dark, top, half = F(white - 1.5 / 255), F(1.5 / 255), F(255), F(0.5)
    width = luma.shape[1]
    change, row = np.empty(width, np.float32), np.empty(3 * width, np.float32)
    # Through plain loops, which become vector instructions.
    for y in range(luma.shape[0]):
        at = (first + y) % grain.shape[0]
        for x in range(width):
            r, g, b = encoded[y, 3 * x], encoded[y, 3 * x + 1], encoded[y, 3 * x + 2]
            change[x] = _W[0] * r + _W[1] * g + _W[2] * b
            marks[y, x] = np.uint8(min(r, g, b) >= high) + two * np.uint8(max(r, g, b) < dark)
        for x in range(width):
            inside = min(max(luma[y, x], zero), one)
            added = s * inside * (one - inside) * grain[at, x]
            change[x] = luma[y, x] - change[x] + added
        for x in range(width):
            row[3 * x], row[3 * x + 1], row[3 * x + 2] = change[x], change[x], change[x]
        for i in range(3 * width):
            row[i] += encoded[y, i]
        for i in range(3 * width):
            out[y, i] = row[i]
        for i in range(3 * width):
            pixels[y, i] = np.uint8(np.int32(min(max(row[i], zero), one) * top + half))


@pixel_loop
def cut_out(light: Array, share: Bytes8, left: int, out: Array) -> None:
    """What moves by itself, into (h, w, 4): light (h, any, 3) from column `left` on times its share
    (h, any) of 255, and that."""
    part = F(1 / 255)
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            s = share[y, left + x] * part
            for c in range(3):
                out[y, x, c] = light[y, left + x, c] * s
            out[y, x, 3] = s


@pixel_loop
def lay_over(
    light: Array, share: Bytes8, over: Array, behind: Array, within: bool, left: int
) -> None:
    """Lay what was drawn out (h, w, 4) over light (h, any, 3) from column `left` on, in place, and
    over what is `behind` it there, or `within` its outline (`moving`)."""
    one, tiny, part = F(1), F(1e-4), F(1 / 255)
    for y in range(over.shape[0]):
        for x in range(over.shape[1]):
            at = left + x
            s, a = share[y, at] * part, over[y, x, 3]
            for c in range(3):
                still, moved = (one - s) * light[y, at, c], over[y, x, c]
                if within:
                    light[y, at, c] = still + s * moved / max(a, tiny)
                else:
                    light[y, at, c] = moved + (one - a) * (still + s * behind[y, at, c])

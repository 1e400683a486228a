"""The inner loops of a picture, each one pass over its rows, compiled (numba) and free of the interpreter's lock.

They hold no idea of their own: each docstring names the stage whose formula it carries out on whole pictures. A picture is
split into bands of rows that run side by side; a band may be any height, so large pictures go through in tiles.
"""

from typing import Any

import numba
import numpy as np

from ..arrays import Array, Bytes8


def _log2_polynomial() -> tuple[float, ...]:
    """log2(1 + t) for t in 0 to 1 as a polynomial of degree 6 through Chebyshev's points, highest power first."""
    t = 0.5 - 0.5 * np.cos(np.pi * np.arange(400) / 399)
    return tuple(float(c) for c in np.polyfit(t, np.log2(1 + t), 6))


LOG2 = _log2_polynomial()

_fast = numba.njit(nogil=True, cache=True, fastmath={"nnan", "ninf", "nsz", "arcp", "contract", "afn"})


@_fast
def sense_and_balance(
    light: Array, noise: Array, out: Array, gain: float, per_light: float, floor: float, m: Array, dark: float
) -> None:
    """Expose, sense and balance (`sense`, `balance`) from `light` (h, w, 3): balanced light plus `dark`, not below it.

    Noise variance is per_light * level + floor; the matrix is `m` (3, 3).
    """
    g, p, f, d, zero = np.float32(gain), np.float32(per_light), np.float32(floor), np.float32(dark), np.float32(0)
    m00, m01, m02 = np.float32(m[0, 0]), np.float32(m[0, 1]), np.float32(m[0, 2])
    m10, m11, m12 = np.float32(m[1, 0]), np.float32(m[1, 1]), np.float32(m[1, 2])
    m20, m21, m22 = np.float32(m[2, 0]), np.float32(m[2, 1]), np.float32(m[2, 2])
    for y in range(light.shape[0]):
        for x in range(light.shape[1]):
            r, gr, b = light[y, x, 0] * g, light[y, x, 1] * g, light[y, x, 2] * g
            r += np.sqrt(max(r, zero) * p + f) * noise[y, x, 0]
            gr += np.sqrt(max(gr, zero) * p + f) * noise[y, x, 1]
            b += np.sqrt(max(b, zero) * p + f) * noise[y, x, 2]
            out[y, x, 0] = max(m00 * r + m01 * gr + m02 * b + d, d)
            out[y, x, 1] = max(m10 * r + m11 * gr + m12 * b + d, d)
            out[y, x, 2] = max(m20 * r + m21 * gr + m22 * b + d, d)


@_fast
def to_log(values: Array, bits: Array, low: float, span: float) -> None:
    """(log2(v) - low) / span in place on a flat positive float32 array; `bits` is the same memory as int32.

    The exponent is read off the number itself, the mantissa's logarithm is a polynomial of degree 6 (minimax on 1 to 2,
    error below 2e-6), which the compiler turns into vector instructions.
    """
    k, lo = np.float32(1.0 / span), np.float32(low)
    c1, c2, c3 = np.float32(LOG2[5]), np.float32(LOG2[4]), np.float32(LOG2[3])
    c4, c5, c6, c0 = np.float32(LOG2[2]), np.float32(LOG2[1]), np.float32(LOG2[0]), np.float32(LOG2[6])
    for i in range(values.size):
        b = bits[i]
        exponent = np.float32((b >> 23) - 127)
        bits[i] = (b & 0x007FFFFF) | 0x3F800000
        t = values[i] - np.float32(1.0)
        part = ((((((c6 * t + c5) * t + c4) * t + c3) * t + c2) * t + c1) * t) + c0
        values[i] = (exponent + part - lo) * k


@_fast
def guide(mean: Array, square: Array, variance: Array, shares: Array, out: Array) -> None:
    """Coefficients of the guided filter (`reduce_noise`) from local means and mean squares (h, w, 3), into (h, w, 6).

    keep = v / (v + n) with local variance v and noise n = variance (h, w) times the plane's share; offset = mean - keep mean.
    """
    tiny, zero = np.float32(1e-9), np.float32(0)
    for y in range(mean.shape[0]):
        for x in range(mean.shape[1]):
            for c in range(3):
                m = mean[y, x, c]
                v = max(square[y, x, c] - m * m, zero)
                k = v / (v + variance[y, x] * shares[c] + tiny * tiny)
                out[y, x, c] = k
                out[y, x, 3 + c] = m - k * m


@_fast
def _columns(width: int, columns: int) -> Any:
    """Left neighbour and weight of the right one, to interpolate `columns` values over `width` pixels."""
    left, weight = np.empty(width, np.int32), np.empty(width, np.float32)
    for x in range(width):
        at = min(max((x + 0.5) * columns / width - 0.5, 0.0), columns - 1.0)
        left[x] = min(int(at), max(columns - 2, 0))
        weight[x] = at - left[x]
    return left, weight


@_fast
def _row_between(small: Array, row: Array, y: int, height: int) -> None:
    """Row `y` of `height` between the rows of a small map (h2, w2, n), into (w2 + 1, n), its last column twice."""
    rows, columns, channels = small.shape
    at = min(max((y + 0.5) * rows / height - 0.5, 0.0), rows - 1.0)
    y0 = min(int(at), max(rows - 2, 0))
    y1 = min(y0 + 1, rows - 1)
    w = np.float32(at - y0)
    for x in range(columns):
        for c in range(channels):
            row[x, c] = small[y0, x, c] + w * (small[y1, x, c] - small[y0, x, c])
    row[columns] = row[columns - 1]


@_fast
def keep_and_offset(encoded: Array, guided: Array, top: int, height: int) -> None:
    """Apply a guided filter (`reduce_noise`) in place: planes times keep plus offset, `guided` (h2, w2, 6), interpolated.

    `encoded` is the band of a picture of `height` rows that begins at row `top`.
    """
    half, quarter = np.float32(0.5), np.float32(0.25)
    left, weight = _columns(encoded.shape[1], guided.shape[1])
    row = np.empty((guided.shape[1] + 1, 6), np.float32)
    for y in range(encoded.shape[0]):
        _row_between(guided, row, y + top, height)
        for x in range(encoded.shape[1]):
            i, u = left[x], weight[x]
            r, g, b = encoded[y, x, 0], encoded[y, x, 1], encoded[y, x, 2]
            grey = quarter * (r + b) + half * g
            warm, cool = r - grey, b - grey
            grey = (row[i, 0] + u * (row[i + 1, 0] - row[i, 0])) * grey + row[i, 3] + u * (row[i + 1, 3] - row[i, 3])
            warm = (row[i, 1] + u * (row[i + 1, 1] - row[i, 1])) * warm + row[i, 4] + u * (row[i + 1, 4] - row[i, 4])
            cool = (row[i, 2] + u * (row[i + 1, 2] - row[i, 2])) * cool + row[i, 5] + u * (row[i + 1, 5] - row[i, 5])
            encoded[y, x, 0] = grey + warm
            encoded[y, x, 1] = grey - half * (warm + cool)
            encoded[y, x, 2] = grey + cool


@_fast
def clarify(luma: Array, base: Array, amount: float, most: float, top: int, height: int) -> None:
    """Clarity in place on a band of brightness: `amount` of what slope and offset in `base` (h2, w2, 2), interpolated, leave over.

    Weighted by 4 y (1 - y); where it is added, no pixel moves by more than `most` (x / (1 + |x| / most)).
    """
    left, weight = _columns(luma.shape[1], base.shape[1])
    row = np.empty((base.shape[1] + 1, 2), np.float32)
    one, four, k, m = np.float32(1), np.float32(4), np.float32(amount), np.float32(most)
    for y in range(luma.shape[0]):
        _row_between(base, row, y + top, height)
        for x in range(luma.shape[1]):
            i, u, v = left[x], weight[x], luma[y, x]
            kept = (row[i, 0] + u * (row[i + 1, 0] - row[i, 0])) * v + row[i, 1] + u * (row[i + 1, 1] - row[i, 1])
            change = k * (v - kept) * four * v * (one - v)
            if k > 0:
                change = change * m / (m + abs(change))
            luma[y, x] = v + change


@_fast
def sharpen(luma: Array, blurred: Array, amount: float, most: float) -> None:
    """Sharpness in place on a band of brightness: `amount` of its fine detail; added, it moves no pixel by more than `most`."""
    k, m = np.float32(amount), np.float32(most)
    for y in range(luma.shape[0]):
        for x in range(luma.shape[1]):
            change = k * (luma[y, x] - blurred[y, x])
            if k > 0:
                change = change * m / (m + abs(change))
            luma[y, x] += change


@_fast
def finish(encoded: Array, luma: Array, grain: Array, rms: float, pixels: Bytes8, marks: Bytes8) -> None:
    """Put a changed brightness and grain (`grain`) into `encoded` in place, and write its bytes and marks.

    luma : (h, w), the brightness after clarity and sharpness. marks : 1 clipped, 2 crushed, all channels, before both.
    """
    s, one, zero = np.float32(rms * 4.0), np.float32(1), np.float32(0)
    high, dark = np.float32(253.5 / 255), np.float32(1.5 / 255)
    for y in range(encoded.shape[0]):
        for x in range(encoded.shape[1]):
            r, g, b = encoded[y, x, 0], encoded[y, x, 1], encoded[y, x, 2]
            marks[y, x] = 1 if min(r, g, b) >= high else (2 if max(r, g, b) < dark else 0)
            was = np.float32(0.2126) * r + np.float32(0.7152) * g + np.float32(0.0722) * b
            now = luma[y, x]
            inside = min(max(now, zero), one)
            change = now - was + s * inside * (one - inside) * grain[y, x]
            r, g, b = r + change, g + change, b + change
            encoded[y, x, 0], encoded[y, x, 1], encoded[y, x, 2] = r, g, b
            pixels[y, x, 0] = np.uint8(min(max(r, zero), one) * np.float32(255) + np.float32(0.5))
            pixels[y, x, 1] = np.uint8(min(max(g, zero), one) * np.float32(255) + np.float32(0.5))
            pixels[y, x, 2] = np.uint8(min(max(b, zero), one) * np.float32(255) + np.float32(0.5))

"""The inner loops that work with a small copy of a picture: the noise filter, guided by planes of
half its size, and clarity, which is told what lies around from a smaller one. As in `kernels`.
"""

from typing import Any

import numpy as np

from ..base.arrays import Array
from ..base.fastmath import F
from ..base.loops import inlined, pixel_loop


@pixel_loop
def halved(encoded: Array, matrix: Array, top: int, out: Array) -> None:
    """Rows from `top` on of the planes (3, h2, w2) of a picture (h, 3 w), averaged two by two and
    multiplied by `matrix` (3, 3); an odd row or column more is left out."""
    m, quarter = matrix, F(0.25)
    for y in range(out.shape[1]):
        upper, lower = encoded[2 * (top + y)], encoded[2 * (top + y) + 1]
        for x in range(out.shape[2]):
            k = 6 * x
            r = quarter * (upper[k] + upper[k + 3] + lower[k] + lower[k + 3])
            g = quarter * (upper[k + 1] + upper[k + 4] + lower[k + 1] + lower[k + 4])
            b = quarter * (upper[k + 2] + upper[k + 5] + lower[k + 2] + lower[k + 5])
            out[0, y, x] = m[0, 0] * r + m[0, 1] * g + m[0, 2] * b
            out[1, y, x] = m[1, 0] * r + m[1, 1] * g + m[1, 2] * b
            out[2, y, x] = m[2, 0] * r + m[2, 1] * g + m[2, 2] * b


@inlined
def _around(at: Any, many: Any) -> Any:
    """The places before and behind one of `many`; at an end both are the one inside."""
    last = max(many - 2, 0)
    return abs(at - 1) if many > 1 else 0, at + 1 if at + 1 < many else last


@pixel_loop
def guide(
    planes: Array, variance: Array, shares: Array, acting: Array, top: int, end: int, out: Array
) -> None:
    """Rows `top` to `end` of the coefficients of the guided filter (`reduce_noise`) of planes (3,
    h, w), into (6, h, w), by means over three pixels each way.

    keep = v / (v + n) with local variance v and noise n = variance (h, w) times the plane's share;
    offset = mean - keep mean; of both `acting` (3,) counts.
    """
    tiny, zero, ninth, one = F(1e-18), F(0), F(1 / 9), F(1)
    height, width = planes.shape[1], planes.shape[2]
    # A place more at each side, so that the loop over a row has no ends to think of.
    sums, squares = np.empty(width + 2, np.float32), np.empty(width + 2, np.float32)
    left, right = _around(0, width)[0], _around(width - 1, width)[1]
    for y in range(top, end):
        up, down = _around(y, height)
        for c in range(3):
            above, here, below = planes[c, up], planes[c, y], planes[c, down]
            for x in range(width):
                i, j, k = above[x], here[x], below[x]
                sums[x + 1], squares[x + 1] = i + j + k, i * i + j * j + k * k
            sums[0], sums[width + 1] = sums[left + 1], sums[right + 1]
            squares[0], squares[width + 1] = squares[left + 1], squares[right + 1]
            share, act = shares[c], acting[c]
            keep, offset, noise = out[c, y], out[3 + c, y], variance[y]
            for x in range(width):
                m = (sums[x] + sums[x + 1] + sums[x + 2]) * ninth
                v = max((squares[x] + squares[x + 1] + squares[x + 2]) * ninth - m * m, zero)
                n = noise[x] * share
                kept = one - act * n / (v + n + tiny)
                keep[x] = kept
                offset[x] = m - kept * m


@pixel_loop
def _columns(width: int, columns: int) -> Any:
    """Left neighbour and weight of the right one, to interpolate `columns` values over `width`
    pixels."""
    left, weight = np.empty(width, np.int32), np.empty(width, np.float32)
    for x in range(width):
        at = min(max((x + 0.5) * columns / width - 0.5, 0.0), columns - 1.0)
        left[x] = min(int(at), max(columns - 2, 0))
        weight[x] = at - left[x]
    return left, weight


@pixel_loop
def _stretch(small: Array, y: int, left: Array, weight: Array, soft: bool, out: Array) -> None:
    """Row `y` of small planes (n, h2, w2) as wide as a picture, into (n, width); `soft` averages it
    with its neighbours first, three each way."""
    width, columns = left.size, small.shape[2]
    near, far, ninth = F(0.75), F(0.25), F(1 / 9)
    row, sums = np.empty(columns, np.float32), np.empty(columns + 2, np.float32)
    up, down = _around(y, small.shape[1])
    before, behind = _around(0, columns)[0], _around(columns - 1, columns)[1]
    for c in range(small.shape[0]):
        to, above, here, below = out[c], small[c, up], small[c, y], small[c, down]
        if soft:
            for i in range(columns):
                sums[i + 1] = above[i] + here[i] + below[i]
            sums[0], sums[columns + 1] = sums[before + 1], sums[behind + 1]
            for i in range(columns):
                row[i] = (sums[i] + sums[i + 1] + sums[i + 2]) * ninth
        else:
            row[:] = here
        if width == 2 * columns:  # the usual case, which becomes vector instructions
            to[0], to[width - 1] = row[0], row[columns - 1]
            for i in range(columns - 1):
                to[2 * i + 1] = near * row[i] + far * row[i + 1]
                to[2 * i + 2] = far * row[i] + near * row[i + 1]
        else:
            for x in range(width):
                i = left[x]
                j = min(i + 1, columns - 1)
                to[x] = row[i] + weight[x] * (row[j] - row[i])


@pixel_loop
def _between(
    small: Array, y: int, height: int, columns: Any, soft: bool, held: int, pair: Array
) -> Any:
    """Where row `y` of `height` lies between the rows of small planes (n, h2, w2), for rows that
    follow each other.

    `pair` (2, n, width) keeps the last two rows of the planes, as wide as a picture, the even one
    first; returned are the number of the lower one, which the next call is `held`, -1 before the
    first, and the share of the lower one.
    """
    left, weight = columns
    rows = small.shape[1]
    at = min(max((y + 0.5) * rows / height - 0.5, 0.0), rows - 1.0)
    upper = min(int(at), max(rows - 2, 0))
    for k in range(max(upper, held + 1), upper + 2):
        _stretch(small, min(k, rows - 1), left, weight, soft, pair[k % 2])
    return upper + 1, F(at - upper)


@pixel_loop
def keep_and_offset(encoded: Array, guided: Array, top: int, height: int) -> None:
    """Apply a guided filter (`reduce_noise`) in place on rows of pixels (h, 3 w): planes times keep
    plus offset, `guided` (6, h2, w2), averaged over three pixels each way and interpolated.

    `encoded` is the band of a picture of `height` rows that begins at row `top`.
    """
    half, quarter, width = F(0.5), F(0.25), encoded.shape[1] // 3
    columns, held = _columns(width, guided.shape[2]), -1
    pair = np.empty((2, 6, width), np.float32)
    for y in range(encoded.shape[0]):
        held, w = _between(guided, y + top, height, columns, True, held, pair)
        a, b = pair[(held + 1) % 2], pair[held % 2]
        for x in range(width):
            red, green, blue = encoded[y, 3 * x], encoded[y, 3 * x + 1], encoded[y, 3 * x + 2]
            grey = quarter * (red + blue) + half * green
            warm, cool = red - grey, blue - grey
            grey = (a[0, x] + w * (b[0, x] - a[0, x])) * grey + a[3, x] + w * (b[3, x] - a[3, x])
            warm = (a[1, x] + w * (b[1, x] - a[1, x])) * warm + a[4, x] + w * (b[4, x] - a[4, x])
            cool = (a[2, x] + w * (b[2, x] - a[2, x])) * cool + a[5, x] + w * (b[5, x] - a[5, x])
            encoded[y, 3 * x] = grey + warm
            encoded[y, 3 * x + 1] = grey - half * (warm + cool)
            encoded[y, 3 * x + 2] = grey + cool


@pixel_loop
def clarify(luma: Array, base: Array, amount: float, most: float, top: int, height: int) -> None:
    """Clarity in place on a band of brightness: `amount` of what slope and offset in `base` (2, h2,
    w2), interpolated, leave over.

    Weighted by 4 y (1 - y); where it is added, no pixel moves by more than `most` (x / (1 + |x| /
    most)).
    """
    width = luma.shape[1]
    columns, held = _columns(width, base.shape[2]), -1
    pair = np.empty((2, 2, width), np.float32)
    one, four, k, m = F(1), F(4), F(amount), F(most)
    more = amount > 0
    for y in range(luma.shape[0]):
        held, w = _between(base, y + top, height, columns, False, held, pair)
        a, b = pair[(held + 1) % 2], pair[held % 2]
        for x in range(width):
            v = luma[y, x]
            slope, offset = a[0, x] + w * (b[0, x] - a[0, x]), a[1, x] + w * (b[1, x] - a[1, x])
            change = k * (v - (slope * v + offset)) * four * v * (one - v)
            luma[y, x] = v + (change * m / (m + abs(change)) if more else change)

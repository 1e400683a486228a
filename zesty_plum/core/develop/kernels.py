"""The inner loops of a picture, each one pass over its rows, compiled (numba) and free of the
interpreter's lock.

They hold no idea of their own: each docstring names the stage whose formula it carries out on whole
pictures. A picture is split into bands of rows that run side by side; a band may be any height, so
large pictures go through in tiles.
"""

from typing import Any

import numpy as np

from .. import fastmath
from ..arrays import Array, Bytes8, Mask
from ..colour.spaces import LUMA_709
from ..fastmath import F
from ..loops import Borrowed, inlined, loop_with
from . import gamut

_W = tuple(LUMA_709)  # compiled in
mix = Borrowed("zesty_plum.core.develop.packed", "mix")
_fast = loop_with(
    fastmath={"nnan", "ninf", "nsz", "arcp", "contract", "afn"},
    error_model="numpy",
)


NEAR = 0.9  # share of the clip point from which on a channel counts as nearly clipped


@inlined
def _gone(light: Any, near: Any, clip: Any, least: Any, own: Any) -> Any:
    """Share of colour that is gone since a channel with `light` of at most `clip` is clipped, which
    is `own` after balance and the lowest channel `least`."""
    full = max((light - near) / (clip - near), F(0))
    share = least / max(own, F(1e-9))
    return full * share * share


@_fast
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
) -> None:
    """Expose, sense and clip, balance (`sense`, `balance`), enter the display's primaries
    (`gamut`), then the shaper's scale (`point`), on rows of pixels (h, 3 w).

    Noise variance is per_light * level + floor, and noise adds at most as much as it could take, so
    that black is not lifted; `noise` (any height, 3 w) repeats, `first` is the row that `light`
    begins at; `matrices` (2, 3, 3) balance, and lead to the display's primaries
    with `reach` (3,); scale = (clip, dark, low, span): out = (log2(v + dark) - low) / span.
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
    row = np.empty(light.shape[1], np.float32)
    for y in range(light.shape[0]):
        at = (first + y) % noise.shape[0]
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


@inlined
def _split(values: Array, many: int, at: Array, part: Array) -> None:
    """Values 0 to 1 (n,) on a line of `many` equal pieces: the piece, and how far into it."""
    one, zero, pieces, last = F(1), F(0), F(many), F(many - 1)
    for i in range(at.size):
        v = min(max(values[i], zero), one) * pieces
        k = np.int32(min(v, last))
        at[i], part[i] = k, v - F(k)


@inlined
def _ways(size: Any) -> Any:
    """Where in a cube of `size` places a side the corners of a cell lie that are passed when its
    largest part is walked first, by which parts are larger (`_way`)."""
    red, green, blue = size * size, size, 1
    first = [blue, blue, green, green, blue, red, red, red]
    last = [red, green, red, blue, green, green, blue, blue]
    return np.array(first, np.int32), np.array([red + green + blue - k for k in last], np.int32)


@inlined
def _way(r: Any, g: Any, b: Any) -> Any:
    """Red than green (4), green than blue (2), red than blue (1); without branches."""
    return np.int32(r >= g) << 2 | np.int32(g >= b) << 1 | np.int32(r >= b)


@_fast
def look_up(
    encoded: Array,
    out: Array,
    luma: Array,
    ramp: Array,
    cube: Array,
    ready: Mask,
    at: Array,
    parts: Array,
) -> int:
    """`table.Table` applied on rows of pixels (h, 3 w), into `out`, which may be the same: a ramp
    (n, 2) on each channel, and what a cube adds to it.

    In its cell of the cube (size, size, size, 4) a colour is mixed from four corners: the lowest,
    the highest, and the two passed on the way when its largest part is walked first (Kasson, Nin,
    Plouffe and Hafner 1995). Brightness goes into `luma` (h, w). A pixel whose cell is not `ready`
    (size^3,) gets the ramp's grey alone; where it is and its cell go into the next row of `at`
    (any, 2), its parts of the cell into `parts` (any, 3). How many those are is returned.
    """
    size = cube.shape[0]
    one, green, across = F(1), np.int32(size), np.int32(size * size + size + 1)
    first, second = _ways(size)
    flat = cube.reshape(size * size * size, 4)
    # A row goes through plain loops, so that what needs no look-up becomes vector instructions.
    width, left_out = encoded.shape[1], 0
    cell, part, place = (
        np.empty(width, np.int32),
        np.empty(width, np.float32),
        np.empty(width, np.float32),
    )
    mixed = np.empty((luma.shape[1], 4), np.float32)
    one_up = np.uint64(1)
    for y in range(luma.shape[0]):
        _split(encoded[y], ramp.shape[0] - 1, cell, part)
        for i in range(width):
            low, p = np.uint64(cell[i]), part[i]
            grey, there = ramp[low, 0], ramp[low, 1]
            out[y, i] = grey + p * (ramp[low + one_up, 0] - grey)
            place[i] = there + p * (ramp[low + one_up, 1] - there)
        _split(place, size - 1, cell, part)
        for x in range(luma.shape[1]):
            at0 = (cell[3 * x] * green + cell[3 * x + 1]) * green + cell[3 * x + 2]
            r, g, b = part[3 * x], part[3 * x + 1], part[3 * x + 2]
            if not ready[at0]:
                at[left_out, 0], at[left_out, 1] = y * luma.shape[1] + x, at0
                parts[left_out, 0], parts[left_out, 1], parts[left_out, 2] = r, g, b
                left_out += 1
                for c in range(4):
                    mixed[x, c] = 0
                continue
            most, least, middle = max(r, g, b), min(r, g, b), max(min(r, g), min(max(r, g), b))
            way = _way(r, g, b)
            at1, at2, at3 = at0 + first[way], at0 + second[way], at0 + across
            w0, w1, w2 = one - most, most - middle, middle - least
            mix(flat, at0, at1, at2, at3, w0, w1, w2, least, mixed, x)
        for x in range(luma.shape[1]):
            r, g, b = out[y, 3 * x], out[y, 3 * x + 1], out[y, 3 * x + 2]
            luma[y, x] = _W[0] * r + _W[1] * g + _W[2] * b + mixed[x, 3]
            out[y, 3 * x] = r + mixed[x, 0]
            out[y, 3 * x + 1] = g + mixed[x, 1]
            out[y, 3 * x + 2] = b + mixed[x, 2]
    return left_out


@_fast
def add_left_out(encoded: Array, luma: Array, cube: Array, at: Array, parts: Array) -> None:
    """What `look_up` left out: what the cube adds to pixels (n, 3) and their brightness (n,)."""
    size = cube.shape[0]
    one, across = F(1), np.int32(size * size + size + 1)
    first, second = _ways(size)
    flat, mixed = cube.reshape(size * size * size, 4), np.empty((1, 4), np.float32)
    for k in range(at.shape[0]):
        pixel, at0 = at[k, 0], at[k, 1]
        r, g, b = parts[k, 0], parts[k, 1], parts[k, 2]
        most, least, middle = max(r, g, b), min(r, g, b), max(min(r, g), min(max(r, g), b))
        way = _way(r, g, b)
        at1, at2, at3 = at0 + first[way], at0 + second[way], at0 + across
        w0, w1, w2 = one - most, most - middle, middle - least
        mix(flat, at0, at1, at2, at3, w0, w1, w2, least, mixed, 0)
        for c in range(3):
            encoded[pixel, c] += mixed[0, c]
        luma[pixel] += mixed[0, 3]


@_fast
def touch(encoded: Array, places: Array, cells: Array, size: int) -> None:
    """Mark in `cells` (size**3,) the cells of a cube that `look_up` goes to for rows of pixels
    (h, 3 w), each by its lowest corner; `places` (n,) is the second half of its ramp."""
    n, one_up = np.uint64(size), np.uint64(1)
    width = encoded.shape[1]
    at, part = np.empty(width, np.int32), np.empty(width, np.float32)
    place = np.empty(width, np.float32)
    for y in range(encoded.shape[0]):
        _split(encoded[y], places.shape[0] - 1, at, part)
        for i in range(width):
            low = np.uint64(at[i])
            there = places[low]
            place[i] = there + part[i] * (places[low + one_up] - there)
        _split(place, size - 1, at, part)
        for x in range(width // 3):
            low = (np.uint64(at[3 * x]) * n + np.uint64(at[3 * x + 1])) * n
            cells[low + np.uint64(at[3 * x + 2])] = True


@_fast
def corners(places: Array, axis: Array) -> Array:
    """Colours (n, 3) at `places` (n,) of a cube whose sides are `axis` (size,)."""
    size, out = axis.size, np.empty((places.size, 3), np.float32)
    for k in range(places.size):
        red, rest = divmod(places[k], size * size)
        out[k, 0], out[k, 1], out[k, 2] = axis[red], axis[rest // size], axis[rest % size]
    return out


@_fast
def store(places: Array, encoded: Array, grey: Array, cube: Array) -> None:
    """Put encoded colours (n, 3) at `places` (n,) into a cube (size**3, 4), less the `grey` (size,)
    of its sides, and the brightness of that."""
    size = grey.size
    for k in range(places.size):
        red, rest = divmod(places[k], size * size)
        r, g, b = encoded[k, 0], encoded[k, 1], encoded[k, 2]
        r, g, b = r - grey[red], g - grey[rest // size], b - grey[rest % size]
        at = cube[places[k]]
        at[0], at[1], at[2], at[3] = r, g, b, _W[0] * r + _W[1] * g + _W[2] * b


@_fast
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


@_fast
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


@_fast
def _columns(width: int, columns: int) -> Any:
    """Left neighbour and weight of the right one, to interpolate `columns` values over `width`
    pixels."""
    left, weight = np.empty(width, np.int32), np.empty(width, np.float32)
    for x in range(width):
        at = min(max((x + 0.5) * columns / width - 0.5, 0.0), columns - 1.0)
        left[x] = min(int(at), max(columns - 2, 0))
        weight[x] = at - left[x]
    return left, weight


@_fast
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


@_fast
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


@_fast
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


@_fast
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


@_fast
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


@_fast
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


@_fast
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


@_fast
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

"""The inner loops of a cube of colours (`table`): which of them a picture needs, and looking its
pixels up between them, the four corners around each (tetrahedral interpolation). As in `kernels`.
"""

from typing import Any

import numpy as np

from ..base.arrays import Array, Mask
from ..base.fastmath import F
from ..base.loops import Borrowed, inlined, pixel_loop
from ..colour.spaces import LUMA_709

_W = tuple(LUMA_709)  # compiled in
mix = Borrowed("zesty_plum.core.develop.packed", "mix")


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


@pixel_loop
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


@pixel_loop
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


@pixel_loop
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


@pixel_loop
def corners(places: Array, axis: Array) -> Array:
    """Colours (n, 3) at `places` (n,) of a cube whose sides are `axis` (size,)."""
    size, out = axis.size, np.empty((places.size, 3), np.float32)
    for k in range(places.size):
        red, rest = divmod(places[k], size * size)
        out[k, 0], out[k, 1], out[k, 2] = axis[red], axis[rest // size], axis[rest % size]
    return out


@pixel_loop
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

"""Tone: a style's curve from stops of scene light to display light.

Stops are log2 of light over mid grey. Above mid grey the curve in log2 of display light is a
falling power that reaches white at the clip point; below it is a straight line whose slope changes
smoothly towards the toe's. Both join at mid grey with the style's contrast, so the curve is smooth
and strictly increasing.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..base import bands, fastmath
from ..base.arrays import MID_GREY, Array
from ..base.loops import inlined, quick_loop
from ..colour.spaces import srgb_decode
from ..styles.parameters import Tone
from . import bend

TOE_LENGTH = 3.0  # stops over which the slope changes from contrast to contrast x toe


@dataclass(frozen=True, slots=True)
class Film:
    """What film-style bodies add to a curve, in encoded values 0 to 1.

    black_level : added to black, the rest making room. knee_point : where the highlights start to
    bend; 1 and above is never. knee_slope : how they bend, -1 to 1; plus is brighter. brights,
    darks : added two thirds and one third of the way up, at most 0.12, and less around it.
    """

    black_level: float = 0.0
    knee_point: float = 1.05
    knee_slope: float = 0.0
    brights: float = 0.0
    darks: float = 0.0


def log_encoded(light: Array, tone: Tone) -> Array:
    """Encoded value of scene light on the log-like curve: grey + log2((x + o) / (0.18 + o)) /
    stops, from 0 to 1."""
    o = tone.log_offset
    return np.asarray(
        tone.log_grey + np.log2((np.maximum(light, 0) + o) / (MID_GREY + o)) / tone.log_stops
    )


def log_decoded(encoded: Array, tone: Tone) -> Array:
    """Inverse of `log_encoded`: (0.18 + o) 2^((e - grey) stops) - o."""
    o = tone.log_offset
    return np.asarray((MID_GREY + o) * np.exp2((encoded - tone.log_grey) * tone.log_stops) - o)


def log_end(tone: Tone) -> float:
    """Stops from mid grey at which a log curve reaches 1; 0 of another curve."""
    if not tone.log_stops:
        return 0.0
    return float(np.log2(log_decoded(np.array(1.0), tone) / MID_GREY))


def filmed(encoded: Array, film: Film) -> Array:
    """Knee, bends, then black level, on encoded values (...,); strictly increasing, white stays.

    Above the knee point, t from 0 to 1 becomes t + a t^2 (1 - t): slope 1 at the knee, so it does
    not show. Bends are Bernstein's two middle polynomials of third degree.
    """
    out = encoded
    if film.brights or film.darks:
        e = np.clip(out, 0, 1)
        out = e + 6.75 * e * (1 - e) * (film.brights * e + film.darks * (1 - e))
    if film.knee_slope and film.knee_point < 1:
        t = np.clip((out - film.knee_point) / (1 - film.knee_point), 0, 1)
        bent = t + 0.9 * film.knee_slope * t * t * (1 - t)
        out = np.where(out > film.knee_point, film.knee_point + (1 - film.knee_point) * bent, out)
    if film.black_level:
        b = film.black_level
        # Below zero black is reached early: a soft toe instead of a cut, slope 1 / (1 - b) far
        # above it.
        out = b + (1 - b) * out if b > 0 else _sunk(out, -b)
    return np.asarray(out)


def _sunk(encoded: Array, depth: float) -> Array:
    """Lower the dark end by `depth`, smoothly and without crossing zero: 0 and 1 stay."""
    e = np.clip(encoded, 0, 1)
    return np.asarray(e - depth * e / (e + depth) * (1 - e) * 0.9)


def display(
    stops: Array, tone: Tone, white: float, highlights: float = 0.0, shadows: float = 0.0
) -> Array:
    """Display light 0 to 1 of `stops`, over black; 1 is reached at `white`. Keeps the precision it
    is given. `highlights` (-1 to 1) and `shadows` (stops) as in `bend`."""
    if tone.log_stops:
        return np.asarray(srgb_decode(np.clip(log_encoded(MID_GREY * np.exp2(stops), tone), 0, 1)))
    grey = float(np.log2(tone.grey))
    way = np.clip(stops / white, 0, 1)
    above = grey * bend.left(way, bend.shoulder_power(tone, white), highlights)
    x = np.maximum(-bend.lifted(stops, shadows), 0)
    fall = tone.toe * x + (1 - tone.toe) * TOE_LENGTH * (1 - np.exp(-x / TOE_LENGTH))
    return np.asarray(np.exp2(np.where(stops > 0, above, grey - tone.contrast * fall)))


def lift(light: Array, tone: Tone) -> Array:
    """Put the style's black under display light; white stays."""
    return np.asarray(tone.black + (1 - tone.black) * light)


CURVE_FROM, CURVE_STEP = (
    -18.0,
    1 / 256,
)  # stops, from mid grey, at which a curve's table begins, and between its entries
LOG_FROM = math.log2(MID_GREY) + CURVE_FROM


def curve_table(curve: Callable[[Array], Array], white: float) -> Array:
    """Cube roots of the display light of a grey curve (light to light) from `CURVE_FROM` to just
    above `white` stops.

    Between cube roots a straight line errs by less than 1e-6 of full scale.
    """
    stops = np.arange(CURVE_FROM, white + 3 * CURVE_STEP, CURVE_STEP)
    return np.asarray(np.cbrt(curve(MID_GREY * np.exp2(stops))), np.float64)


@inlined
def _looked_up(table: Array, light: float) -> float:
    at = min(
        max((fastmath.log2(np.float32(max(light, 1e-9))) - LOG_FROM) / CURVE_STEP, 0.0),
        table.size - 1.001,
    )
    k = int(at)
    root = table[k] + (at - k) * (table[k + 1] - table[k])
    return float(root * root * root)


@quick_loop
def _toned(rgb: Array, out: Array, table: Array, keep_hue: float, black: float) -> None:
    """`apply` on a flat list (n, 3)."""
    for i in range(rgb.shape[0]):
        r, g, b = float(rgb[i, 0]), float(rgb[i, 1]), float(rgb[i, 2])
        p, q, s = _looked_up(table, r), _looked_up(table, g), _looked_up(table, b)
        if keep_hue > 0:
            r3, g3, b3 = r * r * r, g * g * g, b * b * b
            mean = 0.5 * (0.2627 * r3 + 0.6780 * g3 + 0.0593 * b3) + (r3 + g3 + b3) / 6
            norm = max(fastmath.cube_root(mean), 1e-9)
            whole = _looked_up(table, norm)
            even = whole / norm
            share = keep_hue * (1 - whole * whole)
            p, q, s = (
                p + share * (r * even - p),
                q + share * (g * even - q),
                s + share * (b * even - s),
            )
        out[i, 0], out[i, 1], out[i, 2] = (
            black + (1 - black) * p,
            black + (1 - black) * q,
            black + (1 - black) * s,
        )


def apply(rgb: Array, tone: Tone, table: Array) -> Array:
    """Scene light (..., 3) to display light: the curve on each channel, mixed with one factor for
    all, which keeps hue.

    The factor is the curve at one brightness for the colour, between luminance and the largest
    channel (a power mean of order 3); its share falls to nothing towards white, where it would
    leave colours that no display can show. What channels by themselves do to hue there is undone
    after it (`colouring.Held`).
    """
    flat = np.ascontiguousarray(rgb, np.float32).reshape(-1, 3)
    out = np.empty_like(flat)
    bands.run(
        lambda top, end: _toned(flat[top:end], out[top:end], table, tone.keep_hue, tone.black),
        len(flat),
        bands.MANY,
    )
    return out.reshape(np.shape(rgb))


def undo(light: Array, tone: Tone, white: float) -> Array:
    """Inverse of `display` for a style without toe change and black level: scene light, mid grey
    0.18.

    Raises ValueError for another style, whose inverse has no closed form.
    """
    if tone.toe != 1.0 or tone.black:
        raise ValueError("only a curve with toe 1 and black 0 is undone in closed form")
    grey = np.log2(tone.grey)
    log = np.log2(np.maximum(light, 1e-12))
    above = white * (1 - np.power(np.clip(log / grey, 0, 1), 1 / bend.shoulder_power(tone, white)))
    below = (log - grey) / tone.contrast
    scene = MID_GREY * np.exp2(np.where(light > tone.grey, above, below))
    return np.where(light > 0, scene, 0).astype(np.float32)

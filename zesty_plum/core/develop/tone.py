"""Tone: a style's curve from stops of scene light to display light.

Stops are log2 of light over mid grey. Above mid grey the curve in log2 of display light is a falling power that
reaches white at the clip point; below it is a straight line whose slope changes smoothly towards the toe's. Both join at
mid grey with the style's contrast, so the curve is smooth and strictly increasing.
"""

from dataclasses import dataclass

import numpy as np

from ..arrays import MID_GREY, Array
from ..colour.spaces import LUMINANCE_2020

TOE_LENGTH = 3.0  # stops over which the slope changes from contrast to contrast x toe
LEAST_POWER = 1.05  # of the shoulder; at 1 it would no longer flatten towards white


@dataclass(frozen=True, slots=True)
class Tone:
    """contrast : slope at mid grey, log display light per log scene light. grey : display light of mid grey.
    toe : slope deep in the shadows over the slope at mid grey. black : display light of no light.
    keep_hue : share of the curve that is applied to all channels by one factor.
    """

    contrast: float = 1.25
    grey: float = MID_GREY
    toe: float = 1.0
    black: float = 0.0
    keep_hue: float = 0.0


def shoulder_power(tone: Tone, white: float) -> float:
    """Power of the upper part for a clip point `white` stops above mid grey."""
    return max(float(tone.contrast * white / -np.log2(tone.grey)), LEAST_POWER)


def display(stops: Array, tone: Tone, white: float) -> Array:
    """Display light 0 to 1 of `stops`, over black; 1 is reached at `white`. Keeps the precision it is given."""
    grey = float(np.log2(tone.grey))
    above = grey * np.power(1 - np.clip(stops / white, 0, 1), shoulder_power(tone, white))
    x = np.maximum(-stops, 0)
    fall = tone.toe * x + (1 - tone.toe) * TOE_LENGTH * (1 - np.exp(-x / TOE_LENGTH))
    return np.asarray(np.exp2(np.where(stops > 0, above, grey - tone.contrast * fall)))


def lift(light: Array, tone: Tone) -> Array:
    """Put the style's black under display light; white stays."""
    return np.asarray(tone.black + (1 - tone.black) * light)


def blend(rgb: Array, per_channel: Array, n: Array, by_norm: Array, tone: Tone) -> Array:
    """Mix a curve applied to each channel with one applied to all by one factor, which keeps hue.

    The share of the second falls to nothing towards white, where it would leave colours that no display can show.
    rgb, per_channel : (..., 3), scene light and its display light. n, by_norm : (...,), norm and its display light.
    """
    share = (tone.keep_hue * (1 - by_norm * by_norm))[..., None]
    return np.asarray(per_channel * (1 - share) + share * rgb * (by_norm / np.maximum(n, 1e-9))[..., None], np.float32)


def undo(light: Array, tone: Tone, white: float) -> Array:
    """Inverse of `display` for a style without toe change and black level: scene light, mid grey 0.18.

    Raises ValueError for another style, whose inverse has no closed form.
    """
    if tone.toe != 1.0 or tone.black:
        raise ValueError("only a curve with toe 1 and black 0 is undone in closed form")
    grey = np.log2(tone.grey)
    log = np.log2(np.maximum(light, 1e-12))
    above = white * (1 - np.power(np.clip(log / grey, 0, 1), 1 / shoulder_power(tone, white)))
    below = (log - grey) / tone.contrast
    scene = MID_GREY * np.exp2(np.where(light > tone.grey, above, below))
    return np.where(light > 0, scene, 0).astype(np.float32)


def norm(rgb: Array) -> Array:
    """One brightness for a colour: between luminance and the largest channel, smooth (a power mean of order 3)."""
    cubes = rgb * rgb * rgb
    return np.asarray(np.cbrt(cubes @ LUMINANCE_2020 * 0.5 + cubes.mean(-1) * 0.5), np.float32)

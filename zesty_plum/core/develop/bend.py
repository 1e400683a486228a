"""Highlights and shadows: bend the tone of a scene above and below mid grey, before the style's
curve.

Mid grey, its contrast and the clip point stay where they are, so one step means the same in every
style.
"""

import numpy as np

from ..arrays import Array

SHADOW_REACH = 2.0  # stops below mid grey at which half of the full change is reached
MOST = 2.6  # of `highlights` either way; the bend stays strictly increasing below 3


def _lower(u: Array, h: float) -> Array:
    """u - h u^2 (1 - u) on 0 to 1: keeps both ends and the slope at 0; increasing while h < 3."""
    return u - h * u * u * (1 - u)


def _raise(u: Array, h: float) -> Array:
    """Inverse of `_lower`, by Newton's method."""
    x = np.sqrt(u) if h > 1 else u
    for _ in range(12):
        slope = 1 - h * (2 * x - 3 * x * x)
        x = np.clip(x - (_lower(x, h) - u) / np.maximum(slope, 0.05), 0, 1)
    return x


def bend(stops: Array, highlights: float, shadows: float, white: float) -> Array:
    """Return `stops` bent; plus is brighter on both sides.

    Parameters
    ----------
    stops : (...,) float32
        log2 of scene light over mid grey.
    highlights : float
        Up to `MOST` either way; 1 moves the tone two thirds of the way to the clip point by 0.15 of
        that way.
    shadows : float
        Stops that deep shadows move, at most 3 up. The change x^2 / (x^2 + 4) has a slope of at
        most 0.33.
    white : float
        Clip point in stops.
    """
    out = stops
    if highlights:
        u = np.clip(stops / white, 0, 1)
        h = min(abs(highlights), MOST)
        moved = _raise(u, h) if highlights > 0 else _lower(u, h)
        out = np.where(stops > 0, white * moved, out)
    if shadows:
        x = np.maximum(-stops, 0)
        out = out + shadows * x * x / (x * x + SHADOW_REACH**2)
    return np.asarray(out)

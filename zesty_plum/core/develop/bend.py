"""Highlights and shadows: a style's shoulder made softer or harder, and its toe lifted or lowered.

Mid grey, its contrast and the clip point stay where they are. Neither makes a wave: the shoulder
goes over from the style's to another falling power, and on the way no tone loses half of its
contrast or gets twice of it (tests/core/test_bend.py). A log-like curve is not bent at all: grades
count on its law.
"""

from functools import lru_cache

import numpy as np

from ..base.arrays import Array
from ..styles.parameters import Tone

SHADOW_REACH = 2.0  # stops below mid grey at which half of the full change is reached
LEAST_POWER = 1.05  # of a shoulder; at 1 it would no longer flatten towards white
# Power of the softest and of the hardest shoulder over the style's own, and how far from mid grey,
# as a share of the way to the clip point, they have taken over by two thirds.
SOFTEST, SOFTLY = 0.66, 0.25
HARDEST, HARDLY = 2.05, 0.43
# Where a style's own shoulder is soft already, little is left to soften; there the hardest shoulder
# is held to this many times what the softest moves, so that steps up and down look alike, but never
# below this share of itself: a flat style still wants its lights brighter.
EVEN, AT_LEAST = 1.25, 0.4
JOIN = 1.5  # how smoothly they begin: above 1, so that the contrast at mid grey stays


def shoulder_power(tone: Tone, white: float) -> float:
    """Power of a style's own shoulder for a clip point `white` stops above mid grey."""
    return max(float(tone.contrast * white / -np.log2(tone.grey)), LEAST_POWER)


def _end(way: Array, power: float, other: float, reach: float) -> Array:
    """(1 - way)^p, with p going from `power` at mid grey to `other` at the clip point."""
    taken = (1 - np.exp(-((way / reach) ** JOIN))) / (1 - np.exp(-(reach**-JOIN)))
    return np.asarray(np.power(1 - way, power + (other - power) * taken))


def left(way: Array, power: float, highlights: float) -> Array:
    """What is left up to white, as a share of log2 of display light from mid grey to white.

    Parameters
    ----------
    way : (...,) from 0 at mid grey to 1 at the clip point, in stops.
    power : of the style's shoulder; the style alone is (1 - way)^power.
    highlights : -1 to 1, plus is brighter. The curve is mixed in proportion from the style's and
        the one at the end, so that steps are even in stops of display light and no step is steeper
        or flatter than both.
    """
    own = np.power(1 - way, power)
    h = min(max(highlights, -1.0), 1.0)
    if not h:
        return np.asarray(own)
    end = _hardest(way, power) if h > 0 else _softest(way, power)
    taken = h * _hard_share(power) if h > 0 else -h
    return np.asarray(own + taken * (end - own))


def _softest(way: Array, power: float) -> Array:
    return _end(way, power, max(1.0, SOFTEST * power), SOFTLY)


def _hardest(way: Array, power: float) -> Array:
    return _end(way, power, HARDEST * power, HARDLY)


@lru_cache(maxsize=256)
def _hard_share(power: float) -> float:
    """How much of the hardest shoulder a style takes at most, judged two thirds of the way up."""
    way = np.array(2 / 3)
    own = np.power(1 - way, power)
    softer, harder = _softest(way, power) - own, own - _hardest(way, power)
    return float(min(1.0, max(AT_LEAST, EVEN * softer / harder)))


def lifted(stops: Array, shadows: float) -> Array:
    """Stops of scene light over mid grey (...,), moved below it by up to `shadows` stops, at most 3
    up.

    The change x^2 / (x^2 + 4) has a slope of at most 0.33.
    """
    x = np.maximum(-stops, 0)
    return np.asarray(stops + shadows * x * x / (x * x + SHADOW_REACH**2))


@lru_cache(maxsize=64)
def room(tone: Tone, white: float) -> tuple[float, float]:
    """Stops of display light by which highlights can darken and brighten a tone two stops above mid
    grey; (0, 0) for a log-like curve."""
    if tone.log_stops:
        return 0.0, 0.0
    way, power = np.array(2 / white), shoulder_power(tone, white)
    own, soft, hard = (float(left(way, power, h)) for h in (0, -1, 1))
    height = -float(np.log2(tone.grey))
    return (soft - own) * height, (own - hard) * height

"""Grain: noise of the brightness whose size is in photosites and whose strength follows the tone.

White noise under a Gaussian, so its spectrum falls smoothly and it makes no blotches larger than
itself. `kernels.finish` adds it, weighted by 4 y (1 - y): 1 at mid scale, none in pure black and
white. A picture that is shown small has what averaging leaves of it.
"""

import math
from functools import lru_cache

import numpy as np

from ..base.arrays import Array
from .photosites import averaged, blurred

FIELDS = ("grain", "grain_size")
# A Gaussian's autocorrelation is as wide at half its height as this many of its deviations; that
# is what "across" means.
ACROSS = 4 * math.sqrt(math.log(2))


def deviation(size: float) -> float:
    """Deviation in photosites of the Gaussian that makes grain of `size` photosites across."""
    return size / ACROSS


def left(size: float, pitch: float) -> float:
    """What is left of grain's RMS at `pitch` pixels a photosite; 1 at 100 percent."""
    return averaged(deviation(size), pitch)[0]


@lru_cache(maxsize=6)
def unit_grain(
    height: int, width: int, size: float, pitch: float, seed: int, repeats: bool = False
) -> Array:
    """Noise (height, width) of mean 0 and RMS 1, `size` photosites across at `pitch` pixels a
    photosite.

    If it `repeats`, it can be laid below itself without a seam.
    """
    blur = averaged(deviation(size), pitch)[1]
    pad = math.ceil(4 * blur) + 1
    white = np.random.default_rng([seed, 2]).standard_normal(
        (height + 2 * pad, width + 2 * pad), dtype=np.float32
    )
    if repeats:
        white[height + pad :], white[:pad] = white[pad : 2 * pad], white[height : height + pad]
    field = blurred(white, blur)[pad : pad + height, pad : pad + width]
    field = field - field.mean()
    return np.ascontiguousarray(field / field.std())

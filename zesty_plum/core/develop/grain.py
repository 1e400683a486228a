"""Grain: band-limited noise whose size goes with the frame and whose strength goes with the tone.

`kernels.finish` adds it, weighted by 4 y (1 - y): 1 at mid scale, none in pure black and white.
"""

import math
from functools import lru_cache

import cv2
import numpy as np

from ..arrays import Array
from ..look import Look

FIELDS = ("grain", "grain_size")


@lru_cache(maxsize=6)
def unit_grain(height: int, width: int, blur: float, seed: int, repeats: bool = False) -> Array:
    """Noise (height, width) of mean 0 and RMS 1, blurred by `blur` pixels with its slow part taken
    out.

    If it `repeats`, it can be laid below itself without a seam.
    """
    pad = int(np.ceil(blur * 9))
    white = np.random.default_rng([seed, 2]).standard_normal(
        (height + 2 * pad, width + 2 * pad), dtype=np.float32
    )
    if repeats:
        white[height + pad :], white[:pad] = white[pad : 2 * pad], white[height : height + pad]
    band = cv2.GaussianBlur(white, (0, 0), blur) - cv2.GaussianBlur(white, (0, 0), blur * 3)
    field = band[pad : pad + height, pad : pad + width]
    field = field - field.mean()
    return np.ascontiguousarray(field / field.std())


def blur_pixels(size: float, width: int) -> float:
    """Blur for grain of `size` (share of frame width); not below what pixels can hold."""
    return max(0.45, round(size * width / 2, 3))


def noise(deviation: float, look: Look, grey: float) -> float:
    """Grain lies on top of noise, with its own weight by tone."""
    return math.hypot(deviation, look.grain * 4 * grey * (1 - grey))

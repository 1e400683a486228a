"""Softening of faces: the fine texture of skin taken down, and of nothing else.

What is skin is told by hue, chroma and lightness (CIELAB), softly, on a small copy; eyes, teeth,
hair and lips lie outside. There the difference from a wide guided filter (He, Sun and Tang 2010)
goes, as far as it is small: folds, lashes and the form of cheeks are larger than that and stay. It
acts on photosites, so a picture that is shown small has little of it.
"""

import numpy as np

from ..base import bands
from ..base.arrays import Array
from ..base.late import library
from ..colour.lab import encoded_to_lab
from ..look import Look
from .part import Part

cv2 = library("cv2")

FIELDS = ("softening",)
RADIUS = 9.0  # of the window, in photosites
EDGE = 0.035  # encoded contrast above which a step counts as form
FINE = 0.045  # encoded difference that is half taken; larger ones are form and stay
REACH = 4 * RADIUS + 32  # pixels that it looks away, at most
SMALL = 4  # pixels of the picture for one of the map of skin
# Hue in degrees, chroma and L* between which skin lies, light to very dark, and how softly it ends.
HUES, CHROMAS, LIGHTS = (34.0, 74.0, 9.0), (7.0, 46.0, 5.0), (14.0, 93.0, 6.0)


def _between(value: Array, low: float, high: float, soft: float) -> Array:
    """1 inside, 0 outside, going over within `soft`."""
    inside = np.minimum(value - low, high - value) / soft
    t = np.clip(inside + 0.5, 0, 1)
    return np.asarray(t * t * (3 - 2 * t), np.float32)


def skin(encoded: Array) -> Array:
    """How much each pixel of a picture (h, w, 3), encoded, looks like skin (h, w), 0 to 1."""
    height, width = encoded.shape[:2]
    size = max(1, width // SMALL), max(1, height // SMALL)
    lab = encoded_to_lab(cv2.resize(encoded, size, interpolation=cv2.INTER_AREA))
    a, b = lab[..., 1], lab[..., 2]
    found = _between(np.degrees(np.arctan2(b, a)), *HUES) * _between(np.hypot(a, b), *CHROMAS)
    found *= _between(lab[..., 0], *LIGHTS)
    found = cv2.GaussianBlur(found, (0, 0), 1.5)
    return np.asarray(cv2.resize(found, (width, height), interpolation=cv2.INTER_LINEAR))


def shape(luma: Array, look: Look, part: Part) -> None:
    """Soften skin in an encoded brightness (h, w), in place, by the colours of the part."""
    if not look.softening or part.colours is None:
        return
    side = 2 * max(1, round(RADIUS * part.pitch)) + 1
    box = side, side
    mean = cv2.blur(luma, box)
    variance = np.maximum(cv2.blur(luma * luma, box) - mean * mean, 0)
    slope = variance / (variance + EDGE * EDGE)
    slope, offset = cv2.blur(slope, box), cv2.blur(mean - slope * mean, box)
    amount = np.float32(look.softening) * skin(part.colours)

    def work(top: int, end: int) -> None:
        band = slice(top, end)
        detail = luma[band] - (slope[band] * luma[band] + offset[band])
        luma[band] -= amount[band] * detail / (1 + (detail / np.float32(FINE)) ** 2)

    bands.run(work, len(luma))

"""Kinds of things that most pictures have in common, found by colour and place alone: skin, sky,
foliage, greys. Simple, so that it can be said what they take for what."""

import numpy as np

from ..base.arrays import Array, Mask

LEAST = 0.004  # share of a picture from which a kind counts as there
KINDS = ("skin", "sky", "foliage", "grey")
SAID = {
    "skin": "skin, or what has its colour: wood, sand",
    "sky": "sky, or what is blue and high up",
    "foliage": "foliage",
    "grey": "greys",
}


def kinds(lab: Array, height: Array) -> dict[str, Mask]:
    """Where colours (n, 3), L*a*b*, at a height in the frame (n,), 0 at the bottom, are of a
    kind."""
    light, chroma = lab[:, 0], np.hypot(lab[:, 1], lab[:, 2])
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) % 360
    return {
        "skin": (hue > 25)
        & (hue < 82)
        & (chroma > 9)
        & (chroma < 48)
        & (light > 22)
        & (light < 88),
        "sky": (hue > 205) & (hue < 300) & (chroma > 5) & (light > 35) & (height > 0.45),
        "foliage": (hue > 92) & (hue < 165) & (chroma > 9) & (light > 8) & (light < 82),
        "grey": (chroma < 7) & (light > 6) & (light < 97),
    }

"""CIEDE2000 colour difference (CIE 142; formulas as in Sharma, Wu and Dalal 2005)."""

import numpy as np

from ..arrays import Array


def ciede2000(first: Array, second: Array) -> Array:
    """Difference of two L*a*b* arrays of shape (..., 3); returns (...,)."""
    l1, a1, b1 = np.moveaxis(np.asarray(first, np.float32), -1, 0)
    l2, a2, b2 = np.moveaxis(np.asarray(second, np.float32), -1, 0)
    mean_chroma7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    g = 1.5 - 0.5 * np.sqrt(mean_chroma7 / (mean_chroma7 + 25.0**7))
    a1, a2 = a1 * g, a2 * g
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = np.arctan2(b1, a1), np.arctan2(b2, a2)
    coloured = c1 * c2 > 0
    turn = np.where(coloured, np.mod(h2 - h1 + np.pi, 2 * np.pi) - np.pi, 0)
    # Opposite hues: the standard takes +180 degrees, the remainder above gives -180.
    turn = np.where(turn == -np.pi, np.pi, turn)
    dl, dc, dh = l2 - l1, c2 - c1, 2 * np.sqrt(c1 * c2) * np.sin(turn / 2)
    lightness, chroma = (l1 + l2) / 2, (c1 + c2) / 2
    h1, h2 = np.mod(h1, 2 * np.pi), np.mod(h2, 2 * np.pi)
    total = h1 + h2
    apart = np.abs(h1 - h2) > np.pi
    hue = np.where(apart, np.where(total < 2 * np.pi, total + 2 * np.pi, total - 2 * np.pi), total) / 2
    hue = np.where(coloured, hue, total)
    t = (
        1
        - 0.17 * np.cos(hue - np.radians(30))
        + 0.24 * np.cos(2 * hue)
        + 0.32 * np.cos(3 * hue + np.radians(6))
        - 0.20 * np.cos(4 * hue - np.radians(63))
    )
    bend = np.radians(60) * np.exp(-(((np.degrees(hue) - 275) / 25) ** 2))
    chroma7 = chroma**7
    rotate = -2 * np.sqrt(chroma7 / (chroma7 + 25.0**7)) * np.sin(bend)
    off = (lightness - 50) ** 2
    sl = 1 + 0.015 * off / np.sqrt(20 + off)
    sc, sh = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    cc, hh = dc / sc, dh / sh
    return np.asarray(np.sqrt(np.maximum((dl / sl) ** 2 + cc**2 + hh**2 + rotate * cc * hh, 0)), np.float32)

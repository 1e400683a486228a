"""Gamut: bring colours inside the display's without hard edges, and leave alone what fits.

Two places: scene colours that sRGB's primaries cannot mix (a channel below zero), and display colours beyond full
chroma. Both use one curve, the identity for whatever is already inside.
"""

from functools import cache

import numpy as np

from ..arrays import Array, Matrix
from ..colour.spaces import oklab_to_linear_srgb

KNEE = 0.8


def roll_off(x: Array, limit: Array | float, knee: float = KNEE) -> Array:
    """Compress x >= 0 so that `limit` lands on 1, nothing below `knee` moves, and limit 1 changes nothing.

    The curve t (1 + t / m^2) / (1 + t) is Reinhard's extended one, on t = (x - knee) / (1 - knee).
    """
    t = np.maximum(x - knee, 0) / (1 - knee)
    m = np.maximum((limit - knee) / (1 - knee), 1.0)
    return np.where(x > knee, knee + (1 - knee) * t * (1 + t / (m * m)) / (1 + t), x).astype(np.float32)


def reach(matrix: Matrix) -> Matrix:
    """How far outside a matrix can throw the corners of the input cube, per channel (3,); 1 is on the edge."""
    corners = np.array([[1, 0, 0], [0, 1, 0], [0, 0, 1], [1, 1, 0], [0, 1, 1], [1, 0, 1]], float) @ matrix.T
    top = corners.max(-1, keepdims=True)
    return np.asarray(np.maximum(((top - corners) / top).max(0), 1.0))


def enter(rgb: Array, limit: Matrix) -> Array:
    """Pull channels below zero up towards the brightest one: distance from grey is rolled off per channel."""
    # Pairwise: numpy's maximum along an axis of three is many times slower.
    top = np.maximum(np.maximum(rgb[..., 0], rgb[..., 1]), np.maximum(rgb[..., 2], 1e-9))[..., None]
    return np.asarray(top * (1 - roll_off((top - rgb) / top, limit.astype(np.float32))), np.float32)


@cache
def _edge_table(lightnesses: int = 96, hues: int = 360) -> Array:
    """Largest Oklch chroma inside sRGB by lightness (0 to 1) and hue (degrees), found by halving."""
    light, hue = np.meshgrid(np.linspace(0, 1, lightnesses), np.radians(np.arange(hues)), indexing="ij")
    low, high = np.zeros_like(light), np.full_like(light, 0.5)
    for _ in range(18):
        middle = (low + high) / 2
        rgb = oklab_to_linear_srgb(np.stack([light, middle * np.cos(hue), middle * np.sin(hue)], -1).astype(np.float32))
        inside = ((rgb > -1e-4) & (rgb < 1 + 1e-4)).all(-1)
        low, high = np.where(inside, middle, low), np.where(inside, high, middle)
    return np.concatenate([low, low[:, :1]], 1).astype(np.float32)


def edge(lightness: Array, hue: Array) -> Array:
    """Largest chroma inside sRGB at Oklab `lightness` and `hue` in radians, from a table."""
    table = _edge_table()
    columns = table.shape[1]
    y = np.clip(lightness, 0, 1) * np.float32(table.shape[0] - 1)
    x = np.mod(hue * np.float32(180 / np.pi), np.float32(360))
    y0, x0 = np.minimum(y.astype(np.int32), table.shape[0] - 2), np.minimum(x.astype(np.int32), 359)
    fy, fx, at = y - y0, x - x0, y0 * columns + x0
    top, bottom = table.take(at), table.take(at + columns)
    top = top + (table.take(at + 1) - top) * fx
    bottom = bottom + (table.take(at + columns + 1) - bottom) * fx
    return np.asarray(top + (bottom - top) * fy, np.float32)

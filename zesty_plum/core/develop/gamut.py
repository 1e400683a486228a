"""Gamut: bring colours inside the display's without hard edges, and leave alone what fits.

Two places: scene colours that sRGB's primaries cannot mix (a channel below zero), and display
colours beyond full chroma. Both use one curve, the identity up to `KNEE` of the way to the edge;
the fullest colours inside give way to those that come from outside.
"""

import math
from functools import cache

import numpy as np

from ..base import bands
from ..base.arrays import Array, Matrix
from ..base.late import library
from ..base.loops import inlined, loop
from ..colour.spaces import oklab_to_linear_srgb

cv2 = library("cv2")

KNEE = 0.8  # share of the way from grey to the edge up to which nothing moves


@inlined
def rolled_off(x: float, limit: float) -> float:
    """Compress x >= 0 so that `limit` lands on 1, nothing below `KNEE` moves, and limit 1 changes
    nothing.

    The curve t (1 + t / m^2) / (1 + t) is Reinhard's extended one, on t = (x - knee) / (1 - knee).
    """
    if x <= KNEE:
        return x
    t, m = (x - KNEE) / (1 - KNEE), max((limit - KNEE) / (1 - KNEE), 1.0)
    return KNEE + (1 - KNEE) * t * (1 + t / (m * m)) / (1 + t)


def reach(matrix: Matrix) -> Matrix:
    """How far outside a matrix can throw the corners of the input cube, per channel (3,); 1 is on
    the edge."""
    corners = (
        np.array([[1, 0, 0], [0, 1, 0], [0, 0, 1], [1, 1, 0], [0, 1, 1], [1, 0, 1]], float)
        @ matrix.T
    )
    top = corners.max(-1, keepdims=True)
    return np.asarray(np.maximum(((top - corners) / top).max(0), 1.0))


@loop
def _entered(rgb: Array, out: Array, m: Array, limit: Array) -> None:
    """`enter` on a flat list (n, 3)."""
    for i in range(rgb.shape[0]):
        r, g, b = float(rgb[i, 0]), float(rgb[i, 1]), float(rgb[i, 2])
        p = m[0, 0] * r + m[0, 1] * g + m[0, 2] * b
        q = m[1, 0] * r + m[1, 1] * g + m[1, 2] * b
        s = m[2, 0] * r + m[2, 1] * g + m[2, 2] * b
        top = max(p, q, s, 1e-9)
        out[i, 0] = max(top * (1 - rolled_off(1 - p / top, limit[0])), 0.0)
        out[i, 1] = max(top * (1 - rolled_off(1 - q / top, limit[1])), 0.0)
        out[i, 2] = max(top * (1 - rolled_off(1 - s / top, limit[2])), 0.0)


def enter(rgb: Array, matrix: Matrix) -> Array:
    """Colours (..., 3) through a matrix, channels below zero pulled up towards the brightest one:
    distance from grey is rolled off per channel, by how far the matrix can throw it."""
    flat = np.ascontiguousarray(rgb, np.float32).reshape(-1, 3)
    out, limit = np.empty_like(flat), reach(matrix)
    bands.run(
        lambda top, end: _entered(flat[top:end], out[top:end], matrix, limit), len(flat), bands.MANY
    )
    return out.reshape(np.shape(rgb))


@cache
def edge_table(lightnesses: int = 96, hues: int = 360) -> Array:
    """Largest Oklch chroma inside sRGB by lightness (0 to 1) and hue (0 to 360 degrees), found by
    halving, without ridges."""
    light, hue = np.meshgrid(
        np.linspace(0, 1, lightnesses), np.radians(np.arange(hues)), indexing="ij"
    )
    low, high = np.zeros_like(light), np.full_like(light, 0.5)
    for _ in range(18):
        middle = (low + high) / 2
        rgb = oklab_to_linear_srgb(
            np.stack([light, middle * np.cos(hue), middle * np.sin(hue)], -1).astype(np.float32)
        )
        inside = ((rgb > -1e-4) & (rgb < 1 + 1e-4)).all(-1)
        low, high = np.where(inside, middle, low), np.where(inside, high, middle)
    # Its ridges, at the primaries and where a hue is fullest, are worn round, always inwards: no
    # gradient gets an edge there.
    around = cv2.GaussianBlur(
        np.concatenate([low[:, -20:], low, low[:, :20]], 1), (0, 0), sigmaX=4, sigmaY=1.5
    )
    worn = np.minimum(low, around[:, 20:-20])
    return np.concatenate([worn, worn[:, :1]], 1).astype(np.float32)


@inlined
def edge_at(table: Array, lightness: float, hue: float) -> float:
    """Largest chroma inside sRGB at Oklab `lightness` and `hue` in radians, between the places of
    `edge_table`."""
    y = min(max(lightness, 0.0), 1.0) * (table.shape[0] - 1)
    degrees = hue * (180 / math.pi)
    x = degrees - 360 * math.floor(degrees / 360)
    y0, x0 = min(int(y), table.shape[0] - 2), min(int(x), table.shape[1] - 2)
    fy, fx = y - y0, x - x0
    top = table[y0, x0] + (table[y0, x0 + 1] - table[y0, x0]) * fx
    bottom = table[y0 + 1, x0] + (table[y0 + 1, x0 + 1] - table[y0 + 1, x0]) * fx
    return float(top + (bottom - top) * fy)

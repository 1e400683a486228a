"""Hats of straw, made in the base pose and turned with the head."""

import numpy as np

from .noise import fractal
from .render import both_sides, bumpy, picture, surface
from .shapes import lattice, rotation

MIDDLE = np.array([0, 6.98, 0.42])  # of the band
HEAD = (0.90, 1.10)  # half across and half deep, hair included


def straw(brim=1.0, rgb=(0.62, 0.47, 0.26), band=(0.03, 0.035, 0.05), lean=-10, seed=3):
    """A hat of sewn straw braid with a ribbon, its `brim` in decimetres: a function that is given
    the skin and `add`."""

    def wear(face, add):
        turn = np.linspace(0, 2 * np.pi, 361)
        dome = np.linspace(0.02, 1.45, 60)
        crown = [(0.93 * np.sin(p) ** 0.75, 0.82 * np.cos(p) + 0.10) for p in dome]
        rows = np.array([*crown, (0.985, 0.08), (1.0, 0.0)])
        out = np.linspace(0, 1, 60)[1:]
        points = []
        for r, y in rows:
            points.append(
                np.stack([r * HEAD[0] * np.sin(turn), y + 0 * turn, r * HEAD[1] * np.cos(turn)], -1)
            )
        wave = 0.05 * np.sin(2 * turn + 0.4) + 0.03 * np.sin(3 * turn + seed) - 0.05 * np.cos(turn)
        for s in out:
            away = s * brim
            y = 0.03 * np.sin(np.pi * s) - 0.16 * s**1.6 * brim + 1.6 * wave * s**1.4
            points.append(
                np.stack(
                    [(HEAD[0] + away) * np.sin(turn), y, (HEAD[1] + away * 0.97) * np.cos(turn)], -1
                )
            )
        points = np.array(points)
        points += 0.012 * fractal(points * 1.6, 3, seed)[..., None]
        run = np.r_[0, np.cumsum(np.linalg.norm(np.diff(points[:, 90], axis=0), axis=1))]
        v = np.repeat(run[:, None], len(turn), 1) / 2
        uv = np.stack([np.repeat((turn / (2 * np.pi))[None], len(run), 0), v], -1)
        placed = face.pose.head(points @ rotation(lean, 0, 0).T + MIDDLE)
        add("hat", lattice(placed, uv), _braid(rgb, seed))
        low = len(rows) - 1
        ribbon = np.concatenate([points[low - 14 : low + 1]])
        centre = ribbon.mean(1, keepdims=True)
        ribbon = centre + (ribbon - centre) * [1.025, 1, 1.025]
        cloth = both_sides(surface({"type": "rgb", "value": list(band)}, 0.6, 0.3, sheen=0.4))
        add("hat_band", lattice(face.pose.head(ribbon @ rotation(lean, 0, 0).T + MIDDLE)), cloth)

    return wear


def _braid(rgb, seed):
    """Rows of plaited straw, sewn round and round; a tile is 2 dm from the crown outwards."""
    y, x = np.mgrid[0:1024, 0:2048].astype(float)
    x, y = x / 2048, y / 1024
    rows = 30
    row, across = np.floor(y * rows), y * rows % 1
    strands = 230
    slant = x * strands + (across - 0.5) * 1.6 * np.where(row % 2 > 0, 1, -1)
    rise = np.sin(np.pi * np.clip(across, 0, 1)) ** 0.5 * (
        0.6 + 0.4 * np.abs(np.sin(np.pi * slant))
    )
    tone = fractal(np.stack([np.floor(slant) * 1.7, row * 3.1], -1), 2, seed)
    age = fractal(np.stack([x * 9, y * 6], -1), 3, seed + 2)
    base = np.asarray(rgb) * (0.80 + 0.22 * rise + 0.16 * tone + 0.10 * age)[..., None]
    straw_ = surface(picture(np.clip(base, 0.005, 0.9)), 0.5, 0.35)
    return both_sides(bumpy(rise, 0.012, straw_))

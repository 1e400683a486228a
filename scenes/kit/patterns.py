"""Flat patterns of garments: grids of quads on warp and weft, sewn by shared points."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Flat:
    """A pattern: `rest` (n, 2) in decimetres, `side` (n,) 1 front, -1 back, 0 seam, `quads`."""

    rest: np.ndarray
    side: np.ndarray
    quads: np.ndarray


@dataclass(frozen=True)
class Tee:
    """Measures of what is cut like a T, front and back alike: smock, shirt, dress, coat. All in
    decimetres but `sleeve_end` and `flare`, shares."""

    wide: float = 2.75  # half the trunk
    sleeve: float = 1.05  # half a sleeve's height at the arm
    cuff: float = 0.72
    sleeve_end: float = 0.93  # of the arm's length
    neck_wide: float = 0.70
    neck_front: float = 0.42
    neck_back: float = 0.12
    slit: float = 0.75
    flare: float = 0.0
    hem: float = -0.6  # height of the lower edge


def tee(cut, spacing, arm, neck):
    """Pattern of a `cut` for an `arm` (shoulder (2,) and length) and a `neck`'s height."""
    (shoulder, height), reach = arm
    h, wide, sleeve = spacing, cut.wide, cut.sleeve
    trunk, end = round(wide / h), shoulder + reach * cut.sleeve_end
    beyond = max(round((end - wide) / h), 0)
    up, down = round(2 * sleeve / h), round((height - sleeve - cut.hem) / h)
    outer = wide + np.arange(1, beyond + 1) * h
    xs = np.concatenate([-outer[::-1], np.linspace(-wide, wide, 2 * trunk + 1), outer])
    low = np.arange(down + up + 1) - down
    x, y = _laid(cut, xs, low, up, h, (height, neck, end))
    inside = (np.abs(xs) <= wide + 1e-6)[None] | (low >= 0)[:, None]
    cell = inside[:-1, :-1] & inside[1:, :-1] & inside[:-1, 1:] & inside[1:, 1:]
    edge = (low[:, None] <= 0) & (np.abs(np.abs(xs) - wide) < 1e-6)[None]
    edge |= (low[:, None] == 0) & (np.abs(xs) > wide)[None]
    points, side, quads, sewn = [], [], [], {}
    for face, drop in ((1, cut.neck_front), (-1, cut.neck_back)):
        px, py, keep, used, rim = _neck(x, y, cell, cut.neck_wide, drop, neck)
        ids = -np.ones(x.shape, int)
        for i, j in zip(*np.where(used)):
            top = i == len(low) - 1
            over = top and (not rim[i, j] or abs(px[i, j]) >= 0.98 * cut.neck_wide)
            shared = edge[i, j] or over
            if shared and (i, j) in sewn:
                ids[i, j] = sewn[i, j]
                continue
            ids[i, j] = len(points)
            points.append((px[i, j], py[i, j]))
            side.append(0 if shared else face)
            if shared:
                sewn[i, j] = ids[i, j]
        right, middle = ids.copy(), len(xs) // 2
        if face > 0 and cut.slit:
            for i in np.where(used[:, middle])[0]:
                if py[i, middle] > neck - drop - cut.slit + 1e-6:
                    right[i, middle] = len(points)
                    points.append((px[i, middle], py[i, middle]))
                    side.append(face)
        for i, j in zip(*np.where(keep)):
            at = right if j >= middle else ids
            q = [at[i, j], at[i, j + 1], at[i + 1, j + 1], at[i + 1, j]]
            quads.append(q if face > 0 else q[::-1])
    return Flat(np.array(points), np.array(side), np.array(quads))


def _laid(cut, xs, low, up, h, heights):
    """Where the lattice's points lie in flat measure, before the neck is cut out."""
    height, neck, end = heights
    rows, columns = len(low), len(xs)
    x = np.repeat(xs[None], rows, 0)
    y = np.repeat(np.where(low <= 0, height - cut.sleeve + low * h, 0.0)[:, None], columns, 1)
    far = np.abs(xs)
    half = np.interp(far, [cut.wide, end], [1.0, cut.cuff / cut.sleeve]) * cut.sleeve
    top = np.interp(far, [cut.neck_wide * 0.6, cut.wide], [neck, height + cut.sleeve])
    top = np.where(far > cut.wide, height + half, top)
    share = np.clip(low / up, 0, 1)[:, None]
    y = np.where(share > 0, height - half + share * (top - height + half), y)
    y = np.where((low == 0)[:, None] & (far > cut.wide)[None], height - half, y)
    skirt = np.clip((height - cut.sleeve - 1.6 - y) / 4.0, 0, None)
    return x * (1 + cut.flare * skirt), y


def _neck(x, y, cell, wide, drop, neck):
    """Cut the neck's opening out of one side: points, cells, which points are used and which lie
    on its edge, moved onto its outline."""

    def hole(a, b):
        return np.hypot(a / wide, np.minimum(b - neck, 0) / drop)

    keep = cell & (hole((x[:-1, :-1] + x[1:, 1:]) / 2, (y[:-1, :-1] + y[1:, 1:]) / 2) > 1)
    cut, whole = np.zeros(x.shape, int), np.zeros(x.shape, int)
    rows, columns = cell.shape
    for a in (0, 1):
        for b in (0, 1):
            cut[a : rows + a, b : columns + b] += keep
            whole[a : rows + a, b : columns + b] += cell
    used, rim = cut > 0, (cut > 0) & (cut < whole)
    f = np.maximum(hole(x, y), 1e-3)
    grow = np.clip(np.where(rim, 1 / f, 1), 0.5, 1.5)
    return x * grow, np.where(rim, neck + np.minimum(y - neck, 0) * grow, y), keep, used, rim


def sheet(length, wide, spacing):
    """A rectangle `length` along its first axis."""
    rows, columns = round(length / spacing) + 1, round(wide / spacing) + 1
    y, x = np.meshgrid(
        np.linspace(0, length, rows), np.linspace(-wide / 2, wide / 2, columns), indexing="ij"
    )
    i = np.arange(rows * columns).reshape(rows, columns)
    quads = np.stack([i[:-1, :-1], i[:-1, 1:], i[1:, 1:], i[1:, :-1]], -1).reshape(-1, 4)
    rest = np.stack([y, x], -1).reshape(-1, 2)
    return Flat(rest, np.zeros(len(rest), int), quads), (rows, columns)

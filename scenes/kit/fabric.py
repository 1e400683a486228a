"""What cloth is made of: two layers with edges, hems, creases, threads and nap."""

import numpy as np
from scipy.spatial import cKDTree

from . import body
from .noise import fractal, smoothstep
from .render import both_sides, bumpy, picture, surface
from .shapes import vertex_normals
from .strands import unit

TILE = 512


def _border(quads):
    """Edges that only one quad has, in its own sense."""
    edges = np.concatenate([quads[:, [k, (k + 1) % 4]] for k in range(4)])
    _, first, uses = np.unique(np.sort(edges, 1), axis=0, return_index=True, return_counts=True)
    return edges[first[uses == 1]]


def _creases(flat, deep, seed):
    """Ridges that worn cloth keeps, of three sizes, about zero."""
    total = 0.0
    for k, (often, share) in enumerate(((1.1, 1.0), (2.7, 0.5), (6.0, 0.25))):
        at = np.c_[flat * often, deep * 0.15 * often]
        drift = np.stack([fractal(at * 1.3, 2, 60 + k + j) for j in range(3)], 1)
        ridge = 1 - np.abs(fractal(at + 0.35 * drift, 3, seed + k)) * 2.2
        total = total + share * np.clip(ridge, -0.2, 1) ** 3
    return total - total.mean()


def shape(cloth, levels=2, crease=0.012, hem=0.14, thick=0.010, seed=2):
    """Smoothed and creased, with hems and a second layer: (vertices, faces, uv in decimetres)."""
    fine, quads = np.concatenate([cloth.p, cloth.rest], 1), cloth.quads
    for _ in range(levels):
        fine, quads = body.subdivide(fine, quads)
    p, uv = fine[:, :3], fine[:, 3:]
    rim = _border(quads)
    reach = 3 * hem
    far, _ = cKDTree(p[np.unique(rim)]).query(p, distance_upper_bound=reach)
    far = np.minimum(far, reach)
    tri = body.triangles(quads)
    normal = vertex_normals(p, tri)
    out = crease * _creases(uv, p[:, 2], seed)
    fold = smoothstep(-far, -hem - 0.02, -hem + 0.005)  # cloth lies double in a hem
    stitch = np.exp(-(((far - hem * 0.86) / 0.012) ** 2))
    pucker = fold * 0.006 * fractal(np.c_[uv * 9, uv[:, :1] * 0], 2, 5)
    out = out + thick * 0.8 * fold - 0.006 * stitch + pucker
    outer = p + normal * out[:, None]
    inner = p + normal * (out - thick * (1 + 0.8 * fold))[:, None]
    n = len(p)
    a, b = rim.T
    wall = np.concatenate([np.stack([b, a, a + n], 1), np.stack([b, a + n, b + n], 1)])
    faces = np.concatenate([tri, tri[:, ::-1] + n, wall])
    return np.concatenate([outer, inner]), faces, np.concatenate([uv, uv])


def _yarn(u, v, threads, seed, rng):
    """Number of a thread, its height and its thick places, across `u` and along `v`."""
    k = np.floor(u * threads).astype(int) % threads
    wide = 1 + 0.12 * rng.normal(size=threads)[k]
    slub = fractal(np.stack([k * 3.7, v * 9], -1), 2, seed)
    rise = np.clip(np.sin(np.pi * (u * threads % 1)), 0, 1) ** 0.6
    return k, rise * wide * (1 + 0.4 * slub), slub


def weave(rgb, threads=40, melange=0.08, seed=3, sheen=0.3, depth=0.005, repeat=2.0, cross=None):
    """Plain weave of `threads` in a tile, `repeat` tiles a decimetre; `melange` is how much threads
    differ in tone, `cross` the colour of the weft where it is another."""
    y, x = np.mgrid[0:TILE, 0:TILE] / TILE
    rng = np.random.default_rng(seed)
    kx, hx, sx = _yarn(x, y, threads, seed, rng)
    ky, hy, sy = _yarn(y, x, threads, seed + 9, rng)
    warp = hx * (0.55 + 0.45 * np.cos(np.pi * (y * threads - kx % 2)))
    weft = hy * (0.55 - 0.45 * np.cos(np.pi * (x * threads - ky % 2)))
    height, over = np.maximum(warp, weft), (kx + ky) % 2 > 0
    own = rng.normal(0, melange, (2, threads))
    tone = 0.90 + np.where(over, own[0][kx], own[1][ky])
    tone = tone + 0.08 * (sx + sy) + 0.10 * (height - 0.6)
    base = np.where(over[..., None], np.asarray(rgb), np.asarray(rgb if cross is None else cross))
    tile = picture(np.clip(base * tone[..., None], 0.003, 0.92), scale=(repeat, repeat))
    cloth = surface(tile, 0.85, 0.15, sheen=sheen, sheen_tint=0.5)
    relief = {
        "type": "bumpmap",
        "scale": depth,
        "tex": picture(height, raw=True, scale=(repeat, repeat)),
        "bsdf": cloth,
    }
    return both_sides(relief)


def oiled(rgb, seed=3):
    """Oilskin: dull where it is worn, a soft shine elsewhere."""
    y, x = np.mgrid[0:TILE, 0:TILE] / TILE
    worn = fractal(np.stack([x * 5, y * 5], -1), 4, seed)
    base = (
        np.asarray(rgb)
        * (1 + 0.16 * worn + 0.05 * fractal(np.stack([x, y], -1) * 40, 2, seed))[..., None]
    )
    tile = picture(np.clip(base, 0.003, 0.9), scale=(0.31, 0.31))
    rough = picture(0.42 + 0.16 * worn, raw=True, scale=(0.31, 0.31))
    cloth = surface(tile, rough, 0.45, clearcoat=0.25, clearcoat_gloss=0.6)
    grain = fractal(np.stack([x, y], -1) * 70, 2, seed + 5)
    return both_sides(bumpy(grain, 0.002, cloth))


def nap(cloth, count, length, seed=1, radius=0.0007):
    """Loose fibres on woollen cloth: curves (n, 5, 3) and radii (n, 1)."""
    v, f, _ = shape(cloth, levels=1, crease=0, thick=0.004, hem=0.01)
    rng = np.random.default_rng(seed)
    a = v[f]
    across = np.cross(a[:, 1] - a[:, 0], a[:, 2] - a[:, 0])
    area = np.linalg.norm(across, axis=1)
    k = rng.choice(len(f), count, p=area / area.sum())
    root = (a[k] * rng.dirichlet((1, 1, 1), count)[..., None]).sum(1)
    way = unit(unit(across[k]) * 0.7 + rng.normal(0, 0.8, (count, 3)))
    bend = rng.normal(0, 0.6, (count, 1, 3))
    t = np.linspace(0, 1, 5)[None, :, None]
    size = length * rng.uniform(0.3, 1, (count, 1, 1))
    lines = root[:, None] + size * (way[:, None] * t + bend * t**2)
    return lines, np.full((count, 1), radius)

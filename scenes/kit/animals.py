"""A dog: rounded limbs grown together, polygons by marching cubes, and a short coat of fur."""

import numpy as np
from skimage.measure import marching_cubes

from .noise import fractal
from .render import colour, mesh, surface
from .shapes import rotation, sphere, vertex_normals
from .strands import tangent, unit, write_curves

# Limbs as (from, to, radius there, radius here) in decimetres, facing +x, standing on y = 0.
BODY = [
    ((-1.9, 4.55, 0), (1.2, 4.35, 0), 0.92, 1.18),
    ((1.2, 4.25, 0), (2.0, 4.45, 0), 1.18, 1.05),
    ((-1.9, 4.5, 0), (-2.5, 4.5, 0), 0.95, 0.75),
    ((2.1, 4.8, 0), (3.35, 6.35, 0), 0.82, 0.60),
    ((3.45, 6.75, 0), (3.85, 6.75, 0), 0.64, 0.60),
    ((4.0, 6.62, 0), (5.0, 6.40, 0), 0.42, 0.30),
    ((4.1, 6.30, 0), (4.75, 6.17, 0), 0.24, 0.17),
    ((-2.9, 4.95, 0), (-3.9, 5.35, 0), 0.30, 0.20),
    ((-3.9, 5.35, 0), (-4.9, 6.1, 0), 0.20, 0.10),
]
LEGS = [
    ((1.9, 4.0, 0.62), (1.75, 2.5, 0.58), 0.55, 0.34),
    ((1.75, 2.5, 0.58), (1.85, 0.35, 0.55), 0.30, 0.22),
    ((1.85, 0.25, 0.55), (2.2, 0.20, 0.55), 0.26, 0.22),
    ((-2.2, 4.3, 0.55), (-1.75, 2.75, 0.62), 0.85, 0.45),
    ((-1.75, 2.75, 0.62), (-2.65, 1.75, 0.58), 0.42, 0.25),
    ((-2.65, 1.75, 0.58), (-2.45, 0.35, 0.56), 0.24, 0.20),
    ((-2.45, 0.25, 0.56), (-2.1, 0.20, 0.56), 0.25, 0.22),
]
EARS = [((3.45, 7.15, 0.55), (3.60, 6.35, 0.78), 0.17, 0.24)]


def _capsule(p, a, b, ra, rb):
    a, b = np.asarray(a, float), np.asarray(b, float)
    along = np.clip(((p - a) @ (b - a)) / ((b - a) @ (b - a)), 0, 1)
    return np.linalg.norm(p - a - along[..., None] * (b - a), axis=-1) - (ra + (rb - ra) * along)


def dog(scene, folder, name, at, facing, rgb=(0.022, 0.017, 0.014), stride=12, seed=3):
    """A dog with a dark coat, walking; `facing` turns +x about the upright."""
    axes = [np.arange(-5.6, 5.8, 0.075), np.arange(-0.2, 8.0, 0.075), np.arange(-1.5, 1.5, 0.075)]
    p = np.stack(np.meshgrid(*axes, indexing="ij"), -1)
    total = np.zeros(p.shape[:-1])
    sharp = 9.0
    limbs = list(BODY)
    for k, (a, b, ra, rb) in enumerate([*LEGS, *EARS]):
        for side in (-1, 1):
            swing = 0 if k >= len(LEGS) else np.radians(stride * side * (1 if k < 3 else -1))
            hip = np.array([1.9 if k < 3 else -2.2, 4.2, 0])

            def swung(q, swing=swing, hip=hip, side=side):
                q = np.array(q) * [1, 1, side]
                d = q - hip
                c, s = np.cos(swing), np.sin(swing)
                return hip + [c * d[0] - s * d[1], s * d[0] + c * d[1], d[2]]

            limbs.append((swung(a), swung(b), ra, rb))
    for limb in limbs:
        total += np.exp(-sharp * _capsule(p, *limb))
    v, f, _, _ = marching_cubes(
        -np.log(np.maximum(total, 1e-12)) / sharp, 0.0, spacing=(0.075,) * 3
    )
    v = v + [axis[0] for axis in axes]
    v[:, 1] -= v[:, 1].min()
    f = f[:, ::-1] if (vertex_normals(v, f) * (v - v.mean(0))).sum() < 0 else f
    normal = vertex_normals(v, f)

    def stand(points):
        return points @ rotation(0, facing, 0).T + np.asarray(at)

    hide = surface(colour(*rgb), 0.6, 0.3)
    scene[f"{name}_hide"] = mesh((stand(v), f, None), hide, f"{name}_hide")
    rng = np.random.default_rng(seed)
    n = 150000
    face = rng.integers(0, len(f), n)
    root, out = v[f[face]].mean(1) + rng.normal(0, 0.02, (n, 3)), normal[f[face, 0]]
    swirl = np.stack([fractal(root * 0.9, 2, seed + k) for k in range(3)], 1)
    way = tangent(np.array([-1.0, -0.45, 0]) + 0.5 * swirl, out)
    length = np.where(root[:, 0] > 3.2, 0.10, 0.24) * rng.uniform(0.6, 1.2, n)
    length[root[:, 1] < 1.2] *= 0.6
    for bare, reach in (((4.12, 6.98), 0.24), ((5.22, 6.50), 0.26)):  # eyes and nose
        length *= 0.05 + 0.95 * (np.hypot(root[:, 0] - bare[0], root[:, 1] - bare[1]) > reach)
    t = np.linspace(0, 1, 5)[None, :, None]
    lift = out[:, None] * (0.30 * t - 0.12 * t**2)
    hairs = root[:, None] + length[:, None, None] * (way[:, None] * t + lift)
    path = folder / f"{name}.txt"
    write_curves(
        path,
        stand(hairs.reshape(-1, 3)).reshape(hairs.shape),
        np.tile(np.linspace(0.0065, 0.002, 5), (n, 1)),
    )
    fur = surface(colour(*(1.3 * np.array(rgb))), 0.35, 0.5)
    scene[f"{name}_fur"] = {"type": "bsplinecurve", "filename": str(path), "bsdf": fur}
    ball, faces, uv = sphere(24, 16)
    for key, centre, size, tone, rough in (
        ("nose", (5.22, 6.50, 0), 0.13, (0.012, 0.012, 0.013), 0.25),
        ("eye0", (4.12, 6.98, 0.40), 0.105, (0.03, 0.014, 0.006), 0.06),
        ("eye1", (4.12, 6.98, -0.40), 0.105, (0.03, 0.014, 0.006), 0.06),
        ("tongue", (4.95, 6.02, 0), 0.13, (0.45, 0.12, 0.12), 0.3),
    ):
        middle = np.array(centre) - [0, 0.0, 0]
        made = (
            stand(ball * size * ([1, 1, 1] if key != "tongue" else [1.4, 0.5, 1]) + middle),
            faces,
            uv,
        )
        scene[f"{name}_{key}"] = mesh(made, surface(colour(*tone), rough, 0.6), f"{name}_{key}")
    return unit(rotation(0, facing, 0) @ np.array([1.0, 0, 0]))

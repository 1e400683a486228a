"""Hair, lashes, yarn and fibres: tapered curves, and growing them over a surface."""

import numpy as np


def write_curves(path, strands, radii):
    """Write B-spline strands; ends are extended so that each curve reaches its first and last
    point.

    strands : list of (k, 3) arrays, or one (n, k, 3) array; radii : number or (k,) for each.
    """
    with open(path, "w") as out:
        for points, radius in zip(strands, radii):
            points = np.asarray(points)
            radius = np.broadcast_to(radius, (len(points),))
            points = np.concatenate(
                [2 * points[:1] - points[1:2], points, 2 * points[-1:] - points[-2:-1]]
            )
            radius = np.r_[radius[0], radius, radius[-1]]
            row = "%.4f %.4f %.4f %.5f\n" * len(points) + "\n"
            out.write(row % tuple(np.c_[points, radius].ravel()))


def hair_material(eumelanin, pheomelanin=0.2, roughness=0.3):
    return {
        "type": "hair",
        "eumelanin": eumelanin,
        "pheomelanin": pheomelanin,
        "longitudinal_roughness": roughness,
        "azimuthal_roughness": 0.4,
        "scale_tilt": 2.5,
    }


def unit(v):
    return v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-9)


def tangent(direction, normal):
    """`direction` laid into the surface."""
    return unit(direction - (direction * normal).sum(1)[:, None] * normal)


def grow(
    surface,
    roots,
    normals,
    direction,
    length,
    lift,
    rng,
    steps=6,
    gravity=0.0,
    jitter=0.0,
    ceiling=None,
):
    """March strands along a surface, lifted off it and never sinking into it; returns (n, steps +
    1, 3).

    `surface` is (points, normals, tree of the points).
    """
    points, surface_normals, tree = surface
    out, p, normal, d = [roots.copy()], roots.copy(), normals, direction
    for k in range(steps):
        t = (k + 1) / steps
        rise = lift * (1 - 0.7 * t)
        d = tangent(d + np.array([0, -gravity, 0]) + jitter * rng.normal(size=p.shape), normal)
        p = (
            p
            + (d * np.sqrt(np.clip(1 - rise**2, 0.05, 1))[:, None] + normal * rise[:, None])
            * (length / steps)[:, None]
        )
        _, near = tree.query(p)
        height = ((p - points[near]) * surface_normals[near]).sum(1)
        floor = 0.006 + 0.012 * t
        low = height < floor
        p[low] += (surface_normals[near] * (floor - height)[:, None])[low]
        if ceiling is not None:
            high = height > ceiling
            p[high] -= (surface_normals[near] * (height - ceiling)[:, None])[high]
        normal = surface_normals[near]
        out.append(p.copy())
    return np.stack(out, 1)

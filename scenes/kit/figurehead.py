"""A carved and painted ship's figurehead: the human base mesh as wood, with waves of hair and worn
paint."""

import numpy as np

from . import body
from .noise import fractal, smoothstep
from .render import mesh, surface
from .shapes import rotation, vertex_normals


def figurehead(name, at, turn, scale=1.2, seed=3):
    """Bust on its plinth as a renderer's mesh; `at` is the ground point below the neck, `turn`
    degrees about y."""
    whole = body.shaped(
        "female", {"caucasian": 0.5, "african": 0.3, "asian": 0.2}, 0.35, [("head/head-oval", 0.4)]
    )
    reference = body.reference()
    whole = whole + (body.eyes(reference).mean(0) - body.eyes(whole).mean(0))
    faces = body.base()[1]["body"]
    keep = (whole[faces][:, :, 1] > 2.6).all(1) & (np.abs(whole[faces][:, :, 0]) < 1.75).all(1)
    lips = body.painted("lips")[:, None]
    fine, quads = body.compact(np.concatenate([whole, reference, lips], 1), faces[keep])
    for _ in range(3):
        fine, quads = body.subdivide(fine, quads)
    p, (x, y, z), lips = fine[:, :3].copy(), fine[:, 3:6].T, fine[:, 6]
    tri = body.triangles(quads)
    around = np.degrees(np.arctan2(np.abs(x), z - 0.4))
    hair = smoothstep(
        y - np.interp(around, [0, 40, 60, 80, 110, 180], [7.15, 7.1, 6.9, 6.5, 6.0, 5.6]),
        -0.04,
        0.06,
    )
    waves = np.sin(24 * y + 5 * np.sin(9 * x) + 4 * fractal(p * 2, 2, seed)) + 0.6 * np.sin(
        17 * np.arctan2(x, z - 0.4)
    )
    chisel = fractal(np.stack([x * 9, y * 3, z * 9], 1), 3, seed)
    pleats = smoothstep(5.0 - y, 0, 0.3) * np.sin(16 * x + 3 * np.sin(2.2 * y))
    normal = vertex_normals(p, tri)
    p = p + normal * (hair * (0.16 + 0.05 * waves) + 0.012 * chisel + 0.05 * pleats)[:, None]
    dress = smoothstep(5.05 - y + 0.1 * np.cos(5 * x), -0.03, 0.03)
    rgb = np.array([0.42, 0.19, 0.11]) * np.ones((len(p), 3))
    for share, paint in (
        (lips, (0.40, 0.03, 0.03)),
        (hair, (0.50, 0.30, 0.05)),
        (dress, (0.03, 0.10, 0.22)),
    ):
        rgb = rgb * (1 - share[:, None]) + np.array(paint) * share[:, None]
    worn = smoothstep(
        fractal(p * 2.2, 4, seed + 5) + 0.35 * fractal(p * 9, 2, seed + 6), 0.20, 0.30
    )[:, None]
    grain = (0.8 + 0.4 * fractal(np.stack([x * 14, y * 1.5, z * 14], 1), 3, seed + 8))[:, None]
    rgb = rgb * (1 - worn) + np.array([0.26, 0.17, 0.09]) * grain * worn
    placed = p * scale @ rotation(0, turn, 0).T + np.asarray(at)
    made = mesh(
        (placed, tri, None),
        surface({"type": "mesh_attribute", "name": "vertex_color"}, 0.42, 0.45),
        name,
    )
    made.add_attribute(
        "vertex_color", 3, np.ascontiguousarray(np.clip(rgb, 0.004, 0.9), np.float32).ravel()
    )
    return made

"""A ship's figurehead: the human base mesh simplified as a carver would, in weathered wood with
growth rings, cracks and tool marks, and what is left of its paint."""

import numpy as np

from . import body, rig
from .garments import relaxed
from .noise import fractal, smoothstep
from .render import mesh, surface
from .shapes import rotation, vertex_normals

FACE = "expression/units/caucasian/"


def figurehead(name, at, turn, scale=1.2, seed=3, yaw=0, pitch=0):
    """Bust as a renderer's mesh; `at` is the ground point below the neck, `turn` degrees about y,
    the head turned by `yaw` and raised by `pitch`."""
    whole = body.shaped(
        "female",
        {"caucasian": 0.5, "african": 0.3, "asian": 0.2},
        0.2,
        [
            ("head/head-oval", 0.4),
            (FACE + "eye-left-closure", 1.0),
            (FACE + "eye-right-closure", 1.0),
            (FACE + "mouth-corner-puller", 0.25),
        ],
    )
    reference = body.reference()
    whole = whole + (body.eyes(reference).mean(0) - body.eyes(whole).mean(0))
    pose = rig.Pose(whole, {**rig.ARMS_DOWN, **rig.looking(yaw, pitch, 0)})
    faces = body.base()[1]["body"]
    keep = (whole[faces][:, :, 1] > 2.4).all(1) & (np.abs(whole[faces][:, :, 0]) < 1.75).all(1)
    lips = body.painted("lips")[:, None]
    fine, quads = body.compact(np.concatenate([pose.whole(), reference, lips], 1), faces[keep])
    fine, quads = body.subdivide(fine, quads)
    fine[:, :3] = relaxed(fine[:, :3], quads, 3)  # a chisel leaves no small forms
    for _ in range(3):
        fine, quads = body.subdivide(fine, quads)
    p, (x, y, z), lips = fine[:, :3].copy(), fine[:, 3:6].T, fine[:, 6]
    tri = body.triangles(quads)
    around = np.degrees(np.arctan2(np.abs(x), z - 0.4))
    line = np.interp(around, [0, 40, 60, 80, 110, 180], [7.15, 7.1, 6.9, 6.5, 6.0, 5.6])
    hair = smoothstep(y - line, -0.04, 0.06)
    lock = np.sin(13 * np.arctan2(x, z - 0.4) + 5.5 * y + 1.5 * fractal(p * 1.3, 2, seed))
    groove = np.abs(lock) ** 0.6 * np.sign(lock)
    facets = np.abs(fractal(np.stack([x * 5, y * 3, z * 5], 1), 2, seed)) + 0.5 * np.abs(
        fractal(np.stack([x * 13, y * 7, z * 13], 1), 2, seed + 1)
    )
    pleats = smoothstep(5.0 - y, 0, 0.3) * np.sin(13 * x + 3 * np.sin(2.2 * y))
    normal = vertex_normals(p, tri)
    # The trunk it was cut from: rings about an upright axis behind the face, checks along it.
    heart = np.stack([x + 0.35 + 0.10 * fractal(p * [0.4, 0.15, 0.4], 2, seed), z + 0.9], 1)
    radius = np.hypot(*heart.T) * (1 + 0.03 * fractal(p * [0.8, 0.2, 0.8], 3, seed + 2))
    ring = (radius * 11 + 0.3 * fractal(p * 2, 2, seed + 11)) % 1.0
    late = smoothstep(ring, 0.45, 0.95) * (1 - smoothstep(ring, 0.96, 1.0))
    angle = np.arctan2(*heart.T)
    wander = angle * 9 + 0.5 * fractal(np.stack([x, y * 0.7, z], 1), 3, seed + 3)
    split = np.exp(-((np.abs((wander % 1.0) - 0.5) / 0.020) ** 2))
    split *= smoothstep(fractal(np.stack([angle * 3, y * 0.5], 1), 2, seed + 4), 0.0, 0.25)
    relief = hair * (0.13 + 0.045 * groove) - 0.020 * facets + 0.05 * pleats
    p = p + normal * (relief - 0.035 * split - 0.004 * late)[:, None]
    dress = smoothstep(5.05 - y + 0.1 * np.cos(5 * x), -0.03, 0.03)
    fibre = fractal(np.stack([x * 30, y * 2.0, z * 30], 1), 3, seed + 8)
    wood = np.array([0.33, 0.215, 0.125]) * (1 - 0.24 * late + 0.22 * fibre)[:, None]
    silver = smoothstep(fractal(p * 1.1, 3, seed + 9), -0.1, 0.4)[:, None]
    wood = wood * (1 - 0.5 * silver) + np.array([0.25, 0.235, 0.215]) * 0.5 * silver
    rgb = wood.copy()
    left = fractal(p * 2.4, 4, seed + 5) + 0.35 * fractal(p * 9, 2, seed + 6)
    for share, paint, kept in (
        (hair, (0.36, 0.20, 0.045), 0.10),
        (dress, (0.035, 0.10, 0.20), -0.05),
        (lips, (0.34, 0.05, 0.045), 0.0),
    ):
        held = (share * smoothstep(left, kept, kept + 0.06))[:, None]
        rgb = rgb * (1 - held) + np.array(paint) * (0.85 + 0.3 * fibre)[:, None] * held
    rgb = rgb * (1 - 0.85 * split)[:, None] * (1 - 0.35 * hair * np.maximum(-groove, 0))[:, None]
    placed = p * scale @ rotation(0, turn, 0).T + np.asarray(at)
    made = mesh(
        (placed, tri, None),
        surface({"type": "mesh_attribute", "name": "vertex_color"}, 0.62, 0.3),
        name,
    )
    made.add_attribute(
        "vertex_color", 3, np.ascontiguousarray(np.clip(rgb, 0.004, 0.9), np.float32).ravel()
    )
    return made

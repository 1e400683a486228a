"""What people who are seen whole wear below: trousers, rolled up or down to the foot."""

import numpy as np

from . import body, rig
from .clothes import woven
from .garments import relaxed, ridged
from .noise import fractal, smoothstep
from .render import both_sides
from .shapes import vertex_normals

WAIST = 1.3  # height in the base pose, above the hem of what is worn over it
CUFF = 0.55  # how high the last turn of a rolled leg is


def trousers(face, add, rgb=(0.05, 0.07, 0.11), length=1.0, rolled=False, weave=2.2):
    """Trousers that reach down `length` of the way from hip to ankle, `rolled` up there."""
    pose, still, seed = face.pose, face.whole, face.who.seed
    heads = rig.joints(still)
    hip, knee, ankle = (
        float(heads[f"{bone}.L"][1]) for bone in ("upperleg01", "lowerleg01", "foot")
    )
    hem = hip + length * (ankle - hip)
    tights = body.base()[1]["helper-tights"]
    arm = rig.belongs("upperarm", "lowerarm", "wrist", "finger", "metacarpal")
    middle = still[tights][:, :, 1].mean(1)
    keep = (middle < WAIST) & (middle > hem) & (arm[tights].mean(1) < 0.05)
    fine, quads = body.compact(np.c_[pose.whole(), still], tights[keep])
    fine, quads = body.subdivide(fine, quads)
    fine[:, :3] = relaxed(fine[:, :3], quads, 14)
    for _ in range(2):
        fine, quads = body.subdivide(fine, quads)
    tri, rest = body.triangles(quads), fine[:, 3:]
    x, y, z = rest.T
    leg = np.sign(x)
    down = np.clip((hip - y) / (hip - hem), 0, 1)
    at = np.stack([np.arctan2(z, np.abs(x) - 0.9) * 0.7, y * 0.5, leg * 3], 1)
    bends = np.exp(-(((y - knee) / 0.9) ** 2)) + 0.8 * np.exp(-(((y - hem - 0.6) / 0.7) ** 2))
    folds = 0.6 * ridged(at * [1, 0.6, 1], 2, seed + 60)
    folds += bends * ridged(at * [0.6, 2.4, 1], 2, seed + 61)
    pull = np.exp(-(((y - hip) / 0.8) ** 2))
    folds += 0.8 * pull * ridged(np.stack([np.abs(x) * 2 + y, z, leg], 1), 2, seed + 62)
    out = 0.14 + 0.06 * smoothstep(down, 0.15, 0.9) + 0.075 * folds
    out += 0.02 * fractal(rest * [2.5, 2.5, 2.5], 3, seed + 63)
    if rolled:
        out += 0.07 * smoothstep(hem + CUFF - y, 0, 0.05)
        out += 0.035 * np.sin((y - hem) * 19) * smoothstep(hem + CUFF - y, 0, 0.05)
    seam = np.exp(-(((np.abs(x) - 0.9) / 0.03) ** 2)) * (z < 0.2) * smoothstep(down, 0.1, 0.2)
    normal = vertex_normals(fine[:, :3], tri)
    points = fine[:, :3] + normal * np.maximum(out - 0.012 * seam, 0.04)[:, None]
    uv = np.stack([np.arctan2(z, np.abs(x) - 0.9) * 0.9, y], 1)
    add("trousers", (points, tri, uv), both_sides(woven(rgb, seed + 64, (weave, weave))))

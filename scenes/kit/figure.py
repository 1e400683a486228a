"""People seen whole at some distance: the base mesh posed by its skeleton, in a coat that fell on
it, trousers, boots and a cap.

Close faces are made by `person.py`; a figure's face carries no pores or lashes and suits about 120
pixels at most.
"""

from dataclasses import dataclass, field

import numpy as np

from . import body, fabric, rig
from .draped import Garment, fallen
from .noise import fractal, smoothstep
from .patterns import Tee
from .render import both_sides, colour, mesh, picture, surface
from .shapes import rotation, sphere, vertex_normals
from .spectra import as_spectrum, skin_reflectance
from .strands import unit

STEP = {
    "upperleg01.L": (-22, 0, 0),
    "lowerleg01.L": (12, 0, 0),
    "upperleg01.R": (20, 0, 0),
    "lowerleg01.R": (24, 0, 0),
}


@dataclass(frozen=True)
class Figure:
    """One figure.

    Colours are linear sRGB; `at` is the ground point in decimetres; `facing` degrees from +z
    towards +x.
    """

    seed: int
    at: tuple
    facing: float = 0.0
    sex: str = "female"
    ancestry: dict = field(
        default_factory=lambda: {"caucasian": 0.5, "asian": 0.25, "african": 0.25}
    )
    age: float = 0.3
    scale: float = 1.0
    bends: dict = field(default_factory=lambda: dict(rig.ARMS_DOWN))
    holds: dict = field(default_factory=dict)  # 'L' and 'R' to where that hand goes
    grips: tuple = (34, 34)  # degrees by which the fingers of left and right are closed
    melanin: float = 0.06
    blood: float = 0.022
    slope: float = 2.2
    coat: tuple = (0.30, 0.08, 0.04)
    hem: float = -1.8  # of the coat, decimetres from the base mesh's middle
    wind: tuple = (0.0, 0.0, 0.0)  # on the coat, in the figure's directions
    trousers: tuple = (0.05, 0.06, 0.09)
    boots: tuple | None = (0.025, 0.022, 0.02)
    cap: tuple | None = (0.10, 0.12, 0.14)
    hair: tuple = (0.03, 0.02, 0.015)


def _cloth(rgb, seed):
    y, x = np.mgrid[0:256, 0:256]
    twill = np.sin((x + y) * np.pi / 4) + 0.8 * fractal(np.stack([x / 40, y / 40], -1), 3, seed)
    base = np.array(rgb) * (1 + 0.10 * twill)[..., None]
    return both_sides(
        surface(
            picture(np.clip(base, 0.003, 0.9), scale=(40, 40)), 0.85, 0.2, sheen=0.4, sheen_tint=0.5
        )
    )


def _bends(who, still):
    bends = dict(who.bends)
    for side, close in zip("LR", who.grips):
        bends |= rig.curl(rig.joints(still), side, close)
        if side in who.holds:
            bends = rig.reach(still, bends, side, who.holds[side])
    return bends


def figure(who: Figure, name):
    """Renderer's shapes by name: `name`_skin, _coat, _trousers, _boots, _cap, _hair, _eye."""
    still = body.shaped(who.sex, who.ancestry, who.age, [])
    bends = _bends(who, still)
    ready = rig.posed(still, bends)
    low = ready[np.unique(body.base()[1]["body"])][:, 1].min()
    bones, weights = rig.skeleton()
    groups = body.base()[1]
    names = [n for n, _, _ in bones]
    hand = weights[:, [n.startswith(("wrist", "finger", "metacarpal")) for n in names]].sum(1)
    foot = weights[:, [n.startswith(("foot", "toe")) for n in names]].sum(1)
    arm = weights[
        :, [n.startswith(("upperarm", "lowerarm", "wrist", "finger", "metacarpal")) for n in names]
    ].sum(1)

    def stand(points):
        return (points - [0, low, 0]) * who.scale @ rotation(0, who.facing, 0).T + np.asarray(
            who.at
        )

    shapes = {}

    def part(key, faces, material, ease=None, levels=2):
        """Cut `faces` out, smooth them, and move them out along their normals by `ease`(rest
        points, extra columns)."""
        columns = np.c_[ready, still, hand, foot, arm]
        fine, quads = body.compact(columns, faces)
        for _ in range(levels):
            fine, quads = body.subdivide(fine, quads)
        p, tri = fine[:, :3], body.triangles(quads)
        if ease is not None:
            normal = vertex_normals(p, tri)
            p = p + normal * ease(fine[:, 3:6], *fine[:, 6:].T)[:, None]
        uv = np.stack([fine[:, 3] + fine[:, 5], fine[:, 4]], 1) * 0.12
        shapes[f"{name}_{key}"] = mesh((stand(p), tri, uv), material, f"{name}_{key}")

    whole, tights = groups["body"], groups["helper-tights"]
    waist = float(rig.joint(still, {"strategy": "CUBE", "cube_name": "joint-spine-3"})[1]) - 1.5
    neck = float(rig.joint(still, {"strategy": "CUBE", "cube_name": "joint-neck"})[1])
    ankle = rig.joints(still)["foot.L"][1] + 1.4  # where rolled trousers end
    skin = both_sides(
        surface(as_spectrum(skin_reflectance(who.melanin, who.blood, who.slope)), 0.42, 0.4)
    )
    part("skin", whole[_bare(who, still, hand, neck, ankle)], skin, levels=3)

    def folds(rest, size, seed):
        return size * fractal(rest * [1.2, 2.4, 1.2] + seed, 3, seed) + 0.5 * size * fractal(
            rest * [3, 7, 3] + seed, 2, seed + 1
        )

    lower = still[tights][:, :, 1].mean(1) < waist + 0.4
    if who.boots is None:
        lower &= still[tights][:, :, 1].mean(1) > ankle - 0.3

    def trouser_ease(rest, *_):
        return 0.13 + 0.10 * smoothstep(waist - rest[:, 1], 2, 8) + folds(rest, 0.10, who.seed + 3)

    shapes[f"{name}_coat"] = _coat(who, still, bends, stand, f"{name}_coat")
    part(
        "trousers",
        tights[lower & (arm[tights].mean(1) < 0.05)],
        _cloth(who.trousers, who.seed + 1),
        trouser_ease,
    )
    if who.boots:
        part(
            "boots",
            whole[(foot[whole] > 0.15).all(1)],
            both_sides(surface(colour(*who.boots), 0.45, 0.5)),
            lambda rest, *_: np.full(len(rest), 0.10),
        )
    middle = body.eyes(still).mean(0)
    x, y, z = (still - middle + [0, 6.65, 1.3]).T
    line = np.interp(
        np.degrees(np.arctan2(np.abs(x), z - 0.4)),
        [0, 40, 60, 80, 110, 180],
        [7.15, 7.1, 6.9, 6.55, 6.2, 5.9],
    )
    crown = ((y - line)[whole] > -0.02).all(1) & (np.abs(x)[whole] < 1.1).all(1)

    def fleece(rest, *_):
        return 0.12 + 0.03 * fractal(rest * 7, 3, who.seed)

    if who.cap:
        high = ((y - np.maximum(line, 6.95))[whole] > -0.02).all(1) & (np.abs(x)[whole] < 1.1).all(
            1
        )
        part(
            "cap",
            whole[high],
            _cloth(who.cap, who.seed + 2),
            lambda rest, *_: 0.13 + 0.015 * np.sin(rest[:, 1] * 40),
        )
    part("hair", whole[crown], both_sides(surface(colour(*who.hair), 0.45, 0.4)), fleece)
    return shapes | _eyes(ready, stand, name)


def _bare(who, still, hand, neck, ankle):
    """Which faces of the body show skin: head, hands, and feet without boots."""
    whole = body.base()[1]["body"]
    at = still[whole]
    head = (at[:, :, 1] > neck - 0.55).all(1) & (np.abs(at[:, :, 0]) < 1.3).all(1)
    foot = (at[:, :, 1] < ankle).all(1) & (who.boots is None)
    return head | foot | (hand[whole] > 0.4).all(1)


def _coat(who, still, bends, stand, name):
    """The coat as it fell on the pose."""
    cut = Tee(
        hem=who.hem, wide=2.7, sleeve=1.1, sleeve_end=0.98, neck_wide=0.62, slit=0, flare=0.12
    )
    coat = Garment("coat", cut, spacing=0.12, bending=8, over=0.08, wind=who.wind, seed=who.seed)
    v, f, uv = fabric.shape(fallen(coat, still, bends), levels=1, crease=0.03, seed=who.seed)
    woven = fabric.weave(who.coat, threads=24, melange=0.14, depth=0.012, seed=who.seed)
    return mesh((stand(v), f, uv), woven, name)


def _eyes(ready, stand, name):
    """Eyes of a body as it is posed, looking ahead."""
    groups, shapes = body.base()[1], {}
    for side, group in (("l", "helper-l-eye"), ("r", "helper-r-eye")):
        ball = ready[np.unique(groups[group])]
        at, radius = (ball.max(0) + ball.min(0)) / 2, np.ptp(ball, axis=0).min() / 2
        v, f, uv = sphere(32, 24)
        ahead = unit(_joint_normal(ready))
        dark = smoothstep(v @ ahead, 0.80, 0.86)[:, None]
        made = mesh(
            (stand(v * radius + at), f, uv),
            surface({"type": "mesh_attribute", "name": "vertex_color"}, 0.1, 0.6),
            f"{name}_eye{side}",
        )
        tone = np.array([0.5, 0.46, 0.42]) * (1 - dark) + np.array([0.03, 0.018, 0.01]) * dark
        made.add_attribute("vertex_color", 3, np.ascontiguousarray(tone, np.float32).ravel())
        shapes[f"{name}_eye{side}"] = made
    return shapes


def _joint_normal(ready):
    """Which way the face looks: from between the ears to between the eyes."""
    head = ready[np.unique(body.base()[1]["joint-head"])].mean(0)
    ahead = body.eyes(ready).mean(0) - head
    across = body.eyes(ready)[0] - body.eyes(ready)[1]
    up = np.cross(ahead, across)
    return np.cross(across, up) * np.sign(np.cross(across, up) @ ahead)

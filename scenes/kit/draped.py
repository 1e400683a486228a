"""Garments that fell: patterns laid round a posed body and let fall, kept as files so that a scene
renders again alike.

A garment begins round a body with its arms out; the arms are lowered, and it settles. What lies
over another garment has a thickness that leaves room for it.
"""

import hashlib
import json
from dataclasses import asdict, dataclass, field
from pathlib import Path

import numpy as np
from scipy.spatial.transform import Rotation, Slerp

from . import body, rig
from .cloth import GRAVITY, Cloth
from .noise import fractal
from .patterns import Tee, sheet, tee
from .shapes import rotation

KEPT = Path(__file__).parents[1] / "draped"
FRAMES = 60  # a second
TRUNK = 4.9  # height that the head begins at


@dataclass(frozen=True)
class Fallen:
    """Cloth where it came to rest, in the space of the person: points (n, 3), flat measure (n, 2)
    and quads."""

    p: np.ndarray
    rest: np.ndarray
    quads: np.ndarray


@dataclass(frozen=True)
class Garment:
    """A garment of one kind of `KINDS`, with what that kind is given."""

    kind: str
    cut: Tee = field(default_factory=Tee)
    spacing: float = 0.09
    bending: float = 8.0
    seconds: float = 2.6
    over: float = 0.035  # room below it, decimetres
    wind: tuple = (0.0, 0.0, 0.0)  # acceleration, dm/s2, in the person's space
    gathers: tuple = ()  # (height, width, share of its length) of elastic bands round it
    size: tuple = (17.0, 2.6)  # length and width of what is a plain rectangle
    at: tuple = (0.0, 0.0, 0.0)  # how far it is moved before it falls
    seed: int = 3


def fallen(garment, vertices, bends, say=print):
    """`garment` on a body of `vertices` with `bends`: from its file, or let fall and kept."""
    given = {k: np.round(rotation(*v) if np.shape(v) == (3,) else v, 5).tolist()
             for k, v in sorted(bends.items())}  # fmt: skip
    trunk = vertices[vertices[:, 1] < TRUNK][::97]  # a face's features move no cloth
    known = json.dumps([asdict(garment), given, np.round(trunk, 3).tolist()])
    path = KEPT / f"{garment.kind}-{hashlib.sha256(known.encode()).hexdigest()[:12]}.npz"
    if not path.exists():
        say(f"  {garment.kind} falls", flush=True)
        pattern, p = KINDS[garment.kind](garment, Mover(vertices, bends))
        KEPT.mkdir(exist_ok=True)
        np.savez_compressed(
            path,
            p=np.round(p * 2000).astype(np.int16),  # a twentieth of a millimetre
            rest=pattern.rest.astype(np.float32),
            quads=pattern.quads.astype(np.uint16),
        )
    kept = np.load(path)
    return Fallen(kept["p"] / 2000, kept["rest"].astype(float), kept["quads"].astype(int))


class Mover:
    """A body between arms out and its pose: middles and normals of its faces."""

    def __init__(self, vertices, bends):
        self.vertices, self.bends = vertices, bends
        heads = rig.joints(vertices)
        self.first = {}
        for side, sign in (("L", 1), ("R", -1)):
            arm = heads[f"wrist.{side}"] - heads[f"upperarm01.{side}"]
            out = np.degrees(np.arctan2(-arm[1], abs(arm[0]))) * sign
            self.first[f"upperarm01.{side}"] = (0, 0, out)
        faces = body.base()[1]["body"]
        weights = rig.skeleton()[1]
        self.used = np.where(weights[np.unique(faces)].max(0) > 0)[0]
        columns = np.concatenate([vertices, weights[:, self.used]], 1)
        fine, self.quads = body.subdivide(*body.compact(columns, faces))
        self.still = np.c_[fine[:, :3], np.ones(len(fine))]
        self.share = fine[:, 3:]

    def pose(self, share):
        """The body `share` of the way (0 to 1) from arms out to its pose."""
        both = {}
        for bone in set(self.first) | set(self.bends):
            ends = [m.get(bone, (0, 0, 0)) for m in (self.first, self.bends)]
            ends = [e if np.shape(e) == (3, 3) else rotation(*e) for e in ends]
            both[bone] = Slerp([0, 1], Rotation.from_matrix(ends))(share).as_matrix()
        return rig.Pose(self.vertices, both)

    def faces(self, pose):
        """Middles and outward normals of the faces of a pose."""
        turn = (self.share @ pose.stack[self.used].reshape(len(self.used), 16)).reshape(-1, 4, 4)
        p = np.einsum("vij,vj->vi", turn[:, :3], self.still)
        q = self.quads
        n = np.cross(p[q[:, 2]] - p[q[:, 0]], p[q[:, 3]] - p[q[:, 1]])
        return p[q].mean(1), n / np.maximum(np.linalg.norm(n, axis=1, keepdims=True), 1e-9)


def _air(garment, cloth, frame):
    """What the wind does in a frame: gusts that differ over the cloth."""
    if not any(garment.wind):
        return 0.0
    gust = 1 + 0.8 * fractal(cloth.p * 0.25 + [0, 0, frame / 20], 2, garment.seed)
    return gust[:, None] * np.asarray(garment.wind, float)


def _worn(garment, mover):
    """What is cut like a T: round the trunk and the arms, which are lowered."""
    pose = mover.pose(0.0)
    at = {n: m[:3, :3] @ pose.heads[n] + m[:3, 3] for n, m in pose.bones.items()}
    arm = [at[f"{bone}.L"] for bone in ("upperarm01", "lowerarm01", "wrist")]
    reach = np.linalg.norm(arm[1] - arm[0]) + np.linalg.norm(arm[2] - arm[1])
    neck = float(at["neck01"][1] + 0.10)
    pattern = tee(garment.cut, garment.spacing, (arm[0][:2], reach), neck)
    start = _round(pattern, garment.cut, arm, reach, neck, at["spine02"][2] + 0.1)
    cloth = Cloth(
        pattern.rest, pattern.side, pattern.quads, start, garment.spacing, garment.bending
    )
    cloth.gather(garment.gathers)
    frames = round(garment.seconds * FRAMES)
    lower, settle = round(frames * 0.18), round(frames * 0.55)
    before, normals = mover.faces(pose)
    for f in range(frames):
        t, now = np.clip((f - lower) / (settle - lower), 0, 1), before
        if 0 < t < 1 or f == settle:
            now, normals = mover.faces(mover.pose(t * t * (3 - 2 * t)))
        calm = f < lower or f > frames * 0.85
        cloth.step(
            before,
            now,
            normals,
            force=_air(garment, cloth, f),
            gravity=GRAVITY * (0.5 if f < 10 else 1),
            damping=8.0 if calm else 2.5,
            friction=0.1 if f < lower else 0.45,
            thick=garment.over,
        )
        before = now
    return pattern, cloth.p


def _round(pattern, cut, arm, reach, neck, middle):
    """Where it starts: an ellipse round the trunk, tubes round the arms."""
    shoulder, elbow, wrist = arm
    x, y = pattern.rest.T
    far, up = np.abs(x), np.linalg.norm(elbow - shoulder)
    s = np.clip(far - shoulder[0], 0, None)[:, None]
    ways = ((elbow - shoulder) / up, (wrist - elbow) / np.linalg.norm(wrist - elbow))
    axis = shoulder + np.minimum(s, up) * ways[0] + np.maximum(s - up, 0) * ways[1]
    aside = np.clip((far - 1.2) / 1.6, 0, 1)
    half = np.interp(far, [cut.wide, shoulder[0] + reach], [1, 0.7]) * cut.sleeve
    tube = np.sqrt(np.clip(1 - ((y - shoulder[1]) / half) ** 2, 0, 1)) * 0.85
    top = np.interp(far, [0.5, cut.wide], [neck, shoulder[1] + cut.sleeve])
    trunk = 1.75 * np.sqrt(np.clip(1 - (far / np.maximum(cut.wide, far)) ** 2, 0, 1))
    trunk = trunk * np.sqrt(np.clip((top - y) / 0.7, 0, 1))
    deep = np.where(far > cut.wide, tube, np.maximum(trunk, tube * np.clip(far - 1.0, 0, 1)))
    z = middle * (1 - aside) + axis[:, 2] * aside + pattern.side * deep
    out = far > shoulder[0]
    px = np.where(out, np.sign(x) * axis[:, 0], x)
    lift = 0.30 * np.clip((y - shoulder[1] + 0.3) / 0.8, 0, 1) * (1 - aside)
    return np.stack([px, y + lift + (axis[:, 1] - shoulder[1]) * out, z], 1)


def _let_fall(garment, mover, pattern, start, bias, friction, pinned=False):
    """Cloth that falls onto a body that stands still."""
    cloth = Cloth(
        pattern.rest, pattern.side, pattern.quads, start, garment.spacing, garment.bending, bias
    )
    cloth.hold[:] = pinned
    middles, normals = mover.faces(mover.pose(1.0))
    frames = round(garment.seconds * FRAMES)
    for f in range(frames):
        cloth.step(
            middles,
            middles,
            normals,
            force=_air(garment, cloth, f),
            gravity=GRAVITY * min(1, 0.2 + f / 40),
            damping=6 if f < 25 or f > frames * 0.8 else 2.5,
            friction=friction,
            thick=garment.over,
        )
    return pattern, cloth.p


def _scarf(garment, mover):
    """Wound once and a half round the neck, pleated, its ends hanging in front."""
    length, wide = garment.size
    pattern, (rows, columns) = sheet(length, wide, garment.spacing)
    turns = np.radians(np.linspace(28, 690, 400))
    grow, front = np.linspace(0, 1, 400), np.cos(turns)
    r = 0.98 + 0.34 * grow
    height = 5.22 + 0.30 * np.clip(-front, 0, 1) - 0.16 * np.clip(front, 0, 1)
    height = height - 0.10 * grow + 0.06 * np.sin(2.3 * turns)
    loop = np.stack([r * 1.02 * np.sin(turns), height, 0.30 + r * 1.08 * front], 1)
    t = np.linspace(0, 1, 120)[:, None]
    first, last = loop[0] + (1 - t) * [0.12, -3.6, 0.75], loop[-1] + t * [-0.10, -3.6, 0.55]
    path = np.concatenate([first[:-1], loop, last[1:]]) + garment.at
    run = np.r_[0, np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))]
    want = np.linspace(0, 1, rows) * length - (length - run[-1]) / 2
    line = np.stack([np.interp(want, run, path[:, k]) for k in range(3)], 1)
    line[:, 1] -= np.clip(-want, 0, None) + np.clip(want - run[-1], 0, None)
    along = _unit(np.gradient(line, axis=0))
    out = _unit((line - [0, 0, 0.3]) * [1, 0, 1])
    hang = np.clip(np.abs(along[:, 1:2]), 0, 1)
    out = out * (1 - hang) + np.array([0, 0, 1.0]) * hang
    across = _unit(np.cross(out, along))
    rng = np.random.default_rng(garment.seed)
    w = np.linspace(-0.5, 0.5, columns)
    drift = np.cumsum(rng.normal(0, 0.05, rows))[:, None]
    pleat = 0.10 * np.sin(2 * np.pi * 2.5 * wide * w + drift)
    p = (
        line[:, None]
        + across[:, None] * (0.95 * w)[None, :, None]
        + out[:, None] * pleat[..., None]
    )
    start = (p + rng.normal(0, 0.004, p.shape)).reshape(-1, 3)
    return _let_fall(garment, mover, pattern, start, 1e-5, 0.6)


def _shawl(garment, mover):
    """A wide rectangle laid over the head from above and pinned to the hair: a shawl, a hood."""
    length, wide = garment.size
    pattern, _ = sheet(length, wide, garment.spacing)
    rng = np.random.default_rng(garment.seed)
    middles, _ = mover.faces(mover.pose(1.0))
    crown = middles[np.argmax(middles[:, 1])]
    flat = np.stack([pattern.rest[:, 0] - length / 2, pattern.rest[:, 1]], 1) + garment.at[::2]
    y = garment.over + 0.03 + 0.03 * np.abs(fractal(flat, 2, garment.seed))
    start = np.stack([flat[:, 0], y + rng.normal(0, 0.004, len(y)), flat[:, 1]], 1) + crown
    pinned = np.hypot(*flat.T) < 0.35
    return _let_fall(garment, mover, pattern, start, 1e-5, 0.8, pinned)


def _unit(v):
    return v / (np.linalg.norm(v, axis=-1, keepdims=True) + 1e-9)


KINDS = {
    "shirt": _worn,
    "dress": _worn,
    "coat": _worn,
    "oilskin": _worn,
    "scarf": _scarf,
    "shawl": _shawl,
}

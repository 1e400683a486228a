"""The skeleton in the base mesh: turning bones, and finding the bends with which a hand arrives
where something is to be held."""

import json
from dataclasses import dataclass
from functools import cache

import numpy as np
from scipy.optimize import least_squares
from scipy.spatial import cKDTree
from scipy.spatial.transform import Rotation

from . import body
from .noise import smoothstep
from .shapes import rotation
from .strands import unit

RIG = body.DATA / "rigs" / "standard"
ARMS_DOWN = {"upperarm01.L": (0, 0, -32), "upperarm01.R": (0, 0, 32)}
NECK = ("neck01", "neck02", "neck03", "head")
SPINE = ("spine05", "spine04", "spine03", "spine02", "spine01")


@cache
def skeleton():
    """Bones in parent-first order as (name, parent, head rule), and a dense weight matrix
    (vertices, bones)."""
    rig = json.loads((RIG / "rig.default.json").read_text())
    order = []

    def add(name):
        if name not in order:
            if rig[name]["parent"]:
                add(rig[name]["parent"])
            order.append(name)

    for name in rig:
        add(name)
    weights = np.zeros((len(body.base()[0]), len(order)), np.float32)
    for name, pairs in json.loads((RIG / "weights.default.json").read_text())["weights"].items():
        for vertex, share in pairs:
            weights[int(vertex), order.index(name)] = share
    total = weights.sum(1, keepdims=True)
    return [(n, rig[n]["parent"], rig[n]["head"]) for n in order], weights / np.maximum(total, 1e-6)


def belongs(*starts):
    """Share of each base vertex that moves with bones whose names begin with `starts`."""
    bones, weights = skeleton()
    return weights[:, [n.startswith(starts) for n, _, _ in bones]].sum(1)


def joint(vertices, rule):
    """Where a rule of the skeleton puts a joint in these vertices."""
    groups = body.base()[1]
    if rule["strategy"] == "CUBE":
        return vertices[np.unique(groups[rule["cube_name"]])].mean(0)
    if rule["strategy"] == "VERTEX":
        return vertices[rule["vertex_index"]]
    return vertices[rule["vertex_indices"]].mean(0)


def joints(vertices):
    """Heads of all bones by name."""
    return {name: joint(vertices, rule) for name, _, rule in skeleton()[0]}


def matrices(heads, bends):
    """Matrix (4, 4) of each bone: `bends` maps a bone to degrees about x, y, z through its head, or
    to a matrix (3, 3), parents first."""
    made = {}
    for name, parent, _ in skeleton()[0]:
        own = _about(heads[name], bends[name]) if name in bends else np.eye(4)
        made[name] = (made[parent] if parent else np.eye(4)) @ own
    return made


def _about(point, bend):
    own = np.eye(4)
    own[:3, :3] = bend if np.shape(bend) == (3, 3) else rotation(*bend)
    own[:3, 3] = point - own[:3, :3] @ point
    return own


def _axis(axis, degrees):
    return Rotation.from_rotvec(unit(np.asarray(axis, float)) * np.radians(degrees)).as_matrix()


def posed(vertices, bends):
    """Base-mesh vertices with bones turned."""
    return Pose(vertices, bends).whole()


def _hand(heads, side):
    """The hand in the base pose: the middle of its grip, and unit vectors along the fingers, out of
    the palm, and across it towards the thumb (the way of what is held)."""
    knuckles = np.stack([heads[f"finger{f}-1.{side}"] for f in (2, 3, 4, 5)])
    wrist = heads[f"wrist.{side}"]
    fingers = unit(knuckles.mean(0) - wrist)
    across = knuckles[0] - knuckles[3]
    across = unit(across - (across @ fingers) * fingers)
    palm = np.cross(fingers, across) * (1 if side == "L" else -1)
    return 0.85 * knuckles.mean(0) + 0.15 * wrist + 0.24 * palm, fingers, palm, across


def curl(heads, side, amount, thumb=None, spread=0.0):
    """Bends that close the fingers of one hand ('L' or 'R') by `amount` degrees a joint; four
    amounts close the fingers one by one from the first."""
    _, fingers, palm, across = _hand(heads, side)
    hinge = np.cross(fingers, palm)
    bends = {}
    for f, close in zip((2, 3, 4, 5), np.broadcast_to(amount, (4,))):
        for j, share in ((1, 0.85), (2, 1.15), (3, 0.75)):
            bends[f"finger{f}-{j}.{side}"] = _axis(hinge, close * share)
        if spread:
            apart = _axis(np.cross(fingers, across), spread * (3.5 - f))
            bends[f"finger{f}-1.{side}"] = bends[f"finger{f}-1.{side}"] @ apart
    thumb = 0.5 * float(np.mean(amount)) if thumb is None else thumb
    way = unit(heads[f"finger1-3.{side}"] - heads[f"finger1-1.{side}"])
    close = np.cross(way, unit(palm - 0.7 * across))
    for j, share in ((1, 0.6), (2, 0.6), (3, 0.9)):
        bends[f"finger1-{j}.{side}"] = _axis(close, thumb * share)
    return bends


def looking(yaw, pitch, roll):
    """Bends that turn the head on the neck."""
    return {
        bone: (pitch * share, yaw * share, roll * share)
        for bone, share in zip(NECK, (0.15, 0.2, 0.25, 0.4))
    }


def leaning(forward, aside=0, turn=0):
    """Bends of the spine."""
    return dict.fromkeys(SPINE, (forward / 5, turn / 5, aside / 5))


@dataclass(frozen=True)
class Hold:
    """Where a hand goes: the middle of its grip in the space of the base mesh, which way something
    held runs through it (towards the thumb), and which way the palm or the fingers point; any of
    these may be left open."""

    at: tuple
    along: tuple | None = None
    palm: tuple | None = None
    fingers: tuple | None = None
    grip: float | tuple = 62
    thumb: float | None = None
    spread: float = 0.0
    elbow: float = 0.0  # how far it stands off the body, decimetres or so


def within(at, facing, point):
    """A point of the scene in the space of a person who stands `at`, turned by `facing`."""
    return tuple((np.asarray(point, float) - np.asarray(at)) @ rotation(0, facing, 0))


# What an arm may turn, in radians: the collar bone about z and y, the shoulder about three axes,
# the elbow's hinge (from stretched to closed), the twist of the forearm, and the wrist to and fro
# and from side to side.
_ELBOW_REST = 0.62  # the bend of the base pose
_LOW = np.array([-0.15, -0.25, -2.2, -2.2, -2.2, -_ELBOW_REST, -1.5, -1.1, -0.45])
_HIGH = np.array([0.35, 0.25, 2.2, 2.2, 2.2, 1.95, 1.5, 1.1, 0.45])


def reach(vertices, bends, side, hold):
    """Bends of one arm ('L' or 'R') with which its hand holds, added to `bends`."""
    heads, sign = joints(vertices), 1 if side == "L" else -1
    root = matrices(heads, bends)["spine01"]
    at, fingers, palm, across = _hand(heads, side)
    shoulder, elbow, wrist = (
        heads[f"{bone}.{side}"] for bone in ("upperarm01", "lowerarm01", "wrist")
    )
    upper, fore = unit(elbow - shoulder), unit(wrist - elbow)
    hinge = unit(np.cross(upper, fore))

    def turns(v):
        return {
            "clavicle": rotation(0, -sign * np.degrees(v[1]), sign * np.degrees(v[0])),
            "upperarm01": Rotation.from_rotvec(v[2:5] * [1, sign, sign]).as_matrix(),
            "lowerarm01": _axis(hinge, np.degrees(v[5])),
            "lowerarm02": _axis(fore, sign * np.degrees(v[6])),
            "wrist": _axis(np.cross(fingers, palm), np.degrees(v[7]))
            @ _axis(palm, sign * np.degrees(v[8])),
        }

    def misses(v):
        matrix, elbow_at = root, None
        for bone, turn in turns(v).items():
            matrix = matrix @ _about(heads[f"{bone}.{side}"], turn)
            if bone == "upperarm01":
                elbow_at = matrix[:3, :3] @ elbow + matrix[:3, 3]
        turn = matrix[:3, :3]
        out = [5 * (turn @ at + matrix[:3, 3] - hold.at)]
        for wanted, axis, weight in (
            (hold.along, across, 1.6),
            (hold.palm, palm, 1.2),
            (hold.fingers, fingers, 1.2),
        ):
            if wanted is not None:
                out.append(weight * (turn @ axis - unit(np.asarray(wanted, float))))
        out.append(0.05 * v)
        # Elbows hang beside the body.
        aside = sign * elbow_at[0] - 1.9 - hold.elbow
        drop = max(elbow_at[1] - shoulder[1] + 2.0, 0)
        out.append([0.35 * drop, 0.30 * min(aside, 0), 0.25 * max(aside, 0)])
        out.append([0.5 * min(elbow_at[2] + 1.2, 0)])
        return np.concatenate(out)

    tries = []
    for raised in (-0.3, 0.5):
        for bent in (-0.2, 0.6, 1.4):
            start = np.array([0, 0, -0.2, 0, raised, bent, 0, 0, 0])
            tries.append(least_squares(misses, start, bounds=(_LOW, _HIGH), max_nfev=60))
    best = min(tries, key=lambda found: found.cost)
    arm = {f"{bone}.{side}": turn for bone, turn in turns(best.x).items()}
    return {**bends, **arm, **curl(heads, side, hold.grip, hold.thumb, hold.spread)}


class Pose:
    """A body with its bones turned; `whole` gives the base vertices, `follow` carries along what
    lies near them, `head` what belongs to the head."""

    def __init__(self, vertices, bends):
        bones, weights = skeleton()
        self.vertices, self.heads = vertices, joints(vertices)
        self.bones = matrices(self.heads, bends)
        self.stack = np.stack([self.bones[n] for n, _, _ in bones])
        self.weights = weights
        self.turn = self.bones["head"][:3, :3]

    def whole(self):
        return self._blended(self.vertices, self.weights)

    def _blended(self, points, weights):
        blend = np.einsum("vb,bij->vij", weights, self.stack)
        return np.einsum("vij,vj->vi", blend[:, :3, :3], points) + blend[:, :3, 3]

    def follow(self, points, among=None, near=8):
        """Points of the base pose, moved as the body near them; `among` restricts it to some
        vertices."""
        flat = points.reshape(-1, 3)
        ids = np.unique(body.base()[1]["body"]) if among is None else among
        far, which = cKDTree(self.vertices[ids]).query(flat, near)
        share = 1 / np.maximum(far, 0.02) ** 2
        share /= share.sum(1, keepdims=True)
        weights = np.einsum("nk,nkb->nb", share, self.weights[ids][which])
        return self._blended(flat, weights).reshape(points.shape)

    def head(self, points):
        """Points that belong to the head, in the base pose, turned with it; what hangs down to the
        shoulders goes over into the way of the chest."""
        share = smoothstep(points[..., 1:2], 4.9, 6.0)[..., None]
        matrix = share * self.bones["head"] + (1 - share) * self.bones["spine01"]
        return np.einsum("...ij,...j->...i", matrix[..., :3, :3], points) + matrix[..., :3, 3]

    def hand(self, side):
        """Middle of the grip, and unit vectors along the fingers, out of the palm and along what is
        held."""
        matrix = self.bones[f"wrist.{side}"]
        at, *axes = _hand(self.heads, side)
        return matrix[:3, :3] @ at + matrix[:3, 3], *(matrix[:3, :3] @ a for a in axes)

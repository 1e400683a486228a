"""Clothes cut from the posed body: coats, shirts, smocks and jumpers with folds, seams, hems,
plackets, buttons and collars; aprons over them.

A garment's cloth is the body's outline drawn smooth, moved out by its ease and laid in folds: rings
where an elbow bends, pulls from the armpits, hanging folds towards the hem.
"""

from dataclasses import dataclass, field, replace

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter
from scipy.sparse import coo_matrix, diags
from scipy.spatial import cKDTree

from . import body, rig
from .clothes import caster, woven
from .noise import fractal, smoothstep
from .render import both_sides, bumpy, colour, picture, surface
from .shapes import lathe, lattice, vertex_normals
from .strands import unit

AROUND = 240
APRON_TOP = 4.0


@dataclass(frozen=True)
class Cut:
    """How a garment is made; lengths in decimetres."""

    ease: float = 0.13  # how far it stands off the body
    folds: float = 0.10
    creases: float = 0.30  # small ones, as a share of the folds
    slack: int = 18  # rounds of smoothing: the more, the less of the body shows
    top: float = 0.25  # how far above the root of the neck it reaches
    opening: float | None = None  # height of the lowest point of a V at the front, with lapels
    hem: float = 0.6  # height of the hem in the base pose
    sleeve: float = 1.0  # share of the arm that is covered
    collar: str = "none"  # none, stand, turned or crew
    collar_top: float = 5.45
    buttons: int = 0
    placket: float = 0.0  # half its width
    cloth: str = "woven"  # woven, knit or oiled
    weave: float = 2.6  # repeats of its pattern in a decimetre
    more: dict = field(default_factory=dict)


def knit_cloth(rgb, seed, repeats):
    """Stocking stitch as relief and colour: columns of Vs, for knitwear that is not near."""
    h = w = 256
    y, x = np.mgrid[0:h, 0:w] / h
    across, down = (x * 8) % 1, y * 12
    slope = np.abs(across - 0.5) * 0.9
    stitch = np.abs(np.sin(np.pi * (down - slope)))
    height = stitch**0.6 * np.clip(1.15 - np.abs(np.abs(across - 0.5) - 0.26) * 3.4, 0, 1)
    tone = 0.55 + 0.55 * height + 0.10 * fractal(np.stack([x * 5, y * 5], -1), 2, seed)
    base = np.array(rgb) * tone[..., None]
    thread = surface(
        picture(np.clip(base, 0.003, 0.9), scale=repeats), 0.9, 0.12, sheen=0.7, sheen_tint=0.6
    )
    return {
        "type": "bumpmap",
        "scale": 0.03,
        "tex": picture(height, raw=True, scale=repeats),
        "bsdf": thread,
    }


def oiled(rgb, seed):
    """Oilskin: smooth, wet to the eye, with small creases."""
    y, x = np.mgrid[0:512, 0:512] / 512.0
    creases = 1 - np.abs(fractal(np.stack([x * 14, y * 14], -1), 4, seed))
    base = (
        np.array(rgb)
        * (0.92 + 0.16 * fractal(np.stack([x * 3, y * 3], -1), 3, seed + 1))[..., None]
    )
    skin = surface(
        picture(np.clip(base, 0.003, 0.9), scale=(0.3, 0.3)),
        0.30,
        0.5,
        clearcoat=0.5,
        clearcoat_gloss=0.85,
    )
    return bumpy(creases**3, 0.012, skin) | {
        "tex": picture(creases**3, raw=True, scale=(0.35, 0.35))
    }


def _cloth(cut, rgb, seed):
    if cut.cloth == "oiled":
        return both_sides(oiled(rgb, seed))
    if cut.cloth == "knit":
        return both_sides(knit_cloth(rgb, seed, (cut.weave * 0.8, cut.weave * 0.8)))
    return both_sides(woven(rgb, seed, (cut.weave, cut.weave)))


def relaxed(points, faces, rounds):
    """Laplacian smoothing that leaves the borders where they are."""
    n = len(points)
    edges = np.concatenate([faces[:, [k, (k + 1) % 4]] for k in range(4)])
    edges = edges[edges[:, 0] != edges[:, 1]]
    low = np.sort(edges, 1)
    pairs, uses = np.unique(low, axis=0, return_counts=True)
    fixed = np.zeros(n, bool)
    fixed[pairs[uses == 1].ravel()] = True
    both = np.concatenate([pairs, pairs[:, ::-1]])
    links = coo_matrix((np.ones(len(both)), (both[:, 0], both[:, 1])), (n, n)).tocsr()
    mean = diags(1 / np.maximum(np.asarray(links.sum(1)).ravel(), 1)) @ links
    for _ in range(rounds):
        points = np.where(fixed[:, None], points, 0.5 * points + 0.5 * (mean @ points))
    return points


def ridged(points, octaves, seed):
    """Noise with sharp crests, as cloth folds."""
    return 1 - 2 * np.abs(fractal(points, octaves, seed)) ** 0.7


SPARE = 0.4  # of cloth above a gown's edge, before it is trimmed


class Tailor:
    """Cuts one garment for a person; `shell` is what lies over it."""

    def __init__(self, face, cut, rgb):
        self.face, self.cut, self.rgb, self.seed = face, cut, rgb, face.who.seed
        self.pose, self.still = face.pose, face.whole
        self.heads = rig.joints(self.still)
        tights = body.base()[1]["helper-tights"]
        arm = rig.belongs("upperarm", "lowerarm", "wrist", "finger", "metacarpal")
        along = self._along(self.still)
        neck = self.heads["neck01"][1]
        mid = self.still[tights]
        keep = (arm[tights].mean(1) > 0.3) | (mid[:, :, 1].mean(1) > cut.hem)
        keep &= ~((arm[tights].mean(1) > 0.5) & (along[tights].mean(1) > cut.sleeve))
        keep &= ~((arm[tights].mean(1) > 0.3) & (cut.sleeve < 0))
        keep &= mid[:, :, 1].mean(1) < neck + cut.top + (SPARE if cut.sleeve < 0 else 0)
        legs = rig.belongs("upperleg", "lowerleg", "foot", "toe")
        keep &= ~((mid[:, :, 1].mean(1) < cut.hem + 0.01) & (legs[tights].mean(1) > 0.5))
        columns = np.c_[self.pose.whole(), self.still, arm, along]
        fine, quads = body.compact(columns, tights[keep])
        fine, quads = body.subdivide(fine, quads)
        fine[:, :3] = relaxed(fine[:, :3], quads, cut.slack)
        for _ in range(2):
            fine, quads = body.subdivide(fine, quads)
        self.tri = body.triangles(quads)
        rest, self.arm, self.along = fine[:, 3:6], np.clip(fine[:, 6], 0, 1), fine[:, 7]
        normal = vertex_normals(fine[:, :3], self.tri)
        self.points = fine[:, :3] + normal * self._ease(rest, normal)[:, None]
        self.rest = rest
        if cut.sleeve < 0:
            self._trim(rest[:, 1] - (neck + cut.top + 0.10 * np.cos(1.9 * rest[:, 0])), 1, 1.0)
        if cut.opening is not None:
            within = self._vee(rest[:, 1]) - np.abs(rest[:, 0])
            within = np.where(rest[:, 2] > 0.1, within, -1.0)
            self._trim(within, 0, -np.sign(rest[:, 0]))
        sleeve = smoothstep(self.arm, 0.4, 0.6)[:, None]
        around = np.abs(np.arctan2(rest[:, 0], rest[:, 2] - 0.2)) * 1.3
        trunk = np.stack([around, rest[:, 1]], 1)
        limb = np.stack([rest[:, 2] + 0.4 * rest[:, 1], self.along * 5.5], 1)
        self.uv = trunk * (1 - sleeve) + limb * sleeve
        self.shell = caster(self.points, np.c_[self.tri, self.tri[:, 2]])

    def _trim(self, over, axis, way):
        """Cut away what is `over` an edge: what lies astride of it is drawn back onto it, so that
        the edge is a line and not the teeth of the mesh."""
        self.tri = self.tri[(over[self.tri] <= 0).any(1)]
        self.points[:, axis] -= np.where(over > 0, over * way, 0.0)

    def _along(self, points):
        """0 at the shoulder to 1 at the wrist."""
        out = np.zeros(len(points))
        for side, sign in (("L", 1), ("R", -1)):
            a, b, c = (
                self.heads[f"{bone}.{side}"] for bone in ("upperarm01", "lowerarm01", "wrist")
            )
            upper, lower = np.linalg.norm(b - a), np.linalg.norm(c - b)
            first = (points - a) @ unit(b - a)
            second = (points - b) @ unit(c - b)
            run = np.where(first < upper, first, upper + np.maximum(second, 0))
            mine = sign * points[:, 0] > 0
            out[mine] = (run / (upper + lower))[mine]
        return out

    def _ease(self, rest, normal):
        cut, seed, arm, along = self.cut, self.seed, self.arm, self.along
        x, y, z = rest.T
        around = np.arctan2(x, z - 0.2)
        hang = smoothstep(4.4 - y, 0.4, 3.2)
        trunk = 0.9 * ridged(np.stack([around * 2.2, y * 0.55 + around, 0 * y], 1), 2, seed) * hang
        trunk += 0.8 * ridged(rest * [0.9, 1.1, 0.9] + 3, 2, seed + 1) * (1 - 0.4 * hang)
        pull = np.exp(-(((np.abs(x) - 1.25) / 0.5) ** 2) - ((y - 3.6) / 0.8) ** 2)
        slant = ridged(np.stack([np.abs(x) * 2.6 + y * 1.5, z * 0.8, np.sign(x)], 1), 2, seed + 2)
        trunk += 0.9 * pull * slant
        limb_at = np.stack([along * 9, z * 0.9, np.sign(x) * 3], 1)
        limb = 0.7 * ridged(limb_at * [0.55, 1, 1], 2, seed + 3)
        elbow = np.exp(-(((along - 0.53) / 0.13) ** 2)) + 0.7 * np.exp(
            -(((along - cut.sleeve) / 0.12) ** 2)
        )
        limb += 1.1 * elbow * ridged(limb_at * [1.5, 0.55, 1], 2, seed + 4)
        limb += 0.5 * np.exp(-((along / 0.12) ** 2)) * ridged(limb_at * [0.8, 1.6, 1], 2, seed + 5)
        share = smoothstep(arm, 0.25, 0.75)
        folds = trunk * (1 - share) + 0.75 * limb * share
        small = ridged(np.stack([x * 3.2 + y * 1.1, y * 2.1, z * 3.2], 1), 3, seed + 7)
        where = smoothstep(fractal(rest * 0.9, 2, seed + 8), -0.15, 0.35)
        folds += cut.creases * where * small
        grip = smoothstep(y, 4.3, 4.75) * (1 - share)  # shoulders and neck lie close
        out = cut.ease * (1 - 0.45 * grip) + cut.folds * folds * (1 - 0.65 * grip)
        out += 0.03 * share * smoothstep(0.85 - along, 0, 0.5)
        # Towards the hand a sleeve is gathered, or it would stand open like a pipe.
        out *= 1 - 0.6 * smoothstep(along, cut.sleeve - 0.16, cut.sleeve - 0.02) * (arm > 0.5)
        out += 0.012 * fractal(rest * 3.5, 2, seed + 6)
        # Seams: armholes, shoulders, side; the band of the hem, the cuff and the placket.
        armhole = np.exp(-(((arm - 0.5) / 0.04) ** 2)) * (y > 3.0)
        out -= 0.012 * armhole * (1 + 0.6 * np.sin(y * 30))
        out += 0.022 * smoothstep(along, cut.sleeve - 0.075, cut.sleeve - 0.068) * (arm > 0.5)
        out += 0.022 * smoothstep(cut.hem + 0.30 - y, 0, 0.03) * (share < 0.3)
        if cut.placket:
            front = smoothstep(cut.placket - np.abs(x), 0, 0.03) * (z > 0.3) * (share < 0.3)
            out += 0.024 * front
            stitch = np.exp(-(((np.abs(x) - cut.placket + 0.05) / 0.012) ** 2)) * (z > 0.3)
            out -= 0.010 * stitch * (share < 0.3)
        return np.maximum(out, 0.03)

    def make(self, add, key="jumper"):
        """The garment with its buttons and its collar."""
        cloth = _cloth(self.cut, self.rgb, self.seed)
        add(key, (self.points, self.tri, self.uv), cloth)
        self._buttons(add, key)
        if self.cut.opening is not None:
            self._lapels(add, key, cloth)
        if self.cut.collar != "none":
            self._collar(add, key, cloth)
        return self

    def _vee(self, y):
        """Half the width of the opening at a height."""
        low, high = self.cut.opening, 4.95
        return 0.66 * np.clip((y - low) / (high - low), 0, None) ** 0.85

    def _lapels(self, add, key, cloth):
        """The turned-back edges of a V, broadest below the collar."""
        low, rows = self.cut.opening, 60
        y = np.linspace(low - 0.05, 4.85, rows)
        share = (y - low) / (4.85 - low)
        broad = 0.10 + 0.46 * smoothstep(share, 0.05, 0.75) - 0.30 * smoothstep(share, 0.78, 0.86)
        across = np.linspace(0, 1, 14)
        bare = caster(*body.compact(self.still, body.base()[1]["helper-tights"]))
        for side in (-1, 1):
            x = side * (self._vee(y)[:, None] - 0.02 + broad[:, None] * across)
            rest = np.stack([x, np.repeat(y[:, None], 14, 1), np.full_like(x, 6.0)], -1)
            far = bare(rest.reshape(-1, 3), np.tile([0.0, 0.0, -1.0], (x.size, 1)))
            z = gaussian_filter(np.nan_to_num(6.0 - far.reshape(x.shape), posinf=0.5), (3, 2))
            rest[..., 2] = z + self.cut.ease + 0.055 + 0.03 * np.sin(np.pi * across)
            uv = np.stack([x, rest[..., 1]], -1)
            shape = lattice(self.pose.follow(rest, among=_trunk()), uv)
            add(f"{key}_lapel{side}", shape, cloth)

    def _buttons(self, add, key):
        horn = surface(colour(*self.cut.more.get("horn", (0.05, 0.035, 0.025))), 0.25, 0.5)
        front = (np.abs(self.rest[:, 0]) < 0.12) & (self.rest[:, 2] > 0.3) & (self.arm < 0.2)
        ids = np.flatnonzero(front)
        normal = vertex_normals(self.points, self.tri)
        disc = lathe([(0, 0.022), (0.05, 0.026), (0.072, 0.016), (0.075, 0), (0, 0)], 24)
        for k in range(self.cut.buttons):
            height = 4.45 - 0.62 * k
            if self.face.who.apron and height < self.face.who.apron.get("top", APRON_TOP) + 0.1:
                break
            near = ids[np.argmin(np.abs(self.rest[ids, 1] - height) + np.abs(self.rest[ids, 0]))]
            up = normal[near]
            side = unit(np.cross(up, [0.1, 1, 0.2]))
            axes = np.stack([side, up, np.cross(side, up)])
            add(f"{key}_button{k}", (disc[0] @ axes + self.points[near], *disc[1:]), horn)

    def _collar(self, add, key, cloth):
        """Rows round the neck in the base pose, laid to the body and carried along by it."""
        cut, turn = self.cut, np.arange(AROUND + 1) / AROUND * 2 * np.pi + np.pi
        front = np.exp(-((np.angle(np.exp(1j * turn)) / 0.30) ** 2))
        gap = smoothstep(np.abs(np.angle(np.exp(1j * turn))), 0.05, 0.16)
        rows = {
            "stand": [(4.86, 0.10), (4.95, 0.09), (5.15, 0.08), (cut.collar_top, 0.10)],
            "crew": [(4.80, 0.10), (4.90, 0.11), (4.98, 0.13), (5.06, 0.12), (5.10, 0.07)],
            "turned": [
                (4.86, 0.08),
                (5.10, 0.06),
                (cut.collar_top, 0.06),
                (cut.collar_top + 0.03, 0.09),
                (cut.collar_top - 0.05, 0.12),
                (cut.collar_top - 0.20, 0.17),
                (cut.collar_top - 0.32, 0.21),
            ],
        }[cut.collar]
        bare = caster(*body.compact(self.still, body.base()[1]["body"]))
        lines = []
        for k, (height, out) in enumerate(rows):
            axis = np.stack(
                [0 * turn, np.full(AROUND + 1, height), 0.22 + 0.25 * (height - 5.2) + 0 * turn], 1
            )
            axis[:, 1] -= 0.26 * front if cut.collar != "crew" else 0.20 * front
            axis[:, 1] += 0.10 * (1 - np.cos(turn + np.pi)) / 2
            d = np.stack([np.sin(turn), 0 * turn, np.cos(turn)], 1)
            r = 12 - bare(axis + d * 12, -d)
            r = np.where(np.isfinite(r) & (r < 1.25), r, 0.9)
            r = gaussian_filter(np.minimum(r, 0.95), 9, mode="wrap")
            wave = 0.02 * np.sin(3 * turn + self.seed) + 0.012 * np.sin(7 * turn + k)
            line = axis + d * (r + out + wave)[:, None]
            if cut.collar == "turned" and k > 3:  # the two points hang lower at the throat
                line[:, 1] -= 0.16 * front * (k - 3) / 3
            lines.append(line)
        grid = np.stack(lines)
        fine = np.stack([_resampled(grid[:, j], 28) for j in range(grid.shape[1])], 1)
        if cut.collar != "crew":
            fine = fine[:, gap > 0.5]
        fine = self.pose.follow(fine)
        uv = np.stack(
            np.meshgrid(np.linspace(0, 4.2, fine.shape[1]), np.linspace(0, 1.1, len(fine))), -1
        )
        add(f"{key}_collar", lattice(fine, uv), cloth)


def _resampled(points, count):
    """A polyline as a smooth curve of `count` points."""
    t = np.linspace(0, 1, len(points))
    return PchipInterpolator(t, points)(np.linspace(0, 1, count))


def apron(face, add, tailor, rgb=(0.30, 0.27, 0.22), top=APRON_TOP, low=0.2, stains=()):
    """A bib apron over a garment, its cloth stained with paint: `stains` are colours."""
    rows, columns = 120, 90
    v, u = np.meshgrid(np.linspace(0, 1, rows), np.linspace(-1, 1, columns), indexing="ij")
    width = 0.72 + 0.55 * smoothstep(v, 0.22, 0.42)
    x, y = u * width, top + (low - top) * v
    rest = np.stack([x, y, np.full_like(x, 6.0)], -1).reshape(-1, 3)
    bare = caster(tailor.rest, np.c_[tailor.tri, tailor.tri[:, 2]])
    far = bare(rest, np.broadcast_to([0.0, 0.0, -1.0], rest.shape))
    z = (6.0 - far).reshape(x.shape)
    z[~np.isfinite(z)] = np.nan
    z = np.where(np.isfinite(z), z, np.nanmedian(z))
    z = gaussian_filter(z, (7, 5), mode="nearest")
    hang = fractal(np.stack([u * 2.2, v * 1.2], -1), 3, face.who.seed + 50)
    rest = np.stack([x, y, z + tailor.cut.ease + 0.10 + 0.07 * hang * (0.3 + v)], -1)
    points = face.pose.follow(rest, among=_trunk())
    size = 768
    py, px = np.mgrid[0:size, 0:size] / size
    cloth = np.ones((size, size, 3)) * np.array(rgb)
    cloth *= (1 + 0.18 * fractal(np.stack([px * 5, py * 5], -1), 4, 3))[..., None]
    cloth *= 1 + 0.06 * (np.sin(px * 900) * np.sin(py * 900))[..., None]
    rng = np.random.default_rng(face.who.seed)
    for stain in stains:
        for _ in range(int(rng.integers(4, 9))):
            cx, cy, r = rng.uniform(0.12, 0.9), rng.uniform(0.05, 0.7), rng.uniform(0.008, 0.045)
            tilt, long = rng.uniform(0, np.pi), rng.uniform(1, 5)
            dx, dy = px - cx, py - cy
            a, b = dx * np.cos(tilt) + dy * np.sin(tilt), dy * np.cos(tilt) - dx * np.sin(tilt)
            edge = 0.5 * fractal(np.stack([px * 30, py * 30], -1), 3, int(rng.integers(99)))
            inside = smoothstep(1.0 - np.hypot(a / (r * long), b / r) + edge, -0.05, 0.10)[
                ..., None
            ]
            cloth = cloth * (1 - 0.9 * inside) + np.array(stain) * 0.9 * inside
    material = both_sides(surface(picture(np.clip(cloth, 0.004, 0.9)), 0.85, 0.2, sheen=0.3))
    add("apron", lattice(points), material)
    plain = both_sides(surface(colour(*rgb), 0.85, 0.2))
    for side in (0, -1):
        start, sign = rest[0, side], 1 if side else -1
        path = [
            start,
            [sign * 0.62, 4.55, 0.85],
            [sign * 0.66, 4.92, 0.35],
            [sign * 0.42, 5.02, -0.35],
        ]
        path = _resampled(np.array(path, float), 24)
        path = face.pose.follow(path, among=_trunk())
        lift = vertex_normals(tailor.points, tailor.tri)
        _, near = cKDTree(tailor.points).query(path)
        path = tailor.points[near] + lift[near] * 0.05
        path[:4] = points[0, side] + (path[4] - points[0, side]) * np.linspace(0, 0.8, 4)[:, None]
        path = gaussian_filter(path, (1.2, 0))
        across = unit(np.cross(np.gradient(path, axis=0), lift[near])) * 0.11
        band = np.stack([path - across, path + 0.02 * lift[near], path + across])
        add(f"apron_strap{side}", lattice(band), plain)


def _trunk():
    """Vertices of the body that move with the spine."""
    return np.flatnonzero(
        (rig.belongs("spine", "root", "pelvis", "breast") > 0.6)
        & np.isin(np.arange(len(body.base()[0])), np.unique(body.base()[1]["body"]))
    )


SHIRT = Cut(ease=0.11, folds=0.10, collar="turned", buttons=5, placket=0.17, weave=3.4)
SMOCK = Cut(ease=0.22, folds=0.15, slack=40, collar="stand", collar_top=5.2, weave=2.2)
COAT = Cut(
    ease=0.26,
    folds=0.13,
    slack=46,
    collar="turned",
    collar_top=5.55,
    buttons=4,
    placket=0.26,
    weave=1.5,
)
OILSKIN = Cut(
    ease=0.30,
    folds=0.14,
    slack=50,
    collar="stand",
    collar_top=5.5,
    buttons=4,
    placket=0.24,
    cloth="oiled",
)
GOWN = Cut(
    ease=0.055,
    folds=0.035,
    slack=8,
    top=-0.95,
    sleeve=-0.02,
    hem=-1.5,
    creases=0.15,
    weave=5.0,
)
JACKET = Cut(
    ease=0.24,
    folds=0.07,
    slack=34,
    opening=2.9,
    collar="turned",
    collar_top=5.30,
    weave=3.0,
    more={"under": True},
)
JERSEY = Cut(ease=0.15, folds=0.09, slack=26, collar="crew", cloth="knit", weave=2.0)


def dress(face, add, cut, apron_of=None, key="jumper"):
    """One garment in the person's colour, and an apron over it or a white shirt under it."""
    made = Tailor(face, cut, face.who.jumper).make(add, key)
    if cut.more.get("under"):
        Tailor(face, SHIRT, (0.72, 0.71, 0.69)).make(add, "shirt")
    if apron_of is not None:
        apron(face, add, made, **apron_of)


MADE = {
    name: (lambda face, add, cut=cut: dress(face, add, cut, face.who.apron))
    for name, cut in {
        "shirt": SHIRT,
        "rolled shirt": replace(SHIRT, sleeve=0.50),
        "smock frock": SMOCK,
        "rolled smock": replace(SMOCK, sleeve=0.52),
        "gown": GOWN,
        "suit": JACKET,
        "coat": COAT,
        "oilskin": OILSKIN,
        "jersey": JERSEY,
        "rolled jersey": replace(JERSEY, sleeve=0.56),
    }.items()
}

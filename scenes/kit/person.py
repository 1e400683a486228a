"""People who exist nowhere: one head-and-shoulders portrait from a set of numbers.

The skin is rendered three times (whole, diffuse part only, coverage); `finish.py` uses them to let
light travel under the skin. All masks are painted in the reference face's space (see
`body.reference`).
"""

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.spatial import cKDTree

from . import body, hair
from .clothes import Wearer, fuzz, wool
from .noise import cells, fractal, smoothstep, value_noise
from .render import bumpy, mesh, mi, picture, surface
from .shapes import lattice, rotation, sphere, tube, vertex_normals
from .spectra import as_spectrum, skin_reflectance
from .strands import unit, write_curves

FURROW = 0.6  # mm from furrow to furrow of the skin; they are 0.03 to 0.1 mm deep


def smile(amount, squint=0.4):
    face = "expression/units/caucasian/"
    return [
        (face + "mouth-corner-puller", amount),
        (face + "eye-left-slit", amount * squint),
        (face + "eye-right-slit", amount * squint * 1.25),
        ("cheek/l-cheek-trans-up", amount * 0.35),
        ("cheek/r-cheek-trans-up", amount * 0.3),
        ("cheek/l-cheek-volume-incr", amount * 0.25),
        ("cheek/r-cheek-volume-incr", amount * 0.25),
        ("mouth/mouth-dimples-in", amount * 0.3),
        ("eyes/l-eye-bag-incr", amount * 0.25),
        ("eyes/r-eye-bag-incr", amount * 0.25),
    ]


def uneven(amount):
    """A slight asymmetry; more than this at the mouth becomes a smirk."""
    face = "expression/units/caucasian/"
    return [
        ("asym/asym-mouth-1-l", 0.12 * amount),
        ("asym/asym-eye-3-l", 0.3 * amount),
        ("asym/asym-nose-2-r", 0.35 * amount),
        ("asym/asym-brown-1-l", 0.22 * amount),
        ("asym/asym-jaw-1-r", 0.3 * amount),
        ("asym/asym-cheek-1-l", 0.3 * amount),
        (face + "eyebrows-left-inner-up", 0.10 * amount),
        (face + "eyebrows-right-up", 0.06 * amount),
    ]


@dataclass(frozen=True)
class Person:
    """What makes one person. Colours are linear sRGB; lengths decimetres; angles degrees."""

    seed: int
    sex: str
    ancestry: dict
    age: float
    targets: list
    yaw: float = 20
    pitch: float = 0
    roll: float = -4
    gaze: tuple = (0.0, 0.0)
    melanin: tuple = (0.012, 0.13)
    melanin_slope: float = 2.3
    redness: float = 1.0
    lip_blood: float = 0.55
    lip_melanin: float = 0.14
    under_eye: float = 1.0
    freckles: int = 120
    moles: int = 4
    roughness: float = 0.40
    oil: float = 0.12
    coat: float = 0.06
    pores: float = 0.0010
    wrinkles: float = 0.0
    brow_lift: float = 0.0
    brow_width: float = 1.0
    brow_hairs: int = 450
    brow_colour: tuple = (0.06, 0.036, 0.023)
    lashes: float = 1.0
    lash_colour: tuple = (0.03, 0.02, 0.016)
    beard_hairs: int = 0
    beard_length: float = 0.05
    grey: float = 0.0
    vellus: int = 2500
    hair: str = "long"
    hairs: int = 12000
    hair_length: float = 0.3
    eumelanin: float = 0.5
    pheomelanin: float = 0.3
    parting: float = 0.25
    receding: float = 0.0
    iris: tuple = ((0.13, 0.075, 0.035), (0.10, 0.055, 0.015))
    sclera: tuple = (0.58, 0.53, 0.49)
    cap: tuple | None = None
    jumper: tuple = (0.5, 0.47, 0.41)
    collar: float = 5.78
    collar_bulge: float = 0.10
    garment: str = "knit"
    at: tuple = (0.0, 0.0, 0.0)
    facing: float = 0.0


@dataclass
class Made:
    """A person as shapes: fixed ones, and the skin as a function of the pass."""

    shapes: dict
    skin: object
    eye: np.ndarray


class _Face:
    """Skin surface of a person with the coordinates that masks are painted in."""

    def __init__(self, who: Person, pose):
        self.who, self.pose = who, pose
        self.rng = np.random.default_rng(who.seed)
        reference = body.reference()
        shaped = body.shaped(who.sex, who.ancestry, who.age, who.targets)
        self.whole = shaped + (body.eyes(reference).mean(0) - body.eyes(shaped).mean(0))
        paint = np.stack([body.painted(m) for m in ("lips", "ears", "eyelids", "inside-mouth")], 1)
        faces = body.base()[1]["body"]
        keep = (self.whole[faces][:, :, 1] > 4.75).all(1) & (
            np.abs(self.whole[faces][:, :, 0]) < 1.6
        ).all(1)
        fine, quads = body.compact(np.concatenate([self.whole, reference, paint], 1), faces[keep])
        for _ in range(3):
            fine, quads = body.subdivide(fine, quads)
        self.still, self.ref = fine[:, :3], fine[:, 3:6]
        self.lips, self.ears, self.lids, self.mouth = np.clip(fine[:, 6:], 0, 1).T
        self.tri = body.triangles(quads)
        self.x, self.y, self.z = self.ref.T
        self._hair_masks()
        self._colour()
        posed = pose.whole(self.still)
        normal = vertex_normals(posed, self.tri)
        self.points = posed + normal * (self._relief() + self._wrinkles())[:, None]
        self.normals = vertex_normals(self.points, self.tri)
        self.surface = (self.points, self.normals, cKDTree(self.points))
        edge = [self.points[self.tri[:, k]] - self.points[self.tri[:, 0]] for k in (1, 2)]
        self.area = np.linalg.norm(np.cross(*edge), axis=1)

    def blob(self, centre, size, mirrored=False):
        value = np.exp(-(((self.ref - np.array(centre)) / np.array(size)) ** 2).sum(1))
        return value + self.blob((-centre[0], *centre[1:]), size) if mirrored else value

    def _hair_masks(self):
        who, z, y = self.who, self.z, self.y
        n2 = fractal(self.still * 22, 3, 2)
        self.turn = np.degrees(np.arctan2(np.abs(self.x), z - 0.40))
        line = [
            7.20 + who.receding * 0.5,
            7.24 + who.receding,
            7.14 + who.receding,
            6.98,
            6.70,
            6.55,
            6.80,
            6.55,
            6.15,
            6.0,
        ]
        hairline = np.interp(self.turn, [0, 25, 45, 58, 68, 80, 95, 112, 135, 180], line)
        self.scalp = smoothstep(y - hairline + 0.03 * n2, -0.05, 0.05) * (
            1 - smoothstep(self.ears, 0.2, 0.5)
        )
        ax = np.abs(self.x)
        upper = 6.06 + 0.42 * np.clip((ax - 0.28) / 0.45, 0, 1) ** 1.3
        n1 = fractal(self.still * 5, 3, 1)
        beard = smoothstep(upper - y + 0.03 * n1, -0.05, 0.07) * smoothstep(y, 5.55, 5.75)
        beard *= smoothstep(z + 0.5 * (y - 5.9), 0.25, 0.6)
        lip = (
            smoothstep(0.34 - ax, 0, 0.06)
            * smoothstep(y, 6.10, 6.15)
            * smoothstep(6.245 - y, 0, 0.04)
        )
        beard = np.clip(np.maximum(beard, lip * smoothstep(z, 1.3, 1.4)), 0, 1)
        self.beard = (
            beard
            * (1 - smoothstep(self.lips, 0.15, 0.4))
            * (1 - self.mouth)
            * (1 - smoothstep(self.ears, 0.1, 0.3))
        )
        u = (ax - 0.10) / 0.44
        self.brow_centre = self.brow_line(u)
        half = (
            who.brow_width
            * 0.05
            * (1 - 0.58 * np.clip(u, 0, 1) ** 1.2)
            * smoothstep(u, -0.02, 0.12)
        )
        v = (y - self.brow_centre) / np.maximum(half, 1e-3)
        ends = smoothstep(u, -0.06, 0.06) * smoothstep(-u, -1.05, -0.7) * (z > 0.8)
        self.brow = (
            np.exp(-(np.abs(v / 0.85) ** 3)) * (0.25 + 0.75 * smoothstep(u, -0.02, 0.28)) * ends
        )

    def brow_line(self, u):
        return (
            6.845
            + self.who.brow_lift
            + 0.082 * np.sin(np.clip(np.clip(u, 0, 1) * 1.15, 0, 1) * 2.3)
        )

    def _spots(self):
        """Freckles and moles as a field over the vertices."""
        spots = np.zeros(len(self.still))
        front = self.still[(self.z > 0.9) & (self.y > 5.9) & (self.y < 7.1)]
        tree = cKDTree(self.still)
        for count, sizes, depth in (
            (self.who.freckles, (0.005, 0.013), (0.1, 0.6)),
            (self.who.moles, (0.010, 0.016), (1.3, 1.3)),
        ):
            for centre in front[self.rng.integers(0, len(front), count)]:
                r = self.rng.uniform(*sizes)
                near = tree.query_ball_point(centre, r * 2.5)
                fall = np.exp(-((self.still[near] - centre) ** 2).sum(1) / r**2)
                spots[near] = np.maximum(spots[near], self.rng.uniform(*depth) * fall)
        return spots

    def _colour(self):
        who = self.who
        cheek = self.blob((0.48, 6.33, 1.25), (0.26, 0.22, 0.35), True)
        nose, chin = (
            self.blob((0, 6.38, 1.62), (0.17, 0.16, 0.2)),
            self.blob((0, 5.95, 1.5), (0.2, 0.12, 0.25)),
        )
        under = self.blob((0.27, 6.54, 1.32), (0.17, 0.06, 0.2), True)
        shine = (
            self.blob((0, 7.05, 1.5), (0.32, 0.2, 0.4))
            + 0.9 * self.blob((0, 6.5, 1.7), (0.13, 0.3, 0.3))
            + 0.5 * chin
        )
        n1, n2, n3 = (
            fractal(self.still * 5, 3, 1),
            fractal(self.still * 22, 3, 2),
            fractal(self.still * 60, 2, 3),
        )
        flush = 0.30 * cheek + 0.36 * nose + 0.12 * chin + 0.28 * self.ears
        blood = 0.36 + who.redness * flush + 0.12 * under + 0.16 * n1 + 0.12 * n2 + 0.04 * n3
        blood += who.lip_blood * self.lips + 0.12 * self.lids
        melanin = (
            0.42
            + 0.12 * under * who.under_eye
            + 0.12 * n1
            + 0.06 * n2
            + 0.03 * n3
            + 0.36 * self._spots()
        )
        melanin += (
            -0.05 * cheek
            + 0.10 * self.lids
            + who.lip_melanin * self.lips
            + 0.12 * self.brow
            + 0.03 * self.beard
        )
        rough = (
            who.roughness
            + 0.08 * n2
            - who.oil * shine
            - 0.14 * self.lips
            + 0.03 * cheek
            - 0.05 * self.lids
        )
        self.fields = {
            "blood": np.clip(blood * (1 - self.mouth) + 0.8 * self.mouth, 0, 1),
            "melanin": np.clip(melanin, 0, 1),
            "rough": np.clip(rough, 0.2, 0.7),
        }

    def _relief(self):
        p, lip = self.still, self.lips * (1 - self.mouth)
        creases = np.minimum(
            0, value_noise(np.stack([p[:, 0] * 42, p[:, 1] * 5, p[:, 2] * 12], 1), 4)
        )
        return 0.0016 * fractal(p * 38, 3, 5) + lip * 0.008 * creases + 0.004 * fractal(p * 9, 2, 8)

    def _wrinkles(self):
        """Forehead lines, crow's feet, lines under the eyes."""
        if not self.who.wrinkles:
            return 0.0
        x, y = self.x, self.y
        n1 = fractal(self.still * 5, 3, 1)
        wavy = y + 0.02 * fractal(np.stack([x * 3, y * 2, self.z], 1), 2, 31)
        brow = self.blob((0, 7.12, 1.4), (0.42, 0.12, 0.5))
        lines = (
            -np.exp(-(((np.mod(wavy + 0.004 * n1, 0.075) - 0.0375) / 0.007) ** 2))
            * brow
            * (0.6 + 0.6 * n1.clip(-0.5, 1))
        )
        feet = 0.0
        for side in (1, -1):
            dx, dy = side * x - 0.44, y - 6.66
            r = np.hypot(dx, dy)
            a = np.arctan2(dy, dx) + 0.12 * fractal(self.ref * 9, 2, 41 + side)
            inside = (
                smoothstep(r, 0.03, 0.09)
                * smoothstep(-r, -0.26, -0.12)
                * smoothstep(dx, -0.01, 0.05)
            )
            feet = feet - np.exp(-(((np.mod(a, 0.32) - 0.16) / 0.05) ** 2)) * inside * smoothstep(
                np.cos(a), 0.45, 0.8
            )
        bags = -self.blob((0.27, 6.53, 1.35), (0.16, 0.10, 0.3), True)
        bags = bags * np.exp(
            -(
                ((np.mod(y + 0.96 * (np.abs(x) - 0.27) ** 2 + 0.006 * n1, 0.05) - 0.025) / 0.008)
                ** 2
            )
        )
        return self.who.wrinkles * (0.016 * lines + 0.012 * feet + 0.007 * bags)

    def roots(self, mask, count):
        """Random points on the skin by a mask: positions, normals, reference coordinates."""
        weight = self.area * mask[self.tri].mean(1)
        face = self.rng.choice(len(self.tri), count, p=weight / weight.sum())
        a, b = self.rng.random(count), self.rng.random(count)
        over = a + b > 1
        a[over], b[over] = 1 - a[over], 1 - b[over]
        mix = np.stack([1 - a - b, a, b], 1)[..., None]
        at = [(q[self.tri[face]] * mix).sum(1) for q in (self.points, self.normals, self.ref)]
        return at[0], unit(at[1]), at[2]

    def skin_mesh(self, name, stand):
        """Return a function of the pass ('whole', 'diffuse' or 'cover') that makes the skin where
        the person stands."""
        near, gap = cells(1024, int((45 / FURROW) ** 2))
        tight, _ = cells(1024, 240, 9)
        height = 0.5 * smoothstep(gap, 0, 0.5) - 0.7 * np.clip(1 - near / 0.35, 0, 1) ** 1.5
        height *= 0.35 + 0.65 * smoothstep(tight, 0.1, 0.9)
        around = np.arctan2(self.still[:, 0], self.still[:, 2] - 0.45)
        uv = np.stack([around * 0.8 / 0.45, self.still[:, 1] / 0.45], 1)
        who = self.who

        def corner(melanin, blood, part):
            base = as_spectrum(skin_reflectance(melanin, blood, who.melanin_slope))
            if part == "diffuse":
                return {"type": "diffuse", "reflectance": base}
            rough = {"type": "mesh_attribute", "name": "vertex_rough"}
            return surface(
                base,
                rough,
                0.46,
                clearcoat=who.coat,
                clearcoat_gloss=0.72,
                sheen=0.05,
                sheen_tint=0.6,
            )

        def mix(attribute, a, b):
            return {
                "type": "blendbsdf",
                "weight": {"type": "mesh_attribute", "name": f"vertex_{attribute}"},
                "a": a,
                "b": b,
            }

        def make(part):
            if part == "cover":
                material = {"type": "diffuse", "reflectance": {"type": "uniform", "value": 1.0}}
            else:
                (pale, dark), (thin, full) = who.melanin, (0.002, 0.045)
                layers = [
                    mix("melanin", corner(pale, b, part), corner(dark, b, part))
                    for b in (thin, full)
                ]
                material = bumpy(
                    height, who.pores * (0.5 if part == "diffuse" else 1), mix("blood", *layers)
                )
            made = mesh((stand(self.points), self.tri, uv), material, name)
            if part != "cover":
                for key, values in self.fields.items():
                    made.add_attribute(f"vertex_{key}", 1, np.ascontiguousarray(values, np.float32))
            return made

        return make


def _front_depth(face):
    """Height field of the unposed face, seen from the front, by casting rays."""
    scene = mi.load_dict(
        {"type": "scene", "m": mesh((face.still, face.tri, None), {"type": "diffuse"}, "b")}
    )

    def depth(x, y):
        ray = mi.Ray3f(
            mi.Point3f(x.astype(np.float32), y.astype(np.float32), np.full(len(x), 5, np.float32)),
            mi.Vector3f(0, 0, -1),
        )
        t = np.array(scene.ray_intersect(ray).t)
        return np.where(np.isfinite(t), 5 - t, -9)

    return depth


def _iris_picture(who, side):
    a, phi = np.meshgrid(np.linspace(0, 180, 720), np.linspace(0, 2 * np.pi, 256), indexing="ij")

    def ring(k, d):
        return np.stack([np.cos(phi) * k, np.sin(phi) * k, a / d], -1)

    outer, inner = np.array(who.iris[0]), np.array(who.iris[1])
    streaks = 1 + 0.55 * fractal(ring(6, 9), 3, 11 + side) + 0.5 * fractal(ring(16, 16), 2, 12)
    iris = outer * streaks[..., None] * (1 - 0.35 * smoothstep(a, 21, 27.5))[..., None]
    iris = iris + inner * np.exp(-(((a - 14) / 3.5) ** 2))[..., None]
    white = np.array(who.sclera) * (1 + 0.05 * fractal(ring(3, 20), 2, 5))[..., None]
    vein = np.clip(1 - np.abs(fractal(ring(5, 45), 3, 8)) * 14, 0, 1) * smoothstep(a, 34, 62)
    white = white * (1 - vein[..., None] * np.array([0.05, 0.25, 0.27]))
    white = white * (1 - 0.3 * smoothstep(a, 40, 75)[..., None] * np.array([0.15, 1, 1]))
    k = smoothstep(a, 26, 29.5)[..., None]
    col = (iris * (1 - k) + white * k) * (1 - 0.45 * np.exp(-(((a - 27.5) / 1.8) ** 2)))[..., None]
    return np.clip(col * smoothstep(a, 10.5, 11.7)[..., None] + 0.002, 0, 1)


def _eyes(face, look_at, add, strands):
    who, groups, depth = face.who, body.base()[1], _front_depth(face)
    lashes, radii = [], []
    for side, group in ((1, "helper-l-eye"), (-1, "helper-r-eye")):
        ball = face.whole[np.unique(groups[group])]
        c, r = (ball.max(0) + ball.min(0)) / 2, (ball.max(0) - ball.min(0)).mean() / 2
        v, f, uv = sphere(128, 160)
        angle = np.degrees(np.arccos(np.clip(v[:, 2], -1, 1)))
        bulge = 1 + 0.075 * np.exp(-((angle / 20) ** 4)) * np.cos(
            np.radians(np.clip(angle * 2, 0, 90))
        )
        centre = face.pose.head(c[None])[0]
        ahead = unit(look_at - centre)
        across = unit(np.cross(face.pose.turn @ np.array([0, 1, 0]), ahead))
        turned = (v * bulge[:, None] * r) @ np.stack(
            [across, np.cross(ahead, across), ahead]
        ) + centre
        eye = surface(picture(_iris_picture(who, side)), 0.06, 1.0)
        add(f"eye{side}", (turned, f, uv), eye)

        # The opening of the lids: where the ball lies before the skin, column by column.
        xs, ys = (
            np.linspace(c[0] - 0.19, c[0] + 0.19, 77),
            np.linspace(c[1] - 0.14, c[1] + 0.14, 281),
        )
        gx, gy = np.meshgrid(xs, ys, indexing="ij")
        skin = depth(gx.ravel(), gy.ravel()).reshape(gx.shape)
        reach = r * r - (gx - c[0]) ** 2 - (gy - c[1]) ** 2
        ball_z = np.where(reach > 0, c[2] + np.sqrt(np.clip(reach, 0, 1)), -9)
        seen = ball_z > skin + 0.001
        columns = np.where(seen.sum(1) > 4)[0]
        low = np.array([ys[np.where(seen[i])[0][0]] for i in columns])
        high = np.array([ys[np.where(seen[i])[0][-1]] for i in columns])
        x, low, high = xs[columns], gaussian_filter1d(low, 1.5), gaussian_filter1d(high, 1.5)
        z_low = gaussian_filter1d(depth(x, low - 0.008), 2)
        z_high = gaussian_filter1d(depth(x, high + 0.008), 2)
        z_ball = c[2] + np.sqrt(np.clip(r**2 - (x - c[0]) ** 2 - (low - c[1]) ** 2, 0, 1))
        line = face.pose.head(np.stack([x, low + 0.002, np.minimum(z_ball + 0.001, z_low)], 1))
        wet = surface({"type": "rgb", "value": [0.42, 0.25, 0.21]}, 0.12, 0.7)
        add(
            f"wet{side}",
            tube(line, 0.0055 * np.sin(np.linspace(0.3, np.pi - 0.3, len(line))), 10),
            wet,
        )
        end = 0 if side > 0 else -1
        corner = np.array([x[end] + side * 0.006, (low[end] + high[end]) / 2, z_ball[end] - 0.002])
        v, f, uv = sphere(32, 24)
        pink = surface({"type": "rgb", "value": [0.45, 0.20, 0.17]}, 0.2, 0.6)
        add(f"corner{side}", (face.pose.head(v * [0.020, 0.015, 0.014] + corner), f, uv), pink)

        rng, outward = face.rng, side * (x - c[0]) / 0.15
        for upper, per, zz, yy, length in (
            (True, 120, z_high, high + 0.004, 0.078),
            (False, 45, z_low, low - 0.006, 0.036),
        ):
            n = int(who.lashes * per)
            u = np.sort(rng.random(n) * (len(x) - 1))
            px, py, pz, out = (np.interp(u, np.arange(len(x)), q) for q in (x, yy, zz, outward))
            size = length * rng.uniform(0.55, 1.05, n) * (0.75 + 0.3 * np.clip(out + 0.3, 0, 1.2))
            fan = side * (0.15 + 0.55 * out) + rng.normal(0, 0.13, n)
            d = unit(
                np.stack(
                    [fan, (-0.25 if upper else -0.55) + rng.normal(0, 0.08, n), np.full(n, 0.9)], 1
                )
            )
            t = np.linspace(0, 1, 6)[None, :, None]
            curl = np.array([0, 0.95 if upper else 0.05, -0.10])
            lashes.append(
                np.stack([px, py, pz], 1)[:, None]
                + size[:, None, None] * (d[:, None] * t + curl * t**2)
            )
            radii.append(np.repeat((0.0016 * (1 - 0.85 * t[0, :, 0]))[None], n, 0))
    lashes = np.concatenate(lashes)
    posed = face.pose.head(lashes.reshape(-1, 3)).reshape(lashes.shape)
    strands(
        "lashes",
        posed,
        np.concatenate(radii),
        surface({"type": "rgb", "value": list(who.lash_colour)}, 0.4, 0.4),
    )


def build(who: Person, eye_point, folder, name="person") -> Made:
    """Make the shapes of `who`, looking towards `eye_point` (3,); curve files go to `folder`.

    The person stands with the ground point below the neck at `who.at`, the chest turned by
    `who.facing` degrees from +z towards +x.
    """
    turned = rotation(0, who.facing, 0)

    def stand(points):
        return np.asarray(points) @ turned.T + np.asarray(who.at)

    pose = body.Pose(who.yaw, who.pitch, who.roll)
    face = _Face(who, pose)
    made = Made({}, face.skin_mesh(f"{name}_skin", stand), stand(pose.head(body.eyes(face.whole))))

    def add(key, shape, material):
        made.shapes[f"{name}_{key}"] = mesh(
            (stand(shape[0]), *shape[1:]), material, f"{name}_{key}"
        )

    def strands(key, lines, radii, material):
        path = folder / f"{name}_{key}.txt"
        write_curves(path, [stand(line) for line in lines], radii)
        made.shapes[f"{name}_{key}"] = {
            "type": "bsplinecurve",
            "filename": str(path),
            "bsdf": material,
        }

    gaze = (np.asarray(eye_point, float) - np.asarray(who.at)) @ turned + [
        who.gaze[0],
        who.gaze[1],
        0,
    ]
    _eyes(face, gaze, add, strands)
    hair.grow_all(face, strands)
    _dress(who, face, pose, add, strands)
    return made


def _dress(who, face, pose, add, strands):
    wearer = Wearer(face.whole, pose)

    def knitted(key, made_of, colour_rgb, fibres):
        rounds, inner = made_of
        lines, radii = zip(*rounds)
        strands(key, lines, radii, wool(colour_rgb))
        strands(
            f"{key}_fuzz",
            fuzz(lines, fibres, 0.07, face.rng),
            np.full((fibres, 1), 0.0014),
            wool(colour_rgb),
        )
        for k, lining in enumerate(inner if isinstance(inner, list) else [inner]):
            inside = {"type": "twosided", "b": wool(np.array(colour_rgb) * 0.6)}
            add(f"{key}_lining{k}", lattice(lining), inside)

    if who.garment == "smock":
        add("jumper", *wearer.smock(who.jumper, who.seed))
        add("collar", *wearer.stand_collar(who.collar, who.jumper, who.seed))
    else:
        knitted("jumper", wearer.jumper(), who.jumper, 24000)
        knitted("collar", wearer.collar(who.collar, who.collar_bulge), who.jumper, 7000)
    if who.cap:
        knitted("cap", wearer.cap(), who.cap, 22000)

"""Skin of a person as a surface: where it shows, its colour, its relief, and what grows where.

The skin is rendered three times (whole, diffuse part only, coverage); `finish.py` uses them to let
light travel under the skin. All masks are painted in the reference face's space (see
`body.reference`).
"""

import numpy as np
from scipy.spatial import cKDTree

from . import body, rig
from .noise import cells, fractal, smoothstep, value_noise
from .render import bumpy, mesh, surface
from .shapes import vertex_normals
from .spectra import as_spectrum, skin_reflectance
from .strands import unit

FURROW = 0.6  # mm from furrow to furrow of the skin; they are 0.03 to 0.1 mm deep
ARMS = ("upperarm", "lowerarm", "wrist", "finger", "metacarpal")
UNDER = 0.9  # how far skin goes on under the edge of a gown


class Skin:
    """Skin surface of a person with the coordinates that masks are painted in."""

    def __init__(self, who, pose, whole):
        self.who, self.pose, self.whole = who, pose, whole
        self.rng = np.random.default_rng(who.seed)
        names = ("lips", "ears", "eyelids", "inside-mouth", "fingernails")
        paint = [body.painted(m) for m in names]
        paint += [rig.belongs("wrist", "finger", "metacarpal"), rig.belongs("finger")]
        faces = body.base()[1]["body"]
        columns = [whole, body.reference(), pose.whole(), np.stack(paint, 1)]
        fine, quads = body.compact(np.concatenate(columns, 1), faces[self._bare(faces)])
        for _ in range(3):
            fine, quads = body.subdivide(fine, quads)
        self.still, self.ref, posed = fine[:, :3], fine[:, 3:6], fine[:, 6:9]
        self.lips, self.ears, self.lids, self.mouth, self.nails, self.hand, self.finger = np.clip(
            fine[:, 9:], 0, 1
        ).T
        self.tri = body.triangles(quads)
        self.x, self.y, self.z = self.ref.T
        self._hair_masks()
        self._colour()
        normal = vertex_normals(posed, self.tri)
        self.points = posed + normal * (self._relief() + self._wrinkles())[:, None]
        self.normals = vertex_normals(self.points, self.tri)
        self.surface = (self.points, self.normals, cKDTree(self.points))
        edge = [self.points[self.tri[:, k]] - self.points[self.tri[:, 0]] for k in (1, 2)]
        self.area = np.linalg.norm(np.cross(*edge), axis=1)

    def _bare(self, faces):
        """Which faces show: the head and the throat; where loose garments hang, the shoulders under
        them and the arms."""
        shown = self.whole[faces]
        aside, height = np.abs(shown[:, :, 0]), shown[:, :, 1]
        bare = ((height > 4.75) & (aside < 0.8) | (height > 5.45) & (aside < 1.6)).all(1)
        bare |= ((height > self.who.neckline) & (aside < 0.75) & (shown[:, :, 2] > 0.2)).all(1)
        if self.who.drapes:
            bare |= (height > self.who.neckline - UNDER).all(1)
            bare |= (rig.belongs(*ARMS)[faces] > 0.4).all(1)
        return bare

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
            * (1 - smoothstep(self.lips, 0.35, 0.7))
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
            6.868
            + self.who.brow_lift
            + 0.048 * np.sin(np.clip(np.clip(u, 0, 1) * 1.15, 0, 1) * 2.3)
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
            + (0.05 if who.deep else 0.12) * n1
            + (0.04 if who.deep else 0.06) * n2
            + 0.03 * n3
            + 0.36 * self._spots()
        )
        melanin += (
            -0.05 * cheek
            + 0.10 * self.lids
            + who.lip_melanin * self.lips
            + 0.12 * self.brow
            + (0.06 if who.beard_hairs else 0.03) * self.beard
            + 0.35 * self.scalp * (1 - who.grey) * min(who.eumelanin, 1.0)
        )
        if who.deep:
            melanin += self._deep()
        knuckle = self.finger * smoothstep(fractal(self.still * 3.2, 2, 14), -0.25, 0.5)
        blood += 0.10 * self.hand + 0.16 * knuckle + 0.22 * self.nails
        melanin += 0.05 * knuckle - 0.22 * self.nails
        rough = (
            who.roughness
            + 0.06 * n2
            + 0.04 * fractal(self.still * 45, 2, 77)
            - who.oil * shine
            - 0.05 * self.lips
            + 0.03 * cheek
            - 0.05 * self.lids
            + 0.06 * self.hand
            - 0.18 * self.nails
        )
        self.fields = {
            "blood": np.clip(blood * (1 - self.mouth) + 0.8 * self.mouth, 0, 1),
            "melanin": np.clip(melanin, 0, 1),
            "rough": np.clip(rough, 0.2, 0.7),
        }

    def _deep(self):
        """How deep skin varies: darker at the hairline, temples, inner eyes and round the mouth,
        lighter on cheekbones and along the nose."""
        dark = (
            0.16 * self.blob((0, 7.1, 1.3), (0.6, 0.22, 0.7))
            + 0.14 * self.blob((0.62, 6.7, 0.9), (0.2, 0.3, 0.4), True)
            + 0.16 * self.blob((0.28, 6.62, 1.3), (0.2, 0.14, 0.3), True)
            + 0.12 * self.blob((0, 6.14, 1.5), (0.34, 0.10, 0.4))
            - 0.10 * self.blob((0.42, 6.48, 1.2), (0.16, 0.12, 0.3), True)
            - 0.06 * self.blob((0, 6.5, 1.7), (0.07, 0.25, 0.25))
        )
        fine = 0.03 * np.clip(fractal(self.still * 34, 2, 73), -0.2, 1)
        patches = 0.035 * fractal(self.still * 3.1, 2, 71) + 0.03 * fractal(self.still * 12, 2, 72)
        return 0.55 * dark + patches + fine

    def _coarse(self):
        """Where pores are coarse: inner cheeks, nose, forehead."""
        return (
            1.2 * self.blob((0.30, 6.38, 1.35), (0.22, 0.20, 0.35), True)
            + 1.5 * self.blob((0, 6.42, 1.65), (0.16, 0.2, 0.25))
            + 0.5 * self.blob((0, 7.0, 1.5), (0.35, 0.2, 0.4))
        )

    def _relief(self):
        p, lip = self.still, self.lips * (1 - self.mouth)
        creases = np.minimum(
            0, value_noise(np.stack([p[:, 0] * 42, p[:, 1] * 5, p[:, 2] * 12], 1), 4)
        )
        tendons = self.hand * (1 - self.nails) * 0.006 * fractal(p * 16, 3, 9)
        pits = np.minimum(0, fractal(p * 75, 1, 55)) * (1 + self._coarse())
        return (
            0.0017 * fractal(p * 40, 2, 5)
            + 0.0011 * pits
            + tendons
            + lip * 0.008 * creases
            + 0.005 * fractal(p * 9, 3, 8)
        )

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
        tri, taken = self.tri.copy(), []
        # Limbs have a map of pores of their own, and round the trunk the map meets itself at the
        # back: there points stand twice, as no triangle may lie in both.
        limb = (np.abs(self.still[:, 0]) > 1.6)[self.tri].any(1)
        meets = ~limb & (np.ptp(around[self.tri], axis=1) > np.pi)
        for faces, moved in ((limb, True), (meets, around < 0)):
            corners = tri[faces]
            use = np.broadcast_to(moved, len(around))[corners]
            ids, back = np.unique(corners[use], return_inverse=True)
            corners[use] = len(around) + sum(map(len, taken)) + back.ravel()
            tri[faces] = corners
            taken.append(ids)
        turned = around[taken[1]] + 2 * np.pi
        uv = np.concatenate(
            [
                np.stack([around * 0.8 / 0.45, self.still[:, 1] / 0.45], 1),
                self.still[taken[0]][:, [1, 2]] / 0.45 + 0.3,
                np.stack([turned * 0.8 / 0.45, self.still[taken[1]][:, 1] / 0.45], 1),
            ]
        )
        both = np.concatenate([np.arange(len(self.points)), *taken])
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
            points = stand(self.points)
            normals = vertex_normals(points, self.tri)[both]
            made = mesh((points[both], tri, uv), material, name, normals=normals)
            if part != "cover":
                for key, values in self.fields.items():
                    values = np.ascontiguousarray(values[both], np.float32)
                    made.add_attribute(f"vertex_{key}", 1, values)
            return made

        return make

"""Clothes: knitwear as real yarn, rows of stitches laid on a surface that wraps a body, with its
fuzz; woven smocks.

One stitch is x = t + 1.5 sin 2t, y = 4 cos t, z = cos 2t for t over 2 pi, in units of stitch width
/ 2 pi.
"""

import numpy as np
from scipy.ndimage import gaussian_filter, map_coordinates

from .body import base, compact, subdivide, triangles
from .noise import fractal
from .render import mesh as to_mesh
from .render import mi, surface
from .strands import unit

AROUND = 480


def wool(colour_rgb):
    return surface(
        {"type": "rgb", "value": [float(c) for c in colour_rgb]},
        0.85,
        0.15,
        sheen=0.7,
        sheen_tint=0.6,
    )


def rib(stitch):
    """Two stitches up, two down."""
    return np.where((np.floor(stitch) % 4) < 2, 1.0, -0.8)


def caster(vertices, quads):
    scene = mi.load_dict(
        {
            "type": "scene",
            "m": to_mesh((vertices, triangles(quads), None), {"type": "diffuse"}, "c"),
        }
    )

    def distance(origin, direction):
        origin = np.broadcast_to(origin, direction.shape)
        ray = mi.Ray3f(
            mi.Point3f(*[origin[:, k].astype(np.float32) for k in range(3)]),
            mi.Vector3f(*[direction[:, k].astype(np.float32) for k in range(3)]),
        )
        return np.array(scene.ray_intersect(ray).t)

    return distance


def _frame(points, outward):
    """Normals of a closed (rows, AROUND, 3) surface, pointing along `outward`."""
    along = np.roll(points, -1, 1) - np.roll(points, 1, 1)
    normal = unit(np.cross(np.gradient(points, axis=0), along))
    if (normal * outward).sum(-1).mean() < 0:
        normal = -normal
    return normal, np.linalg.norm(along, axis=-1).sum(1) / 2


def stitches(points, normals, row, rows, count, ribbed=False):
    """One round of `count` stitches at `row` of `rows`; returns (strand (k, 3), yarn radius)."""
    height, around = points.shape[:2]
    t = np.arange(count * 10 + 1) * (2 * np.pi / 10)
    x, y, z = t + 1.5 * np.sin(2 * t), 4 * np.cos(t), np.cos(2 * t)
    v = np.clip((row + y / 4.6) / rows, 0, 1) * (height - 1)
    u = x / (2 * np.pi * count) * around
    sampled = [
        map_coordinates(a[..., k], [v, u], order=1, mode="grid-wrap")
        for a in (points, normals)
        for k in range(3)
    ]
    place, out = np.stack(sampled[:3], 1), np.stack(sampled[3:], 1)
    girth = np.linalg.norm(
        np.diff(points[min(int(row / rows * (height - 1)), height - 1)], axis=0), axis=1
    ).sum()
    unit_length = girth / count / (2 * np.pi)
    depth = z * unit_length
    if ribbed:
        bend = rib(t / (2 * np.pi))
        depth = depth * bend + 1.6 * unit_length * bend
    return place + out * depth[:, None], 0.95 * unit_length


class Wearer:
    """Surfaces that wrap a posed body with its arms down, found by casting rays at it from
    outside."""

    def __init__(self, vertices, pose):
        faces = base()[1]["body"]
        near = (vertices[faces][:, :, 1] > 1.5).all(1) & (np.abs(vertices[faces][:, :, 0]) < 4).all(
            1
        )
        both = np.concatenate([vertices, pose.whole()], 1)
        both, quads = subdivide(*compact(both, faces[near]))
        coarse, posed = both[:, :3], both[:, 3:]
        self.pose = pose
        self.bare = caster(coarse, quads)
        self.posed = caster(posed, quads)
        trunk = (posed[quads][:, :, 1] < 5.35).all(1)
        self.trunk = caster(*compact(posed, quads[trunk]))

    def _trunk(self, step, ease, fold=0.06, seed=21):
        """Surface over shoulders and chest in rows `step` apart from the neck down: points,
        normals, girths."""
        centre = np.array([0, 4.0, 0.25])
        polar, turn = np.meshgrid(
            np.linspace(0.30, 2.0, 170),
            np.arange(AROUND) / AROUND * 2 * np.pi + np.pi,
            indexing="ij",
        )
        d = np.stack(
            [np.sin(polar) * np.sin(turn), np.cos(polar), np.sin(polar) * np.cos(turn)], -1
        )
        flat = d.reshape(-1, 3)
        r = 12 - self.trunk(centre + flat * 12, -flat).reshape(polar.shape)
        r[~(r > 0.55)] = np.nan
        for k in range(169, -1, -1):
            r[k] = np.where(np.isfinite(r[k]), r[k], r[min(k + 1, 169)] if k < 169 else 2.0)
        r = gaussian_filter(np.minimum(r, 3.2), (3.0, 6.0), mode=("nearest", "wrap"))
        folds = fold * fractal(
            np.stack([d[..., 0] * 2.2, d[..., 1] * 5, d[..., 2] * 2.2], -1), 3, seed
        )
        shell = centre + d * (r + ease + folds)[..., None]
        run = np.r_[
            np.zeros((1, AROUND)), np.cumsum(np.linalg.norm(np.diff(shell, axis=0), axis=-1), 0)
        ]
        at = np.arange(int(4.4 / step) + 1) * step
        even = np.zeros((len(at), AROUND, 3))
        for k in range(AROUND):
            for axis in range(3):
                even[:, k, axis] = np.interp(at, run[:, k], shell[:, k, axis])
        even = gaussian_filter(even, (2, 2, 0), mode=("nearest", "wrap", "nearest"))
        return even, *_frame(even, unit(even - centre))

    def jumper(self, row_height=0.062, stitch=0.085, ease=0.14):
        """Strands, radii and the inner surface of a pullover from the neck down."""
        even, normal, girth = self._trunk(row_height / 4, ease)
        rows, rounds = (len(even) - 1) // 4, []
        for j in range(rows):
            count = max(20, round(np.interp((j // 10) * 40, np.arange(len(girth)), girth) / stitch))
            rounds.append(stitches(even, normal, j, rows, count))
        return rounds, even - 0.05 * normal

    def collar(self, top, bulge=0.10, rows=17, bottom=4.95):
        """A ribbed collar from height `bottom` to `top`: a roll neck near 5.8, a crew neck near
        5.4."""
        shell, normal, girth = self._neck(top, bulge, bottom)
        count = int(girth.mean() / 0.075) // 4 * 4
        return [
            stitches(shell, normal, j, rows, count, ribbed=True) for j in range(rows)
        ], shell - 0.06 * normal

    def _neck(self, top, bulge, bottom, count=40):
        """Surface round the neck between two heights: points, normals, girths."""
        height, turn = np.meshgrid(
            np.linspace(top, bottom, count),
            np.arange(AROUND) / AROUND * 2 * np.pi + np.pi,
            indexing="ij",
        )
        axis = np.stack([0 * height, height, 0.22 + (height - 5.2) * 0.25], -1)
        d = np.stack([np.sin(turn), 0 * turn, np.cos(turn)], -1)
        r = 12 - self.posed((axis + d * 12).reshape(-1, 3), -d.reshape(-1, 3)).reshape(height.shape)
        r = gaussian_filter(
            np.minimum(np.where(np.isfinite(r), r, 0.6), 0.80), (8, 14), mode=("nearest", "wrap")
        )
        down = (top - height) / (top - bottom)
        wave = fractal(np.stack([np.sin(turn) * 1.6, np.cos(turn) * 1.6, down * 3], -1), 2, 33)
        out = bulge + bulge * np.sin(np.clip(down, 0, 1) * np.pi * 0.9 + 0.1) + 0.035 * wave
        shell = axis + d * (r + out)[..., None]
        shell[..., 1] += (-0.16 * np.cos(turn) + 0.03 * np.sin(2 * turn + 1)) * np.clip(
            1 - down, 0, 1
        )
        return shell, *_frame(shell, d)

    def cap(self, count=104):
        """A knitted cap with a turned-up ribbed cuff."""
        centre, lean = np.array([0, 6.75, 0.50]), _lean(-19)
        polar, turn = np.meshgrid(
            np.linspace(0.02, 2.02, 150), np.arange(360) / 360 * 2 * np.pi + np.pi, indexing="ij"
        )
        d = (
            np.stack(
                [np.sin(polar) * np.sin(turn), np.cos(polar), np.sin(polar) * np.cos(turn)], -1
            )
            @ lean.T
        )
        flat = d.reshape(-1, 3)
        r = 12 - self.bare(centre + flat * 12, -flat).reshape(polar.shape)
        r[~(r > 0.55)] = np.nan
        r = gaussian_filter(
            np.minimum(np.nan_to_num(r, nan=1.0), 1.12), (5, 9), mode=("nearest", "wrap")
        )
        r += 0.035 * fractal(
            np.stack([np.sin(turn) * 1.5, np.cos(turn) * 1.5, polar * 2], -1), 2, 3
        )

        def part(start, stop, lines, off):
            s, t = np.meshgrid(
                np.linspace(0, 1, lines),
                np.arange(720) / 720 * 2 * np.pi + np.pi,
                indexing="ij",
            )
            ears = 0.27 * np.abs(np.sin(t)) ** 1.5 * s  # at the sides the cuff comes down
            p = start + (stop - start) * s + ears * (stop > 1.5)
            rows = (p - 0.02) / 2.0 * 149
            radius = map_coordinates(
                r, [rows, np.tile(np.arange(720) / 2, (lines, 1))], order=1, mode="grid-wrap"
            )
            way = np.stack([np.sin(p) * np.sin(t), np.cos(p), np.sin(p) * np.cos(t)], -1) @ lean.T
            points = centre + way * (radius + off(p))[..., None]
            points = self.pose.head(points.reshape(-1, 3)).reshape(points.shape)
            return points, _frame(points, points - points.mean((0, 1)))[0]

        crown, crown_normal = part(0.05, 1.32, 90, lambda p: 0.05)
        cuff, cuff_normal = part(
            1.14,
            1.59,
            40,
            lambda p: 0.085 + 0.025 * np.sin(np.clip((p - 1.14) / 0.5, 0, 1) * np.pi),
        )
        rounds = [stitches(crown, crown_normal, j, 44, count) for j in range(44)]
        rounds += [stitches(cuff, cuff_normal, j, 15, count, ribbed=True) for j in range(15)]
        return rounds, [crown - 0.04 * crown_normal, cuff - 0.05 * cuff_normal]


def _lean(degrees):
    a = np.radians(degrees)
    return np.array([[1, 0, 0], [0, np.cos(a), -np.sin(a)], [0, np.sin(a), np.cos(a)]])


def fuzz(strands, count, length, rng):
    """Loose fibres standing off the yarn."""
    points = np.concatenate(strands)
    start = points[rng.integers(0, len(points) - 1, count)][:, None]
    d, bend = unit(rng.normal(size=(count, 1, 3))), rng.normal(size=(count, 1, 3)) * 0.5
    t = np.linspace(0, 1, 4)[None, :, None]
    return start + rng.uniform(0.3, 1, (count, 1, 1)) * length * (d * t + bend * t**2)

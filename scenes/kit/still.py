"""Things on a table: fruit, enamel, glass with water, brass, a coil of rope, a linen cloth.

Every shape stands on y = 0, about the origin, in decimetres; `rest` sets it down after turning.
"""

import itertools

import cv2
import numpy as np
from scipy.interpolate import PchipInterpolator

from .noise import cells, fractal, smoothstep, value_noise
from .render import both_sides, bumpy, colour, picture, surface
from .shapes import lathe, lattice, place, sphere, tube
from .strands import unit

UP = (-90, 0, 0)  # the sphere's pole is on z; this turns it to y


def rest(shape, at, turn=(0, 0, 0), scale=1.0, height=0.0):
    """Turn, scale, and set down at (x, z) with the lowest point at `height`."""
    v, f, uv = place(shape, (0, 0, 0), turn, scale)
    return v + [at[0], height - v[:, 1].min(), at[1]], f, uv


def _ball():
    """Vertices, faces, uv and the angles from the pole and around it."""
    v, f, uv = sphere(200, 140)
    return v, f, uv, uv[:, 1] * np.pi, uv[:, 0] * 2 * np.pi


def _skin_grid(h=256, w=512):
    """Angle from the pole, angle around, and directions for a picture wrapped round a fruit."""
    polar, around = np.meshgrid(
        np.linspace(0, np.pi, h), np.linspace(0, 2 * np.pi, w), indexing="ij"
    )
    away = np.stack(
        [np.sin(polar) * np.cos(around), np.sin(polar) * np.sin(around), np.cos(polar)], -1
    )
    return polar, around, away


def fruit_skin(rgb, roughness, coat):
    return surface(
        picture(np.clip(rgb, 0.002, 0.9)), roughness, 0.5, clearcoat=coat, clearcoat_gloss=0.9
    )


def _green():
    return both_sides(surface(colour(0.075, 0.16, 0.03), 0.5, 0.4, sheen=0.3))


def tomato(seed):
    """Parts of a tomato of radius 1: [(shape, material)], fruit first, then calyx and stem; some
    are not ripe yet."""
    v, f, uv, polar, around = _ball()
    lobes = (
        0.030 * np.cos(5 * around + seed)
        + 0.022 * np.cos(3 * around + 2.0 * seed)
        + 0.012 * np.cos(7 * around)
    )
    q = v * (1 + lobes * np.sin(polar) ** 0.7 * (0.4 + 0.6 * np.cos(polar / 2) ** 2))[:, None]
    q = q + 0.018 * fractal(v * 1.5 + seed, 2, seed)[:, None] * v
    q[:, 2] = (
        q[:, 2] * 0.80
        - 0.20 * np.exp(-((polar / 0.33) ** 2))
        + 0.05 * np.exp(-(((np.pi - polar) / 0.25) ** 2))
    )
    angle, _, away = _skin_grid()
    mottled = fractal(away * 2 + seed, 3, seed)[..., None]
    flecks = np.clip(fractal(away * 45, 2, seed + 1), 0, 1)[..., None]
    shoulder = np.exp(-((angle / 0.42) ** 2))[..., None] * (0.7 + 0.5 * mottled)
    green = 0.07 * max(0.0, np.sin(2.3 * seed)) ** 2
    rgb = (
        np.array([0.46, 0.028 + green, 0.012]) * (1 + 0.22 * mottled)
        + np.array([0.25, 0.11, 0.02]) * shoulder
    )
    rgb = rgb + np.array([0.10, 0.05, 0.01]) * flecks**2
    parts = [(place((q, f, uv), turn=UP), fruit_skin(rgb, 0.20, 0.35))]
    rng = np.random.default_rng(seed)
    for k in range(6):
        angle = k / 6 * 2 * np.pi + rng.normal(0, 0.15)
        t = np.linspace(0, 1, 24)
        width = 0.085 * np.sin(np.pi * np.clip(t * 0.93 + 0.07, 0, 1)) ** 0.8 * (1 - 0.3 * t)
        out = t * rng.uniform(0.45, 0.65)
        rise = (
            0.70
            - 0.16 * np.exp(-((out / 0.25) ** 2))
            - 0.13 * out**2
            + rng.uniform(0.02, 0.34) * t**2
        )
        twist = rng.normal(0, 0.5) * t
        rows = [
            np.stack([out, side * width, rise + 0.02 * abs(side) + side * twist * width], 1)
            for side in (-1, 0, 1)
        ]
        leaf = np.stack(rows, 1)
        c, s = np.cos(angle), np.sin(angle)
        leaf = leaf @ np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]])
        parts.append((place(lattice(leaf), turn=UP), _green()))
    t = np.linspace(0, 1, 24)
    path = np.stack([0.16 * t**2 * np.cos(seed), 0.16 * t**2 * np.sin(seed), 0.47 + 0.42 * t], 1)
    girth = 0.045 * (1 + 0.5 * np.exp(-((t - 1) ** 2) * 90) + 0.4 * np.exp(-t * 8))
    parts.append((place(tube(path, girth, 12), turn=UP), _green()))
    return parts


def lemon(seed):
    """Parts of a lemon of radius 1 with its pores."""
    v, f, uv, polar, _ = _ball()
    s = np.cos(polar)
    q = v * (1 + 0.03 * fractal(v * 1.6 + seed, 3, seed))[:, None]
    q[:, 2] = q[:, 2] * 1.22 + np.sign(s) * 0.20 * np.exp(-(1 - np.abs(s)) / 0.035)
    q[:, :2] *= (1 - 0.10 * np.exp(-(1 - np.abs(s)) / 0.06))[:, None]
    q = q + v * (0.012 * fractal(v * 7 + seed, 2, seed + 3))[:, None]
    angle, _, away = _skin_grid()
    rgb = np.array([0.78, 0.50, 0.035]) * (
        1 + 0.12 * fractal(away * 2.5 + seed, 3, seed + 6)[..., None]
    )
    rgb = rgb * (1 - 0.25 * np.clip(fractal(away * 14, 3, seed + 7), 0, 1)[..., None] ** 2)
    rgb = rgb + np.array([-0.12, 0.02, 0.01]) * np.exp(-(((np.pi - angle) / 0.25) ** 2))[..., None]
    rgb = rgb * (1 - 0.6 * np.exp(-((angle / 0.07) ** 2)))[..., None]
    near, _ = cells(512, 900, 4)
    pores = np.tile(-(np.clip(1 - near / 0.75, 0, 1) ** 1.3), (2, 4))
    return [(place((q, f, uv), turn=UP), bumpy(pores, 0.006, fruit_skin(rgb, 0.33, 0.15)))]


def apple(seed):
    """Parts of a streaked apple of radius 1."""
    v, f, uv, polar, around = _ball()
    q = v * (1 + 0.06 * np.sin(polar) ** 2)[:, None]
    q = (
        q
        * (
            1
            + 0.02 * np.cos(5 * around + seed) * np.clip(0.2 - np.cos(polar), 0, 1)
            + 0.02 * fractal(v * 1.3 + seed, 2, seed)
        )[:, None]
    )
    q[:, 2] = (
        q[:, 2] * 0.92
        - 0.42 * np.exp(-((polar / 0.30) ** 1.6))
        + 0.22 * np.exp(-(((np.pi - polar) / 0.22) ** 2))
    )
    angle, turn, away = _skin_grid(512, 1024)
    streak = fractal(np.stack([np.cos(turn) * 9, np.sin(turn) * 9, angle * 0.7], -1), 4, seed)
    blush = smoothstep(
        0.9 * streak + 1.5 * fractal(away * 1.2 + seed, 3, seed + 2) + 0.35 * away[..., 0] + 0.1,
        -0.35,
        0.55,
    )[..., None]
    rgb = np.array([0.42, 0.40, 0.055]) * (1 - blush) + np.array([0.34, 0.030, 0.022]) * blush
    rgb = rgb * (1 + 0.18 * streak[..., None])
    dots, rng = np.zeros(angle.shape), np.random.default_rng(seed)
    for _ in range(500):
        at = int(rng.integers(8, 1016)), int(rng.integers(8, 504))
        cv2.circle(dots, at, 1, float(rng.uniform(0.2, 0.7)), -1)
    dots = cv2.GaussianBlur(dots, (0, 0), 0.8)[..., None]
    rgb = rgb * (1 - dots) + dots * np.array([0.52, 0.40, 0.18])
    hollow = np.exp(-((angle / 0.3) ** 2))[..., None]
    rgb = rgb * (1 - 0.5 * hollow) + np.array([0.14, 0.10, 0.03]) * hollow
    t = np.linspace(0, 1, 20)
    stalk = tube(
        np.stack([0.1 * t**2, 0.05 * t, 0.42 + 0.62 * t], 1),
        0.035 * (1 + 0.7 * smoothstep(t, 0.8, 1)),
        10,
    )
    wood = surface(colour(0.10, 0.06, 0.03), 0.7, 0.3)
    return [(place((q, f, uv), turn=UP), fruit_skin(rgb, 0.26, 0.2)), (place(stalk, turn=UP), wood)]


def rounded(profile, between=6):
    """A (k, 2) profile with more points, without overshoot."""
    p = np.array(profile, float)
    t = np.r_[0, np.cumsum(np.linalg.norm(np.diff(p, axis=0), axis=1))]
    fine = np.unique(np.concatenate([np.linspace(a, b, between) for a, b in itertools.pairwise(t)]))
    return np.stack([PchipInterpolator(t, p[:, k])(fine) for k in (0, 1)], 1)


def mug(base=(0.76, 0.755, 0.73), rim=(0.012, 0.022, 0.075), seed=3):
    """An enamel mug, chipped: [(shape, material)], body, handle and the drink in it."""
    outer = [
        (0, 0.02),
        (0.36, 0.02),
        (0.40, 0.0),
        (0.43, 0.03),
        (0.445, 0.10),
        *[(0.45, z) for z in np.linspace(0.14, 0.86, 16)],
    ]
    lip = [
        (0.455, 0.90),
        (0.475, 0.925),
        (0.487, 0.94),
        (0.480, 0.958),
        (0.462, 0.958),
        (0.447, 0.94),
        (0.437, 0.90),
    ]
    inner = [
        *[(0.435, z) for z in np.linspace(0.86, 0.10, 16)],
        (0.42, 0.06),
        (0.36, 0.045),
        (0, 0.045),
    ]
    profile = rounded(outer + lip + inner)
    run = np.r_[0, np.cumsum(np.linalg.norm(np.diff(profile, axis=0), axis=1))]
    height = np.interp(np.linspace(0, 1, 1024), run / run[-1], profile[:, 1])[:, None]
    x, y = np.meshgrid(np.linspace(0, 30, 1024), np.linspace(0, 14, 1024))
    worn = fractal(np.stack([x, y], -1), 4, seed)
    specks = cv2.GaussianBlur(
        (fractal(np.stack([x * 8, y * 13], -1), 1, 8) > 0.88).astype(float), (0, 0), 0.7
    )[..., None]
    rgb = np.array(base) * (1 - 0.30 * specks)
    edge = smoothstep(height, 0.900, 0.906)[..., None]
    rgb = rgb * (1 - edge) + np.array(rim) * edge
    chip = smoothstep(worn, 0.38, 0.41) * smoothstep(height, 0.74, 0.95)
    rgb = rgb * (1 - chip[..., None]) + np.array([0.035, 0.022, 0.016]) * chip[..., None]
    glaze = {"clearcoat": 0.3, "clearcoat_gloss": 0.97}
    a = np.linspace(-1.35, 1.35, 60)
    arc = np.stack([0.38 + 0.34 * np.cos(a), 0.50 + 0.315 * np.sin(a), 0 * a], 1)
    arc[0, 0] = arc[-1, 0] = 0.43
    drink = lathe([(0, 0.78), (0.2, 0.781), (0.40, 0.782), (0.434, 0.79)], 96)
    return [
        (
            lathe(profile, 160),
            surface(
                picture(np.clip(rgb, 0.004, 0.9)),
                picture(np.clip(0.10 + 0.55 * chip, 0, 1), raw=True),
                0.55,
                **glaze,
            ),
        ),
        (tube(arc, 0.048, 20), surface(colour(*base), 0.10, 0.55, **glaze)),
        (drink, both_sides(surface(colour(0.018, 0.008, 0.004), 0.05, 0.4))),
    ]


def tumbler(filled=0.80):
    """A heavy glass with water to `filled`: [(shape, material)]."""
    outer = [
        (0, 0),
        (0.26, 0),
        (0.285, 0.015),
        (0.295, 0.05),
        *[(0.295 + 0.045 * t, 0.05 + 1.15 * t) for t in np.linspace(0.05, 1, 18)],
    ]
    inner = [
        *[(0.312 - 0.045 * (1 - t), 0.10 + 1.08 * t) for t in np.linspace(0.97, 0.03, 18)],
        (0.24, 0.085),
        (0.12, 0.075),
        (0, 0.075),
    ]
    glass = lathe(rounded([*outer, (0.322, 1.205), (0.310, 1.19), *inner], 4), 160)
    side = [
        (0.3116 - 0.045 * (1 - t), 0.10 + 1.08 * t)
        for t in np.linspace(0.03, (filled - 0.10) / 1.08, 12)
    ]
    top = [
        (side[-1][0] - 0.012, filled - 0.012),
        (side[-1][0] - 0.03, filled - 0.016),
        (0, filled - 0.016),
    ]
    water = lathe(rounded([(0, 0.0752), (0.12, 0.0752), (0.24, 0.0852), *side, *top], 4), 120)
    return [
        (glass, {"type": "dielectric", "int_ior": 1.5}),
        (water, {"type": "dielectric", "int_ior": 1.33}),
    ]


def bell():
    """A small brass bell, worn bright at the lip and dull above: [(shape, material)]."""
    outer = [
        (0.06, 0.92),
        (0.16, 0.90),
        (0.24, 0.84),
        (0.28, 0.72),
        (0.30, 0.55),
        (0.33, 0.38),
        (0.40, 0.20),
        (0.50, 0.06),
        (0.53, 0.0),
    ]
    inner = [
        (0.50, 0.0),
        (0.46, 0.07),
        (0.37, 0.21),
        (0.29, 0.40),
        (0.26, 0.60),
        (0.22, 0.78),
        (0.0, 0.84),
    ]
    crown = [(0.0, 1.22), (0.06, 1.21), (0.10, 1.16), (0.10, 1.09), (0.06, 1.03), (0.055, 0.97)]
    profile = rounded(crown + outer + inner)
    x, y = np.meshgrid(np.linspace(0, 12, 512), np.linspace(0, 12, 512))
    dull = smoothstep(
        fractal(np.stack([x, y], -1), 5, 2) + 0.25 * fractal(np.stack([x * 6, y * 6], -1), 3, 9),
        -0.15,
        0.45,
    )
    bright, tarnish = np.array([0.78, 0.53, 0.22]), np.array([0.30, 0.19, 0.08])
    rgb = bright + (tarnish - bright) * 0.75 * dull[..., None]
    metal = surface(picture(rgb), picture(0.20 + 0.30 * dull, raw=True), 0.5, metallic=1.0)
    ring = np.linspace(0, 2 * np.pi, 60)
    band = np.stack([0.335 * np.cos(ring), 0.40 + 0 * ring, 0.335 * np.sin(ring)], 1)
    return [
        (lathe(profile, 160), both_sides(metal)),
        (tube(band, 0.018, 12), surface(colour(0.70, 0.47, 0.19), 0.25, 0.5, metallic=1.0)),
    ]


def rope(path, radius, rng, yarns=10):
    """Strands of a three-strand rope laid along `path` (k, 3): (list of (k, 3), yarn radius)."""
    path = np.asarray(path, float)
    ahead = unit(np.gradient(path, axis=0))
    side = unit(np.cross(ahead, [0.05, 1, 0.03]))
    over = np.cross(side, ahead)
    run = np.r_[0, np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))]
    strands = []
    for k in range(3):
        lay = run * 2 * np.pi / (3.3 * radius) + k * 2 * np.pi / 3
        middle = path + 0.54 * radius * (np.cos(lay)[:, None] * side + np.sin(lay)[:, None] * over)
        for y in range(yarns):
            twist = -run * 2 * np.pi / (2.7 * radius) + y * 2 * np.pi / yarns
            out = radius * (0.44 + 0.02 * rng.normal())
            wobble = np.stack(
                [
                    value_noise(np.stack([run * 14 + y * 9.1 + k * 31, 0 * run + j], 1), j)
                    for j in range(3)
                ],
                1,
            )
            strands.append(
                middle
                + out * (np.cos(twist)[:, None] * side + np.sin(twist)[:, None] * over)
                + 0.02 * radius * wobble
            )
    return strands, 0.14 * radius


def coil(turns=4.3, wide=0.62, radius=0.09, points=2600):
    """Path of a coil lying on y = 0 with a loose end."""
    t = np.linspace(0, 1, points)
    angle, layer = t * turns * 2 * np.pi, t * turns
    r = wide + 0.03 * np.sin(angle * 1.3) + 0.035 * np.sin(angle * 0.5 + 1)
    height = (
        radius + 1.72 * radius * np.clip(layer - 0.5, 0, None) * 0.82 + 0.01 * np.sin(angle * 3)
    )
    middle = np.stack(
        [
            r * np.cos(angle) * 1.05 + 0.16 * np.sin(layer * 2.1),
            height,
            -r * np.sin(angle) * 0.95 - 0.06 * np.cos(layer * 1.7),
        ],
        1,
    )
    tail = smoothstep(t, 0.93, 1.0)[:, None]
    middle = middle + tail * np.array([[0.8, -0.45, 0.65]]) * t[:, None] ** 2
    middle[:, 1] = np.maximum(middle[:, 1], 1.05 * radius)
    return middle


def linen(width=3.8, depth=2.5, rgb=(0.60, 0.575, 0.52), stripe=(0.045, 0.085, 0.17)):
    """A striped linen cloth lying in folds: (shape, material)."""
    x, y = np.meshgrid(np.linspace(-1, 1, 520), np.linspace(-1, 1, 420))
    q = np.stack([x, y], -1)
    px, py = (
        x * width / 2 + 0.22 * fractal(q * 1.1, 2, 5),
        y * depth / 2 + 0.20 * fractal(q * 1.1 + 9, 2, 6),
    )
    p = np.stack([px, py], -1)

    def ridge(a, b, at, w):
        return np.exp(
            -(((a * px + b * py - at + 0.18 * fractal(p * 0.9, 2, int(at * 10) + 50)) / w) ** 2)
        )

    z = (
        0.025
        + 0.20 * ridge(0.5, 0.86, 0.55, 0.13) * smoothstep(px, -1.2, 0.1)
        + 0.16 * ridge(0.75, 0.66, -0.35, 0.11) * smoothstep(-px, -1.3, -0.1)
    )
    z = (
        z
        + 0.13 * ridge(-0.25, 0.97, 0.1, 0.12) * smoothstep(px, -0.9, 0.4)
        + 0.05 * np.clip(fractal(p * 1.6, 3, 31), 0, 1)
    )
    z = z + 0.10 * ridge(0.95, 0.3, 1.15, 0.14)
    px = px - 0.10 * np.gradient(z, axis=1) * 130
    shape = lattice(np.stack([px, z, -py], -1), q * 0.5 + 0.5)
    h, w = 2100, 3200
    gy, gx = np.mgrid[0:h, 0:w]
    weave = np.sin(gx * np.pi / 5) * np.sin(gy * np.pi / 5)
    slub = 0.5 * fractal(np.stack([gx / 180, gy / 4.8], -1), 2, 3) + 0.5 * fractal(
        np.stack([gx / 4.8, gy / 180], -1), 2, 4
    )
    cloth = np.array(rgb) * (1 + 0.12 * slub + 0.12 * weave)[..., None]
    u, v = gx / w, gy / h
    lines = np.zeros((h, w), bool)
    for at, half in ((0.06, 0.012), (0.095, 0.005), (0.94, 0.012), (0.905, 0.005)):
        lines |= np.abs(v - at) < half
    for at, half in ((0.04, 0.008), (0.96, 0.008), (0.063, 0.0035), (0.937, 0.0035)):
        lines |= np.abs(u - at) < half
    share = lines[..., None] * (0.8 + 0.2 * (weave > 0))[..., None]
    cloth = cloth * (1 - share) + share * np.array(stripe) * (1 + 0.25 * slub[..., None])
    woven = surface(picture(np.clip(cloth, 0.005, 0.9)), 0.9, 0.15, sheen=0.6, sheen_tint=0.4)
    return shape, both_sides(bumpy(0.6 * weave + 0.8 * slub, 0.0012, woven))

"""Plants of a kitchen garden: cabbages, marigolds, foxgloves. Each maker returns meshes grouped by
material name.

A plant stands at the origin on y = 0, in decimetres; `gather` puts many of them into a scene as one
mesh a material.
"""

import colour as science
import numpy as np

from .noise import fractal, smoothstep
from .render import mesh, picture
from .shapes import join, lathe, lattice, place, tube
from .spectra import WAVELENGTHS, as_spectrum


def measured(number, gain=1.0):
    """One of CIE 224's measured test colours as a spectrum of `WAVELENGTHS`."""
    table = science.quality.cfi2017.load_TCS_CIE2017(science.SpectralShape(380, 780, 5)).values[
        ::2, number - 1
    ]
    assert len(table) == len(WAVELENGTHS)
    return as_spectrum(np.clip(table * gain, 0.003, 0.95))


def thin(base, roughness=0.4, through=0.8):
    """A leaf or petal: as much light goes through as comes back."""
    return {
        "type": "principledthin",
        "base_color": base,
        "roughness": roughness,
        "diff_trans": through,
        "eta": 1.4,
        "spec_trans": 0.0,
    }


def blade(length, width, profile, droop=0.3, cup=0.2, ruffle=0.0, seed=0, rows=26, columns=13):
    """A leaf or petal along +z from the origin, face up: `profile`(t) is its half width as a share
    of `width`."""
    t, s = np.meshgrid(np.linspace(0, 1, rows), np.linspace(-1, 1, columns), indexing="ij")
    half = width * profile(t)
    edge = (
        ruffle
        * np.abs(s) ** 2
        * (np.sin(9 * t + 2.3 * seed + 1.5 * np.sign(s)) + 0.6 * np.sin(19 * t + seed - np.sign(s)))
    )
    crinkle = 0.35 * ruffle * fractal(np.stack([t * 7 + seed, s * 4], -1), 3, seed)
    up = cup * np.abs(s) ** 1.6 * half - droop * length * t**2 + (edge + crinkle) * length
    return lattice(
        np.stack([s * half, up, length * t * (1 - 0.12 * np.abs(droop) * t)], -1),
        np.stack([s / 2 + 0.5, t], -1),
    )


def _turned(shape, tilt, around, at=(0, 0, 0)):
    """Tilt a blade up by `tilt` degrees, then turn it about the stem."""
    return place(place(shape, turn=(-tilt, 0, 0)), at, (0, around, 0))


def cabbage(seed, size=2.2):
    """A hearted cabbage with spread outer leaves."""
    rng, leaves = np.random.default_rng(seed), []
    for ring, (count, tilt, long) in enumerate(
        ((7, 12, 1.0), (7, 34, 0.95), (6, 56, 0.80), (5, 74, 0.62), (4, 86, 0.48))
    ):
        for k in range(count):
            shape = blade(
                size * long * rng.uniform(0.9, 1.1),
                size * 0.52 * long,
                lambda t: np.sin(np.pi * (0.10 + 0.86 * t)) ** 0.55,
                droop=0.20 - 0.13 * ring,
                cup=0.30 + 0.12 * ring,
                ruffle=0.045,
                seed=seed + 7 * ring + k,
                rows=34,
                columns=27,
            )
            around = 360 * (k + 0.5 * ring) / count + rng.normal(0, 8)
            leaves.append(
                _turned(shape, tilt + rng.normal(0, 5), around, (0, 0.10 + 0.08 * ring, 0))
            )
    heart = lathe([(0, 0.2), (0.30, 0.25), (0.46, 0.6), (0.42, 0.95), (0.22, 1.16), (0, 1.2)], 40)
    return {"cabbage": [*leaves, place(heart, scale=size * 0.75)]}


def cabbage_leaf():
    """Texture of a glaucous leaf: pale midrib and branching veins on blue green."""
    v, u = np.meshgrid(np.linspace(0, 1, 512), np.linspace(-1, 1, 512), indexing="ij")
    rib = np.exp(-((u / (0.05 * (1.2 - v))) ** 2))
    side = np.abs(
        np.mod(v * 9 - 2.6 * np.abs(u) + 0.15 * fractal(np.stack([u * 3, v * 3], -1), 2, 1), 1)
        - 0.5
    )
    vein = np.maximum(rib, np.exp(-((side / 0.045) ** 2)) * (1 - 0.6 * np.abs(u)))
    fine = np.clip(1 - np.abs(fractal(np.stack([u * 9, v * 12], -1), 3, 2)) * 9, 0, 1) * 0.5
    vein = np.clip(vein + 0.5 * fine, 0, 1)[..., None]
    bloom = (0.5 + 0.5 * fractal(np.stack([u * 2, v * 3], -1), 4, 3))[..., None]
    green = (
        np.array([0.17, 0.30, 0.16]) * (0.85 + 0.3 * bloom) + np.array([0.05, 0.06, 0.07]) * bloom
    )
    return thin(
        picture(np.clip(green * (1 - vein) + np.array([0.46, 0.56, 0.34]) * vein, 0.01, 0.9)),
        0.55,
        0.6,
    )


def marigold(seed, tall=2.6):
    """A bushy stem with feathered leaves and a ruffled head."""
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 1, 30)
    lean = rng.normal(0, 0.35, 2)
    stem = np.stack([lean[0] * t**1.6 * tall * 0.5, tall * t, lean[1] * t**1.6 * tall * 0.5], 1)
    green = [tube(stem, 0.045 * (1 - 0.3 * t), 8)]
    for k in range(9):
        at, around, long = stem[3 + 2 * k], rng.uniform(0, 360), rng.uniform(0.7, 1.1)
        rib = np.stack([0 * t, 0.28 * long * np.sin(1.6 * t), long * t], 1)
        leaf = [tube(rib, 0.014, 5)]
        for j in range(5, 29, 3):
            for side in (-1, 1):
                lobe = blade(
                    0.42 * np.sin(np.pi * (0.15 + 0.75 * t[j])),
                    0.055,
                    lambda q: np.sin(np.pi * (0.04 + 0.95 * q)) ** 0.8,
                    0.15,
                    0.3,
                    0.02,
                    j,
                )
                leaf.append(_turned(lobe, 12, side * 62, rib[j]))
        green += [place(shape, at, (0, around, 0)) for shape in leaf]
    head, petals = stem[-1], []

    def frill(q):
        return 0.35 + 0.65 * smoothstep(q, 0.05, 0.75) * np.sqrt(np.clip(1.02 - q**6, 0, 1))

    for ring, (count, tilt, long) in enumerate(
        ((15, 2, 0.62), (15, 20, 0.58), (13, 38, 0.50), (11, 56, 0.40), (8, 74, 0.30))
    ):
        for k in range(count):
            size, own = long * rng.uniform(0.9, 1.1), seed + 11 * ring + k
            shape = blade(
                size, 0.15, frill, 0.10 - 0.05 * ring, 0.25, 0.05, own, rows=12, columns=7
            )
            petals.append(
                _turned(
                    shape,
                    tilt + rng.normal(0, 6),
                    360 * k / count + 12 * ring + rng.normal(0, 5),
                    (0, 0.03 * ring, 0),
                )
            )
    calyx = lathe([(0.03, -0.42), (0.13, -0.34), (0.17, -0.12), (0.15, 0.02), (0, 0.0)], 20)
    face = (rng.uniform(10, 50), rng.uniform(-60, 60), 0)
    name = "marigold_deep" if rng.random() < 0.35 else "marigold"
    return {
        "herb": green + [place(calyx, head, face)],
        name: [place(p, head, face) for p in petals],
    }


def foxglove(seed, tall=8.5):
    """A spire of hanging bells, open below and in bud above, over a rosette."""
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 1, 60)
    bend = rng.normal(0, 0.25, 2)
    stem = np.stack([bend[0] * t**2 * 2, tall * t, bend[1] * t**2 * 2], 1)
    green, bells = [tube(stem, 0.085 * (1 - 0.75 * t), 9)], []
    for k in range(11):
        shape = blade(
            rng.uniform(1.5, 2.3),
            0.42,
            lambda q: np.sin(np.pi * (0.06 + 0.92 * q)) ** 0.8,
            0.35,
            0.25,
            0.02,
            seed + k,
        )
        green.append(
            _turned(shape, rng.uniform(15, 45), 33 * k + rng.normal(0, 10), (0, 0.15 + 0.16 * k, 0))
        )
    count = 40
    for k in range(count):
        along = 0.40 + 0.58 * k / count
        open_ = smoothstep(0.96 - along, 0.02, 0.30)
        at, around = (
            stem[int(along * 59)],
            -90 + 55 * np.sin(k * 2.4) + rng.normal(0, 18) + (180 if k % 5 == 0 else 0),
        )
        long = 0.28 + 0.46 * open_
        v, u = np.meshgrid(np.linspace(0, 1, 22), np.linspace(0, 2 * np.pi, 25), indexing="ij")
        r = 0.07 + open_ * (
            0.11 * smoothstep(v, 0.05, 0.45)
            + 0.08 * smoothstep(v, 0.72, 1.0) * (1 + 0.35 * np.cos(2 * u) + 0.2 * np.cos(5 * u))
        )
        r = (
            r
            * np.sqrt(np.clip(np.minimum(v / 0.06, 1), 0.02, 1))
            * (1 if open_ > 0.25 else np.sqrt(np.clip((1.02 - v) / 0.3, 0.03, 1)))
        )
        lip = 0.16 * open_ * smoothstep(v, 0.8, 1.0) * (np.sin(u) < 0) * -np.sin(u)
        bell = lattice(
            np.stack([r * np.cos(u), r * np.sin(u), long * v + lip], -1),
            np.stack([u / 2 / np.pi, v], -1),
        )
        bells.append(place(place(bell, turn=(28 + 26 * open_, 0, 0)), at, (0, around, 0)))
        cup = lathe([(0.02, -0.05), (0.10, 0.0), (0.12, 0.07), (0.08, 0.13)], 12)
        green.append(place(place(cup, turn=(90 + 28, 0, 0)), at, (0, around, 0)))
    return {"herb": green, "foxglove": bells}


def foxglove_bell():
    """Texture of a bell: paler throat with dark spots in pale rings, deeper at the mouth."""
    v, u = np.meshgrid(np.linspace(0, 1, 256), np.linspace(0, 1, 256), indexing="ij")
    base = np.array([0.46, 0.095, 0.26]) * (0.75 + 0.45 * v[..., None]) + np.array(
        [0.12, 0.10, 0.10]
    ) * (1 - v[..., None])
    spots, ring = np.zeros_like(v), np.zeros_like(v)
    rng = np.random.default_rng(4)
    for _ in range(70):
        cu, cv, r = rng.normal(0.75, 0.09), rng.uniform(0.35, 0.97), rng.uniform(0.010, 0.022)
        d = np.hypot(u - cu, (v - cv) * 0.9)
        spots, ring = np.maximum(spots, d < r), np.maximum(ring, d < 1.7 * r)
    rgb = (
        base * (1 - ring[..., None])
        + np.array([0.75, 0.55, 0.60]) * (ring - spots)[..., None]
        + np.array([0.10, 0.006, 0.03]) * spots[..., None]
    )
    return thin(picture(np.clip(rgb, 0.004, 0.9)), 0.45, 0.75)


def gather(scene, plants, materials):
    """`plants` is a list of (parts by material, at, turn, scale); one mesh for each material goes
    into the scene."""
    sorted_ = {}
    for parts, at, turn, scale in plants:
        for name, shapes in parts.items():
            sorted_.setdefault(name, []).extend(place(s, at, (0, turn, 0), scale) for s in shapes)
    for name, shapes in sorted_.items():
        scene[name] = mesh(join(shapes), materials[name], name)

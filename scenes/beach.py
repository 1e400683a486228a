"""Kites over wet sand at low tide in hard sun: saturated cloth, a long clear sky, mirrors of
water."""

from dataclasses import replace

import numpy as np

from .kit import rig
from .kit.figure import Figure, figure
from .kit.noise import fractal
from .kit.props import Frame, ball
from .kit.render import both_sides, colour, mesh, panorama_light, picture, surface
from .kit.sea import sea, water, wet_ground
from .kit.shapes import join, lattice, place, tube
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
    (["child_"], "a running child", 3.2, 8, 92, 30),
    (["flier_", "watching_"], "people", 0.3, 180, 112, 0.2),
    (["sea"], "water", 0.8, 180, 600, 30),
]
REGIONS = {
    "sky": ["nothing"],
    "water": ["sea"],
    "ground": ["sand"],
    "red": ["kite_red"],
    "blue": ["kite_blue"],
    "yellow": ["kite_yellow"],
    "skin": ["child_skin"],
    "skin_dark": ["flier_skin"],
    "subject": ["child_"],
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
        "focus": np.array([-2.0, 6.0, -92.0]),
        "plate": np.array([-1.5, 6.0, -92.0]),
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


PULL = {
    "upperarm01.L": (-62, 0, -46),
    "upperarm01.R": (-58, 0, 44),
    "lowerarm01.L": (-20, 0, 0),
    "lowerarm01.R": (-24, 0, 0),
    "head": (-16, 0, 0),
    **rig.leaning(-8),
    "upperleg01.L": (-18, 0, -5),
    "upperleg01.R": (8, 0, 5),
    "lowerleg01.R": (12, 0, 0),
}
RUNNING = {
    **rig.leaning(12),
    "upperarm01.L": (-30, 0, -36),
    "lowerarm01.L": (-40, 0, 0),
    "upperarm01.R": (34, 0, 32),
    "lowerarm01.R": (-40, 0, 0),
    "upperleg01.R": (-46, 0, 2),
    "lowerleg01.R": (56, 0, 0),
    "upperleg01.L": (24, 0, -2),
    "lowerleg01.L": (30, 0, 0),
    "foot.L": (30, 0, 0),
}
FLIER = Figure(
    20,
    (-24.0, 0.0, -112.0),
    facing=148,
    sex="male",
    ancestry={"african": 0.9, "caucasian": 0.1},
    bends=PULL,
    melanin=0.20,
    slope=1.7,
    coat=(0.66, 0.64, 0.59),
    hem=-0.7,
    wind=(4, 1, 3),
    trousers=(0.10, 0.085, 0.06),
    boots=None,
    cap=None,
)
CHILD = Figure(
    94,
    (-2.0, 0.0, -92.0),
    facing=70,
    age=-0.85,
    bends=RUNNING,
    melanin=0.016,
    coat=(0.62, 0.38, 0.03),
    hem=-0.4,
    wind=(-5, 0, -4),
    trousers=(0.05, 0.075, 0.12),
    boots=None,
    cap=None,
    hair=(0.05, 0.03, 0.02),
)
WATCHING = Figure(
    97,
    (27.0, 0.0, -150.0),
    facing=200,
    melanin=0.02,
    coat=(0.045, 0.13, 0.15),
    hem=-5.0,
    wind=(7, 0, 2),
    trousers=(0.30, 0.27, 0.22),
    cap=(0.55, 0.52, 0.45),
)


def ground(x, z):
    """Height of the sand."""
    x, z = np.asarray(x, float), np.asarray(z, float)
    ripple = 0.05 * np.sin(z * 2.6 + 3 * fractal(np.stack([x / 12, z / 12], -1), 2, 5))
    return 0.5 * fractal(np.stack([x / 60, z / 60], -1), 3, 3) + ripple - 0.25


def on_sand(who):
    """The figure with the feet on the ground, a little in it."""
    x, _, z = who.at
    return replace(who, at=(x, float(ground([x], [z])[0]) - 0.06, z))


def shore(frame, scene):
    """Rippled sand with pools, some stones, and the sea's edge in the distance."""
    size = 420.0
    x, z = np.meshgrid(np.linspace(-size / 2, size / 2, 500), np.linspace(-size + 40, 40, 500))
    y = ground(x, z)
    material = wet_ground(
        (0.30, 0.235, 0.155), (0.105, 0.082, 0.056), size, 4, cell=30.0, share=0.30, pixels=2600
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
    for name, who in (("child", CHILD), ("flier", FLIER), ("watching", WATCHING)):
        scene.update(figure(on_sand(who), name))
    shore(frame, scene)
    kites(frame, scene)
    hand = np.array(FLIER.at) + [1.6, 12.6, -4.6]  # before his chest, out of sight
    strings = [line(frame, hand, *FLOWN[0][:3])]
    scene["lines"] = mesh(
        join(strings), both_sides(surface(colour(0.7, 0.68, 0.6), 0.7, 0.3)), "lines"
    )
    scene["light_sky"] = panorama_light(clear_sky(SUN_BEARING, SUN_RISE), 1.0)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE)
    return (
        scene,
        [],
        look,
        (frame.at(-24, 13, 60), -frame.ahead + 0.8 * towards(SUN_BEARING, SUN_RISE)),
    )

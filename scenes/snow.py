"""Snow on the quay, early: white over nearly all of the frame, blue in the shadows, a red boat, a
dark dog."""

import numpy as np

from .kit import rig
from .kit.animals import dog
from .kit.figure import STEP, Figure, figure
from .kit.noise import fractal, smoothstep
from .kit.props import Frame, ball, dinghy
from .kit.render import both_sides, bumpy, colour, mesh, panorama_light, picture, surface
from .kit.sea import sea, water
from .kit.shapes import box, join, lathe, lattice, place, tube
from .kit.sky import clear_sky, clouded, sun

TITLE = "First snow"
STORY = "It came in the night; the dog has been out already, the boat has not."
GOOD_FOR = ["exposure", "white_balance", "highlights", "shift_green"]
ORDER = 1
GROUP = "sun"
EV100 = 14.2
CELSIUS = -3
MADE_OF = ["anny"]
NEUTRAL_WITHIN = 12.0
LIGHTS = [
    {"kind": "low sun", "emitters": ["light_sun"]},
    {"kind": "sky", "emitters": ["light_sky"]},
]
MOVES = [
    (["dog"], "a dog", 0.9, 180, 128, 30),
    (["walker"], "people", 0.8, 0, 140, 30),
    (["sea"], "water", 0.4, 180, 300, 30),
]
REGIONS = {
    "sky": ["nothing"],
    "snow": ["snow"],
    "dog": ["dog"],
    "red": ["boat_out"],
    "water": ["sea"],
    "subject": ["walker"],
    "neutral": ["post"],
    "wood": ["boat_in", "boat_rail", "trestle"],
}
SUN_BEARING, SUN_RISE = 62.0, 11.0
EYE = 13.0


def view():
    return {
        "eye": np.array([0.0, EYE, 0.0]),
        "target": np.array([0.0, 8.6, -60.0]),
        "fov": 40.0,
        "aperture": 0.03,
        "focus": np.array([12.0, 6.0, -84.0]),
        "plate": np.array([9.0, 7.0, -86.0]),
    }


def drift(x, z):
    """Height of the snow, with the tracks of a dog and of boots pressed into it."""
    y = 0.7 * fractal(np.stack([x / 26, z / 26], -1), 4, 3)
    y += 0.16 * fractal(np.stack([x / 3.2, z / 7.0], -1), 4, 5)
    # Wind ripples, and crusts that broke.
    y += 0.05 * np.abs(fractal(np.stack([x / 1.6, z / 0.9], -1), 3, 9))
    return y


def _tracks():
    """Where feet have been: (x, z, length, width, depth, turn)."""
    rng, prints = np.random.default_rng(4), []
    for k in range(46):  # the walker's boots, from beside the camera to where he stands
        t = k / 45
        x = 9 - 35 * t + 3.0 * np.sin(3 * t) + (0.9 if k % 2 else -0.9)
        z = -26 - 112 * t
        prints.append((x, z, 2.9, 1.15, 1.0, 0.30 + rng.normal(0, 0.08)))
    for k in range(90):  # the dog's, in a loop and on to where it stands
        t = k / 89
        x = 26 - 45 * t
        z = -58 - 70 * t**1.5 + 7 * np.sin(5 * t) + (0.6 if k % 2 else -0.6)
        prints.append((x + rng.normal(0, 0.15), z, 0.8, 0.75, 0.65, 1.2))
    return prints


def snow(scene):
    size = 340.0
    across, away = 1150, 1500
    u, v = np.meshgrid(np.linspace(-1, 1, across), np.linspace(0, 1, away))
    z = -14 - size * v**1.9
    x = u * (16 + 0.85 * -z)
    y = drift(x, z)
    for px, pz, long, wide, deep, turn in _tracks():
        near = (np.abs(x - px) < 5) & (np.abs(z - pz) < 5)
        if not near.any():
            continue
        dx, dz = x[near] - px, z[near] - pz
        a = dx * np.cos(turn) + dz * np.sin(turn)
        b = dz * np.cos(turn) - dx * np.sin(turn)
        r = np.hypot(a / wide, b / long) * 2
        y[near] += -deep * (1 - smoothstep(r, 0.75, 1.0)) + 0.16 * np.exp(
            -(((r - 1.25) / 0.2) ** 2)
        )
    edge = smoothstep(-z, 205, 212)  # the quay ends
    y = y - 30 * edge
    white = surface(colour(0.86, 0.87, 0.885), 0.62, 0.35, sheen=0.3)
    scene["snow"] = mesh(lattice(np.stack([x, y, z], -1)), both_sides(white), "snow")
    return white


def flaking(rgb):
    """Paint of some winters: dull in patches, chipped to the coat before it and to the wood along
    the laps, streaked below."""
    v, u = np.meshgrid(np.linspace(0, 1, 700), np.linspace(0, 1, 2400), indexing="ij")
    at = np.stack([u * 24, v * 7], -1)
    chips = fractal(at * 2.2, 5, 3) + 0.35 * fractal(at * 0.6, 3, 7)
    lap = np.exp(-((np.minimum(v * 7 % 1, 1 - v * 7 % 1) / 0.10) ** 2))
    chips = chips + 0.16 * lap + 0.22 * np.exp(-((v / 0.12) ** 2))
    under, bare = smoothstep(chips, 0.50, 0.53)[..., None], smoothstep(chips, 0.60, 0.62)[..., None]
    dull = 1 + 0.22 * fractal(at * 0.8, 4, 5) + 0.14 * fractal(at * [3.0, 0.35], 3, 6)
    base = np.array(rgb) * dull[..., None]
    base = base * (1 - under) + np.array([0.30, 0.285, 0.25]) * under
    base = base * (1 - bare) + np.array([0.15, 0.11, 0.075]) * bare
    rough = picture(0.42 + 0.12 * fractal(at, 3, 9), raw=True)
    return bumpy(-under[..., 0], 0.03, surface(picture(np.clip(base, 0.005, 0.9)), rough, 0.45))


def boat(frame, scene, white):
    """The red boat on its trestles, filled with snow to the thwarts."""
    outside, inside, rail = dinghy(36, 14, 6.4)
    where = {"at": (14.0, 3.6, -86.0), "turn": (0, 26, 0)}
    red = both_sides(flaking((0.42, 0.022, 0.016)))
    wood = both_sides(surface(colour(0.26, 0.17, 0.09), 0.55, 0.4))
    for key, shape, material in (("out", outside, red), ("in", inside, wood), ("rail", rail, wood)):
        scene[f"boat_{key}"] = mesh(place(shape, **where), material, f"boat_{key}")
    s, w = np.meshgrid(np.linspace(-1, 1, 120), np.linspace(-1, 1, 60), indexing="ij")
    half = 6.4 * np.sqrt(np.clip(1 - np.clip(s, -0.6, 1) ** 4, 0, 1)) * (1 - 0.18 * (s < -0.6))
    x, z = s * 15.5, w * half * 0.84
    dome = 5.6 + 1.5 * (1 - w**2) * (1 - s**4) + 0.25 * fractal(np.stack([x / 5, z / 4], -1), 3, 6)
    scene["snow_boat"] = mesh(
        place(lattice(np.stack([x, dome, z], -1), flip=True), **where),
        both_sides(white),
        "snow_boat",
    )
    legs = [
        place(box((0.8, 5.5, 9), 0.1), (14.0 + dx, -0.8, -86.0 - 0.45 * dx), (0, 26, 0))
        for dx in (-9, 8)
    ]
    scene["trestle"] = mesh(join(legs), wood, "trestle")


def posts(scene, white):
    """Mooring posts with caps of snow, a rail, a heap of snowed-in pots."""
    grey, caps = [], []
    for x, z in ((-34, -120), (-12, -150), (26, -176), (50, -190), (-60, -190), (-20, -60)):
        if (x, z) == (-20, -60):
            continue
        grey.append(
            place(lathe([(0, -2), (1.3, -2), (1.25, 9.5), (1.05, 10), (0, 10)], 48), (x, 0, z))
        )
        v, f, uv = ball(1.0)
        lump = v * (1 + 0.06 * fractal(v * 1.5 + x, 3, 4))[:, None] * [1.5, 0.95, 1.5]
        lump[:, 1] = np.maximum(lump[:, 1], -0.15)
        caps.append((lump + [x, 10.1, z], f, uv))
    scene["post"] = mesh(
        join(grey), both_sides(surface({"type": "uniform", "value": 0.22}, 0.75, 0.3)), "post"
    )
    scene["snow_caps"] = mesh(join(caps), both_sides(white), "snow_caps")
    rope = []
    for (x0, z0), (x1, z1) in (((-34, -120), (-12, -150)), ((-12, -150), (26, -176))):
        t = np.linspace(0, 1, 60)
        sag = 2.6 * 4 * t * (1 - t)
        rope.append(tube(np.stack([x0 + (x1 - x0) * t, 8 - sag, z0 + (z1 - z0) * t], 1), 0.22, 8))
    scene["rope"] = mesh(join(rope), both_sides(surface(colour(0.3, 0.25, 0.17), 0.8, 0.2)), "rope")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    scene = {"type": "scene"}
    white = snow(scene)
    boat(frame, scene, white)
    posts(scene, white)
    at = np.array([-19.5, 0.0, -128.0])
    at[1] = float(drift(at[None, 0], at[None, 2])[0]) - 0.35
    dog(scene, folder, "dog", at, 196)
    walker = Figure(
        9,
        (-26.0, float(drift(np.array([-26.0]), np.array([-138.0]))[0]) - 0.6, -138.0),
        facing=150,
        sex="male",
        bends={**rig.ARMS_DOWN, **STEP},
        coat=(0.55, 0.36, 0.02),
        hem=-5.2,
        trousers=(0.035, 0.05, 0.09),
        cap=(0.05, 0.09, 0.20),
        melanin=0.05,
    )
    scene.update(figure(walker, "walker"))
    far = sea(215, 60000, 700, 0.4, 30, 8, 5, rows=500, columns=500, eye=EYE + 14, finest=2.0)
    scene["sea"] = mesh((far[0] - [0, 12.0, 0], *far[1:]), water((0.012, 0.035, 0.05), 0.09), "sea")
    sky = clear_sky(SUN_BEARING, SUN_RISE, 2.6, glow=(1.0, 0.86, 0.66))
    scene["light_sky"] = panorama_light(clouded(sky, 0.28, 1.9, 15), 1.0)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE, 9.5, 0.32, width=0.8)
    return scene, [], look, (np.array([-4.0, 7.0, -50.0]), np.array([0.6, 0.9, 0.25]))

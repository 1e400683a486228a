"""Boatyard: an old boatbuilder beside a red clinker hull in hazy sun, hedge and sky behind."""

import itertools

import numpy as np

from .kit import assets
from .kit.person import Person, build, smile, uneven
from .kit.props import Frame, Leaves, board, grass_material, reeds, strake
from .kit.render import area_light, colour, mesh, mi, panorama_light, surface
from .kit.shapes import lattice, tube
from .kit.spectra import as_spectrum, daylight_rgb, planck

TITLE = "Boatyard"
STORY = "The oldest hand in the yard, between a hull he has painted eleven times and the hedge."
GOOD_FOR = ["style", "highlights", "shadows", "colour"]
ORDER = 1
GROUP = "sun"
EV100 = 12.7
LIGHTS = [
    {"kind": "sun through haze", "kelvin": 5400},
    {"kind": "sky", "kelvin": 8200},
]
REGIONS = {
    "skin": ["skin0"],
    "sky": ["nothing"],
    "foliage": ["hedge", "reed"],
    "paint": ["hull_red"],
    "white": ["hull_white"],
    "subject": ["person0_jumper", "person0_collar", "person0_hair", "person0_beard"],
}
# The captured sky's own sun then stands where the hazy sun does, behind the camera and to its right.
SKY_TURN = 348.0

ELDER = Person(
    seed=11, sex="male", ancestry={"caucasian": 1.0}, age=0.55, yaw=-10, pitch=-3, roll=4,
    targets=[("head/head-age-incr", 0.35), ("head/head-rectangular", 0.3), ("nose/nose-hump-incr", 0.4),
             ("nose/nose-volume-incr", 0.2), ("eyes/l-eye-bag-incr", 0.5), ("eyes/r-eye-bag-incr", 0.5),
             ("mouth/mouth-laugh-lines-in", 0.4), ("eyes/l-eye-height2-incr", 0.4), ("eyes/r-eye-height2-incr", 0.35),
             ("eyes/l-eye-height1-incr", 0.3), ("eyes/r-eye-height1-incr", 0.3), *smile(0.45, 0.3), *uneven(1.2)],
    melanin=(0.010, 0.115), redness=1.35, freckles=260, moles=6, wrinkles=1.0, pores=0.0022, lip_blood=0.26,
    lip_melanin=0.05, under_eye=1.3, brow_width=1.1, brow_hairs=520, brow_colour=(0.18, 0.155, 0.13), lashes=0.5,
    lash_colour=(0.09, 0.07, 0.055), beard_hairs=15000, beard_length=0.05, grey=0.72, vellus=0, hair="swept", hairs=24000,
    hair_length=0.42, receding=0.06, eumelanin=0.30, pheomelanin=0.15, iris=((0.10, 0.13, 0.15), (0.06, 0.06, 0.05)),
    sclera=(0.50, 0.44, 0.40), jumper=(0.045, 0.07, 0.13),
)  # fmt: skip

BEARING = np.radians(-20)
AHEAD = np.array([np.sin(BEARING), -0.008, np.cos(BEARING)])
RIGHT = np.array([np.cos(BEARING), 0, -np.sin(BEARING)])


def view():
    head = np.array([0, 6.2, 0.7])
    target = head - RIGHT * 1.15 + [0, -0.10, 0]
    return {"eye": target + AHEAD * 17, "target": target, "fov": 24.0, "aperture": 0.085}


def hull_section(s, v):
    """Point at `s` from stern (0) to stem (1) and girth `v` from keel (0) to sheer (1)."""
    x = -22 + 44 * s - 5.0 * (1 - v) * np.clip((s - 0.72) / 0.28, 0, 1) ** 2
    half = 8.5 * (1 - np.clip(s, 0, 1) ** 3.2) ** 0.85 * (0.80 + 0.20 * np.clip(s * 4, 0, 1))
    keel = -5.5 + 1.5 * np.clip((s - 0.8) / 0.2, 0, 1) ** 2
    sheer = 6.0 + 3.4 * np.clip(s - 0.25, 0, 1) ** 2 / 0.56
    flare = 0.30 + 0.70 * np.clip((s - 0.45) / 0.55, 0, 1)
    out = np.sin(v * np.pi / 2) ** (0.75 + 0.6 * flare)
    return np.stack([x, keel + (sheer - keel) * (1 - np.cos(v * np.pi / 2)) ** (1.15 - 0.3 * flare), half * out], -1)


BERTH = {"right": -16.5, "ahead": 46, "turn": -20}


def hull(frame, scene):
    edges = np.linspace(0.22, 1.0, 14)
    for k, (low, high) in enumerate(itertools.pairwise(edges)):
        top = k >= len(edges) - 3
        paint = (0.60, 0.56, 0.47) if top else (0.30, 0.032, 0.020)
        _, material = board(44, 1.3, 0.1, 40 + k, paint=paint, wear=0.42 if top else 0.48)
        name = f"hull_{'white' if top else 'red'}{k}"
        shape = strake(hull_section, low, min(high + 0.012, 1.0))
        scene[name] = mesh(frame.set(shape, **BERTH), material, name)
    s = np.linspace(0, 1, 120)
    rail = hull_section(s, np.ones_like(s)) + [0, 0.10, 0.1]
    wood = surface(colour(0.26, 0.16, 0.085), 0.45, 0.4)
    scene["hull_rail"] = mesh(frame.set(tube(rail, 0.24, 14), **BERTH), wood, "hull_rail")
    v = np.linspace(0, 1, 60)
    stem = hull_section(np.ones_like(v), v) + [0.15, 0.35, 0]
    scene["hull_stem"] = mesh(frame.set(tube(stem, 0.34, 14), **BERTH), wood, "hull_stem")
    inner = hull_section(s, np.ones_like(s))
    far = inner * [1, 1, -1]
    deck = lattice(np.stack([inner - [0, 0.5, 0], far - [0, 0.5, 0]]))
    scene["hull_deck"] = mesh(frame.set(deck, **BERTH), {"type": "twosided", "b": wood}, "hull_deck")


def green(frame, scene):
    rng = np.random.default_rng(5)
    leaves = Leaves([(0.34, 0.50, 0.20), (0.55, 0.68, 0.26), (0.22, 0.36, 0.16), (0.70, 0.66, 0.22)])
    n = 9000
    right = rng.uniform(-2, 26, n)
    crest = 6.9 + 0.9 * np.sin(right * 0.55) + 0.7 * np.sin(right * 1.37 + 1) - 0.10 * right
    height = -4 + (crest + 4) * rng.beta(2.2, 1.0, n) + rng.normal(0, 0.25, n)
    spots = np.stack([frame.at(r, h, a) for r, h, a in zip(right, height, rng.uniform(58, 72, n))])
    for k, (shape, material) in enumerate(leaves.scatter(spots, rng.uniform(0.7, 1.3, n), rng)):
        scene[f"hedge{k}"] = mesh(shape, material, f"hedge{k}")
    dark = {"type": "diffuse", "reflectance": colour(0.02, 0.03, 0.012)}
    x = np.linspace(-4, 28, 60)
    top = 5.2 + 0.9 * np.sin(x * 0.55) + 0.5 * np.sin(x * 1.37 + 1) - 0.10 * x
    wall = np.stack([np.stack([x, np.full_like(x, -9), 0 * x], 1), np.stack([x, top, 0 * x], 1)])
    scene["hedge_core"] = mesh(frame.set(lattice(wall), ahead=70), {"type": "twosided", "b": dark}, "hedge_core")
    for k, (rgb, count) in enumerate((((0.22, 0.24, 0.07), 900), ((0.34, 0.29, 0.12), 700), ((0.14, 0.21, 0.06), 700))):
        side = np.r_[rng.uniform(-9, -3.2, count // 2), rng.uniform(3.0, 11, count - count // 2)]
        roots = np.stack([frame.at(r, -3.0, a) for r, a in zip(side, rng.uniform(27, 38, count))])
        blades = reeds(roots, rng.uniform(5.5, 8.2, count), rng)
        scene[f"reed{k}"] = mesh(blades, grass_material(rgb), f"reed{k}")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    person = build(ELDER, look["eye"], folder, "person0")
    look["focus"] = person.eye[np.argmin([np.linalg.norm(e - look["eye"]) for e in person.eye])]
    scene = {"type": "scene"}
    hull(frame, scene)
    green(frame, scene)
    sky = assets.toned(assets.panorama("park"), daylight_rgb(8200))
    scene["light_sky"] = panorama_light(sky, 0.55, turn=SKY_TURN)
    head = np.array([0, 6.5, 0.8])
    bearing, rise = BEARING + np.radians(52), np.radians(36)
    sun = head + 60 * np.array([np.sin(bearing) * np.cos(rise), np.sin(rise), np.cos(bearing) * np.cos(rise)])
    disc = {"type": "disk", "to_world": mi.ScalarTransform4f().look_at(list(sun), list(head), [0, 1, 0]).scale([5.5, 5.5, 1])}
    scene["light_sun"] = {**disc, "emitter": area_light(as_spectrum(planck(5400) * 150.0))}
    scene["ground"] = {
        "type": "rectangle",
        "to_world": mi.ScalarTransform4f().translate([0, -9.4, 0]).rotate([1, 0, 0], -90).scale([400, 400, 1]),
        "bsdf": {"type": "diffuse", "reflectance": colour(0.19, 0.18, 0.165)},
    }
    facing = AHEAD  # a card held at the face, towards the camera
    return scene, [person], look, (head + AHEAD * 1.5, facing)

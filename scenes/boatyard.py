"""Boatyard: an old boatbuilder with a brush beside a red clinker hull under flat cloud, hulls in
blue and yellow on a rusty rack."""

import itertools

import numpy as np

from .kit import rig
from .kit.faces import calm, narrowed, uneven
from .kit.noise import fractal, smoothstep
from .kit.outfits import scarf, smock
from .kit.person import Person, build
from .kit.props import Frame, Leaves, board, dinghy, grass_material, reeds, strake
from .kit.render import both_sides, bumpy, colour, mesh, mi, panorama_light, picture, surface
from .kit.shapes import box, join, lathe, lattice, place, tube
from .kit.sky import billows, overcast

TITLE = "Boatyard"
STORY = "The oldest hand in the yard, between a hull she has painted eleven times and the hedge."
GOOD_FOR = ["style", "highlights", "shadows", "clarity"]
ORDER = 7
GROUP = "shade"
EV100 = 11.9
CELSIUS = 15
MADE_OF = ["anny", "leaf"]
LIGHTS = [{"kind": "closed cloud", "emitters": ["light_sky"]}]
MOVES = [
    (["person0_", "skin0"], "people", 0.1, 180, 17, 0.2),
    (["reed", "hedge"], "leaves", 0.3, 0, 35, 0.05),
]
REGIONS = {
    "skin": ["skin0"],
    "sky": ["nothing"],
    "foliage": ["hedge", "reed"],
    "paint": ["hull_red", "boat_out"],
    "neutral": ["jerry"],
    "white": ["hull_white"],
    "subject": ["person0_smock", "person0_scarf", "person0_cap"],
}
ELDER = Person(
    seed=29,
    sex="female",
    ancestry={"caucasian": 0.9, "asian": 0.1},
    age=0.62,
    yaw=-14,
    pitch=3,
    roll=3,
    bends={"upperarm01.L": (0, 0, -43), "upperarm01.R": (0, 0, 43), **rig.leaning(2)},
    targets=[
        ("head/head-age-incr", 0.2),
        ("head/head-oval", 0.35),
        ("nose/nose-hump-incr", 0.25),
        ("eyes/l-eye-bag-incr", 0.3),
        ("eyes/r-eye-bag-incr", 0.35),
        ("mouth/mouth-laugh-lines-in", 0.3),
        *narrowed(0.2, 0.24),
        *calm(0.10),
        *uneven(1.2),
    ],
    melanin=(0.006, 0.060),
    redness=1.1,
    freckles=320,
    moles=6,
    wrinkles=0.7,
    lip_blood=0.34,
    lip_melanin=0.05,
    oil=0.08,
    pores=0.0018,
    brow_width=0.75,
    brow_hairs=360,
    brow_colour=(0.22, 0.19, 0.16),
    lashes=0.7,
    lash_colour=(0.09, 0.07, 0.055),
    vellus=1500,
    hair="tied",
    hairs=12000,
    grey=0.8,
    eumelanin=0.45,
    pheomelanin=0.25,
    iris=((0.10, 0.13, 0.15), (0.06, 0.06, 0.05)),
    sclera=(0.44, 0.39, 0.35),
    cap=(0.20, 0.045, 0.03),
    drapes=(smock((0.05, 0.075, 0.12), 12), scarf((0.42, 0.33, 0.16), 15)),
    at=(0.5, -0.1, 0.0),
    facing=-6,
)

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
    return np.stack(
        [
            x,
            keel + (sheer - keel) * (1 - np.cos(v * np.pi / 2)) ** (1.15 - 0.3 * flare),
            half * out,
        ],
        -1,
    )


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
    scene["hull_deck"] = mesh(
        frame.set(deck, **BERTH), {"type": "twosided", "b": wood}, "hull_deck"
    )


def green(frame, scene):
    rng = np.random.default_rng(5)
    leaves = Leaves(
        [(0.34, 0.50, 0.20), (0.55, 0.68, 0.26), (0.22, 0.36, 0.16), (0.70, 0.66, 0.22)]
    )
    n = 9000
    right = rng.uniform(-2, 26, n)
    crest = 7.9 + 0.9 * np.sin(right * 0.55) + 0.7 * np.sin(right * 1.37 + 1) - 0.10 * right
    height = -4 + (crest + 4) * rng.beta(2.2, 1.0, n) + rng.normal(0, 0.25, n)
    spots = np.stack([frame.at(r, h, a) for r, h, a in zip(right, height, rng.uniform(58, 72, n))])
    for k, (shape, material) in enumerate(leaves.scatter(spots, rng.uniform(0.7, 1.3, n), rng)):
        scene[f"hedge{k}"] = mesh(shape, material, f"hedge{k}")
    dark = {"type": "diffuse", "reflectance": colour(0.02, 0.03, 0.012)}
    x = np.linspace(-4, 28, 60)
    top = 6.2 + 0.9 * np.sin(x * 0.55) + 0.5 * np.sin(x * 1.37 + 1) - 0.10 * x
    wall = np.stack([np.stack([x, np.full_like(x, -9), 0 * x], 1), np.stack([x, top, 0 * x], 1)])
    scene["hedge_core"] = mesh(
        frame.set(lattice(wall), ahead=70), {"type": "twosided", "b": dark}, "hedge_core"
    )
    for k, (rgb, count) in enumerate(
        (((0.22, 0.24, 0.07), 900), ((0.34, 0.29, 0.12), 700), ((0.14, 0.21, 0.06), 700))
    ):
        side = np.r_[rng.uniform(-9, -3.2, count // 2), rng.uniform(3.0, 11, count - count // 2)]
        roots = np.stack([frame.at(r, -3.0, a) for r, a in zip(side, rng.uniform(27, 38, count))])
        blades = reeds(roots, rng.uniform(5.5, 8.2, count), rng)
        scene[f"reed{k}"] = mesh(blades, grass_material(rgb), f"reed{k}")


def others(frame, scene):
    """Two dinghies keel up on a rack of rusty pipe, a winch as rusty, a grey petrol can on a
    stand."""
    wood = both_sides(surface(colour(0.24, 0.16, 0.10), 0.6, 0.4))
    y, x = np.mgrid[0:400, 0:400] / 40.0
    scale = fractal(np.stack([x * 2, y * 2], -1), 5, 4)
    rust = np.array([0.23, 0.075, 0.025]) * (1 + 0.7 * scale)[..., None]
    iron = both_sides(bumpy(scale, 0.05, surface(picture(np.clip(rust, 0.01, 0.9)), 0.85, 0.3)))
    insides, rails, pipes = [], [], []
    for k, (right, height, ahead, turn, rgb) in enumerate(
        ((12.4, 5.3, 50, 22, (0.025, 0.10, 0.30)), (21.5, 7.3, 63, 14, (0.58, 0.37, 0.03)))
    ):
        outside, inside, rail = (place(shape, turn=(180, 0, 0)) for shape in dinghy(24, 9.5, 4.4))
        where = {"right": right, "height": height, "ahead": ahead, "turn": turn, "tilt": 4 - 7 * k}
        worn = smoothstep(fractal(np.stack([x, 3 * y], -1), 5, k + 2), 0.30, 0.36)[..., None]
        coat = (
            np.array(rgb) * (1 + 0.15 * fractal(np.stack([x * 2, y * 2], -1), 3, k + 6))[..., None]
        )
        paint = picture(
            np.clip(coat * (1 - worn) + np.array([0.24, 0.19, 0.14]) * worn, 0.004, 0.9)
        )
        scene[f"boat_out{k}"] = mesh(
            frame.set(outside, **where), both_sides(surface(paint, 0.42, 0.45)), f"boat_out{k}"
        )
        insides.append(frame.set(inside, **where))
        rails.append(frame.set(rail, **where))
        for along in (-7.4, 4.0):
            bar = np.array([[along, -5.4, -7.0], [along, -5.4, 7.0]])
            posts = [np.array([[along, -9.4 - height, z], [along, 1.1, z]]) for z in (-6.2, 6.2)]
            pipes += [
                frame.set(tube(np.linspace(*path, 12), 0.24, 14), right, height, ahead, turn=turn)
                for path in (bar, *posts)
            ]
    scene["boat_in"] = mesh(join(insides), wood, "boat_in")
    scene["boat_rail"] = mesh(join(rails), wood, "boat_rail")
    drum = place(
        lathe(
            [
                (0, -1.9),
                (1.7, -1.85),
                (1.7, -1.6),
                (0.8, -1.5),
                (0.75, 1.5),
                (1.7, 1.6),
                (1.7, 1.85),
                (0, 1.9),
            ],
            48,
        ),
        turn=(0, 0, 90),
    )
    frame_ = [place(box((0.4, 4.4, 2.6), 0.06), (side * 2.2, -3.4, 0)) for side in (-1, 1)]
    pipes.append(frame.set(join([drum, *frame_]), 6.6, -1.4, 27.0, turn=28))
    scene["iron"] = mesh(join(pipes), iron, "iron")
    scene["jerry"] = mesh(
        frame.set(join(petrol_can()), 4.75, 1.9, 25.5, turn=-24), grey_paint(), "jerry"
    )
    scene["stand"] = mesh(
        frame.set(box((3.4, 11.3, 3.0), 0.1), 4.6, -9.4, 25.5, turn=-12), wood, "stand"
    )


def petrol_can():
    """A pressed can 26 centimetres high: three handles across its shoulders, a cap, a cross pressed
    into each side."""
    body, depth = box((2.0, 2.6, 1.1), 0.24), 0.55
    v, f, uv = body
    across = np.minimum(
        np.abs(v[:, 0] / 1.0 - (v[:, 1] - 1.3) / 1.3), np.abs(v[:, 0] / 1.0 + (v[:, 1] - 1.3) / 1.3)
    )
    inside = (
        (np.abs(v[:, 0]) < 0.8) & (np.abs(v[:, 1] - 1.3) < 1.0) & (np.abs(v[:, 2]) > 0.9 * depth)
    )
    v = v - np.stack(
        [
            0 * across,
            0 * across,
            np.sign(v[:, 2]) * 0.05 * np.exp(-((across / 0.16) ** 2)) * inside,
        ],
        1,
    )
    handles = []
    for z in (-0.36, 0.0, 0.36):
        path = np.array(
            [[-0.75, 2.5, z], [-0.70, 2.88, z], [-0.2, 2.98, z], [0.3, 2.96, z], [0.42, 2.5, z]]
        )
        t = np.linspace(0, 4, 60)
        handles.append(
            tube(np.stack([np.interp(t, range(5), path[:, k]) for k in range(3)], 1), 0.075, 12)
        )
    cap = place(
        lathe([(0.30, 0), (0.30, 0.32), (0.26, 0.38), (0, 0.40)], 40), (0.76, 2.48, 0), (0, 0, -18)
    )
    return [(v, f, uv), *handles, cap]


def grey_paint():
    """Grey enamel, scratched and dulled in patches."""
    y, x = np.mgrid[0:500, 0:500] / 100.0
    patch = fractal(np.stack([x, y], -1), 5, 9)
    scratch = np.clip(
        1 - np.abs(fractal(np.stack([x * 0.7, y * 5], -1), 3, 10)) * 40, 0, 1
    ) * smoothstep(patch, 0.0, 0.4)
    grey = np.clip(
        0.20 + 0.025 * patch + 0.10 * scratch - 0.08 * smoothstep(patch, 0.42, 0.5), 0.03, 0.6
    )
    rough = picture(np.clip(0.48 + 0.2 * patch, 0.3, 0.8), raw=True)
    return both_sides(
        bumpy(patch - scratch, 0.01, surface(picture(np.repeat(grey[..., None], 3, 2)), rough, 0.4))
    )


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    person = build(ELDER, look["eye"], folder, "person0")
    look["focus"] = person.eye[np.argmin([np.linalg.norm(e - look["eye"]) for e in person.eye])]
    scene = {"type": "scene"}
    hull(frame, scene)
    green(frame, scene)
    others(frame, scene)
    head = np.array([0, 6.5, 0.8])
    scene["light_sky"] = panorama_light(billows(overcast(), 0.5), 1.0)
    scene["ground"] = {
        "type": "rectangle",
        "to_world": mi.ScalarTransform4f()
        .translate([0, -9.4, 0])
        .rotate([1, 0, 0], -90)
        .scale([400, 400, 1]),
        "bsdf": {"type": "diffuse", "reflectance": colour(0.19, 0.18, 0.165)},
    }
    return scene, [person], look, (head + AHEAD * 1.5, AHEAD + [0, 0.35, 0])

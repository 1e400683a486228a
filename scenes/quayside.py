"""A crew member on the quay against the low sun, a hand over his eyes: skin against glare, wind in
hair that is lit from behind, glitter on the water."""

import numpy as np

from .kit import rig
from .kit.faces import calm, narrowed, uneven
from .kit.outfits import oilskin
from .kit.person import Person, build
from .kit.props import Frame, dinghy, lantern_paper, paper
from .kit.render import both_sides, colour, mesh, mi, panorama_light, surface
from .kit.sea import sea, water
from .kit.shapes import box, join, place, tube
from .kit.sky import clear_sky, clouded, sun

TITLE = "Quayside"
STORY = "Waiting for the last boat with the sun in everybody's eyes."
GOOD_FOR = ["exposure", "guard", "highlights", "shadows"]
ORDER = 10
GROUP = "dusk"
EV100 = 10.8
CELSIUS = 16
MADE_OF = ["anny"]
NEUTRAL_WITHIN = 14.0
LIGHTS = [
    {"kind": "low sun", "emitters": ["light_sun"]},
    {"kind": "evening sky", "emitters": ["light_sky"]},
]
MOVES = [
    (["person0_", "skin0"], "people", 0.1, 0, 19, 0.2),
    (["paper", "lantern"], "lanterns", 0.3, 0, 45, 0.2),
    (["sea"], "water", 0.8, 180, 60, 30),
]
REGIONS = {
    "sky": ["nothing"],
    "water": ["sea"],
    "boats": ["boat", "mast"],
    "lamp": ["paper"],
    "subject": ["person0_oilskin"],
    "skin": ["skin0"],
    "neutral": ["stone"],
    "shadow": [],
}
SUN_BEARING, SUN_RISE = -36.0, 9.0

WAITING = Person(
    seed=43,
    sex="male",
    ancestry={"caucasian": 0.7, "asian": 0.3},
    age=0.22,
    yaw=-22,
    pitch=-4,
    roll=-5,
    bends=rig.leaning(-3, 0, 4),
    holds={
        "R": rig.Hold(
            (-0.95, 7.34, 2.0),
            palm=(0.15, -1, -0.25),
            fingers=(0.85, 0.1, 0.45),
            grip=14,
            thumb=6,
            elbow=1.6,
        )
    },
    neckline=4.3,
    vellus=1500,
    drapes=(oilskin((0.32, 0.20, 0.045), 6),),
    targets=[
        ("head/head-oval", 0.3),
        ("nose/nose-hump-incr", 0.2),
        ("cheek/l-cheek-bones-incr", 0.2),
        ("cheek/r-cheek-bones-incr", 0.2),
        ("mouth/mouth-lowerlip-volume-incr", 0.15),
        ("eyes/l-eye-height2-incr", 0.15),
        ("eyes/r-eye-height2-incr", 0.12),
        ("chin/chin-width-decr", 0.1),
        *narrowed(0.40, 0.46),
        *calm(0.12),
        *uneven(1.1),
    ],
    melanin=(0.022, 0.15),
    redness=1.25,
    lip_blood=0.5,
    freckles=260,
    moles=5,
    under_eye=0.8,
    wrinkles=0.25,
    oil=0.10,
    brow_width=1.05,
    brow_hairs=500,
    brow_colour=(0.06, 0.036, 0.02),
    lash_colour=(0.03, 0.02, 0.014),
    beard_hairs=14000,
    beard_length=0.020,
    hair="windblown",
    hairs=26000,
    hair_length=0.6,
    hair_thick=1.15,
    parting=-0.2,
    wind=(0.9, 0.15, -0.1),
    eumelanin=0.55,
    pheomelanin=0.5,
    iris=((0.09, 0.12, 0.10), (0.09, 0.07, 0.02)),
    sclera=(0.55, 0.50, 0.46),
    at=(0.35, -0.2, 0.0),
    facing=-26,
)


def view():
    eye, target = np.array([0.0, 6.3, 20.0]), np.array([0.9, 5.95, 0.0])
    return {"eye": eye, "target": target, "fov": 24.0, "aperture": 0.11}


def harbour(frame, scene):
    """Moored boats and masts against the light, the mole behind, a string of lanterns not yet
    lit."""
    dark = both_sides(surface(colour(0.05, 0.055, 0.06), 0.6, 0.4))
    paints = [(0.20, 0.035, 0.03), (0.03, 0.08, 0.13), (0.28, 0.24, 0.16)]
    for k, (right, ahead, turn, size) in enumerate(
        ((-13, 92, 18, 30), (17, 120, -24, 34), (34, 105, 12, 26))
    ):
        outside, inside, rail = dinghy(size, size * 0.36, size * 0.17)
        for key, shape, rgb in (
            ("out", outside, paints[k]),
            ("in", inside, (0.14, 0.10, 0.07)),
            ("rail", rail, (0.22, 0.15, 0.08)),
        ):
            made = frame.set(shape, right, -6.6, ahead, turn=turn)
            scene[f"boat{k}_{key}"] = mesh(
                made, both_sides(surface(colour(*rgb), 0.4, 0.45)), f"boat{k}_{key}"
            )
    masts = []
    for right, top, ahead, lean in (
        (-12, 36, 92, 0.7),
        (16, 46, 121, -0.6),
        (33, 30, 105, 0.5),
        (-40, 42, 170, 0.4),
        (52, 40, 180, -0.5),
    ):
        masts.append(
            frame.set(
                tube(
                    np.array([[0, -5, 0], [lean / 2, top / 2, 0], [lean, top, 0]]),
                    [0.5, 0.42, 0.2],
                    10,
                ),
                right,
                0,
                ahead,
            )
        )
        for end in (-11, 11):
            masts.append(
                frame.set(
                    tube(np.array([[end, -3, 0], [lean, top * 0.96, 0]]), 0.07, 6), right, 0, ahead
                )
            )
    scene["mast"] = mesh(join(masts), dark, "mast")
    rng, stones = np.random.default_rng(4), []
    for k in range(120):
        w = rng.uniform(7, 13)
        stones.append(
            frame.set(
                box((w, rng.uniform(4, 8), 6), 0.5),
                -190 + 3.2 * k,
                -6.5 + 3.0 * (k % 2),
                300 + rng.normal(0, 1),
            )
        )
    scene["mole"] = mesh(
        join(stones), both_sides(surface(colour(0.10, 0.095, 0.09), 0.85, 0.3)), "mole"
    )
    t = np.linspace(0, 1, 60)
    cord = np.stack([-14 + 26 * t, 11.6 - 2.6 * 4 * t * (1 - t) * 0.5, -26 - 5 * t], 1)
    scene["cord"] = mesh(tube(cord, 0.035, 6), dark, "cord")
    for tint, picks in (((0.78, 0.20, 0.07), (10, 57)), ((0.82, 0.74, 0.52), (21, 45))):
        papers, hoops = zip(*[lantern_paper(0.95, 1.9, 60 + k) for k in picks])
        where = [cord[k] - [0, 1.05, 0] for k in picks]
        key = f"paper{picks[0]}"
        scene[key] = mesh(join([place(s, a) for s, a in zip(papers, where)]), paper(tint), key)
        scene[f"hoop{picks[0]}"] = mesh(
            join([place(s, a) for s, a in zip(hoops, where)]), dark, f"hoop{picks[0]}"
        )
    wall = place(box((9, 2.4, 3.2), 0.22), (-4.6, 1.55, -4.2), (0, 12, 0))
    cap = place(box((9, 2.4, 3.2), 0.22), (4.8, 1.45, -5.6), (0, 5, 0))
    scene["stone"] = mesh(
        join([wall, cap]),
        both_sides(surface({"type": "uniform", "value": 0.24}, 0.75, 0.35)),
        "stone",
    )


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    person = build(WAITING, None, folder, "person0")
    look["focus"] = person.eye[np.argmin([np.linalg.norm(e - look["eye"]) for e in person.eye])]
    scene = {"type": "scene"}
    harbour(frame, scene)
    surface_ = sea(18, 60000, 60, 0.55, 26, 10, 7, rows=800, columns=800, eye=12.0, finest=0.8)
    scene["sea"] = mesh(
        frame.set((surface_[0] - [0, 5.8, 0], *surface_[1:])),
        water((0.012, 0.025, 0.028), 0.07),
        "sea",
    )
    quay = (
        mi.ScalarTransform4f().translate([0, -9.4, 60]).rotate([1, 0, 0], -90).scale([200, 66, 1])
    )
    scene["quay"] = {
        "type": "rectangle",
        "to_world": quay,
        "bsdf": {"type": "diffuse", "reflectance": colour(0.42, 0.39, 0.35)},
    }
    house = both_sides({"type": "diffuse", "reflectance": colour(0.74, 0.71, 0.65)})
    # A whitewashed front behind the camera takes the full sun and gives it back: all the light that
    # her face has.
    scene["house"] = mesh(place(box((160, 60, 10), 0.3), (20, -9.4, 55)), house, "house")
    turn = np.degrees(np.arctan2(frame.ahead[0], -frame.ahead[2]))
    sky = clear_sky(SUN_BEARING + turn, SUN_RISE, 4.0, glow=(1.0, 0.74, 0.44))
    scene["light_sky"] = panorama_light(clouded(sky, 0.55, 0.62, 8), 0.40)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING + turn, SUN_RISE, 7.5, 0.5, width=1.3)
    facing = np.array([0, 0.25, 1.0])
    return scene, [person], look, (np.array([0, 6.5, 2.4]), facing)

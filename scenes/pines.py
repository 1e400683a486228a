"""Under the pines: three heads in open shade, each another skin, a clearing beside them and the
wood out of focus behind."""

import numpy as np

from .kit import assets, rig
from .kit.faces import DARK, calm, narrowed, uneven
from .kit.outfits import scarf, smock
from .kit.person import Person, build
from .kit.props import Frame, flat
from .kit.render import area_light, colour, panorama_light
from .kit.spectra import as_spectrum, daylight, daylight_rgb

TITLE = "Under the pines"
STORY = "Three of the crew out of the sun for a minute, and nobody has said yet what comes next."
ORDER = 5
GROUP = "shade"
GOOD_FOR = ["style", "colour", "shift_amber", "shift_green", "saturation"]
EV100 = 10.6
MADE_OF = ["forest", "anny"]
LIGHTS = [
    {"kind": "the wood all round", "emitters": ["light_env"]},
    {"kind": "sky over a clearing", "emitters": ["light_sky"]},
]
MOVES = [(["person", "skin"], "people", 0.1, 10, 17, 0.2)]
REGIONS = {
    "skin": ["skin0"],
    "skin_light": ["skin1"],
    "skin_dark": ["skin2"],
    "neutral": ["person1_scarf"],
    "white": ["person1_smock"],
    "subject": ["person0_cap", "person0_smock", "person0_scarf"],
    "black": ["person2_smock"],
}

MEDIUM = Person(
    seed=5,
    sex="male",
    ancestry={"asian": 0.45, "caucasian": 0.35, "african": 0.2},
    age=0.40,
    at=(0, 0, 0),
    yaw=14,
    pitch=2,
    roll=-3,
    bends={"upperarm01.L": (0, 0, -43), "upperarm01.R": (0, 0, 41), **rig.leaning(3)},
    targets=[
        ("head/head-oval", 0.35),
        ("head/head-age-incr", 0.15),
        ("nose/nose-hump-incr", 0.25),
        ("nose/nose-base-up", 0.1),
        ("cheek/l-cheek-bones-incr", 0.35),
        ("cheek/r-cheek-bones-incr", 0.3),
        ("chin/chin-prominent-incr", 0.2),
        ("eyes/l-eye-bag-incr", 0.3),
        ("eyes/r-eye-bag-incr", 0.35),
        ("mouth/mouth-laugh-lines-in", 0.25),
        ("eyes/l-eye-height2-incr", 0.12),
        ("eyes/r-eye-height2-incr", 0.06),
        *calm(0.10),
        *narrowed(0.06, 0.10),
        *uneven(1.2),
    ],
    melanin=(0.042, 0.17),
    melanin_slope=1.9,
    redness=0.9,
    lip_blood=0.30,
    lip_melanin=0.10,
    freckles=50,
    roughness=0.55,
    oil=0.05,
    pores=0.0021,
    wrinkles=0.55,
    brow_hairs=460,
    brow_colour=(0.016, 0.012, 0.010),
    lashes=0.6,
    beard_hairs=13000,
    beard_length=0.05,
    grey=0.10,
    hair="cropped",
    hairs=9000,
    hair_length=0.05,
    eumelanin=2.2,
    pheomelanin=0.0,
    **DARK,
    sclera=(0.40, 0.345, 0.30),
    cap=(0.33, 0.19, 0.03),
    drapes=(smock((0.035, 0.045, 0.06), 4), scarf((0.34, 0.29, 0.21), 4)),
)

LIGHT = Person(
    seed=11,
    sex="female",
    ancestry={"caucasian": 0.9, "asian": 0.1},
    age=0.30,
    at=(2.8, -0.35, -4.4),
    facing=-22,
    yaw=6,
    pitch=6,
    roll=3,
    gaze=(0.3, -1.2),
    bends={"upperarm01.L": (0, 0, -43), "upperarm01.R": (0, 0, 42), **rig.leaning(2)},
    targets=[
        ("head/head-oval", 0.5),
        ("nose/nose-width2-decr", 0.15),
        ("nose/nose-hump-incr", 0.3),
        ("chin/chin-width-decr", 0.1),
        ("mouth/mouth-upperlip-volume-incr", 0.15),
        *calm(0.14),
        *uneven(1.0),
    ],
    melanin=(0.002, 0.030),
    redness=0.8,
    lip_blood=0.38,
    freckles=260,
    roughness=0.48,
    oil=0.08,
    pores=0.0015,
    wrinkles=0.25,
    vellus=1500,
    brow_width=0.8,
    brow_hairs=420,
    brow_colour=(0.10, 0.06, 0.03),
    hair="cropped",
    hairs=6000,
    hair_length=0.05,
    eumelanin=0.35,
    pheomelanin=0.5,
    cap=(0.05, 0.085, 0.10),
    drapes=(smock((0.70, 0.69, 0.65), 8, 0.05), scarf((0.40, 0.40, 0.40), 8)),
)

DEEP = Person(
    seed=9,
    sex="male",
    ancestry={"african": 1.0},
    age=0.22,
    at=(-3.9, 0.2, -4.8),
    facing=20,
    yaw=8,
    pitch=1,
    roll=-2,
    bends={"upperarm01.L": (0, 0, -42), "upperarm01.R": (0, 0, 43), **rig.leaning(2)},
    targets=[
        ("head/head-oval", 0.3),
        ("cheek/l-cheek-bones-incr", 0.3),
        ("cheek/r-cheek-bones-incr", 0.35),
        *narrowed(0.2, 0.16),
        *calm(0.0),
        *uneven(1.0),
    ],
    deep=True,
    melanin=(0.20, 0.48),
    melanin_slope=1.75,
    redness=0.9,
    lip_blood=0.30,
    lip_melanin=0.25,
    freckles=40,
    roughness=0.48,
    oil=0.12,
    pores=0.0021,
    wrinkles=0.2,
    brow_colour=(0.014, 0.010, 0.008),
    hair="cropped",
    hairs=12000,
    hair_length=0.06,
    eumelanin=2.4,
    pheomelanin=0.0,
    **DARK,
    sclera=(0.34, 0.29, 0.25),
    drapes=(smock((0.022, 0.022, 0.024), 13), scarf((0.16, 0.05, 0.03), 13)),
)

BEARING = np.radians(18)
TO_CAMERA = np.array([np.sin(BEARING), 0.01, np.cos(BEARING)])
RIGHT = np.array([np.cos(BEARING), 0, -np.sin(BEARING)])


def view():
    target = np.array([0, 6.15, 0.7]) + RIGHT * 0.35
    return {
        "eye": target + TO_CAMERA * 19,
        "target": target,
        "fov": 25.0,
        "aperture": 0.15,
        "keep": 0.05,
    }


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    people = [
        build(who, where, folder, f"person{k}")
        for k, (who, where) in enumerate(
            ((MEDIUM, look["eye"]), (LIGHT, None), (DEEP, look["eye"]))
        )
    ]
    near = people[0].eye
    look["focus"] = near[np.argmin(np.linalg.norm(near - look["eye"], axis=1))] + TO_CAMERA * 0.1
    scene = {"type": "scene"}
    env = assets.toned(assets.panorama("forest"), daylight_rgb(5900))
    scene["light_env"] = panorama_light(env, 1.0, 20)
    sky = area_light(as_spectrum(daylight(6800) * 3.0))
    black = {"type": "diffuse", "reflectance": colour(0, 0, 0)}
    scene["light_sky"] = flat(frame, -26, 9, -4, (34, 26), "right", black, "light_sky", sky)
    return scene, people, look, (np.array([0, 6.4, 2.6]), TO_CAMERA + [-0.12, 0.1, 0])

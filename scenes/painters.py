"""Three of the crew who paint the figureheads, in the open shade of a shed, skins light to dark,
cloth white to black."""

import numpy as np

from .kit import assets
from .kit.figurehead import figurehead
from .kit.person import Person, build, smile, uneven
from .kit.props import Boards, Frame
from .kit.render import area_light, colour, mesh, mi, panorama_light
from .kit.shapes import place
from .kit.spectra import as_spectrum, daylight, daylight_rgb

TITLE = "Painters"
STORY = (
    "Three who repaint the figureheads each autumn, called out of the shed for a picture "
    "in the shade."
)
GOOD_FOR = ["style", "shift_red", "colour", "shadows"]
ORDER = 5
GROUP = "shade"
EV100 = 10.3
MADE_OF = ["park", "anny"]
LIGHTS = [
    {"kind": "open sky", "emitters": ["light_opening"]},
    {"kind": "sky all round", "emitters": ["light_sky"]},
]
REGIONS = {
    "subject": ["person0_hair", "person1_hair", "person2_hair", "person1_cap"],
    "skin_dark": ["skin0"],
    "skin_light": ["skin1"],
    "skin_medium": ["skin2"],
    "white": ["person0_jumper", "person0_collar"],
    "neutral": ["person1_jumper", "person1_collar"],
    "black": ["person2_jumper", "person2_collar"],
    "wood": ["wall"],
    "shadow": [],
}

DARK = Person(
    seed=5,
    sex="male",
    ancestry={"african": 1.0},
    age=0.12,
    yaw=-13,
    pitch=-5,
    roll=-6,
    vellus=0,
    targets=[
        ("head/head-square", 0.2),
        ("nose/nose-width1-incr", 0.15),
        ("nose/nose-nostrils-angle-up", 0.3),
        ("nose/nose-base-up", 0.2),
        ("head/head-oval", 0.25),
        ("nose/nose-width3-incr", 0.3),
        ("mouth/mouth-upperlip-volume-incr", 0.25),
        ("cheek/l-cheek-bones-incr", 0.3),
        ("cheek/r-cheek-bones-incr", 0.3),
        ("mouth/mouth-lowerlip-volume-incr", 0.2),
        ("eyes/l-eye-height2-incr", 0.42),
        ("eyes/r-eye-height2-incr", 0.38),
        ("eyes/l-eye-height1-incr", 0.4),
        ("eyes/r-eye-height1-incr", 0.4),
        ("eyes/l-eye-height3-incr", 0.3),
        ("eyes/r-eye-height3-incr", 0.3),
        ("eyes/l-eye-scale-incr", 0.2),
        ("eyes/r-eye-scale-incr", 0.2),
        *smile(0.55, 0.3),
        *uneven(1.1),
    ],
    melanin=(0.30, 0.75),
    melanin_slope=1.6,
    redness=0.9,
    lip_blood=0.80,
    lip_melanin=0.02,
    freckles=20,
    moles=3,
    under_eye=0.6,
    oil=0.06,
    roughness=0.46,
    coat=0.04,
    pores=0.0009,
    brow_hairs=480,
    brow_colour=(0.014, 0.011, 0.010),
    lash_colour=(0.01, 0.008, 0.007),
    beard_hairs=7000,
    beard_length=0.030,
    hair="curls",
    hairs=16000,
    hair_length=0.16,
    eumelanin=2.2,
    pheomelanin=0.0,
    iris=((0.040, 0.022, 0.012), (0.02, 0.01, 0.004)),
    sclera=(0.50, 0.44, 0.38),
    garment="smock",
    collar=5.55,
    jumper=(0.80, 0.79, 0.77),
    at=(-2.05, -0.15, 2.0),
    facing=24,
)

LIGHT = Person(
    seed=23,
    sex="female",
    ancestry={"caucasian": 1.0},
    age=0.46,
    yaw=10,
    pitch=-2,
    roll=5,
    targets=[
        ("head/head-round", 0.25),
        ("nose/nose-hump-incr", 0.15),
        ("nose/nose-point-up", 0.15),
        ("nose/nose-width2-decr", 0.2),
        ("eyes/l-eye-height2-incr", 0.35),
        ("eyes/r-eye-height2-incr", 0.35),
        ("eyes/l-eye-height1-incr", 0.2),
        ("eyes/r-eye-height1-incr", 0.25),
        ("mouth/mouth-scale-horiz-incr", 0.15),
        ("mouth/mouth-laugh-lines-in", 0.3),
        ("eyes/l-eye-bag-incr", 0.3),
        ("eyes/r-eye-bag-incr", 0.3),
        *smile(0.6, 0.35),
        *uneven(1.1),
    ],
    melanin=(0.008, 0.09),
    redness=1.35,
    freckles=420,
    moles=5,
    wrinkles=0.55,
    lip_blood=0.42,
    lip_melanin=0.06,
    brow_width=0.75,
    brow_hairs=380,
    brow_colour=(0.19, 0.10, 0.045),
    lash_colour=(0.08, 0.05, 0.03),
    lashes=0.8,
    hair="long",
    eumelanin=0.22,
    pheomelanin=0.75,
    iris=((0.09, 0.15, 0.10), (0.10, 0.08, 0.02)),
    cap=(0.36, 0.09, 0.03),
    jumper=(0.20, 0.20, 0.20),
    collar=5.6,
    collar_bulge=0.09,
    oil=0.08,
    vellus=1500,
    at=(0.42, 0.15, -2.3),
    facing=-16,
)

MEDIUM = Person(
    seed=31,
    sex="male",
    ancestry={"caucasian": 0.45, "asian": 0.25, "african": 0.3},
    age=0.36,
    yaw=19,
    pitch=-2,
    roll=5,
    vellus=0,
    targets=[
        ("head/head-rectangular", 0.2),
        ("nose/nose-hump-incr", 0.35),
        ("nose/nose-volume-incr", 0.1),
        ("head/head-age-incr", 0.1),
        ("eyes/l-eye-height2-incr", 0.35),
        ("eyes/r-eye-height2-incr", 0.35),
        ("eyes/l-eye-height1-incr", 0.3),
        ("eyes/r-eye-height1-incr", 0.3),
        ("eyes/l-eye-bag-incr", 0.25),
        ("eyes/r-eye-bag-incr", 0.25),
        ("cheek/l-cheek-bones-incr", 0.2),
        ("cheek/r-cheek-bones-incr", 0.2),
        *smile(0.4, 0.3),
        *uneven(1.2),
    ],
    melanin=(0.10, 0.38),
    melanin_slope=2.0,
    redness=1.0,
    lip_blood=0.45,
    lip_melanin=0.12,
    freckles=60,
    moles=6,
    under_eye=1.2,
    wrinkles=0.35,
    oil=0.10,
    brow_width=1.15,
    brow_hairs=560,
    brow_colour=(0.020, 0.015, 0.012),
    lash_colour=(0.012, 0.010, 0.008),
    beard_hairs=14000,
    beard_length=0.042,
    grey=0.12,
    hair="swept",
    hairs=24000,
    hair_length=0.38,
    receding=0.03,
    eumelanin=1.6,
    pheomelanin=0.05,
    iris=((0.055, 0.03, 0.014), (0.03, 0.014, 0.004)),
    sclera=(0.52, 0.47, 0.42),
    garment="smock",
    collar=5.5,
    jumper=(0.028, 0.028, 0.030),
    at=(2.55, 0.25, 0.2),
    facing=-30,
)


def view():
    return {
        "eye": np.array([0.2, 6.35, 25.0]),
        "target": np.array([0.15, 6.22, 0.0]),
        "fov": 18.6,
        "aperture": 0.034,
        "focus": np.array([0.0, 6.5, 2.9]),
        "plate": np.array([-1.75, 6.45, 2.0]),
    }


def shed(frame, scene):
    """Upright boards behind, limewashed once, and two figureheads waiting for their paint."""
    rng = np.random.default_rng(6)
    boards = Boards(
        22, 1.62, 0.12, 700, tint=(0.30, 0.24, 0.17), paint=(0.33, 0.36, 0.33), wear=0.52
    )
    for edge in np.arange(-16.0, 16.0, 1.66):
        boards.lay(
            lambda shape, at=edge: frame.set(
                place(shape, turn=(0, 0, 90)), at + 1.62, rng.uniform(2.5, 5.5), 41
            ),
            rng,
        )
    boards.into(scene, "wall")
    dark = {"type": "twosided", "b": {"type": "diffuse", "reflectance": colour(0.05, 0.045, 0.04)}}
    for name, (w, h, x, y, ahead) in {"lining": (60, 40, 0, 4, 41.4)}.items():
        flat = (
            np.array(
                [[-w / 2, -h / 2, 0], [w / 2, -h / 2, 0], [w / 2, h / 2, 0], [-w / 2, h / 2, 0]]
            ),
            np.array([[0, 1, 2], [0, 2, 3]]),
            None,
        )
        scene[name] = mesh(frame.set(flat, x, y, ahead), dark, name, smooth=False)
    scene["figure0"] = figurehead("figure0", (-4.9, -1.7, -10.5), 24, 1.35, 3)
    scene["figure1"] = figurehead("figure1", (5.2, -2.6, -12.5), -30, 1.35, 9)


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    people = [
        build(DARK, look["eye"], folder, "person0"),
        build(LIGHT, look["eye"], folder, "person1"),
        build(MEDIUM, look["eye"] + [-1.5, 0, 0], folder, "person2"),
    ]
    scene = {"type": "scene"}
    shed(frame, scene)
    sky = assets.panorama("park")
    sky = np.minimum(sky, 4 * np.median(sky))  # the sun is behind the shed
    scene["light_sky"] = panorama_light(assets.toned(sky, daylight_rgb(7000)), 0.26, turn=90)
    at, to = frame.at(-27, 19, 15), np.array([0, 6.3, 0.5])
    opening = mi.ScalarTransform4f().look_at(list(at), list(to), [0, 1, 0]).scale([11, 9, 1])
    scene["light_opening"] = {
        "type": "rectangle",
        "to_world": opening,
        "emitter": area_light(as_spectrum(daylight(7600) * 2.2)),
    }
    ground = (
        mi.ScalarTransform4f().translate([0, -9.4, 0]).rotate([1, 0, 0], -90).scale([400, 400, 1])
    )
    scene["ground"] = {
        "type": "rectangle",
        "to_world": ground,
        "bsdf": {"type": "diffuse", "reflectance": colour(0.20, 0.18, 0.15)},
    }
    return scene, people, look, (np.array([0.3, 6.4, 2.0]), np.array([-0.15, 0.0, 1.0]))

"""Three of the crew at a figurehead, in the open shade of a shed with a bright yard behind."""

import numpy as np

from .kit import rig
from .kit.figurehead import figurehead
from .kit.noise import fractal
from .kit.person import Person, build, laugh, smile, uneven
from .kit.props import Boards, Frame, board, dinghy
from .kit.render import (
    area_light,
    both_sides,
    colour,
    mesh,
    mi,
    panorama_light,
    picture,
    surface,
)
from .kit.shapes import box, join, lattice, place
from .kit.sky import clear_sky, clouded, sun
from .kit.spectra import as_spectrum, daylight
from .kit.tools import brush, pot

TITLE = "Painters"
STORY = (
    "A figurehead gets its face back before winter; somebody has said something, and only two of "
    "three go on working."
)
GOOD_FOR = ["style", "shift_amber", "colour", "shadows"]
ORDER = 5
GROUP = "shade"
EV100 = 10.3
CELSIUS = 17
MADE_OF = ["anny"]
LIGHTS = [
    {"kind": "open sky", "emitters": ["light_opening"]},
    {"kind": "sky all round", "emitters": ["light_sky"]},
    {"kind": "sunlit yard", "emitters": ["light_sun"]},
]
MOVES = [
    (["person0_", "skin0"], "people", 0.2, 20, 22, 0.2),
    (["person1_", "skin1"], "people", 0.2, 0, 23, 0.2),
    (["person2_", "skin2"], "children", 0.5, 160, 22, 0.3),
]
REGIONS = {
    "subject": ["person0_apron", "person1_apron", "person2_jumper"],
    "skin_dark": ["skin0"],
    "skin_light": ["skin1"],
    "white": ["person0_jumper"],
    "neutral": ["person2_jumper"],
    "black": ["person1_jumper"],
    "wood": ["bust", "wall"],
    "bright": ["yard", "gable"],
    "shadow": [],
}
BUST = np.array([0.15, 6.3, -2.2])

LAUGHING = Person(
    seed=5,
    sex="male",
    ancestry={"african": 1.0},
    age=0.15,
    yaw=16,
    pitch=2,
    roll=-7,
    bends=rig.leaning(5, 0, -8),
    holds={
        "R": rig.Hold((-1.75, 3.2, 2.9), along=(0.45, 0.75, 0.3), grip=(46, 58, 66, 70), thumb=38),
        "L": rig.Hold((1.75, 1.6, 2.0), along=(0, 0.25, 1), palm=(-1, -0.2, 0), grip=72),
    },
    bare="forearms",
    garment="rolled shirt",
    jumper=(0.66, 0.65, 0.62),
    apron={
        "rgb": (0.17, 0.13, 0.085),
        "stains": [
            (0.45, 0.05, 0.04),
            (0.05, 0.12, 0.30),
            (0.60, 0.56, 0.48),
            (0.50, 0.33, 0.05),
        ],
    },
    targets=[
        ("head/head-square", 0.2),
        ("nose/nose-width3-incr", 0.3),
        ("nose/nose-nostrils-angle-up", 0.2),
        ("mouth/mouth-lowerlip-volume-incr", 0.2),
        ("cheek/l-cheek-bones-incr", 0.3),
        ("cheek/r-cheek-bones-incr", 0.3),
        ("eyes/l-eye-height2-incr", 0.5),
        ("eyes/r-eye-height2-incr", 0.45),
        ("eyes/l-eye-height1-incr", 0.4),
        ("eyes/r-eye-height1-incr", 0.4),
        *laugh(0.85),
        *uneven(1.0),
    ],
    teeth=True,
    melanin=(0.27, 0.68),
    melanin_slope=1.6,
    redness=0.9,
    lip_blood=0.8,
    lip_melanin=0.02,
    freckles=20,
    moles=3,
    vellus=0,
    oil=0.09,
    roughness=0.44,
    brow_hairs=480,
    brow_colour=(0.014, 0.011, 0.010),
    lash_colour=(0.01, 0.008, 0.007),
    beard_hairs=4500,
    beard_length=0.022,
    hair="curls",
    hairs=15000,
    hair_length=0.11,
    eumelanin=2.2,
    pheomelanin=0.0,
    iris=((0.040, 0.022, 0.012), (0.02, 0.01, 0.004)),
    sclera=(0.50, 0.44, 0.38),
    at=(-3.05, -0.15, 0.6),
    facing=48,
)

OLD = Person(
    seed=23,
    sex="female",
    ancestry={"caucasian": 1.0},
    age=0.85,
    yaw=-6,
    pitch=6,
    roll=3,
    bends=rig.leaning(10, 0, 6),
    holds={
        "R": rig.Hold((-1.15, 4.25, 3.5), along=(0.75, 0.35, 0.5), grip=(40, 52, 60, 66), thumb=36),
        "L": rig.Hold((1.0, 1.9, 2.6), along=(-0.9, 0.1, 0.5), palm=(0, 0, -1), grip=70),
    },
    bare="hands",
    garment="smock frock",
    jumper=(0.028, 0.028, 0.031),
    apron={"rgb": (0.38, 0.36, 0.31), "stains": [(0.45, 0.05, 0.04), (0.60, 0.56, 0.48)]},
    targets=[
        ("head/head-round", 0.25),
        ("head/head-age-incr", 0.35),
        ("nose/nose-hump-incr", 0.25),
        ("eyes/l-eye-height2-incr", 0.3),
        ("eyes/r-eye-height2-incr", 0.3),
        *smile(0.55, 0.3),
        *uneven(1.1),
    ],
    wrinkles=0.7,
    melanin=(0.008, 0.085),
    redness=1.35,
    freckles=260,
    moles=5,
    lip_blood=0.42,
    lip_melanin=0.06,
    brow_width=0.7,
    brow_hairs=300,
    brow_colour=(0.36, 0.33, 0.30),
    lash_colour=(0.10, 0.08, 0.06),
    lashes=0.6,
    vellus=1500,
    hair="tied",
    tail="bun",
    hairs=42000,
    hair_thick=1.5,
    grey=0.9,
    eumelanin=0.35,
    wears=[("glasses", {})],
    iris=((0.09, 0.13, 0.16), (0.08, 0.08, 0.05)),
    at=(3.1, -0.75, 0.0),
    facing=-52,
)

CHILD = Person(
    seed=41,
    sex="female",
    ancestry={"caucasian": 0.4, "asian": 0.2, "african": 0.4},
    age=-0.9,
    yaw=4,
    pitch=-20,
    roll=5,
    bends=rig.leaning(-2, 0, 0),
    holds={
        "R": rig.Hold((-0.95, 4.4, 2.1), along=(1, 0.3, 0), palm=(0, -0.3, -1), grip=66),
        "L": rig.Hold((0.8, 4.35, 2.2), along=(-0.9, 0.5, 0.2), palm=(0, -0.3, -1), grip=66),
    },
    bare="forearms",
    garment="rolled jersey",
    jumper=(0.20, 0.20, 0.20),
    targets=[
        ("nose/nose-point-up", 0.1),
        ("eyes/l-eye-height2-incr", 0.2),
        ("eyes/r-eye-height2-incr", 0.2),
        *smile(0.45, 0.15),
        *uneven(0.8),
    ],
    melanin=(0.09, 0.36),
    melanin_slope=2.0,
    freckles=30,
    moles=2,
    lip_blood=0.5,
    lip_melanin=0.1,
    under_eye=0.3,
    brow_width=0.7,
    brow_hairs=330,
    brow_colour=(0.020, 0.015, 0.012),
    lash_colour=(0.012, 0.010, 0.008),
    hair="tied",
    tail="plaits",
    hairs=34000,
    hair_thick=1.4,
    eumelanin=1.5,
    pheomelanin=0.1,
    parting=0.0,
    iris=((0.055, 0.03, 0.014), (0.03, 0.014, 0.004)),
    sclera=(0.62, 0.58, 0.54),
    at=(0.75, -2.55, 1.9),
    facing=176,
)


def view():
    return {
        "eye": np.array([0.2, 5.7, 24.0]),
        "target": np.array([0.1, 5.15, 0.0]),
        "fov": 26.0,
        "aperture": 0.045,
        "focus": np.array([-2.4, 6.4, 2.0]),
    }


def shed(frame, scene):
    """Limewashed boards with a wide doorway, a roof over all, and the sunlit yard outside."""
    rng = np.random.default_rng(6)
    boards = Boards(
        26, 1.62, 0.12, 700, tint=(0.30, 0.24, 0.17), paint=(0.30, 0.33, 0.31), wear=0.52
    )
    for edge in np.arange(-22.0, 20.0, 1.66):
        if -7.0 < edge < 6.6:
            continue
        boards.lay(
            lambda shape, at=edge: frame.set(
                place(shape, turn=(0, 0, 90)), at + 1.62, rng.uniform(2.5, 5.5), 38
            ),
            rng,
        )
    boards.into(scene, "wall")
    _, beam = board(30, 0.9, 0.3, 61, tint=(0.17, 0.12, 0.075))
    posts = [frame.set(box((0.9, 30, 0.9), 0.08), x, -14, 38.4) for x in (-6.1, 6.7)]
    posts.append(frame.set(box((15, 0.9, 0.9), 0.08), 0.3, 4.35, 38.4))
    scene["beam"] = mesh(join(posts), beam, "beam")
    roof = np.array([[-45.0, 0, -22], [45, 0, -22], [45, 0, 9], [-45, 0, 9]]) + [0, 15.5, -5]
    scene["roof"] = mesh((roof, np.array([[0, 1, 2], [0, 2, 3]]), None), beam, "roof", smooth=False)
    y, x = np.mgrid[0:512, 0:512] / 512
    sand = (
        np.array([0.36, 0.31, 0.24])
        * (1 + 0.35 * fractal(np.stack([x * 30, y * 30], -1), 5, 2))[..., None]
    )
    yard = np.array([[-80.0, -9.4, -21], [80, -9.4, -21], [80, -9.4, -140], [-80, -9.4, -140]])
    uv = np.array([[0, 0], [4, 0], [4, 4], [0, 4]], float)
    scene["yard"] = mesh(
        (yard, np.array([[0, 1, 2], [0, 2, 3]]), uv),
        both_sides({"type": "diffuse", "reflectance": picture(np.clip(sand, 0.02, 0.9))}),
        "yard",
        smooth=False,
    )
    floor = np.array([[-60.0, -9.4, 60], [60, -9.4, 60], [60, -9.4, -21], [-60, -9.4, -21]])
    scene["floor"] = mesh(
        (floor, np.array([[0, 1, 2], [0, 2, 3]]), None),
        both_sides({"type": "diffuse", "reflectance": colour(0.13, 0.11, 0.09)}),
        "floor",
        smooth=False,
    )
    white = both_sides({"type": "diffuse", "reflectance": colour(0.62, 0.59, 0.53)})
    scene["gable"] = mesh(place(box((60, 19, 30), 0.2), (34, -9.4, -98)), white, "gable")
    dark = both_sides({"type": "diffuse", "reflectance": colour(0.05, 0.075, 0.09)})
    openings = [place(box((4, 6, 0.6), 0.1), (x, 0.5, -82.8)) for x in (9, 22)]
    scene["windows"] = mesh(join(openings), dark, "windows")
    x = np.linspace(-160, 160, 90)
    crest = 9 + 5 * fractal(np.stack([x / 45, 0 * x], 1), 3, 8)
    hill = np.stack(
        [np.stack([x, -10 + 0 * x, -230 + 0 * x], 1), np.stack([x, crest, -300 + 0 * x], 1)]
    )
    v, u = np.mgrid[0:200, 0:800] / 100.0
    tuft = fractal(np.stack([u * 5, v * 9], -1), 5, 3)[..., None]
    green = np.array([0.10, 0.115, 0.05]) * (1 + 0.9 * tuft) + np.array([0.05, 0.02, 0]) * tuft
    grass = both_sides({"type": "diffuse", "reflectance": picture(np.clip(green, 0.01, 0.5))})
    scene["hill"] = mesh(lattice(hill), grass, "hill")
    for k, (x, z, turn, rgb) in enumerate(
        ((-13, -66, 24, (0.36, 0.035, 0.022)), (-1.5, -74, -12, (0.03, 0.11, 0.28)))
    ):
        outside, _, rail = (place(s, turn=(180, 0, 0)) for s in dinghy(26, 10, 4.8))
        where = {"at": (x, -4.2, z), "turn": (0, turn, 3)}
        scene[f"hull{k}"] = mesh(
            place(outside, **where), both_sides(surface(colour(*rgb), 0.4, 0.45)), f"hull{k}"
        )
        scene[f"hull{k}_rail"] = mesh(place(rail, **where), beam, f"hull{k}_rail")


def trestle(scene):
    """What the bust stands on."""
    wood = both_sides(surface(colour(0.24, 0.16, 0.09), 0.6, 0.35))
    top = place(box((4.6, 0.35, 2.6), 0.05), (BUST[0], 2.05, BUST[2]))
    legs = [
        place(box((0.4, 12, 0.4), 0.05), (BUST[0] + sx * 1.9, -9.4, BUST[2] + sz), (sz * 7, 0, 0))
        for sx in (-1, 1)
        for sz in (-1, 1)
    ]
    scene["trestle"] = mesh(join([top, *legs]), wood, "trestle")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    scene = {"type": "scene"}
    shed(frame, scene)
    trestle(scene)
    scene["bust"] = figurehead("bust", (BUST[0], 0.05, BUST[2]), -38, 0.98, 3, yaw=-8, pitch=-4)
    people = [
        build(LAUGHING, np.array([3.6, 6.2, 3.0]), folder, "person0"),
        build(OLD, BUST + [0.6, -0.2, 0.8], folder, "person1"),
        build(CHILD, BUST + [0, 0.3, 0], folder, "person2"),
    ]
    look["focus"] = people[0].eye[0]
    look["plate"] = people[0].eye.mean(0) + [0.05, -0.2, 0]
    red, cream = (0.42, 0.03, 0.03), (0.60, 0.55, 0.45)
    for k, (person, side, paint) in enumerate(((0, "R", cream), (1, "R", red))):
        at, _, _, way = people[person].hands[side]
        brush(scene, f"brush{k}", at, way, paint)
    at, *_ = people[0].hands["L"]
    pot(scene, "pot", at, cream)
    scene["light_sky"] = panorama_light(clouded(clear_sky(-38, 40, 3.2), 0.5, 2.3, 11), 0.75)
    scene["light_sun"] = sun(look["eye"], -38, 40, strength=2.0)
    at, to = np.array([-26.0, 22.0, 30.0]), np.array([0, 5.5, 0.5])
    opening = mi.ScalarTransform4f().look_at(list(at), list(to), [0, 1, 0]).scale([9, 8, 1])
    scene["light_opening"] = {
        "type": "rectangle",
        "to_world": opening,
        "emitter": area_light(as_spectrum(daylight(6800) * 9.0)),
    }
    return scene, people, look, (np.array([-0.3, 6.4, 2.6]), np.array([-0.35, 0.1, 1.0]))

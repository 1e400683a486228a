"""The night procession: paper lanterns over wet stone, three near faces lit by what they carry."""

import numpy as np

from .kit import assets, rig
from .kit.figure import STEP, Figure, figure
from .kit.noise import cells, fractal, smoothstep
from .kit.person import Person, build, laugh, smile, uneven
from .kit.props import Frame, lantern_paper
from .kit.render import area_light, both_sides, colour, mesh, panorama_light, picture, surface
from .kit.shapes import box, join, lattice, place, sphere, tube
from .kit.spectra import as_spectrum, daylight_rgb, planck

TITLE = "Night procession"
STORY = "Down Ropewalk Hill after the rain, everybody carrying the evening's work."
GOOD_FOR = ["guard", "noise_filter", "exposure", "white_balance"]
ORDER = 13
GROUP = "night"
EV100 = 2.2
CELSIUS = 9
MADE_OF = ["night", "anny"]
NEUTRAL_WITHIN = 16.0
LIGHTS = [
    {"kind": "paper lanterns", "emitters": ["glow"]},
    {"kind": "lit windows", "emitters": ["light_pane"]},
    {"kind": "night sky", "emitters": ["light_night"]},
]
MOVES = [
    (["person", "skin"], "people", 0.45, 0, 24, 30),
    (["glow", "paper", "lantern"], "lanterns", 0.6, 10, 24, 0.2),
]
REGIONS = {
    "sky": ["nothing"],
    "lamp": ["glow"],
    "ground": ["stone"],
    "dark": ["house", "roof"],
    "subject": [
        "person0_scarf",
        "person1_jumper",
        "person2_jumper",
        "person2_hood",
    ],
    "skin": ["skin0", "skin2"],
    "skin_dark": ["skin1"],
    "neutral": ["person0_jumper"],
    "shadow": [],
}
CANDLE = planck(2250)

NEAR = Person(
    seed=51,
    sex="female",
    ancestry={"asian": 0.85, "caucasian": 0.15},
    age=0.16,
    yaw=30,
    pitch=0,
    roll=-7,
    bends=rig.leaning(2, 0, 6),
    holds={
        "R": rig.Hold((-2.0, 3.3, 2.7), along=(-0.26, 1, 0.10), grip=68),
        "L": rig.Hold((0.1, 1.9, 2.9), along=(-0.3, 1, 0.1), grip=60),
    },
    bare="hands",
    garment="coat",
    vellus=1200,
    targets=[
        ("head/head-round", 0.3),
        ("nose/nose-width2-decr", 0.1),
        ("nose/nose-point-up", 0.15),
        ("mouth/mouth-upperlip-volume-incr", 0.2),
        ("mouth/mouth-lowerlip-volume-incr", 0.2),
        ("eyes/l-eye-height2-incr", 0.4),
        ("eyes/r-eye-height2-incr", 0.4),
        ("eyes/l-eye-height1-incr", 0.3),
        ("eyes/r-eye-height1-incr", 0.3),
        *laugh(0.55),
        *uneven(1.0),
    ],
    teeth=True,
    melanin=(0.022, 0.16),
    redness=1.0,
    freckles=40,
    moles=3,
    lip_blood=0.55,
    brow_width=0.8,
    brow_hairs=420,
    brow_colour=(0.022, 0.016, 0.013),
    lash_colour=(0.012, 0.01, 0.008),
    hair="tied",
    tail="plait",
    plait_side=-1,
    hairs=30000,
    hair_thick=1.4,
    parting=0.2,
    eumelanin=1.5,
    pheomelanin=0.05,
    iris=((0.05, 0.028, 0.014), (0.03, 0.014, 0.005)),
    wears=[("scarf", {"rgb": (0.42, 0.05, 0.03)})],
    jumper=(0.18, 0.18, 0.18),
    at=(-3.2, -0.45, 1.0),
    facing=26,
)

OLD = Person(
    seed=57,
    sex="male",
    ancestry={"african": 1.0},
    age=0.6,
    yaw=-24,
    pitch=6,
    roll=6,
    bends=rig.leaning(4, 0, -6),
    holds={
        "L": rig.Hold((2.1, 3.3, 2.6), along=(0.22, 1, 0.06), grip=66),
        "R": rig.Hold((-0.55, 3.3, 2.7), along=(0.9, 0.4, 0), palm=(0, 0, -1), grip=55),
    },
    bare="hands",
    garment="oilskin",
    vellus=0,
    targets=[
        ("head/head-age-incr", 0.3),
        ("head/head-oval", 0.2),
        ("nose/nose-width3-incr", 0.3),
        ("eyes/l-eye-bag-incr", 0.35),
        ("eyes/r-eye-bag-incr", 0.35),
        ("mouth/mouth-laugh-lines-in", 0.3),
        ("eyes/l-eye-height2-incr", 0.45),
        ("eyes/r-eye-height2-incr", 0.45),
        ("eyes/l-eye-height1-incr", 0.35),
        ("eyes/r-eye-height1-incr", 0.35),
        *smile(0.7, 0.3),
        *uneven(1.1),
    ],
    melanin=(0.24, 0.66),
    melanin_slope=1.6,
    redness=0.9,
    lip_blood=0.6,
    lip_melanin=0.04,
    freckles=30,
    moles=5,
    wrinkles=0.8,
    oil=0.07,
    roughness=0.45,
    coat=0.04,
    brow_hairs=460,
    brow_colour=(0.10, 0.095, 0.09),
    lash_colour=(0.01, 0.008, 0.007),
    beard_hairs=12000,
    beard_length=0.06,
    grey=0.7,
    hair="cropped",
    hairs=15000,
    hair_length=0.07,
    receding=0.10,
    eumelanin=1.4,
    pheomelanin=0.0,
    iris=((0.040, 0.022, 0.012), (0.02, 0.01, 0.004)),
    sclera=(0.46, 0.40, 0.34),
    jumper=(0.50, 0.33, 0.03),
    at=(3.3, -0.35, -0.2),
    facing=-30,
)

CHILD = Person(
    seed=63,
    sex="male",
    ancestry={"caucasian": 0.75, "asian": 0.25},
    age=-0.9,
    yaw=-8,
    pitch=8,
    roll=-4,
    holds={
        "R": rig.Hold((-0.75, 4.2, 2.2), along=(-0.25, 1, 0.2), grip=66),
        "L": rig.Hold((-0.30, 3.6, 2.2), along=(-0.25, 1, 0.2), grip=66),
    },
    bare="hands",
    garment="coat",
    targets=[("head/head-round", 0.2), *smile(0.4, 0.1), *uneven(0.8)],
    melanin=(0.010, 0.10),
    redness=1.3,
    freckles=260,
    lip_blood=0.5,
    under_eye=0.3,
    brow_width=0.7,
    brow_hairs=330,
    brow_colour=(0.16, 0.09, 0.045),
    lash_colour=(0.06, 0.04, 0.03),
    hair="swept",
    hairs=16000,
    hair_length=0.3,
    eumelanin=0.3,
    pheomelanin=0.6,
    iris=((0.09, 0.12, 0.13), (0.08, 0.07, 0.03)),
    sclera=(0.62, 0.58, 0.54),
    wears=[("hood", {"rgb": (0.05, 0.09, 0.16)})],
    jumper=(0.05, 0.09, 0.16),
    at=(0.1, -3.5, 2.6),
    facing=10,
)


def hill(z):
    """Height of the street, which comes down towards us."""
    return -9.4 + 0.13 * np.clip(-np.asarray(z, float) - 10, 0, None)


def view():
    return {
        "eye": np.array([0.3, 6.6, 25.0]),
        "target": np.array([0.25, 4.85, 0.0]),
        "fov": 32.0,
        "aperture": 0.09,
        "depth": 6,
        "dim": True,
    }


def paving(scene):
    """Setts worn round, wet all over, puddles where they have sunk."""
    near, gap = cells(1400, 900, 7)
    round_ = smoothstep(gap, 0.0, 0.42) * (1 - 0.35 * near**2)
    wear = fractal(np.stack(np.mgrid[0:1400, 0:1400], -1) / 90.0, 4, 3)
    pool = smoothstep(fractal(np.stack(np.mgrid[0:1400, 0:1400], -1) / 330.0, 3, 8), 0.06, 0.26)
    tone = (0.75 + 0.35 * wear) * (0.45 + 0.55 * round_)
    rgb = np.array([0.070, 0.066, 0.062]) * tone[..., None] * (1 - 0.45 * pool[..., None])
    rough = np.clip(0.24 - 0.12 * round_ + 0.10 * wear, 0.06, 0.6) * (1 - pool) + 0.035 * pool
    wet = surface(
        picture(np.clip(rgb, 0.003, 0.9), scale=(3.2, 6)),
        picture(rough, raw=True, scale=(3.2, 6)),
        0.55,
    )
    relief = (round_ + 0.12 * wear) * (1 - pool)
    material = {
        "type": "bumpmap",
        "scale": 0.16,
        "tex": picture(relief, raw=True, scale=(3.2, 6)),
        "bsdf": wet,
    }
    x, z = np.meshgrid(np.linspace(-45, 45, 120), np.linspace(-160, 16, 200))
    y = hill(z) - 0.0012 * x**2 + 0.15 * fractal(np.stack([x / 20, z / 20], -1), 3, 2)
    scene["stone"] = mesh(
        lattice(np.stack([x, y, z], -1), flip=True), both_sides(material), "stone"
    )


def street(frame, scene):
    """Houses on both sides with a few lit windows."""
    plaster = both_sides({"type": "diffuse", "reflectance": colour(0.20, 0.18, 0.15)})
    dark = both_sides(surface(colour(0.05, 0.05, 0.055), 0.6, 0.4))
    houses, roofs, panes = [], [], []
    rng = np.random.default_rng(6)
    for side in (-1, 1):
        for k in range(6):
            tall = rng.uniform(26, 44)
            z = 2 - 24 * k
            houses.append(place(box((14, tall, 23), 0.3), (side * 31, hill(z) - 3, z)))
            roof = np.array(
                [[-8, 0, -12], [8, 0, -12], [0, 10, -12], [-8, 0, 12], [8, 0, 12], [0, 10, 12]],
                float,
            )
            faces = np.array([[0, 1, 2], [3, 5, 4], [0, 2, 5], [0, 5, 3], [1, 4, 5], [1, 5, 2]])
            roofs.append((roof + [side * 31, hill(z) + tall - 3.2, z], faces, np.zeros((6, 2))))
            for floor in range(2):
                if rng.random() < 0.62:
                    at = np.array(
                        [
                            side * 23.9,
                            hill(z) + 8 + 11 * floor + rng.normal(0, 0.6),
                            z + rng.uniform(-6, 6),
                        ]
                    )
                    half = np.array(
                        [[0, -2.6, -1.7], [0, -2.6, 1.7], [0, 2.6, 1.7], [0, 2.6, -1.7]]
                    )
                    panes.append(
                        (
                            at + half,
                            np.array([[0, 1, 2], [0, 2, 3]]),
                            np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float),
                        )
                    )
    scene["house"] = mesh(join(houses), plaster, "house")
    scene["roof"] = mesh(join(roofs), dark, "roof", smooth=False)
    scene["light_pane"] = mesh(
        join(panes),
        {"type": "diffuse"},
        "light_pane",
        area_light(as_spectrum(planck(2900) * 0.10)),
        smooth=False,
    )


def lantern(name, at, radius):
    """A paper lantern: its body, and hoops that show as darker lines."""
    _, hoops = lantern_paper(radius, 2 * radius, hash_seed(name))
    coarse, f, uv = sphere(48, 32)
    coarse = place((coarse, f, uv), turn=(-90, 0, 0))
    profile = np.abs(coarse[0][:, 1])
    body = (coarse[0] * radius * (1 - 0.05 * profile[:, None] ** 4) + at, f, uv)
    return body, place(hoops, at, scale=1.01)


def glowing(scene, key, bodies, tint):
    """Lanterns of one paper that glow by themselves, brightest about their candles; one mesh, so
    that light is found sooner."""
    v, u = np.meshgrid(np.linspace(0, 1, 128), np.linspace(0, 1, 64), indexing="ij")
    shape = 0.45 + 0.9 * np.exp(-(((v - 0.58) / 0.26) ** 2))
    shape = (
        shape
        * (1 - 0.35 * (np.mod(v * 13, 1) < 0.10))
        * (1 + 0.10 * fractal(np.stack([u * 8, v * 8], -1), 3, 4))
    )
    glow = {"type": "area", "radiance": picture(np.array(tint) * GLOW * shape[..., None])}
    paper = {"type": "diffuse", "reflectance": colour(0.6, 0.55, 0.45)}
    scene[f"glow{key}"] = mesh(join(bodies), paper, f"glow{key}", glow)


def beside(scene, key, at, towards, side, strength):
    """Lanterns of those who walk beside the camera, out of the frame: the light on the near
    faces."""
    ahead = (np.asarray(towards) - at) / np.linalg.norm(np.asarray(towards) - at)
    right = np.cross(ahead, [0, 1, 0])
    right /= np.linalg.norm(right)
    up = np.cross(right, ahead)
    corners = np.array(
        [at + side / 2 * (a * right + b * up) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    )
    quad = (
        corners,
        np.array([[0, 2, 1], [0, 3, 2]]),
        np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float),
    )
    made = mesh(
        quad,
        {"type": "diffuse"},
        f"glow_{key}",
        area_light(as_spectrum(CANDLE * strength)),
        smooth=False,
    )
    normal = np.cross(corners[2] - corners[0], corners[1] - corners[0])
    assert normal @ ahead > 0, "the light has to face the faces"
    scene[f"glow_{key}"] = made


def hash_seed(name):
    return sum(ord(c) * (k + 3) for k, c in enumerate(name)) % 997


WARM, RED, PALE = (1.0, 0.42, 0.10), (1.0, 0.16, 0.03), (1.0, 0.55, 0.20)
GLOW = 0.22
CARRY = {**rig.ARMS_DOWN, **STEP}
POLE = {"R": rig.Hold((-1.6, 3.6, 3.2), along=(-0.05, 1, 0.05), grip=66)}


def crowd(scene):
    """Those who follow, each under a lantern on a pole."""
    rng, poles, hoops, bodies = (
        np.random.default_rng(3),
        [],
        [],
        {"warm": [], "pale": [], "red": []},
    )
    skins = (
        (0.05, 2.2),
        (0.16, 1.8),
        (0.03, 2.3),
        (0.32, 1.6),
        (0.09, 2.0),
        (0.04, 2.3),
        (0.2, 1.7),
    )
    coats = (
        (0.30, 0.06, 0.04),
        (0.05, 0.10, 0.18),
        (0.30, 0.22, 0.06),
        (0.10, 0.16, 0.09),
        (0.35, 0.32, 0.27),
        (0.16, 0.06, 0.14),
        (0.2, 0.1, 0.05),
    )
    spots = (
        (-9.0, -17),
        (-5.2, -44),
        (10.2, -21),
        (-14.5, -32),
        (-2.2, -74),
        (6.8, -52),
        (15.5, -44),
    )
    for k, (x, z) in enumerate(spots):
        ground = float(hill(z))
        who = Figure(
            30 + k,
            (x, ground, z),
            facing=rng.uniform(-14, 14),
            sex="female" if k % 2 else "male",
            age=rng.uniform(0.15, 0.6),
            scale=rng.uniform(0.95, 1.04),
            bends=CARRY,
            holds=POLE,
            melanin=skins[k][0],
            slope=skins[k][1],
            jacket=coats[k],
            cap=coats[(k + 3) % 7] if k % 3 else None,
        )
        scene.update(figure(who, f"walker{k}"))
        top = np.array([x - 2.0 + rng.normal(0, 0.3), ground + 19.5 + rng.normal(0, 0.8), z + 2.6])
        poles.append(
            tube(
                np.array(
                    [
                        [x - 1.6, ground + 9, z + 3.0],
                        [x - 1.8, ground + 15, z + 3.0],
                        top + [0, 2.2, 0],
                    ]
                ),
                0.09,
                8,
            )
        )
        body, hoop = lantern(f"far{k}", top, rng.uniform(0.95, 1.25))
        hoops.append(hoop)
        bodies[("warm", "pale", "red")[k % 3]].append(body)
    return poles, hoops, bodies


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    people = [
        build(NEAR, np.array([3.0, 6.3, 1.5]), folder, "person0"),
        build(OLD, np.array([0.2, 3.6, 4.0]), folder, "person1"),
        build(CHILD, np.array([0.6, 1.2, 8.0]), folder, "person2"),
    ]
    look["focus"] = people[0].eye[0]
    look["plate"] = people[0].eye.mean(0) + [0.3, -0.3, 0]
    scene = {"type": "scene"}
    paving(scene)
    street(frame, scene)
    poles, hoops, bodies = crowd(scene)
    for k, (person, side, up, low, radius, paper) in enumerate(
        (
            (0, "R", 5.6, 7.0, 0.80, "warm"),
            (1, "L", 5.7, 7.0, 0.85, "pale"),
            (2, "R", 2.3, 1.6, 0.52, "warm"),
        )
    ):
        at, _, _, way = people[person].hands[side]
        top = at + way * up
        poles.append(tube(np.stack([at - way * low, at, top]), 0.085, 12))
        poles.append(tube(np.stack([top, top + [0, 0.02, 0.5], top + [0, -0.05, 0.8]]), 0.05, 10))
        body, hoop = lantern(f"near{k}", top + [0, -radius - 0.15, 0.8], radius)
        hoops.append(hoop)
        bodies[paper].append(body)
    for key, tint in (("warm", WARM), ("pale", PALE), ("red", RED)):
        glowing(scene, key, bodies[key], tint)
    faces = [p.eye.mean(0) for p in people]
    beside(scene, "right", np.array([7.6, 7.6, 6.5]), faces[1], 2.4, 2.6)
    beside(scene, "left", np.array([-7.0, 7.2, 8.5]), faces[0], 2.2, 1.6)
    wood = both_sides(surface(colour(0.13, 0.085, 0.05), 0.6, 0.4))
    scene["poles"] = mesh(join(poles), wood, "poles")
    scene["hoops"] = mesh(
        join(hoops), both_sides(surface(colour(0.05, 0.035, 0.02), 0.6, 0.3)), "hoops"
    )
    night = assets.toned(assets.panorama("night"), daylight_rgb(6500))
    scene["light_night"] = panorama_light(night, 0.0035, turn=60)
    return scene, people, look, (np.array([-1.9, 6.2, 2.8]), np.array([0.1, 0.0, 1.0]))

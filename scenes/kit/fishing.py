"""What fishing needs, as it stands about a quay: barrels, oars, boxes, a net being mended."""

import itertools

import numpy as np

from .noise import fractal, smoothstep, texture_grid
from .props import Boards, board
from .render import both_sides, bumpy, colour, mesh, picture, surface
from .shapes import join, lathe, place, tube
from .strands import write_curves


def oak(count=17):
    """Weathered staves round a barrel, each of its own tone, with dark joints."""
    p = texture_grid(700, 1400, 8, 16)
    along, around = p[..., 1], p[..., 0] / 16 * count
    stave, part = np.floor(around).astype(int), around - np.floor(around)
    tone = np.random.default_rng(4).uniform(0.75, 1.2, count)[stave % count]
    grain = fractal(np.stack([p[..., 0] * 22 + stave * 7.1, along * 0.9], -1), 4, 3)
    joint = smoothstep(np.minimum(part, 1 - part), 0.0, 0.06)
    rgb = (
        np.array([0.23, 0.15, 0.088])
        * (tone * (1 + 0.35 * grain) * (0.25 + 0.75 * joint))[..., None]
    )
    relief = 0.25 * grain + 1.4 * joint
    return both_sides(bumpy(relief, 0.02, surface(picture(np.clip(rgb, 0.004, 0.9)), 0.6, 0.35)))


def barrel(frame, scene, right, height, ahead):
    """An oak barrel with iron hoops."""
    staves = lathe(
        [
            (0, 0),
            (2.0, 0.05),
            (2.5, 2.0),
            (2.65, 4.2),
            (2.5, 6.4),
            (2.1, 8.3),
            (1.95, 8.2),
            (1.9, 7.8),
            (0, 7.8),
        ],
        48,
    )
    scene["barrel"] = mesh(frame.set(staves, right, height, ahead), oak(), "barrel")
    hoops = [
        place(tube(np.stack([r * np.cos(a), h + 0 * a, r * np.sin(a)], 1), 0.13, 8), (0, 0, 0))
        for r, h in ((2.35, 1.2), (2.66, 3.2), (2.66, 5.2), (2.35, 7.2))
        for a in [np.linspace(0, 2 * np.pi, 60)]
    ]
    scene["barrel_hoops"] = mesh(
        frame.set(join(hoops), right, height, ahead),
        both_sides(surface(colour(0.06, 0.05, 0.045), 0.4, 0.5)),
        "barrel_hoops",
    )


def oars_and_boxes(frame, scene, wall):
    """Two oars against a wall `wall` decimetres ahead, and a stack of fish boxes."""
    shaft = np.array([[0, 0, 0], [0, 17, 0], [0, 18, 0], [0, 24, 0]], float)
    loom = tube(
        np.stack(
            [np.interp(np.linspace(0, 24, 60), shaft[:, 1], shaft[:, k]) for k in range(3)], 1
        ),
        np.interp(np.linspace(0, 24, 60), [0, 1.4, 1.6, 17, 24], [0.15, 0.17, 0.27, 0.24, 0.16]),
        16,
    )
    blade, wood = board(
        6.5,
        1.5,
        0.14,
        71,
        tint=(0.46, 0.33, 0.19),
        weather=0.35,
        paint=(0.50, 0.06, 0.03),
        wear=0.45,
    )
    blade = place(blade, (0, 21.5, -0.05), (0, 0, 90))
    blade = (blade[0] + [0.75, 0, 0], *blade[1:])
    varnish = both_sides(surface(colour(0.30, 0.185, 0.085), 0.4, 0.45))
    for k, (x, roll) in enumerate(((-22.4, 4.0), (-20.3, -2.5))):
        stood = [place(part, turn=(-9.5, 0, roll)) for part in (loom, blade)]
        scene[f"oar{k}"] = mesh(frame.set(stood[0], x, -1.0, wall - 4.3), varnish, f"oar{k}")
        scene[f"oar_blade{k}"] = mesh(
            frame.set(stood[1], x, -1.0, wall - 4.3), wood, f"oar_blade{k}"
        )
    rng = np.random.default_rng(31)
    for kind, (length, side) in {"long": (6.6, False), "short": (4.0, True)}.items():
        slats = Boards(
            length, 0.62, 0.14, 500 + side, kinds=3, tint=(0.42, 0.34, 0.22), weather=0.65
        )
        for (x, y, turn), edge, row in itertools.product(
            ((-29.5, -1.2, 8), (-29.0, 0.95, -5), (-34.5, -1.2, -14)), (-1, 1), range(3)
        ):
            at = (edge * 3.3, 0, 0) if side else (0, 0, edge * 2.0)
            slat = place(slats.shapes[0], (0, 0.68 * row + 0.1, 0))
            slat = place(slat, at, (0, 90 if side else 0, 0))

            def put(_, slat=slat, x=x, y=y, turn=turn):
                return frame.set(slat, x, y, wall - 5.2, turn=turn)

            slats.lay(put, rng)
        slats.into(scene, f"box_{kind}")


def net_on_knees(frame, folder, scene, wall):
    """A net over the knees of who sits before a wall, and down to the ground."""
    rng, cords = np.random.default_rng(9), []
    across, down = np.linspace(0, 1, 80), np.linspace(0, 1, 60)

    def cloth(u, v):
        lap, fall = np.minimum(v / 0.35, 1), np.maximum(v - 0.35, 0)
        x = -9.4 + 4.4 * u + 2.1 * lap + 0.4 * np.sin(5 * v + 3 * u) * fall + (u - 0.5) * 3.0 * fall
        y = (
            np.maximum(6.1 - 0.55 * lap - 11.5 * fall, -0.95)
            + 0.2 * np.sin(9 * u + 2 * v)
            - 0.5 * np.sin(np.pi * u) * fall
        )
        z = 2.6 + 4.4 * lap + 3.2 * np.maximum(v - 0.9, 0) / 0.1 * 0.4 + 0.5 * np.sin(14 * u) * fall
        return np.stack([x, y, z], -1)

    for k in range(20):
        cords.append(cloth(k / 19 + 0.016 * np.sin(60 * down + k), down))
    for k in range(24):
        cords.append(
            cloth(across, k / 23 + 0.018 * np.abs(np.sin(30 * across)) + rng.normal(0, 0.003))
        )
    placed = [frame.set((c, None, None), 0, 0, wall - 1.4)[0] for c in cords]
    write_curves(folder / "mending.txt", placed, [0.042] * len(placed))
    twine = surface(colour(0.045, 0.16, 0.15), 0.8, 0.3)
    scene["mending"] = {
        "type": "bsplinecurve",
        "filename": str(folder / "mending.txt"),
        "bsdf": twine,
    }

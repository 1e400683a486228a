"""A bicycle that has been somewhere: steel tubes, spokes, a basket."""

import itertools

import numpy as np

from .render import both_sides, colour, surface
from .shapes import box, join, place, sphere, tube

WHEEL = 3.4  # radius to the middle of the tyre, decimetres
REAR, FRONT = np.array([0.0, WHEEL, 0.0]), np.array([10.5, WHEEL, 0.0])
CRANK, SEAT = np.array([4.3, 2.8, 0.0]), np.array([2.75, 8.3, 0.0])
HEAD_LOW, HEAD_HIGH = np.array([9.05, 7.0, 0.0]), np.array([8.6, 8.7, 0.0])


def _ring(middle, radius, thick, sides=12, turn=(0, 2 * np.pi)):
    a = np.linspace(*turn, 160)
    around = np.stack([np.cos(a), np.sin(a), 0 * a], 1)
    return tube(np.asarray(middle) + radius * around, thick, sides)


def _rod(a, b, thick, sides=12):
    return tube(np.linspace(a, b, 8), thick, sides)


def _wheel(middle, seed):
    """(tyre, metal)."""
    rng, metal = np.random.default_rng(seed), [_ring(middle, WHEEL - 0.30, 0.10)]
    turn = rng.uniform(0, 1)
    for k in range(32):
        rim, hub = (k + turn) * 2 * np.pi / 32, (k // 2 * 2 + turn) * 2 * np.pi / 32
        hub += (0.9, -0.9)[k % 2]
        side = 0.26 * (1, -1)[k // 2 % 2]
        low = np.array([0.22 * np.cos(hub), 0.22 * np.sin(hub), side])
        high = (WHEEL - 0.34) * np.array([np.cos(rim), np.sin(rim), 0])
        metal.append(_rod(middle + low, middle + high, 0.012, 5))
    metal.append(_rod(middle - [0, 0, 0.55], middle + [0, 0, 0.55], 0.13))
    return _ring(middle, WHEEL, 0.21, 16), join(metal)


def _basket(at):
    """Wire basket with its open side up, `at` its bottom's middle."""
    wires = []
    for x in np.linspace(-1.4, 1.4, 8):
        wires.append(_rod(at + [x, 0, -1.1], at + [x, 0, 1.1], 0.022, 5))
        for z in (-1.1, 1.1):
            wires.append(_rod(at + [x, 0, z], at + [x * 1.14, 1.9, z * 1.18], 0.022, 5))
    for z in np.linspace(-1.1, 1.1, 7):
        wires.append(_rod(at + [-1.4, 0, z], at + [1.4, 0, z], 0.022, 5))
        for x in (-1.4, 1.4):
            wires.append(_rod(at + [x, 0, z], at + [x * 1.14, 1.9, z * 1.18], 0.022, 5))
    for up in (0.0, 0.65, 1.3, 1.9):
        wide = 1 + 0.08 * up
        x, z = 1.4 * (1 + (wide - 1) * 0.92), 1.1 * wide
        corners = [(-x, -z), (x, -z), (x, z), (-x, z), (-x, -z)]
        thick = 0.05 if up == 1.9 else 0.022
        wires += [
            _rod(at + [a[0], up, a[1]], at + [b[0], up, b[1]], thick, 6)
            for a, b in itertools.pairwise(corners)
        ]
    return join(wires)


def bicycle(paint=(0.02, 0.06, 0.045), seed=4):
    """[(shape, material)] of a bicycle along x, wheels on y = 0, in the plane z = 0."""
    tyres, metal = zip(_wheel(REAR, seed), _wheel(FRONT, seed + 1))
    frame = [
        _rod(CRANK, SEAT, 0.15),
        _rod(CRANK, HEAD_LOW, 0.17),
        _rod(SEAT - [0.1, 0.4, 0], HEAD_HIGH - [0.1, 0.25, 0], 0.15),
        _rod(HEAD_LOW - [0, 0.15, 0], HEAD_HIGH + [0, 0.1, 0], 0.2),
    ]
    for side in (0.45, -0.45):
        out = np.array([0, 0, side])
        frame += [
            _rod(REAR + out, CRANK + out * 0.6, 0.09),
            _rod(REAR + out, SEAT + out * 0.35 - [0.1, 0.4, 0], 0.075),
        ]
        s = np.linspace(0, 1, 24)[:, None]
        bow = np.array([0.32, 0, 0]) * (s**2.2) * 0.9
        frame.append(tube(HEAD_LOW + (FRONT - [0.32, 0, 0] - HEAD_LOW) * s + bow + out, 0.085, 10))
    for middle, turn in ((REAR, (0.3, 2.9)), (FRONT, (0.55, 2.75))):
        for z in (-0.16, 0.0, 0.16):
            frame.append(_ring(middle + [0, -0.04 * abs(z) / 0.16, z], 3.82, 0.10, 8, turn))
    guard = box((4.2, 0.85, 0.16), 0.08)
    frame.append(place(guard, (2.1, 2.62, 0.52), (0, 0, -3)))
    bright = [*metal, _rod(SEAT, SEAT + [-0.16, 0.75, 0], 0.11)]
    bright.append(_rod(HEAD_HIGH, HEAD_HIGH + [-0.22, 1.0, 0], 0.11))
    t = np.linspace(-1, 1, 60)
    bar = HEAD_HIGH + np.stack(
        [-0.22 - 1.5 * np.abs(t) ** 2.4, 1.0 + 0.25 * np.abs(t) ** 1.5, 2.75 * np.sin(t * 1.35)], 1
    )
    bright.append(tube(bar, 0.11, 12))
    bright.append(_ring(CRANK + [0, 0, 0.3], 0.85, 0.07))
    for k in range(5):
        a = k * 2 * np.pi / 5
        bright.append(
            _rod(CRANK + [0, 0, 0.3], CRANK + [0.8 * np.cos(a), 0.8 * np.sin(a), 0.3], 0.06)
        )
    for side in (1, -1):
        end = CRANK + side * np.array([1.35, -1.05, 0]) + [0, 0, side * 0.55]
        bright.append(_rod(CRANK + [0, 0, side * 0.5], end, 0.09))
    for z in (-0.55, 0.55):
        bright.append(_rod([-1.9, 7.4, z], [2.2, 7.4, z], 0.06))
        bright.append(_rod([-0.7, 7.4, z], REAR + [0, 0, z], 0.05))
    bright += [_rod([x, 7.4, -0.55], [x, 7.4, 0.55], 0.05) for x in (-1.9, -0.6, 0.7, 1.9)]
    dark = [
        place(
            box((1.0, 0.22, 0.75), 0.08),
            CRANK + side * np.array([1.35, -1.05, 0]) + [0, -0.1, side * 0.95],
        )
        for side in (1, -1)
    ]
    dark += [tube(bar[a:b], 0.17, 12) for a, b in ((0, 9), (51, 60))]
    v, f, uv = sphere(48, 32)
    across = 0.85 * (1 - 0.55 * np.clip(v[:, 0] + 0.1, 0, 1))
    seat = np.stack([v[:, 0] * 1.4, 0.34 * v[:, 1] - 0.10 * v[:, 0] ** 2, v[:, 2] * across], 1)
    saddle = (seat + SEAT + [-0.1, 0.98, 0], f, uv)
    steel = both_sides(surface(colour(0.56, 0.55, 0.53), 0.28, metallic=1.0))
    return [
        (join(frame), both_sides(surface(colour(*paint), 0.26, 0.5, clearcoat=0.5))),
        (join(bright), steel),
        (join([*tyres, *dark]), both_sides(surface(colour(0.018, 0.018, 0.017), 0.7, 0.3))),
        (saddle, both_sides(surface(colour(0.11, 0.045, 0.018), 0.42, 0.5))),
        (_basket(HEAD_HIGH + [1.75, -0.2, 0]), steel),
    ]

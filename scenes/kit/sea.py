"""Water and wet ground: a sea of summed waves, sand and stone with puddles."""

import numpy as np

from .noise import fractal, smoothstep
from .render import both_sides, bumpy, colour, picture, surface
from .shapes import lattice


def waves(x, z, height, length, heading, seed, octaves=14):
    """Height of a sea at (x, z): trochoid-like waves of many lengths around one heading
    (degrees)."""
    rng = np.random.default_rng(seed)
    total = np.zeros_like(x)
    for k in range(octaves):
        size = length * 0.72**k
        way = np.radians(heading + rng.normal(0, 24))
        phase = 2 * np.pi / size * (x * np.sin(way) + z * np.cos(way)) + rng.uniform(0, 2 * np.pi)
        lift = 0.5 + 0.5 * np.sin(
            phase + 0.6 * fractal(np.stack([x, z], -1) / size / 2, 2, seed + k)
        )
        total += height * 0.74**k * (2 * lift**1.35 - 1)
    return total


def sea(near, far, wide, height, length, heading, seed, rows=700, columns=700, eye=0.0, finest=0.4):
    """Sea as a grid that widens with distance from the camera: x across, z away from the camera
    negative.

    Rows are spaced evenly in angle below the horizon as seen from `eye` decimetres above the water,
    so that ripples are as fine as the picture needs near by.
    """
    low, high = np.arctan(eye / far), np.arctan(eye / near)
    z = -eye / np.tan(np.linspace(high, low, rows))[:, None]
    x = np.linspace(-1, 1, columns)[None, :] * wide * (-z / near) * 0.5
    x, z = np.broadcast_to(x, (rows, columns)), np.broadcast_to(z, (rows, columns))
    fade = 1 / (1 + (-z / (60 * length)) ** 2)
    y = waves(x, z, height, length, heading, seed) * (0.35 + 0.65 * fade)
    y = y + finest * 0.05 * fractal(np.stack([x / finest, z / finest], -1), 3, seed + 5) * fade
    return lattice(np.stack([x, y, z], -1), flip=True)


def water(rgb=(0.010, 0.022, 0.024), roughness=0.05):
    return both_sides(surface(colour(*rgb), roughness, 0.5))


def wet_ground(dry, wet, size, seed, cell=6.0, share=0.0, pixels=1400, grain=0.0025):
    """Material of sand or earth with a wet film in the hollows, over a square of `size` decimetres.

    `share` moves the water line: -0.5 is mostly dry, +0.5 mostly wet. Wet ground is darker and
    mirrors at a low angle.
    """
    y, x = np.mgrid[0:pixels, 0:pixels] * (size / pixels)
    p = np.stack([x / cell, y / cell], -1)
    hollow = fractal(p, 5, seed) + share
    film = smoothstep(hollow, -0.08, 0.22)
    tone = 1 + 0.10 * fractal(p * 7, 3, seed + 3) + 0.06 * fractal(p * 40, 2, seed + 4)
    rgb = (np.array(dry) * (1 - film[..., None]) + np.array(wet) * film[..., None]) * tone[
        ..., None
    ]
    rough = (
        0.75 * (1 - film) + 0.06 * film + 0.05 * np.clip(fractal(p * 9, 3, seed + 6), 0, 1) * film
    )
    relief = (1 - 0.93 * film) * (fractal(p * 60, 2, seed + 7) + 2.5 * fractal(p * 6, 3, seed + 8))
    return both_sides(
        bumpy(
            relief,
            grain,
            surface(
                picture(np.clip(rgb, 0.003, 0.9)), picture(np.clip(rough, 0.04, 1), raw=True), 0.5
            ),
        )
    )

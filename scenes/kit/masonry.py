"""Stone: walls of blocks with worn edges."""

import numpy as np

from .noise import fractal, smoothstep
from .render import both_sides, bumpy, picture, surface
from .shapes import box, join, place


def limestone(rgb=(0.50, 0.475, 0.43), seed=3, deep=0.03):
    """Weathered pale stone, for texture coordinates of about four decimetres a tile."""
    y, x = np.mgrid[0:768, 0:768] / 768
    at = np.stack([x * 4, y * 4], -1)
    rough = fractal(at * 4, 5, seed)
    stain = fractal(at * [1.0, 0.4], 4, seed + 1)
    pits = smoothstep(fractal(at * 11, 2, seed + 2), 0.42, 0.62)
    tone = 1 + 0.10 * rough + 0.16 * stain - 0.30 * pits
    base = np.asarray(rgb) * tone[..., None] * (1 - 0.06 * stain[..., None] * np.array([0, 0.4, 1]))
    height = rough + 0.6 * fractal(at * 22, 2, seed + 4) - 1.2 * pits
    return both_sides(bumpy(height, deep, surface(picture(np.clip(base, 0.01, 0.9)), 0.85, 0.2)))


def blocks(wide, high, seed, course=3.0):
    """A wall of dressed blocks from x = 0 both ways, its face at z = 0: (blocks, coping, their
    material, the coping's)."""
    rng, stones = np.random.default_rng(seed), []
    for row in range(int(high / course)):
        x = -wide / 2 - rng.uniform(0, 4)
        while x < wide / 2:
            long = rng.uniform(4.5, 8.5)
            size = (long - 0.12, course - 0.12, 3.0)
            v, f, uv = box(size, 0.16)
            v = v + 0.05 * fractal(v * 0.8 + 7 * len(stones), 3, seed)[:, None]
            shift = rng.uniform(0, 1, 2)
            stones.append(
                place(
                    (v, f, uv * 0.8 + shift), (x + long / 2, row * course, rng.normal(-1.5, 0.05))
                )
            )
            x += long
    top, x = [], -wide / 2 - 2
    while x < wide / 2:
        long = rng.uniform(7, 11)
        v, f, uv = box((long - 0.10, 1.1, 4.0), 0.22)
        v = v + 0.05 * fractal(v * 0.7 + 5 * len(top), 3, seed + 1)[:, None]
        top.append(place((v, f, uv * 0.9 + rng.uniform(0, 1, 2)), (x + long / 2, 0, -1.5)))
        x += long
    return join(stones), join(top), limestone(seed=seed), limestone((0.58, 0.56, 0.51), seed + 9)

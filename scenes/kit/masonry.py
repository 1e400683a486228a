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


def blocks(wide, high, seed, course=3.0, joint=0.07):
    """A wall of dressed blocks from x = 0 both ways, its face at z = 0, its joints filled: a list
    of (shape, material). Each stone is one of four tones, the coping paler."""
    rng, stones = np.random.default_rng(seed), [[], [], [], []]
    for row in range(int(high / course)):
        x = -wide / 2 - rng.uniform(0, 4)
        while x < wide / 2:
            long = rng.uniform(4.5, 8.5)
            v, f, uv = box((long - joint, course - joint, 3.0), 0.05)
            v = v + 0.028 * fractal(v * 1.6 + 7 * x, 4, seed)[:, None]
            at = (x + long / 2, row * course, rng.normal(-1.5, 0.025))
            kind = int(rng.integers(len(stones)))
            stones[kind].append(place((v, f, uv * 0.8 + rng.uniform(0, 1, 2)), at))
            x += long
    top, x = [], -wide / 2 - 2
    while x < wide / 2:
        long = rng.uniform(7, 11)
        v, f, uv = box((long - joint, 1.1, 4.0), 0.09)
        v = v + 0.03 * fractal(v * 1.4 + 5 * x, 4, seed + 1)[:, None]
        top.append(place((v, f, uv * 0.9 + rng.uniform(0, 1, 2)), (x + long / 2, high, -1.5)))
        x += long
    tones = ((0.47, 0.44, 0.39), (0.53, 0.50, 0.45), (0.50, 0.48, 0.44), (0.56, 0.52, 0.455))
    made = [
        (join(s), limestone(tone, seed + 20 * k))
        for k, (s, tone) in enumerate(zip(stones, tones, strict=True))
    ]
    filled = place(box((wide + 20, high + 0.9, 1.0), 0.1), (0, 0, -0.56))
    return [
        *made,
        (filled, limestone((0.42, 0.395, 0.35), seed + 90)),
        (join(top), limestone((0.60, 0.58, 0.53), seed + 9)),
    ]

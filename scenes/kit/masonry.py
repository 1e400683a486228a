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
            v, f, uv = box((long - joint, course - joint, 3.0), 0.05, 4.0)
            v = v + 0.028 * fractal(v * 1.6 + 7 * x, 4, seed)[:, None]
            at = (x + long / 2, row * course, rng.normal(-1.5, 0.025))
            kind = int(rng.integers(len(stones)))
            stones[kind].append(place((v, f, uv + rng.uniform(0, 1, 2)), at))
            x += long
    top, x = [], -wide / 2 - 2
    while x < wide / 2:
        long = rng.uniform(7, 11)
        v, f, uv = box((long - joint, 1.1, 4.0), 0.09, 4.0)
        v = v + 0.03 * fractal(v * 1.4 + 5 * x, 4, seed + 1)[:, None]
        top.append(place((v, f, uv + rng.uniform(0, 1, 2)), (x + long / 2, high, -1.5)))
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


def plaster(rgb, seed, size, stains=0.10):
    """Lime wash on rough plaster over a wall of `size` (across, up) decimetres: brushed, worn near
    the ground, streaked from above."""
    h = 2400
    w = int(h * size[0] / size[1])
    y, x = np.mgrid[0:h, 0:w] * (size[1] / h)
    at = np.stack([x, y], -1)
    brush = fractal(at * [0.5, 1.6], 4, seed)
    cloud = fractal(at * 0.10, 4, seed + 1)
    streak = fractal(at * [0.7, 0.04], 3, seed + 2)
    high = y / size[1]
    damp = smoothstep(0.16 - high + 0.10 * cloud, 0.0, 0.18)
    flaked = fractal(at * 0.35, 5, seed + 3) + 0.35 * damp + 0.14 * fractal(at * 2.6, 4, seed + 7)
    gone = smoothstep(flaked, 0.575, 0.59)
    rim = smoothstep(flaked, 0.50, 0.575) * (1 - gone)  # wash that has lifted catches the light
    tone = 1 + 0.03 * brush + stains * np.minimum(cloud, 0) + 0.6 * stains * np.minimum(streak, 0)
    base = np.asarray(rgb) * tone[..., None] * (1 - 0.22 * damp[..., None] * [0.8, 1.0, 1.3])
    under = np.array([0.40, 0.34, 0.27]) * (1 + (0.25 * fractal(at * 4, 4, seed + 8))[..., None])
    base = base * (1 - gone[..., None]) + under * gone[..., None]
    height = 0.9 * fractal(at * 1.1, 3, seed + 5) + 0.35 * brush + 0.12 * fractal(at * 9, 2, 9)
    height = height + 0.25 * rim - 0.9 * gone + 0.5 * gone * fractal(at * 5, 3, seed + 6)
    return both_sides(bumpy(height, 0.045, surface(picture(np.clip(base, 0.01, 0.92)), 0.9, 0.1)))


def setts(wide, deep, seed, size=(2.0, 1.3)):
    """Paving of worn setts in rows along x on y = 0, from z = 0 to `deep`: a list of (shape,
    material), with the sand between them."""
    rng, stones, z = np.random.default_rng(seed), [[], [], []], 0.0
    while z < deep:
        row, x = size[1] * rng.uniform(0.9, 1.1), -wide / 2 - rng.uniform(0, 2)
        while x < wide / 2:
            long = size[0] * rng.uniform(0.75, 1.25)
            v, f, uv = box((long - 0.10, 0.8, row - 0.10), 0.14)
            v = v + 0.03 * fractal(v * 1.4 + [5 * x, 0, z], 3, seed)[:, None]
            at = (x + long / 2, -0.78 + rng.normal(0, 0.03), z + row / 2)
            turn = (rng.normal(0, 1.2), rng.normal(0, 1.0), rng.normal(0, 1.2))
            kind = int(rng.integers(3))
            stones[kind].append(place((v, f, uv * 0.5 + rng.uniform(0, 1, 2)), at, turn))
            x += long
        z += row
    tones = ((0.26, 0.25, 0.235), (0.31, 0.295, 0.27), (0.22, 0.215, 0.21))
    made = [
        (join(s), limestone(tone, seed + 7 * k, 0.02))
        for k, (s, tone) in enumerate(zip(stones, tones, strict=True))
    ]
    bed = place(box((wide + 10, 0.5, deep + 10), 0.1), (0, -0.66, deep / 2))
    return [*made, (bed, limestone((0.24, 0.205, 0.16), seed + 50, 0.02))]

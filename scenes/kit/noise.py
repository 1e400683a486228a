"""Smooth random fields for textures and wear: value noise, fractal sums, cell distances."""

import numpy as np
from scipy.spatial import cKDTree


def smoothstep(x, low, high):
    """Rise from 0 at `low` to 1 at `high` with flat ends."""
    t = np.clip((x - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def value_noise(points, seed=0):
    """Return smooth noise in [-1, 1] at `points` of shape (..., 2) or (..., 3)."""
    points = np.asarray(points, float)
    dims = points.shape[-1]
    cell = np.floor(points).astype(np.int64)
    f = points - cell
    f = f * f * f * (f * (f * 6 - 15) + 10)
    primes = np.array([73856093, 19349663, 83492791], np.uint64)
    total = 0.0
    for corner in np.ndindex(*([2] * dims)):
        h = np.full(points.shape[:-1], seed * 2654435761 % 4294967296, np.uint64)
        weight = 1.0
        for k in range(dims):
            h ^= ((cell[..., k] + corner[k]) & 0xFFFFFFFF).astype(np.uint64) * primes[k]
            h *= np.uint64(0x9E3779B97F4A7C15)
            h ^= h >> np.uint64(29)
            weight = weight * (f[..., k] if corner[k] else 1 - f[..., k])
        h *= np.uint64(0xBF58476D1CE4E5B9)
        h ^= h >> np.uint64(32)
        total = total + weight * ((h & np.uint64(0xFFFFFF)).astype(float) / 0x7FFFFF - 1)
    return total


def fractal(points, octaves=4, seed=0, gain=0.5, lacunarity=2.03):
    """Return a sum of octaves of `value_noise`, scaled to about [-1, 1]."""
    amplitude, total, norm = 1.0, 0.0, 0.0
    points = np.asarray(points, float)
    for octave in range(octaves):
        total = total + amplitude * value_noise(points, seed + octave * 17)
        norm += amplitude
        amplitude *= gain
        points = points * lacunarity + 11.7
    return total / norm


def texture_grid(height, width, size_y=1.0, size_x=1.0):
    """Return (height, width, 2) coordinates x in [0, size_x), y in [0, size_y)."""
    y, x = np.mgrid[0:height, 0:width]
    return np.stack([x / width * size_x, y / height * size_y], -1)


def cells(size=512, count=1700, seed=1):
    """Return a tileable map of (distance to the nearest seed, gap to the second), in cell widths."""
    rng = np.random.default_rng(seed)
    points = rng.random((count, 2))
    points = np.concatenate([points + [i, j] for i in (-1, 0, 1) for j in (-1, 0, 1)])
    near, _ = cKDTree(points).query(texture_grid(size, size).reshape(-1, 2), k=2)
    near = near * np.sqrt(count)
    return near[:, 0].reshape(size, size), (near[:, 1] - near[:, 0]).reshape(size, size)

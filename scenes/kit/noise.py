"""Smooth random fields for textures and wear: value noise, fractal sums, cell distances."""

import numba
import numpy as np
from scipy.spatial import cKDTree


def smoothstep(x, low, high):
    """Rise from 0 at `low` to 1 at `high` with flat ends."""
    t = np.clip((x - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


@numba.njit(parallel=True, cache=True)
def _lattice_noise(points, seed):
    n, dims = points.shape
    out = np.empty(n)
    primes = np.array([73856093, 19349663, 83492791], np.uint64)
    start = np.uint64(seed * 2654435761 % 4294967296)
    for i in numba.prange(n):
        total = 0.0
        for corner in range(1 << dims):
            h, weight = start, 1.0
            for k in range(dims):
                low = np.floor(points[i, k])
                f = points[i, k] - low
                f = f * f * f * (f * (f * 6 - 15) + 10)
                bit = (corner >> k) & 1
                h ^= np.uint64((np.int64(low) + bit) & 0xFFFFFFFF) * primes[k]
                h *= np.uint64(0x9E3779B97F4A7C15)
                h ^= h >> np.uint64(29)
                weight *= f if bit else 1 - f
            h *= np.uint64(0xBF58476D1CE4E5B9)
            h ^= h >> np.uint64(32)
            total += weight * (np.float64(h & np.uint64(0xFFFFFF)) / 0x7FFFFF - 1)
        out[i] = total
    return out


def value_noise(points, seed=0):
    """Return smooth noise in [-1, 1] at `points` of shape (..., 2) or (..., 3)."""
    points = np.asarray(points, float)
    flat = np.ascontiguousarray(points.reshape(-1, points.shape[-1]))
    return _lattice_noise(flat, seed).reshape(points.shape[:-1])


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
    """Return a tileable map of (distance to the nearest seed, gap to the second), in cell
    widths."""
    rng = np.random.default_rng(seed)
    points = rng.random((count, 2))
    points = np.concatenate([points + [i, j] for i in (-1, 0, 1) for j in (-1, 0, 1)])
    near, _ = cKDTree(points).query(texture_grid(size, size).reshape(-1, 2), k=2)
    near = near * np.sqrt(count)
    return near[:, 0].reshape(size, size), (near[:, 1] - near[:, 0]).reshape(size, size)

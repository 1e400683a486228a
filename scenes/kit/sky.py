"""Daylight out of doors: a clear sky and the sun in it."""

import cv2
import numpy as np

from .noise import fractal, smoothstep
from .render import sun_disc
from .spectra import WAVELENGTHS, planck


def towards(bearing, rise):
    """Unit vector at `bearing` degrees from -z towards +x, `rise` degrees up."""
    b, r = np.radians(bearing), np.radians(rise)
    return np.array([np.cos(r) * np.sin(b), np.sin(r), -np.cos(r) * np.cos(b)])


def sun(eye, bearing, rise, strength=9.0, haze=0.10, width=0.53):
    """The sun's disc, `width` degrees wide (haze widens it); `haze` is the optical depth at 550 nm
    that reddens it."""
    light = planck(5750) * np.exp(-haze * (WAVELENGTHS / 550.0) ** -2)
    return sun_disc(eye, towards(bearing, rise), light * strength, width=width)


def clear_sky(sun_bearing, sun_rise, turbidity=2.4, glow=(1.0, 0.97, 0.90)):
    """A clear sky as a panorama: deep blue away from the sun, milky towards it and the horizon.

    Bearing in degrees from -z towards +x, rise in degrees. Single scattering by clean air
    (Rayleigh, optical depths of red, green and blue) over the air mass of Kasten (1965), plus
    forward-scattering haze of the colour `glow`, which is warm when the sun is low.
    """
    h, w = 512, 1024
    up = np.pi * (0.5 - (np.arange(h) + 0.5) / h)[:, None]
    bearing = 2 * np.pi * ((np.arange(w) + 0.5) / w)[None, :]
    way = np.stack(
        [np.cos(up) * np.sin(bearing), np.sin(up) + 0 * bearing, -np.cos(up) * np.cos(bearing)], -1
    )
    near = np.arccos(np.clip(way @ towards(sun_bearing, sun_rise), -1, 1))
    air = 1 / (
        np.maximum(np.sin(up), 0)
        + 0.15 * (93.885 - np.degrees(np.pi / 2 - np.maximum(up, 0))).clip(3.9) ** -1.253
    )
    air = np.minimum(air, 34)
    depth = np.array([0.10, 0.24, 0.56])  # relative optical depth of clean air for red, green, blue
    rayleigh = (1 - np.exp(-depth * air[..., None] * 0.55)) * (1 + 0.7 * np.cos(near) ** 2)[
        ..., None
    ]
    haze = (
        turbidity
        * 0.018
        * np.minimum(air, 14)[..., None]
        * (0.25 + 2.6 * np.exp(-2.6 * near) + 0.3 * np.cos(near) ** 2)[..., None]
    )
    light = rayleigh * np.array([0.95, 1.0, 1.06]) + haze * np.array(glow)
    # Haze goes on a little below the horizon: a hard edge there shows over a sea as a dark line.
    ground = np.array([0.30, 0.27, 0.22]) * 0.8
    clear = smoothstep(-up, 0.0, 0.05)[..., None]
    return (light * (1 - clear) + ground * clear).astype(np.float32)


def overcast(seed=3, rgb=(0.965, 1.0, 1.04)):
    """A closed cloud cover: the CIE standard overcast sky, three times as bright overhead as at the
    horizon, a little uneven."""
    h, w = 512, 1024
    up = np.pi * (0.5 - (np.arange(h) + 0.5) / h)[:, None]
    bearing = 2 * np.pi * ((np.arange(w) + 0.5) / w)[None, :]
    way = np.stack(
        [
            np.cos(up) * np.sin(bearing),
            2.4 * np.sin(up) + 0 * bearing,
            -np.cos(up) * np.cos(bearing),
        ],
        -1,
    )
    light = (1 + 2 * np.sin(np.maximum(up, 0))) / 3 * (1 + 0.16 * fractal(way * 2.1, 5, seed))
    return np.where(up[..., None] > 0, light[..., None] * np.array(rgb), 0.12 * np.ones(3)).astype(
        np.float32
    )


def clouded(light, cover, brightest, seed=5, wind=1.6):
    """A sky panorama with heaped clouds over the share `cover` of it: lit tops at `brightest`,
    bases half as bright and bluer, thinning at their edges."""
    light = cv2.resize(light, None, fx=3, fy=3, interpolation=cv2.INTER_CUBIC)
    h, w = light.shape[:2]
    up = np.pi * (0.5 - (np.arange(h) + 0.5) / h)[:, None]
    bearing = 2 * np.pi * ((np.arange(w) + 0.5) / w)[None, :]
    # Clouds lie in a layer: towards the horizon they crowd and flatten.
    away = 1 / np.maximum(np.sin(np.maximum(up, 0)) + 0.09, 0.09)
    at = np.stack([away * np.sin(bearing) * wind, away * np.cos(bearing)], -1)
    warp = np.stack([fractal(at * 1.1, 3, seed + k) for k in (1, 2)], -1)
    heap = fractal(at * 0.9 + 0.55 * warp, 6, seed)
    level = np.quantile(heap[: h // 2], 1 - cover)
    dense = smoothstep(heap, level - 0.10, level + 0.22)
    lit = fractal(at * 0.9 + 0.55 * warp + 0.16, 6, seed)
    shade = np.clip(0.72 + 0.9 * (heap - lit) + 0.25 * (1 - dense), 0.42, 1.0)[..., None]
    white = (
        brightest
        * shade
        * (np.array([1.0, 1.0, 1.0]) * shade + np.array([0.88, 0.96, 1.08]) * (1 - shade))
    )
    share = (dense * (up > 0) * smoothstep(up, 0.0, 0.03))[..., None]
    return (light * (1 - share) + white * share).astype(np.float32)


def billows(light, depth, seed=4):
    """A closed cover with the undersides of its billows: `depth` is how much darker they are."""
    light = cv2.resize(light, None, fx=3, fy=3, interpolation=cv2.INTER_CUBIC)
    h, w = light.shape[:2]
    up = np.pi * (0.5 - (np.arange(h) + 0.5) / h)[:, None]
    bearing = 2 * np.pi * ((np.arange(w) + 0.5) / w)[None, :]
    away = 1 / np.maximum(np.sin(np.maximum(up, 0)) + 0.12, 0.12)
    at = np.stack([away * np.sin(bearing) * 1.5, away * np.cos(bearing)], -1)
    warp = np.stack([fractal(at * 0.8, 3, seed + k) for k in (1, 2)], -1)
    under = fractal(at * 0.7 + 0.6 * warp, 6, seed)
    under = smoothstep(under, -0.35, 0.30)[..., None]
    tint = np.array([0.92, 0.98, 1.05])
    shade = 1 - depth * (1 - under) * (1 + 0.12 * (tint - 1))
    return np.where(up[..., None] > 0, light * shade, light).astype(np.float32)

"""Colour on display light, in Oklch: a style's treatment of hues, phase, saturation, depth by hue,
density, monochrome.

Everything here is smooth and periodic in hue and fades out towards grey, so that neutrals stay
neutral and no gradient gets an edge.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..base import bands, fastmath
from ..base.arrays import MID_GREY, Array
from ..base.loops import quick_loop
from ..colour.spaces import OKLAB_CONES, OKLAB_OPPONENTS, oklab_to_linear_srgb
from ..styles.parameters import HUES, Colouring
from . import gamut

CIRCLE = 4320  # places around the hue circle that a look-up tells apart, a twelfth of a degree
GREYISH = 0.04  # chroma at which a change of lightness by hue is at half strength
# Oklch hues of the display's own primaries and their mixtures, for depth: red, yellow, green, cyan,
# blue, magenta.
SIX = (29.2, 109.8, 142.5, 194.8, 264.1, 328.4)
DARKER, FULLER = (
    0.045,
    0.030,
)  # what one unit of depth takes from lightness and adds to chroma at its hue
# Families of colours by their Oklch hue: middle and half of the width in degrees, and whether they
# are the pale ones of their hue, the full ones, or all. Skin, and with it sand and bare wood, is
# what is warm and pale; flames, brick and rust are what is warm and full.
FAMILIES = (
    (52.0, 42.0, "pale"),
    (42.0, 54.0, "full"),
    (126.0, 42.0, "all"),
    (242.0, 62.0, "all"),
)
PALE, FULL = 0.09, 0.16  # chroma up to which a colour is pale, and from which on it is full
DENSE = 0.16  # share of lightness that full density takes from a colour at full chroma
# Weights of red, green and blue light behind a coloured filter before the lens, relative to no
# filter.
FILTERS = {
    "none": (1.0, 1.0, 1.0),
    "yellow": (1.15, 1.0, 0.45),
    "orange": (1.45, 0.80, 0.20),
    "red": (2.00, 0.35, 0.06),
    "green": (0.55, 1.25, 0.50),
}


@lru_cache(maxsize=32)
def _circle(tables: tuple[tuple[float, ...], ...]) -> Array:
    """Tables by hue as (tables, CIRCLE + 1): neighbouring centres mixed by cos^2, which sums to 1
    and is smooth."""
    position = np.linspace(0, HUES, CIRCLE + 1)
    low = np.minimum(position.astype(int), HUES - 1)
    weight = np.sin(0.5 * np.pi * (position - low)) ** 2
    rows = [np.asarray((*t, t[0])) for t in tables]
    return np.stack([r[low] * (1 - weight) + r[low + 1] * weight for r in rows]).astype(np.float32)


@lru_cache(maxsize=32)
def _depth_circles(depth: tuple[float, ...], families: tuple[float, ...]) -> Array:
    """Depth around the hue circle of pale and of full colours (2, CIRCLE + 1): neighbouring hues of
    `SIX` mixed by cos^2, and `FAMILIES` that fade out by it."""
    degrees = np.linspace(0, 360, CIRCLE + 1)
    centres = np.array([SIX[-1] - 360, *SIX, SIX[0] + 360])
    values = np.array([depth[-1], *depth, depth[0]])
    low = np.clip(np.searchsorted(centres, degrees, side="right") - 1, 0, len(centres) - 2)
    weight = np.sin(0.5 * np.pi * (degrees - centres[low]) / (centres[low + 1] - centres[low])) ** 2
    both = np.repeat((values[low] * (1 - weight) + values[low + 1] * weight)[None], 2, 0)
    for (middle, half, which), much in zip(FAMILIES, families, strict=True):
        away = np.minimum(np.abs((degrees - middle + 180) % 360 - 180) / half, 1)
        within = much * np.cos(0.5 * np.pi * away) ** 2
        both += np.array([which != "full", which != "pale"])[:, None] * within
    return np.asarray(both, np.float32)


@dataclass(frozen=True, slots=True)
class Change:
    """What a look does to colour on top of its style.

    saturation : factor on chroma. phase : degrees that all hues turn. density : 0 to 1, how much
    full colours darken.
    depth : one number for each hue of `SIX`; plus is deeper; families : the same for each of
    `FAMILIES`. filter : a key of `FILTERS`, for monochrome.
    """

    saturation: float = 1.0
    phase: float = 0.0
    density: float = 0.0
    depth: tuple[float, ...] = (0.0,) * 6
    families: tuple[float, ...] = (0.0,) * 4
    filter: str = "none"

    @property
    def none(self) -> bool:
        """Whether it leaves a colour picture alone."""
        return self.saturation == 1 and not self.phase and not self.density and not self.deep

    @property
    def deep(self) -> bool:
        """Whether any hue or family is deeper or paler."""
        return any(self.depth) or any(self.families)


def monochrome(rgb: Array, how: Colouring, filter_: str) -> Array:
    """Grey, or toned, from display light (..., 3); a grey stays as light as it was under every
    filter."""
    weights = np.asarray(how.mono) * np.asarray(FILTERS[filter_])
    grey = np.clip(rgb @ (weights / weights.sum()).astype(np.float32), 0, 1)
    if how.toning is None:
        return np.repeat(grey[..., None], 3, -1).astype(np.float32)
    light = np.cbrt(grey)  # Oklab lightness of a grey
    dark, bright = 6.75 * light * (1 - light) ** 2, 6.75 * light * light * (1 - light)
    a = how.toning[0] * dark + how.toning[2] * bright
    b = how.toning[1] * dark + how.toning[3] * bright
    return np.clip(oklab_to_linear_srgb(np.stack([light, a, b], -1).astype(np.float32)), 0, 1)


@dataclass(frozen=True)
class Held:
    """The hues that colours are to keep: `light` (..., 3), linear sRGB before tone, by a share; in
    deep shadows, where hue means little, not, and towards the `clip` point, where light itself has
    an edge, by about half."""

    light: Array
    share: float
    clip: float


DEEP = MID_GREY / 8  # light at which a hue is half held: three stops below mid grey
# Share of the clip point from which on a hue is held less, and by how much.
NEAR, LET_GO = 0.25, 0.45


@quick_loop
def _coloured(
    rgb: Array,
    scene: Array,
    out: Array,
    tables: Array,
    deeper: Array,
    edges: Array,
    cones: Array,
    opponents: Array,
    change: Array,
) -> None:
    """`colour` on a flat list (n, 3): tables (5, CIRCLE + 1) by hue of the turn in radians, chroma,
    lightness, and cosine and sine of the turn, `deeper` (2, CIRCLE + 1) of depth of pale and full
    colours, `edges` of the gamut, matrices to cones and opponents with their inverses (2, 3, 3),
    and change = (saturation, density, most, whether depth counts, share of hues held, clip
    point); `scene` (n, 3) is light before tone."""
    saturation, density, most, deep = change[0], change[1], change[2], change[3] > 0
    share, clip = change[4], change[5]
    m, n, back, to = cones[0], opponents[0], opponents[1], cones[1]
    per_radian = CIRCLE / (2 * math.pi)
    for i in range(rgb.shape[0]):
        r, g, b = float(rgb[i, 0]), float(rgb[i, 1]), float(rgb[i, 2])
        p = fastmath.cube_root(max(m[0, 0] * r + m[0, 1] * g + m[0, 2] * b, 0.0))
        q = fastmath.cube_root(max(m[1, 0] * r + m[1, 1] * g + m[1, 2] * b, 0.0))
        s = fastmath.cube_root(max(m[2, 0] * r + m[2, 1] * g + m[2, 2] * b, 0.0))
        light = n[0, 0] * p + n[0, 1] * q + n[0, 2] * s
        u = n[1, 0] * p + n[1, 1] * q + n[1, 2] * s
        v = n[2, 0] * p + n[2, 1] * q + n[2, 2] * s
        chroma = math.sqrt(u * u + v * v)
        if share > 0 and chroma > 1e-6:
            # What channels by themselves did to hue, skin to yellow and sky to cyan, is undone.
            r, g, b = float(scene[i, 0]), float(scene[i, 1]), float(scene[i, 2])
            x = fastmath.cube_root(max(m[0, 0] * r + m[0, 1] * g + m[0, 2] * b, 0.0))
            y = fastmath.cube_root(max(m[1, 0] * r + m[1, 1] * g + m[1, 2] * b, 0.0))
            z = fastmath.cube_root(max(m[2, 0] * r + m[2, 1] * g + m[2, 2] * b, 0.0))
            c = n[1, 0] * x + n[1, 1] * y + n[1, 2] * z
            d = n[2, 0] * x + n[2, 1] * y + n[2, 2] * z
            own = math.sqrt(c * c + d * d)
            if own > 1e-6:
                bright = max(r, g, b)
                near = min(max((bright / clip - NEAR) / (1 - NEAR), 0.0), 1.0)
                hold = share * bright * bright / (bright * bright + DEEP * DEEP)
                hold *= 1 - LET_GO * near * near * (3 - 2 * near)
                u = (1 - hold) * u / chroma + hold * c / own
                v = (1 - hold) * v / chroma + hold * d / own
                even = chroma / max(math.sqrt(u * u + v * v), 1e-6)
                u, v = u * even, v * even
        hue = fastmath.angle(v, u)
        at = int(hue * per_radian + CIRCLE) % CIRCLE
        present = chroma / (chroma + GREYISH)
        lighter = 1 + (tables[2, at] - 1) * present
        grown = chroma * saturation * tables[1, at]
        hue += tables[0, at]
        if deep:
            place = int(hue * per_radian + 2 * CIRCLE) % CIRCLE
            full = min(max((chroma - PALE) / (FULL - PALE), 0.0), 1.0)
            full *= full * (3 - 2 * full)
            depth = present * (deeper[0, place] + full * (deeper[1, place] - deeper[0, place]))
            lighter *= 2.0 ** (-DARKER * depth)
            grown *= 2.0 ** (FULLER * depth)
        light = min(max(light * lighter, 0.0), 1.0)
        limit = max(gamut.edge_at(edges, light, hue), 1e-6)
        if density > 0:
            # Full colours give way downwards, where the display has room for them, before they
            # would clip.
            full = min(grown / limit, 2.0)
            light *= 1 - density * DENSE * full * full / (1 + full * full) * present
            limit = max(gamut.edge_at(edges, light, hue), 1e-6)
        kept = limit * gamut.rolled_off(grown / limit, most)
        scale = kept / max(chroma, 1e-9)
        u, v = (
            scale * (u * tables[3, at] - v * tables[4, at]),
            scale * (u * tables[4, at] + v * tables[3, at]),
        )
        p = back[0, 0] * light + back[0, 1] * u + back[0, 2] * v
        q = back[1, 0] * light + back[1, 1] * u + back[1, 2] * v
        s = back[2, 0] * light + back[2, 1] * u + back[2, 2] * v
        p, q, s = p * p * p, q * q * q, s * s * s
        for c in range(3):
            out[i, c] = min(max(to[c, 0] * p + to[c, 1] * q + to[c, 2] * s, 0.0), 1.0)


def colour(
    rgb: Array, how: Colouring, change: Change, spread: float = 1.0, held: Held | None = None
) -> Array:
    """Linear display sRGB (..., 3) in and out, inside 0 to 1, with the hues that are `held`.

    `spread` is how far beyond the display the tone stage may have thrown chroma; 1 when it cannot.
    In Oklch: the style's turn, chroma and lightness by hue, then saturation, phase, depth; density;
    and the roll-off towards the edge of the gamut by how much this look can have added, so that a
    look that adds nothing leaves full chroma where it is.
    """
    if how.mono is not None:
        return monochrome(rgb, how, change.filter)
    if how.neutral and change.none and spread == 1.0:
        return np.clip(rgb, 0, 1)
    most = (
        max(change.saturation * how.strongest, 1.0)
        * spread
        * 2.0 ** (FULLER * (max(0.0, *change.depth) + max(0.0, *change.families)))
    )
    kept = (held.share, held.clip) if held else (0.0, 1.0)
    numbers = np.array([change.saturation, change.density, most, float(change.deep), *kept])
    flat = np.ascontiguousarray(rgb, np.float32).reshape(-1, 3)
    scene = np.ascontiguousarray(held.light, np.float32).reshape(-1, 3) if held else flat
    out = np.empty_like(flat)
    turn, *factors = _circle((how.turn, how.chroma, how.lightness))
    turn = np.radians(turn) + np.float32(np.radians(change.phase))
    tables, deeper = (
        np.stack([turn, *factors, np.cos(turn), np.sin(turn)]),
        _depth_circles(change.depth, change.families),
    )

    def work(top: int, end: int) -> None:
        _coloured(
            flat[top:end],
            scene[top:end],
            out[top:end],
            tables,
            deeper,
            gamut.edge_table(),
            OKLAB_CONES,
            OKLAB_OPPONENTS,
            numbers,
        )

    bands.run(work, len(flat), bands.MANY)
    return out.reshape(np.shape(rgb))

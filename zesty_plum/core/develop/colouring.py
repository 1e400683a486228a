"""Colour: a style's treatment of hues, saturation, and monochrome, on display light in Oklch."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..arrays import Array
from ..colour.spaces import linear_srgb_to_oklab, oklab_to_linear_srgb
from . import gamut

HUES = 12  # hue centres of a style's table, every 30 degrees of Oklch hue from 0
CIRCLE = 4320  # places around the hue circle that a look-up tells apart, a twelfth of a degree
GREYISH = 0.04  # chroma at which a change of lightness by hue is at half strength


@dataclass(frozen=True, slots=True)
class Colouring:
    """turn : degrees, chroma and lightness : factors, each one number for every hue centre (12,).
    mono : weights of red, green and blue display light for a monochrome picture, or None.
    """

    turn: tuple[float, ...] = (0.0,) * HUES
    chroma: tuple[float, ...] = (1.0,) * HUES
    lightness: tuple[float, ...] = (1.0,) * HUES
    mono: tuple[float, float, float] | None = None

    @property
    def neutral(self) -> bool:
        """Whether nothing but saturation would change a colour."""
        return not any(self.turn) and set(self.chroma) == {1.0} and set(self.lightness) == {1.0}

    @property
    def strongest(self) -> float:
        """Largest factor on chroma."""
        return max(self.chroma)


@lru_cache(maxsize=32)
def _circle(tables: tuple[tuple[float, ...], ...]) -> Array:
    """Tables by hue as (tables, CIRCLE + 1): neighbouring centres mixed by cos^2, which sums to 1 and is smooth."""
    position = np.linspace(0, HUES, CIRCLE + 1)
    low = np.minimum(position.astype(int), HUES - 1)
    weight = np.sin(0.5 * np.pi * (position - low)) ** 2
    rows = [np.asarray((*t, t[0])) for t in tables]
    return np.stack([r[low] * (1 - weight) + r[low + 1] * weight for r in rows]).astype(np.float32)


def by_hue(how: Colouring, hue: Array) -> tuple[Array, Array, Array]:
    """Turn, chroma and lightness of a style at hues in radians."""
    place = (hue * np.float32(CIRCLE / (2 * np.pi))).astype(np.int32) % CIRCLE
    turn, chroma, lightness = _circle((how.turn, how.chroma, how.lightness))
    return turn.take(place), chroma.take(place), lightness.take(place)


def colour(rgb: Array, how: Colouring, saturation: float, spread: float = 1.0) -> Array:
    """Linear display sRGB (..., 3) in and out, inside 0 to 1.

    `spread` is how far beyond the display the tone stage may have thrown chroma; 1 when it cannot.
    """
    if how.mono is not None:
        grey = rgb @ np.asarray(how.mono, np.float32)
        return np.repeat(np.clip(grey, 0, 1)[..., None], 3, -1).astype(np.float32)
    if how.neutral and saturation == 1.0 and spread == 1.0:
        return np.clip(rgb, 0, 1)
    lab = linear_srgb_to_oklab(np.maximum(rgb, 0))
    lightness, chroma = lab[..., 0], np.hypot(lab[..., 1], lab[..., 2])
    hue = np.arctan2(lab[..., 2], lab[..., 1])
    turn, more, lighter = by_hue(how, hue)
    grown = chroma * saturation * more
    present = chroma / (chroma + GREYISH)
    lightness = np.clip(lightness * (1 + (lighter - 1) * present), 0, 1)
    hue = hue + np.radians(turn)
    # Roll off by how much this look can have added: a look that adds nothing leaves full chroma where it is.
    most = max(saturation * how.strongest, 1.0) * spread
    limit = np.maximum(gamut.edge(lightness, hue), 1e-6)
    kept = limit * gamut.roll_off(grown / limit, most)
    out = np.stack([lightness, kept * np.cos(hue), kept * np.sin(hue)], -1).astype(np.float32)
    return np.clip(oklab_to_linear_srgb(out), 0, 1)

"""How a look appears: a fixed set of colours under three lights through exposure, balance and the
point stages, and how far two looks are apart in it, and in all that single colours do not show.
"""

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np

from ..base.arrays import Array
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..colour.spaces import REC2020_TO_XYZ
from ..colour.white import white_xy
from ..look import Look, Sensor, Stage, about, at_rest
from ..seen import SAME
from ..styles import style
from .point import Point
from .taking import balanced

LIGHTS = (
    (1e6 / 5300, 0.60),
    (1e6 / 7200, 0.15),
    (1e6 / 2900, 0.25),
)  # mired and weight: day, shade, lamps
# Fields that `appearance` sees by what they do to colour; what others are worth is told by how much
# of them is just seen.
SEEN_IN_COLOUR = frozenset(n for n, a in about().items() if a.stage is Stage.TABLE) | {
    "exposure",
    "balance",
    "light_mired",
    "shift_mired",
    "shift_duv",
}
_TEXTURE = {n: a for n, a in about().items() if n not in SEEN_IN_COLOUR}
_UNSEEN = {n: v for n, v in at_rest().items() if n not in SEEN_IN_COLOUR and n != "guard"}


@lru_cache(maxsize=1)
def patches() -> Array:
    """Scene colours (n, 3), linear Rec.2020 under equal light: greys over ten stops, a hue circle
    at three strengths and four levels, skins, leaves and rust by typical reflectances."""
    greys = 0.18 * 2.0 ** np.linspace(-7, 3.2, 24)[:, None] * np.ones(3)
    hue = np.radians(np.arange(0, 360, 24))
    wheel = np.stack([np.cos(hue - k) for k in (0, 2 * np.pi / 3, 4 * np.pi / 3)], -1)
    coloured = [
        np.clip(level * (1 + strength * wheel), 0.002, None)
        for level in (0.03, 0.10, 0.28, 0.75)
        for strength in (0.25, 0.5, 0.8)
    ]
    skin = np.array(
        [[0.44, 0.33, 0.26], [0.33, 0.22, 0.16], [0.20, 0.125, 0.085], [0.09, 0.055, 0.04]]
    )
    leaf = np.array([[0.10, 0.14, 0.05], [0.17, 0.21, 0.07], [0.06, 0.08, 0.04]])
    rust = np.array([[0.30, 0.08, 0.025], [0.55, 0.20, 0.03], [0.15, 0.05, 0.02]])
    # Faces and leaves are what people look at: they count several times.
    return np.concatenate(
        [greys, *coloured, *(np.repeat(x, n, 0) for x, n in ((skin, 6), (leaf, 3), (rust, 3)))]
    ).astype(np.float32)


@lru_cache(maxsize=8)
def _lit(mired: float) -> Array:
    """The patches under a light, not balanced."""
    x, y = white_xy(mired, 0.0)
    light = np.linalg.inv(REC2020_TO_XYZ) @ np.array([x / y, 1, (1 - x - y) / y])
    return np.asarray(patches() * (light / light.mean()).astype(np.float32), np.float32)


@lru_cache(maxsize=512)  # one look is beside many others in a kit, and in a search for the nearest
def appearance(look: Look, sensor: Sensor) -> Array:
    """L*a*b* (lights, patches, 3) of the patches through a look, read-only."""
    white = sensor.headroom + look.guard
    light = []
    for mired, _ in LIGHTS:
        matrix = balanced(look, (mired, 0.0), (mired, 0.0)) * 2.0**look.exposure
        light.append(_lit(mired) @ matrix.T.astype(np.float32))
    # The point stages do not ask under which light a colour was balanced.
    through = Point(look, style(look.style), white, (), False)
    shown = through.develop(np.clip(np.stack(light), 0, np.float32(0.18 * 2.0**white)))
    out = encoded_to_lab(shown)
    out.flags.writeable = False
    return out


_WEIGHTS = np.array([w for _, w in LIGHTS])


def colour_distance(first: Array, second: Array) -> tuple[float, float]:
    """Mean CIEDE2000 over patches, lights weighed, and its 95th percentile under the main light."""
    d = ciede2000(first, second)
    return float((d.mean(1) * _WEIGHTS).sum()), float(np.percentile(d[0], 95))


def texture_distance(first: Look, second: Look) -> float:
    """What two looks differ by in all that single colours do not show, such as detail, grain,
    noise and range: just visible changes, pooled as independent ones are, by the root of their
    squares, in units of the mean CIEDE2000 that is just seen."""
    changes = []
    for name, known in _TEXTURE.items():
        beside = known.only_with
        if beside and at_rest()[beside] in (getattr(first, beside), getattr(second, beside)):
            continue
        changes.append(known.apart(getattr(first, name), getattr(second, name)))
    return SAME * math.hypot(*changes)


def point_look(look: Look) -> Look:
    """The look without what the point stages do not see."""
    return replace(look, **_UNSEEN)

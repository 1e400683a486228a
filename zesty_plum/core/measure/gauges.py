"""The figures of the gauges that belong to a dial: what a step of it moves, apart from how it is
drawn."""

from dataclasses import dataclass

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..bodies import Dial
from ..colour.spaces import linear_srgb_to_oklab, srgb_decode
from ..develop import balance, encode, sense
from ..develop.taking import exposed, make_point
from ..look import Gauge, Look, Sensor, about
from ..scenes.scene import Light, Scene
from . import texture

ACROSS = 60  # pixels of the scene whose colours are shown
CELL = 0.032  # side of the squares of Oklab's a and b of which each shows one colour
FROM, TO = -6, 4  # stops whose code values are counted


def gauge_of(dial: Dial) -> Gauge:
    """The gauge that shows what a dial does: that of the first field it touches for which tone does
    not say it all."""
    kinds = [known.gauge for name, known in about().items() if name in dial.touches]
    return next((kind for kind in kinds if kind is not Gauge.TONE), Gauge.TONE)


@dataclass(frozen=True, eq=False)
class Hues:
    """Oklab a and b (n, 2) of a scene's colours, one for every square of the plane that it has a
    colour in: through one look, and through another; and how much stronger all are on average."""

    before: Array
    now: Array
    grown: float


def _colours(scene: Scene, look: Look, sensor: Sensor) -> Array:
    """Oklab (n, 3) of a small copy of a scene through a look."""
    small = scene.at_width(ACROSS).reshape(-1, 3)
    made = make_point(scene, look, sensor)
    if scene.finished:
        encoded = made.finish(small)
    else:
        light = small @ np.array(made.matrix, np.float32).T * 2.0**look.exposure
        encoded = made.develop(np.clip(light, 0, made.clip))
    return linear_srgb_to_oklab(srgb_decode(encoded).astype(np.float32))


def hues(scene: Scene, look: Look, other: Look, sensor: Sensor) -> Hues:
    """Where a scene's colours lie through `look`, and where they lay through the other."""
    before, now = (_colours(scene, each, sensor)[:, 1:] for each in (other, look))
    _, first = np.unique(np.round(before / CELL).astype(int), axis=0, return_index=True)
    was, grown = (float(np.hypot(*c.T).mean()) for c in (before, now))
    return Hues(before[first], now[first], grown / max(was, 1e-6))


@dataclass(frozen=True)
class White:
    """What a look takes for white in a scene (mired and Duv), the lights there, and by how many
    mired a grey card's white is warmer; None where nobody can know."""

    mired: float
    duv: float
    lights: tuple[Light, ...]
    off_card: float | None


def white(scene: Scene, look: Look) -> White:
    """What a look takes for white."""
    mired, duv = balance.neutral_light(look, scene.auto_light, scene.card_light)
    known = bool(scene.auto_light) and not scene.finished
    return White(mired, duv, scene.lights, mired - scene.card_light[0] if known else None)


@dataclass(frozen=True, eq=False)
class NoiseLaw:
    """Noise at mid grey (standard deviation in units of light) against ISO, both (n,); the least
    ISO that the guard asks for, the ISO here and its noise; None for a finished picture."""

    isos: Array
    deviations: Array
    second_iso: float
    floor: float | None
    iso: float | None
    here: float | None


def _noise_at(sensor: Sensor, iso: float) -> float:
    grey = np.array([MID_GREY], np.float32)
    return float(sense.noise_deviation(grey, sensor, iso, sensor.width)[0])


def noise_law(scene: Scene, look: Look, sensor: Sensor) -> NoiseLaw:
    """Noise by ISO of a sensor, and where a look stands in a scene."""
    isos = np.geomspace(sensor.base_iso, sensor.top_iso, 120)
    _, exposure = exposed(scene, look, sensor)
    return NoiseLaw(
        isos=isos,
        deviations=np.array([_noise_at(sensor, iso) for iso in isos]),
        second_iso=sensor.second_iso,
        floor=exposure.floor if exposure else None,
        iso=exposure.iso if exposure else None,
        here=_noise_at(sensor, exposure.iso) if exposure else None,
    )


@dataclass(frozen=True, eq=False)
class Edge:
    """Profiles of an edge (n,) of encoded values, through a look and another; overshoot as a share
    of full scale and MTF50 in cycles per pixel of the first."""

    before: Array
    now: Array
    overshoot: float
    mtf50: float


def edge(look: Look, other: Look) -> Edge:
    """What the stages that look at neighbours make of an edge."""
    overshoot, mtf50 = texture.edge(look)
    return Edge(texture.profile(other), texture.profile(look), overshoot, mtf50)


@dataclass(frozen=True, eq=False)
class Codes:
    """Code values (n,) that each stop gets from `stops` (n,) to the next, in a file of `bits`."""

    stops: Array
    values: Array
    bits: int
    limited: bool


def codes(scene: Scene, look: Look, sensor: Sensor) -> Codes:
    """Code values that each stop of light gets in the file."""
    made = make_point(scene, look, sensor)
    stops = np.arange(FROM, TO + 1.0)
    black, white_code = encode.levels(look.bits, look.limited)
    grey = made.grey_curve((MID_GREY * np.exp2(stops)).astype(np.float32))
    return Codes(stops[:-1], np.diff(grey) * (white_code - black), look.bits, look.limited)

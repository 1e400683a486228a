"""The tone of a look over the light of a scene: its curve, where the scene's light lies in stops,
and where faces and white things lie."""

from dataclasses import dataclass

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..colour.spaces import LUMINANCE_2020, srgb_decode
from ..develop import bend, point, tone
from ..develop.taking import exposed, lift, make_point
from ..look import Look, Sensor
from ..scenes.scene import Scene
from ..styles import Style, plain

FROM, TO, POINTS, BARS = -7.0, 5.0, 61, 48  # stops from mid grey, and places between them
ACROSS = 120  # pixels of the scene that is counted
REGIONS = ("skin", "white")  # beginnings of the names of regions whose place is told
SCANT = 0.15  # stops two above mid grey that softer highlights hardly show below
FEWEST = 20  # pixels, of every fourth each way, below which nothing is told of a region


@dataclass(frozen=True)
class Band:
    """A kind of thing and the stops between which most of it lies, as shares of the scale."""

    name: str
    low: float
    high: float


@dataclass(frozen=True)
class Tones:
    """Encoded grey (POINTS,) at even stops of scene light, of the look and of another beside it;
    share of the frame (BARS,) by stops, the tallest 1; and where faces and white things lie."""

    curve: list[float]
    before: list[float]
    histogram: list[float]
    bands: list[Band]


def tones(scene: Scene, look: Look, other: Look, sensor: Sensor) -> Tones:
    """The tone of a look in a scene, beside another's."""
    made = make_point(scene, look, sensor)
    bias = lift(look, *exposed(scene, look, sensor))
    return Tones(
        curve=curve(made),
        before=curve(make_point(scene, other, sensor)),
        histogram=histogram(scene, made, bias),
        bands=bands(scene, made, bias),
    )


def curve(made: point.Point) -> list[float]:
    """Encoded grey, 0 to 1, at even stops of scene light."""
    stops = np.linspace(FROM, TO, POINTS, dtype=np.float32)
    return [round(float(v), 4) for v in made.grey_curve(MID_GREY * np.exp2(stops))]


def scant_room(which: Style, white: float) -> str:
    """A sentence where a style's shoulder is so nearly straight up to its clip point, `white` stops
    above mid grey, that softer highlights hardly show; else empty."""
    room = bend.room(which.tone, white)[0]
    if which.tone.log_stops or room >= SCANT:
        return ""
    return (
        f"{which.name} has little room for softer highlights: the lowest step takes "
        f"{room:.2f} stops from tones two stops above mid grey."
    )


def _stops(light: Array, exposure: float) -> Array:
    """Stops from mid grey of linear Rec.2020 (..., 3)."""
    luminance = np.maximum(light @ LUMINANCE_2020, 1e-6)
    return np.asarray(np.log2(luminance / MID_GREY) + exposure)


def histogram(scene: Scene, made: point.Point, exposure: float) -> list[float]:
    """Share of the frame by stops from mid grey, in the curve's range, the tallest bar 1."""
    small = scene.at_width(ACROSS)
    if scene.finished:
        light = tone.undo(srgb_decode(small), plain().tone, point.FINISHED_WHITE)
    else:
        light = small @ np.array(made.matrix, np.float32).T
    bars, _ = np.histogram(_stops(light, exposure), bins=BARS, range=(FROM, TO))
    return [round(float(b), 3) for b in bars / max(bars.max(), 1)]


def bands(scene: Scene, made: point.Point, exposure: float) -> list[Band]:
    """Where faces and white things lie: from the 10th to the 90th percentile of their stops."""
    if scene.finished or scene.mask is None:
        return []
    every, labels = scene.frame.sparse, scene.mask[::4, ::4]
    found = []
    for begins in REGIONS:
        values = [value for name, value in scene.regions.items() if name.startswith(begins)]
        inside = np.isin(labels, values)
        if inside.sum() < FEWEST:
            continue
        light = every[inside] @ np.array(made.matrix, np.float32).T
        stops = np.percentile(_stops(light, exposure), [10, 90])
        low, high = np.clip((stops - FROM) / (TO - FROM), 0, 1)
        found.append(Band(begins, round(float(low), 3), round(float(high), 3)))
    return found

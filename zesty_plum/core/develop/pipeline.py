"""The whole way from a scene and a look to a picture, stage by stage."""

import itertools
import math
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np

from .. import bands
from ..arrays import Array, Bytes8, Mask
from ..colour.spaces import LUMA_709, REC2020_TO_SRGB
from ..look import Look, Metering, Sensor, Stage, at_rest
from ..scenes.scene import Scene
from ..styles import style
from . import (
    balance,
    encode,
    gamut,
    grain,
    kernels,
    local,
    metering,
    point,
    reduce_noise,
    sense,
    table,
)
from .part import Part

# Tables are built beside the stages before them, in threads of their own: the bands they wait for
# must find free hands.
_tables = ThreadPoolExecutor(2, thread_name_prefix="tables")
# Widths up to which a coarse table does, and from which a finer one costs nothing much.
SMALL, LARGE = 320, 2000
OVERVIEW = 480  # pixels across of a large picture's small copy, for stages that look far
MANY = 6_000_000  # pixels from which a picture goes through in strips of `TALL` rows
# A multiple of 16, as margins are: the noise filter's half-size planes and its map of noise fall on
# the same places
TALL = 960
# Rows after which noise and grain come again; nobody sees it, and memory stays bounded
REPEAT = 1024
_REACH = gamut.reach(REC2020_TO_SRGB)


@dataclass(frozen=True)
class Picture:
    """A developed picture.

    pixels : (h, w, 3) uint8 sRGB. encoded : the same before rounding, float32.
    marks : (h, w), 1 where all channels are at white, 2 where they are at black, before grain.
    exposure : what the camera would set, or None for a finished picture. metered : stops that its
    meter added.
    """

    pixels: Bytes8
    encoded: Array
    marks: Bytes8
    exposure: sense.Exposure | None
    metered: float = 0.0

    @property
    def clipped(self) -> Mask:
        """Where it is white (h, w)."""
        return np.asarray(self.marks == 1)

    @property
    def crushed(self) -> Mask:
        """Where it is black (h, w)."""
        return np.asarray(self.marks == 2)


def white_stops(scene: Scene, look: Look, sensor: Sensor) -> float:
    """Stops from mid grey to the clip point."""
    return (point.FINISHED_WHITE if scene.finished else sensor.headroom) + look.guard


def make_point(scene: Scene, look: Look, sensor: Sensor) -> point.Point:
    """The point stages of `look` in the light of `scene`."""
    light = balance.assumed_light(look, scene.auto_light, scene.card_light)
    matrix = balance.balance_matrix(light, scene.finished)
    return point.Point(
        look,
        style(look.style),
        white_stops(scene, look, sensor),
        point.as_tuple(matrix),
        scene.finished,
    )


def metered(scene: Scene, look: Look, sensor: Sensor) -> float:
    """Stops that the look's metering adds in this scene."""
    if scene.finished or scene.ev100 is None or look.metering is Metering.HAND:
        return 0.0
    return metering.meter(
        scene.at_width(240), look.metering, white_stops(scene, look, sensor), scene.meters_at
    )


def exposed(scene: Scene, look: Look, sensor: Sensor) -> tuple[float, sense.Exposure | None]:
    """Stops that the look's metering adds in this scene, and the aperture, time and ISO that it
    comes to; those are None for a finished picture."""
    gain = metered(scene, look, sensor)
    if scene.ev100 is None:
        return gain, None
    limits = (look.iso_least, look.iso_most)
    return gain, sense.expose(sensor, scene.ev100, look.guard, look.exposure + gain, limits)


def table_key(made: point.Point) -> point.Point:
    """The point without what its table does not depend on, so that tables are shared."""
    look = replace(made.look, **at_rest(Stage.NEIGHBOURS, Stage.FILE))
    if made.finished:
        return replace(made, look=look)
    return replace(made, look=replace(look, **at_rest(Stage.BEFORE)), matrix=())


@dataclass(frozen=True)
class _Way:
    """What is the same all over a picture on its way: `frame` is the width in pixels of the frame
    that it shows or is part of."""

    scene: Scene
    look: Look
    sensor: Sensor
    made: point.Point
    exposure: sense.Exposure | None
    gain: float
    frame: int
    seed: int
    light: Array

    def encode(self, top: int, end: int) -> Array:
        """Rows to the shaper's scale, or of a finished picture as they are, with noise reduced."""
        look, rows = self.look, self.light[top:end]
        if self.scene.finished:
            deviation: Any = self.scene.noise_present
            encoded = np.array(rows, np.float32, order="C")
        else:
            encoded = self._sense(rows, top)
            if self.exposure is None:
                return encoded
            deviation = self._deviation
        return reduce_noise.reduce_noise(
            encoded, deviation, look.noise_filter, look.colour_filter, overwrite=True
        )

    def _sense(self, light: Array, first: int) -> Array:
        """Expose, sense, balance: scene light to the shaper's scale."""
        low, high = self.made.log_range
        height, width = light.shape[:2]
        matrices = np.stack([np.array(self.made.matrix), REC2020_TO_SRGB])
        scale = np.array([self.made.clip, point.DARKEST, low, high - low])
        law = (
            sense.noise_law(self.sensor, self.exposure.iso, self.frame)
            if self.exposure is not None
            else (0.0, 0.0)
        )
        encoded, rows = np.empty((height, 3 * width), np.float32), light.reshape(height, 3 * width)
        unit = sense.unit_noise(min(self.light.shape[0], REPEAT), width, self.seed)
        noise = unit.reshape(len(unit), 3 * width)

        def work(top: int, end: int) -> None:
            band, now = slice(top, end), 2.0 ** (self.look.exposure + self.gain)
            kernels.sense_to_log(
                rows[band], noise, first + top, encoded[band], now, *law, matrices, _REACH, scale
            )

        bands.run(work, height)
        return encoded.reshape(height, width, 3)

    def _deviation(self, brightness: Array) -> Array:
        """Noise present, in units of the shaper, by brightness."""
        low, high = self.made.log_range
        level = np.exp2(low + brightness * np.float32(high - low))
        iso = self.exposure.iso if self.exposure is not None else self.sensor.base_iso
        noise = sense.noise_deviation(level - point.DARKEST, self.sensor, iso, self.frame)
        return np.asarray(noise / (level * np.log(2) * (high - low)))

    def finish(self, encoded: Array, luma: Array, part: Part, inner: slice, out: "Picture") -> None:
        """The stages that change only brightness, `luma`, of the rows of a part; its `inner` ones
        into `out`."""
        look, height = self.look, len(out.pixels)
        local.shaped(luma, look, part)
        blur = grain.blur_pixels(look.grain_size, self.frame)
        field = (
            grain.unit_grain(min(height, REPEAT), luma.shape[1], blur, self.seed, height > REPEAT)
            if look.grain
            else luma
        )
        first = part.top + inner.start
        rows = slice(first, first + inner.stop - inner.start)
        into = (out.encoded[rows], out.pixels[rows], out.marks[rows])

        def work(a: int, b: int) -> None:
            band = slice(inner.start + a, inner.start + b)
            kernels.finish(
                encoded[band],
                luma[band],
                field,
                first + a,
                look.grain,
                *(part[a:b] for part in into),
            )

        bands.run(work, rows.stop - rows.start)


def _strips(height: int, width: int) -> list[tuple[int, int, int, int]]:
    """(top, end, first, last) of the strips of a picture: rows first to last of it, worked on with
    a margin from top to end."""
    if height * width < MANY:
        return [(0, height, 0, height)]
    # As far as stages look that do not have the whole picture, and the noise filter.
    margin = 16 * math.ceil((local.reach(width) + 8) / 16)
    edges = [*range(0, height, TALL), height]
    return [
        (max(0, a - margin), min(height, b + margin), a, b) for a, b in itertools.pairwise(edges)
    ]


def _baking(made: point.Point, width: int) -> Callable[[], table.Table]:
    """The point stages as a table that is fine enough for a width, on its way or when asked for.

    A fine table is built while the stages before it run; a coarse one is done sooner than another
    thread is awake.
    """
    size = point.FINEST if width > LARGE else point.COARSE if width <= SMALL else point.FINE
    key, size = table_key(made), point.FILED if made.finished else size
    if size <= point.COARSE:
        return lambda: table.bake(key, size)
    return _tables.submit(table.bake, key, size).result


def develop(
    scene: Scene,
    look: Look,
    sensor: Sensor,
    width: int,
    seed: int = 1,
    full_detail: bool = False,
    as_written: bool = False,
) -> Picture:
    """Develop `scene` at `width` pixels, or with `full_detail` a part of it that is `width` pixels
    wide, at 100 percent.

    At 100 percent a pixel of the scene stands for one photosite, so noise is not averaged away.
    `as_written` rounds to the code values that the look's file would hold. A large picture goes
    through in strips, so that memory stays bounded.
    """
    light = scene.detail(width, scene.height_at(width)) if full_detail else scene.at_width(width)
    height, width = light.shape[:2]
    made = make_point(scene, look, sensor)
    baked = _baking(made, width)
    gain, exposure = exposed(scene, look, sensor)
    frame = sensor.width if full_detail else width
    way = _Way(scene, look, sensor, made, exposure, gain, frame, seed, light)
    out = Picture(
        pixels=np.empty(light.shape, np.uint8),
        encoded=np.empty(light.shape, np.float32),
        marks=np.empty((height, width), np.uint8),
        exposure=exposure,
        metered=gain,
    )
    strips, whole = _strips(height, width), None
    if len(strips) > 1 and local.looks_far(look):
        # What is a large area is found on the whole picture, small.
        bare = develop(scene, local.without(look), sensor, OVERVIEW, seed)
        whole = np.asarray(bare.encoded @ LUMA_709, np.float32)
    for top, end, first, last in strips:
        encoded, luma = way.encode(top, end), np.empty((end - top, width), np.float32)
        baked().apply(encoded, luma)
        part = Part(frame, top, height, whole)
        way.finish(encoded, luma, part, slice(first - top, last - top), out)
    if not as_written:
        return out
    written = encode.quantised(out.encoded, look.bits, look.limited)
    return replace(out, encoded=written, pixels=cv2.convertScaleAbs(written, alpha=255))

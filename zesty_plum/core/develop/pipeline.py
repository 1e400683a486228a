"""The whole way from a scene and a look to a picture, stage by stage."""

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .. import bands
from ..arrays import MID_GREY, Array, Bytes8, Mask, Matrix
from ..cache import BoundedCache
from ..colour.lab import encoded_to_lab
from ..colour.spaces import LUMA_709, REC2020_TO_SRGB, srgb_encode
from ..late import library
from ..look import Look, Metering, Sensor, Stage, at_rest
from ..scenes.frame import Frame
from ..scenes.scene import Scene
from ..styles import plain, style
from . import (
    balance,
    gamut,
    grain,
    kernels,
    learnt,
    local,
    metering,
    moving,
    photosites,
    point,
    recorded,
    reduce_noise,
    sense,
    table,
    tone,
)
from .balance import Light
from .part import Part

cv2 = library("cv2")

SMALL = 320  # pixels across up to which a coarse table does
WIDE = 400  # pixels across at most of the copy on which colour is judged
OVERVIEW = 480  # pixels across of a large picture's small copy, for stages that look far
MANY = 6_000_000  # pixels from which a picture goes through in strips
# Rows of a strip at most, a multiple of 16, as margins are: the noise filter's half-size planes and
# its map of noise fall on the same places; and its pixels, whose array the C library keeps for the
# next one (`allocator`).
TALL, STRIP = 960, 2_600_000
# Rows after which noise and grain come again; nobody sees it, and memory stays bounded
REPEAT = 1024
_REACH = gamut.reach(REC2020_TO_SRGB)
# Bytes of light that was sensed: some pictures of the Bench, or many of strips.
MOST_KEPT = 20 * 2**20
# Beside each the frame that it came from, so that no other takes its number.
_sensed: BoundedCache[tuple[Any, Array]] = BoundedCache(MOST_KEPT, lambda kept: kept[1].nbytes)
Strip = tuple[int, int, int, int]  # top, end, first, last
Into = tuple[Array, Bytes8, Bytes8]  # places for rows: encoded, pixels, marks


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

    @cached_property
    def overview(self) -> Array:
        """The picture at most `WIDE` pixels across, encoded, as colour is judged."""
        height, width = self.pixels.shape[:2]
        across = min(WIDE, width)
        size = across, max(1, round(height * across / width))
        small = cv2.resize(self.encoded, size, interpolation=cv2.INTER_AREA)
        return np.asarray(small, np.float32)

    @cached_property
    def overview_lab(self) -> Array:
        """L*a*b* of the overview."""
        return encoded_to_lab(self.overview)

    @property
    def clipped(self) -> Mask:
        """Where it is white (h, w)."""
        return np.asarray(self.marks == 1)

    @property
    def crushed(self) -> Mask:
        """Where it is black (h, w)."""
        return np.asarray(self.marks == 2)


def white_stops(scene: Scene, look: Look, sensor: Sensor) -> float:
    """Stops from mid grey to the clip point; of a picture that is exposed already, its own."""
    if scene.finished:
        return point.FINISHED_WHITE
    return sensor.headroom + look.guard if scene.headroom is None else scene.headroom


def balanced(look: Look, auto: Light, card: Light, finished: bool = False) -> Matrix:
    """The balance of a look where the automatic estimate and a grey card say these lights, and what
    a camera whose rendering was learnt makes of it."""
    matrix, how = balance.look_matrix(look, auto, card, finished), style(look.style)
    if how.learnt is None or finished:
        return matrix
    light = balance.assumed_light(look, auto, card)
    return learnt.lamp(light, np.array(how.learnt.lamps)) @ matrix


def make_point(scene: Scene, look: Look, sensor: Sensor) -> point.Point:
    """The point stages of `look` in the light of `scene`."""
    matrix = balanced(look, scene.auto_light, scene.card_light, scene.finished)
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
    matrix = balance.look_matrix(look, scene.auto_light, scene.card_light)
    asked = look.metering, sensor.headroom, scene.meters_at

    def look_at_it() -> float:
        return metering.meter(cv2.transform(scene.at_width(240), matrix), *asked)

    return scene.metered((point.as_tuple(matrix), *asked), look_at_it)


def exposed(scene: Scene, look: Look, sensor: Sensor) -> tuple[float, sense.Exposure | None]:
    """Stops that the look's metering adds in this scene, and the aperture, time and ISO that it
    comes to; those are None for a finished picture."""
    gain = metered(scene, look, sensor)
    if scene.ev100 is None:
        return gain, None
    asked = sense.Programme(
        look.guard,
        look.exposure + gain,
        look.iso_least,
        look.iso_most,
        look.aperture,
        look.slowest,
        look.rate if look.clip else 0.0,
    )
    made = sense.expose(sensor, scene.ev100, asked)
    dark = made.time if look.dark_frame and made.time >= sense.LONG and not look.clip else 0.0
    return gain, replace(made, dark=dark)


def lift(look: Look, gain: float, exposure: sense.Exposure | None) -> float:
    """Stops by which light is raised before the sensor, by what `exposed` gives: bias, meter, and
    what no exposure reaches."""
    return look.exposure + gain + (exposure.off if exposure else 0.0)


def table_key(made: point.Point) -> point.Point:
    """The point without what its table does not depend on, so that tables are shared."""
    look = replace(made.look, **at_rest(Stage.NEIGHBOURS, Stage.FILE))
    if made.finished:
        return replace(made, look=look)
    return replace(made, look=replace(look, **at_rest(Stage.BEFORE)), matrix=())


@dataclass(frozen=True)
class _Way:
    """What is the same all over a picture on its way: `frame` is the width in pixels of the frame
    that it shows or is part of, `pitch` how many of them a photosite takes, at most 1."""

    scene: Scene
    look: Look
    sensor: Sensor
    made: point.Point
    exposure: sense.Exposure | None
    lift: float
    frame: int
    pitch: float
    seed: int
    light: Array | Frame
    drawn: Callable[[], Array] | None  # gives the light as it moved, where something does
    whole: bool  # whether the light is all of the scene's frame
    noisy: bool  # whether noise is to be added, which a raw picture of one's own has already
    brighter: learnt.Corners | None  # towards the corners, as the camera brightens its own pictures

    def encode(self, top: int, end: int) -> Array:
        """Rows to the shaper's scale, or of a finished picture as they are, with noise reduced."""
        look, light = self.look, self.light if self.drawn is None else self.drawn()
        rows = light[top:end]
        if self.scene.finished:
            deviation: Any = self.scene.noise_present
            encoded = np.array(rows, np.float32, order="C")
        else:
            encoded = self._sense(rows, top)
            deviation = self._deviation
        return reduce_noise.reduce_noise(
            encoded,
            deviation,
            look.noise_filter,
            look.colour_filter,
            pitch=self.pitch,
            mosaic=not self.scene.finished,
            overwrite=True,
        )

    def sensed(self, top: int, end: int) -> Array:
        """The same; of a picture that goes through in one piece kept for the next one, as most
        dials act after it, and not to be written to."""
        height, width = self.light.shape[:2]
        as_it_is = self.exposure is None or self.brighter is not None
        if (
            as_it_is
            or not self.whole
            or end - top < height
            or 12 * height * width > 2 * MOST_KEPT // 3
        ):
            return self.encode(top, end)
        made, look, scene = self.made, self.look, self.scene
        key = (
            id(scene.frame), scene.moves, scene.lens, scene.celsius, self.light.shape, self.sensor,
            self.exposure, self.lift, made.matrix, made.white, look.noise_filter,
            look.colour_filter, self.frame, self.pitch, self.seed,
        )  # fmt: skip

        def make() -> tuple[Any, Array]:
            encoded = self.encode(top, end)
            encoded.flags.writeable = False
            return self.scene.frame, encoded

        return _sensed.make(key, make)[1]

    @property
    def _law(self) -> tuple[float, float]:
        """Noise there is, as `sense.noise_law`: the sensor's, or what a raw picture came with."""
        if self.exposure is not None:
            per_light, floor = sense.noise_law(self.sensor, self.exposure.iso, self.frame)
            return per_light, floor * (2 if self.exposure.dark else 1)  # of two pictures
        per_light, floor = self.scene.noise_law
        now = 2.0**self.lift
        return per_light * now * self.pitch**2, floor * now**2 * self.pitch**2

    def _sense(self, light: Array, first: int) -> Array:
        """Expose, sense, balance: scene light to the shaper's scale."""
        low, high = self.made.log_range
        height, width = light.shape[:2]
        if self.brighter:
            light = light * self.brighter.rows(first, height)
        matrices = np.stack([np.array(self.made.matrix), REC2020_TO_SRGB])
        scale = np.array([self.made.clip, point.DARKEST, low, high - low])
        law = self._law if self.noisy else (0.0, 0.0)
        encoded, rows = np.empty((height, 3 * width), np.float32), light.reshape(height, 3 * width)
        warm = (
            sense.warm_pattern(self.sensor, self.exposure, self.scene.celsius)
            if self.exposure
            else 0
        )
        if warm:
            pattern = photosites.dark_current(self.light.shape[0], width, self.pitch)
            dark = pattern[first : first + height].reshape(height, 3 * width)
            rows = rows + np.float32(warm / 2.0**self.lift) * dark
        unit = photosites.unit_noise(min(self.light.shape[0], REPEAT), width, self.seed, self.pitch)
        noise = unit.reshape(len(unit), 3 * width)

        def work(top: int, end: int) -> None:
            band, now = slice(top, end), 2.0**self.lift
            kernels.sense_to_log(
                rows[band], noise, first + top, encoded[band], now, *law, matrices, _REACH, scale
            )

        bands.run(work, height)
        return encoded.reshape(height, width, 3)

    def _deviation(self, brightness: Array) -> Array:
        """Noise present, in units of the shaper, by brightness."""
        low, high = self.made.log_range
        level = np.exp2(low + brightness * np.float32(high - low))
        noise = sense.deviation(level - point.DARKEST, self._law)
        return np.asarray(noise / (level * np.log(2) * (high - low)))

    def finish(self, encoded: Array, luma: Array, part: Part, inner: slice, into: Into) -> None:
        """The stages that change only brightness, `luma`, of the rows of a part; its `inner` ones
        go `into` the places for them."""
        look, height = self.look, self.light.shape[0]
        local.shaped(luma, look, part)
        field, size = luma, look.grain_size
        if look.grain:
            rows, many = min(height, REPEAT), height > REPEAT
            field = grain.unit_grain(rows, luma.shape[1], size, self.pitch, self.seed, many)
        strength = look.grain * grain.left(size, self.pitch)
        first, (out, pixels, marks) = part.top + inner.start, into
        white = self.made.shown_white
        rows_of, rows_out, rows_pixels = (x.reshape(len(x), -1) for x in (encoded, out, pixels))

        def work(a: int, b: int) -> None:
            here, band = slice(a, b), slice(inner.start + a, inner.start + b)
            kernels.finish(
                rows_of[band],
                luma[band],
                field,
                first + a,
                strength,
                white,
                rows_out[here],
                rows_pixels[here],
                marks[here],
            )

        bands.run(work, inner.stop - inner.start)


def _strips(height: int, width: int, reach: float) -> list[Strip]:
    """(top, end, first, last) of the strips of a picture: rows first to last of it, worked on with
    a margin from top to end, for stages that look `reach` pixels away."""
    if height * width < MANY:
        return [(0, height, 0, height)]
    margin = 16 * math.ceil((reach + 8) / 16)  # the noise filter looks 8 away
    rows = max(16, min(TALL, STRIP // width // 16 * 16))
    edges = [*range(0, height, rows), height]
    return [
        (max(0, a - margin), min(height, b + margin), a, b) for a, b in itertools.pairwise(edges)
    ]


class Passage:
    """A picture on its way, developed strip by strip; arguments as in `develop`. A `piece` (h, w,
    3) is seen in the place of the scene's own pixels, as part of a frame of `width`."""

    def __init__(
        self,
        scene: Scene,
        look: Look,
        sensor: Sensor,
        width: int,
        seed: int = 1,
        full_detail: bool = False,
        as_written: bool = False,
        piece: Array | None = None,
    ) -> None:
        scene = scene.at_full() if full_detail else scene
        light: Array | Frame
        if piece is not None:
            light = piece
        elif full_detail:
            light = scene.detail(width, scene.height_at(width))
        else:
            light = scene.rows_at(width)
        self._height, self._width = light.shape[:2]
        self._look, self._as_written, self._steady = look, as_written, sensor.steady
        made = make_point(scene, look, sensor)
        size = point.COARSE if width <= SMALL else point.FINE
        self._table = table.bake(table_key(made), point.FILED if made.finished else size)
        self._metered, self._exposure = exposed(scene, look, sensor)
        self._across = across = scene.photosites or sensor.width
        frame = across if full_detail else self._width if piece is None else width
        pitch = min(1.0, frame / across)
        raised = lift(look, self._metered, self._exposure)
        drawn = None
        if self._exposure is not None:
            drawn = self._in_time(scene, light, frame, full_detail)
        noisy = self._exposure is not None or piece is not None
        corners = None
        if made.style.learnt and scene.headroom is not None and piece is None:
            place = scene.crop(self._width, self._height) if full_detail else None
            corners = learnt.corners(made.style.learnt, light.shape, place, scene.size)
        self._way = _Way(
            scene,
            look,
            sensor,
            made,
            self._exposure,
            raised,
            frame,
            pitch,
            seed,
            light,
            drawn,
            not full_detail and piece is None,
            noisy,
            corners,
        )
        self._strips, self._whole = _strips(self._height, self._width, local.reach(look)), None
        if len(self._strips) > 1 and local.looks_far(look):
            # What is a large area is found on the whole picture, small.
            bare = develop(scene, local.without(look), sensor, OVERVIEW, seed)
            self._whole = np.asarray(bare.encoded @ LUMA_709, np.float32)

    def _in_time(
        self, scene: Scene, light: Array | Frame, frame: int, detail: bool
    ) -> Callable[[], Array] | None:
        """What gives the light as it falls while the shutter is open; None where nothing moves."""
        assert self._exposure is not None
        time, steady = self._exposure.time, self._steady
        if not moving.moves_at_all(scene, time, steady, frame):
            return None
        part = detail, scene.place

        def draw() -> Array:
            numbers = scene.moves_in(light.shape, detail)
            return moving.in_time(scene, light[:], numbers, time, steady, frame, part)

        return lambda: scene.in_time((time, steady, frame, *part, light.shape), draw)

    def _develop(
        self, strip: Strip, pixels: Bytes8, marks: Bytes8, exact: Array | None = None
    ) -> Array:
        """One strip of it, into places for its rows; returns its exact values, in `exact` if that
        is given."""
        top, end, first, last = strip
        sensed = self._way.sensed(top, end)
        # Of the margin, what the stages after the table need; a multiple of 4, as their maps are.
        near = 4 * math.ceil(local.reach(self._look) / 4)
        sensed = sensed[max(0, first - near - top) : last + near - top]
        top = max(top, first - near)
        luma = np.empty(sensed.shape[:2], np.float32)
        encoded = sensed if sensed.flags.writeable else np.empty_like(sensed)
        self._table.apply(sensed, luma, encoded)
        part = Part(self._way.frame, top, self._height, self._whole, self._way.pitch, encoded)
        inner = slice(first - top, last - top)
        exact = encoded[inner] if exact is None else exact
        self._way.finish(encoded, luma, part, inner, (exact, pixels, marks))
        if self._as_written:
            exact[:] = recorded.as_file(exact, self._look, self._way.frame, self._across)
            cv2.convertScaleAbs(exact, dst=pixels, alpha=255)
        return exact

    def picture(self) -> Picture:
        """All that is known of it."""
        height, width = self._height, self._width
        pixels = np.empty((height, width, 3), np.uint8)
        marks = np.empty((height, width), np.uint8)
        if len(self._strips) == 1:
            encoded = self._develop(self._strips[0], pixels, marks)
        else:
            encoded = np.empty((height, width, 3), np.float32)
            for strip in self._strips:
                rows = slice(*strip[2:])
                self._develop(strip, pixels[rows], marks[rows], encoded[rows])
        return Picture(pixels, encoded, marks, self._exposure, self._metered)

    def samples(
        self, deep: bool = False, pause: Callable[[], None] = lambda: None
    ) -> NDArray[np.uint8] | NDArray[np.uint16]:
        """Samples for a file (h, w, 3), 8 bits or with `deep` 16: nothing else of a large picture
        is whole in memory. `pause` is called between strips; it may wait, or raise."""
        whole = np.empty((self._height, self._width, 3), np.uint16 if deep else np.uint8)
        for strip in self._strips:
            pause()
            first, last = strip[2:]
            size = last - first, self._width
            pixels = np.empty((*size, 3), np.uint8)
            exact = self._develop(strip, pixels, np.empty(size, np.uint8))
            whole[first:last] = np.round(exact.clip(0, 1) * 65535) if deep else pixels
        return whole


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
    `as_written` rounds to the code values that the look's file would hold.
    """
    return Passage(scene, look, sensor, width, seed, full_detail, as_written).picture()


PIECE, RIM = (
    64,
    16,
)  # pixels a side of a grey that is tried, and of its sides that others reach into


def greys(scene: Scene, look: Look, sensor: Sensor, width: int, stops: Array) -> Array:
    """Even greys at `stops` (n,) from mid grey after exposure and balance, with the noise they
    would have in the scene's picture `width` pixels wide, developed: encoded (n, h, w, 3)."""
    shape = PIECE, PIECE * len(stops), 3
    if scene.finished:
        shown = srgb_encode(tone.display(stops, plain().tone, point.FINISHED_WHITE))
        noise = np.random.default_rng(1).standard_normal(shape, np.float32)
        light = np.clip(np.repeat(shown, PIECE)[:, None] + scene.noise_present * noise, 0, 1)
    else:
        made = make_point(scene, look, sensor)
        now = 2.0 ** lift(look, *exposed(scene, look, sensor))
        white = np.linalg.inv(np.array(made.matrix)).sum(1) / now
        light = np.broadcast_to(np.repeat(MID_GREY * np.exp2(stops), PIECE)[:, None] * white, shape)
    piece = np.ascontiguousarray(light, np.float32)
    made_of = Passage(scene, look, sensor, width, piece=piece).picture().encoded
    apart = made_of.reshape(PIECE, len(stops), PIECE, 3).swapaxes(0, 1)
    return apart[:, :, RIM:-RIM]

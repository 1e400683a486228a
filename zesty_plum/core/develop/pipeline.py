"""The whole way from a scene and a look to a picture, stage by stage."""

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..base.arrays import MID_GREY, Array, Bytes8, Mask
from ..base.late import library
from ..colour.lab import encoded_to_lab
from ..colour.spaces import LUMA_709, srgb_encode
from ..look import Look, Sensor
from ..scenes.frame import Frame
from ..scenes.scene import Scene
from ..styles import plain
from . import learnt, local, moving, point, recorded, sense, table, tone
from .part import Part, Where, all_of, amid
from .taking import exposed, lift, make_point, table_key
from .way import Way

cv2 = library("cv2")

SMALL = 320  # pixels across up to which a coarse table does
WIDE = 400  # pixels across at most of the copy on which colour is judged
OVERVIEW = 480  # pixels across of a large picture's small copy, for stages that look far
MANY = 6_000_000  # pixels from which a picture goes through in strips
# Rows of a strip at most, a multiple of 16, as margins are: the noise filter's half-size planes and
# its map of noise fall on the same places; and its pixels, whose array the C library keeps for the
# next one (`allocator`).
TALL, STRIP = 960, 2_600_000
USUAL_LENS = 40.0  # mm on a frame 36 mm wide, where a scene names none
Strip = tuple[int, int, int, int]  # top, end, first, last


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
        self._where = self._lies(scene, light.shape, frame, full_detail, piece is not None)
        corners = None
        if made.style.learnt and scene.headroom is not None and piece is None:
            corners = learnt.corners(made.style.learnt, light.shape, self._where)
        self._way = Way(
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
            self._falls(scene, look, sensor) if piece is None else None,
        )
        self._strips, self._whole = _strips(self._height, self._width, local.reach(look)), None
        if len(self._strips) > 1 and local.looks_far(look):
            # What is a large area is found on the whole picture, small.
            bare = develop(scene, local.without(look), sensor, OVERVIEW, seed)
            self._whole = np.asarray(bare.encoded @ LUMA_709, np.float32)

    def _falls(self, scene: Scene, look: Look, sensor: Sensor) -> sense.Fall | None:
        """How light falls off; not in a picture that a lens has taken already."""
        if self._exposure is None:
            return None
        aperture, lens = self._exposure.aperture, scene.lens or USUAL_LENS
        return sense.Fall(
            sense.falling(sensor, aperture, lens, look.corners),
            self._where.down(0, self._height) ** 2,
            np.repeat(self._where.across(self._width) ** 2, 3),
        )

    def _lies(
        self, scene: Scene, shape: tuple[int, ...], frame: int, detail: bool, piece: bool
    ) -> Where:
        """Where the picture lies in its frame; a scene's detail plate is taken for its middle, for
        it was rendered apart."""
        if piece or (detail and scene.plate is not None):
            width, height = scene.size
            return amid(shape, frame, frame * height / width)
        if not detail:
            return all_of(shape)
        left, top, _, _ = scene.crop(shape[1], shape[0])
        return Where(top, left, *scene.frame.shape[:2])

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
        (top, end, first, last), way = strip, self._way
        sensed = way.sensed(top, end)
        # Of the margin, what the stages after the table need; a multiple of 4, as their maps are.
        near = 4 * math.ceil(local.reach(self._look) / 4)
        sensed = sensed[max(0, first - near - top) : last + near - top]
        top = max(top, first - near)
        luma = np.empty(sensed.shape[:2], np.float32)
        encoded = sensed if sensed.flags.writeable else np.empty_like(sensed)
        self._table.apply(sensed, luma, encoded)
        part = Part(way.frame, top, self._height, self._where, self._whole, way.pitch, encoded)
        inner = slice(first - top, last - top)
        exact = encoded[inner] if exact is None else exact
        way.finish(encoded, luma, part, inner, (exact, pixels, marks))
        if self._as_written:
            exact[:] = recorded.as_file(exact, self._look, way.frame, self._across)
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

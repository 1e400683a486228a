"""The way of a picture's rows: from the light of the scene to the table of tone and colour, and
from there through the stages that change only brightness to bytes."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base import bands
from ..base.arrays import Array, Bytes8
from ..base.cache import BoundedCache
from ..colour.spaces import REC2020_TO_SRGB
from ..look import Look, Sensor
from ..scenes.frame import Frame
from ..scenes.scene import Scene
from . import gamut, grain, kernels, learnt, local, photosites, point, reduce_noise, sense
from .part import Part

_REACH = gamut.reach(REC2020_TO_SRGB)
# Rows after which noise and grain come again; nobody sees it, and memory stays bounded
REPEAT = 1024
# Bytes of light that was sensed: some pictures of the Bench, or many of strips.
MOST_KEPT = 20 * 2**20
_NONE = sense.Fall(np.zeros((2, 4), np.float32), *(np.zeros(1, np.float32),) * 2)
# Beside each the frame that it came from, so that no other takes its number.
_sensed: BoundedCache[tuple[Any, Array]] = BoundedCache(MOST_KEPT, lambda kept: kept[1].nbytes)
Into = tuple[Array, Bytes8, Bytes8]  # places for rows: encoded, pixels, marks


@dataclass(frozen=True)
class Way:
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
    fall: sense.Fall | None  # of light towards the corners, where a lens is before the sensor

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
            look.colour_filter, look.corners, self.frame, self.pitch, self.seed,
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
        fall = self.fall or _NONE
        down = fall.down[first : first + height]

        def work(top: int, end: int) -> None:
            band, now = slice(top, end), 2.0**self.lift
            kernels.sense_to_log(
                rows[band],
                noise,
                first + top,
                encoded[band],
                now,
                *law,
                matrices,
                _REACH,
                scale,
                fall.law,
                down[band],
                fall.across,
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

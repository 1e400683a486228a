"""The point stages as one function of a colour, and its bake into a table that a fast library applies."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import PyOpenColorIO as ocio

from ..arrays import MID_GREY, Array, Matrix
from ..colour.spaces import REC2020_TO_SRGB, srgb_decode, srgb_encode
from ..look import Look
from ..styles import Style, plain
from . import bend, colouring, gamut, tone

FINISHED_WHITE = 3.0  # stops from mid grey to white in a picture that came in finished
DARKEST = MID_GREY * 2.0**-8  # added before the logarithm, so that black has a place on the scale
FINE, COARSE = 33, 17  # points a side of the cube
RAMP = 2048  # entries of the tone table in front of it
LEAN = 1e-4  # slope kept where the shoulder is flat, so that the ramp can be read backwards


@dataclass(frozen=True)
class Point:
    """Everything that turns one scene colour into one display colour."""

    look: Look
    style: Style
    white: float
    matrix: tuple[tuple[float, ...], ...]
    finished: bool

    def develop(self, rgb: Array) -> Array:
        """Balanced light (..., 3) to encoded sRGB: linear Rec.2020, or linear sRGB when finished."""
        if not self.finished:
            rgb = gamut.enter(rgb, REC2020_TO_SRGB)
        return srgb_encode(self._colour(self._tone(rgb)))

    def _curve(self, light: Array) -> Array:
        stops = np.log2(np.maximum(light, 1e-9) / np.float32(MID_GREY))
        bent = bend.bend(stops, self.look.highlights, self.look.shadows, self.white)
        display = tone.display(bent, self.style.tone, self.white)
        film = tone.Film(self.look.black_level, self.look.knee_point, self.look.knee_slope)
        if film.black_level or (film.knee_slope and film.knee_point < 1):
            display = srgb_decode(tone.filmed(srgb_encode(display), film))
        return display

    def grey_curve(self, light: Array) -> Array:
        """Encoded value 0 to 1 of grey scene light (...,), black level included."""
        return srgb_encode(tone.lift(self._curve(light), self.style.tone))

    def _tone(self, rgb: Array) -> Array:
        return tone.apply(rgb, self.style.tone, _curve_of(self))

    def _colour(self, display: Array) -> Array:
        spread = 1 + 0.25 * self.style.tone.keep_hue
        look = self.look
        change = colouring.Change(look.saturation, look.phase, look.density, look.depth, look.mono_filter)
        return colouring.colour(display, self.style.colouring, change, spread)

    def finish(self, encoded: Array) -> Array:
        """A finished picture's encoded sRGB (..., 3) to this look's: back to light, expose, balance, develop."""
        light = tone.undo(srgb_decode(encoded), plain().tone, FINISHED_WHITE)
        light = light * np.float32(2.0**self.look.exposure)
        matrix = np.array(self.matrix)
        if not np.allclose(matrix, np.eye(3), atol=1e-9):
            light = gamut.enter(light, matrix)
        return self.develop(light)

    # ---- the bake -------------------------------------------------------------------------------------------
    @property
    def log_range(self) -> tuple[float, float]:
        """log2 of light at the two ends of the shaper."""
        return float(np.log2(DARKEST)), float(np.log2(MID_GREY * 2.0**self.white + DARKEST))

    def shaper_to_light(self, x: Array) -> Array:
        """Place on the shaper, 0 to 1, to light."""
        low, high = self.log_range
        return np.asarray(np.exp2(low + x * (high - low)) - DARKEST, np.float32)

    def light_to_shaper(self, light: Array) -> Array:
        """Inverse of `shaper_to_light`, clipped to 0 to 1: this is where the sensor clips."""
        low, high = self.log_range
        return np.clip((np.log2(np.maximum(light, 0) + DARKEST) - low) / (high - low), 0, 1).astype(np.float32)

    def ramp(self) -> Array:
        """Tone as a one-dimensional table (RAMP,) over the shaper: encoded grey, 0 to 1, strictly increasing.

        With it in front the cube only has colour left to do, and greys come out exact.
        """
        place = np.linspace(0, 1, RAMP, dtype=np.float64)
        grey = srgb_encode(self._curve(self.shaper_to_light(place.astype(np.float32)))).astype(np.float64)
        grey = (grey - grey[0]) / (grey[-1] - grey[0])
        return np.asarray(grey * (1 - LEAN) + place * LEAN)

    def table(self, size: int = FINE) -> Array:
        """The look as a (size, size, size, 3) table indexed [red, green, blue].

        Its input is what `ramp` makes of balanced light, or for a finished picture its encoded sRGB.
        """
        steps = np.linspace(0, 1, size, dtype=np.float32)
        if not self.finished:
            steps = self.shaper_to_light(np.interp(steps, self.ramp(), np.linspace(0, 1, RAMP)).astype(np.float32))
        grid = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), -1)
        return self.finish(grid) if self.finished else self.develop(grid)


@lru_cache(maxsize=48)
def _curve_of(made: Point) -> Array:
    return tone.curve_table(made._curve, made.white)


@lru_cache(maxsize=24)
def applier(point: Point, size: int = FINE) -> "ocio.CPUProcessor":
    """A table applier (tetrahedral) for the look; `applyRGB` works in place on contiguous float32."""
    transform = ocio.GroupTransform()
    if not point.finished:
        ramp = ocio.Lut1DTransform(length=RAMP, inputHalfDomain=False)
        ramp.setInterpolation(ocio.INTERP_LINEAR)
        ramp.setData(np.repeat(point.ramp().astype(np.float32), 3))
        transform.appendTransform(ramp)
    cube = ocio.Lut3DTransform(gridSize=size)
    cube.setInterpolation(ocio.INTERP_TETRAHEDRAL)
    cube.setData(point.table(size).ravel())
    transform.appendTransform(cube)
    config = ocio.Config.CreateRaw()
    config.setProcessorCacheFlags(ocio.PROCESSOR_CACHE_OFF)
    return config.getProcessor(transform).getDefaultCPUProcessor()


def as_tuple(matrix: Matrix) -> tuple[tuple[float, ...], ...]:
    """A matrix that can be a key."""
    return tuple(tuple(round(float(v), 12) for v in row) for row in matrix)

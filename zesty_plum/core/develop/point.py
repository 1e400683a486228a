"""The point stages as one function of a colour, and the ramp and cube it bakes into (`table`)."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..arrays import MID_GREY, Array, Matrix
from ..colour.spaces import REC2020_TO_SRGB, srgb_decode, srgb_encode
from ..look import Look
from ..styles import Style, plain
from . import bend, colouring, gamut, tone

FINISHED_WHITE = 3.0  # stops from mid grey to white in a picture that came in finished
DARKEST = MID_GREY * 2.0**-8  # added before the logarithm, so that black has a place on the scale
COARSE, FINE, FINEST = 17, 37, 65  # points a side of the cube, for small, usual and large pictures
FILED = 33  # the same in a LUT file, and for finished pictures, which so show what the file will do
RAMP = 2048  # entries of the tone table in front of it
LEAN = (0.25, 0.1)  # how far the cube's axis leans from encoded grey towards stops, and towards white, where the gamut narrows
LEAST_LEAN = 1e-4  # keeps the axis rising where the shoulder is flat
_PLACES = np.linspace(0, 1, RAMP)


@dataclass(frozen=True)
class Point:
    """Everything that turns one scene colour into one display colour."""

    look: Look
    style: Style
    white: float
    matrix: tuple[tuple[float, ...], ...]
    finished: bool

    def develop(self, rgb: Array) -> Array:
        """Balanced light (..., 3) to encoded sRGB: linear Rec.2020, or linear sRGB when finished.

        A channel that the step into the display's primaries throws beyond the clip point stays there.
        """
        return self._display(rgb if self.finished else np.minimum(gamut.enter(rgb, REC2020_TO_SRGB), self.clip))

    def _display(self, rgb: Array) -> Array:
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
    def clip(self) -> float:
        """Light at which the sensor clips."""
        return float(MID_GREY * 2.0**self.white)

    @property
    def log_range(self) -> tuple[float, float]:
        """log2 of light at the two ends of the shaper; above it, in the display's primaries, all is white."""
        return float(np.log2(DARKEST)), float(np.log2(self.clip + DARKEST))

    def shaper_to_light(self, x: Array) -> Array:
        """Place on the shaper, 0 to 1, to light in the display's primaries."""
        low, high = self.log_range
        return np.asarray(np.exp2(low + x * (high - low)) - DARKEST, np.float32)

    def to_shaper(self, rgb: Array) -> Array:
        """Balanced light (..., 3), linear Rec.2020, clipped by the sensor, to places on the shaper."""
        low, high = self.log_range
        entered = gamut.enter(np.clip(rgb, 0, self.clip), REC2020_TO_SRGB)
        return np.asarray(np.minimum((np.log2(entered + DARKEST) - low) / (high - low), 1), np.float32)

    def ramp(self) -> tuple[Array, Array]:
        """Two one-dimensional tables (RAMP,) over the shaper: encoded grey, and the place in the cube, both 0 to 1.

        The cube holds what colour adds to the first, so greys come out exact; of a monochrome style it holds all. The second
        leans away from grey and gives the cube room at both ends, where tone is flat and colour still moves.
        """
        return _ramp_of(self)

    def table(self, size: int) -> Array:
        """The look on a (size, size, size, 3) grid of its places in the cube, or of a finished picture's encoded sRGB."""
        steps = np.linspace(0, 1, size, dtype=np.float32)
        if not self.finished:
            steps = self.shaper_to_light(np.interp(steps, self.ramp()[1], _PLACES).astype(np.float32))
        grid = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), -1)
        return self.finish(grid) if self.finished else self._display(grid)


@lru_cache(maxsize=48)
def _ramp_of(made: Point) -> tuple[Array, Array]:
    grey = srgb_encode(made._curve(made.shaper_to_light(_PLACES.astype(np.float32)))).astype(np.float64)
    even = (grey - grey[0]) / (grey[-1] - grey[0])
    if made.style.colouring.mono is not None:
        # One value for all channels: what a cube adds to three would leave a trace of colour.
        return np.zeros(RAMP), (1 - LEAST_LEAN) * even + LEAST_LEAN * _PLACES
    return grey, (1 - sum(LEAN)) * even + LEAN[0] * _PLACES + LEAN[1] * (1 - np.sqrt(np.maximum(1 - even, 0)))


@lru_cache(maxsize=48)
def _curve_of(made: Point) -> Array:
    return tone.curve_table(made._curve, made.white)


def as_tuple(matrix: Matrix) -> tuple[tuple[float, ...], ...]:
    """A matrix that can be a key."""
    return tuple(tuple(round(float(v), 12) for v in row) for row in matrix)

"""The point stages as one function of a colour, and the ramp and cube it bakes into (`table`)."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..base.arrays import MID_GREY, Array, Matrix
from ..colour.spaces import REC2020_TO_SRGB, srgb_decode, srgb_encode
from ..look import Look
from ..styles import Style, plain
from ..styles.learnt import Learnt
from ..styles.parameters import Tone
from . import colouring, gamut, learnt, tone

FINISHED_WHITE = 3.0  # stops from mid grey to white in a picture that came in finished
DARKEST = MID_GREY * 2.0**-8  # added before the logarithm, so that black has a place on the scale
COARSE, FINE = 33, 53  # points a side of the cube, for small pictures and others
FILED = 33  # the same in a LUT file, and for finished pictures, which so show what the file will do
RAMP = 2048  # entries of the tone table in front of it
LEAN = (
    0.45,
    0.18,
    # how far the cube's axis leans from encoded grey towards stops, and towards white, where the
    # gamut narrows
)
HELD = 0.1  # how far beyond the display a hue that is kept can throw chroma
ALL_SHOWN = float(-np.log2(MID_GREY))  # stops from mid grey to all that a display shows
LEAST_LEAN = 1e-4  # keeps the axis rising where the shoulder is flat
_PLACES = np.linspace(0, 1, RAMP)


@dataclass(frozen=True)
class Curve:
    """A grey curve: a style's tone bent by highlights and shadows, with a film's ends. Looks that
    differ in colour share it."""

    base: Tone
    film: tone.Film
    highlights: float
    shadows: float
    white: float
    learnt: Learnt | None = None

    def display(self, light: Array) -> Array:
        """Display light 0 to 1 of grey scene light (...,), over black."""
        if self.learnt:
            return self.bent(learnt.grey(learnt.roomy(light, self.white, self.learnt), self.learnt))
        return self._shaped(light)

    @property
    def bends(self) -> bool:
        """Whether dials bend a curve that was learnt."""
        still = tone.Film(knee_point=self.film.knee_point)
        return self.film != still or bool(self.highlights or self.shadows)

    def bent(self, shown: Array) -> Array:
        """What dials make of display light (...,) that a learnt curve shows: as they would of the
        reference where that shows it."""
        if not self.bends:
            return shown
        return self._shaped(tone.undo(shown, self.base, self.white))

    def _shaped(self, light: Array) -> Array:
        stops = np.log2(np.maximum(light, 1e-9) / np.float32(MID_GREY))
        shown = tone.display(stops, self.base, self.white, self.highlights, self.shadows)
        if self.film != tone.Film(knee_point=self.film.knee_point):
            shown = srgb_decode(tone.filmed(srgb_encode(shown), self.film))
        return shown


def _log_range(clip: float) -> tuple[float, float]:
    return float(np.log2(DARKEST)), float(np.log2(clip + DARKEST))


def _shaper_to_light(x: Array, clip: float) -> Array:
    low, high = _log_range(clip)
    return np.asarray(np.exp2(low + x * (high - low)) - DARKEST, np.float32)


@lru_cache(maxsize=48)
def _grey_ramp(curve: Curve) -> tuple[Array, Array]:
    """Places in the cube and encoded grey along the shaper."""
    light = _shaper_to_light(_PLACES.astype(np.float32), MID_GREY * 2.0**curve.white)
    grey = srgb_encode(curve.display(light)).astype(np.float64)
    even = (grey - grey[0]) / (grey[-1] - grey[0])
    return (1 - sum(LEAN)) * even + LEAN[0] * _PLACES + LEAN[1] * (
        1 - np.sqrt(np.maximum(1 - even, 0))
    ), grey


@lru_cache(maxsize=48)
def _curve_table(curve: Curve) -> Array:
    if curve.learnt:  # which has shown colours already: from display light to display light
        return tone.curve_table(curve.bent, ALL_SHOWN)
    return tone.curve_table(curve.display, curve.white)


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

        A channel that the step into the display's primaries throws beyond the clip point stays
        there.
        """
        return self._display(
            rgb if self.finished else np.minimum(gamut.enter(rgb, REC2020_TO_SRGB), self.clip)
        )

    def _display(self, rgb: Array) -> Array:
        return srgb_encode(self._colour(self._tone(rgb), rgb))

    @property
    def curve(self) -> "Curve":
        """What it does to greys, over black."""
        look = self.look
        film = tone.Film(
            look.black_level, look.knee_point, look.knee_slope, look.brights, look.darks
        )
        return Curve(
            self.style.tone, film, look.highlights, look.shadows, self.white, self.style.learnt
        )

    def grey_curve(self, light: Array) -> Array:
        """Encoded value 0 to 1 of grey scene light (...,), black level included."""
        return srgb_encode(tone.lift(self.curve.display(light), self.style.tone))

    @property
    def shown_white(self) -> float:
        """Encoded value of light that clips: 1, or less where a log curve keeps room."""
        return float(self.grey_curve(np.array([self.clip]))[0])

    def _tone(self, rgb: Array) -> Array:
        if self.style.learnt:
            rgb = learnt.display(
                learnt.roomy(rgb, self.white, self.style.learnt), self.style.learnt
            )
            if not self.curve.bends:
                return rgb
        return tone.apply(rgb, self.style.tone, _curve_table(self.curve))

    def _colour(self, display: Array, light: Array) -> Array:
        how = self.style.tone
        spread = 1 + 0.25 * how.keep_hue + HELD * how.hold_hue
        look = self.look
        change = colouring.Change(
            look.saturation,
            look.phase,
            look.density,
            look.depth,
            look.families,
            look.mono_filter,
        )
        if self.style.learnt:
            # It shows nothing that a display cannot, and cameras let full colours clip.
            spread = 1.0 if change.none else 0.0
        held = colouring.Held(light, how.hold_hue, self.clip) if how.hold_hue else None
        return colouring.colour(display, self.style.colouring, change, spread, held)

    def finish(self, encoded: Array) -> Array:
        """A finished picture's encoded sRGB (..., 3) to this look's: back to light, expose,
        balance, develop."""
        light = tone.undo(srgb_decode(encoded), plain().tone, FINISHED_WHITE)
        light = light * np.float32(2.0**self.look.exposure)
        matrix = np.array(self.matrix)
        if not np.allclose(matrix, np.eye(3), atol=1e-9):
            light = gamut.enter(light, matrix)
        return self.develop(light)

    # ---- the bake --------------------------------------------------------------------------------
    @property
    def clip(self) -> float:
        """Light at which the sensor clips."""
        return float(MID_GREY * 2.0**self.white)

    @property
    def log_range(self) -> tuple[float, float]:
        """log2 of light at the two ends of the shaper; above it, in the display's primaries, all is
        white."""
        return _log_range(self.clip)

    def shaper_to_light(self, x: Array) -> Array:
        """Place on the shaper, 0 to 1, to light in the display's primaries."""
        return _shaper_to_light(x, self.clip)

    def to_shaper(self, rgb: Array) -> Array:
        """Balanced light (..., 3), linear Rec.2020, clipped by the sensor, to places on the
        shaper."""
        low, high = self.log_range
        entered = gamut.enter(np.clip(rgb, 0, self.clip), REC2020_TO_SRGB)
        return np.asarray(
            np.minimum((np.log2(entered + DARKEST) - low) / (high - low), 1), np.float32
        )

    def ramp(self) -> tuple[Array, Array]:
        """Two one-dimensional tables (RAMP,) over the shaper: encoded grey, and the place in the
        cube, both 0 to 1.

        The cube holds what colour adds to the first, so greys come out exact; of a monochrome style
        it holds all. The second leans away from grey and gives the cube room at both ends, where
        tone is flat and colour still moves.
        """
        places, grey = _grey_ramp(self.curve)
        if self.style.colouring.mono is None:
            return grey, places
        # One value for all channels: what a cube adds to three would leave a trace of colour.
        even = (grey - grey[0]) / (grey[-1] - grey[0])
        return np.zeros(RAMP), (1 - LEAST_LEAN) * even + LEAST_LEAN * _PLACES

    def axis(self, size: int) -> Array:
        """What the `size` places along an axis of the cube stand for (size,): light in the
        display's primaries, or a finished picture's encoded sRGB."""
        steps = np.linspace(0, 1, size, dtype=np.float32)
        if self.finished:
            return steps
        return self.shaper_to_light(np.interp(steps, self.ramp()[1], _PLACES).astype(np.float32))

    def at(self, colours: Array) -> Array:
        """Encoded sRGB of colours (..., 3) whose channels are values of `axis`."""
        return self.finish(colours) if self.finished else self._display(colours)

    def table(self, size: int) -> Array:
        """The look on the whole grid (size, size, size, 3), red slowest."""
        steps = self.axis(size)
        return self.at(np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), -1))


def as_tuple(matrix: Matrix) -> tuple[tuple[float, ...], ...]:
    """A matrix that can be a key."""
    return tuple(tuple(round(float(v), 12) for v in row) for row in matrix)

"""A look: what a recipe means, in units that no body owns.

Only looks are rendered and measured. Bodies turn dial values into a look (see `bodies`). Every
field says of itself, in one declaration, what the rest of the program has to know of it: where on
the way it acts, how small a change of it is just seen, which gauge shows it, and what a LUT or
another body without it leaves out. Nothing else lists fields.
"""

import math
from dataclasses import dataclass, field, fields
from enum import StrEnum
from functools import cache
from typing import Any

from . import seen


class Balance(StrEnum):
    """Where the white that becomes neutral is taken from."""

    AUTO = "auto"
    KEEP_WARM = "keep_warm"
    FIXED = "fixed"
    GREY_CARD = "grey_card"


class Metering(StrEnum):
    """How the exposure is found. `HAND` is a grey card or light meter at the subject, the same for
    every recipe."""

    HAND = "hand"
    FRAME = "frame"
    CENTRE = "centre"
    SPOT = "spot"
    HIGHLIGHTS = "highlights"


class Stage(StrEnum):
    """Where on the way from light to file a field acts."""

    BEFORE = "before"  # on light: exposure, sensor, balance
    TABLE = "table"  # on single colours: tone and colour, baked into a table
    NEIGHBOURS = "neighbours"  # on pixels and those around them
    FILE = "file"  # on code values, as they are written


class Gauge(StrEnum):
    """The gauges of the Bench."""

    TONE = "tone"
    HUES = "hues"
    LIGHT = "light"
    NOISE = "noise"
    EDGE = "edge"
    GRAIN = "grain"
    CODES = "codes"


@dataclass(frozen=True, slots=True)
class About:
    """What is known of a field.

    stage : where it acts. gauge : what shows it. seen : the change of it that is just seen side by
    side, in its own unit, for `ratio` in octaves, and for choices the number of such changes that
    another choice makes; infinite where nobody sees it in a picture.
    called : the feature in words, for a body or a file that does not have it; empty where nothing
    needs saying. fine : whether it shows only at 100 percent. in_lut : whether a LUT can hold it.
    only_with : another field, at whose rest this one has no say. taking : whether it has a say only
    while the picture is taken, and none on one that is exposed already.
    """

    stage: Stage
    gauge: Gauge
    seen: float
    called: str = ""
    fine: bool = False
    in_lut: bool = True
    ratio: bool = False
    only_with: str = ""
    taking: bool = False

    def apart(self, first: Any, second: Any) -> float:
        """How many just visible changes lie between two values of the field."""
        if first == second or math.isinf(self.seen):
            return 0.0
        if isinstance(first, str | bool):
            return self.seen
        change: float = math.log2(first / second) if self.ratio else first - second
        return abs(change) / self.seen


def _says(
    default: Any, stage: Stage, gauge: Gauge, least: float, called: str = "", **more: Any
) -> Any:
    return field(default=default, metadata={"about": About(stage, gauge, least, called, **more)})


def _before(default: Any, gauge: Gauge, least: float, called: str = "", **more: Any) -> Any:
    return _says(default, Stage.BEFORE, gauge, least, called, **more)


def _taking(default: Any, gauge: Gauge, least: float, called: str = "", **more: Any) -> Any:
    return _before(default, gauge, least, called, in_lut=False, taking=True, **more)


def _table(default: Any, gauge: Gauge, least: float, called: str = "") -> Any:
    return _says(default, Stage.TABLE, gauge, least, called)


def _local(default: Any, gauge: Gauge, least: float, called: str = "", **more: Any) -> Any:
    return _says(default, Stage.NEIGHBOURS, gauge, least, called, in_lut=False, **more)


def _file(default: Any, least: float, **more: Any) -> Any:
    return _says(default, Stage.FILE, Gauge.CODES, least, in_lut=False, **more)


@dataclass(frozen=True, slots=True)
class Look:
    """Canonical parameters.

    metering : how the exposure is found. exposure : stops added to what it says.
    iso_least, iso_most : limits of the automatic ISO; 0 is the sensor's own.
    aperture, slowest : a fixed f-number, and the slowest time in seconds; 0 is automatic.
    dark_frame : whether long exposures are followed by a dark one that is taken off.
    rate : pictures a second of a clip.
    style : id of a picture style.
    guard : stops of highlight room added by exposing less.
    balance, light_mired : source of white; for `FIXED` the light's colour temperature in mired.
    shift_mired, shift_duv : shift away from neutral, plus is warmer and greener.
    highlights, shadows : the shoulder from its softest (-1) to its hardest (1), and stops that deep
    shadows move; plus is brighter, see `bend`.
    black_level, knee_point, knee_slope : film-style ends of the curve, see `tone.Film`.
    brights, darks : most that encoded values move two thirds and one third of the way up, see
    `tone.Film`.
    saturation : factor on chroma, 0 is neutral. phase : degrees that hues turn.
    density : 0 to 1, full colours darken.
    depth_red .. depth_magenta : depth of six hues, plus is deeper; depth_skin .. depth_fire : of
    four families, see `colouring.FAMILIES`. mono_filter : filter before a monochrome style.
    softening : share of skin's fine texture taken away, 0 to 1.
    clarity : share of local contrast added; minus softens.
    sharpness : share of fine detail added back; minus softens.
    noise_filter, colour_filter : thresholds for brightness and colour, in multiples of the noise
    present.
    grain : RMS at mid grey as a share of full scale; grain_size : photosites across.
    corners : share of the lens's falling off towards the corners that is made up for, 0 to 1.
    clip : moving pictures, not stills; bits, limited : how code values are written; chroma : 444,
    422 or 420, how many of its colours a file keeps; frame_size : pixels across of a clip;
    bit_rate : its megabits a second.
    """

    metering: Metering = _taking(Metering.HAND, Gauge.TONE, 0.5)
    exposure: float = _before(0.0, Gauge.TONE, 0.1)
    iso_least: float = _taking(0.0, Gauge.NOISE, math.inf, fine=True)
    iso_most: float = _taking(0.0, Gauge.NOISE, math.inf, fine=True)
    aperture: float = _taking(0.0, Gauge.NOISE, math.inf)
    slowest: float = _taking(0.0, Gauge.NOISE, math.inf)
    dark_frame: bool = _taking(False, Gauge.NOISE, math.inf, fine=True)
    corners: float = _taking(1.0, Gauge.TONE, 0.35, "corner correction")
    rate: float = _taking(25.0, Gauge.NOISE, math.inf, only_with="clip")
    style: str = _table("plain", Gauge.TONE, 3.0)
    guard: float = _taking(0.0, Gauge.TONE, 1.3, "guard for highlights")
    balance: Balance = _before(Balance.AUTO, Gauge.LIGHT, 1.0)
    light_mired: float = _before(1e6 / 5300, Gauge.LIGHT, seen.MIRED, only_with="balance")
    shift_mired: float = _before(0.0, Gauge.LIGHT, seen.MIRED)
    shift_duv: float = _before(0.0, Gauge.LIGHT, seen.DUV)
    highlights: float = _table(0.0, Gauge.TONE, 0.125)
    shadows: float = _table(0.0, Gauge.TONE, 0.3)
    black_level: float = _table(0.0, Gauge.TONE, 0.02, "black level")
    knee_point: float = _table(1.05, Gauge.TONE, 0.1, "knee")
    knee_slope: float = _says(0.0, Stage.TABLE, Gauge.TONE, 0.5, "knee", only_with="knee_point")
    brights: float = _table(0.0, Gauge.TONE, 0.01, "tones bent as shown")
    darks: float = _table(0.0, Gauge.TONE, 0.01, "tones bent as shown")
    saturation: float = _table(1.0, Gauge.HUES, seen.SHARE)
    phase: float = _table(0.0, Gauge.HUES, 3.0, "colour phase")
    density: float = _table(0.0, Gauge.HUES, 0.3, "density")
    depth_red: float = _table(0.0, Gauge.HUES, 1.5, "depth by hue")
    depth_yellow: float = _table(0.0, Gauge.HUES, 1.5, "depth by hue")
    depth_green: float = _table(0.0, Gauge.HUES, 1.5, "depth by hue")
    depth_cyan: float = _table(0.0, Gauge.HUES, 1.5, "depth by hue")
    depth_blue: float = _table(0.0, Gauge.HUES, 1.5, "depth by hue")
    depth_magenta: float = _table(0.0, Gauge.HUES, 1.5, "depth by hue")
    depth_skin: float = _table(0.0, Gauge.HUES, 1.2, "depth of skin")
    depth_fire: float = _table(0.0, Gauge.HUES, 2.4, "depth of fire and rust")
    depth_leaves: float = _table(0.0, Gauge.HUES, 1.2, "depth of leaves")
    depth_water: float = _table(0.0, Gauge.HUES, 1.2, "depth of sky and water")
    mono_filter: str = _table("none", Gauge.HUES, 2.0, "filter for monochrome")
    softening: float = _local(0.0, Gauge.EDGE, 0.3, "softening of skin", fine=True)
    clarity: float = _local(0.0, Gauge.EDGE, 0.11, "clarity")
    sharpness: float = _local(0.0, Gauge.EDGE, 0.09, "sharpness", fine=True)
    noise_filter: float = _local(0.0, Gauge.NOISE, 2.0, "noise reduction", fine=True)
    colour_filter: float = _local(0.0, Gauge.NOISE, 4.0, "noise reduction", fine=True)
    grain: float = _local(0.0, Gauge.GRAIN, seen.GRAIN, "grain", fine=True)
    grain_size: float = _local(1.5, Gauge.GRAIN, 0.5, fine=True, ratio=True, only_with="grain")
    clip: bool = _before(False, Gauge.CODES, math.inf, in_lut=False)
    bits: int = _file(8, 8.0)
    limited: bool = _file(False, 0.5)
    chroma: int = _file(420, math.inf, fine=True)
    frame_size: int = _file(1920, math.inf, fine=True, only_with="clip")
    bit_rate: float = _file(100.0, math.inf, fine=True, only_with="clip")

    @property
    def depth(self) -> tuple[float, ...]:
        """Depth of the six hues, red first, around the circle."""
        return (
            self.depth_red,
            self.depth_yellow,
            self.depth_green,
            self.depth_cyan,
            self.depth_blue,
            self.depth_magenta,
        )

    @property
    def families(self) -> tuple[float, ...]:
        """Depth of the four families, as in `colouring.FAMILIES`."""
        return self.depth_skin, self.depth_fire, self.depth_leaves, self.depth_water


@cache
def about() -> dict[str, About]:
    """What is known of every field of a look, in their order."""
    return {f.name: f.metadata["about"] for f in fields(Look)}


@cache
def at_rest(*stages: Stage) -> dict[str, Any]:
    """The fields that act at some stages, where they change nothing; of all where none is named."""
    rest = Look()
    return {n: getattr(rest, n) for n, a in about().items() if not stages or a.stage in stages}


def missing(look: Look, held: set[str]) -> list[str]:
    """Features of a look, in words, that something leaves out which holds the `held` fields
    only."""
    left = {n: a for n, a in about().items() if n not in held and a.called}
    moved = [a.called for n, a in left.items() if getattr(look, n) != at_rest()[n]]
    return list(dict.fromkeys(moved))


@dataclass(frozen=True, slots=True)
class Sensor:
    """What a body's sensor does to light.

    base_iso : lowest ISO. headroom : stops from mid grey to clipping without guard.
    electrons : at mid grey and base ISO, per photosite. read_noise : electrons RMS.
    width : photosites across the frame. second_iso, second_read_noise : the second native ISO, from
    which on the read noise is lower; 0 if there is none. widest, narrowest : f-numbers of its usual
    lens. fastest : shortest time in seconds. steady : stops that hands may be slower thanks to
    stabilisation. flash_sync : shortest time with flash; 0 where it is not known. vignette : stops
    that the usual lens takes from the corners when it is wide open, beside what every lens does.
    readout : seconds from the first row of a frame to the last with the electronic shutter; 0 where
    it is not known.
    """

    base_iso: float
    headroom: float
    electrons: float
    read_noise: float
    width: int
    top_iso: float = 12800.0
    second_iso: float = 0.0
    second_read_noise: float = 0.0
    widest: float = 2.8
    narrowest: float = 16.0
    fastest: float = 1 / 4000
    steady: float = 0.0
    flash_sync: float = 0.0
    vignette: float = 0.0
    readout: float = 0.0

    def electronics(self, iso: float) -> float:
        """Read noise in electrons at an ISO."""
        return (
            self.second_read_noise
            if self.second_iso and iso >= self.second_iso
            else self.read_noise
        )

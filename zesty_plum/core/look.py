"""A look: what a recipe means, in units that no body owns.

Only looks are rendered and measured. Bodies turn dial values into a look (see `bodies`).
"""

from dataclasses import dataclass
from enum import StrEnum


class Balance(StrEnum):
    """Where the white that becomes neutral is taken from."""

    AUTO = "auto"
    KEEP_WARM = "keep_warm"
    FIXED = "fixed"
    GREY_CARD = "grey_card"


class Metering(StrEnum):
    """How the exposure is found.

    `HAND` is a grey card or light meter at the subject, the same for every recipe.
    """

    HAND = "hand"
    FRAME = "frame"
    CENTRE = "centre"
    SPOT = "spot"
    HIGHLIGHTS = "highlights"


@dataclass(frozen=True, slots=True)
class Look:
    """Canonical parameters.

    metering : how the exposure is found. exposure : stops added to what it says.
    iso_least, iso_most : limits of the automatic ISO; 0 is the sensor's own.
    style : id of a picture style.
    guard : stops of highlight room added by exposing less.
    balance, light_mired : source of white; for `FIXED` the light's colour temperature in mired.
    shift_mired, shift_duv : shift away from neutral, plus is warmer and greener.
    highlights, shadows : strength of the bend above and below mid grey; plus is brighter.
    black_level, knee_point, knee_slope : film-style ends of the curve, see `tone.Film`.
    saturation : factor on chroma, 0 is neutral. phase : degrees that hues turn. density : 0 to 1,
    full colours darken.
    depth_red .. depth_magenta : depth of six hues, plus is deeper. mono_filter : filter before a
    monochrome style.
    clarity : share of local contrast added; minus softens.
    sharpness : share of fine detail added back; minus softens.
    noise_filter, colour_filter : thresholds for brightness and colour, in multiples of the noise
    present.
    grain : RMS at mid grey as a share of full scale; grain_size : share of frame width.
    clip : moving pictures, not stills; bits, limited : how their code values are written.
    """

    metering: Metering = Metering.HAND
    exposure: float = 0.0
    iso_least: float = 0.0
    iso_most: float = 0.0
    style: str = "plain"
    guard: float = 0.0
    balance: Balance = Balance.AUTO
    light_mired: float = 1e6 / 5300
    shift_mired: float = 0.0
    shift_duv: float = 0.0
    highlights: float = 0.0
    shadows: float = 0.0
    black_level: float = 0.0
    knee_point: float = 1.05
    knee_slope: float = 0.0
    saturation: float = 1.0
    phase: float = 0.0
    density: float = 0.0
    depth_red: float = 0.0
    depth_yellow: float = 0.0
    depth_green: float = 0.0
    depth_cyan: float = 0.0
    depth_blue: float = 0.0
    depth_magenta: float = 0.0
    mono_filter: str = "none"
    clarity: float = 0.0
    sharpness: float = 0.0
    noise_filter: float = 0.0
    colour_filter: float = 0.0
    grain: float = 0.0
    grain_size: float = 1 / 1400
    clip: bool = False
    bits: int = 8
    limited: bool = False

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


@dataclass(frozen=True, slots=True)
class Sensor:
    """What a body's sensor does to light.

    base_iso : lowest ISO. headroom : stops from mid grey to clipping without guard.
    electrons : at mid grey and base ISO, per photosite. read_noise : electrons RMS.
    width : photosites across the frame. second_iso, second_read_noise : the second native ISO, from
    which on the read noise is lower; 0 if there is none.
    """

    base_iso: float
    headroom: float
    electrons: float
    read_noise: float
    width: int
    top_iso: float = 12800.0
    second_iso: float = 0.0
    second_read_noise: float = 0.0

    def electronics(self, iso: float) -> float:
        """Read noise in electrons at an ISO."""
        return (
            self.second_read_noise
            if self.second_iso and iso >= self.second_iso
            else self.read_noise
        )

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


@dataclass(frozen=True, slots=True)
class Look:
    """Canonical parameters.

    exposure : stops added to a hand-metered exposure.
    style : id of a picture style.
    guard : stops of highlight room added by exposing less.
    balance, light_mired : source of white; for `FIXED` the light's colour temperature in mired.
    shift_mired, shift_duv : shift away from neutral, plus is warmer and greener.
    highlights, shadows : strength of the bend above and below mid grey; plus is brighter.
    saturation : factor on chroma, 0 is neutral.
    sharpness : share of fine detail added back; minus softens.
    noise_filter : threshold in multiples of the noise present.
    grain : RMS at mid grey as a share of full scale; grain_size : share of frame width.
    """

    exposure: float = 0.0
    style: str = "plain"
    guard: float = 0.0
    balance: Balance = Balance.AUTO
    light_mired: float = 1e6 / 5300
    shift_mired: float = 0.0
    shift_duv: float = 0.0
    highlights: float = 0.0
    shadows: float = 0.0
    saturation: float = 1.0
    sharpness: float = 0.0
    noise_filter: float = 0.0
    grain: float = 0.0
    grain_size: float = 1 / 1400


@dataclass(frozen=True, slots=True)
class Sensor:
    """What a body's sensor does to light.

    base_iso : lowest ISO. headroom : stops from mid grey to clipping without guard.
    electrons : at mid grey and base ISO, per photosite. read_noise : electrons RMS.
    width : photosites across the frame.
    """

    base_iso: float
    headroom: float
    electrons: float
    read_noise: float
    width: int
    top_iso: float = 12800.0

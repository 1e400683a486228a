"""Code values: how many a stop really gets, and what a grey card reads."""

import numpy as np

from ..base.arrays import MID_GREY
from ..base.errors import PlumError
from ..develop.tone import log_encoded
from ..styles import style, styles
from .light import checked

RANGES = {"full": (0.0, 1.0), "limited": (16 / 255, 235 / 255), "16-255": (16 / 255, 1.0)}
SRGB = "srgb"
BITS = (8, 10, 12, 14, 16)


def curves() -> list[str]:
    """Curves by name: the display's, and those of our log styles."""
    return [SRGB, *(s.id for s in styles().values() if s.tone.log_stops)]


def encoded(curve: str, light: float) -> float:
    """Encoded value, 0 to 1 of full range, of a light where mid grey is 0.18."""
    if curve == SRGB:
        return 12.92 * light if light <= 0.0031308 else 1.055 * light ** (1 / 2.4) - 0.055
    known = curves()
    if curve not in known:
        raise PlumError(f"There is no curve '{curve}'. There are {', '.join(known)}.")
    return float(log_encoded(np.array(light), style(curve).tone))


def codes(curve: str, bits: int, range_: str, light: float = MID_GREY) -> float:
    """Code values between a light and twice that, one stop."""
    if range_ not in RANGES:
        raise PlumError(f"A range is {', '.join(RANGES)}, not '{range_}'.")
    checked("Bits", bits, 8, 16)
    low, high = RANGES[range_]
    whole = 2.0**bits - 1
    return (encoded(curve, 2 * light) - encoded(curve, light)) * (high - low) * whole


def grey_level(curve: str) -> float:
    """What a grey card reads, in per cent of the range."""
    return 100 * encoded(curve, MID_GREY)

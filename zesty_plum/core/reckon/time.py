"""Time: shutter angle, flicker, slow motion, time lapse."""

import math
import re
from dataclasses import dataclass

from ..base.errors import PlumError
from ..fields import number as numbers
from .light import checked, ev100

LONGEST = 1 / 8  # seconds, up to which safe times are listed
MAINS = (50, 60)


def seconds(text: str) -> float:
    """Seconds of 1/125, 0.6, 20s, 5min or 2h."""
    found = numbers.seconds(text)
    if not found:
        raise PlumError(f"'{text[:20]}' is no time. Write it as 1/125, 0.6, 20s or 2h.")
    return found


_SAID = re.compile(
    r"f\s*/?\s*(?P<n>\d+(?:[.,]\d+)?)[\s,·]+(?P<t>(?:1/)?\d+(?:[.,]\d+)?)\s*s?[\s,·]+(?:iso\s*)?"
    r"(?P<iso>\d+)",
    re.IGNORECASE,
)


def measured(text: str) -> float:
    """EV at ISO 100 of what a camera said, as f/4 1/60 ISO 800; or of a number."""
    found = _SAID.fullmatch(text.strip())
    if found:
        aperture = numbers.number(found["n"]) or 0
        return ev100(aperture, seconds(found["t"]), float(found["iso"]))
    value = numbers.number(text)
    if value is None:
        raise PlumError(
            f"'{text[:30]}' is no light. Write an EV as 5.5, or what a camera said, as "
            "f/4 1/60 ISO 800."
        )
    return checked("An EV", value, -12, 24)


def by_angle(rate: float, angle: float = 180.0) -> float:
    """Seconds that a shutter of an angle is open at a rate: angle / 360 / rate."""
    return checked("An angle", angle, 1, 360) / 360 / checked("A rate", rate, 0.1, 10000)


def safe_times(mains: float, longest: float = LONGEST) -> list[float]:
    """Times at which lamps on the mains do not band, seconds, the shortest first: whole multiples
    of 1 / (2 f), for such lamps flicker at twice the mains' frequency."""
    beat = 1 / (2 * checked("The mains' frequency", mains, 40, 70))
    return [k * beat for k in range(1, int(longest / beat + 1e-9) + 1)]


def drifts(mains: float, rate: float) -> bool:
    """Whether brightness drifts from frame to frame at a rate: it does where the rate does not
    divide twice the mains' frequency."""
    beats = 2 * mains / checked("A rate", rate, 0.1, 10000)
    return abs(beats - round(beats)) > 1e-6


@dataclass(frozen=True)
class Slow:
    """factor : by how much slower; seconds : that so many recorded ones last."""

    factor: float
    seconds: float


def slower(record: float, timeline: float, seconds: float = 1.0) -> Slow:
    """Slow motion: recorded rate over timeline rate."""
    factor = checked("A rate", record, 0.1, 100000) / checked("A rate", timeline, 0.1, 10000)
    return Slow(factor, checked("Seconds", seconds, 0) * factor)


@dataclass(frozen=True)
class Lapse:
    """frames : for a clip; interval : seconds from frame to frame."""

    frames: int
    interval: float


def lapse(clip: float, rate: float, over: float) -> Lapse:
    """A time lapse: a clip of seconds at a rate, of something that lasts `over` seconds; the first
    and last frame are its ends."""
    frames = math.ceil(
        checked("The clip's length", clip, 0.01) * checked("A rate", rate, 0.1) - 1e-9
    )
    return Lapse(frames, checked("What is filmed", over, 0.01) / max(1, frames - 1))

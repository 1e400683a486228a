"""Brackets of exposure and of white balance."""

import math

from ..base.errors import PlumError
from ..base.nominal import TIMES, nearest, printed_time
from .light import checked

MOST_FRAMES = 99


def _steps(frames: int) -> list[float]:
    checked("Frames", frames, 1, MOST_FRAMES)
    return [k - (frames - 1) / 2 for k in range(int(frames))]


def exposure(seconds: float, frames: int, step: float) -> list[float]:
    """Times of a bracket around one, seconds, the shortest first: t x 2^(k x step)."""
    checked("A time", seconds, 1e-6, 86400)
    checked("A step", step, 0.01, 10)
    return [seconds * 2.0 ** (k * step) for k in _steps(frames)]


def printed_bracket(seconds: float, frames: int, step: float) -> list[str]:
    """The same as a camera prints them: whole steps along its series from the time set."""
    thirds = step * 3
    if abs(thirds - round(thirds)) > 0.02:
        return [printed_time(t) for t in exposure(seconds, frames, step)]
    at = TIMES.index(nearest(TIMES, seconds))
    places = [at + round(k * thirds) for k in _steps(frames)]
    exact = exposure(seconds, frames, step)
    return [
        printed_time(TIMES[p]) if 0 <= p < len(TIMES) else f"{t:.0f}"
        for p, t in zip(places, exact, strict=True)
    ]


def balance(kelvin: float, mired: float, frames: int = 3) -> list[float]:
    """Kelvins of a white-balance bracket, the lowest first: even steps in mired, 1e6 / K."""
    centre = 1e6 / checked("A colour temperature", kelvin, 1000, 50000)
    made = sorted(centre + k * checked("A step", mired, 0.1, 200) for k in _steps(frames))
    if made[0] <= 0:
        raise PlumError("A step that wide goes past every colour of light. Give a smaller one.")
    return [1e6 / m for m in reversed(made)]


def ends_fit(seconds: float, frames: int, step: float, fastest: float, slowest: float) -> bool:
    """Whether a camera has both ends of an exposure bracket."""
    times = exposure(seconds, frames, step)
    return times[0] >= fastest * 0.97 and times[-1] <= slowest * 1.03


def total_seconds(seconds: float, frames: int, step: float) -> float:
    """How long all frames are open together."""
    return math.fsum(exposure(seconds, frames, step))

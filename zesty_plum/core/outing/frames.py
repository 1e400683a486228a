"""More than one frame, or one that stays open long: time lapses, slow motion, focus
brackets, grey filters; in words, with what a camera cannot do of it."""

import math
from collections.abc import Callable

from ..base.errors import PlumError
from ..base.nominal import printed_time
from ..develop.sense import LONGEST, Exposure
from ..look import Look
from ..reckon.time import lapse as lapsed
from ..reckon.time import slower
from ..reckon.view import focus_frames
from . import bracketing
from .shoot import Gear, Shoot
from .times import photosite

Told = tuple[list[tuple[str, str]], list[str]]  # rows of (label, sentence), and warnings
LONG = 1.0  # seconds from which a wait is told of


def told(shoot: Shoot, gear: Gear, made: Exposure, hands: float, kelvin: float) -> Told:
    """All of it that a shoot asks for. hands : slowest time by hand, seconds; kelvin : of the
    light."""
    rows: list[tuple[str, str]] = []
    warnings: list[str] = []
    parts: tuple[Callable[[], Told], ...] = (
        lambda: _grey(shoot, gear.look, made),
        lambda: bracketing.told(shoot, gear, made, hands, kelvin),
        lambda: _lapse(shoot, gear.look, made),
        lambda: _slow(shoot, gear),
        lambda: _focus(shoot, gear, made),
    )
    for part in parts:
        try:
            row, more = part()
        except PlumError as error:  # what cannot be of one shoot is told there; the day goes on
            row, more = [], [str(error).rstrip(".")]
        rows += row
        warnings += more
    return rows, warnings


# ---- long times ----------------------------------------------------------------------------------
def waits(look: Look, time: float) -> float:
    """Seconds from the press until the camera is ready again: the dark frame lasts as long."""
    return time * 2 if look.dark_frame and time >= LONG else time


def _grey(shoot: Shoot, look: Look, made: Exposure) -> Told:
    if not shoot.grey or look.clip:
        return [], []
    without = made.time / 2**shoot.grey
    words = f"ND{2**shoot.grey:.0f} turns {printed_time(without)} s into {_long(made.time)}."
    words += " On a tripod, stabiliser off."
    if made.off < -0.1:
        bulb = made.time * 2**-made.off
        return [("Long exposure", f"{words} It wants {_long(bulb)}, held by hand or a release.")], [
            f"Beyond {LONGEST:g} s: bulb, {_long(bulb)}"
        ]
    if waits(look, made.time) > made.time:
        words += f" With its dark frame {_long(waits(look, made.time))} from press to press."
    return [("Long exposure", words)], []


def _long(seconds: float) -> str:
    if seconds < 90:
        return f"{printed_time(seconds)} s" if seconds <= LONGEST else f"{seconds:.0f} s"
    return f"{seconds / 60:.1f} min"


# ---- motion --------------------------------------------------------------------------------------
def _lapse(shoot: Shoot, look: Look, made: Exposure) -> Told:
    if not shoot.lapse:
        return [], []
    rate = look.rate or 25.0
    found = lapsed(shoot.lapse, rate, (shoot.ends - shoot.starts) * 60.0)
    words = f"{found.frames} frames, one every {found.interval:.1f} s, make {shoot.lapse:g} s."
    if waits(look, made.time) < found.interval:
        return [("Time lapse", words)], []
    long = f"{_long(waits(look, made.time))} a frame, with its dark one" if look.dark_frame else ""
    return [("Time lapse", words)], [
        f"The time lapse is too quick: {long or _long(made.time) + ' a frame'}"
    ]


def _slow(shoot: Shoot, gear: Gear) -> Told:
    if not shoot.timeline:
        return [], []
    dial = next((d for d in gear.body.dials if "rate" in d.touches), None)
    places = [c for c in dial.choices if "rate" in c.sets] if dial else []
    if not gear.look.clip:
        rates = ", ".join(c.label for c in places)
        return [], [f"Slow motion wants a slot for clips; this camera has {rates or 'none'}"]
    rate = gear.look.rate
    found = slower(rate, shoot.timeline, 10)
    if found.factor <= 1:
        more = [c.label for c in places if c.sets["rate"] > shoot.timeline]
        also = f"; it also has {', '.join(more)}" if more else ""
        return [], [f"{rate:g} a second on {shoot.timeline:g} is no slow motion{also}"]
    words = f"{rate:g} on {shoot.timeline:g}: {found.factor:g} times slower, 10 s last "
    words += f"{found.seconds:g} s."
    here = next((c for c in places if c.sets["rate"] == rate), None)
    if here is not None:
        words += "".join(f" {part}" for part in [here.note, *(n.why for n in here.needs)] if part)
    return [("Slow motion", words)], []


def _focus(shoot: Shoot, gear: Gear, made: Exposure) -> Told:
    """Frames of a focus bracket between two distances, with a circle of confusion of two
    photosites; image distances by the lens equation of a thin lens, 1 / (1/f - 1/d)."""
    if not shoot.far:
        return [], []
    focal = shoot.focal / 1000
    ends = sorted((shoot.near, shoot.far))
    if ends[0] <= focal * 1.1:
        return [], ["The focus bracket begins nearer than the lens can see"]
    behind = [1000 / (1 / focal - 1 / d) for d in ends]
    many = focus_frames(behind[0] - behind[1], made.aperture, 2 * photosite(gear) / 1000)
    words = f"{ends[0]:g} to {ends[1]:g} m at f/{made.aperture:.2g}: {many} frames, on a tripod."
    if math.isclose(*ends):
        words = f"One frame holds {ends[0]:g} m."
    return [("Focus bracket", words)], []

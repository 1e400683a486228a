"""More than one frame, or one that stays open long: brackets, time lapses, slow motion, focus
brackets, grey filters; in words, with what a camera cannot do of it."""

import math
from collections.abc import Callable

from ..base.errors import PlumError
from ..base.nominal import ISOS, nearest, printed_iso, printed_kelvin, printed_time
from ..bodies import Body
from ..develop.sense import LONGEST, Exposure
from ..look import Look
from ..reckon import brackets
from ..reckon.time import lapse as lapsed
from ..reckon.time import slower
from ..reckon.view import focus_frames
from .shoot import BRACKETS, Gear, Shoot
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
        lambda: _bracket(shoot, gear, made, hands, kelvin),
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


# ---- brackets ------------------------------------------------------------------------------------
def _bracket(shoot: Shoot, gear: Gear, made: Exposure, hands: float, kelvin: float) -> Told:
    if shoot.bracket < 2:
        return [], []
    of = {
        "exposure": lambda: _exposures(shoot, gear, made, hands),
        "iso": lambda: _isos(shoot, gear, made),
        "guard": lambda: _guards(shoot, gear),
        "balance": lambda: _balances(shoot, gear, kelvin),
        "style": lambda: _styles(shoot, gear),
    }
    listed, warnings = of[shoot.kind]()
    files = f"{shoot.files} files" if shoot.frames else f"{shoot.bracket} files a time"
    what = BRACKETS[shoot.kind][0]
    return [("Bracket", f"{what[:1].upper()}{what[1:]}: {', '.join(listed)}; {files}.")], warnings


def _exposures(
    shoot: Shoot, gear: Gear, made: Exposure, hands: float
) -> tuple[list[str], list[str]]:
    times = brackets.exposure(made.time, shoot.bracket, shoot.step)
    out, fastest = [], gear.body.sensor.fastest
    if times[0] < fastest * 0.97:
        out.append(f"The bracket's short end is faster than {printed_time(fastest)} s")
    if times[-1] > LONGEST * 1.03:
        out.append(f"The bracket's long end is over {LONGEST:g} s")
    elif times[-1] > hands * 1.1:
        out.append("The bracket's long end wants a tripod")
    return brackets.printed_bracket(made.time, shoot.bracket, shoot.step), out


def _isos(shoot: Shoot, gear: Gear, made: Exposure) -> tuple[list[str], list[str]]:
    isos = brackets.exposure(nearest(ISOS, made.iso), shoot.bracket, shoot.step)
    out, sensor = [], gear.body.sensor
    if isos[0] < made.floor * 0.97:
        out.append(f"The bracket's low end is under ISO {printed_iso(made.floor)}")
    if isos[-1] > sensor.top_iso * 1.03:
        out.append(f"The bracket's high end is over ISO {printed_iso(sensor.top_iso)}")
    return [printed_iso(i) for i in isos], out


def _guards(shoot: Shoot, gear: Gear) -> tuple[list[str], list[str]]:
    """Steps of the dial of guard; what the style asks for itself lifts the ISO of all of them."""
    styles = gear.body.style_dial
    under = next((c.adds.get("guard", 0) for c in styles.choices if c.style == gear.look.style),
                 0) if styles else 0  # fmt: skip
    has = sorted({c.adds["guard"] for d in gear.body.dials if d is not styles
                  for c in d.choices if c.adds.get("guard")})  # fmt: skip
    wanted = [k * shoot.step for k in range(shoot.bracket)]
    least = [printed_iso(gear.body.sensor.base_iso * 2 ** (under + w)) for w in wanted]
    listed = [f"{w:g} (from ISO {iso})" for w, iso in zip(wanted, least, strict=True)]
    if any(all(abs(w - h) > 0.02 for h in [0.0, *has]) for w in wanted):
        steps = ", ".join(f"{h:g}" for h in has)
        return listed, [
            f"This camera's guard has {steps}" if has else "This camera has no guard to set"
        ]
    return listed, []


def _balances(shoot: Shoot, gear: Gear, kelvin: float) -> tuple[list[str], list[str]]:
    made = brackets.balance(kelvin, shoot.step, shoot.bracket)
    has = _kelvins(gear.body)
    out = []
    if has and (made[0] < has[0] * 0.99 or made[-1] > has[1] * 1.01):
        out.append(f"This camera sets {has[0]:.0f} to {has[1]:.0f} K")
    return [printed_kelvin(1e6 / k) for k in made], out


def _kelvins(body: Body) -> tuple[float, float] | None:
    dial = body.by_id.get("kelvin")
    values = [float(v) for v in dial.values if not isinstance(v, str)] if dial else []
    return (min(values), max(values)) if values else None


def _styles(shoot: Shoot, gear: Gear) -> tuple[list[str], list[str]]:
    dial = gear.body.style_dial
    labels = [c.label for c in dial.choices] if dial else []
    out = [] if len(labels) >= shoot.bracket else [f"This camera has {len(labels)} styles"]
    here = [c.label for c in dial.choices if c.style == gear.look.style] if dial else []
    others = [label for label in labels if label not in here]
    return [*here, *others][: shoot.bracket], out


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

"""What a shoot needs: the exposure that its light gives, which time wins and why, a filter, and
what to look out for."""

import math
from dataclasses import dataclass, field

from ..bodies import Body
from ..develop.sense import LONGEST, Exposure, Programme, expose
from ..look import Balance, Look
from ..nominal import APERTURES, nearest, printed_iso, printed_time
from ..reckon import brackets
from ..reckon import light as sums
from ..reckon.time import by_angle, lapse, safe_times
from .lights import Light

SCREEN = 12.0  # photosites that a moving thing may smear, for a screen
FAR_OFF = 60.0  # mired between a fixed white balance and the light, from which it is said
NOISY = 3200.0
STEEP = 4.0  # times the base ISO, from which what a guard asks for surprises
FRAME = 36.0  # millimetres across of the frame that crop factors speak of
ABSORBED = 0.35  # stops between two times that count as the same


@dataclass(frozen=True)
class Shoot:
    """A shoot: from, to, in minutes of the day; what, in which light (a kind, and a kelvin or an EV
    that was measured), how fast things move and how near they are, the lens, what of it must not
    be missed, a bracket of so many frames in steps of stops, and seconds of a clip that a time
    lapse of all of it makes."""

    starts: int
    ends: int
    title: str
    light: str = "out"
    kelvin: int = 0
    ev100: float | None = None
    speed: float = 0.0
    near: float = 3.0
    focal: float = 35.0
    frames: int = 0
    minutes: float = 0.0
    who: str = ""
    must: str = ""
    bracket: int = 1
    step: float = 1.0
    lapse: float = 0.0

    @property
    def files(self) -> int:
        """Pictures that are written: each as many as its bracket has frames."""
        return self.frames * max(1, self.bracket)


@dataclass(frozen=True)
class Needs:
    """What comes out: the exposure, what a camera prints of it, rows of (label, sentence), and
    warnings."""

    ev100: float
    exposure: Exposure
    printed: str
    rows: tuple[tuple[str, str], ...]
    warnings: tuple[str, ...]


@dataclass(frozen=True)
class Gear:
    """What it is done with: a body, its crop factor, the look of the slot, and what was asked of
    the automatic exposure."""

    body: Body
    crop: float = 1.0
    look: Look = field(default_factory=Look)
    name: str = ""


def needs(shoot: Shoot, light: Light, gear: Gear, mains: int) -> Needs:
    """Work a shoot out."""
    ev = shoot.ev100 if shoot.ev100 is not None else light.ev100
    look, sensor = gear.look, gear.body.sensor
    rows: list[tuple[str, str]] = []
    hand = sums.by_hand(shoot.focal, gear.crop, sensor.steady)
    limits = {"hands": hand}
    photosite = 1000 * FRAME / gear.crop / sensor.width
    if shoot.speed > 0:
        one = sums.blur(shoot.speed, max(shoot.near, 0.3), shoot.focal, 1.0, photosite)
        limits["movement"] = SCREEN / one
    slowest = look.slowest or min(limits.values())
    asked = Programme(
        look.guard,
        look.exposure,
        look.iso_least,
        look.iso_most,
        look.aperture,
        slowest,
        look.rate if look.clip else 0.0,
    )
    made = expose(sensor, ev, asked)
    rows.append(_hand(hand, shoot, gear))
    if "movement" in limits:
        time = printed_time(limits["movement"])
        words = f"At {shoot.speed:g} m/s and {shoot.near:g} m, {time} s or faster keeps it sharp"
        rows.append(("Movement", f"{words} on a screen."))
    if look.clip:
        rows += _clip(made, look)
    warnings = []
    if light.mains:
        row, warning = _flicker(made, mains, limits, look.clip)
        rows.insert(0, row)
        warnings += warning
    rows.append(_iso(made, look, gear))
    if shoot.bracket > 1:
        row, warning = _bracket(shoot, made, gear, hand)
        rows.append(row)
        warnings += warning
    if shoot.lapse:
        rows.append(_lapse(shoot, look, made))
    warnings += _warned(shoot, light, gear, made, ev)
    return Needs(ev, made, _printed(made), tuple(rows), tuple(warnings))


def _printed(made: Exposure) -> str:
    words = [f"f/{nearest(APERTURES, made.aperture):g}", printed_time(made.time)]
    words.append(f"ISO {printed_iso(made.iso)}")
    return " · ".join([*words, *([f"ND{2**made.filter}"] if made.filter else [])])


def _hand(hand: float, shoot: Shoot, gear: Gear) -> tuple[str, str]:
    steady = gear.body.sensor.steady
    thanks = f", {steady:g} stops of it thanks to stabilisation" if steady else ""
    return "By hand", f"{shoot.focal:g} mm on this camera: {printed_time(hand)} s holds{thanks}."


def _clip(made: Exposure, look: Look) -> list[tuple[str, str]]:
    time = by_angle(look.rate)
    grey = f"ND{2**made.filter} in front" if made.filter else "no filter needed"
    rows = [("The clip", f"{look.rate:g} a second, 180°: {printed_time(time)} s, {grey}.")]
    return rows


def _flicker(
    made: Exposure, mains: int, limits: dict[str, float], clip: bool
) -> tuple[tuple[str, str], list[str]]:
    safe = safe_times(mains, 1 / 20)
    fits = any(abs(math.log2(made.time / t)) < ABSORBED / 2 for t in safe)
    names = " or ".join(f"1/{round(1 / t)}" for t in safe[:2])
    words = f"Lamps flicker at {2 * mains} Hz: {names}. LED drivers may do anything: try first."
    if fits:
        return ("Shutter", words), []
    slowest = min(limits.values())
    faster = [t for t in safe if t <= slowest * 1.1]
    if faster:
        cost = math.log2(made.time / faster[-1])
        also = f", {abs(cost):.1f} stops {'more' if cost > 0 else 'less'} ISO" if cost else ""
        return ("Shutter", words), [f"{mains} Hz lamps: {names}{also}"]
    kind = "movement" if limits.get("movement", 1) <= limits["hands"] else "hands"
    return ("Shutter", f"{words} But {kind} ask for more: some frames band."), [
        f"{mains} Hz lamps: some frames will band"
    ]


def _bracket(
    shoot: Shoot, made: Exposure, gear: Gear, hand: float
) -> tuple[tuple[str, str], list[str]]:
    """The times of a bracket as the camera prints them, with its ends looked at."""
    times = brackets.exposure(made.time, shoot.bracket, shoot.step)
    listed = ", ".join(brackets.printed_bracket(made.time, shoot.bracket, shoot.step))
    warnings = []
    if times[0] < gear.body.sensor.fastest * 0.97:
        warnings.append(f"The bracket's short end is faster than {_fraction(gear)}")
    if times[-1] > LONGEST * 1.03:
        warnings.append(f"The bracket's long end is over {LONGEST:g} s")
    elif times[-1] > hand * 1.1:
        warnings.append("The bracket's long end wants a tripod")
    return ("Bracket", f"{listed}; {shoot.files} files."), warnings


def _fraction(gear: Gear) -> str:
    return f"{printed_time(gear.body.sensor.fastest)} s"


def _lapse(shoot: Shoot, look: Look, made: Exposure) -> tuple[str, str]:
    rate = look.rate or 25.0
    found = lapse(shoot.lapse, rate, (shoot.ends - shoot.starts) * 60.0)
    words = f"{found.frames} frames, one every {found.interval:.1f} s, make {shoot.lapse:g} s."
    if made.time >= found.interval:
        words += " Each is open longer than that: widen the interval."
    return "Time lapse", words


def _iso(made: Exposure, look: Look, gear: Gear) -> tuple[str, str]:
    iso = printed_iso(made.iso)
    words = f"{iso} at f/{nearest(APERTURES, made.aperture):g}."
    if look.guard:
        floor = printed_iso(made.floor)
        over = made.iso > made.floor * 1.1
        words += f" Guard asks for {floor}, so it costs {'nothing' if over else 'a stop'} here."
    second = gear.body.sensor.second_iso
    if second and second / 2 <= made.iso < second:
        words += f" From {printed_iso(second)} on this camera is cleaner."
    if made.off < -0.3:
        words += f" That is {abs(made.off):.1f} stops too dark: nothing is left."
    return "ISO", words


def _warned(shoot: Shoot, light: Light, gear: Gear, made: Exposure, ev: float) -> list[str]:
    look, out = gear.look, []
    if made.iso <= made.floor * 1.1 and made.floor >= STEEP * gear.body.sensor.base_iso:
        out.append(f"Guard {look.guard:g} needs ISO {printed_iso(made.floor)}")
    if look.exposure < -0.2 and ev < 6:
        out.append(f"Bias {_thirds(look.exposure)} here adds noise")
    kelvin = shoot.kelvin or sum(light.kelvins) / 2
    if look.balance is Balance.FIXED:
        off = look.light_mired - 1e6 / kelvin
        if abs(off) > FAR_OFF:
            cast = "blue" if off > 0 else "orange"
            out.append(f"Its white balance is fixed: {abs(off):.0f} mired too {cast} here")
    if made.iso >= NOISY and not out:
        out.append(f"ISO {printed_iso(made.iso)} shows its noise")
    if made.off < -0.3:
        out.append(f"{abs(made.off):.1f} stops too dark")
    return out


def _thirds(value: float) -> str:
    whole, thirds = divmod(round(abs(value) * 3), 3)
    parts = [str(whole)] if whole else []
    parts += [f"{thirds}/3"] if thirds else []
    return ("−" if value < 0 else "+") + " ".join(parts or ["0"])

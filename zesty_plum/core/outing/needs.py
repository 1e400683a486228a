"""What a shoot needs: the exposure that its light gives, by which rules, and what to look out
for."""

import math
from dataclasses import dataclass, replace

from ..base.nominal import (
    APERTURES,
    in_thirds,
    nearest,
    printed_floor,
    printed_iso,
    printed_time,
)
from ..develop.sense import SLOWEST, Exposure, Programme, expose, least_iso
from ..look import Balance, Look, Sensor
from ..reckon.light import SOLD, at_index
from ..reckon.natives import SHADOW, better_from, native_of, room_below
from ..scenes.scene import Scene
from . import frames, meter
from . import times as rules
from .lights import Light
from .shoot import Gear, Shoot

FAR_OFF = 60.0  # mired between a fixed white balance and the light, from which it is said
NOISY = 3200.0
DARK = 6.0  # EV100, below which a bias downwards costs noise
LESS = 1.2  # times, from which on one ISO is called less than another
SMALL = 8.0  # f-number at which long exposures are made
STEEP = 4.0  # times the base ISO, from which what a guard asks for surprises


@dataclass(frozen=True)
class Needs:
    """What comes out: the exposure, what a camera prints of it, rows of (label, sentence), and
    warnings; `offset`, stops that a LUT for the editor puts right where it is rated at an index;
    `calmer`, the ISO that the next slower rule would have let it have, 0 where that is the same."""

    ev100: float
    exposure: Exposure
    printed: str
    rows: tuple[tuple[str, str], ...]
    warnings: tuple[str, ...]
    offset: float = 0.0
    calmer: float = 0.0


def needs(shoot: Shoot, light: Light, gear: Gear, mains: int) -> Needs:
    """Work a shoot out."""
    ev = shoot.ev100 if shoot.ev100 is not None else light.ev100
    look, sensor = gear.look, gear.body.sensor
    found = rules.times(shoot, light, gear, mains)
    floor = least_iso(sensor, look.guard)
    native = max(native_of(sensor, shoot.index), floor) if shoot.index else 0.0
    offset = math.log2(shoot.index / native) if native else 0.0
    long = shoot.grey if not look.clip else 0.0
    held = native or (max(floor, look.iso_least) if long else 0.0)
    asked = Programme(
        look.guard,
        look.exposure - offset,
        held or look.iso_least,
        held or look.iso_most,
        look.aperture or (min(SMALL, sensor.narrowest) if long else 0.0),
        found.slowest,
        look.rate if look.clip else 0.0,
    )
    made = expose(sensor, ev - long, asked)
    rows = rules.rows(found, shoot, gear, made.time, mains)
    if look.clip:
        rows.append(_clip(made, look))
    rows.append(_iso(made, gear))
    if native:
        rows.append(_index(shoot, gear, native))
    rows += meter.rows(look, sensor, shoot.around, -offset)
    hands = found.rules.get("hands", found.slowest)
    kelvin = shoot.kelvin or sum(light.kelvins) / 2
    more, warnings = frames.told(shoot, gear, made, hands, kelvin)
    if rules.bands(found, made.time):
        warnings.insert(0, _banding(found, made.time, mains))
    warnings += _warned(shoot, gear, made, ev, kelvin)
    calmer = max(made.iso * 2.0 ** -rules.costs(found, made.time), made.floor)
    calmer = 0.0 if native or calmer > made.iso / LESS else calmer
    return Needs(ev, made, printed(made), (*rows, *more), tuple(warnings), offset, calmer)


def printed(made: Exposure) -> str:
    """An exposure in a camera's words: f/2.8 · 1/100 · ISO 1600."""
    words = [f"f/{nearest(APERTURES, made.aperture):g}", printed_time(made.time)]
    words.append(f"ISO {printed_iso(made.iso)}")
    return " · ".join([*words, *([f"ND{2**made.filter}"] if made.filter else [])])


def _clip(made: Exposure, look: Look) -> tuple[str, str]:
    time = printed_time(0.5 / look.rate)
    words = f"{look.rate:g} a second, 180°: {time} s, "
    if not made.filter:
        return "The clip", f"{words}no filter needed."
    sold = max((s for s in SOLD if s <= made.filter), default=0)
    words += f"ND{2**made.filter} in front"
    if sold != made.filter:
        words += f"; none such is sold: ND{2**sold} and the aperture takes {made.filter - sold}"
        words += " stops"
    return "The clip", f"{words}."


def _banding(found: rules.Times, time: float, mains: int) -> str:
    names = " or ".join(f"1/{round(1 / t)}" for t in found.safe[:2])
    if time < found.safe[0]:
        return f"{mains} Hz lamps: {names}, or some frames band"
    return f"{mains} Hz lamps: {names}"


def _iso(made: Exposure, gear: Gear) -> tuple[str, str]:
    look, sensor = gear.look, gear.body.sensor
    words = f"{printed_iso(made.iso)} at f/{nearest(APERTURES, made.aperture):g}."
    if look.guard:
        floor = printed_floor(made.floor)
        costs = "so it costs nothing here" if made.iso > made.floor * 1.1 else "which the light has"
        words += f" Guard {in_thirds(look.guard)} asks for {floor}, {costs}."
    second = sensor.second_iso
    if second and second > made.iso * 1.05:
        grey, dark = (printed_iso(better_from(sensor, stops)) for stops in (0.0, -SHADOW))
        if made.iso >= better_from(sensor, -SHADOW):
            words += f" {printed_iso(second)}, this camera's second native ISO, is cleaner in the "
            words += f"shadows from ISO {dark} on, and in the greys from {grey}."
    if made.off < -0.3:
        words += f" That is {abs(made.off):.1f} stops too dark: nothing is left."
    return "ISO", words


def _index(shoot: Shoot, gear: Gear, native: float) -> tuple[str, str]:
    sensor, look = gear.body.sensor, gear.look
    room = at_index(native, sensor.headroom + look.guard, shoot.index, room_below(sensor, native))
    words = f"Recorded at ISO {printed_iso(native)} and rated {shoot.index:g}: "
    words += f"{room.above:.1f} stops above mid grey, {room.below:.1f} below."
    off = math.log2(shoot.index / native)
    if abs(off) > 0.1:
        side = "darker" if off < 0 else "brighter"
        many = in_thirds(off)
        unit = "stop" if many in ("1", "1/3", "2/3") else "stops"
        words += f" The editor's LUT makes it {many} {unit} {side}."
    return "Index", words


def _warned(shoot: Shoot, gear: Gear, made: Exposure, ev: float, kelvin: float) -> list[str]:
    look, out = gear.look, []
    if (
        made.iso <= made.floor * 1.1
        and look.guard
        and made.floor >= STEEP * gear.body.sensor.base_iso
    ):
        out.append(f"Guard {in_thirds(look.guard)} needs ISO {printed_floor(made.floor)}")
    if look.exposure < -0.2 and ev < DARK:
        out.append(f"Bias −{in_thirds(look.exposure)} here adds noise")
    if look.balance is Balance.FIXED:
        off = look.light_mired - 1e6 / kelvin
        if abs(off) > FAR_OFF:
            cast = "blue" if off > 0 else "orange"
            out.append(f"Its white balance is fixed: {abs(off):.0f} mired too {cast} here")
    if made.iso >= NOISY and not out:
        out.append(f"ISO {printed_iso(made.iso)} shows its noise")
    if made.off < -0.3 and not shoot.grey:
        out.append(f"{abs(made.off):.1f} stops too dark")
    elif made.off > 0.3:
        out.append(f"{made.off:.1f} stops too bright")
    return out


def at_iso(scene: Scene, look: Look, sensor: Sensor, iso: float) -> tuple[Scene, Look]:
    """A scene and a look for a picture of the noise at an ISO: in a light that asks for it at a
    usual time, so that nothing moves otherwise."""
    held = replace(look, iso_least=iso, iso_most=iso)
    aperture = look.aperture or sensor.widest
    ev = math.log2(aperture**2 / SLOWEST) - math.log2(iso / 100) + look.exposure
    return (scene if scene.ev100 is None else replace(scene, ev100=ev)), held

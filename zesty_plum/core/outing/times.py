"""How long the shutter may stay open: what hands, movement, lamps, a frame of a clip and the slot
allow, which of them decides, and what that costs in ISO."""

import math
from dataclasses import dataclass

from ..base.nominal import printed_time
from ..develop.sense import LONGEST
from ..reckon import light as sums
from ..reckon.time import by_angle, safe_times
from .lights import Light
from .shoot import Gear, Shoot

SCREEN = 12.0  # photosites that a moving thing may smear, for a screen
FRAME = 36.0  # millimetres across of the frame that crop factors speak of
STILL = 1e-3  # m/s, up to which nothing is taken to move
NEAR = 0.3  # metres, the nearest that something which moves is taken to be
ABSORBED = 0.35  # stops between two times that count as the same
DRIVERS = "LED drivers may do anything: try first."


@dataclass(frozen=True)
class Times:
    """The longest times that the rules allow, seconds, by their names; `slowest` is what is asked
    of the camera, by the rule `decides`; `safe` are those at which lamps do not band, none where no
    lamp is on the mains."""

    rules: dict[str, float]
    slowest: float
    decides: str
    safe: tuple[float, ...] = ()


def photosite(gear: Gear) -> float:
    """Micrometres of one, of a frame of so much crop."""
    return 1000 * FRAME / gear.crop / gear.body.sensor.width


def times(shoot: Shoot, light: Light, gear: Gear, mains: int) -> Times:
    """What the rules allow: a clip's frame decides for a clip, a slot's own limit for a picture,
    and otherwise the shortest; under lamps the next shorter time that does not band."""
    look = gear.look
    rules = {"hands": sums.by_hand(shoot.focal, gear.crop, gear.body.sensor.steady)}
    if shoot.speed > STILL:
        one = sums.blur(
            shoot.speed,
            max(shoot.near, NEAR, 2 * shoot.focal / 1000),
            shoot.focal,
            1.0,
            photosite(gear),
        )
        rules["movement"] = SCREEN / one
    safe = tuple(safe_times(mains, 1 / 20)) if light.mains else ()
    if look.clip:
        rules["180°"] = by_angle(look.rate)
        return Times(rules, rules["180°"], "180°", safe)
    if look.slowest:
        rules["slot"] = look.slowest
        return Times(rules, look.slowest, "slot", safe)
    if shoot.grey:
        return Times({"tripod": LONGEST}, LONGEST, "tripod", ())
    shortest = min(rules, key=lambda k: rules[k])
    needed = safe and rules[shortest] <= safe[-1] * 1.1  # longer ones even out many beats
    fitting = [t for t in safe if t <= rules[shortest] * 1.1] if needed else []
    return Times(rules, fitting[-1] if fitting else rules[shortest], shortest, safe)


def bands(found: Times, time: float) -> bool:
    """Whether frames of a time band under these lamps."""
    if not found.safe or time > found.safe[-1]:
        return False
    return all(abs(math.log2(time / t)) >= ABSORBED / 2 for t in found.safe)


def rows(found: Times, shoot: Shoot, gear: Gear, time: float, mains: int) -> list[tuple[str, str]]:
    """The rules in words, and which one decides."""
    out = []
    if found.safe:
        names = " or ".join(f"1/{round(1 / t)}" for t in found.safe[:2])
        words = f"Lamps flicker at {2 * mains} Hz: {names}."
        if bands(found, time):
            words += f" At {printed_time(time)} some frames band."
        out.append(("Lamps", f"{words} {DRIVERS}"))
    if "hands" in found.rules:
        steady = gear.body.sensor.steady
        thanks = f", {steady:g} stops of it thanks to stabilisation" if steady else ""
        holds = printed_time(found.rules["hands"])
        out.append(("By hand", f"{shoot.focal:g} mm on this camera: {holds} s holds{thanks}."))
    if "movement" in found.rules:
        sharp = printed_time(found.rules["movement"])
        words = f"At {shoot.speed:g} m/s and {shoot.near:g} m, {sharp} s or faster keeps it sharp"
        out.append(("Movement", f"{words} on a screen."))
    decided = _decided(found, time)
    return [("Shutter", decided), *out] if decided else out


WHO = {
    "hands": "Hands decide",
    "movement": "Movement decides",
    "180°": "The frame of the clip decides",
    "slot": "The slot's own limit decides",
}
OTHERS = ("hands", "movement")  # rules that are told beside the one that decides
LITTLE = 0.3  # stops that lamps may cost before it is said


def _decided(found: Times, time: float) -> str:
    """Which rule decides, and what it costs in ISO beside the next one."""
    if found.decides not in WHO:
        return ""
    if time < found.slowest * 2.0**-ABSORBED:
        return f"The light gives {printed_time(time)} s, faster than any rule asks."
    words = f"{WHO[found.decides]}: {printed_time(found.slowest)} s"
    lamps = math.log2(found.rules[found.decides] / found.slowest)
    if lamps > LITTLE:
        own, made = (printed_time(t) for t in (found.rules[found.decides], found.slowest))
        words = f"{WHO[found.decides]} with {own} s, the lamps make it {made} s: "
        words += f"{lamps:.1f} stops of ISO"
    elif found.safe and not bands(found, found.slowest):
        words += ", which suits the lamps"
    nearest = _next(found)
    if not nearest:
        broken = [
            k
            for k, v in found.rules.items()
            if k in OTHERS and v < found.slowest / 1.1 and k != found.decides
        ]
        return f"{words}, though {' and '.join(broken)} would want less." if broken else f"{words}."
    held, other = printed_time(found.rules[nearest]), nearest.capitalize()
    stops = costs(found, time)
    return f"{words}. {other} would hold {held}: that costs {stops:.1f} stops of ISO."


def _next(found: Times) -> str:
    """The rule that allows the next longer time; empty where none does."""
    slower = {k: v for k, v in found.rules.items() if k in OTHERS and v > found.slowest * 1.1}
    return min(slower, key=lambda k: slower[k]) if slower else ""


def costs(found: Times, time: float) -> float:
    """Stops of ISO that the rule which decides costs beside the next one; none where the light asks
    for less anyway."""
    nearest = _next(found)
    if not nearest or time < found.slowest * 2.0**-ABSORBED:
        return 0.0
    return math.log2(found.rules[nearest] / found.slowest)

"""Brackets: what goes from frame to frame. A kind is a row, and a function that lists frames."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from ..base.nominal import (
    ISOS,
    in_thirds,
    nearest,
    printed_floor,
    printed_iso,
    printed_kelvin,
    printed_time,
)
from ..bodies import Body
from ..develop.sense import LONGEST, Exposure
from ..reckon import brackets
from .shoot import Gear, Shoot

Listed = tuple[list[str], list[str]]  # frames in words, and what speaks against them


@dataclass(frozen=True)
class At:
    """What a bracket is around: the exposure, the longest time by hand, seconds, and the light,
    kelvin."""

    made: Exposure
    hands: float
    kelvin: float


@dataclass(frozen=True)
class Bracket:
    """A kind: what goes from frame to frame, in words, and the frames listed."""

    words: str
    frames: Callable[[Shoot, Gear, At], Listed]


def told(
    shoot: Shoot, gear: Gear, made: Exposure, hands: float, kelvin: float
) -> tuple[list[tuple[str, str]], list[str]]:
    """The row of a shoot's bracket, if it has one, and what speaks against it."""
    if shoot.bracket < 2:
        return [], []
    kind = BRACKETS[shoot.kind]
    listed, warnings = kind.frames(shoot, gear, At(made, hands, kelvin))
    files = f"{shoot.files} files" if shoot.frames else f"{shoot.bracket} files a time"
    what = f"{kind.words[:1].upper()}{kind.words[1:]}"
    return [("Bracket", f"{what}: {', '.join(listed)}; {files}.")], warnings


def _exposures(shoot: Shoot, gear: Gear, at: At) -> Listed:
    times = brackets.exposure(at.made.time, shoot.bracket, shoot.step)
    out, fastest = [], gear.body.sensor.fastest
    if times[0] < fastest * 0.97:
        out.append(f"The bracket's short end is faster than {printed_time(fastest)} s")
    if times[-1] > LONGEST * 1.03:
        out.append(f"The bracket's long end is over {LONGEST:g} s")
    elif times[-1] > at.hands * 1.1:
        out.append("The bracket's long end wants a tripod")
    return brackets.printed_bracket(at.made.time, shoot.bracket, shoot.step), out


def _isos(shoot: Shoot, gear: Gear, at: At) -> Listed:
    isos = brackets.exposure(nearest(ISOS, at.made.iso), shoot.bracket, shoot.step)
    out, sensor = [], gear.body.sensor
    if isos[0] < at.made.floor * 0.97:
        out.append(f"The bracket's low end is under ISO {printed_floor(at.made.floor)}")
    if isos[-1] > sensor.top_iso * 1.03:
        out.append(f"The bracket's high end is over ISO {printed_iso(sensor.top_iso)}")
    return [printed_iso(i) for i in isos], out


def _guards(shoot: Shoot, gear: Gear, at: At) -> Listed:
    """Steps of the dial of guard; what the style asks for itself lifts the ISO of all of them."""
    styles = gear.body.style_dial
    under = next((c.adds.get("guard", 0) for c in styles.choices if c.style == gear.look.style),
                 0) if styles else 0  # fmt: skip
    has = sorted({c.adds["guard"] for d in gear.body.dials if d is not styles
                  for c in d.choices if c.adds.get("guard")})  # fmt: skip
    wanted = [k * shoot.step for k in range(shoot.bracket)]
    most = math.log2(gear.body.sensor.top_iso / gear.body.sensor.base_iso) - under
    least = [printed_floor(gear.body.sensor.base_iso * 2 ** (under + w)) for w in wanted]
    listed = [
        f"{in_thirds(w)} (from ISO {iso})"
        for w, iso in zip(wanted, least, strict=True)
        if w <= most + 0.02
    ]  # beyond there is no ISO to say
    if any(all(abs(w - h) > 0.02 for h in [0.0, *has]) for w in wanted):
        steps = ", ".join(map(in_thirds, has))
        return listed, [
            f"This camera's guard has {steps}" if has else "This camera has no guard to set"
        ]
    return listed, []


def _balances(shoot: Shoot, gear: Gear, at: At) -> Listed:
    made = brackets.balance(at.kelvin, shoot.step, shoot.bracket)
    has = _kelvins(gear.body)
    out = []
    if has and (made[0] < has[0] * 0.99 or made[-1] > has[1] * 1.01):
        out.append(f"This camera sets {has[0]:.0f} to {has[1]:.0f} K")
    return [printed_kelvin(1e6 / k) for k in made], out


def _kelvins(body: Body) -> tuple[float, float] | None:
    dial = body.by_id.get("kelvin")
    values = [float(v) for v in dial.values if not isinstance(v, str)] if dial else []
    return (min(values), max(values)) if values else None


def _styles(shoot: Shoot, gear: Gear, at: At) -> Listed:
    dial = gear.body.style_dial
    labels = [c.label for c in dial.choices] if dial else []
    out = [] if len(labels) >= shoot.bracket else [f"This camera has {len(labels)} styles"]
    here = [c.label for c in dial.choices if c.style == gear.look.style] if dial else []
    others = [label for label in labels if label not in here]
    return [*here, *others][: shoot.bracket], out


BRACKETS = {
    "exposure": Bracket("exposure", _exposures),
    "iso": Bracket("ISO", _isos),
    "guard": Bracket("guard", _guards),
    "balance": Bracket("white balance", _balances),
    "style": Bracket("styles", _styles),
}

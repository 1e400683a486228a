"""Which settings made a picture: what its file tells, against what stood in the slots of a camera
when it was taken.

A slot is known at a moment where it was found the same before and after it. Where it was not read
since, it is taken to be as it was, and that is said; where it was found otherwise before and after,
nobody knows what it held in between, and it can have been anything. A picture is known where one
content of a slot is left that its file does not speak against.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..bodies import Body, Value
from ..develop.sense import least_iso
from ..look import Balance, Look
from ..styles import style

KNOWN, LIKELY, CANNOT, NOTHING = "known", "as last read", "cannot know", "nothing fits"
NEAR = 0.2  # stops within which two apertures or biases are the same
SLACK = 0.16  # the same of ISO and time, which cameras round


@dataclass(frozen=True)
class Evidence:
    """What a file tells: when by the clock of the world, in seconds, and what was set; None where
    it does not say."""

    when: float
    clip: bool = False
    iso: float | None = None
    aperture: float | None = None
    time: float | None = None
    bias: float | None = None
    by_hand: bool | None = None  # white balance that was not found by the camera
    mono: bool | None = None


@dataclass(frozen=True)
class Read:
    """A reading: when, and what the slots held."""

    when: float
    slots: Mapping[str, Mapping[str, Value]]


@dataclass(frozen=True)
class History:
    """A camera with what was found in it, and which letter its files begin with."""

    case: int
    body: Body
    readings: Sequence[Read]
    letter: str = ""


@dataclass(frozen=True)
class Held:
    """A slot of a camera at a moment: `content` None where it can have been anything; `since`
    whether it was found so afterwards as well."""

    case: int
    key: str
    content: Mapping[str, Value] | None
    since: bool = True


@dataclass(frozen=True)
class Found:
    """The answer: `how` of the four words above, and the slots that it can have been."""

    how: str
    held: tuple[Held, ...] = ()


def stood(history: History, when: float) -> list[Held]:
    """What the slots of a camera held at a moment."""
    before = [r for r in history.readings if r.when <= when]
    after = [r for r in history.readings if r.when > when]
    if not before:
        return []
    last = max(before, key=lambda r: r.when)
    since = min(after, key=lambda r: r.when) if after else None
    out = []
    for key, content in last.slots.items():
        if since is None or key not in since.slots:
            out.append(Held(history.case, key, content, False))
        elif dict(since.slots[key]) == dict(content):
            out.append(Held(history.case, key, content))
        else:
            out.append(Held(history.case, key, None))
    return out


def free(body: Body) -> frozenset[str]:
    """Fields of a look that no slot of a body holds: they are set by hand for each picture."""
    return frozenset(f for d in body.dials if d.id in body.outside for f in d.touches)


def speaks_against(look: Look, body: Body, told: Evidence) -> bool:
    """Whether what a file tells cannot come of what a slot holds."""
    sensor, by_hand = body.sensor, free(body)
    if look.clip != told.clip:
        return True
    least = max(least_iso(sensor, look.guard), look.iso_least)
    if told.iso is not None:
        most = max(min(look.iso_most or sensor.top_iso, sensor.top_iso), least)
        if math.log2(told.iso / least) < -SLACK or math.log2(told.iso / most) > SLACK:
            return True
    fixed_lens = told.aperture is not None and look.aperture and "aperture" not in by_hand
    if fixed_lens and abs(2 * math.log2((told.aperture or 1) / look.aperture)) > NEAR:
        return True
    held = told.bias is not None and "exposure" not in by_hand
    if held and abs((told.bias or 0.0) - look.exposure) > NEAR:
        return True
    if told.by_hand is not None:
        fixed = look.balance in (Balance.FIXED, Balance.GREY_CARD)
        if fixed != told.by_hand:
            return True
    return told.mono is not None and told.mono != style(look.style).monochrome


def which(histories: Sequence[History], told: Evidence, name: str = "") -> Found:
    """Which slot made a picture. `name` of its file says by its first letters which camera, where
    cameras have letters of their own."""
    left: list[Held] = []
    for history in named(histories, name):
        if not history.readings or min(r.when for r in history.readings) > told.when:
            return Found(CANNOT)  # nobody had looked into it by then
        for held in stood(history, told.when):
            if held.content is None or not speaks_against(
                history.body.interpret(held.content), history.body, told
            ):
                left.append(held)
    if not left:
        return Found(NOTHING)
    contents = {
        (h.case, None if h.content is None else tuple(sorted(h.content.items(), key=str)))
        for h in left
    }
    if len(contents) > 1 or any(h.content is None for h in left):
        return Found(CANNOT, tuple(left))
    return Found(KNOWN if all(h.since for h in left) else LIKELY, tuple(left))


def named(histories: Sequence[History], name: str) -> list[History]:
    """The cameras whose letter a file's name begins with, the longest; all where none does."""
    mine = [h for h in histories if h.letter and name.casefold().startswith(h.letter.casefold())]
    if not mine:
        return list(histories)
    longest = max(len(h.letter) for h in mine)
    return [h for h in mine if len(h.letter) == longest]

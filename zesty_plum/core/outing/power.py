"""Cards, batteries and heat of a day: what is taken, when to change, and what does not last."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..reckon.cards import BATTERY_CLIPS, USABLE, fast_enough
from .shoot import Shoot

LITTLE = 0.9  # share of a card from which it is all but full
CHARGE = 380  # pictures of a battery's charge, by the usual test (CIPA DC-002)
CLASSES = {"V30": 30.0, "V60": 60.0, "V90": 90.0, "U3": 30.0, "U1": 10.0, "C10": 10.0}
COLD = 5.0  # degrees Celsius, from which down a charge gives clearly less
CLOSE = 0.8  # share of the minutes after which heat stopped it, that are still safe
WARM, LARGE, QUICK = 20.0, 3000, 50.0  # minutes, pixels and rate of clips that make a camera hot


@dataclass(frozen=True)
class Planned:
    """A shoot with what the camera that it is done with is called, and what a file of it takes:
    megabytes a picture, megabits a second of a clip, its rate and pixels across; `id` is the
    camera's, 0 where there is none."""

    shoot: Shoot
    camera: str
    megabytes: float = 20.0
    megabits: float = 100.0
    rate: float = 25.0
    across: int = 1920
    id: int = 0


@dataclass(frozen=True)
class Use:
    """What of a camera's cards a day takes: megabytes, of clips too, and of how many; files and
    minutes; the place of the shoot at which it is full, its title and the minute of the day, if it
    is."""

    id: int
    camera: str
    taken: float
    holds: float
    files: int
    minutes: float
    clips: float = 0.0
    full_at: int | None = None
    full_title: str = ""
    full_when: int = 0

    @property
    def share(self) -> float:
        """Of the card."""
        return self.taken / self.holds if self.holds else 0.0

    @property
    def words(self) -> str:
        """In a sentence; empty where there is room."""
        if self.full_at is not None:
            when = clock(self.full_when)
            return f"The card of {self.camera} is full at about {when}, during '{self.full_title}'."
        if self.share >= LITTLE:
            return f"The card of {self.camera} is all but full at the end."
        return ""


def clock(minutes: int) -> str:
    """Minutes of the day as people write them; beyond midnight of the next."""
    return f"{minutes // 60 % 24:02d}:{minutes % 60:02d}"


def titles(planned: Sequence[Planned]) -> list[str]:
    """What each shoot is called: equal titles are told apart by when they begin."""
    every = [p.shoot.title for p in planned]
    return [
        f"{p.shoot.title}, {clock(p.shoot.starts)}" if every.count(p.shoot.title) > 1 else title
        for p, title in zip(planned, every, strict=True)
    ]


def cards(planned: Sequence[Planned], gigabytes: Mapping[int, float]) -> list[Use]:
    """What each camera's cards take over the day, in the order of the shoots; by the cameras'
    ids."""
    out = []
    for camera in dict.fromkeys(p.id for p in planned if p.id):
        holds = gigabytes.get(camera, 0.0) * 1000 * USABLE
        taken, clips, files, minutes = 0.0, 0.0, 0, 0.0
        full, when = None, 0
        mine = [(k, p) for k, p in enumerate(planned) if p.id == camera]
        for place, one in sorted(mine, key=lambda pair: pair[1].shoot.starts):
            shoot = one.shoot
            clip = shoot.minutes * 60 * one.megabits / 8
            more = shoot.files * one.megabytes + clip
            if holds and taken + more > holds and full is None:
                full, part = place, (holds - taken) / more
                when = shoot.starts + int(part * (shoot.ends - shoot.starts))
            taken, clips = taken + more, clips + clip
            files, minutes = files + shoot.files, minutes + shoot.minutes
        title = titles(planned)[full] if full is not None else ""
        called = mine[0][1].camera
        out.append(Use(camera, called, taken, holds, files, minutes, clips, full, title, when))
    return out


def at_less(use: Use, megabits: float, slower: float) -> str:
    """What a lower bit rate of clips would leave, where that is what fills the card."""
    if not use.words or not use.clips or slower >= megabits:
        return ""
    left = (use.taken - use.clips * (1 - slower / megabits)) / use.holds
    if left >= LITTLE:
        return ""
    return f"At {slower:g} Mbit/s instead of {megabits:g} it would be {100 * left:.0f} % full."


def batteries(use: Use, many: int, charge: int = 0, celsius: float | None = None) -> str:
    """Whether a camera's batteries last, in words, by a charge's pictures of one's own or those of
    the usual test; empty where they do or nobody said how many."""
    if not many:
        return ""
    wanted = (use.files + BATTERY_CLIPS * use.minutes) / (charge or CHARGE)
    cold = celsius is not None and celsius <= COLD
    if wanted <= many * (0.75 if cold else 1):
        return ""
    if wanted > many:
        words = f"{use.camera} wants about {wanted:.1f} batteries, and there are {many}"
    else:
        words = f"{use.camera} wants {wanted:.1f} of {many} batteries, and it is cold"
    warm = "keep the spare ones warm" if cold else "a charge gives less in the cold"
    return f"{words}; {warm}."


def too_slow(camera: str, said: str, megabits: float) -> str:
    """That a card is too slow for a bit rate, by the class that is said of it; else empty."""
    found = next((name for name in CLASSES if name in said.upper().split()), "")
    if not found or fast_enough(CLASSES[found], megabits):
        return ""
    return (
        f"The card of {camera} is {found}: it sustains {CLASSES[found] * 8:.0f} Mbit/s, and clips "
        f"of {megabits:g} want a fifth more than that rate."
    )


def hot(one: Planned, limit: str, stopped: int = 0) -> str:
    """That long clips make a camera hot, by the minutes after which it `stopped` before, or where
    its heat limit stands, if it has one; else empty."""
    if one.across < LARGE and one.rate < QUICK:
        return ""
    if stopped and one.shoot.minutes >= CLOSE * stopped:
        takes = max(1, math.floor(CLOSE * stopped))
        return (
            f"{one.shoot.minutes:g} minutes of clips in '{one.shoot.title}': heat stopped "
            f"{one.camera} after {stopped}. Take {takes} at a time, fewer in the sun, and let it "
            "cool between."
        )
    if stopped or one.shoot.minutes < WARM:
        return ""
    words = f"{one.shoot.minutes:g} minutes of clips in '{one.shoot.title}' make {one.camera} hot"
    if limit == "high":
        return f"{words}: its heat limit is high, so put it on a tripod and let it cool."
    stops = "and it may switch off" if limit else "so it may switch off"
    return f"{words}, {stops}: let it cool between takes, in the shade."

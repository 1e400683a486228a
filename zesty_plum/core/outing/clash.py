"""What clashes on a day: one person in two places, a camera twice at once, cards and batteries that
run out."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..reckon.cards import USABLE, fast_enough
from .shoot import Shoot

LITTLE = 0.9  # share of a card from which it is all but full


@dataclass(frozen=True)
class Planned:
    """A shoot with the camera that it is done with, by name, and what a file of it takes:
    megabytes a picture, megabits a second of a clip."""

    shoot: Shoot
    camera: str
    megabytes: float = 20.0
    megabits: float = 100.0


def clashes(planned: Sequence[Planned]) -> list[str]:
    """Sentences on people and cameras that are wanted twice at once."""
    out = []
    for k, one in enumerate(planned):
        for two in planned[k + 1 :]:
            a, b = one.shoot, two.shoot
            if max(a.starts, b.starts) >= min(a.ends, b.ends):
                continue
            both = f"'{a.title}' and '{b.title}' at once"
            if a.who and a.who == b.who:
                out.append(f"{a.who} is at {both}.")
            if one.camera and one.camera == two.camera:
                out.append(f"{one.camera} is wanted for {both}.")
    return out


@dataclass(frozen=True)
class Use:
    """What of a camera's cards a day takes: megabytes and of how many; files and minutes; and the
    shoot at which it is full, if it is."""

    camera: str
    taken: float
    holds: float
    files: int
    minutes: float
    full_at: str

    @property
    def share(self) -> float:
        """Of the card."""
        return self.taken / self.holds if self.holds else 0.0

    @property
    def words(self) -> str:
        """In a sentence; empty where there is room."""
        if self.full_at:
            return f"The card of {self.camera} is full during '{self.full_at}'."
        if self.share >= LITTLE:
            return f"The card of {self.camera} is all but full at the end."
        return ""


def cards(planned: Sequence[Planned], gigabytes: dict[str, float]) -> list[Use]:
    """What each camera's cards take over the day, in the order of the shoots."""
    out = []
    for camera in dict.fromkeys(p.camera for p in planned if p.camera):
        holds = gigabytes.get(camera, 0.0) * 1000 * USABLE
        taken, files, minutes, full = 0.0, 0, 0.0, ""
        for one in sorted((p for p in planned if p.camera == camera), key=lambda p: p.shoot.starts):
            shoot = one.shoot
            taken += shoot.files * one.megabytes + shoot.minutes * 60 * one.megabits / 8
            files, minutes = files + shoot.files, minutes + shoot.minutes
            if holds and taken > holds and not full:
                full = shoot.title
        out.append(Use(camera, taken, holds, files, minutes, full))
    return out


CHARGE = 380  # pictures of a battery's charge, by the usual test (CIPA DC-002)
CLIP_PICTURES = 5  # that a minute of clips costs
CLASSES = {"V30": 30.0, "V60": 60.0, "V90": 90.0, "U3": 30.0, "U1": 10.0, "C10": 10.0}


def batteries(use: Use, many: int) -> str:
    """Whether a camera's batteries last, in words; empty where they do or nobody said how many."""
    if not many:
        return ""
    wanted = (use.files + CLIP_PICTURES * use.minutes) / CHARGE
    if wanted <= many:
        return ""
    return (
        f"{use.camera} wants about {wanted:.1f} batteries, and there are {many}; fewer pictures "
        "come of a charge in the cold."
    )


def too_slow(camera: str, said: str, megabits: float) -> str:
    """That a card is too slow for a bit rate, by the class that is said of it; else empty."""
    found = next((name for name in CLASSES if name in said.upper().split()), "")
    if not found or fast_enough(CLASSES[found], megabits):
        return ""
    return (
        f"The card of {camera} is {found}: it sustains {CLASSES[found] * 8:.0f} Mbit/s, and clips "
        f"of {megabits:g} want a fifth more than that rate."
    )

"""What clashes on a day: one person in two places, a camera twice at once, cards and batteries that
run out."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..reckon.cards import USABLE
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
            taken += shoot.frames * one.megabytes + shoot.minutes * 60 * one.megabits / 8
            files, minutes = files + shoot.frames, minutes + shoot.minutes
            if holds and taken > holds and not full:
                full = shoot.title
        out.append(Use(camera, taken, holds, files, minutes, full))
    return out

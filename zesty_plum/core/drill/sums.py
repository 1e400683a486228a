"""Arithmetic of a day: a sum with numbers drawn anew, and its formula in the answer."""

import random
from dataclasses import dataclass

from ..base.errors import PlumError
from ..reckon.sheet import BY_ID
from ..reckon.solve import Field, Sum, solve

# Numbers as people meet them, by field.
DRAWN: dict[str, tuple[float, ...]] = {
    "aperture": (1.8, 2, 2.8, 4, 5.6, 8, 11), "time": (1 / 500, 1 / 250, 1 / 125, 1 / 60, 1 / 30),
    "iso": (100, 200, 400, 800, 1600, 3200), "focal": (24, 35, 50, 85, 135, 200),
    "crop": (1, 1.5, 2), "stabilised": (0, 2, 3, 4), "rate": (24, 25, 30, 50, 60),
    "angle": (90, 180), "ev": (15, 14, 12, 10), "factor": (4, 8, 16, 32, 64, 1024),
    "record": (50, 60, 100, 120), "timeline": (24, 25, 30), "seconds": (5, 8, 10, 12),
    "gigabytes": (32, 64, 128, 256), "mbps": (50, 100, 150, 200), "megabytes": (8, 12, 25, 36.5),
    "base": (100, 125, 200, 400, 800), "stops": (1, 2), "above": (5, 6), "index": (200, 320, 1600),
    "from": (1.5, 2), "to": (1,), "clip": (8, 10, 20), "over": (1800, 3600, 7200),
    "frames": (3, 5, 7), "step": (1, 2), "mired": (10, 20, 30),
    "kelvin": (2700, 3200, 4000, 5000, 6500), "megapixels": (20, 24, 33),
}  # fmt: skip
ASKED = ("ev", "hand", "angle", "filter", "grey", "slow", "card", "files", "speed", "bracket",
         "balance", "mired", "guard", "index", "view", "lapse", "pixels")  # fmt: skip
NEAR, STOP = 0.06, 0.3  # share by which an answer may be off, and of an EV or of stops
IN_STOPS = ("ev", "stops", "grey", "room")


@dataclass(frozen=True)
class Question:
    """A sum, the numbers that are given, and which field is asked."""

    sum: str
    given: tuple[tuple[str, float], ...]
    field: str

    @property
    def one(self) -> Sum:
        """The sum."""
        return BY_ID[self.sum]

    @property
    def asked(self) -> Field:
        """The field that is asked."""
        return next(f for f in self.one.fields if f.name == self.field)

    @property
    def right(self) -> float:
        """What comes out."""
        return float(solve(self.one, dict(self.given))[self.field])

    @property
    def rows(self) -> list[tuple[str, str]]:
        """What is given, as it is printed."""
        given = dict(self.given)
        return [(_named(f), f.prints(given[f.name])) for f in self.one.asks if f.name in given]

    @property
    def words(self) -> str:
        """The question in a line."""
        told = ", ".join(f"{label} {value}" for label, value in self.rows)
        return f"{self.one.label}: {told}. Asked: {self.asked.label}."

    def answered(self, text: str) -> bool:
        """Whether an answer is right, within what people round."""
        value = self.asked.read(text.strip().removesuffix("s").strip() if self.asked.time else text)
        if self.field in IN_STOPS:
            return abs(value - self.right) <= STOP
        room = 0.18 if self.asked.time else NEAR  # cameras print times in thirds of a stop
        return abs(value - self.right) <= room * abs(self.right)

    @property
    def told(self) -> str:
        """What comes out, as it is printed, and by which formula."""
        value = self.asked.prints(self.right)
        label = _named(self.asked)
        words = f"{label[:1].upper()}{label[1:]}: {value}. {self.one.formula}. {self.one.rule}"
        return words.strip()


def _named(field: Field) -> str:
    """A field's label; without the unit where that is printed with the value, as of times."""
    return field.label.split(",")[0] if field.time else field.label


def ask(seed: int, number: int) -> Question:
    """Question `number`: sums come in turn, shuffled."""
    order = list(ASKED)
    random.Random(f"sums-{seed}-{number // len(order)}").shuffle(order)
    one = BY_ID[order[number % len(order)]]
    draw = random.Random(f"sum-{seed}-{number}")
    for _ in range(50):
        given = tuple((f.name, draw.choice(DRAWN[f.name])) for f in one.asks if not f.free)
        field = one.gives[0]
        found = Question(one.id, given, field.name)
        try:
            value = found.right
        except PlumError:
            continue
        if field.low <= value <= field.high:
            return found
    raise PlumError("No numbers go together for this sum.")

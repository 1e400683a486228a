"""A week of drills of the crew, answered by a simulated eye that learns."""

import math
import random
import sqlite3

from ..core.drill.begun import Begun, Person
from ..core.drill.dimensions import DIMENSIONS
from ..core.drill.quest import replayed
from ..store import drills
from ..store.drills import Answer
from .kit import before

WHO, DAYS, EACH = "pier crew", 5, 4  # answers of each kind a day
LEARNS = 0.28  # octaves a day


def fill(db: sqlite3.Connection, now: str) -> None:
    """Put the crew's drills into a library."""
    draw = random.Random(20261107)
    who = drills.person(db, Person(WHO), before(now, DAYS))
    told: dict[str, list[tuple[float, bool]]] = {d.id: [] for d in DIMENSIONS}
    seen = {d.id: d.scale.expected + draw.uniform(0.6, 1.4) for d in DIMENSIONS}
    for day in range(DAYS):
        at = before(now, DAYS - day)
        begun = Begun("which", EACH * len(DIMENSIONS), draw.randrange(1, 9999))
        made = drills.begin(db, who, begun, at, on="a laptop")
        for number in range(made.many):
            dim = DIMENSIONS[number % len(DIMENSIONS)]
            size = replayed(dim.scale, told[dim.id]).ask(dim.sizes)
            over = 2 ** (1.5 * (size - seen[dim.id] + LEARNS * day))
            right = draw.random() < 0.1 + 0.87 * (1 - math.exp(-over))
            told[dim.id].append((size, right))
            given = Answer(number, {}, "", right, f"which:{dim.id}", size, 4.0, at)
            drills.answer(db, made.id, given)

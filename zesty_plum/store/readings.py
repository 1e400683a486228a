"""What was found in cameras: every reading is kept, and the newest says what stands in them."""

import sqlite3
from dataclasses import dataclass

from ..core.base.errors import PlumError
from ..core.kit import card
from ..core.kit.state import State, shipped
from . import checks
from .cases import HOWS, Case, in_use, listed
from .database import transaction
from .plans import plan_of

CARD, TYPED, CARRIED_OUT = HOWS


@dataclass(frozen=True)
class Reading:
    """What was found in a case."""

    id: int
    read_at: str
    how: str
    state: State


def keep(db: sqlite3.Connection, case: Case, found: State, how: str, now: str) -> int:
    """Keep what was found; what was not read stays as it was found before."""
    with transaction(db):
        in_use(db, case.id)
        before = last(db, case)
        if before:
            now_ = found.now if found.now is not None else before.state.now
            slots_ = {**before.state.slots, **found.slots}
            found = State(slots_, now_, {**before.state.beside, **found.beside})
        text = card.files(case.camera, found, case.called, now)[f"{card.FOLDER}/{card.CARD}"]
        made = db.execute(
            "INSERT INTO kit_reading (case_id, read_at, how, card) VALUES (?, ?, ?, ?)",
            (case.id, now, how, text),
        )
    return int(made.lastrowid or 0)


def listed_of(db: sqlite3.Connection, case: Case, most: int = 20) -> list[Reading]:
    """What was found in a case, the newest first."""
    rows = db.execute(
        "SELECT * FROM kit_reading WHERE case_id = ? ORDER BY id DESC LIMIT ?", (case.id, most)
    ).fetchall()
    return checks.readable(rows, read_reading)  # others are of a body whose list has changed since


def read_reading(row: sqlite3.Row) -> Reading:
    """A reading; it raises whatever a row that means nothing makes it raise."""
    checks.moment(row, "read_at")
    if row["how"] not in HOWS:
        raise PlumError("how it was read is not known")
    state = card.loads(checks.text(row, "card", card.MOST_BYTES, 2)).state
    return Reading(row["id"], row["read_at"], row["how"], state)


def last(db: sqlite3.Connection, case: Case) -> Reading | None:
    """The newest of them."""
    return next(iter(listed_of(db, case, 1)), None)


def whole_plan(db: sqlite3.Connection, case: Case) -> State:
    """The plan, and what nobody planned as it was found, or else as shipped."""
    base, found, plan = shipped(case.camera), last(db, case), plan_of(db, case)
    there = found.state if found else base
    slots_ = {**base.slots, **there.slots, **plan.slots}
    return State(slots_, there.now, {**base.beside, **there.beside, **plan.beside})


def of_its_body(case: Case, made: card.Card) -> None:
    """PlumError where a card is of another body."""
    if made.body.id != case.body:
        raise PlumError(
            f"This card is of a {made.body.name}; {case.called} is a {case.camera.name}. Read it "
            "as that camera's."
        )


def whose(db: sqlite3.Connection, made: card.Card) -> Case:
    """The camera that a card is of, by its name, or the only one of its body."""
    mine = [c for c in listed(db) if c.body == made.body.id]
    called = [c for c in mine if made.case and made.case in (c.called, c.name, c.letter)]
    called = [c for c in called if c.called == made.case] or called
    if len(called) == 1 or len(mine) == 1:
        return (called or mine)[0]
    if not mine:
        raise PlumError(
            f"This card is of a {made.body.name}, and none is in your kit. Add the camera first."
        )
    names = " and ".join(c.short for c in mine)
    raise PlumError(
        f"{len(mine)} of your cameras are a {made.body.name}: {names}. Say which one the card is "
        "from."
    )

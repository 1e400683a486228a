"""What should stand in the cameras of a kit: their slots, and the settings beside the look."""

import json
import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any

from ..core.base.errors import NotFound, PlumError
from ..core.base.text import shortened
from ..core.bodies import Body, Value
from ..core.kit.case import MOST_WORD, About
from ..core.kit.differ import Planned
from ..core.kit.state import Held, State, bank_of, held, slot_of
from ..core.recipe import MOST_BYTES, Recipe, dumps, loads
from . import cases, checks, slips
from .cases import Case
from .database import insert, transaction
from .tables import Tables

PLAN = {"kit_slot": "key", "kit_beside": "setting"}  # the tables that hold a plan, by what
MOST_UNDONE = 500  # changes of plans that can be undone


@dataclass(frozen=True)
class Put:
    """What should be in a slot: a recipe, the slip and version that it is, for what, on which scene
    it is shown, since when, and what was settled to be left there instead."""

    key: str
    slip: int | None
    version: int
    recipe: Recipe
    why: str
    scene: str
    put_at: str
    left: Mapping[str, Value] | None


@dataclass(frozen=True)
class New:
    """A camera that is to come in: its body, what is said of it, and what should stand in it."""

    camera: Body
    about: About
    puts: Sequence[Put] = ()
    beside: Mapping[str, Value] = field(default_factory=dict)


def add_all(db: sqlite3.Connection, every: Sequence[New], now: str) -> list[Case]:
    """New cameras with their plans; all of them come in, or none."""
    for new in every:
        _checked_plan(new.camera, new.puts, new.beside)
    with transaction(db):
        ids = []
        for new in every:
            ids.append(cases.insert_new(db, new.camera, new.about, now))
            _write_plan(db, ids[-1], new.puts, new.beside)
        return [cases.get(db, case_id) for case_id in ids]


def slots_of(db: sqlite3.Connection, case_id: int) -> dict[str, Put]:
    """What should be in the slots of a case, by key; but for what cannot be read, see `lost`."""
    return _read_slots(db, case_id)[0]


def lost(db: sqlite3.Connection, case_id: int) -> dict[str, str]:
    """Slots whose plan cannot be read, by key, and why: it is for a dial that its body lacks by
    now. It stays kept, until something else is put there."""
    return _read_slots(db, case_id)[1]


def _read_slots(db: sqlite3.Connection, case_id: int) -> tuple[dict[str, Put], dict[str, str]]:
    rows = db.execute("SELECT * FROM kit_slot WHERE case_id = ? ORDER BY key", (case_id,))
    out, faults = {}, {}
    camera = cases.get(db, case_id).camera
    for row in rows.fetchall():
        try:
            slot_of(camera, str(row["key"]))
            out[row["key"]] = checks.made("Slot", row, read_put)
        except PlumError as error:
            why = error.why if isinstance(error, checks.CannotRead) else str(error).rstrip(".")
            faults[str(row["key"])] = f"{why}."
    return out, faults


def _check_slot(row: sqlite3.Row) -> dict[str, Value] | None:
    """Whether a slot's row is one, whatever its recipe means here by now: its body may have lost a
    dial. Returns what was left in it."""
    checks.text(row, "key", 8, 1)
    checks.text(row, "recipe", MOST_BYTES, 2)
    checks.text(row, "why", MOST_WORD)
    checks.text(row, "scene", MOST_WORD)
    checks.moment(row, "put_at")
    left = json.loads(row["left_so"]) if row["left_so"] else None
    if left is not None and not isinstance(left, dict):
        raise PlumError("what was left in it is damaged")
    return left


def read_put(row: sqlite3.Row) -> Put:
    """What should be in a slot; it raises whatever a row that means nothing makes it raise."""
    left = _check_slot(row)
    recipe = loads(row["recipe"])
    if left is not None:
        left = {name: recipe.camera.dial(name).choice(v).value for name, v in left.items()}
    return Put(
        row["key"],
        row["slip"],
        row["version"],
        recipe,
        row["why"],
        row["scene"],
        row["put_at"],
        left,
    )


def fits(camera: Body, key: str, recipe: Recipe) -> None:
    """PlumError says why a recipe does not belong into a slot."""
    slot = slot_of(camera, key)
    if recipe.body != camera.id:
        raise PlumError(
            f"'{recipe.name}' is for {recipe.camera.name}, not for {camera.name}. Move it to that "
            "body first: on the Bench, choose the body above the dials."
        )
    if slot.bank and bank_of(camera, recipe.dials) != slot.bank:
        raise PlumError(
            f"Slot {slot.label} is for {slot.bank}, and '{recipe.name}' is not. Put it among the "
            f"slots for {bank_of(camera, recipe.dials)}."
        )


def put(db: sqlite3.Connection, case_id: int, made: Put) -> int:
    """Put something into a slot; returns what undoes it. PlumError where it does not belong."""
    with _undoable(db, case_id, made.put_at) as undo:
        fits(cases.in_use(db, case_id).camera, made.key, made.recipe)
        _write_slot(db, case_id, made)
    return undo[0]


def _write_slot(db: sqlite3.Connection, case_id: int, made: Put) -> None:
    left = json.dumps(dict(made.left)) if made.left is not None else None
    db.execute(
        "INSERT OR REPLACE INTO kit_slot (case_id, key, slip, version, recipe, why, scene, put_at, "
        "left_so) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            *(case_id, made.key, made.slip, made.version, dumps(made.recipe, None)),
            *(made.why[:MOST_WORD], made.scene[:MOST_WORD], made.put_at, left),
        ),
    )


def clear(db: sqlite3.Connection, case_id: int, key: str, now: str) -> int:
    """Plan nothing for a slot; returns what undoes it."""
    with _undoable(db, case_id, now) as undo:
        slot_of(cases.in_use(db, case_id).camera, key)
        db.execute("DELETE FROM kit_slot WHERE case_id = ? AND key = ?", (case_id, key))
    return undo[0]


def beside_of(db: sqlite3.Connection, case: Case) -> dict[str, Value]:
    """Settings beside the look as they should be, of those that the body has."""
    rows = db.execute("SELECT * FROM kit_beside WHERE case_id = ?", (case.id,)).fetchall()
    known = case.camera.beside_by_id
    return {
        r["setting"]: r["value"]
        for r in rows
        if r["setting"] in known and r["value"] in known[r["setting"]].values
    }


def set_beside(db: sqlite3.Connection, case_id: int, values: Mapping[str, Value], now: str) -> int:
    """Plan settings beside the look; returns what undoes it."""
    with _undoable(db, case_id, now) as undo:
        _checked_plan(cases.in_use(db, case_id).camera, (), values)
        _write_plan(db, case_id, (), values)
    return undo[0]


def plan_anew(
    db: sqlite3.Connection,
    case_id: int,
    puts: Sequence[Put],
    beside: Mapping[str, Value],
    now: str,
    like: int | None = None,
    came: int | None = None,
) -> int:
    """Another plan in the place of the one there is, all of it or nothing; `like` is the case whose
    state it is while this one is borrowed, `came` the reading of how it came. Returns what undoes
    it."""
    with _undoable(db, case_id, now) as undo:
        _checked_plan(cases.in_use(db, case_id).camera, puts, beside)
        for table in PLAN:
            db.execute(f"DELETE FROM {table} WHERE case_id = ?", (case_id,))
        _write_plan(db, case_id, puts, beside)
        db.execute(
            "UPDATE kit_case SET like_case = ?, came = ? WHERE id = ?", (like, came, case_id)
        )
    return undo[0]


def _checked_plan(camera: Body, puts: Sequence[Put], beside: Mapping[str, Value]) -> None:
    """PlumError says what of a plan a camera cannot have."""
    for made in puts:
        fits(camera, made.key, made.recipe)
    for name, value in beside.items():
        if name not in camera.beside_by_id:
            raise PlumError(
                f"{camera.name} has no setting '{shortened(name, 40)}' beside the look."
            )
        camera.beside_by_id[name].choice(value)


def _write_plan(
    db: sqlite3.Connection, case_id: int, puts: Sequence[Put], beside: Mapping[str, Value]
) -> None:
    for made in puts:
        _write_slot(db, case_id, made)
    for name, value in beside.items():
        db.execute(
            "INSERT OR REPLACE INTO kit_beside (case_id, setting, value) VALUES (?, ?, ?)",
            (case_id, name, str(value)),
        )


Rows = dict[str, dict[str, Any]]  # of a plan's table, by slot or setting


def _plan_rows(db: sqlite3.Connection, case_id: int) -> dict[str, Rows]:
    out = {}
    for table, key in PLAN.items():
        rows = db.execute(f"SELECT * FROM {table} WHERE case_id = ?", (case_id,))
        out[table] = {str(row[key]): dict(row) for row in rows}
    return out


@contextmanager
def _undoable(db: sqlite3.Connection, case_id: int, now: str) -> Iterator[list[int]]:
    """A change of a plan, in one transaction; what it changed is noted, and gives the number that
    undoes it. The last changes can be undone."""
    number: list[int] = []
    with transaction(db):
        before = _plan_rows(db, case_id)
        yield number
        after = _plan_rows(db, case_id)
        changed = {
            table: [
                [key, before[table].get(key), after[table].get(key)]
                for key in {**before[table], **after[table]}
                if before[table].get(key) != after[table].get(key)
            ]
            for table in PLAN
        }
        made = db.execute(
            "INSERT INTO kit_before (case_id, at, changed) VALUES (?, ?, ?)",
            (case_id, now, json.dumps(changed, ensure_ascii=False)),
        )
        db.execute("DELETE FROM kit_before WHERE id <= ?", ((made.lastrowid or 0) - MOST_UNDONE,))
        number.append(int(made.lastrowid or 0))


def undo(db: sqlite3.Connection, before: int) -> tuple[int, list[str]]:
    """Put back what a change changed, and nothing else; returns its case, and the slots and
    settings that stay, as somebody changed them since."""
    with transaction(db):
        row = db.execute("SELECT * FROM kit_before WHERE id = ?", (before,)).fetchone()
        if row is None:
            raise NotFound("This change cannot be undone any more.")
        case_id = int(row["case_id"])
        now, stay = _plan_rows(db, case_id), []
        for table, changes in json.loads(row["changed"]).items():
            for key, was, became in changes:
                if now[table].get(key) != became:
                    stay.append(key)
                    continue
                db.execute(
                    f"DELETE FROM {table} WHERE case_id = ? AND {PLAN[table]} = ?", (case_id, key)
                )
                if was is not None:
                    insert(db, table, was)
    return case_id, stay


def whole(db: sqlite3.Connection, case: Case) -> tuple[Mapping[str, Put], Mapping[str, Value]]:
    """The whole plan of a case: its slots, and what is beside the look."""
    return slots_of(db, case.id), beside_of(db, case)


def plan_of(db: sqlite3.Connection, case: Case) -> State:
    """What should stand in a case, as a state; a slot that was left so holds what was left."""
    camera = case.camera
    planned = {
        key: Held(held(camera, made.left or made.recipe.dials), made.recipe.name)
        for key, made in slots_of(db, case.id).items()
    }
    return State(planned, None, beside_of(db, case))


def planned(db: sqlite3.Connection, case: Case) -> dict[str, Planned]:
    """The same with the versions of each slip, for saying what differs."""
    out = {}
    for key, made in slots_of(db, case.id).items():
        others: dict[int, Recipe] = {}
        if made.slip is not None:
            try:
                every = slips.history(db, made.slip)
            except PlumError:
                every = []
            others = {s.version: s.recipe for s in every if s.version != made.version}
        out[key] = Planned(made.recipe, made.version, others, made.left)
    return out


def standing(db: sqlite3.Connection, slip_id: int) -> list[tuple[Case, Put]]:
    """Where a slip stands, in cases that are in use."""
    return [
        (case, made)
        for case in cases.listed(db)
        for made in slots_of(db, case.id).values()
        if made.slip == slip_id
    ]


# ---- backup --------------------------------------------------------------------------------------
def _check_beside(row: sqlite3.Row) -> None:
    checks.text(row, "setting", 40, 1)
    checks.text(row, "value", 60)


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "kit_slot", "A slot of camera", _check_slot)
    checks.every(db, "kit_beside", "A setting of camera", _check_beside)


TABLES = Tables(
    left_out={"kit_before": "what a change can be undone with ends with the session"},
    checked=_checked,
)

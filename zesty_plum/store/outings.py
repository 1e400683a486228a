"""Days that are planned: where and when, who comes with what, and the shoots on them."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field, replace
from datetime import date
from functools import partial

from ..core.base.errors import Gone, NotFound, PlumError
from ..core.base.text import shortened
from ..core.fields.declared import checked
from ..core.outing.day import Day
from ..core.outing.shoot import MOST_NAME, Shoot
from ..core.reckon.sun import Place
from . import checks
from .database import hit, transaction
from .tables import Counts, Tables

MOST, MOST_SHOOTS, MOST_SAID = 500, 40, 20_000
STEP = 5  # minutes
LOST_SHOOT = "This shoot is not on this day any more, so nothing was changed."
OWN = ("case", "slot", "scene")  # of a row, beside what is said of its shoot


@dataclass(frozen=True)
class Row:
    """A shoot on a day, with the case and slot that it is done with, and the scene that shows
    it."""

    id: int
    shoot: Shoot
    case: int | None = None
    slot: str = ""
    scene: str = ""


@dataclass(frozen=True)
class Outing:
    """A day that is kept, with its shoots."""

    id: int
    said: Day
    deleted: bool
    rows: tuple[Row, ...] = field(default=())

    @property
    def name(self) -> str:
        """What it is called."""
        return self.said.name

    @property
    def on(self) -> date:
        """Its date."""
        return self.said.on

    @property
    def place(self) -> Place:
        """Where the sun is asked for."""
        return self.said.where


def read_day(row: sqlite3.Row) -> Day:
    """What is said of a day; it raises whatever a row that means nothing makes it raise."""
    checks.text(row, "name", MOST_NAME, 1)
    checks.moment(row, "made_at")
    checks.moment(row, "deleted_at", may_lack=True)
    told = json.loads(checks.text(row, "said", MOST_SAID, 2))
    told["cases"] = tuple(int(n) for n in told.get("cases", ()))
    day = Day(name=row["name"], on=date.fromisoformat(row["date"]), **told)
    checked(day)
    return day


def read_shoot(row: sqlite3.Row) -> Row:
    """A shoot, likewise."""
    checks.moment(row, "removed_at", may_lack=True)
    told = json.loads(checks.text(row, "said", MOST_SAID, 2))
    about = {k: told.pop(k) for k in OWN if k in told}
    made = Row(row["id"], Shoot(**told), **about)
    checked(made.shoot)
    if not isinstance(made.case, int | None) or not isinstance(made.slot + made.scene, str):
        raise PlumError("its camera, slot and scene are damaged")
    return made


def _outing(db: sqlite3.Connection, row: sqlite3.Row) -> Outing:
    said = checks.made("Day", row, read_day)
    found = db.execute(
        "SELECT * FROM outing_shoot WHERE outing = ? AND removed_at IS NULL", (row["id"],)
    ).fetchall()
    rows = sorted(
        checks.readable(found, read_shoot), key=lambda r: (r.shoot.starts, r.shoot.ends, r.id)
    )
    return Outing(row["id"], said, row["deleted_at"] is not None, tuple(rows))


def listed(db: sqlite3.Connection) -> list[Outing]:
    """All days that can be read, the latest first."""
    rows = db.execute(
        "SELECT * FROM outing WHERE deleted_at IS NULL ORDER BY date DESC, id DESC"
    ).fetchall()
    return checks.readable(rows, partial(_outing, db))


def get(db: sqlite3.Connection, outing_id: int) -> Outing:
    """A day."""
    row = db.execute("SELECT * FROM outing WHERE id = ?", (outing_id,)).fetchone()
    if row is None:
        raise NotFound("There is no such day. Outing lists those that there are.")
    return _outing(db, row)


# ---- changes -------------------------------------------------------------------------------------
def add(db: sqlite3.Connection, day: Day, now: str, rows: Sequence[Row] = ()) -> Outing:
    """A new day with its shoots; all of it comes in, or nothing."""
    with transaction(db):
        if db.execute("SELECT count(*) FROM outing").fetchone()[0] >= MOST:
            raise PlumError(f"{MOST} days are kept already.")
        made = db.execute(
            "INSERT INTO outing (name, date, said, made_at) VALUES (:name, :date, :said, :now)",
            {**_values(day), "now": now},
        )
        number = int(made.lastrowid or 0)
        for row in rows:
            _write(db, number, row)
    return get(db, number)


def _values(day: Day) -> dict[str, str]:
    told = asdict(day)
    name, on = told.pop("name"), told.pop("on").isoformat()
    return {"name": name, "date": on, "said": json.dumps(told, ensure_ascii=False)}


def change(db: sqlite3.Connection, outing_id: int, day: Day) -> Outing:
    """A day, written anew; its shoots stay, and their light follows."""
    with transaction(db):
        _live(db, outing_id)
        db.execute(
            "UPDATE outing SET name = :name, date = :date, said = :said WHERE id = :id",
            {**_values(day), "id": outing_id},
        )
        return get(db, outing_id)


def _live(db: sqlite3.Connection, outing_id: int) -> None:
    """Gone where a day is in the trash."""
    if get(db, outing_id).deleted:
        raise Gone(
            "This day was deleted meanwhile, so nothing was changed. Take it back first: undo, or "
            "the list of days."
        )


def delete(db: sqlite3.Connection, outing_id: int, now: str | None) -> Outing:
    """Delete a day, or with no moment take it back."""
    with transaction(db):
        db.execute("UPDATE outing SET deleted_at = ? WHERE id = ?", (now, outing_id))
        return get(db, outing_id)


def duplicate(db: sqlite3.Connection, outing_id: int, now: str) -> Outing:
    """The same day again, to be moved to another date."""
    with transaction(db):
        old = get(db, outing_id)
        day = replace(old.said, name=f"{shortened(old.name, MOST_NAME - 7)}, again")
        return add(db, day, now, old.rows)


def _write(db: sqlite3.Connection, outing_id: int, row: Row) -> int:
    made = db.execute(
        "INSERT INTO outing_shoot (outing, said) VALUES (?, ?)", (outing_id, _text(row))
    )
    return int(made.lastrowid or 0)


def _text(row: Row) -> str:
    told = {**asdict(row.shoot), "case": row.case, "slot": row.slot, "scene": row.scene}
    return json.dumps(told, ensure_ascii=False)


def put_shoot(db: sqlite3.Connection, outing_id: int, row: Row) -> int:
    """A shoot more, or one written anew where it has an id; returns its id."""
    with transaction(db):
        _live(db, outing_id)
        if row.id:
            done = db.execute(
                "UPDATE outing_shoot SET said = ? WHERE id = ? AND outing = ? "
                "AND removed_at IS NULL",
                (_text(row), row.id, outing_id),
            )
            hit(done, LOST_SHOOT)
            return row.id
        many = db.execute(
            "SELECT count(*) FROM outing_shoot WHERE outing = ? AND removed_at IS NULL",
            (outing_id,),
        ).fetchone()[0]
        if many >= MOST_SHOOTS:
            raise PlumError(f"A day holds {MOST_SHOOTS} shoots.")
        return _write(db, outing_id, row)


def remove_shoot(db: sqlite3.Connection, outing_id: int, shoot_id: int, now: str | None) -> None:
    """Remove a shoot, or with no moment take it back."""
    with transaction(db):
        _live(db, outing_id)
        done = db.execute(
            "UPDATE outing_shoot SET removed_at = ? WHERE id = ? AND outing = ?",
            (now, shoot_id, outing_id),
        )
        hit(done, LOST_SHOOT)


def shoot(outing: Outing, shoot_id: int) -> Row:
    """A shoot of a day; Gone where it was taken off."""
    for row in outing.rows:
        if row.id == shoot_id:
            return row
    raise Gone(LOST_SHOOT)


def moved(row: Row, minutes: int) -> Row:
    """A shoot earlier or later by so many minutes; it begins on its day."""
    shoot = row.shoot
    by = min(max(minutes, -shoot.starts), 24 * 60 - STEP - shoot.starts)
    return replace(row, shoot=replace(shoot, starts=shoot.starts + by, ends=shoot.ends + by))


# ---- backup --------------------------------------------------------------------------------------
def _copy(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
    """Days that are not here yet, by name, date and when they were made; cameras of another
    library are not those of this one, so shoots come without them."""
    for row in source.execute("SELECT * FROM outing ORDER BY id").fetchall():
        same = "SELECT 1 FROM outing WHERE name = ? AND date = ? AND made_at = ?"
        if db.execute(same, (row["name"], row["date"], row["made_at"])).fetchone():
            continue
        made = db.execute(
            "INSERT INTO outing (name, date, said, made_at, deleted_at) "
            "VALUES (:name, :date, :said, :made_at, :deleted_at)",
            {**dict(row), "said": _without_cases(row["said"])},
        )
        for shoot in source.execute(
            "SELECT * FROM outing_shoot WHERE outing = ?", (row["id"],)
        ).fetchall():
            told = json.loads(shoot["said"])
            told["case"] = None
            db.execute(
                "INSERT INTO outing_shoot (outing, said, removed_at) VALUES (?, ?, ?)",
                (made.lastrowid, json.dumps(told, ensure_ascii=False), shoot["removed_at"]),
            )
    return 0, 0


def _without_cases(said: str) -> str:
    return json.dumps({**json.loads(said), "cases": []}, ensure_ascii=False)


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "outing", "Day", read_day)
    checks.every(db, "outing_shoot", "Shoot", read_shoot)


TABLES = Tables({"outing": _copy}, comes_with={"outing_shoot": "outing"}, order=3, checked=_checked)

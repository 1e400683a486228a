"""Days that are planned: where and when, who comes with what, and the shoots on them."""

import json
import re
import sqlite3
from collections.abc import Collection, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from datetime import date
from typing import Any

from ..core.errors import NotFound, PlumError
from ..core.outing import bag
from ..core.outing.lights import WEATHERS, kinds
from ..core.outing.meter import AROUNDS
from ..core.outing.places import PLACES
from ..core.outing.shoot import BRACKETS, Shoot
from ..core.outing.sunlight import BEARINGS
from ..core.recipe import Intent
from ..core.reckon.sun import Place
from ..core.reckon.time import MAINS, measured
from . import checks
from .database import transaction
from .tables import Counts, Tables

MOST, MOST_SHOOTS, MOST_NAME, MOST_TEXT = 500, 40, 80, 400
MOST_SAID = 20_000
STEP = 5  # minutes
MOST_BRACKET = 15  # frames
LONGEST = 16  # hours of a shoot; one that seems longer is a slip of the pen
_CLOCK = re.compile(r"([01]?\d|2[0-3])[:.]([0-5]\d)|(24)[:.](00)")


@dataclass(frozen=True)
class Said:
    """What is said of a day: place, mains, weather, people and a note; grey filters in the bag, the
    coldest in degrees Celsius, and the cases that come, all of them where none is named."""

    place: str = ""
    latitude: float = 54.3
    longitude: float = 10.1
    zone: str = "Europe/Berlin"
    mains: int = 50
    weather: str = "clear"
    people: str = ""
    note: str = ""
    filters: str = ""
    celsius: float | None = None
    cases: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "cases", tuple(self.cases))


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
    """A day."""

    id: int
    name: str
    on: date
    said: Said
    deleted: bool
    rows: tuple[Row, ...] = field(default=())

    @property
    def place(self) -> Place:
        """Where the sun is asked for."""
        return Place(self.said.latitude, self.said.longitude, self.said.zone)


def _outing(db: sqlite3.Connection, row: sqlite3.Row) -> Outing:
    try:
        said = Said(**json.loads(row["said"]))
        on = date.fromisoformat(row["date"])
    except (ValueError, TypeError) as error:
        raise PlumError("This day is damaged and cannot be read.") from error
    return Outing(row["id"], row["name"], on, said, row["deleted_at"] is not None, _rows(db, row))


def _rows(db: sqlite3.Connection, outing: sqlite3.Row) -> tuple[Row, ...]:
    found = db.execute(
        "SELECT * FROM outing_shoot WHERE outing = ? AND removed_at IS NULL", (outing["id"],)
    ).fetchall()
    out = []
    for row in found:
        told = json.loads(row["said"])
        about = {k: told.pop(k, d) for k, d in (("case", None), ("slot", ""), ("scene", ""))}
        out.append(Row(row["id"], Shoot(**told), **about))
    return tuple(sorted(out, key=lambda r: (r.shoot.starts, r.shoot.ends, r.id)))


def listed(db: sqlite3.Connection) -> list[Outing]:
    """All days, the latest first."""
    rows = db.execute(
        "SELECT * FROM outing WHERE deleted_at IS NULL ORDER BY date DESC, id DESC"
    ).fetchall()
    return [_outing(db, row) for row in rows]


def get(db: sqlite3.Connection, outing_id: int) -> Outing:
    """A day."""
    row = db.execute("SELECT * FROM outing WHERE id = ?", (outing_id,)).fetchone()
    if row is None:
        raise NotFound("There is no such day. Outing lists those that there are.")
    return _outing(db, row)


# ---- what forms say ------------------------------------------------------------------------------
def clock(text: str, what: str) -> int:
    """Minutes of a day, of 06:15."""
    found = _CLOCK.fullmatch(text.strip())
    if not found:
        raise PlumError(f"{what} is a time of day, as 06:15, not '{text[:20]}'.")
    hour, minute = filter(None, found.groups())
    return int(hour) * 60 + int(minute)


def _float(given: Mapping[str, Any], key: str, usual: float, low: float, high: float) -> float:
    text = str(given.get(key, "")).strip().replace(",", ".")
    if not text:
        return usual
    try:
        value = float(text)
    except ValueError as error:
        raise PlumError(f"The {key} is a number, not '{text[:20]}'.") from error
    if not low <= value <= high:
        raise PlumError(f"The {key} goes from {low:g} to {high:g}.")
    return value


def _some(given: Mapping[str, Any], key: str, low: float, high: float) -> float:
    """A number within limits, or 0 where none is said."""
    value = _float(given, key, 0, 0, high)
    if value and value < low:
        raise PlumError(f"The {key} goes from {low:g} to {high:g}.")
    return value


def _word(given: Mapping[str, Any], key: str, most: int = MOST_NAME) -> str:
    return " ".join(str(given.get(key, "")).split())[:most]


def said_by(given: Mapping[str, Any]) -> tuple[str, date, Said]:
    """Name, date and the rest of a day, checked."""
    name = _word(given, "name") or "A day out"
    try:
        on = date.fromisoformat(str(given.get("date", "")).strip())
    except ValueError as error:
        raise PlumError("A day needs its date, as 2026-11-07.") from error
    word = _word(given, "place")
    there = next((p for p in PLACES if p.name.casefold() == word.casefold()), None)
    usual = Said() if there is None else Said(
        latitude=there.latitude, longitude=there.longitude, zone=there.zone, mains=there.mains
    )  # fmt: skip
    cold = _float(given, "celsius", 99, -60, 99)
    said = Said(
        place=there.name if there else word,
        latitude=_float(given, "latitude", usual.latitude, -90, 90),
        longitude=_float(given, "longitude", usual.longitude, -180, 180),
        zone=_word(given, "zone") or usual.zone,
        mains=int(_float(given, "mains", usual.mains, 50, 60)),
        weather=_word(given, "weather") or usual.weather,
        people=_word(given, "people", MOST_TEXT),
        note=_word(given, "note", MOST_TEXT),
        filters=_word(given, "filters", MOST_TEXT),
        celsius=None if cold == 99 else cold,
        cases=tuple(map(int, given.get("cases", ()))),
    )
    bag.read(said.filters)
    if said.mains not in MAINS or said.weather not in WEATHERS:
        raise PlumError(f"Mains are 50 or 60 Hz; weather is {', '.join(WEATHERS)}.")
    _ = Place(said.latitude, said.longitude, said.zone).clock
    return name, on, said


def shoot_by(given: Mapping[str, Any]) -> Shoot:
    """A shoot, checked."""
    starts, ends = (clock(str(given.get(k, "")), k.capitalize()) for k in ("from", "to"))
    if starts == 24 * 60:
        starts = 0
    if ends <= starts:
        ends += 24 * 60
    if ends - starts > LONGEST * 60:
        raise PlumError(
            f"A shoot ends after it begins and within {LONGEST} hours; one over midnight ends "
            "the next day."
        )
    light = _one_of(given, "light", "out", kinds())
    kind = _one_of(given, "kind", "exposure", BRACKETS)
    said_ev = str(given.get("ev", "")).strip()
    return Shoot(
        starts,
        ends,
        _word(given, "title") or "A shoot",
        light,
        int(_some(given, "kelvin", 1000, 20000)),
        measured(said_ev) if said_ev else None,
        _float(given, "speed", 0, 0, 400),
        _float(given, "near", 3, 0.05, 10000),
        _float(given, "focal", 35, 1, 2000),
        int(_float(given, "frames", 0, 0, 100_000)),
        _float(given, "minutes", 0, 0, 1440),
        _word(given, "who"),
        _word(given, "must", MOST_TEXT),
        int(_float(given, "bracket", 1, 1, MOST_BRACKET)),
        _float(given, "step", 1, 0.3, 200 if kind == "balance" else 5),
        _some(given, "lapse", 0.5, 3600),
        kind,
        _some(given, "far", 0.05, 10000),
        _some(given, "thread", 10, 200),
        _some(given, "timeline", 1, 1000),
        _some(given, "index", 12, 1_000_000),
        _some(given, "grey", 0.3, 20),
        _one_of(given, "weather", "", ("", *WEATHERS)),
        _one_of(given, "around", "", ("", *AROUNDS)),
        _bearing(_word(given, "looking")),
        _float(given, "walk", 0, 0, 600),
        _one_of(given, "intent", "", ("", *Intent)),
    )


def _bearing(text: str) -> float | None:
    if not text:
        return None
    if text in BEARINGS:
        return BEARINGS[text]
    return _float({"looking": text}, "looking", 0, 0, 360)


def _one_of(given: Mapping[str, Any], key: str, usual: str, known: Collection[str]) -> str:
    word = _word(given, key) or usual
    if word not in known:
        listed = ", ".join(k for k in known if k)
        raise PlumError(f"There is no {key} '{word[:30]}'. There are {listed}.")
    return word


# ---- changes -------------------------------------------------------------------------------------
def add(
    db: sqlite3.Connection, given: Mapping[str, Any], now: str, rows: Sequence[Row] = ()
) -> Outing:
    """A new day with its shoots; all of it comes in, or nothing."""
    name, on, said = said_by(given)
    return _added(db, name, on, said, rows, now)


def _added(
    db: sqlite3.Connection, name: str, on: date, said: Said, rows: Sequence[Row], now: str
) -> Outing:
    with transaction(db):
        if db.execute("SELECT count(*) FROM outing").fetchone()[0] >= MOST:
            raise PlumError(f"{MOST} days are kept already.")
        made = _insert(db, name, on, said, now)
        for row in rows:
            _write(db, made, row)
    return get(db, made)


def _insert(db: sqlite3.Connection, name: str, on: date, said: Said, now: str) -> int:
    made = db.execute(
        "INSERT INTO outing (name, date, said, made_at) VALUES (?, ?, ?, ?)",
        (name, on.isoformat(), json.dumps(asdict(said), ensure_ascii=False), now),
    )
    return int(made.lastrowid or 0)


def change(db: sqlite3.Connection, outing_id: int, given: Mapping[str, Any]) -> Outing:
    """A day, written anew; its shoots stay, and their light follows."""
    name, on, said = said_by(given)
    with transaction(db):
        db.execute(
            "UPDATE outing SET name = ?, date = ?, said = ? WHERE id = ?",
            (name, on.isoformat(), json.dumps(asdict(said), ensure_ascii=False), outing_id),
        )
    return get(db, outing_id)


def delete(db: sqlite3.Connection, outing_id: int, now: str | None) -> Outing:
    """Delete a day, or with no moment take it back."""
    with transaction(db):
        db.execute("UPDATE outing SET deleted_at = ? WHERE id = ?", (now, outing_id))
    return get(db, outing_id)


def duplicate(db: sqlite3.Connection, outing_id: int, now: str) -> Outing:
    """The same day again, to be moved to another date."""
    old = get(db, outing_id)
    return _added(db, f"{old.name}, again"[:MOST_NAME], old.on, old.said, old.rows, now)


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
        if row.id:
            db.execute(
                "UPDATE outing_shoot SET said = ? WHERE id = ? AND outing = ?",
                (_text(row), row.id, outing_id),
            )
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
        db.execute(
            "UPDATE outing_shoot SET removed_at = ? WHERE id = ? AND outing = ?",
            (now, shoot_id, outing_id),
        )


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


def _check_outing(row: sqlite3.Row) -> None:
    checks.text(row, "name", MOST_NAME, 1)
    checks.moment(row, "made_at")
    checks.moment(row, "deleted_at", may_lack=True)
    try:
        Said(**json.loads(checks.text(row, "said", MOST_SAID, 2)))
        date.fromisoformat(checks.text(row, "date", 10, 10))
    except (ValueError, TypeError) as error:
        raise PlumError("what is said of it is damaged") from error


def _check_shoot(row: sqlite3.Row) -> None:
    try:
        told = json.loads(checks.text(row, "said", MOST_SAID, 2))
        Shoot(**{k: v for k, v in told.items() if k not in ("case", "slot", "scene")})
    except (ValueError, TypeError, AttributeError) as error:
        raise PlumError("what is said of it is damaged") from error


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "outing", "Day", _check_outing)
    checks.every(db, "outing_shoot", "Shoot", _check_shoot)


TABLES = Tables({"outing": _copy}, comes_with={"outing_shoot": "outing"}, order=3, checked=_checked)

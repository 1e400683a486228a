"""One damaged row at a time, in any table and column: no page of any room falls down by it, and no
backup brings it into another library to do so there."""

import io
import random
import sqlite3
import tempfile
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from flask import Flask
from flask.testing import FlaskClient
from PIL import Image

from tests.attack.report import Result
from zesty_plum.demo.seed import seed as fill
from zesty_plum.store.database import connect
from zesty_plum.web import create_app

ODD = (
    *("{}", "[", "zz", "", "null", "[1]", "\ud7ff", "9999-12-31", "0000-00-00", b"\xff", None),
    *(-1, 0, 10**15, 1e308, '{"a": [[[]]]}', "[[1, 2, 3, 4, 5]]", "x" * 30_000, "[" * 19_000),
)
PAGES = (
    *("/bench?slip=2", "/wall?r=slip-2&r=slip-3", "/slips", "/slips/2", "/kit/", "/notes/"),
    *("/kit/cases/1?slot=1", "/kit/cases/1/presses", "/kit/cases/1/sheet", "/kit/match"),
    *("/outing/", "/outing/1?shoot=2", "/outing/days", "/outing/1/pocket.html", "/notes/1"),
    *("/notes/singly/1", "/notes/notes.csv", "/drill/", "/drill/1", "/blind/1", "/devices"),
    *("/find.json?q=a", "/outing/1/plan.ics", "/outing/1/day.outing.json", "/kit/kit.json"),
)
SPARED = ("shelf", "sqlite")  # made anew from what is kept


def library(folder: Path) -> Flask:
    """The demo's library, with a picture, a blind round and something in every room."""
    app = create_app(folder)
    app.config["WTF_CSRF_ENABLED"] = False
    with closing(connect(app.config["DATABASE"])) as db:
        fill(db, "2026-10-03T18:00:00Z")
    client, held = app.test_client(), io.BytesIO()
    Image.new("RGB", (60, 40), (90, 80, 70)).save(held, "JPEG")
    held.seek(0)
    client.post("/take-in", data={"file": (held, "own.jpg"), "as": "picture"})
    begun = {"r": ["slip-2", "slip-3"], "scene": "loft", "person": "Ann"}
    client.post("/blind/begin", data=begun)
    return app


def places(db: sqlite3.Connection) -> list[tuple[str, str, int]]:
    """Every column of a few rows of every table, with the row's number in its table."""
    tables = [r[0] for r in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
    out = []
    for table in tables:
        if table.startswith(SPARED):
            continue
        try:
            rows = db.execute(f"SELECT rowid AS rid, * FROM {table} LIMIT 3").fetchall()
        except sqlite3.OperationalError:
            continue  # of a table without such numbers
        out += [(table, name, row["rid"]) for row in rows for name in row.keys()[1:]]
    return [p for p in out if p[1] != "id" or p[0] == "picture"]


def run(tried: int, seed: int = 1, say: Callable[[str], None] = lambda _: None) -> list[Result]:
    """So many damaged rows."""
    dice = random.Random(seed)
    pages, restores = Result("damaged rows, pages", 0), Result("damaged rows, restored", 0)
    with tempfile.TemporaryDirectory() as folder:
        app = library(Path(folder) / "a")
        with closing(connect(app.config["DATABASE"])) as db:
            db.execute("PRAGMA foreign_keys = OFF")
            every = places(db)
            while pages.tried < tried:
                at, odd = dice.choice(every), dice.choice(ODD)
                was = _damaged(db, at, odd)
                if was is UNTOUCHED:
                    continue
                pages.tried += 1
                what = f"{at} = {odd!r:.40}"
                _looked_at(app.test_client(), pages, what)
                if pages.tried % 8 == 0:
                    _restored(app, Path(folder) / f"b{pages.tried}", restores, what)
                if pages.tried % 100 == 0:
                    say(f"  {pages.tried} rows")
                _damaged(db, at, was)  # mended
    return [pages, restores]


UNTOUCHED = object()


def _damaged(db: sqlite3.Connection, at: tuple[str, str, int], odd: object) -> object:
    """What stood there before; UNTOUCHED where nothing is, or its table does not take the value."""
    table, column, rid = at
    row = db.execute(f"SELECT {column} FROM {table} WHERE rowid = ?", (rid,)).fetchone()
    if row is None:
        return UNTOUCHED
    try:
        db.execute(f"UPDATE {table} SET {column} = ? WHERE rowid = ?", (odd, rid))
    except (sqlite3.IntegrityError, sqlite3.DataError):
        return UNTOUCHED
    return row[0]


def _looked_at(client: FlaskClient, result: Result, what: str) -> None:
    for page in PAGES:
        code = client.get(page).status_code
        if code >= 500:
            result.faults.append(f"{page} is a {code} by {what}")


def _restored(app: Flask, folder: Path, result: Result, what: str) -> None:
    """A backup of the damaged library, put into an empty one: refused, or harmless there."""
    answer = app.test_client().get("/backup.zip")
    if answer.status_code >= 400:
        if answer.status_code >= 500:
            result.faults.append(f"making a backup is a {answer.status_code} by {what}")
        return  # it says what cannot be saved
    result.tried += 1
    other = create_app(folder)
    other.config["WTF_CSRF_ENABLED"] = False
    sent = {"file": (io.BytesIO(answer.data), "b.zip"), "how": "replace"}
    asked = {"Accept": "application/json"}
    code = other.test_client().post("/restore", data=sent, headers=asked).status_code
    if code >= 500:
        result.faults.append(f"restoring is a {code} by {what}")
    _looked_at(other.test_client(), result, f"{what}, restored")

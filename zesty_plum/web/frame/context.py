"""What a view needs of its request: the database, the clock, the data folder's keepers, and values
of the address within their limits."""

import sqlite3
from datetime import UTC, datetime
from typing import Any

from flask import current_app, flash, g, get_flashed_messages, jsonify, redirect, request, session
from werkzeug.datastructures import FileStorage
from werkzeug.wrappers import Response

from ...core.base.errors import PlumError
from ...core.base.text import shortened, well_formed
from ...store import database, faults
from ...store.pictures import Pictures
from ...store.place import Place
from ...store.renders import Renders
from .values import within

MOST_NOTES, MOST_LETTERS = 5, 280  # a cookie holds 4 KB, and of some scripts two bytes a letter


def db() -> sqlite3.Connection:
    """This request's connection."""
    if "db" not in g:
        path = current_app.config["DATABASE"]
        if not path.is_file():  # SQLite would make an empty one
            raise faults.Missing(faults.MISSING)
        g.db = database.connect(path)
    connection: sqlite3.Connection = g.db
    return connection


def close(_: BaseException | None) -> None:
    """Close this request's connection, if it asked for one."""
    connection = g.pop("db", None)
    if connection is not None:
        connection.close()


def now() -> str:
    """The present, to the second, in UTC."""
    moment: datetime = current_app.config["CLOCK"]()
    return moment.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


def pictures() -> Pictures:
    """The person's own pictures."""
    found: Pictures = current_app.extensions["pictures"]
    return found


def place() -> Place:
    """The data folder."""
    found: Place = current_app.extensions["place"]
    return found


def renders() -> Renders:
    """Small renders kept on disk."""
    found: Renders = current_app.extensions["renders"]
    return found


def sent_file(choose: str) -> FileStorage:
    """The file that was sent with a form; PlumError, with what to choose, where none was."""
    given = request.files.get("file")
    if given is None or not given.filename:
        raise PlumError(f"No file was chosen. {choose}")
    return given


def tell(words: str, kind: str = "done") -> None:
    """A note on the next page. What is kept until then is short and well-formed, and no more than a
    cookie holds, so that no page can fail by it."""
    notes = session.get("_flashes", [])
    if len(notes) >= MOST_NOTES:
        session["_flashes"] = notes[1 - MOST_NOTES :]
    flash(shortened(well_formed(words), MOST_LETTERS), kind)


def say_now(words: str, kind: str) -> None:
    """A note on the page that is being made."""
    g.setdefault("said_now", []).append((kind, words))


def told() -> list[tuple[str, str]]:
    """The notes for this page: (kind, words)."""
    found: list[Any] = [*get_flashed_messages(with_categories=True), *g.get("said_now", [])]
    return [(well_formed(str(note[0])), well_formed(str(note[1]))) for note in found]


def wants_json() -> bool:
    """Whether a script asks, not a page."""
    return request.headers.get("Accept", "").startswith("application/json")


def went(to: str) -> Response:
    """On to a page; a script is told where."""
    return jsonify(to=to) if wants_json() else redirect(to)


def number(name: str, default: int, low: int, high: int) -> int:
    """A whole number from the address, within limits."""
    return within(name, request.args.get(name, str(default)), low, high)

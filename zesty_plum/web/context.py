"""What a view needs of its request: the database, the clock, the data folder's keepers, and values
of the address within their limits."""

import sqlite3
from datetime import UTC, datetime

from flask import current_app, g, request

from ..core.errors import PlumError
from ..store import database
from ..store.pictures import Pictures
from ..store.renders import Renders


def db() -> sqlite3.Connection:
    """This request's connection."""
    if "db" not in g:
        g.db = database.connect(current_app.config["DATABASE"])
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


def renders() -> Renders:
    """Small renders kept on disk."""
    found: Renders = current_app.extensions["renders"]
    return found


def wants_json() -> bool:
    """Whether a script asks, not a page."""
    return request.headers.get("Accept", "").startswith("application/json")


def number(name: str, default: int, low: int, high: int) -> int:
    """A whole number from the address, within limits."""
    text = request.args.get(name, str(default))
    if not text.lstrip("-").isdigit() or len(text) > 12 or not low <= int(text) <= high:
        raise PlumError(
            f"'{name}' has to be a whole number from {low} to {high}, not '{text[:20]}'."
        )
    return int(text)

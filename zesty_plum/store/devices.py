"""Devices that were paired with this machine: phones that look at what is on it, in its network."""

import hashlib
import secrets
import sqlite3
from dataclasses import dataclass

from ..core.base.errors import NotFound, PlumError
from .database import transaction
from .tables import Tables

MOST_NAME, MOST = 40, 20
LOOK, EVERYTHING = "look", "everything"
RIGHTS = {LOOK: "look and tick", EVERYTHING: "everything"}


@dataclass(frozen=True)
class Device:
    """A paired device."""

    id: int
    name: str
    rights: str
    paired_at: str
    seen_at: str


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _device(row: sqlite3.Row) -> Device:
    return Device(row["id"], row["name"], row["rights"], row["paired_at"], row["seen_at"])


def pair(db: sqlite3.Connection, name: str, rights: str, now: str) -> str:
    """Keep a new device; returns the token that it shows from now on."""
    called = " ".join(name.split()) or "Phone"
    if len(called) > MOST_NAME:
        raise PlumError(f"A device's name has at most {MOST_NAME} letters. Shorten it.")
    if rights not in RIGHTS:
        raise PlumError("A device may look and tick, or do everything.")
    token = secrets.token_urlsafe(32)
    with transaction(db):
        if db.execute("SELECT count(*) FROM device").fetchone()[0] >= MOST:
            raise PlumError(f"{MOST} devices are paired already. Forget one that you use no more.")
        db.execute(
            "INSERT INTO device (name, token, rights, paired_at, seen_at) VALUES (?, ?, ?, ?, ?)",
            (called, _digest(token), rights, now, now),
        )
    return token


def known(db: sqlite3.Connection, token: str, now: str) -> Device | None:
    """The device that shows a token; that it was seen is noted to the minute."""
    device = of_token(db, token)
    if device is not None and device.seen_at[:16] != now[:16]:
        with transaction(db):
            db.execute("UPDATE device SET seen_at = ? WHERE id = ?", (now, device.id))
    return device


def of_token(db: sqlite3.Connection, token: str) -> Device | None:
    """The device that shows a token."""
    row = db.execute("SELECT * FROM device WHERE token = ?", (_digest(token),)).fetchone()
    return _device(row) if row is not None else None


def listed(db: sqlite3.Connection) -> list[Device]:
    """All paired devices, the newest first."""
    return [_device(row) for row in db.execute("SELECT * FROM device ORDER BY id DESC")]


def forget(db: sqlite3.Connection, device_id: int) -> str:
    """Let a device in no more; returns its name."""
    with transaction(db):
        row = db.execute("DELETE FROM device WHERE id = ? RETURNING name", (device_id,)).fetchone()
    if row is None:
        raise NotFound("This device is not paired any more.")
    return str(row["name"])


TABLES = Tables(stays={"device": "a device is paired with one machine, not with a library"})

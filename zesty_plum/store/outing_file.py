"""A day as an open file, `.outing.json`: to pass on, and to bring in again."""

import json
import sqlite3
from typing import Any

from ..core.base.errors import PlumError
from ..core.base.text import shortened, well_formed_data
from ..core.fields.declared import from_file, to_file
from ..core.fields.declared import schema as schema_of
from ..core.fields.kinds import Schema
from ..core.outing.day import Day, completed
from ..core.outing.shoot import Shoot
from . import outings
from .outings import Outing, Row

FORMAT, VERSION = "zesty-plum-outing", 1
MOST_BYTES = 2**20
MOST_SLOT, MOST_SCENE = 8, 80
SLOT = {"type": "string", "maxLength": MOST_SLOT, "default": ""}
SCENE = {"type": "string", "maxLength": MOST_SCENE, "default": ""}


def schema() -> dict[str, Any]:
    """JSON Schema of the outing file (draft 2020-12)."""
    shoot = schema_of(Shoot, "Shoot", {"slot": SLOT, "scene": SCENE})
    head: dict[str, Schema] = {
        "format": {"const": FORMAT},
        "version": {"type": "integer", "minimum": 1, "maximum": VERSION},
        "shoots": {"type": "array", "maxItems": outings.MOST_SHOOTS, "items": shoot},
    }
    made = schema_of(Day, "Zesty Plum outing", head)
    made["required"] += ["format", "version"]
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made}


def dumps(outing: Outing) -> str:
    """A day's file as text."""
    shoots = [{**to_file(row.shoot), "slot": row.slot, "scene": row.scene} for row in outing.rows]
    data = {"format": FORMAT, "version": VERSION, **to_file(outing.said), "shoots": shoots}
    return json.dumps(data, ensure_ascii=False, indent=1) + "\n"


def take_in(db: sqlite3.Connection, text: bytes, now: str) -> Outing:
    """Add the day of a file; cameras are everybody's own, so shoots come without them. PlumError
    says what is wrong, and nothing comes in then."""
    told = _read(text)
    day = from_file(Day, completed(told), "In this day's file ")
    return outings.add(db, day, now, [_row(k, shoot) for k, shoot in enumerate(_shoots(told), 1)])


def _shoots(told: dict[str, Any]) -> list[Any]:
    shoots = told.get("shoots", [])
    if not isinstance(shoots, list) or len(shoots) > outings.MOST_SHOOTS:
        raise PlumError(f"'shoots' of this day's file is no list of up to {outings.MOST_SHOOTS}.")
    return shoots


def _row(number: int, told: Any) -> Row:
    if not isinstance(told, dict):
        raise PlumError(f"Shoot {number} of this day's file is none.")
    shoot, scene = from_file(Shoot, told, f"In shoot {number} of this file "), told.get("scene", "")
    return Row(0, shoot, scene=scene[:MOST_SCENE] if isinstance(scene, str) else "")


def _read(text: bytes) -> dict[str, Any]:
    if len(text) > MOST_BYTES:
        raise PlumError("This day's file is over 1 MB. Choose another file.")
    try:
        data = well_formed_data(json.loads(text))
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError("This is no day's file: it is not valid JSON in UTF-8.") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        said = shortened(str(data.get("format")), 40) if isinstance(data, dict) else "none"
        raise PlumError(f"This is no day's file: its 'format' is {said}, not {FORMAT}.")
    version = data.get("version")
    if type(version) is int and version > VERSION:
        raise PlumError(f"This day's file is of version {version}. Update the program to read it.")
    if type(version) is not int or version < 1:
        raise PlumError(f"This day's file says no version. It should be {VERSION}.")
    return data

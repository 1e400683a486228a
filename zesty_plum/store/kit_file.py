"""All cameras with what should stand in them, as one open file, `kit.json`."""

import json
import sqlite3
from typing import Any

from ..core.base.errors import PlumError
from ..core.base.text import shortened, well_formed_data
from ..core.bodies import bodies
from ..core.fields.declared import from_file, to_file
from ..core.fields.declared import schema as schema_of
from ..core.fields.kinds import Schema
from ..core.kit.case import About, Stands
from ..core.recipe import from_data, to_data
from . import cases, plans
from .cases import Case
from .plans import New, Put

FORMAT, VERSION = "zesty-plum-kit", 1
MOST_BYTES, MOST_SLOTS, MOST_BODY = 8 * 2**20, 400, 40
RECIPE: Schema = {"type": "object", "description": "A recipe, as in its own file."}


def schema() -> dict[str, Any]:
    """JSON Schema of kit.json (draft 2020-12)."""
    slot = schema_of(Stands, "Slot", {"recipe": RECIPE})
    slot["required"].append("recipe")
    case = schema_of(
        About,
        "Camera",
        {
            "body": {"type": "string", "maxLength": MOST_BODY},
            "slots": {"type": "array", "maxItems": MOST_SLOTS, "items": slot},
            "beside": {"type": "object", "additionalProperties": {"type": "string"}},
        },
    )
    case["required"] += ["name", "body"]
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "type": "object",
        "title": "Zesty Plum kit",
        "properties": {
            "format": {"const": FORMAT},
            "version": {"type": "integer", "minimum": 1, "maximum": VERSION},
            "cases": {"type": "array", "maxItems": cases.MOST, "items": case},
        },
        "required": ["format", "version"],
    }


def to_kit(db: sqlite3.Connection, now: str) -> dict[str, Any]:
    """What kit.json holds."""
    every = [_told(db, case) for case in cases.listed(db)]
    return {"format": FORMAT, "version": VERSION, "written_at": now, "cases": every}


def dumps(db: sqlite3.Connection, now: str) -> str:
    """The same as text."""
    return json.dumps(to_kit(db, now), ensure_ascii=False, indent=1) + "\n"


def _told(db: sqlite3.Connection, case: Case) -> dict[str, Any]:
    slots = [
        {
            **to_file(Stands(put.key, put.version, put.why, put.scene)),
            "recipe": to_data(put.recipe),
        }
        for put in plans.slots_of(db, case.id).values()
    ]
    return {**to_file(case), "body": case.body, "slots": slots, "beside": plans.beside_of(db, case)}


def take_in(db: sqlite3.Connection, text: bytes, now: str) -> list[Case]:
    """Add the cameras of a kit.json; those that are here already, by name and body, stay as they
    are. PlumError says what is wrong, and nothing comes in then."""
    here = {(c.name, c.body) for c in cases.listed(db)}
    every = [_new(k, told, now) for k, told in enumerate(_read(text), 1)]
    return plans.add_all(db, [n for n in every if (n.about.name, n.camera.id) not in here], now)


def _read(text: bytes) -> list[Any]:
    if len(text) > MOST_BYTES:
        raise PlumError("This kit.json is over 8 MB. Choose another file.")
    try:
        data = well_formed_data(json.loads(text))
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError("This is no kit.json: it is not valid JSON in UTF-8.") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise PlumError(f"This is no kit.json: its 'format' is not {FORMAT}.")
    version = data.get("version")
    if type(version) is int and version > VERSION:
        raise PlumError(f"This kit.json is of version {version}. Update the program to read it.")
    if type(version) is not int or version < 1:
        raise PlumError(f"This kit.json says no version. It should be {VERSION}.")
    return _list(data, "cases", cases.MOST, "This kit.json")


def _list(told: dict[str, Any], key: str, most: int, whose: str) -> list[Any]:
    found = told.get(key, [])
    if not isinstance(found, list) or len(found) > most:
        raise PlumError(f"{whose} has a fault in '{key}': it is no list of up to {most}.")
    return found


def _new(number: int, told: Any, now: str) -> New:
    """A camera of the file with its plan."""
    where = f"Camera {number} of this kit.json"
    if not isinstance(told, dict) or not isinstance(told.get("name"), str):
        raise PlumError(f"{where} has no name.")
    about, name = from_file(About, told, f"In camera {number} of this kit.json "), told.get("body")
    if not isinstance(name, str) or name not in bodies():
        raise PlumError(
            f"'{about.name}' is of the body '{shortened(str(name), 40)}', which is not here. Bring "
            "in its file on Kit first."
        )
    puts = [_put(where, slot, now) for slot in _list(told, "slots", MOST_SLOTS, where)]
    beside = told.get("beside", {})
    if not isinstance(beside, dict) or not all(isinstance(v, str) for v in beside.values()):
        raise PlumError(f"{where} has a fault in 'beside': it gives names to values.")
    return New(bodies()[name], about, puts, beside)


def _put(where: str, told: Any, now: str) -> Put:
    if not isinstance(told, dict) or not isinstance(told.get("recipe"), dict):
        raise PlumError(f"{where} has a slot without a recipe.")
    slot = from_file(Stands, told, f"{where}, in a slot: ")
    return Put(slot.key, None, 0, from_data(told["recipe"]), slot.why, slot.scene, now, None)

"""All cameras with what should stand in them, as one open file, `kit.json`."""

import json
import sqlite3
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StrictFloat, StrictInt, StrictStr
from pydantic import ValidationError as Invalid

from ..core.bodies import bodies
from ..core.errors import PlumError
from ..core.recipe import from_data, to_data
from ..core.text import shortened, well_formed_data
from . import cases
from .cases import Case, New, Put

FORMAT, VERSION = "zesty-plum-kit", 1
MOST_BYTES = 8 * 2**20
Word = Annotated[StrictStr, Field(max_length=cases.MOST_WORD)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="allow", title="Zesty Plum kit")


class _Slot(_Part):
    key: Annotated[StrictStr, Field(max_length=8, description="2, or c2 for clips.")]
    recipe: dict[str, Any] = Field(description="A recipe, as in its own file.")
    version: StrictInt = Field(default=0, ge=0, description="Of its slip; 0 where it is none.")
    why: Word = ""
    scene: Word = ""


class _Case(_Part):
    name: Word
    body: Annotated[StrictStr, Field(max_length=40)]
    carried: Word = ""
    letter: Annotated[StrictStr, Field(max_length=8)] = ""
    crop: StrictFloat | StrictInt = Field(default=1, gt=0, le=cases.MOST_CROP)
    cards: Word = ""
    batteries: StrictInt = Field(default=0, ge=0, le=cases.MOST_BATTERIES)
    charge: StrictInt = Field(default=0, ge=0, description="Pictures of one.")
    ahead: StrictInt = Field(default=0, description="Seconds that its clock is ahead.")
    hot: StrictInt = Field(
        default=0, ge=0, le=cases.MOST_HOT, description="Minutes of clips until it stopped of heat."
    )
    note: Annotated[StrictStr, Field(max_length=cases.MOST_NOTE)] = ""
    slots: list[_Slot] = Field(default=[], max_length=400)
    beside: dict[str, StrictStr] = {}


class _Kit(_Part):
    format: StrictStr = Field(pattern=f"^{FORMAT}$", description=f"Always '{FORMAT}'.")
    version: StrictInt = Field(ge=1, le=VERSION, description="Version of this format.")
    cases: list[_Case] = Field(default=[], max_length=cases.MOST)


def schema() -> dict[str, Any]:
    """JSON Schema of kit.json (draft 2020-12)."""
    made = _Kit.model_json_schema()
    made["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return made


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
            "key": put.key,
            "version": put.version,
            "why": put.why,
            "scene": put.scene,
            "recipe": to_data(put.recipe),
        }
        for put in cases.slots_of(db, case.id).values()
    ]
    about = {key: getattr(case, key) for key in cases.ABOUT}
    return {**about, "body": case.body, "slots": slots, "beside": cases.beside_of(db, case)}


def take_in(db: sqlite3.Connection, text: bytes, now: str) -> list[Case]:
    """Add the cameras of a kit.json; those that are here already, by name and body, stay as they
    are. PlumError says what is wrong, and nothing comes in then."""
    kit = _read(text)
    here = {(c.name, c.body) for c in cases.listed(db)}
    new = [_new(told, now) for told in kit.cases if (told.name, told.body) not in here]
    return cases.add_all(db, new, now)


def _read(text: bytes) -> _Kit:
    if len(text) > MOST_BYTES:
        raise PlumError("This kit.json is over 8 MB. Choose another file.")
    try:
        data = well_formed_data(json.loads(text))
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError("This is no kit.json: it is not valid JSON in UTF-8.") from error
    version = data.get("version") if isinstance(data, dict) else None
    if type(version) is int and version > VERSION:
        raise PlumError(f"This kit.json is of version {version}. Update the program to read it.")
    try:
        return _Kit.model_validate(data)
    except Invalid as error:
        first = error.errors()[0]
        where = shortened(".".join(map(str, first["loc"])), 80)
        raise PlumError(f"The kit.json has a fault in '{where}': {first['msg']}.") from error


def _new(told: _Case, now: str) -> New:
    """A camera of the file with its plan."""
    if told.body not in bodies():
        raise PlumError(
            f"'{told.name}' is of the body '{shortened(told.body, 40)}', which is not here. Bring "
            "in its file on Kit first."
        )
    puts = [Put(s.key, None, 0, from_data(s.recipe), s.why, s.scene, now, None) for s in told.slots]
    return New(bodies()[told.body], told.model_dump(), puts, dict(told.beside))

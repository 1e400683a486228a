"""A day as an open file, `.outing.json`: to pass on, and to bring in again."""

import json
import sqlite3
from dataclasses import asdict
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StrictStr
from pydantic import ValidationError as Invalid

from ..core.errors import PlumError
from ..core.outing.power import clock
from ..core.text import shortened, well_formed_data
from . import outings
from .outings import Outing, Row

FORMAT, VERSION = "zesty-plum-outing", 1
MOST_BYTES = 2**20
Word = Annotated[StrictStr, Field(max_length=outings.MOST_NAME)]
Text = Annotated[StrictStr, Field(max_length=outings.MOST_TEXT)]
Clock = Annotated[StrictStr, Field(pattern=r"^([01]?\d|2[0-4]):[0-5]\d$")]


class _Part(BaseModel):
    model_config = ConfigDict(extra="allow", title="Zesty Plum outing", populate_by_name=True)


class _Shoot(_Part):
    title: Word
    begins: Clock = Field(alias="from", description="Local time, as 06:15.")
    to: Clock
    light: Word = "out"
    kelvin: int = Field(default=0, ge=0, le=20000)
    ev100: float | None = Field(default=None, description="If it was measured.")
    speed: float = Field(default=0, ge=0, description="Across the frame, m/s.")
    near: float = Field(default=3, gt=0, description="Metres.")
    focal: float = Field(default=35, gt=0, description="Millimetres.")
    frames: int = Field(default=0, ge=0)
    minutes: float = Field(default=0, ge=0, description="Of clips.")
    who: Word = ""
    must: Text = ""
    bracket: int = Field(default=1, ge=1, le=99)
    step: float = Field(default=1, gt=0, le=200, description="Stops, or mired.")
    lapse: float = Field(default=0, ge=0, description="Seconds of a clip.")
    kind: Word = Field(default="exposure", description="Of a bracket.")
    far: float = Field(default=0, ge=0, description="Metres, of a focus bracket from near.")
    thread: float = Field(default=0, ge=0, description="Of the lens's filters, millimetres.")
    timeline: float = Field(default=0, ge=0, description="Rate at which slow motion is shown.")
    index: float = Field(default=0, ge=0, description="Exposure index.")
    grey: float = Field(default=0, ge=0, description="Stops of a grey filter for a long time.")
    weather: Word = Field(default="", description="Where it is not the day's.")
    around: Word = Field(default="", description="What the frame is mostly.")
    looking: float | None = Field(default=None, ge=0, le=360, description="Bearing, degrees.")
    walk: float = Field(default=0, ge=0, description="Minutes to get there.")
    intent: Word = Field(default="", description="What the files are for.")
    slot: Annotated[StrictStr, Field(max_length=8)] = ""
    scene: Word = ""


class _Outing(_Part):
    format: StrictStr = Field(pattern=f"^{FORMAT}$", description=f"Always '{FORMAT}'.")
    version: int = Field(ge=1, le=VERSION, description="Version of this format.")
    name: Word
    date: Annotated[StrictStr, Field(pattern=r"^\d{4}-\d\d-\d\d$")]
    place: Word = ""
    latitude: float = Field(default=54.3, ge=-90, le=90)
    longitude: float = Field(default=10.1, ge=-180, le=180)
    zone: Word = "Europe/Berlin"
    mains: int = 50
    weather: Word = "clear"
    people: Text = ""
    note: Text = ""
    filters: Text = Field(default="", description="In the bag, as ND8 67, ND64 72.")
    celsius: float | None = Field(default=None, description="The coldest.")
    shoots: list[_Shoot] = Field(default=[], max_length=outings.MOST_SHOOTS)


def schema() -> dict[str, Any]:
    """JSON Schema of the outing file (draft 2020-12)."""
    made = _Outing.model_json_schema()
    made["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return made


def dumps(outing: Outing) -> str:
    """A day's file as text."""
    head = {"format": FORMAT, "version": VERSION, "name": outing.name}
    shoots = [_shoot(row) for row in outing.rows]
    said = {k: v for k, v in asdict(outing.said).items() if k != "cases"}
    data = {**head, "date": outing.on.isoformat(), **said, "shoots": shoots}
    return json.dumps(data, ensure_ascii=False, indent=1) + "\n"


def _shoot(row: Row) -> dict[str, Any]:
    told = asdict(row.shoot)
    times = {"from": clock(told.pop("starts")), "to": clock(told.pop("ends"))}
    return {"title": told.pop("title"), **times, **told, "slot": row.slot, "scene": row.scene}


def take_in(db: sqlite3.Connection, text: bytes, now: str) -> Outing:
    """Add the day of a file; cameras are everybody's own, so shoots come without them. PlumError
    says what is wrong, and nothing comes in then."""
    told = _read(text).model_dump(by_alias=True)
    rows = []
    for shoot in told.pop("shoots"):
        said = _lean({**shoot, "ev": shoot["ev100"]})
        rows.append(Row(0, outings.shoot_by(said), None, "", shoot["scene"]))
    return outings.add(db, _lean({**told, "cases": None}), now, rows)


def _lean(told: dict[str, Any]) -> dict[str, Any]:
    """Without what is not said."""
    return {k: v for k, v in told.items() if v is not None}


def _read(text: bytes) -> _Outing:
    if len(text) > MOST_BYTES:
        raise PlumError("This day's file is over 1 MB. Choose another file.")
    try:
        data = well_formed_data(json.loads(text))
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError("This is no day's file: it is not valid JSON in UTF-8.") from error
    version = data.get("version") if isinstance(data, dict) else None
    if type(version) is int and version > VERSION:
        raise PlumError(f"This day's file is of version {version}. Update the program to read it.")
    try:
        return _Outing.model_validate(data)
    except Invalid as error:
        first = error.errors()[0]
        where = shortened(".".join(map(str, first["loc"])), 80)
        raise PlumError(f"The day's file has a fault in '{where}': {first['msg']}.") from error

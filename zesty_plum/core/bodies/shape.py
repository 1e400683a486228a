"""A body's file as a model, from which its published JSON Schema is made.

Apart from `file`, since its library takes a while to load, and the bodies that ship do without."""

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StrictBool, StrictFloat, StrictInt, StrictStr
from pydantic import ValidationError as Invalid

from ..base.errors import PlumError
from ..base.text import shortened
from ..styles.learnt import KNOTS, SIDE, WAVES
from .file import (
    FORMAT,
    MOST_DIALS,
    MOST_LABEL,
    MOST_NAME,
    MOST_PLACES,
    MOST_STYLES,
    MOST_TIMES,
    VERSION,
)

Value = StrictInt | StrictFloat | Annotated[StrictStr, Field(max_length=60)]
Text = Annotated[StrictStr, Field(max_length=600)]
Id = Annotated[StrictStr, Field(pattern=r"^[a-z][a-z0-9_]{0,39}$")]
Number = Annotated[StrictInt | StrictFloat, Field(allow_inf_nan=False)]
Small = Annotated[StrictInt | StrictFloat, Field(ge=-20, le=20, allow_inf_nan=False)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", title="Zesty Plum body")


class Need(_Part):
    dial: Id
    why: Text
    only: list[Value] = Field(default=[], max_length=MOST_PLACES)
    never: list[Value] = Field(default=[], max_length=MOST_PLACES)
    least: Number | None = None


class Choice(_Part):
    value: Value
    label: Annotated[StrictStr, Field(min_length=1, max_length=60)]
    sets: dict[str, StrictBool | Number | StrictStr] = {}
    adds: dict[str, Number] = {}
    needs: list[Need] = Field(default=[], max_length=20)
    note: Text = Field(default="", description="What it makes impossible, or costs.")


class Dial(_Part):
    id: Id
    label: Annotated[StrictStr, Field(min_length=1, max_length=MOST_LABEL)]
    group: Annotated[StrictStr, Field(min_length=1, max_length=MOST_LABEL)]
    unit: Annotated[StrictStr, Field(max_length=20)] = "steps"
    purpose: Text = ""
    means: Text = ""
    later: Text = ""
    default: Value
    choices: list[Choice] = Field(min_length=1, max_length=MOST_PLACES)
    needs: list[Need] = Field(default=[], max_length=20)


class Sensor(_Part):
    base_iso: Number = Field(ge=12, le=12800)
    headroom: Number = Field(ge=0.5, le=9, description="Stops from mid grey to the clip point.")
    electrons: Number = Field(ge=10, le=1e6, description="At mid grey and base ISO, a photosite.")
    read_noise: Number = Field(ge=0, le=200, description="Electrons RMS.")
    width: StrictInt = Field(ge=640, le=30000, description="Photosites across.")
    top_iso: Number = Field(default=12800, ge=12, le=1e7)
    second_iso: Number = Field(default=0, ge=0, le=1e7)
    second_read_noise: Number = Field(default=0, ge=0, le=200)
    widest: Number = Field(default=2.8, ge=0.5, le=64)
    narrowest: Number = Field(default=16, ge=0.5, le=128)
    fastest: Number = Field(default=1 / 4000, ge=1e-6, le=1)
    steady: Number = Field(default=0, ge=0, le=12)
    vignette: Number = Field(
        default=0, ge=0, le=4, description="Stops that the usual lens takes from the corners, open."
    )
    readout: Number = Field(
        default=0, ge=0, le=1, description="Seconds from first row to last; 0 if not known."
    )
    flash_sync: Number = Field(
        default=0, ge=0, le=1, description="Shortest time with flash, in seconds; 0 if not known."
    )


class Pair(_Part):
    across: Id
    down: Id
    left: Text
    right: Text
    top: Text
    bottom: Text


def _row(many: int) -> Any:
    return Field(min_length=many, max_length=many)


class Learnt(_Part):
    matrix: list[Small] = _row(6)
    curve: list[Small] = _row(KNOTS)
    dyes: list[Small] = _row(6)
    joint: list[Small] = _row(3)
    turn: list[Small] = _row(WAVES)
    chroma: list[Small] = _row(WAVES)
    light: list[Small] = _row(WAVES)
    by_light: list[Small] = _row(4)
    tint: list[Small] = _row(6)
    white: Number = Field(default=3, ge=0.5, le=9, description="Stops from mid grey to the clip.")
    lamps: list[Small] = Field(default=[0] * 12, min_length=12, max_length=12)
    shade: list[Small] = Field(default=[0, 0], min_length=2, max_length=2)
    rest: list[Small] = Field(default=[], max_length=3 * SIDE**3)


class Seen(_Part):
    name: Annotated[StrictStr, Field(max_length=40)]
    share: Number = Field(ge=0, le=1)
    error: Number = Field(ge=0, le=1000)


class Sure(_Part):
    pairs: StrictInt = Field(ge=1, le=100000)
    mean: Number = Field(ge=0, le=1000)
    p95: Number = Field(ge=0, le=1000)
    worst: Number = Field(ge=0, le=1000)
    low: Number = Field(ge=0, le=1000)
    high: Number = Field(ge=0, le=1000)
    before: Number = Field(ge=0, le=1000)
    seen: list[Seen] = Field(default=[], max_length=40)
    notes: list[Text] = Field(default=[], max_length=20)
    wanted: list[Annotated[StrictStr, Field(max_length=80)]] = Field(default=[], max_length=6)


class Style(_Part):
    id: Annotated[StrictStr, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,79}$")]
    name: Annotated[StrictStr, Field(min_length=1, max_length=60)]
    purpose: Text = ""
    learnt: Learnt
    sure: Sure | None = None


class Step(_Part):
    dial: Id
    times: Number = Field(ge=-MOST_TIMES, le=MOST_TIMES)
    pairs: StrictInt = Field(ge=0, le=100000)
    moves: Text = ""


class Reset(_Part):
    label: Annotated[StrictStr, Field(min_length=1, max_length=MOST_LABEL)]
    dials: list[Id] = Field(default=[], max_length=MOST_DIALS, description="Empty: all.")


class BodyFile(_Part):
    id: Annotated[StrictStr, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
    name: Annotated[StrictStr, Field(min_length=1, max_length=MOST_NAME)]
    format: StrictStr = Field(pattern=f"^{FORMAT}$", description=f"Always '{FORMAT}'.")
    version: StrictInt = Field(ge=1, le=VERSION, description="Version of this format.")
    kind: Annotated[StrictStr, Field(min_length=1, max_length=60)]
    about: Text = ""
    slots: StrictInt = Field(ge=0, le=100)
    separate: StrictBool = False
    sensor: Sensor
    dials: list[Dial] = Field(min_length=1, max_length=MOST_DIALS)
    pairs: list[Pair] = Field(default=[], max_length=20)
    edition: StrictInt = Field(default=1, ge=1, le=10**6, description="Which of its files this is.")
    styles: list[Style] = Field(
        default=[], max_length=MOST_STYLES, description="Learnt from pictures of the camera."
    )
    steps: list[Step] = Field(default=[], max_length=MOST_DIALS)
    beside: list[Dial] = Field(
        default=[], max_length=MOST_DIALS, description="Settings that change no look."
    )
    outside: list[Id] = Field(
        default=[], max_length=MOST_DIALS, description="Dials that a slot does not hold."
    )
    resets: list[Reset] = Field(default=[], max_length=20)


def shaped(data: Any) -> BodyFile:
    """What a file holds, by type and size; PlumError names what is not so."""
    try:
        return BodyFile.model_validate(data)
    except Invalid as error:
        first = error.errors()[0]
        where = shortened(".".join(str(p) for p in first["loc"][:5]), 80)
        raise PlumError(f"The body file has a fault in '{where}': {first['msg']}.") from error

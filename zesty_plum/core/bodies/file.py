"""A body as an open file, JSON: what somebody's own camera has, for those who have it too.

Everything that a shipped body says of itself stands in it, so one can be written, changed and read
again. What its dials set in a look may go half as far again as those of the bodies that ship.
"""

import hashlib
import json
import re
from dataclasses import asdict, replace
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StrictBool, StrictFloat, StrictInt, StrictStr
from pydantic import ValidationError as Invalid

from ..errors import PlumError
from ..look import Sensor
from ..styles import Style, taught
from ..styles.learnt import KNOTS, SIDE, WAVES, Learnt, Seen, Sure
from ..text import shortened, well_formed_data
from .body import Body, Pair, Reset, Step
from .dial import Choice, Dial, Need
from .whole import Known, check

FORMAT, VERSION = "zesty-plum-body", 1
MOST_BYTES = 4 * 2**20
MOST_DIALS, MOST_PLACES, MOST_STYLES = 80, 400, 24
LATER = ("note", "flash_sync", "wanted", "beside", "outside", "resets")
MOST_TIMES = 20  # that a step is as far as another body's
MOST_NAME, MOST_LABEL, MOST_AFTER = 60, 40, 8  # letters of a body's name, a dial's and a unit

Value = StrictInt | StrictFloat | Annotated[StrictStr, Field(max_length=60)]
Text = Annotated[StrictStr, Field(max_length=600)]
Id = Annotated[StrictStr, Field(pattern=r"^[a-z][a-z0-9_]{0,39}$")]
Number = Annotated[StrictInt | StrictFloat, Field(allow_inf_nan=False)]
Small = Annotated[StrictInt | StrictFloat, Field(ge=-20, le=20, allow_inf_nan=False)]


_NUMBERS = re.compile(r"\[[-\s\d.,e+]*\]")  # lists of them stand in one line


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", title="Zesty Plum body")


class _Need(_Part):
    dial: Id
    why: Text
    only: list[Value] = Field(default=[], max_length=MOST_PLACES)
    never: list[Value] = Field(default=[], max_length=MOST_PLACES)
    least: Number | None = None


class _Choice(_Part):
    value: Value
    label: Annotated[StrictStr, Field(min_length=1, max_length=60)]
    sets: dict[str, StrictBool | Number | StrictStr] = {}
    adds: dict[str, Number] = {}
    needs: list[_Need] = Field(default=[], max_length=20)
    note: Text = Field(default="", description="What it makes impossible, or costs.")


class _Dial(_Part):
    id: Id
    label: Annotated[StrictStr, Field(min_length=1, max_length=MOST_LABEL)]
    group: Annotated[StrictStr, Field(min_length=1, max_length=MOST_LABEL)]
    unit: Annotated[StrictStr, Field(max_length=20)] = "steps"
    purpose: Text = ""
    means: Text = ""
    later: Text = ""
    default: Value
    choices: list[_Choice] = Field(min_length=1, max_length=MOST_PLACES)
    needs: list[_Need] = Field(default=[], max_length=20)


class _Sensor(_Part):
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
    flash_sync: Number = Field(
        default=0, ge=0, le=1, description="Shortest time with flash, in seconds; 0 if not known."
    )


class _Pair(_Part):
    across: Id
    down: Id
    left: Text
    right: Text
    top: Text
    bottom: Text


def _row(many: int) -> Any:
    return Field(min_length=many, max_length=many)


class _Learnt(_Part):
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


class _Seen(_Part):
    name: Annotated[StrictStr, Field(max_length=40)]
    share: Number = Field(ge=0, le=1)
    error: Number = Field(ge=0, le=1000)


class _Sure(_Part):
    pairs: StrictInt = Field(ge=1, le=100000)
    mean: Number = Field(ge=0, le=1000)
    p95: Number = Field(ge=0, le=1000)
    worst: Number = Field(ge=0, le=1000)
    low: Number = Field(ge=0, le=1000)
    high: Number = Field(ge=0, le=1000)
    before: Number = Field(ge=0, le=1000)
    seen: list[_Seen] = Field(default=[], max_length=40)
    notes: list[Text] = Field(default=[], max_length=20)
    wanted: list[Annotated[StrictStr, Field(max_length=80)]] = Field(default=[], max_length=6)


class _Style(_Part):
    id: Annotated[StrictStr, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,79}$")]
    name: Annotated[StrictStr, Field(min_length=1, max_length=60)]
    purpose: Text = ""
    learnt: _Learnt
    sure: _Sure | None = None


class _Step(_Part):
    dial: Id
    times: Number = Field(ge=-MOST_TIMES, le=MOST_TIMES)
    pairs: StrictInt = Field(ge=0, le=100000)
    moves: Text = ""


class _Reset(_Part):
    label: Annotated[StrictStr, Field(min_length=1, max_length=MOST_LABEL)]
    dials: list[Id] = Field(default=[], max_length=MOST_DIALS, description="Empty: all.")


class _File(_Part):
    id: Annotated[StrictStr, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
    name: Annotated[StrictStr, Field(min_length=1, max_length=MOST_NAME)]
    format: StrictStr = Field(pattern=f"^{FORMAT}$", description=f"Always '{FORMAT}'.")
    version: StrictInt = Field(ge=1, le=VERSION, description="Version of this format.")
    kind: Annotated[StrictStr, Field(min_length=1, max_length=60)]
    about: Text = ""
    slots: StrictInt = Field(ge=0, le=100)
    separate: StrictBool = False
    sensor: _Sensor
    dials: list[_Dial] = Field(min_length=1, max_length=MOST_DIALS)
    pairs: list[_Pair] = Field(default=[], max_length=20)
    edition: StrictInt = Field(default=1, ge=1, le=10**6, description="Which of its files this is.")
    styles: list[_Style] = Field(
        default=[], max_length=MOST_STYLES, description="Learnt from pictures of the camera."
    )
    steps: list[_Step] = Field(default=[], max_length=MOST_DIALS)
    beside: list[_Dial] = Field(
        default=[], max_length=MOST_DIALS, description="Settings that change no look."
    )
    outside: list[Id] = Field(
        default=[], max_length=MOST_DIALS, description="Dials that a slot does not hold."
    )
    resets: list[_Reset] = Field(default=[], max_length=20)


def schema() -> dict[str, Any]:
    """JSON Schema of the body file (draft 2020-12)."""
    made = _File.model_json_schema()
    made["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return made


def to_data(body: Body) -> dict[str, Any]:
    """What a body's file holds."""
    made = asdict(replace(body, styles=()))
    made["styles"] = [_style_data(one) for one in body.styles]
    made = _lean(made)
    head = {"id": body.id, "name": body.name, "format": FORMAT, "version": VERSION}
    return {**head, **{k: v for k, v in made.items() if k not in head}}


def _lean(data: Any) -> Any:
    """Without what says nothing and was not there in the format's first files, so that those keep
    their marks."""
    if isinstance(data, dict):
        return {k: _lean(v) for k, v in data.items() if v or k not in LATER}
    return [_lean(v) for v in data] if isinstance(data, list | tuple) else data


def _style_data(style: Style) -> dict[str, Any]:
    assert style.learnt is not None
    learnt = {k: list(v) if isinstance(v, tuple) else v for k, v in asdict(style.learnt).items()}
    del learnt["mark"]
    told = {"id": style.id, "name": style.name, "purpose": style.purpose, "learnt": learnt}
    return told | ({"sure": asdict(style.sure)} if style.sure else {})


def dumps(body: Body) -> str:
    """A body's file as text."""
    text = json.dumps(to_data(body), ensure_ascii=False, indent=1)
    return _NUMBERS.sub(lambda found: " ".join(found[0].split()), text) + "\n"


def mark(body: Body) -> str:
    """A digest of what a body's file says, whichever edition of whose kit it is: 16 digits."""
    return hashlib.sha256(dumps(replace(body, edition=1)).encode()).hexdigest()[:16]


def loads(text: str | bytes, known: Known) -> Body:
    """Read a body's file; PlumError says what is wrong in one sentence. What its dials can set is
    held against what is `known`."""
    if len(text) > MOST_BYTES:
        raise PlumError("This body file is over 4 MB; one has some 100 KB. Choose another file.")
    try:
        data = well_formed_data(json.loads(text))
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError("This is not a body file: it is not valid JSON in UTF-8.") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise PlumError(f"This is not a body file: it should be JSON with format '{FORMAT}'.")
    version = data.get("version")
    if type(version) is int and version > VERSION:
        raise PlumError(
            f"This body file is of version {version}; this program reads up to version {VERSION}. "
            "Update it."
        )
    try:
        file = _File.model_validate(data)
    except Invalid as error:
        first = error.errors()[0]
        where = shortened(".".join(str(p) for p in first["loc"][:5]), 80)
        raise PlumError(f"The body file has a fault in '{where}': {first['msg']}.") from error
    made = _body(file)
    check(made, known)
    return made


def _body(file: _File) -> Body:
    return Body(
        **{k: getattr(file, k) for k in ("id", "name", "kind", "about", "slots", "separate")},
        sensor=Sensor(**file.sensor.model_dump()),
        dials=tuple(map(_dial, file.dials)),
        pairs=tuple(Pair(**pair.model_dump()) for pair in file.pairs),
        edition=file.edition,
        styles=tuple(map(_style, file.styles)),
        steps=tuple(Step(**step.model_dump()) for step in file.steps),
        beside=tuple(map(_dial, file.beside)),
        outside=tuple(file.outside),
        resets=tuple(Reset(r.label, tuple(r.dials)) for r in file.resets),
    )


def _style(told: _Style) -> Style:
    numbers = told.learnt.model_dump(exclude={"white"})
    learnt = Learnt(white=told.learnt.white, **{k: tuple(v) for k, v in numbers.items()})
    sure = None
    if told.sure:
        plain = told.sure.model_dump(exclude={"seen", "notes", "wanted"})
        seen = tuple(Seen(**one.model_dump()) for one in told.sure.seen)
        notes, wanted = tuple(told.sure.notes), tuple(told.sure.wanted)
        sure = Sure(**plain, seen=seen, notes=notes, wanted=wanted)
    return taught(told.id, told.name, told.purpose, learnt, sure)


def _dial(told: _Dial) -> Dial:
    plain = told.model_dump(exclude={"choices", "needs"})
    return Dial(**plain, choices=tuple(map(_choice, told.choices)), needs=_needs(told.needs))


def _choice(told: _Choice) -> Choice:
    return Choice(told.value, told.label, told.sets, told.adds, _needs(told.needs), told.note)


def _needs(told: list[_Need]) -> tuple[Need, ...]:
    return tuple(Need(n.dial, n.why, tuple(n.only), tuple(n.never), n.least) for n in told)

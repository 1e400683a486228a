"""A body as an open file, JSON: what somebody's own camera has, for those who have it too.

Everything that a shipped body says of itself stands in it, so one can be written, changed and read
again. What its dials set in a look may go half as far again as those of the bodies that ship.
"""

import hashlib
import json
import re
from dataclasses import asdict, replace
from functools import cache
from pathlib import Path
from typing import Any

from ..base.errors import PlumError
from ..base.text import well_formed_data
from ..look import Sensor
from ..styles import Style, taught
from ..styles.learnt import Learnt, Seen, Sure
from .body import Body, Pair, Reset, Step
from .dial import Choice, Dial, Need
from .whole import Known, check

Told = dict[str, Any]

FORMAT, VERSION = "zesty-plum-body", 1
MOST_BYTES = 4 * 2**20
MOST_DIALS, MOST_PLACES, MOST_STYLES = 80, 400, 24
LATER = (*("note", "flash_sync", "vignette", "readout", "wanted", "beside", "outside", "resets"),)
MOST_TIMES = 20  # that a step is as far as another body's
MOST_NAME, MOST_LABEL, MOST_AFTER = 60, 40, 8  # letters of a body's name, a dial's and a unit

_NUMBERS = re.compile(r"\[[-\s\d.,e+]*\]")  # lists of them stand in one line


def schema() -> dict[str, Any]:
    """JSON Schema of the body file (draft 2020-12)."""
    from . import shape

    made = shape.BodyFile.model_json_schema()
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
    from .shape import shaped

    made = _body(shaped(data).model_dump())
    check(made, known)
    return made


@cache
def _looks() -> bytes:
    """What looks at a file, as it stands in this program."""
    here = Path(__file__).parent
    return b"".join((here / f"{name}.py").read_bytes() for name in ("file", "shape", "whole"))


def digest(text: str) -> str:
    """Of a file as `dumps` wrote it and this program found it whole: by it the program knows it
    again."""
    return hashlib.sha256(_looks() + text.encode()).hexdigest()


def loads_known(text: str) -> Body:
    """Read a file whose `digest` says that it was found whole, without looking again."""
    return _body(json.loads(text))


def _body(told: Told) -> Body:
    return Body(
        **{k: told[k] for k in ("id", "name", "kind", "about", "slots", "separate", "edition")},
        sensor=Sensor(**told["sensor"]),
        dials=tuple(map(_dial, told["dials"])),
        pairs=tuple(Pair(**pair) for pair in told["pairs"]),
        styles=tuple(map(_style, told["styles"])),
        steps=tuple(Step(**step) for step in told["steps"]),
        beside=tuple(map(_dial, told.get("beside", ()))),
        outside=tuple(told.get("outside", ())),
        resets=tuple(Reset(r["label"], tuple(r["dials"])) for r in told.get("resets", ())),
    )


def _style(told: Told) -> Style:
    learnt = Learnt(**_rows(told["learnt"]))
    sure = None
    if told.get("sure"):
        more = _rows(told["sure"])
        sure = Sure(**more | {"seen": tuple(Seen(**one) for one in more["seen"])})
    return taught(told["id"], told["name"], told["purpose"], learnt, sure)


def _dial(told: Told) -> Dial:
    made = {**told, "choices": tuple(map(_choice, told["choices"])), "needs": _needs(told)}
    return Dial(**made)


def _choice(told: Told) -> Choice:
    note = told.get("note", "")
    return Choice(told["value"], told["label"], told["sets"], told["adds"], _needs(told), note)


def _needs(told: Told) -> tuple[Need, ...]:
    return tuple(Need(**_rows(need)) for need in told["needs"])


def _rows(told: Told) -> Told:
    """The same with tuples for lists."""
    return {k: tuple(v) if isinstance(v, list) else v for k, v in told.items()}

"""A body as an open file, JSON: what somebody's own camera has, for those who have it too.

Everything that a shipped body says of itself stands in it, so one can be written, changed and read
again. What its dials set in a look may go half as far again as those of the bodies that ship.
"""

import hashlib
import json
import re
from dataclasses import asdict, replace
from typing import TYPE_CHECKING, Any

from ..errors import PlumError
from ..look import Sensor
from ..styles import Style, taught
from ..styles.learnt import Learnt, Seen, Sure
from ..text import well_formed_data
from .body import Body, Pair, Reset, Step
from .dial import Choice, Dial, Need
from .whole import Known, check

if TYPE_CHECKING:
    from . import shape

FORMAT, VERSION = "zesty-plum-body", 1
MOST_BYTES = 4 * 2**20
MOST_DIALS, MOST_PLACES, MOST_STYLES = 80, 400, 24
LATER = ("note", "flash_sync", "wanted", "beside", "outside", "resets")
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

    made = _body(shaped(data))
    check(made, known)
    return made


def _body(file: "shape.BodyFile") -> Body:
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


def _style(told: "shape.Style") -> Style:
    numbers = told.learnt.model_dump(exclude={"white"})
    learnt = Learnt(white=told.learnt.white, **{k: tuple(v) for k, v in numbers.items()})
    sure = None
    if told.sure:
        plain = told.sure.model_dump(exclude={"seen", "notes", "wanted"})
        seen = tuple(Seen(**one.model_dump()) for one in told.sure.seen)
        notes, wanted = tuple(told.sure.notes), tuple(told.sure.wanted)
        sure = Sure(**plain, seen=seen, notes=notes, wanted=wanted)
    return taught(told.id, told.name, told.purpose, learnt, sure)


def _dial(told: "shape.Dial") -> Dial:
    plain = told.model_dump(exclude={"choices", "needs"})
    return Dial(**plain, choices=tuple(map(_choice, told.choices)), needs=_needs(told.needs))


def _choice(told: "shape.Choice") -> Choice:
    return Choice(told.value, told.label, told.sets, told.adds, _needs(told.needs), told.note)


def _needs(told: "list[shape.Need]") -> tuple[Need, ...]:
    return tuple(Need(n.dial, n.why, tuple(n.only), tuple(n.never), n.least) for n in told)

"""Bodies: camera models as data, and what their dials mean.

A body that ships is one TOML file beside this one; others come as body files (`file`).
`Body.interpret` turns the values of its dials into a look. What a dial is for and what can be
undone later is the same on every shipped body that has it, and stands in `texts/dials.toml`; a body
may say it anew.
"""

import hashlib
import tomllib
from functools import cache
from pathlib import Path

from .. import styles
from ..base.errors import NotFound, PlumError
from ..base.text import shortened
from . import file
from .body import Body, Pair, Reset, Step
from .dial import Choice, Dial, Need, Value, Values
from .reading import read
from .whole import Known

__all__ = [
    "Body",
    "Choice",
    "Dial",
    "Need",
    "Pair",
    "Reset",
    "Step",
    "Value",
    "Values",
    "bodies",
    "body",
    "bring",
    "bring_known",
    "first",
    "forget",
    "known",
    "mark",
    "marks",
    "shipped",
]
HERE = Path(__file__).parent
EARLIER = HERE / "first"  # the first editions of bodies that have changed their dials since
FIRST = "heron-m2"  # where nothing says which


@cache
def shipped() -> dict[str, Body]:
    """The bodies that ship, by id."""
    return {p.stem: read(p) for p in sorted(HERE.glob("*.toml"))}


@cache
def first() -> dict[str, Body]:
    """The first editions of the bodies that ship, by id: for recipes that were written for them,
    and for nothing else."""
    labels = tomllib.loads((EARLIER / "labels.toml").read_text(encoding="utf-8"))
    return {p.stem: read(p, labels) for p in sorted(EARLIER.glob("*-*.toml"))}


@cache
def known() -> Known:
    """What the looks of the bodies that ship can be, of either edition: the measure for others."""
    return Known([*shipped().values(), *first().values()])


_brought: dict[str, Body] = {}
_marks: dict[str, str] = {}


def bodies() -> dict[str, Body]:
    """All bodies by id: those that ship, and those that were brought."""
    return {**shipped(), **_brought}


def bring(text: str | bytes) -> Body:
    """Let a body's file count from now on in this process; PlumError says what is wrong with it."""
    return _bring(file.loads(text, known()))


def bring_known(text: str) -> Body:
    """The same for a file whose digest says that it was found whole."""
    return _bring(file.loads_known(text))


def _bring(made: Body) -> Body:
    if shipped().get(made.id, made) != made:
        raise PlumError(
            f"There is a body '{made.id}' that ships. Give the one in the file another id."
        )
    forget(made.id)
    _brought[made.id] = made
    _marks[made.id] = file.mark(made)
    for style in made.styles:
        styles.bring(style)
    return made


def forget(body_id: str) -> None:
    """Let a body that was brought count no more."""
    gone, _ = _brought.pop(body_id, None), _marks.pop(body_id, None)
    for style in gone.styles if gone else ():
        styles.forget(style.id)


def mark(body_id: str) -> str:
    """A digest of a body that was brought, by which it is known again; empty of one that ships."""
    return _marks.get(body_id, "")


def marks() -> str:
    """The same of all that were brought, together."""
    every = "".join(_marks[name] for name in sorted(_marks))
    return hashlib.sha256(every.encode()).hexdigest()[:8] if every else ""


def body(body_id: str) -> Body:
    """A body by id; NotFound names those that exist."""
    found = shipped().get(body_id) or _brought.get(body_id)
    if found is None:
        raise NotFound(
            f"There is no body '{shortened(body_id, 40)}'. The bodies are {', '.join(bodies())}. "
            "Bring in the file of another one first."
        )
    return found

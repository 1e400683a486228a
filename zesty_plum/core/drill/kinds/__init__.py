"""The kinds of drill, in their order; a new one is a file here, a row, and a template."""

from typing import Any

from .arithmetic import Arithmetic
from .choose import Choose
from .far import Far
from .kind import Around, Kind, Missed, Verdict, View
from .match import Match
from .where import Where
from .which import Which

__all__ = ["KINDS", "Around", "Kind", "Missed", "Verdict", "View"]

_EVERY: tuple[Kind[Any], ...] = (Which(), Far(), Where(), Match(), Choose(), Arithmetic())
KINDS: dict[str, Kind[Any]] = {kind.id: kind for kind in _EVERY}

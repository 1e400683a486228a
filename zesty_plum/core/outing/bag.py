"""Grey filters in the bag, as people write them down: ND8 67, ND64 72."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..base.errors import PlumError

_ONE = re.compile(r"ND\s*(\d+(?:\.\d+)?)(?:\s+(\d+(?:\.\d+)?)\s*(?:mm)?)?", re.IGNORECASE)
SAME = 0.08  # of a factor, within which two filters are the same


@dataclass(frozen=True)
class Grey:
    """A grey filter: by what factor it darkens, and its thread in millimetres, 0 if that is not
    said."""

    factor: float
    thread: float

    @property
    def words(self) -> str:
        """As it is written."""
        return f"ND{self.factor:g}" + (f" of {self.thread:g} mm" if self.thread else "")


def read(text: str) -> tuple[Grey, ...]:
    """What is in the bag; PlumError shows how it is written."""
    out = []
    for part in filter(None, (p.strip() for p in re.split(r"[,;\n]", text))):
        found = _ONE.fullmatch(part)
        if not found or float(found[1]) <= 1:
            raise PlumError(
                f"'{part[:20]}' is no grey filter. Write factor and thread, as ND8 67, ND64 72."
            )
        out.append(Grey(float(found[1]), float(found[2] or 0)))
    return tuple(out)


def lacks(bag: Sequence[Grey], factor: float, thread: float, title: str) -> str:
    """What of the bag does not serve a shoot that wants a filter, in a sentence; empty where one
    does, or nobody said what is in it."""
    if not bag or factor <= 1:
        return ""
    strong = [g for g in bag if abs(g.factor / factor - 1) < SAME]
    if not strong:
        nearest = min(bag, key=lambda g: abs(g.factor - factor))
        return f"'{title}' wants ND{factor:g}, and the bag has none; nearest is {nearest.words}."
    if not thread or any(g.thread in (0, thread) for g in strong):
        return ""
    larger = [g for g in strong if g.thread > thread]
    if larger:
        ring = min(larger, key=lambda g: g.thread)
        return (
            f"'{title}' wants ND{factor:g} of {thread:g} mm: {ring.words} fits with a step-up ring."
        )
    return f"'{title}' wants ND{factor:g} of {thread:g} mm, and the bag has {strong[0].words} only."

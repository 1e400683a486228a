"""Bodies: camera models as data, and what their dials mean.

A body is one TOML file beside this one. `Body.interpret` turns the values of its dials into a look.
What a dial is for and what can be undone later is the same on every body that has it, and stands in
`texts/dials.toml`; a body may say it anew.
"""

from functools import cache
from pathlib import Path

from ..errors import NotFound
from ..text import shortened
from .body import Body, Pair
from .dial import Choice, Dial, Need, Value, Values
from .reading import read

__all__ = [
    "Body",
    "Choice",
    "Dial",
    "Need",
    "Pair",
    "Value",
    "Values",
    "bodies",
    "body",
]
HERE = Path(__file__).parent
FIRST = "heron-m2"  # where nothing says which


@cache
def bodies() -> dict[str, Body]:
    """All bodies by id."""
    return {p.stem: read(p) for p in sorted(HERE.glob("*.toml"))}


def body(body_id: str) -> Body:
    """A body by id; NotFound names those that exist."""
    if body_id not in bodies():
        raise NotFound(
            f"There is no body '{shortened(body_id, 40)}'. The bodies are {', '.join(bodies())}."
        )
    return bodies()[body_id]

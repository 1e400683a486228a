"""What was missed in a drill, to be looked at again."""

from dataclasses import dataclass
from typing import Any

from ...core.drill.dimensions import BY_ID
from ...core.drill.pairs import NOTHING
from ...core.drill.places import FAULTS
from ...core.errors import PlumError
from ...store.drills import Drill
from .. import address
from . import asking

GONE = "A picture that is not here any more"


@dataclass(frozen=True)
class Missed:
    """A question that was missed: its place, what it was, on which scene, and the side that shows
    it, empty where none does."""

    place: int
    what: str
    scene: str
    side: str


def missed(drill: Drill) -> list[Missed]:
    """The questions of a drill that were missed, but for those of which only the answer is
    known."""
    return [
        _told(drill.kind, a.number + 1, a.question)
        for a in drill.answers
        if a.question and not a.right
    ]


def _told(kind: str, place: int, data: dict[str, Any]) -> Missed:
    if kind == "sums":
        return Missed(place, asking.sum_of(data).one.label, "", "")
    if kind == "set":
        one = asking.situation_of(data)
        return _on(place, one.job, one.scene, "p")
    if kind == "where":
        named = FAULTS[data["fault"]][0]
        return _on(place, named[:1].upper() + named[1:], data["scene"], "marked")
    if kind == "match":
        match = asking.match_of(data)
        cam = match.wanted.camera
        turned = (f"{cam.dial(k).label} {cam.dial(k).choice(v).label}" for k, v in match.target)
        return _on(place, ", ".join(turned), match.scene, "a")
    pair = data if kind == "which" else data["pair"]
    moved = "b" if pair["right"] else "a"
    if pair["dim"] == NOTHING:
        return _on(place, "Nothing moved", pair["scene"], moved)
    dim = BY_ID[pair["dim"]]
    words = f"{dim.label}, {dim.words(pair['size'], pair['up'])}"
    return _on(place, words, pair["scene"], moved)


def _on(place: int, what: str, scene_id: str, side: str) -> Missed:
    try:
        return Missed(place, what, address.scene_of(scene_id).title, side)
    except PlumError:
        return Missed(place, what, GONE, "")

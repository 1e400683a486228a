"""What the crew tried in the week, and what they saw."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ..core import scenes
from ..core.bodies import Value
from ..core.judge.beside import in_words
from ..core.measure.looking import look_at
from ..core.notes import singly
from ..core.notes.moves import suggested
from ..core.notes.said import BACK, KEPT
from ..store import notes, slips
from ..store.notes import Trial
from .kit import before


@dataclass(frozen=True)
class Tried:
    """A trial of the crew: so many days ago, of a slip, the dials before where they differ from it,
    and after, on a scene; what was looked for and seen, what came of it, and what is next."""

    ago: int
    slip: str
    was: Mapping[str, Value]
    then: Mapping[str, Value]
    scene: str
    asked: str
    seen: str
    kept: str = KEPT
    next: str = ""
    place: str = ""
    tags: tuple[str, ...] = field(default=())


TRIALS = (
    Tried(1, "Slack tide", {}, {"shift_amber": 10, "shift_green": 0}, "painters",
          "less shift for faces", "The faces looked yellow on the big screen. With half the "
          "amber they read as skin again; all of it is a little cooler.",
          next="The same under lamps, before the supper", place="Painters, 12:15–14:00"),
    Tried(1, "Last lantern", {"exposure": -0.67, "noise_filter": 3},
          {"exposure": 0, "noise_filter": 4}, "procession", "bias off after dark",
          "Two thirds under looked right on the small screen and was dark at home. At 0 the faces "
          "come up; more of the lanterns clips, which nobody minds.",
          place="Procession, 19:30–22:00"),
    Tried(1, "Slack tide", {}, {"shift_amber": 15}, "quayside", "less yellow by low sun",
          "Hardly to be seen here. Kept for the faces' sake."),
    Tried(2, "Kite weather", {}, {"guard": 0}, "beach", "is guard worth it?",
          "Nobody could tell them apart on the beach. Guard is off, ISO 125 is back."),
    Tried(2, "Slack tide", {}, {"shift_amber": 15}, "boatyard", "the same under cloud",
          "Only his skin tells: a little redder, which suits it."),
    Tried(3, "Soot", {}, {"grain": "flour"}, "loft", "finer grain for small prints",
          "On the screen it is too clean.", BACK, "Salt on prints, not on the screen"),
    Tried(3, "Slack tide", {}, {"shift_amber": 10, "shift_green": -1}, "garden",
          "leaves without yellow", "The reeds went cold and the skin red. Too far.", BACK),
    Tried(4, "Slack tide", {}, {"shift_amber": 15}, "table", "a whiter cloth",
          "Hardly to be seen on the cloth. Kept."),
    Tried(4, "Slack tide", {}, {"sharpness": -1}, "boatyard", "a little crisper",
          "Ropes are much crisper, and skin does not suffer at this distance.",
          next="Clarity −1 on top: do faces bear it?"),
)  # fmt: skip


def fill(db: sqlite3.Connection, made: Mapping[str, slips.Slip], now: str) -> None:
    """Put the crew's trials, and a plan of one change at a time, into a library."""
    notes.add(db, [_trial(one, made[one.slip], now) for one in reversed(TRIALS)])
    lantern = made["Last lantern"]
    tried = singly.plan(lantern.recipe, "noise_filter", (0, 2, 4), ("workshop", "supper"))
    number = notes.plan(db, "Last lantern: Noise filter", lantern.id, tried, now)
    notes.mark(db, number, ("workshop", 2), singly.BEST)


def _trial(one: Tried, slip: slips.Slip, now: str) -> Trial:
    old = replace(slip.recipe, dials={**slip.recipe.dials, **one.was})
    new = replace(old, dials={**old.dials, **one.then})
    scene = scenes.load(one.scene)
    was, then = (look_at(scene, r, from_plain=False).report for r in (old, new))
    words = in_words(was, then)
    return Trial(
        id=0,
        made_at=before(now, one.ago),
        before=old,
        after=new,
        slip=slip.id,
        version=slip.version,
        scene=one.scene,
        place=one.place,
        asked=one.asked,
        seen=one.seen,
        kept=one.kept,
        next=one.next,
        tags=suggested(old, new, words)[:4],
        words=tuple(words),
    )

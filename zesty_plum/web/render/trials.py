"""Trials as pages show them, and those that a query finds."""

from dataclasses import dataclass
from datetime import date

from flask import url_for

from ...core.notes import moves as moved
from ...core.notes import search as searching
from ...core.notes.said import CAME
from ...core.recipe.search import Query, texts_of
from ...store import cases, notes, slips
from ...store.notes import Trial
from ..frame.context import db
from ..render import address


@dataclass(frozen=True)
class Shown:
    """A trial on the page: its heading, addresses of both pictures, what was turned on each side,
    its slip, its day, also in words, and what came of it."""

    trial: Trial
    title: str
    before: str
    after: str
    was: str
    turned: str
    slip: str
    day: str
    words: str
    came: str


def found_of(every: list[Trial], query: Query) -> list[Trial]:
    """The trials that meet a query."""
    named = {c.id: f"{c.called} {c.letter}" for c in cases.listed(db())}
    known = _names(every)
    lights = {str(s["id"]): (str(s["title"]), str(s["group"])) for s in address.scene_row()}
    return [t for t in every if searching.holds(query, _texts(t, named, known, lights), t.after)]


def _names(every: list[Trial]) -> dict[int, str]:
    ids = list({t.slip for t in every if t.slip})
    return {s.id: s.name for s in slips.some(db(), ids)}


def _texts(
    trial: Trial,
    named: dict[int, str],
    known: dict[int, str],
    lights: dict[str, tuple[str, str]],
) -> dict[str, str]:
    moves = trial.moved
    title, group = lights.get(trial.scene, ("", ""))
    return {
        **texts_of(trial.after, list(trial.tags)),
        "slip": known.get(trial.slip or 0, trial.after.name),
        "case": named.get(trial.case or 0, ""),
        "day": trial.made_at[:10],
        "moved": " ".join(f"{m.label} {m.dial}" for m in moves),
        "kept": CAME[trial.kept],
        "open": "yes" if trial.next and trial.answered_at is None else "no",
        "place": f"{trial.place} {title}",
        "light": f"{group} {title}" if group else trial.place,
        "seen": f"{trial.seen} {trial.asked} {' '.join(trial.words)}",
        "next": trial.next,
    }


def shown(trial: Trial) -> Shown:
    """A trial as the page shows it."""
    moves = trial.moved
    known = next(iter(slips.some(db(), [trial.slip])), None) if trial.slip else None
    name = known.name if known else trial.after.name
    what = trial.asked or moved.told(trial.after, moves, True)
    scene = trial.scene or address.FIRST_SCENE
    made = date.fromisoformat(trial.made_at[:10])
    at = url_for("rendering.picture", scene_id=scene)
    return Shown(
        trial,
        f"{name}: {what}" if what else name,
        f"{at}?{address.look_query(trial.before, width='300')}",
        f"{at}?{address.look_query(trial.after, width='300')}",
        moved.told(trial.before, moves, False),
        moved.told(trial.after, moves, True),
        name,
        trial.made_at[:10],
        f"{made:%A} {made.day} {made:%B %Y}",
        CAME[trial.kept],
    )


def of_slip(slip_id: int) -> list[Shown]:
    """The trials of a slip, for its page."""
    return [shown(t) for t in notes.listed(db(), slip_id)]

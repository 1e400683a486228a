"""Notes: trials and plans of one change at a time. Nothing is lost: what is removed comes back."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from ..core.base.errors import NotFound, PlumError
from ..core.bodies import Value
from ..core.fields.declared import checked, declared
from ..core.notes import singly
from ..core.notes.moves import SEEN, TAGS, Move, moves
from ..core.notes.recurring import Tried
from ..core.notes.said import KEPT, LINE, OPEN, Said
from ..core.recipe import MOST_BYTES, Recipe, dumps, loads
from . import checks, slips
from .database import hit, insert, transaction
from .tables import Counts, Tables

MOST, MOST_PICTURES, MOST_PLANS = 20_000, 12, 500
SAID = tuple(f.name for f in declared(Said))


@dataclass(frozen=True, kw_only=True)
class Trial(Said):
    """What was tried, and what is said of it. scene : where it is shown; words : what the measures
    say; pictures : ids of one's own that hang on it."""

    id: int
    made_at: str
    before: Recipe
    after: Recipe
    slip: int | None = None
    version: int = 0
    scene: str = ""
    case: int | None = None
    answered_at: str | None = None
    tags: tuple[str, ...] = ()
    words: tuple[str, ...] = ()
    pictures: tuple[str, ...] = ()

    @property
    def moved(self) -> tuple[Move, ...]:
        """The dials that moved."""
        return moves(self.before, self.after)

    @property
    def tried(self) -> Tried:
        """As it is counted."""
        kept = None if self.kept == OPEN else self.kept == KEPT
        own = {t for t in self.tags if t not in {*TAGS, *SEEN.values()}}
        return Tried(self.before, self.after, kept, (*self.words, *sorted(own)))

    @property
    def written(self) -> tuple[object, ...]:
        """What its form writes; pictures and ticks have forms of their own."""
        told = tuple(getattr(self, name) for name in SAID)
        return (*told, self.tags, self.scene, self.case)

    @property
    def draft(self) -> bool:
        """Whether nobody has written yet what was seen."""
        return not self.seen


def read_trial(row: sqlite3.Row) -> Trial:
    """A trial; it raises whatever a row that means nothing makes it raise."""
    checks.moment(row, "made_at")
    for name in ("answered_at", "deleted_at"):
        checks.moment(row, name, may_lack=True)
    before, after = (loads(checks.text(row, k, MOST_BYTES, 2)) for k in ("before", "after"))
    lists = {k: json.loads(row[k]) for k in ("tags", "words", "pictures")}
    if not all(isinstance(x, list) for x in lists.values()):
        raise PlumError("its tags, words and pictures are no lists")
    told = {name: row[name] for name in ("id", "made_at", "slip", "version", "scene", *SAID)}
    made = Trial(
        **told,
        before=before,
        after=after,
        case=row["case_id"],
        answered_at=row["answered_at"],
        tags=tuple(map(str, lists["tags"])),
        words=tuple(map(str, lists["words"])),
        pictures=tuple(map(str, lists["pictures"])),
    )
    checked(Said(**{name: row[name] for name in SAID}))
    return made


def listed(db: sqlite3.Connection, slip: int | None = None) -> list[Trial]:
    """All trials that can be read, or those of a slip, the newest first."""
    where, args = ("AND slip = ?", (slip,)) if slip is not None else ("", ())
    rows = db.execute(
        f"SELECT * FROM trial WHERE deleted_at IS NULL {where} ORDER BY made_at DESC, id DESC", args
    )
    return checks.readable(rows.fetchall(), read_trial)


def get(db: sqlite3.Connection, trial_id: int) -> Trial:
    """A trial."""
    row = db.execute("SELECT * FROM trial WHERE id = ?", (trial_id,)).fetchone()
    if row is None:
        raise NotFound("There is no such note. Notes lists those that there are.")
    return checks.made("Note", row, read_trial)


def questions(every: Sequence[Trial]) -> list[Trial]:
    """Those of all trials whose next question is open, the oldest first."""
    return [t for t in reversed(every) if t.next and t.answered_at is None]


# ---- changes -------------------------------------------------------------------------------------
def _values(trial: Trial) -> dict[str, Any]:
    def text(items: Sequence[str]) -> str:
        return json.dumps(list(items), ensure_ascii=False)

    return {
        "made_at": trial.made_at,
        "slip": trial.slip,
        "version": trial.version,
        "before": dumps(trial.before, indent=None),
        "after": dumps(trial.after, indent=None),
        "scene": trial.scene,
        "case_id": trial.case,
        **{name: getattr(trial, name) for name in SAID},
        "answered_at": trial.answered_at,
        "tags": text(trial.tags),
        "words": text(trial.words),
        "pictures": text(trial.pictures),
    }


def add(db: sqlite3.Connection, trials: Sequence[Trial]) -> list[int]:
    """New trials; all of them come in, or none."""
    with transaction(db):
        if db.execute("SELECT count(*) FROM trial").fetchone()[0] + len(trials) > MOST:
            raise PlumError(f"{MOST:,} notes are kept already. Export and remove some.")
        return [insert(db, "trial", _values(trial)) for trial in trials]


def change(db: sqlite3.Connection, trial: Trial) -> None:
    """A trial, written anew."""
    values = _values(trial)
    with transaction(db):
        done = db.execute(
            f"UPDATE trial SET {', '.join(f'{k} = :{k}' for k in values)} "
            "WHERE id = :id AND deleted_at IS NULL",
            {**values, "id": trial.id},
        )
        hit(done, "This note was removed meanwhile, so nothing was changed. Undo that first.")


def remove(db: sqlite3.Connection, table: str, number: int, now: str | None) -> None:
    """Remove a trial or a plan, or with no moment take it back."""
    with transaction(db):
        done = db.execute(f"UPDATE {table} SET deleted_at = ? WHERE id = ?", (now, number))
        hit(done, "It is not there any more.")


def hang(db: sqlite3.Connection, trial_id: int, picture: str, off: bool = False) -> Trial:
    """Hang a picture of one's own on a trial, or take it off."""
    with transaction(db):
        trial = get(db, trial_id)
        rest = tuple(p for p in trial.pictures if p != picture)
        made = replace(trial, pictures=rest if off else (*rest, picture))
        if len(made.pictures) > MOST_PICTURES:
            raise PlumError(f"{MOST_PICTURES} pictures hang on this note already.")
        change(db, made)
    return made


# ---- one change at a time ------------------------------------------------------------------------
@dataclass(frozen=True)
class Single:
    """A plan that is kept, with what was marked: by light and place, and pictures that came back,
    by the same."""

    id: int
    made_at: str
    name: str
    slip: int | None
    plan: singly.Plan
    marks: Mapping[tuple[str, Value], str] = field(default_factory=dict)
    pictures: Mapping[tuple[str, Value], str] = field(default_factory=dict)

    def said_of(self, cell: tuple[str, Value]) -> tuple[str, str]:
        """Mark and picture of a light and place; empty where there is none."""
        return self.marks.get(cell, ""), self.pictures.get(cell, "")


def read_single(row: sqlite3.Row) -> Single:
    """A plan, likewise."""
    checks.text(row, "name", LINE.most, 1)
    checks.moment(row, "made_at")
    checks.moment(row, "deleted_at", may_lack=True)
    base = loads(row["base"])
    made = singly.plan(base, row["dial"], json.loads(row["places"]), json.loads(row["lights"]))
    marks, pictures = {}, {}
    for light, place, mark, picture in json.loads(row["marks"]) or ():
        marks[str(light), place] = str(mark)
        if picture:
            pictures[str(light), place] = str(picture)
    return Single(row["id"], row["made_at"], row["name"], row["slip"], made, marks, pictures)


def singles(db: sqlite3.Connection) -> list[Single]:
    """All plans that can be read, the newest first."""
    every = "SELECT * FROM single WHERE deleted_at IS NULL ORDER BY id DESC"
    return checks.readable(db.execute(every).fetchall(), read_single)


def single(db: sqlite3.Connection, number: int) -> Single:
    """A plan."""
    row = db.execute("SELECT * FROM single WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound("There is no such plan. Notes lists those that there are.")
    return checks.made("Plan", row, read_single)


def plan(db: sqlite3.Connection, name: str, slip: int | None, made: singly.Plan, now: str) -> int:
    """A new plan."""
    values = {
        "made_at": now,
        "name": " ".join(name.split())[: LINE.most] or f"{made.base.camera.dial(made.dial).label}",
        "slip": slip,
        "base": dumps(made.base, indent=None),
        "dial": made.dial,
        "places": json.dumps(list(made.places)),
        "lights": json.dumps(list(made.lights), ensure_ascii=False),
        "marks": "[]",
    }
    with transaction(db):
        if db.execute("SELECT count(*) FROM single").fetchone()[0] >= MOST_PLANS:
            raise PlumError(f"{MOST_PLANS} plans are kept already.")
        return insert(db, "single", values)


def mark(
    db: sqlite3.Connection, number: int, cell: tuple[str, Value], how: str | None = None,
    picture: str | None = None,
) -> Single:  # fmt: skip
    """Mark a cell of a plan, or put the picture in it that came back."""
    if how is not None and how not in singly.MARKS:
        raise PlumError(f"A place is {', '.join(singly.MARKS.values())}.")
    with transaction(db):
        one = single(db, number)
        if cell[0] not in one.plan.lights or cell[1] not in one.plan.places:
            raise PlumError("This plan has no such light or place.")
        marks, pictures = dict(one.marks), dict(one.pictures)
        if how is not None:
            marks[cell] = how
        if picture is not None:
            pictures[cell] = picture
        rows = [
            [light, place, marks.get((light, place), ""), pictures.get((light, place), "")]
            for light, place in {**marks, **pictures}
        ]
        done = db.execute(
            "UPDATE single SET marks = ? WHERE id = ? AND deleted_at IS NULL",
            (json.dumps(rows, ensure_ascii=False), number),
        )
        hit(done, "This plan was removed meanwhile, so nothing was marked. Undo that first.")
        return single(db, number)


# ---- backup --------------------------------------------------------------------------------------
def _copy_of(table: str) -> Any:
    def copy(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
        """Rows that are not here yet, by when they were made and what they say; with the slips that
        say the same here, and without the cameras of another library."""
        same = "asked" if table == "trial" else "name"
        for row in source.execute(f"SELECT * FROM {table} ORDER BY id").fetchall():
            told = {k: v for k, v in dict(row).items() if k != "id"}
            here = f"SELECT 1 FROM {table} WHERE made_at = ? AND {same} = ?"
            if db.execute(here, (told["made_at"], told[same])).fetchone():
                continue
            if told.get("slip"):
                told["slip"] = slips.twin(db, source, told["slip"])
            if "case_id" in told:
                told["case_id"] = None
            insert(db, table, told)
        return 0, 0

    return copy


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "trial", "Note", read_trial)
    checks.every(db, "single", "Plan", read_single)


TABLES = Tables(
    {"trial": _copy_of("trial"), "single": _copy_of("single")}, order=4, checked=_checked
)

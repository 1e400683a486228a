"""Blind rounds that are kept: what was shown, what was answered, by whom; and the file by which one
is passed on."""

import json
import sqlite3
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Any

from ..core.base.errors import NotFound, PlumError
from ..core.base.text import well_formed_data
from ..core.judge.ranking import Choice, length
from ..core.recipe import Recipe, from_data, to_data
from ..core.scenes import entry
from . import checks
from .database import hit, transaction
from .tables import Counts, Tables

if TYPE_CHECKING:
    from .round_shape import RoundFile

FORMAT, VERSION = "zesty-plum-blind", 1
FEWEST, MOST, MOST_SCENES, MOST_ANSWERS = 2, 12, 12, 400
MOST_SEED, MOST_BYTES, MOST_PERSON = 2**31 - 1, 4 * 2**20, 60
WON = (1.0, 0.5, 0.0)


@dataclass(frozen=True)
class Round:
    """A blind round with its answers so far."""

    id: int
    made_at: str
    person: str
    seed: int
    recipes: list[Recipe]
    scenes: list[str]
    choices: list[Choice]
    ended: bool

    @property
    def asked(self) -> int:
        """Questions of the whole round."""
        return length(len(self.recipes))


def read_round(db: sqlite3.Connection, row: sqlite3.Row) -> Round:
    """A round with its answers; it raises whatever rows that mean nothing make it raise."""
    checks.moment(row, "ended_at", may_lack=True)
    checks.moment(row, "deleted_at", may_lack=True)
    checks.text(row, "person", MOST_PERSON)
    checks.whole(row, "seed", 0, MOST_SEED)
    checks.moment(row, "made_at")
    answers = db.execute("SELECT * FROM blind_answer WHERE blind = ? ORDER BY number", (row["id"],))
    choices = [Choice(a["left_look"], a["right_look"], a["scene"], a["won"]) for a in answers]
    held, scenes = json.loads(row["recipes"]), json.loads(row["scenes"])
    if not isinstance(held, list) or not isinstance(scenes, list):
        raise PlumError("its recipes and scenes are no lists")
    recipes = [from_data(r) for r in held]
    if not FEWEST <= len(recipes) <= MOST or not 1 <= len(scenes) <= MOST_SCENES:
        raise PlumError("it has too few or too many recipes or scenes")
    if not all(isinstance(s, str) for s in scenes):
        raise PlumError("its scenes are not named")
    _belong(choices, len(recipes), len(scenes))
    return Round(
        row["id"],
        row["made_at"],
        row["person"],
        row["seed"],
        recipes,
        scenes,
        choices,
        row["ended_at"] is not None,
    )


def _belong(choices: list[Choice], looks: int, scenes: int) -> None:
    """Refuse answers that are not about so many looks and scenes."""
    for c in choices:
        known = c.left in range(looks) and c.right in range(looks) and c.scene in range(scenes)
        if not known or c.won not in WON:
            raise PlumError(
                "The answers in this file do not belong to its recipes. Ask for it again."
            )


def get(db: sqlite3.Connection, round_id: int) -> Round:
    """A round."""
    row = db.execute(
        "SELECT * FROM blind WHERE id = ? AND deleted_at IS NULL", (round_id,)
    ).fetchone()
    if row is None:
        raise NotFound("There is no such blind round. Begin one on the Wall.")
    return checks.made("Blind round", row, partial(read_round, db))


def listed(db: sqlite3.Connection) -> list[Round]:
    """All rounds that can be read, newest first."""
    every = "SELECT * FROM blind WHERE deleted_at IS NULL ORDER BY id DESC"
    return checks.readable(db.execute(every).fetchall(), partial(read_round, db))


def using(db: sqlite3.Connection, recipe: Recipe) -> list[Round]:
    """The rounds in which a recipe took part, under whatever name."""
    return [
        r
        for r in listed(db)
        if any((m.body, m.dials) == (recipe.body, recipe.dials) for m in r.recipes)
    ]


def begin(
    db: sqlite3.Connection,
    recipes: list[Recipe],
    scenes: list[str],
    person: str,
    seed: int,
    now: str,
) -> int:
    """A new round; returns its id."""
    if not FEWEST <= len(recipes) <= MOST:
        raise PlumError(
            f"A blind round needs {FEWEST} to {MOST} recipes; {len(recipes)} were chosen. "
            "Hang others on the Wall."
        )
    if not 1 <= len(scenes) <= MOST_SCENES:
        raise PlumError(f"A blind round needs 1 to {MOST_SCENES} scenes. Choose some on the Wall.")
    person = " ".join(person.split()) or "somebody"
    if len(person) > MOST_PERSON:
        raise PlumError(f"A person's name has at most {MOST_PERSON} letters here. Shorten it.")
    held = json.dumps([to_data(r) for r in recipes], ensure_ascii=False)
    with transaction(db):
        made = db.execute(
            "INSERT INTO blind (made_at, person, seed, recipes, scenes) VALUES (?, ?, ?, ?, ?)",
            (now, person, seed, held, json.dumps(scenes)),
        )
    return int(made.lastrowid or 0)


def answer(db: sqlite3.Connection, round_id: int, number: int, choice: Choice) -> bool:
    """Keep the answer to a question; one that was answered already, in another window, stays as it
    is. Returns whether this one was kept."""
    if choice.won not in WON:
        raise PlumError("An answer is left, right or can't tell.")
    with transaction(db):
        count = db.execute(
            "SELECT count(*) FROM blind_answer WHERE blind = ?", (round_id,)
        ).fetchone()[0]
        if count != number or number >= MOST_ANSWERS:
            return False
        db.execute(
            "INSERT INTO blind_answer (blind, number, left_look, right_look, scene, won) "
            "VALUES (?, ?, ?, ?, ?, ?)",
            (round_id, number, choice.left, choice.right, choice.scene, choice.won),
        )
        return True


def take_back(db: sqlite3.Connection, round_id: int) -> None:
    """Undo the last answer."""
    with transaction(db):
        db.execute(
            "DELETE FROM blind_answer WHERE blind = ? AND number = (SELECT max(number) FROM "
            "blind_answer WHERE blind = ?)",
            (round_id, round_id),
        )
        db.execute("UPDATE blind SET ended_at = NULL WHERE id = ?", (round_id,))


def end(db: sqlite3.Connection, round_id: int, now: str) -> None:
    """The person has had enough, or all was asked."""
    with transaction(db):
        db.execute("UPDATE blind SET ended_at = ? WHERE id = ?", (now, round_id))


def delete(db: sqlite3.Connection, round_id: int, now: str | None) -> None:
    """Put a round away, or with no time take it back."""
    with transaction(db):
        done = db.execute("UPDATE blind SET deleted_at = ? WHERE id = ?", (now, round_id))
        hit(done, "This blind round is not there any more.")


def to_file(a_round: Round, answers: bool) -> str:
    """A round as a file: to be done by somebody else, or with the answers to be set beside
    another's."""
    data: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "person": a_round.person,
        "seed": a_round.seed,
        "scenes": a_round.scenes,
        "recipes": [to_data(r) for r in a_round.recipes],
        "answers": [[c.left, c.right, c.scene, c.won] for c in a_round.choices] if answers else [],
    }
    return json.dumps(data, ensure_ascii=False, indent=2) + "\n"


def _read(data: bytes) -> "RoundFile":
    from .round_shape import shaped

    if len(data) > MOST_BYTES:
        raise PlumError("This file is too large for a blind round. Choose another.")
    try:
        said = well_formed_data(json.loads(data))
    except (ValueError, RecursionError) as error:
        raise PlumError("This is not the file of a blind round.") from error
    if not isinstance(said, dict) or said.get("format") != FORMAT:
        raise PlumError("This is not the file of a blind round.")
    version = said.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version > VERSION:
        raise PlumError("This round was made by a newer Zesty Plum. Update the program to open it.")
    return shaped(said)


def from_file(db: sqlite3.Connection, data: bytes, now: str) -> int:
    """Take a round in from its file; PlumError where it is not whole. Scenes have to be shipped
    ones."""
    said = _read(data)
    recipes = [from_data(r) for r in said.recipes]
    for scene in said.scenes:
        entry(scene)  # refuses what is not there
    choices = [Choice(*answer) for answer in said.answers]
    _belong(choices, len(recipes), len(said.scenes))
    scenes, seed, person = said.scenes, said.seed, said.person
    round_id = begin(db, recipes, scenes, person if choices else "", seed, now)
    for number, choice in enumerate(choices):
        answer(db, round_id, number, choice)
    if choices:
        end(db, round_id, now)
    return round_id


def _copy(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
    """Blind rounds that are not here yet, with their answers."""
    for row in source.execute("SELECT * FROM blind ORDER BY id").fetchall():
        same = (row["made_at"], row["seed"], row["recipes"])
        if db.execute(
            "SELECT 1 FROM blind WHERE (made_at, seed, recipes) = (?, ?, ?)", same
        ).fetchone():
            continue
        made = db.execute(
            "INSERT INTO blind (made_at, person, seed, recipes, scenes, ended_at, deleted_at) "
            "VALUES (:made_at, :person, :seed, :recipes, :scenes, :ended_at, :deleted_at)",
            dict(row),
        )
        for answer in source.execute(
            "SELECT * FROM blind_answer WHERE blind = ?", (row["id"],)
        ).fetchall():
            db.execute(
                "INSERT INTO blind_answer (blind, number, left_look, right_look, scene, won) "
                "VALUES (:blind, :number, :left_look, :right_look, :scene, :won)",
                dict(answer) | {"blind": made.lastrowid},
            )
    return 0, 0


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "blind", "Blind round", partial(read_round, db))
    lone = "SELECT blind FROM blind_answer WHERE blind NOT IN (SELECT id FROM blind)"
    checks.none(db, lone, "An answer in it belongs to no blind round.")


TABLES = Tables({"blind": _copy}, comes_with={"blind_answer": "blind"}, checked=_checked)

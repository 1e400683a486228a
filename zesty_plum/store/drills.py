"""Drills: people, what they were asked, what they said; and the file by which a drill is passed
on."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from ..core.base.errors import NotFound, PlumError
from ..core.base.text import well_formed_data
from ..core.drill.begun import MOST_MANY, MOST_SEED, NAME, Begun, Person
from ..core.drill.kinds import KINDS
from ..core.fields.declared import from_file, to_file
from . import checks
from .database import hit, insert, transaction
from .tables import Counts, Tables

FORMAT, VERSION = "zesty-plum-drill", 1
MOST_NAME, MOST_EYES, MOST_RUNS, MOST_TEXT = NAME.most, 60, 20_000, 20_000
MOST_BYTES = 2**20


@dataclass(frozen=True)
class Eye:
    """A person: when their screen was looked at, how many dark and light steps they told apart, and
    whether words follow what they see."""

    id: int
    name: str
    made_at: str
    screen_at: str | None
    darks: int
    lights: int
    used: bool


@dataclass(frozen=True)
class Answer:
    """An answer: to which question (as data), what was said, whether it was right; which measure it
    tells of, and at what size, octaves."""

    number: int
    question: dict[str, Any]
    said: str
    right: bool
    measure: str = ""
    size: float = 0.0
    seconds: float = 0.0
    at: str = ""


@dataclass(frozen=True)
class Drill:
    """A drill; `fixed` asks the same of everybody, by the seed alone. `screen` says what is known
    of the screen it was done on."""

    id: int
    eye: int
    kind: str
    seed: int
    many: int
    fixed: bool
    made_at: str
    screen: str
    answers: tuple[Answer, ...] = ()

    @property
    def done(self) -> bool:
        """Whether all was answered."""
        return len(self.answers) >= self.many

    @property
    def right(self) -> int:
        """Right answers."""
        return sum(a.right for a in self.answers)


# ---- people --------------------------------------------------------------------------------------
def read_eye(row: sqlite3.Row) -> Eye:
    """A person; it raises whatever a row that means nothing makes it raise."""
    checks.text(row, "name", MOST_NAME, 1)
    checks.moment(row, "made_at")
    checks.moment(row, "screen_at", may_lack=True)
    told = {n: row[n] for n in ("id", "name", "made_at", "screen_at", "darks", "lights")}
    return Eye(**told, used=bool(row["used"]))


def eyes(db: sqlite3.Connection) -> list[Eye]:
    """All people by name."""
    rows = db.execute("SELECT * FROM eye ORDER BY name").fetchall()
    return checks.readable(rows, read_eye)


def eye(db: sqlite3.Connection, number: int) -> Eye:
    """A person."""
    row = db.execute("SELECT * FROM eye WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound("There is nobody of that number. Drill lists who is here.")
    return checks.made("Person", row, read_eye)


def person(db: sqlite3.Connection, said: Person, now: str) -> Eye:
    """The person of a name, who is new if nobody has it."""
    name = said.name
    with transaction(db):
        row = db.execute("SELECT * FROM eye WHERE name = ?", (name,)).fetchone()
        if row is not None:
            return checks.made("Person", row, read_eye)
        if db.execute("SELECT count(*) FROM eye").fetchone()[0] >= MOST_EYES:
            raise PlumError(f"{MOST_EYES} people are here already.")
        made = db.execute("INSERT INTO eye (name, made_at) VALUES (?, ?)", (name, now))
        return eye(db, int(made.lastrowid or 0))


def screen(db: sqlite3.Connection, number: int, darks: int, lights: int, now: str) -> None:
    """What somebody saw of a screen's darkest and lightest steps."""
    with transaction(db):
        done = db.execute(
            "UPDATE eye SET screen_at = ?, darks = ?, lights = ? WHERE id = ?",
            (now, darks, lights, number),
        )
        hit(done, "Nobody of that name is here any more.")


def use(db: sqlite3.Connection, number: int | None) -> None:
    """Whose thresholds words follow; nobody's with None."""
    with transaction(db):
        db.execute("UPDATE eye SET used = (id IS ?)", (number,))


# ---- drills --------------------------------------------------------------------------------------
def read_drill(db: sqlite3.Connection, row: sqlite3.Row) -> Drill:
    """A drill with its answers, likewise: each question builds on the answers before it."""
    checks.whole(row, "seed", 0, MOST_SEED)
    checks.whole(row, "many", 1, MOST_MANY)
    checks.moment(row, "made_at")
    checks.text(row, "screen", MOST_TEXT)
    if row["kind"] not in KINDS:
        raise PlumError("its kind is not known")
    given = "SELECT * FROM drill_answer WHERE drill = ? ORDER BY number"
    answers = tuple(map(read_answer, db.execute(given, (row["id"],)).fetchall()))
    if [a.number for a in answers] != list(range(len(answers))):
        raise PlumError("an answer to it is missing")
    return Drill(
        row["id"],
        row["eye"],
        row["kind"],
        row["seed"],
        row["many"],
        fixed=bool(row["fixed"]),
        made_at=row["made_at"],
        screen=row["screen"],
        answers=answers,
    )


def read_answer(row: sqlite3.Row) -> Answer:
    """An answer, likewise."""
    checks.text(row, "said", MOST_TEXT)
    checks.moment(row, "at")
    checks.text(row, "measure", MOST_TEXT)
    for name in ("size", "seconds"):
        if not isinstance(row[name], float | int | None):
            raise PlumError(f"its {name} is no number")
    question = json.loads(checks.text(row, "question", MOST_TEXT, 2))
    if not isinstance(question, dict):
        raise PlumError("its question is damaged")
    return Answer(
        row["number"], question, row["said"], bool(row["right"]), row["measure"], row["size"],
        row["seconds"], row["at"],
    )  # fmt: skip


def begin(
    db: sqlite3.Connection, who: Eye, begun: Begun, now: str, fixed: bool = False, on: str = ""
) -> Drill:
    """A new drill, whose seed is drawn."""
    with transaction(db):
        if db.execute("SELECT count(*) FROM drill").fetchone()[0] >= MOST_RUNS:
            raise PlumError(f"{MOST_RUNS:,} drills are kept already.")
        made = db.execute(
            "INSERT INTO drill (eye, kind, seed, many, fixed, made_at, screen) "
            "VALUES (?, ?, ?, ?, ?, ?, ?)",
            (who.id, begun.kind, begun.seed, begun.many, int(fixed), now, on),
        )
    return get(db, int(made.lastrowid or 0))


def get(db: sqlite3.Connection, number: int) -> Drill:
    """A drill with its answers."""
    row = db.execute("SELECT * FROM drill WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFound("There is no such drill. Begin another one.")
    return checks.made("Drill", row, partial(read_drill, db))


def of(db: sqlite3.Connection, who: int, kind: str = "") -> list[Drill]:
    """Somebody's drills, the oldest first."""
    where, args = ("AND kind = ?", (who, kind)) if kind else ("", (who,))
    rows = db.execute(
        f"SELECT * FROM drill WHERE eye = ? {where} AND deleted_at IS NULL ORDER BY id", args
    ).fetchall()
    return checks.readable(rows, partial(read_drill, db))


def same(db: sqlite3.Connection, drill: Drill) -> list[Drill]:
    """Other drills that ask the same."""
    rows = db.execute(
        "SELECT * FROM drill WHERE kind = ? AND seed = ? AND many = ? AND fixed = 1 AND id != ? "
        "AND deleted_at IS NULL ORDER BY id",
        (drill.kind, drill.seed, drill.many, drill.id),
    ).fetchall()
    return checks.readable(rows, partial(read_drill, db)) if drill.fixed else []


def answer(db: sqlite3.Connection, drill: int, given: Answer) -> bool:
    """Keep an answer; one that was given stays as it is. Returns whether this one was kept."""
    with transaction(db):
        done = db.execute(
            "INSERT INTO drill_answer (drill, number, question, said, right, measure, size, "
            "seconds, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
            (
                drill,
                given.number,
                json.dumps(given.question, ensure_ascii=False),
                given.said[:MOST_TEXT],
                int(given.right),
                given.measure,
                given.size,
                min(max(given.seconds, 0.0), 3600.0),
                given.at,
            ),
        )
    return bool(done.rowcount)


def remove(db: sqlite3.Connection, number: int, now: str | None) -> None:
    """Remove a drill with its answers, or with no moment take it back."""
    with transaction(db):
        done = db.execute("UPDATE drill SET deleted_at = ? WHERE id = ?", (now, number))
        hit(done, "This drill is not there any more.")


# ---- passed on -----------------------------------------------------------------------------------
def dumps(drill: Drill, named: Sequence[tuple[str, Drill]]) -> str:
    """The file of a drill that asks the same of everybody, with answers of those who did it."""
    said = [{"name": name, "right": [a.right for a in d.answers]} for name, d in named]
    begun = to_file(Begun(drill.kind, drill.many, drill.seed))
    data = {"format": FORMAT, "version": VERSION, **begun, "answers": said}
    return json.dumps(data, ensure_ascii=False, indent=1) + "\n"


def read_file(text: bytes) -> tuple[Begun, list[tuple[Person, list[bool]]]]:
    """What a drill is begun with, and what others answered; PlumError says what is wrong."""
    if len(text) > MOST_BYTES:
        raise PlumError("This drill's file is over 1 MB. Choose another file.")
    try:
        data = well_formed_data(json.loads(text))
    except (ValueError, RecursionError) as error:
        raise PlumError("This is no drill's file: it is not valid JSON in UTF-8.") from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise PlumError(f"This is no drill's file: its 'format' is not {FORMAT}.")
    if data.get("version") != VERSION:
        raise PlumError(f"This drill's file is not of version {VERSION}. Update the program.")
    begun = from_file(Begun, data, "In this drill's file ")
    if begun.seed is None:
        raise PlumError("In this drill's file “Seed” is missing: nobody knows what it asks.")
    answers = data.get("answers", [])
    if not isinstance(answers, list) or len(answers) > MOST_EYES:
        raise PlumError(f"The 'answers' of this drill's file are no list of up to {MOST_EYES}.")
    return begun, [_said(k, one, begun.many) for k, one in enumerate(answers, 1)]


def _said(number: int, told: Any, many: int) -> tuple[Person, list[bool]]:
    where = f"In answers {number} of this drill's file "
    right = told.get("right") if isinstance(told, dict) else None
    if not isinstance(right, list) or not all(isinstance(r, bool) for r in right):
        raise PlumError(f"{where}'right' is no list of true and false.")
    return from_file(Person, told, where), right[:many]


def others(
    db: sqlite3.Connection, begun: Begun, said: Sequence[tuple[Person, list[bool]]], now: str
) -> None:
    """Keep what others answered to a drill that came as a file, beside one's own."""
    for one, right in said:
        who = person(db, one, now)
        known = [Begun(d.kind, d.many, d.seed) for d in of(db, who.id, begun.kind) if d.fixed]
        if begun in known:
            continue
        made = begin(db, who, begun, now, True, "from a file")
        for number, well in enumerate(right):
            answer(db, made.id, Answer(number, {}, "", well, at=now))


# ---- backup --------------------------------------------------------------------------------------
def _copy(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
    """People by name, with drills that are not here yet, by when they were begun and their seed."""
    for row in source.execute("SELECT * FROM eye ORDER BY id").fetchall():
        here = db.execute("SELECT id FROM eye WHERE name = ?", (row["name"],)).fetchone()
        if here is None:
            told = {k: v for k, v in dict(row).items() if k not in ("id", "used")}
            mine = insert(db, "eye", told)
        else:
            mine = int(here["id"])
        for drill in source.execute("SELECT * FROM drill WHERE eye = ?", (row["id"],)).fetchall():
            known = "SELECT 1 FROM drill WHERE eye = ? AND made_at = ? AND seed = ? AND kind = ?"
            which = (mine, drill["made_at"], drill["seed"], drill["kind"])
            if db.execute(known, which).fetchone():
                continue
            told = {**{k: v for k, v in dict(drill).items() if k != "id"}, "eye": mine}
            new = insert(db, "drill", told)
            for said in source.execute(
                "SELECT * FROM drill_answer WHERE drill = ?", (drill["id"],)
            ).fetchall():
                insert(db, "drill_answer", {**dict(said), "drill": new})
    return 0, 0


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "eye", "Person", read_eye)
    checks.every(db, "drill", "Drill", partial(read_drill, db))


TABLES = Tables(
    {"eye": _copy},
    comes_with={"drill": "eye", "drill_answer": "eye"},
    order=5,
    checked=_checked,
)

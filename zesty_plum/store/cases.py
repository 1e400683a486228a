"""Cases: the cameras that somebody really has, what should stand in them, and what was found."""

import sqlite3
from dataclasses import dataclass, replace
from typing import Any

from ..core.base.errors import Gone, NotFound, PlumError
from ..core.base.text import told_apart
from ..core.bodies import Body, bodies, body
from ..core.fields.declared import checked, declared
from ..core.kit import card
from ..core.kit.case import MOST_WORD, About
from . import checks, slips
from .database import insert, transaction
from .tables import Counts, Tables

MOST = 100
HOWS = ("card", "typed", "ticked off")  # a reading came about
ABOUT = tuple(f.name for f in declared(About))


@dataclass(frozen=True, kw_only=True)
class Case(About):
    """A camera that is kept: what is said of it, and its body; `like` is the case whose state it
    was brought to, while it is borrowed, and `came` the reading of how it came. `earlier` and
    `sharing` count the cameras in use of the same name that came before it, and those of the same
    letter."""

    id: int
    body: str
    added_at: str
    retired: bool
    like: int | None
    came: int | None
    earlier: int
    sharing: int

    @property
    def called(self) -> str:
        """Its name as it is shown: no other is called so."""
        return told_apart(self.name, self.earlier)

    @property
    def short(self) -> str:
        """Its letter, or what it is called where it has none of its own."""
        return self.letter if self.letter and not self.sharing else self.called

    @property
    def camera(self) -> Body:
        """Its body."""
        return body(self.body)

    @property
    def about(self) -> About:
        """What is said of it alone."""
        return About(**{name: getattr(self, name) for name in ABOUT})


# ---- cases ---------------------------------------------------------------------------------------
def read_case(row: sqlite3.Row) -> Case:
    """A case, as if there were no others; it raises whatever a row that means nothing makes it
    raise."""
    checks.text(row, "name", MOST_WORD, 1)
    checks.text(row, "body", 40, 1)
    checked(About(**{name: row[name] for name in ABOUT}))
    checks.moment(row, "added_at")
    checks.moment(row, "retired_at", may_lack=True)
    told = {name: row[name] for name in ("id", "body", *ABOUT)}
    return Case(
        **told,
        added_at=row["added_at"],
        retired=row["retired_at"] is not None,
        like=row["like_case"],
        came=row["came"],
        earlier=0,
        sharing=0,
    )


def _among_others(row: sqlite3.Row) -> Case:
    return replace(read_case(row), earlier=row["earlier"], sharing=row["sharing"])


_CASES = """SELECT c.*,
 (SELECT count(*) FROM kit_case o WHERE o.name = c.name AND o.id < c.id
  AND (o.retired_at IS NULL) = (c.retired_at IS NULL)) AS earlier,
 (SELECT count(*) FROM kit_case o WHERE o.letter = c.letter AND o.id <> c.id
  AND o.retired_at IS NULL) AS sharing FROM kit_case c"""


def listed(db: sqlite3.Connection, retired: bool = False) -> list[Case]:
    """All cases whose body is here, by letter and name."""
    sign = "IS NOT" if retired else "IS"
    rows = db.execute(
        f"{_CASES} WHERE retired_at {sign} NULL ORDER BY letter = '', letter, name, id"
    ).fetchall()
    return checks.readable([row for row in rows if row["body"] in bodies()], _among_others)


def get(db: sqlite3.Connection, case_id: int) -> Case:
    """A case."""
    row = db.execute(f"{_CASES} WHERE id = ?", (case_id,)).fetchone()
    if row is None:
        raise NotFound("There is no such camera in your kit. Kit lists those that there are.")
    return checks.made("Camera", row, _among_others)


def in_use(db: sqlite3.Connection, case_id: int) -> Case:
    """A case that is not put away; Gone where it is."""
    case = get(db, case_id)
    if case.retired:
        raise Gone(
            f"{case.called} was put away meanwhile, so nothing was changed. Take it back on the "
            "page of cameras first."
        )
    return case


def named(db: sqlite3.Connection, text: str) -> Case:
    """A case by its letter or name; PlumError lists them."""
    said, here = text.casefold(), listed(db)
    found = [c for c in here if said in (c.letter.casefold(), c.name.casefold())]
    if len(found) != 1:
        found = [c for c in here if said == c.called.casefold()] or found
    if len(found) == 1:
        return found[0]
    every = ", ".join(f"{c.letter} ({c.called})" if c.letter else c.called for c in here)
    if found:
        raise PlumError(f"Two cameras are called '{text}'. There are {every}.")
    raise NotFound(f"There is no camera '{text}' in the kit. There are {every or 'none yet'}.")


def insert_new(db: sqlite3.Connection, camera: Body, about: About, now: str) -> int:
    """Id of a new case, inside the caller's transaction."""
    if db.execute("SELECT count(*) FROM kit_case").fetchone()[0] >= MOST:
        raise PlumError(f"{MOST} cameras are the most that a kit holds.")
    return insert(db, "kit_case", {"body": camera.id, "added_at": now, **_values(about, camera)})


def add(db: sqlite3.Connection, camera: Body, about: About, now: str) -> Case:
    """A new case; nothing is planned for it yet."""
    with transaction(db):
        return get(db, insert_new(db, camera, about, now))


def _values(about: About, camera: Body) -> dict[str, Any]:
    return {**{k: getattr(about, k) for k in ABOUT}, "name": about.name or camera.name}


def change(db: sqlite3.Connection, case_id: int, about: About) -> Case:
    """What is said of a case, written anew."""
    with transaction(db):
        said = _values(about, in_use(db, case_id).camera)
        db.execute(
            f"UPDATE kit_case SET {', '.join(f'{k} = :{k}' for k in ABOUT)} WHERE id = :id",
            {**said, "id": case_id},
        )
        return get(db, case_id)


def retire(db: sqlite3.Connection, case_id: int, now: str | None) -> Case:
    """Put a case away, or with no moment take it back."""
    with transaction(db):
        db.execute("UPDATE kit_case SET retired_at = ? WHERE id = ?", (now, case_id))
        return get(db, case_id)


# ---- backup --------------------------------------------------------------------------------------
def _copy(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
    """Cases that are not here yet, by name, body and when they were added; their slots with the
    slips that say the same here."""
    ids: dict[int, int] = {}
    for row in source.execute("SELECT * FROM kit_case ORDER BY id").fetchall():
        same = "SELECT 1 FROM kit_case WHERE name = ? AND body = ? AND added_at = ?"
        if db.execute(same, (row["name"], row["body"], row["added_at"])).fetchone():
            continue
        told_ = {k: v for k, v in dict(row).items() if k not in ("id", "like_case", "came")}
        ids[row["id"]] = insert(db, "kit_case", told_)
    for old, new in ids.items():
        for table in ("kit_slot", "kit_beside", "kit_reading"):
            for row in source.execute(f"SELECT * FROM {table} WHERE case_id = ?", (old,)):
                told_ = {**dict(row), "case_id": new}
                told_.pop("id", None)
                if told_.get("slip"):
                    told_["slip"] = slips.twin(db, source, told_["slip"])
                insert(db, table, told_, anew=True)
    return 0, 0


def _check_reading(row: sqlite3.Row) -> None:
    checks.moment(row, "read_at")
    checks.text(row, "card", card.MOST_BYTES, 2)
    if row["how"] not in HOWS:
        raise PlumError("how it was read is not known")


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "kit_case", "Camera", read_case)
    checks.every(db, "kit_reading", "Card reading", _check_reading)


TABLES = Tables(
    {"kit_case": _copy},
    comes_with={"kit_slot": "kit_case", "kit_beside": "kit_case", "kit_reading": "kit_case"},
    order=2,
    checked=_checked,
)

"""Slips on a real file: versions are kept whatever happens."""

import io
import os
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from contextlib import closing, contextmanager

import pytest

from tests.builders import recipe
from zesty_plum.core.base.errors import NotFound, PlumError
from zesty_plum.core.exchange import Brought
from zesty_plum.core.recipe import search
from zesty_plum.store import backup, batches, database, shelf, slips
from zesty_plum.store import tables as tables_of
from zesty_plum.store.place import prepared

NOW = "2026-10-03T18:00:00Z"


@pytest.fixture
def db(tmp_path):
    path = tmp_path / "plum.db"
    database.prepare(path)
    connection = database.connect(path)
    yield connection
    connection.close()


def test_versions_are_kept_and_none_is_overwritten(db):
    slip = slips.create(db, recipe("Tide", style="linen"), NOW)
    slips.save(db, slip.id, recipe("Tide", style="ink"), NOW)
    third = slips.save(db, slip.id, recipe("High tide", style="ink", grain="salt"), NOW)
    assert (third.version, third.name) == (3, "High tide")
    assert [s.recipe.dials["style"] for s in slips.history(db, slip.id)] == ["ink", "ink", "linen"]
    assert slips.get(db, slip.id, 1).recipe.look == recipe(style="linen").look
    for change in ("UPDATE version SET recipe = '{}'", "DELETE FROM version"):
        with pytest.raises(sqlite3.IntegrityError, match="never"):
            db.execute(change)


def test_trash_gives_back_and_names_are_checked(db):
    slip = slips.create(db, recipe("  Kite \n weather "), NOW)
    assert slip.name == "Kite weather"
    slips.delete(db, [slip.id], NOW)
    assert shelf.find(db) == []
    assert shelf.find(db, deleted=True) == [slip.id]
    assert slips.restore(db, [slip.id])[0].name == "Kite weather"
    for name in ("", "  ", "x" * 121):
        with pytest.raises(PlumError):
            slips.rename(db, slip.id, name)
    with pytest.raises(NotFound):
        slips.get(db, 99)


def test_a_variant_knows_what_it_was_varied_from(db):
    first = slips.create(db, recipe("One"), NOW)
    assert slips.create(db, recipe("Two"), NOW, (first.id, 1)).parent == first.id


def test_settings_of_the_file(db):
    assert db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    assert db.execute("PRAGMA foreign_keys").fetchone()[0] == 1
    with pytest.raises(sqlite3.IntegrityError):
        db.execute("INSERT INTO version (slip, number, recipe, saved_at) VALUES (99, 1, '', '')")


def test_a_migration_is_all_or_nothing_and_keeps_a_copy(tmp_path):
    path, schema = tmp_path / "plum.db", tmp_path / "schema"
    schema.mkdir()
    for file in database.SCHEMA.glob("*.sql"):
        (schema / file.name).write_text(file.read_text())
    last = max(number for number, _ in database.migrations())
    more = schema / f"{last + 1:03d}_more.sql"
    database.prepare(path, schema)
    with database.connect(path) as db:
        slips.create(db, recipe("Kept"), NOW)
    db.close()
    more.write_text("ALTER TABLE slip ADD COLUMN tag TEXT;\nINSERT INTO nowhere VALUES (1);\n")
    with pytest.raises(PlumError):
        database.prepare(path, schema)
    with database.connect(path) as db:
        assert db.execute("PRAGMA user_version").fetchone()[0] == last
        assert "tag" not in [r["name"] for r in db.execute("PRAGMA table_info(slip)")]
    db.close()
    more.write_text("ALTER TABLE slip ADD COLUMN tag TEXT;\n")
    database.prepare(path, schema)
    with database.connect(tmp_path / f"plum.before-{last + 1}.db") as copy:
        assert shelf.names(copy)[0][1] == "Kept"
    copy.close()


@pytest.mark.parametrize(
    "content", [b"not a database at all, but long enough to look at" * 30, None]
)
def test_a_file_that_is_not_ours_is_refused(tmp_path, content):
    path = tmp_path / "plum.db"
    if content:
        path.write_bytes(content)
    else:
        with database.connect(path) as db:
            db.execute("PRAGMA user_version = 999")
        db.close()
    with pytest.raises(PlumError):
        database.prepare(path)
    assert content is None or path.read_bytes() == content


WRITER = """
import sys
from pathlib import Path
from tests.builders import recipe
from zesty_plum.store import database, slips
db = database.connect(Path(sys.argv[1]))
slip = slips.create(db, recipe("Killed"), "2026-10-03T18:00:00Z")
for step in range(100000):
    made = slips.save(db, slip.id, recipe("Killed", clarity=step % 3), "2026-10-03T18:00:00Z")
    print(made.version, flush=True)
"""


def test_a_killed_process_loses_no_saved_version(tmp_path):
    path = tmp_path / "plum.db"
    database.prepare(path)
    for round_ in range(3):
        process = subprocess.Popen(
            [sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True
        )
        said = [int(process.stdout.readline()) for _ in range(5 + 4 * round_)]
        time.sleep(0.003 * round_)
        os.kill(process.pid, signal.SIGKILL)
        said += [int(line) for line in process.stdout.read().split()]
        process.wait()
        process.stdout.close()
        with database.connect(path) as db:
            assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            kept = slips.history(db, shelf.find(db)[0])
            assert [s.version for s in kept] == list(range(len(kept), 0, -1))
            assert kept[0].version >= max(said)
        db.close()


def test_a_backup_knows_every_table(db):
    """A table is copied when a backup is added to a library, comes with one that is, or is left out
    for a reason that is written down; one that nobody thought of fails here."""
    rows = db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
    tables = {r["name"] for r in rows} - {"sqlite_sequence"}
    inner = {t for t in tables if any(t.startswith(f"{left}_") for left in ("shelf_text",))}
    known = [
        n for k in tables_of.every() for n in (*k.copied, *k.comes_with, *k.left_out, *k.stays)
    ]
    assert sorted(known) == sorted(tables - inner)
    for said in tables_of.every():
        assert set(said.comes_with.values()) <= set(said.copied)
        assert all(len(reason) > 5 for reason in (said.left_out | said.stays).values())


def test_two_deletes_in_one_second_come_back_apart(db):
    made = [slips.create(db, recipe(name), NOW).id for name in ("Ebb", "Flood")]
    moments = [slips.delete(db, [slip_id], NOW) for slip_id in made]
    assert moments[0] != moments[1]
    assert slips.deleted_at(db, moments[1]) == [made[1]]
    slips.restore(db, slips.deleted_at(db, moments[0]))
    assert shelf.find(db) == [made[0]]


def test_a_batch_that_two_take_in_at_once_is_taken_in_once(tmp_path, db):
    """Both have looked before either pressed: sixteen hands, one library."""
    found = [Brought(recipe(f"Tide {k}", exposure=k), "x.zip") for k in range(3)]
    batch = batches.stage(db, found, NOW)
    start, made = threading.Barrier(16), []

    def press() -> None:
        with closing(database.connect(tmp_path / "plum.db")) as own:
            start.wait()
            made.append(batches.take(own, batch, ["new"] * 3, NOW))

    hands = [threading.Thread(target=press) for _ in range(16)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    assert len(made) == 16
    assert all(m == made[0] for m in made)
    assert shelf.count(db) == 3


def test_who_saves_is_told_the_version_that_was_saved(tmp_path, db, monkeypatch):
    """Somebody else saves right behind every change, before anything more is read."""
    slip = slips.create(db, recipe("Tide"), NOW)

    @contextmanager
    def hurried(opened):
        with database.transaction(opened):
            yield opened
        if opened is db:
            with closing(database.connect(tmp_path / "plum.db")) as rival:
                slips.save(rival, slip.id, recipe("Rival", exposure=2), NOW)

    monkeypatch.setattr(slips, "transaction", hurried)
    saved = slips.save(db, slip.id, recipe("Mine", exposure=1), NOW)
    assert (saved.version, saved.name, saved.recipe.dials["exposure"]) == (2, "Mine", 1)
    assert slips.rename(db, slip.id, "Mine again").name == "Mine again"
    assert slips.get(db, slip.id).name == "Rival"


def test_what_is_saved_while_a_backup_is_put_back_is_never_lost(tmp_path, db):
    """Hands that save all the while: every save that was acknowledged stands in the library, or in
    what was kept of the old one; two restores in one second keep two."""
    folder = prepared(tmp_path)
    for k in range(30):
        slips.create(db, recipe(f"Old {k}"), NOW)
    saved = io.BytesIO()
    backup.write(db, folder, saved, NOW)
    acknowledged, stop = [], threading.Event()

    def save(hand: int) -> None:
        with closing(database.connect(tmp_path / "plum.db")) as own:
            k = 0
            while not stop.is_set():
                name = f"New {hand}-{k}"
                slips.create(own, recipe(name), NOW)
                acknowledged.append(name)
                k += 1

    hands = [threading.Thread(target=save, args=(n,)) for n in range(3)]
    for hand in hands:
        hand.start()
    places = []
    for _ in range(3):
        time.sleep(0.2)
        _, place = backup.replace(db, folder, saved, NOW)
        places.append(place)
    stop.set()
    for hand in hands:
        hand.join()
    assert len({p.name for p in places}) == 3
    found = {name for _, name in shelf.names(db, most=10**6)}
    for place in places:
        with (
            place.open("rb") as file,
            backup.opened(db, file, folder) as (path, _),
            closing(database.connect(path)) as kept,
        ):
            found |= {name for _, name in shelf.names(kept, most=10**6)}
    assert len(acknowledged) > 20
    assert [name for name in acknowledged if name not in found] == []
    # The library is whole: versions are kept by their triggers again, and the index finds.
    assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    assert db.execute("PRAGMA foreign_key_check").fetchall() == []
    assert len(shelf.find(db, search.parse("old"))) == 30
    with pytest.raises(sqlite3.IntegrityError, match="never"):
        db.execute("DELETE FROM version")

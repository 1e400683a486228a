"""The data folder in every state that it can be found in, and backups that mean nothing."""

import errno
import io
import json
import os
import sqlite3
import subprocess
import sys
import time
import zipfile
from contextlib import closing
from datetime import date
from hashlib import sha256
from pathlib import Path

import pytest

from tests.builders import recipe
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body
from zesty_plum.core.kit.case import About
from zesty_plum.core.outing.day import Day
from zesty_plum.core.recipe import dumps
from zesty_plum.store import (
    backup,
    cases,
    database,
    faults,
    outings,
    plans,
    rounds,
    shelf,
    slips,
    unreadable,
)
from zesty_plum.store.place import DAY, prepared
from zesty_plum.web import create_app

NOW = "2026-10-03T18:00:00Z"
JSON = {"Accept": "application/json"}


@pytest.fixture
def place(tmp_path):
    return prepared(tmp_path / "data")


@pytest.fixture
def db(place):
    with closing(database.connect(place.database)) as opened:
        yield opened


# ---- backups that mean nothing -------------------------------------------------------------------
def packed(place, *changes: str, files: dict[str, bytes] | None = None) -> io.BytesIO:
    """A backup of a library with a slip and a round, changed by SQL and then packed anew."""
    with closing(database.connect(place.database)) as db:
        if not shelf.count(db):
            slip = slips.create(db, recipe("Tide"), NOW)
            shelf.tag(db, [slip.id], "harbour")
            pair = [recipe("Tide"), recipe("Kite", style="linen")]
            rounds.begin(db, pair, ["corner"], "pier crew", 7, NOW)
        out = io.BytesIO()
        backup.write(db, place, out, NOW)
    with zipfile.ZipFile(out) as zipped:
        held = {name: zipped.read(name) for name in zipped.namelist()}
    path = place.scratch / "changed.db"
    path.write_bytes(held["plum.db"])
    with closing(sqlite3.connect(path)) as changed:
        for trigger in ("version_is_kept", "version_is_not_lost"):
            sql = changed.execute("SELECT sql FROM sqlite_master WHERE name = ?", (trigger,))
            held[trigger] = sql.fetchone()[0]
            changed.execute(f"DROP TRIGGER {trigger}")
        for change in changes:
            changed.execute(change)
        for trigger in ("version_is_kept", "version_is_not_lost"):
            changed.execute(held.pop(trigger))
        changed.commit()
    held["plum.db"] = path.read_bytes()
    path.unlink()
    held |= files or {}
    head = json.loads(held.pop("manifest.json"))
    head["files"] = {name: sha256(data).hexdigest() for name, data in held.items()}
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as zipped:
        for name, data in (held | {"manifest.json": json.dumps(head).encode()}).items():
            zipped.writestr(name, data)
    made.seek(0)
    return made


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ("UPDATE version SET recipe = '{}'", "Version 1 cannot be read: This is not a recipe file"),
        ("UPDATE version SET recipe = replace(recipe, 'heron-m2', 'gull-9')", "gull-9"),
        ("UPDATE version SET recipe = x'00ff'", "its recipe is not a text"),
        ("UPDATE version SET saved_at = 'soon'", "its saved at is not a moment"),
        ("UPDATE version SET number = 'one'", "its number is not a number"),
        ("UPDATE slip SET name = x'ff00ff'", "its name is not a text"),
        ("UPDATE slip SET name = ''", "its name is not a text"),
        ("UPDATE slip SET name = CAST(x'ff41' AS TEXT)", "UTF-8"),
        ("DELETE FROM version", "no version"),
        ("UPDATE tag SET slip = 99", "tag in it belongs to nothing"),
        ("UPDATE blind SET recipes = '[]'", "Blind round 1 cannot be read: it has too few"),
        ("UPDATE blind SET recipes = 'nothing'", "it is damaged"),
        ("UPDATE blind SET seed = -1", "its seed is not a number"),
        ("UPDATE blind SET scenes = '[7]'", "its scenes are not named"),
        ("INSERT INTO blind_answer VALUES (1, 0, 0, 9, 0, 1.0)", "do not belong"),
        ("INSERT INTO blind_answer VALUES (9, 0, 0, 1, 0, 1.0)", "belongs to no blind round"),
        (
            "INSERT INTO picture VALUES ('../x', 'a', 'b', 1, '2026-10-03T18:00:00Z', NULL, '')",
            "its id",
        ),
        ("CREATE TABLE more (a)", "other tables"),
        ("CREATE TRIGGER t AFTER INSERT ON tag BEGIN SELECT 1; END", "other tables"),
        ("PRAGMA user_version = 0", "not one of Zesty Plum"),
    ],
)
def test_a_backup_that_means_nothing_is_refused_with_the_first_reason(place, db, change, why):
    file = packed(place, change)
    before = list(db.iterdump())
    for put_back in (backup.add, lambda *a: backup.replace(*a, NOW)):
        with pytest.raises(PlumError) as refused:
            put_back(db, place, file)
        assert why in str(refused.value)
        assert "nothing was changed" in str(refused.value)
        assert list(db.iterdump()) == before
    assert not list(place.folder.glob("before-restore*"))
    assert list(place.scratch.iterdir()) == []


def test_a_slot_for_a_dial_that_is_gone_comes_back_and_one_that_is_damaged_does_not(place, db):
    """The first is kept until something else is put there; pages say which it is."""
    made = cases.add(db, body("heron-m2"), About(name="Mine"), NOW)
    held = plans.Put("1", None, 0, recipe("Tide", grain="salt"), "", "", NOW, None)
    plans.put(db, made.id, held)
    gone = packed(place, """UPDATE kit_slot SET recipe = replace(recipe, '"grain"', '"fade"')""")
    backup.replace(db, place, gone, NOW)
    (back,) = cases.listed(db)
    assert plans.slots_of(db, back.id) == {}
    assert "fade" in plans.lost(db, back.id)["1"]
    with pytest.raises(PlumError, match="what was left in it is damaged"):
        backup.replace(db, place, packed(place, "UPDATE kit_slot SET left_so = '[1]'"), NOW)


def test_a_text_that_is_too_deep_takes_no_page_down(place, db):
    outings.add(db, Day(on=date(2026, 11, 7)), NOW)
    db.execute("UPDATE outing SET said = ?", ("[" * 19_000,))
    assert outings.listed(db) == []
    assert [u.kind for u in unreadable.listed(db)] == ["day"]


def test_what_a_backup_says_of_its_shelf_is_not_believed(place, db):
    file = packed(place, "UPDATE shelf SET name = 'lies', style = 'Lies', content = 'lies'")
    backup.replace(db, place, file, NOW)
    assert shelf.named(db, "Tide") == 1
    assert shelf.same(db, recipe("Tide")) == [(1, "Tide")]


def test_a_picture_under_another_ones_name_is_refused(place, db):
    files = {"pictures/own-0123456789abcdef": b"not what the name says"}
    with pytest.raises(PlumError, match="damaged"):
        backup.add(db, place, packed(place, files=files))
    assert list(place.pictures.iterdir()) == []


@pytest.mark.parametrize("manifest", [b"\0" * 10**9, b"[]", b'{"format": 1}', b"\xff\xfe"])
def test_odd_manifests_are_refused(place, db, manifest):
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as zipped:
        zipped.writestr("manifest.json", manifest)
    with pytest.raises(PlumError, match=r"not a backup|damaged|unpacks to more than"):
        backup.add(db, place, made)


def test_a_backup_is_made_although_pictures_vanish_and_parts_lie_about(place, db):
    db.execute(
        "INSERT INTO picture VALUES ('own-0123456789abcdef', 'a.jpg', 'a', 1, ?, NULL, '')", (NOW,)
    )
    (place.pictures / ".zesty-plum-part").write_bytes(b"half")
    out = io.BytesIO()
    backup.write(db, place, out, NOW)
    with zipfile.ZipFile(out) as zipped:
        assert sorted(zipped.namelist()) == ["manifest.json", "plum.db"]


# ---- what cannot be read -------------------------------------------------------------------------
def shelf_page(client) -> str:
    return " ".join(client.get("/slips").text.split())


@pytest.mark.parametrize("text", ["{}", "nothing", "", None])
def test_what_cannot_be_read_takes_no_screen_down(tmp_path, text):
    app = create_app(tmp_path / "data")
    app.config["WTF_CSRF_ENABLED"] = False
    client = app.test_client()
    with closing(database.connect(app.config["DATABASE"])) as db:
        good, bad = (slips.create(db, recipe(name), NOW).id for name in ("Good", "Bad"))
        slips.create(db, recipe("Child"), NOW, (bad, 1))
        rounds.begin(db, [recipe("Good"), recipe("Kite", style="ink")], ["corner"], "", 7, NOW)
        broken = text if text is not None else dumps(recipe("Bad")).replace("heron-m2", "gull-9")
        db.execute("DROP TRIGGER version_is_kept")
        db.execute("UPDATE version SET recipe = ? WHERE slip = ?", (broken, bad))
        db.execute("UPDATE blind SET recipes = ?", (broken,))
        odd = "INSERT INTO picture VALUES ('own-0123456789abcdef', 'a', x'00ff', 1, ?, NULL, '')"
        db.execute(odd, (NOW,))
    for url in ("/slips", "/bench", "/wall", "/blind", f"/slips/{good}", "/slips/3", "/backup.zip"):
        assert client.get(url).status_code == 200, url
    page = shelf_page(client)
    assert "Cannot be read" in page
    assert page.count("Take it away as it is") == 2
    told = page[page.index("Cannot be read") : page.index("Safekeeping")]
    assert "cannot be read" not in told  # the heading says it once
    assert told.count(".</span>") == 2
    assert client.get(f"/slips/{bad}").status_code == 400
    odd = client.get("/render/own-0123456789abcdef.jpg", headers=JSON)
    assert (odd.status_code, "cannot be read" in odd.json["error"]) == (404, True)
    held = client.get(f"/slips/unreadable/slip-{bad}.json").json
    assert held["version"][0]["recipe"] == broken
    client.post(f"/slips/unreadable/slip-{bad}/remove")
    client.post("/slips/unreadable/round-1/remove")
    assert "Take it away as it is" not in shelf_page(client)
    client.post(f"/slips/unreadable/slip-{bad}/restore")
    assert shelf_page(client).count("Take it away as it is") == 1
    assert client.post("/slips/unreadable/kite-1/remove").status_code == 404


# ---- states of the folder ------------------------------------------------------------------------
def test_the_folder_is_its_owners_alone(tmp_path):
    (tmp_path / "data").mkdir(mode=0o755)
    (tmp_path / "data" / "before-restore-1.zip").write_bytes(b"old")
    create_app(tmp_path / "data")
    for path in (tmp_path / "data", *(tmp_path / "data").rglob("*")):
        assert path.stat().st_mode & 0o077 == 0, path


def test_what_killed_processes_left_is_swept_and_what_lives_stays(tmp_path, place):
    script = (
        "import sys, time; from pathlib import Path; from zesty_plum.store.place import prepared\n"
        "place = prepared(Path(sys.argv[1])); (place.scratch / 'half').write_bytes(bytes(9))\n"
        "print(place.scratch, flush=True); time.sleep(60)"
    )
    command = [sys.executable, "-c", script, str(place.folder)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as other:
        scratch = Path(other.stdout.readline().strip())
        old, young = place.pictures / ".zesty-plum-old", place.pictures / ".zesty-plum-young"
        lone, fresh = (place.pictures / f"own-{k * 16}" for k in "ab")
        for path in (old, young, lone, fresh):
            path.write_bytes(b"half")
        for path in (old, lone):
            os.utime(path, (time.time() - DAY - 60,) * 2)
        prepared(place.folder)
        assert scratch.is_dir()  # its process lives
        assert place.scratch.is_dir()
        assert [p.exists() for p in (old, young, lone, fresh)] == [False, True, False, True]
        other.kill()
        other.wait()
        prepared(place.folder)
        assert not scratch.exists()


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda f: (f / "plum.db").write_bytes(b""), "is empty"),
        (lambda f: (f / "plum.db").write_bytes(b"no database at all" * 100), "not a Zesty Plum"),
        (lambda f: (f / "plum.db").mkdir(), "is a folder"),
        (lambda f: (f / "secret.key").mkdir(), "is a folder"),
        (lambda f: (f / "renders").write_bytes(b""), "is a file"),
        (lambda f: (f / "pictures").write_bytes(b""), "is a file"),
    ],
)
def test_an_odd_folder_is_told_in_a_sentence(tmp_path, spoil, words):
    folder = tmp_path / "data"
    folder.mkdir()
    spoil(folder)
    command = [sys.executable, "-m", "zesty_plum", "serve", "--port", "0", "--data", str(folder)]
    done = subprocess.run(command, capture_output=True, text=True, timeout=60)
    assert done.returncode == 1
    assert words in done.stderr
    assert "Traceback" not in done.stderr
    assert len(done.stderr.strip().splitlines()) == 1


def test_a_damaged_database_is_told_at_the_start_and_before_a_backup(place, db):
    for k in range(200):
        slips.create(db, recipe(f"Slip {k}", exposure=k % 3), NOW)
    db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    with place.database.open("r+b") as file:
        for page in range(4, place.database.stat().st_size // 4096, 2):
            file.seek(4096 * page)
            file.write(b"\xa5" * 4000)
    with pytest.raises(PlumError, match=r"is damaged.*put your newest backup back"):
        backup.write(db, place, io.BytesIO(), NOW)
    (place.folder / "before-restore-2026.zip").write_bytes(b"")
    with pytest.raises(PlumError, match=r"Beside it lie before-restore-2026\.zip"):
        prepared(place.folder)


def test_an_empty_key_is_made_anew(place):
    key = place.secret()
    assert place.secret() == key
    (place.folder / "secret.key").write_bytes(b"")
    assert len(place.secret()) >= 32


def test_a_kill_while_a_library_is_begun_leaves_none(tmp_path, monkeypatch):
    def killed(*_: object) -> None:
        raise KeyboardInterrupt

    monkeypatch.setattr(database, "_advance", killed)
    with pytest.raises(KeyboardInterrupt):
        database.prepare(tmp_path / "plum.db")
    assert list(tmp_path.iterdir()) == []


# ---- the disk and the database say no ------------------------------------------------------------
@pytest.fixture
def client(tmp_path, monkeypatch):
    app = create_app(tmp_path / "data")
    app.config["WTF_CSRF_ENABLED"] = False
    return app.test_client()


def save(client):
    return client.post("/slips/save", data={"name": "Tide", "note": "x" * 900}, headers=JSON)


@pytest.mark.parametrize(
    ("state", "words"),
    [
        ("PRAGMA max_page_count = 1", faults.FULL),
        ("PRAGMA query_only = ON", faults.READ_ONLY),
        ("", faults.LOCKED),
    ],
)
def test_what_the_database_says_is_told_and_reading_goes_on(client, monkeypatch, state, words):
    assert save(client).status_code == 200
    connect, held = database.connect, sqlite3.connect(client.application.config["DATABASE"])

    def limited(path):
        db = connect(path)
        db.execute("PRAGMA busy_timeout = 50")
        if state:
            db.execute(state)
        return db

    monkeypatch.setattr("zesty_plum.web.frame.context.database.connect", limited)
    if not state:
        held.execute("BEGIN IMMEDIATE")
    answers = [save(client) for _ in range(40)]
    held.close()
    assert {a.status_code for a in answers} <= {200, 503}
    assert answers[-1].json == {"error": words}
    assert "Tide" in client.get("/slips").text


@pytest.mark.parametrize(
    ("number", "words"),
    [
        (errno.ENOSPC, faults.FULL),
        (errno.EROFS, faults.READ_ONLY),
        (errno.EACCES, faults.READ_ONLY),
    ],
)
def test_what_the_disk_says_is_told(client, monkeypatch, number, words):
    def refused(*_: object, **__: object) -> None:
        raise OSError(number, os.strerror(number))

    monkeypatch.setattr("zesty_plum.web.papers.backup.write", refused)
    answer = client.get("/backup.zip", headers=JSON)
    assert (answer.status_code, answer.json) == (503, {"error": words})


def test_a_copy_of_a_held_database_is_given_up(place, db, monkeypatch):
    monkeypatch.setattr(backup, "WAIT", 0.1)
    look = backup._patient()
    look(sqlite3.SQLITE_BUSY, 1, 1)
    time.sleep(0.15)
    look(sqlite3.SQLITE_OK, 1, 1)
    with pytest.raises(PlumError, match="Another program holds"):
        look(sqlite3.SQLITE_BUSY, 1, 1)


def test_a_folder_that_cannot_be_written_to_is_still_read(place, db, monkeypatch):
    slips.create(db, recipe("Tide"), NOW)
    db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    db.close()
    real = sqlite3.connect

    class Stubborn(sqlite3.Connection):
        def execute(self, sql, *more):
            if "journal_mode" in sql:
                raise sqlite3.OperationalError("attempt to write a readonly database")
            return super().execute(sql, *more)

    def connect(target, **more):
        return real(target, **more) if more.get("uri") else real(target, factory=Stubborn, **more)

    monkeypatch.setattr(database.sqlite3, "connect", connect)
    monkeypatch.setattr(database.os, "access", lambda *_: False)
    with closing(database.connect(place.database)) as opened:
        assert [s.name for s in slips.some(opened, [1])] == ["Tide"]
        with pytest.raises(sqlite3.OperationalError, match="readonly"):
            slips.create(opened, recipe("Kite"), NOW)
    assert unreadable.MOST_SHOWN

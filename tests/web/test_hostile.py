"""What strangers' files must not do: lock a browser out, freeze the server, or hide what is
wrong."""

import io
import json
import sqlite3
import struct
import subprocess
import sys
import zipfile
import zlib

import numpy as np
import pytest

from tests.builders import file_of, recipe
from zesty_plum.core.base import zips
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.base.text import well_formed, well_formed_data
from zesty_plum.core.paper import faces
from zesty_plum.core.pictures import metadata
from zesty_plum.core.recipe import dumps, from_data, to_data
from zesty_plum.store import database, faults

JSON = {"Accept": "application/json"}
HALF = "\ud800"


def test_a_file_with_half_characters_locks_nobody_out(client, post):
    """A list whose second recipe names a body that no text can hold."""
    rows = [to_data(recipe("Good")), to_data(recipe("Bad")) | {"body": HALF, "note": HALF}]
    sent = json.dumps(rows).encode()
    answer = post("/bring", {"file": (io.BytesIO(sent), "two.json")}, headers=JSON)
    assert answer.status_code == 200
    for url in (answer.json["to"], "/slips", "/bench", "/wall", "/blind"):
        page = client.get(url)
        assert page.status_code == 200, url
        page.data.decode()


def test_a_cookie_that_was_poisoned_before_is_no_harm(client):
    with client.session_transaction() as session:
        session["_flashes"] = [("fault", f"{HALF} {'x' * 900}"), (HALF, "odd")]
    page = client.get("/slips")
    assert page.status_code == 200
    assert "\ufffd xxx" in page.data.decode()
    assert client.get("/slips").status_code == 200


@pytest.mark.parametrize("letter", ["x", "語", "\U0001f3ee"])
def test_notes_stay_within_what_a_cookie_holds(client, post, letter):
    """Browsers drop cookies above 4096 bytes, and with them every note."""
    dice = np.random.default_rng(1)

    def words() -> str:
        return "".join(chr(min(ord(letter) + int(k), 0x1FFFF)) for k in dice.integers(0, 900, 700))

    files = [(io.BytesIO(b"{"), f"{words()}.json") for _ in range(30)]
    files.append((io.BytesIO(dumps(recipe("Good")).encode()), "good.plum.json"))
    post("/bring", {"file": files}, headers=JSON)
    held = sum(len(c.value) + len(c.key) for c in client._cookies.values())
    assert 0 < held < 4000
    assert "26 more files held no recipe." in client.get("/slips").text


def test_text_is_made_well_formed_wherever_a_file_holds_it():
    odd = {"extra": {HALF: [f"a{HALF}", {"b": HALF}]}, "note": f"tide {HALF}\n\ttabs stay"}
    made = from_data(to_data(recipe("Tide")) | odd)
    assert made.note == "tide \ufffd\n\ttabs stay"
    assert made.extra == {"extra": {"\ufffd": ["a\ufffd", {"b": "\ufffd"}]}}
    dumps(made).encode()
    assert well_formed("日本 🏮 e\u0301") == "日本 🏮 e\u0301"
    deep: list = []
    for _ in range(10_000):
        deep = [deep]
    json.dumps(well_formed_data(deep))  # neither this nor what it gives is too deep to walk


def png_with(text: bytes, packed: bool = False) -> bytes:
    """A small PNG with an XMP packet in it."""
    plain = file_of(np.full((20, 20, 3), 90, np.uint8))
    body = metadata.PNG_KEY + b"\0" + bytes([packed, 0]) + b"\0\0"
    body += zlib.compress(text) if packed else text
    chunk = struct.pack(">I", len(body)) + b"iTXt" + body
    chunk += struct.pack(">I", zlib.crc32(b"iTXt" + body))
    return plain[:33] + chunk + plain[33:]


BOMB = f'<x xmlns:p="{metadata.NAMESPACE}">'.encode() + b"<p:recipe" * 40_000


@pytest.mark.parametrize("packed", [False, True])
def test_a_packet_that_opens_for_ever_is_refused_at_once(tmp_path, packed):
    """In a process of its own, so that a reader whose time grows faster than the file is ended."""
    path = tmp_path / "bomb.png"
    path.write_bytes(png_with(BOMB, packed))
    script = (
        "import sys; from pathlib import Path; from zesty_plum.core.pictures import metadata\n"
        "from zesty_plum.core.base.errors import PlumError\n"
        "try: print(metadata.find(Path(sys.argv[1]).read_bytes()))\n"
        "except PlumError as error: print(error)"
    )
    done = subprocess.run(
        [sys.executable, "-c", script, str(path)], capture_output=True, text=True, timeout=20
    )
    assert "is damaged" in done.stdout, done.stderr


@pytest.mark.parametrize(
    ("xmp", "words"),
    [
        (f'<!DOCTYPE x [<!ENTITY a "b">]><x xmlns:p="{metadata.NAMESPACE}"/>', "entities"),
        (f'<x xmlns:p="{metadata.NAMESPACE}" p:recipe="&#x110000;"/>', "damaged"),
        (f'<x xmlns:p="{metadata.NAMESPACE}" p:recipe="{{&quot;cut', "damaged"),
        (f'<x xmlns:p="{metadata.NAMESPACE}" p:recipe="[]"/>', "not a recipe file"),
    ],
)
def test_a_packet_that_is_broken_is_told_in_a_sentence(post, xmp, words):
    with pytest.raises(PlumError, match=words):
        metadata.find(png_with(xmp.encode()))
    sent = {"file": (io.BytesIO(png_with(xmp.encode())), "odd.png")}
    answer = post("/take-in", sent, headers=JSON)
    assert answer.status_code == 400
    assert words in answer.json["error"]


def test_a_packet_is_read_whatever_the_prefix_and_the_shape():
    text = dumps(recipe("Tide", style="linen"), indent=None)
    quoted = text.replace("&", "&amp;").replace('"', "&quot;").replace("<", "&lt;")
    for xmp in (
        f'<a xmlns:q="{metadata.NAMESPACE}"><b q:recipe="{quoted}"/></a>',
        f'<a xmlns="{metadata.NAMESPACE}"><recipe>{quoted}</recipe></a>',
        f"<a xmlns:z='{metadata.NAMESPACE}'><z:recipe><![CDATA[{text}]]></z:recipe></a>\n\0\0",
    ):
        assert metadata.find(png_with(xmp.encode())) == recipe("Tide", style="linen")
    assert metadata.find(png_with(b"<a><b recipe='1'/></a>")) is None


@pytest.mark.parametrize("text", ["x", "日", "ab ", "e\u0301", "i"])
def test_text_is_laid_out_in_time_that_goes_with_the_paper(monkeypatch, text):
    """Letters that are measured: no more for a hundred times the text."""
    measured = []
    width = faces.width

    def counted(part: str, face: str, size: int) -> float:
        measured.append(len(part))
        return width(part, face, size)

    monkeypatch.setattr(faces, "width", counted)
    sums = []
    for many in (4000, 400_000):
        measured.clear()
        lines = faces.wrapped(text * many, "text", 22, 900, 3)
        assert len(lines) == 3
        assert lines[-1].endswith("…")
        assert all(width(line, "text", 22) <= 900 for line in lines)
        faces.shortened(text * many, "text", 22, 300)
        faces.fitted(text * many, "head", range(60, 20, -8), 800, 2)
        sums.append(sum(measured))
    assert sums[0] == sums[1]
    assert sums[0] < 400_000


def packed(entries):
    """A zip of so many files, each of so many zeros."""
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as into:
        for name, size in entries:
            into.writestr(name, bytes(size))
    held.seek(0)
    return held


@pytest.mark.parametrize(
    ("entries", "told"),
    [
        ([(f"{k}.jpg", 40 * 2**20) for k in range(4)], "which no pictures do"),
        ([("one.tif", 101 * 10**6)], "unpacks to more than 100 MB"),
    ],
)
def test_a_small_zip_never_becomes_a_large_folder(app, post, entries, told):
    sent = {"file": (packed(entries), "pairs.zip"), "name": "Mine", "like": "heron-m2"}
    answer = post("/kit/teach", sent, headers=JSON)
    assert answer.status_code == 400
    assert told in answer.json["error"]
    folder = app.extensions["place"].folder
    assert sum(f.stat().st_size for f in folder.rglob("*") if f.is_file()) < 3 * 2**20


def test_a_zip_that_does_not_fit_on_the_disk_is_told_before_it_is_unpacked():
    with zipfile.ZipFile(packed([("a.jpg", 5000), ("b.jpg", 5000)])) as found:
        zips.fits(found, 10**6, 10_001)
        with pytest.raises(PlumError, match="are free on the disk"):
            zips.fits(found, 10**6, 9_999)


@pytest.mark.parametrize("field", ["name", "note", "author"])
def test_what_is_too_long_is_told_and_not_cut(client, post, field):
    asked = {"body": "heron-m2", "name": "A name", field: "long " * 900}
    answer = post("/slips/save", asked, headers=JSON)
    assert answer.status_code == 400
    assert "letters, and this has 4," in answer.json["error"]
    assert client.get("/find.json?q=long").json == []


def test_a_day_far_away_is_refused_and_one_that_is_kept_shuts_no_door(app, client, post):
    said = {"date": "9999-12-31", "name": "The last day", "place": "", "zone": "Europe/Berlin"}
    answer = post("/outing/days", said, headers=JSON)
    assert (answer.status_code, "from 1950 to 2150" in answer.text) == (400, True)
    assert post("/outing/days", said | {"date": "2026-11-07"}, headers=JSON).status_code == 302
    with database.connect(app.config["DATABASE"]) as db:
        db.execute("UPDATE outing SET date = '9999-12-31'")
    assert client.get("/outing/days").status_code == 200
    assert client.get("/outing/").status_code == 200
    assert "The last day" in client.get("/slips").text  # among what cannot be read
    post("/slips/unreadable/day-1/remove")
    assert "The last day" not in client.get("/slips").text


def test_a_data_folder_that_is_taken_away_is_told_and_not_made_anew(app, client):
    folder = app.extensions["place"].folder
    folder.rename(folder.with_name("elsewhere"))
    for url in ("/slips", "/bench?slip=1", "/notes/", "/outing/days"):
        answer = client.get(url)
        assert (answer.status_code, "is not there any more" in answer.text) == (503, True)
    assert not folder.exists()


def test_a_folder_of_pictures_that_is_missing_is_made(app, post):
    app.extensions["place"].pictures.rmdir()
    data = file_of(np.full((40, 60, 3), 90, np.uint8))
    answer = post("/take-in", {"file": (io.BytesIO(data), "a.png")}, headers=JSON)
    assert answer.status_code == 200


def test_a_page_says_when_little_room_is_left(client, monkeypatch):
    assert "are left on the disk" not in client.get("/slips").text
    monkeypatch.setattr(faults, "free", lambda _: 12 * 2**20)
    assert "12 MB are left on the disk of the data folder" in client.get("/slips").text


@pytest.mark.parametrize(
    ("code", "free", "told"),
    [
        (sqlite3.SQLITE_IOERR_SHMSIZE, 2**40, faults.FULL),
        (sqlite3.SQLITE_IOERR_WRITE, 4096, faults.FULL),
        (sqlite3.SQLITE_IOERR_WRITE, 2**40, faults.DAMAGED),
        (sqlite3.SQLITE_CANTOPEN, 0, faults.FULL),
        (sqlite3.SQLITE_CANTOPEN, 2**40, faults.READ_ONLY),
        (sqlite3.SQLITE_BUSY, 0, faults.LOCKED),
    ],
)
def test_without_room_nothing_is_called_damaged(monkeypatch, tmp_path, code, free, told):
    error = sqlite3.OperationalError()
    error.sqlite_errorcode = code
    monkeypatch.setattr(faults, "free", lambda _: free)
    assert faults.sentence(error, tmp_path) == told

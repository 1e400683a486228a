"""What starting loads, without a clock; and the demo as it is prepared."""

import lzma
import sqlite3
import subprocess
import sys
import threading
from contextlib import closing
from datetime import timedelta
from importlib import import_module
from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from zesty_plum.cli import COMMANDS, main, warming
from zesty_plum.core.base.loops import Loop
from zesty_plum.core.bodies import file, known, shipped
from zesty_plum.demo import TAUGHT, prepared
from zesty_plum.demo.seed import seed
from zesty_plum.store import bodies, database
from zesty_plum.store.renders import SHIPPED, Renders
from zesty_plum.web import create_app
from zesty_plum.web.render import rendering
from zesty_plum.web.render.rendering import ROW_WIDTH, Rendered

HEAVY = "distributed dask tornado reportlab av rawpy matplotlib".split()  # noqa: SIM905
OF_PICTURES = [*HEAVY, "numba", "cv2", "flask", "PIL", "scipy"]
APP = (
    "from pathlib import Path; from zesty_plum.demo.prepared import lay_out; "
    "from zesty_plum.web import create_app; folder = Path({folder!r}); "
    "lay_out(folder, '2026-11-08T10:00:00Z'); app = create_app(folder); "
    "page = app.test_client().get('/bench'); assert page.status_code == 200; "
)


def loaded(code: str, names: list[str]) -> tuple[list[str], int]:
    """Which of some modules a fresh interpreter has loaded after running code, and how many are
    ours."""
    told = f"import sys; print([m for m in {names!r} if m in sys.modules])"
    own = "print(sum(m.startswith('zesty_plum') for m in sys.modules))"
    done = subprocess.run(
        [sys.executable, "-c", f"{code}\n{told}\n{own}"],
        capture_output=True,
        text=True,
        check=True,
    )
    *_, found, many = done.stdout.splitlines()
    return eval(found), int(many)


def test_an_application_with_its_first_page_loads_nothing_that_draws(tmp_path):
    names = [*HEAVY, "numba", "cv2", "PIL", "pydantic", "scipy", "limits"]
    assert loaded(APP.format(folder=str(tmp_path)), names)[0] == []


def test_a_first_picture_loads_no_more_than_it_needs(tmp_path):
    code = APP.format(folder=str(tmp_path))
    code += "client = app.test_client(); client.get('/render/garden.jpg?width=96')"
    found, _ = loaded(code, [*HEAVY, "numba", "cv2", "scipy", "cffi"])
    assert found == ["numba", "cv2"]


@pytest.mark.parametrize(
    ("given", "most"),
    [
        (["--version"], 5),
        (["reckon", "ev", "--aperture", "8", "--time", "1/125", "--iso", "100"], 36),
        (["bodies"], 40),
        (["read", "-", "--body", "heron-m2"], 45),
    ],
)
def test_a_command_loads_what_it_uses(given, most):
    code = (
        "import io; sys_in = io.StringIO('Linen'); import sys; sys.stdin = sys_in\n"
        "sys.stdin.buffer = io.BytesIO(b'Linen, grain 1')\n"
        if "read" in given
        else ""
    )
    code += f"from zesty_plum.cli import main\nmain({given!r}, standalone_mode=False)"
    found, own = loaded(code, OF_PICTURES)
    assert found == []
    assert 2 < own <= most


def test_every_command_of_the_table_is_there():
    for name in COMMANDS:
        assert main.get_command(None, name).name == name


LOOPS = """
from zesty_plum.core.base.loops import inlined, loop_with

@inlined
def twice(x):
    return 2 * x

@loop_with(cache=False)
def summed(values):
    total = 0.0
    for value in values:
        total += twice(value)
    return total
"""


def test_a_loop_finds_those_that_it_calls_also_when_it_is_declared_late(tmp_path, monkeypatch):
    monkeypatch.syspath_prepend(tmp_path)
    for name in ("early", "late"):
        (tmp_path / f"loops_{name}.py").write_text(LOOPS)
        made = import_module(f"loops_{name}")
        assert made.summed(np.arange(4.0)) == 12
        assert not isinstance(made.twice, Loop)  # a compiled one stands there now


def test_it_warms_up_only_while_nobody_waits(monkeypatch):
    drawn, stopped = [], threading.Event()

    def ended(*given):
        drawn.append(given)
        raise RuntimeError("cannot schedule new futures after interpreter shutdown")

    monkeypatch.setattr(warming, "develop", ended)
    with pytest.raises(RuntimeError):
        warming.warm(lambda: 1.0, stopped)
    stopped.set()
    warming.warm(lambda: 1.0, stopped)  # a program that ends says nothing
    assert len(drawn) == 2
    warming.warm(lambda: 0.0, stopped)
    assert len(drawn) == 2


# ---- the demo ------------------------------------------------------------------------------------
def library(path) -> dict[str, list[tuple]]:
    """All rows of all tables but indexes."""
    with closing(sqlite3.connect(path)) as db:
        tables = [name for (name,) in db.execute(prepared._TABLES)]
        return {t: db.execute(f"SELECT * FROM {t} ORDER BY 1, 2").fetchall() for t in tables}


def test_the_prepared_library_is_what_the_demo_makes(tmp_path):
    create_app(tmp_path / "made")
    with closing(database.connect(tmp_path / "made" / "plum.db")) as db:
        seed(db, prepared.MADE_AT)
    (tmp_path / "shipped.db").write_bytes(lzma.decompress(prepared.LIBRARY.read_bytes()))
    made, kept = library(tmp_path / "made" / "plum.db"), library(tmp_path / "shipped.db")
    told = "run make prepared"
    assert made.keys() == kept.keys(), told
    for table in made:
        assert made[table] == kept[table], f"{table}: {told}"


def test_it_is_laid_out_as_if_it_were_made_now(tmp_path):
    later = "2027-02-01T09:30:00Z"
    assert prepared.lay_out(tmp_path / "new", later)
    assert not prepared.lay_out(tmp_path / "new", later)
    with closing(sqlite3.connect(tmp_path / "new" / "plum.db")) as db:
        moments = [m for (m,) in db.execute("SELECT saved_at FROM version")]
        assert set(moments) == {later}
        (first,) = db.execute("SELECT min(made_at) FROM trial").fetchone()
        assert first == "2027-01-28T09:30:00Z"
        assert db.execute("SELECT date FROM outing").fetchone() == ("2026-11-07",)
        with pytest.raises(sqlite3.IntegrityError):  # what keeps versions as they are stands again
            db.execute("UPDATE version SET recipe = ''")
        prepared.move(db, timedelta())
    assert [p.name for p in (tmp_path / "new").iterdir()] == ["plum.db"]
    assert create_app(tmp_path / "new").test_client().get("/slips").text.count("Slack tide") >= 2


def test_prints_that_ship_are_what_their_addresses_render(tmp_path):
    """Those of the scenes: an address that renders something else needs another engine, and prints
    made anew (make prepared)."""
    app = create_app(tmp_path)
    client, empty = app.test_client(), tmp_path / "empty"
    empty.mkdir()
    shipped_prints = app.extensions["renders"]
    for scene in ("garden", "workshop", "corner"):
        path = f"/render/{scene}.jpg?width={ROW_WIDTH}"
        key = client.get(path).headers["ETag"].strip('"')
        kept = Rendered.from_bytes((SHIPPED / key).read_bytes())
        app.extensions["renders"] = Renders(tmp_path / "renders", empty, shipped=empty)
        rendering._cache._made.clear()
        fresh = client.get(path).data
        app.extensions["renders"] = shipped_prints
        one, two = (np.asarray(Image.open(BytesIO(d)), float) for d in (kept.jpeg, fresh))
        assert one.shape == two.shape
        assert abs(one - two).mean() < 0.5, scene


# ---- bodies that were found whole ----------------------------------------------------------------
def test_a_file_that_was_found_whole_is_read_to_the_same_without_looking_again():
    texts = [TAUGHT.read_text(), *(file.dumps(b) for b in shipped().values())]
    for text in texts:
        made = file.loads(text, known())
        again = file.loads_known(file.dumps(made))
        assert again == made
        assert file.dumps(again) == file.dumps(made)
        assert [s.sure for s in again.styles] == [s.sure for s in made.styles]


def test_a_file_that_changed_since_is_looked_at_again(tmp_path):
    app = create_app(tmp_path)
    with closing(database.connect(app.config["DATABASE"])) as db:
        bodies.keep(db, bodies.read(TAUGHT.read_bytes()), "2026-11-07T20:00:00Z")
        (checked, text) = db.execute("SELECT checked, text FROM body_file").fetchone()
        assert checked == file.digest(text)
        db.execute(
            "UPDATE body_file SET text = replace(text, '\"electrons\": ', '\"electrons\": -')"
        )
        bodies.refresh(db)
        assert bodies.listed(db) == []

"""Addresses hold whole recipes, and the running server keeps its promises under many hands."""

import io
import json
import os
import re
import signal
import subprocess
import sys
import threading
import time
import urllib.request

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from werkzeug.datastructures import MultiDict

from tests.builders import HERON, recipe
from zesty_plum import allocator
from zesty_plum.core import scenes
from zesty_plum.core.base.cache import BoundedCache
from zesty_plum.core.develop import table
from zesty_plum.core.recipe import make
from zesty_plum.core.scenes import frame
from zesty_plum.store.renders import Renders
from zesty_plum.web.render import address, rendering
from zesty_plum.web.server import limits
from zesty_plum.web.ways.take import file_name

picks = st.lists(st.integers(0, 60), min_size=len(HERON.dials), max_size=len(HERON.dials))


@settings(
    suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=40, deadline=None
)
@given(picks)
def test_an_address_and_a_code_give_the_recipe_back(app, places):
    dials = {d.id: d.values[p % len(d.values)] for d, p in zip(HERON.dials, places)}
    made = make("Neap tide", HERON.id, dials)
    with app.test_request_context(
        f"/?{address.query(address.dial_args(made))}&name=Neap tide"
    ) as context:
        assert address.recipe_from(context.request.args) == made
        assert address.from_code(address.code(made))[0] == made
    text = MultiDict({k: str(v) for k, v in dials.items()} | {"body_edition": "2"})
    assert address.recipe_from(text).dials == made.dials


def test_an_older_address_counts_as_of_the_first_edition(client, post):
    """Alone, and on top of a slip: what it turned is carried over, the rest stands as saved."""
    slip = {
        "name": "Tide",
        "body": "heron-m2",
        "body_edition": "2",
        "style": "linen",
        "colour": "3",
    }
    post("/slips/save", slip)

    def dials(query: str) -> dict:
        return client.get(f"/take/recipe.plum.json?{query}").json["dials"]

    assert dials("shift_red=2&shift_blue=-3") == {"shift_amber": 20, "shift_green": 1}
    assert dials("body_edition=2&shift_amber=5") == {"shift_amber": 5}
    page = client.get("/bench?slip=1&shift_red=3&grain=2").text
    at = json.loads(re.search(r'id="bench-data">(.*?)</script>', page)[1])
    stands = {d["id"]: d["values"][p] for d, p in zip(at["dials"], at["state"]["positions"])}
    assert (stands["shift_amber"], stands["shift_green"]) == ("10", "-3")
    assert (stands["grain"], stands["colour"], stands["style"]) == ("salt", "3", "linen")
    assert "Grain 2 and Shift red +3 are now Grain salt, Blue to amber +10 mired" in page
    assert "first edition" not in client.get("/bench?slip=1&line=shift_red").text
    refused = client.get("/take/recipe.plum.json?shift_amber=5")
    assert refused.status_code == 400
    assert "body_edition" in refused.text
    late = client.get("/take/recipe.plum.json?body_edition=3&colour=1")
    assert "knows up to edition 2" in late.text


@pytest.mark.parametrize(
    "code",
    [
        "",
        "slip-",
        "slip-x",
        "slip-1.2.3",
        "slip-99999999999",
        "only a name",
        "a~owl",
        "a~heron-m2~guard=9",
        "a~heron-m2~tint=1",
    ],
)
def test_codes_that_name_nothing_are_refused(client, code):
    answer = client.get("/wall", query_string={"r": code}, headers={"Accept": "application/json"})
    assert answer.status_code in (400, 404)
    assert answer.json["error"].endswith(".")


@pytest.mark.parametrize(
    ("name", "file"),
    [
        ("Slack tide", "slack-tide.cube"),
        ("../../etc/x", "etc-x.cube"),
        ("  ", "recipe.cube"),
        ("Bøye 日本", "bøye-日本.cube"),
        ('a"b\r\nc', "a-b-c.cube"),
    ],
)
def test_files_are_named_sensibly(name, file):
    assert file_name(recipe(name), ".cube") == file


def test_headers_survive_a_hostile_name(client):
    answer = client.get(
        "/take/recipe.plum.json", query_string={"name": 'x"\r\nSet-Cookie: a=b\r\n日'}
    )
    assert answer.status_code == 200
    assert "a=b" not in str(answer.headers.get("Set-Cookie"))
    assert "\n" not in answer.headers["Content-Disposition"]


def test_many_at_once_get_what_one_gets(app):
    urls = [
        f"/render/{s}.jpg?width=260&shadows={n}&grain={n % 3}&seed={n}"
        for s in ("boatyard", "workshop")
        for n in (-2, -1, 0, 1, 2)
        if n >= 0
    ]
    alone = {url: app.test_client().get(url).data for url in urls}
    rendering._cache = BoundedCache(rendering.KEPT_BYTES, lambda made: made.nbytes)
    table.bake.cache_clear()
    together: dict[str, list[bytes]] = {url: [] for url in urls}

    def ask(order: int) -> None:
        for url in urls[order:] + urls[:order]:
            together[url].append(app.test_client().get(url).data)

    threads = [threading.Thread(target=ask, args=(k,)) for k in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert all(data == alone[url] for url, answers in together.items() for data in answers)


def test_pictures_and_scenes_in_memory_stay_within_their_bounds():
    for n in range(60):
        rendering._cache.put(
            n, rendering.Rendered(bytes(2**19), (0, 0), (bytes(2**18), b""), (), "", 0, 0, 0)
        )
    assert (
        rendering.KEPT_BYTES * 0.9
        < sum(made.nbytes for made in rendering._cache._made.values())
        <= rendering.KEPT_BYTES
    )
    for scene_id in scenes.index():
        scene = scenes.load(scene_id)
        for width in range(100, 200, 20):
            scene.at_width(width)
        assert len(scene._sizes) <= scene.KEPT_SIZES
    scenes.load("corner")
    assert sum(scene.nbytes for scene in scenes._loaded._made.values()) <= scenes.MOST_BYTES
    frames = frame._drawn
    assert 1 < len(frames) < len(scenes.index())
    assert sum(pixels.nbytes for pixels in frames._made.values()) <= frame.MOST_DRAWN


def test_a_render_on_disk_is_the_one_that_was_made_and_the_folder_stays_bounded(
    client, app, tmp_path
):
    url = f"/render/corner.jpg?style=linen&width={rendering.SHELF_WIDTH}"
    first = client.get(url)
    rendering._cache = BoundedCache(rendering.KEPT_BYTES, lambda made: made.nbytes)
    again, marks = client.get(url), client.get(url.replace(".jpg", ".marks.png"))
    assert (first.data, first.headers["Plum-Exposure"]) == (
        again.data,
        again.headers["Plum-Exposure"],
    )
    assert again.headers["Server-Timing"] == first.headers["Server-Timing"]  # it was not made anew
    assert marks.status_code == 200
    (tmp_path / "small").mkdir()
    folder = Renders(tmp_path / "small", tmp_path, most=10_000)
    for n in range(100):
        folder.put(f"k{n}", bytes(1000))
        os.utime(tmp_path / "small" / f"k{n}", (n, n))
        folder.get("k0")  # looked at again and again
    kept = {f.name for f in (tmp_path / "small").iterdir()}
    assert len(kept) <= 10
    assert {"k0", "k99"} <= kept
    assert Renders(tmp_path / "small", tmp_path, most=10_000).get("k99") == bytes(1000)


def start(*more: str) -> tuple[subprocess.Popen, str]:
    process = subprocess.Popen(
        [sys.executable, "-m", "zesty_plum", "serve", *more],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        # Where the tests run in the background of a shell, interrupts would be ignored.
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.default_int_handler),
    )
    return process, process.stdout.readline()


def test_serving_a_folder_of_ones_own_and_stopping(tmp_path):
    process, line = start("--data", str(tmp_path / "new" / "looks"), "--port", "0")
    home = line.split()[-1]
    with urllib.request.urlopen(home + "slips") as page:
        assert "No slips yet" in page.read().decode()
    port = home.rstrip("/").rsplit(":", 1)[1]
    second, _ = start("--data", str(tmp_path / "other"), "--port", port)
    assert second.wait(20) == 1
    assert f"Port {port} of 127.0.0.1 cannot be opened" in second.stderr.read()
    process.send_signal(signal.SIGINT)
    begun = time.monotonic()
    process.wait(10)
    assert time.monotonic() - begun < 10
    assert "Traceback" not in process.stderr.read()
    for each in (process, second):
        each.stdout.close()
        each.stderr.close()


def test_the_c_library_takes_the_memory_settings():
    done = subprocess.run(
        [sys.executable, "-c", "from zesty_plum.allocator import keep_freed; print(keep_freed())"],
        capture_output=True,
        text=True,
        check=True,
    )
    assert done.stdout.strip() == "True"
    assert allocator.KEEP_BYTES < 400 * 2**20


def test_an_upload_over_the_limit_is_refused_with_a_sentence(monkeypatch, post):
    monkeypatch.setitem(limits.LARGER, "dropped.take_in", 1000)
    answer = post(
        "/take-in",
        {"file": (io.BytesIO(b"x" * 5000), "big.jpg")},
        headers={"Accept": "application/json"},
    )
    assert answer.status_code == 413
    assert "100 MB" in answer.json["error"]
    answer = post("/begin/list", {"text": "x" * 3 * 2**20}, headers={"Accept": "application/json"})
    assert answer.status_code == 413
    assert "2 MB" in answer.json["error"]


def test_two_windows_saving_one_slip_lose_nothing(post, client):
    first = post("/slips/save", {"name": "Shared"}, headers={"Accept": "application/json"}).json
    onto = {"name": "Shared", "slip": first["slip"], "version": 1}
    both = [
        post("/slips/save", onto | {"guard": g}, headers={"Accept": "application/json"}).json[
            "version"
        ]
        for g in "12"
    ]
    assert both == [2, 3]
    page = client.get(f"/slips/{first['slip']}").text
    assert page.count("<article") == 3

"""A phone at the venue: who is not paired gets nothing at all, who is gets what its rights say."""

import contextlib
import http.client
import os
import re
import shutil
import socket
import ssl
import subprocess
import sys
import time
from datetime import timedelta
from urllib.parse import urlencode, urlsplit

import pytest

from tests.builders import recipe
from zesty_plum.store import database, devices, slips
from zesty_plum.web.server import sharing
from zesty_plum.web.server.serving import ONE_ADDRESS
from zesty_plum.web.server.sharing import COOKIE, ENVIRON, REQUESTS, TRIES, Share

NOW = "2026-10-03T18:00:00Z"
HOST = {"Host": "192.168.1.20:8760"}


@pytest.fixture
def phone(app):
    """A client of the shared address, not paired yet."""
    app.extensions["share"] = Share("192.168.1.20", 8760)
    app.config["WTF_CSRF_ENABLED"] = False
    client = app.test_client()
    client.environ_base[ENVIRON] = True
    return client


def get(phone, url, **more):
    return phone.get(url, headers=HOST | more)


def invitation(app, rights=devices.LOOK) -> str:
    page = app.test_client().post("/devices/invite", data={"rights": rights}).text
    return re.search(r"http://192\.168\.1\.20:8760(/pair/[\w-]+)", page)[1]


def paired(app, phone, rights=devices.LOOK):
    url = invitation(app, rights)
    answer = phone.post(url, data={"name": "Ann's phone"}, headers=HOST)
    assert answer.status_code == 302
    token = re.search(rf"{COOKIE}=([^;]+)", answer.headers["Set-Cookie"])[1]
    phone.environ_base["HTTP_COOKIE"] = f"{COOKIE}={token}"
    return phone


def test_who_is_not_paired_gets_nothing_at_all(app, phone):
    for rule in app.url_map.iter_rules():
        url = re.sub(r"<[^>]+>", "1", rule.rule)
        method = "POST" if "POST" in rule.methods else "GET"
        answer = phone.open(url, method=method, headers=HOST)
        assert (answer.status_code, answer.data) == (404, b""), url
    for odd in ("/nothing", "/pair/", "/pair/x", "/static/app.js", "/pair/x/style.css"):
        answer = get(phone, odd)
        assert (answer.status_code, answer.data) == (404, b""), odd
    for host in ("127.0.0.1:8760", "192.168.1.20", "192.168.1.200:8760", "evil.example", ""):
        answer = phone.get("/slips", headers={"Host": host})
        assert (answer.status_code, answer.data) == (404, b""), host
    for site in ({"Sec-Fetch-Site": "cross-site"}, {"Origin": "https://evil.example"}):
        for method in ("GET", "POST", "PUT"):
            answer = phone.open("/slips", method=method, headers=HOST | site)
            assert (answer.status_code, answer.data) == (404, b""), site
    forged = phone.get("/slips", headers=HOST | {"Cookie": f"{COOKIE}=x"})
    assert (forged.status_code, forged.data) == (404, b"")


def test_the_local_address_is_as_before_and_is_not_lent_to_the_network(app, phone):
    local = app.test_client()
    assert local.get("/slips").status_code == 200
    assert local.get("/slips", headers=HOST).status_code == 400


def test_a_code_pairs_one_device_and_only_once(app, phone):
    url = invitation(app)
    page = get(phone, url)
    assert "may look and tick" in page.text
    assert get(phone, f"{url}/style.css").status_code == 200
    assert get(phone, url).status_code == 200  # looking does not use it up
    paired = phone.post(url, data={"name": "  Ann's   phone "}, headers=HOST)
    assert paired.status_code == 302
    cookie = paired.headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    again = app.test_client()
    again.environ_base[ENVIRON] = True
    assert again.post(url, data={"name": "Eve"}, headers=HOST).status_code == 404
    with contextlib.closing(database.connect(app.config["DATABASE"])) as db:
        assert [d.name for d in devices.listed(db)] == ["Ann's phone"]
        held = db.execute("SELECT token FROM device").fetchone()[0]
    assert held not in cookie  # only a digest is kept


def test_a_code_runs_out_and_a_newer_one_takes_its_place(app, phone):
    first = invitation(app)
    second = invitation(app)
    assert get(phone, first).status_code == 404
    clock = app.config["CLOCK"]
    clock.now += timedelta(seconds=100)
    assert get(phone, second).status_code == 200
    clock.now += timedelta(seconds=30)
    assert get(phone, second).status_code == 404
    assert phone.post(second, data={"name": "Late"}, headers=HOST).status_code == 404


def test_rights(app, phone):
    with contextlib.closing(database.connect(app.config["DATABASE"])) as db:
        slips.create(db, recipe("Tide"), NOW)
    look = paired(app, phone)
    for url in ("/slips", "/slips/1", "/bench", "/wall", "/render/corner.jpg?width=64"):
        assert get(look, url).status_code == 200, url
    save = {"name": "Mine"}
    refused = look.post("/slips/save", data=save, headers=HOST)
    assert refused.status_code == 403
    assert "may look and tick" in refused.text
    for url in ("/backup.zip", "/restore", "/devices", "/openapi.json"):
        assert get(look, url).status_code == 403, url
    # What only ticks may be posted: here the round is missing, which is another answer.
    assert look.post("/blind/1/answer", data={"choice": "left"}, headers=HOST).status_code == 404
    other = app.test_client()
    other.environ_base[ENVIRON] = True
    whole = paired(app, other, devices.EVERYTHING)
    assert whole.post("/slips/save", data=save, headers=HOST).status_code == 302
    for url in ("/backup.zip", "/devices"):
        assert get(whole, url).status_code == 403, url


@pytest.mark.parametrize(
    ("share", "host"),
    [
        (Share("192.168.1.20", 8760), "192.168.1.20:8760"),
        (Share("192.168.1.20", 80), "192.168.1.20"),
        (Share("192.168.1.20", 443, secure=True), "192.168.1.20"),
        (Share("192.168.1.20", 443), "192.168.1.20:443"),
        (Share("fd00::20", 8760), "[fd00::20]:8760"),
    ],
)
def test_its_host_is_what_browsers_say(share, host):
    assert share.netloc == host


def test_what_ticks_is_there(app):
    endpoints = {rule.endpoint for rule in app.url_map.iter_rules()}
    named = (*sharing._ticks(), *sharing.LOCAL, *sharing.KEPT_BACK, *sharing.PAIRING)
    assert set(named) <= endpoints


def test_a_forgotten_device_is_let_in_no_more(app, phone):
    paired(app, phone)
    local = app.test_client()
    assert "Ann" in local.get("/devices").text
    assert local.post("/devices/1/forget").status_code == 302
    assert get(phone, "/slips").status_code == 404
    assert local.post("/devices/1/forget").status_code == 404


def test_devices_are_this_machines_and_in_no_backup(app, phone):
    paired(app, phone)
    local = app.test_client()
    saved = local.get("/backup.zip").data
    assert b"Ann" not in saved
    import io

    form = {"file": (io.BytesIO(saved), "b.zip"), "how": "replace"}
    assert local.post("/restore", data=form).status_code == 302
    assert get(phone, "/slips").status_code == 200


def test_nobody_asks_too_often(app, phone, monkeypatch):
    url = invitation(app)
    answers = [get(phone, url).status_code for _ in range(40)]
    assert answers[:15] == [200] * 15
    assert answers[-1] == 429
    assert app.test_client().get("/devices").status_code == 200
    assert sharing.REQUESTS == 900


def test_without_sharing_the_page_says_how(app):
    page = app.test_client().get("/devices").text
    assert "answers on this machine only" in page
    app.config["WTF_CSRF_ENABLED"] = False
    assert app.test_client().post("/devices/invite", data={"rights": "look"}).status_code == 400


@pytest.mark.parametrize(
    ("address", "words"),
    [
        ("venue", "no address"),
        ("0.0.0.0", "not one address of this machine"),
        ("203.0.113.9", "cannot be opened"),
    ],
)
def test_odd_addresses_are_told(tmp_path, address, words):
    command = [sys.executable, "-m", "zesty_plum", "serve", "--data", str(tmp_path), "--port", "0"]
    done = subprocess.run(
        [*command, "--share", address], capture_output=True, text=True, timeout=60
    )
    assert done.returncode == 1
    assert words in done.stderr
    assert "Traceback" not in done.stderr


@pytest.mark.skipif(shutil.which("openssl") is None, reason="makes the certificate")
def test_a_shared_server_from_another_address_with_a_certificate(tmp_path):
    """The real thing: 127.0.0.2 stands for the machine in the network, 127.0.0.3 for the phone."""
    certificate = tmp_path / "own.pem"
    made = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj"]
    made += ["/CN=127.0.0.2", "-keyout", str(certificate), "-out", str(tmp_path / "c.pem")]
    subprocess.run(made, check=True, capture_output=True)
    certificate.write_text(certificate.read_text() + (tmp_path / "c.pem").read_text())
    command = [sys.executable, "-m", "zesty_plum", "serve", "--data", str(tmp_path / "data")]
    command += ["--port", "0", "--share", "127.0.0.2", "--certificate", str(certificate)]
    server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    try:
        local = server.stdout.readline().split()[-1].rstrip("/")
        assert "https://127.0.0.2:" in server.stdout.readline()
        port = urlsplit(local).port
        trusted = ssl.create_default_context(cafile=str(tmp_path / "c.pem"))
        trusted.check_hostname = False

        def ask(method, url, form=None, **headers):
            line = http.client.HTTPSConnection(
                "127.0.0.2", port, timeout=20, context=trusted, source_address=("127.0.0.3", 0)
            )
            body = urlencode(form) if form else None
            kind = {"Content-Type": "application/x-www-form-urlencoded"} if form else {}
            line.request(method, url, body, headers | kind)
            answer = line.getresponse()
            said = answer.read()
            line.close()
            return answer, said

        answer, said = ask("GET", "/slips")
        assert (answer.status, said) == (404, b"")
        with socket.create_connection(("127.0.0.2", port), 10) as plain:
            plain.sendall(b"GET /slips HTTP/1.1\r\nHost: 127.0.0.2\r\n\r\n")
            plain.settimeout(10)
            try:
                said = plain.recv(100)
            except ConnectionError:
                said = b""
            assert b"HTTP" not in said  # nothing without the certificate
        own = http.client.HTTPConnection("127.0.0.1", port)
        own.request("GET", "/devices")
        first = own.getresponse()
        cookie = first.getheader("Set-Cookie").split(";")[0]
        token = re.search(r'name="csrf-token" content="([^"]+)"', first.read().decode())[1]
        form = urlencode({"rights": "look", "csrf_token": token})
        kind = {"Content-Type": "application/x-www-form-urlencoded", "Cookie": cookie}
        own.request("POST", "/devices/invite", form, kind)
        page = own.getresponse().read().decode()
        url = re.search(r"https://127\.0\.0\.2:\d+(/pair/[\w-]+)", page)[1]
        answer, said = ask("GET", url)
        cookie = answer.getheader("Set-Cookie").split(";")[0]
        token = re.search(r'name="csrf_token" value="([^"]+)"', said.decode())[1]
        came = {"Cookie": cookie, "Referer": f"https://127.0.0.2:{port}{url}"}
        answer, _ = ask("POST", url, {"name": "Phone", "csrf_token": token}, **came)
        assert answer.status == 302
        assert "Secure" in answer.getheader("Set-Cookie")
        device = re.search(rf"{COOKIE}=[^;]+", answer.getheader("Set-Cookie"))[0]
        answer, said = ask("GET", "/render/corner.jpg?width=600", Cookie=device)
        assert (answer.status, said[:2]) == (200, b"\xff\xd8")
        answer, said = ask("GET", "/slips", Cookie=device)
        assert answer.status == 200
        assert b"</html>" in said
    finally:
        server.terminate()
        server.communicate()


@pytest.fixture
def shared(tmp_path):
    """A server that is shared at 127.0.0.2, with its folder for what is under way: its process,
    its port and that folder."""
    between = tmp_path / "between"
    between.mkdir()
    command = [sys.executable, "-m", "zesty_plum", "serve", "--data", str(tmp_path / "data")]
    command += ["--port", "0", "--share", "127.0.0.2"]
    environ = {**os.environ, "TMPDIR": str(between)}
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environ) as server:
        port = urlsplit(server.stdout.readline().split()[-1]).port
        server.stdout.readline()
        yield port, between
        server.terminate()


def stranger(port):
    return socket.create_connection(("127.0.0.2", port), 10, source_address=("127.0.0.3", 0))


@pytest.mark.parametrize("path", ["/restore", "/kit/teach", "/take-in", "/slips/save"])
def test_a_stranger_sends_nothing_that_is_kept(shared, path):
    """What is too large for a stranger is refused when its head is read: no byte of it is kept, in
    whichever way it is sent."""
    port, between = shared
    for how in ("Content-Length: 900000000", "Transfer-Encoding: chunked"):
        with stranger(port) as line:
            head = f"POST {path} HTTP/1.1\r\nHost: 127.0.0.2:{port}\r\n{how}\r\n\r\n"
            line.sendall(head.encode())
            sent = 0
            with contextlib.suppress(OSError):  # it hangs up
                while sent < 30 * 2**20:
                    block = b"x" * 65536
                    line.sendall(b"10000\r\n" + block + b"\r\n" if "chunked" in how else block)
                    sent += len(block)
                    assert sum(f.stat().st_size for f in between.iterdir()) < 200_000
            with contextlib.suppress(OSError):
                said = line.recv(2000)
                assert said == b"" or said.startswith(b"HTTP/1.1 404")
    assert sum(f.stat().st_size for f in between.iterdir()) < 200_000


def test_lines_that_strangers_hold_open_leave_room_for_the_owner(shared):
    port, _ = shared
    with contextlib.ExitStack() as held:
        lines = [held.enter_context(stranger(port)) for _ in range(160)]
        began = time.monotonic()
        own = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        own.request("GET", "/slips")
        assert own.getresponse().status == 200
        assert time.monotonic() - began < 5
        closed = 0
        for line in lines:
            line.settimeout(0.05)
            with contextlib.suppress(TimeoutError):
                closed += line.recv(1) == b""
        assert closed >= 160 - ONE_ADDRESS


def test_wrong_codes_meet_the_limit_before_anything_else(app, phone):
    """Also those that lead nowhere, and files."""
    tried = [get(phone, f"/pair/{'x' * 32}").status_code for _ in range(TRIES + 3)]
    assert tried == [404] * TRIES + [429] * 3
    asked = [get(phone, "/static/plum.css").status_code for _ in range(REQUESTS)]
    assert asked[-1] == 429

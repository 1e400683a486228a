"""Other sites, other ports, and connections that mean no good."""

import re
import socket
import time
from urllib.parse import urlsplit

import pytest

from zesty_plum.web.server import limits, serving

ELSEWHERE = {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "no-cors"}
FOLLOWED = ELSEWHERE | {"Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "document"}


@pytest.mark.parametrize(
    "url",
    [
        "/render/corner.jpg?width=64",
        "/bench/verdicts",
        "/take/recipe.plum.json",
        "/find.json",
        "/slips/slips.zip?all=1",
        "/backup.zip",
        "/wall/page.html",
        "/openapi.json",
    ],
)
def test_what_costs_or_hands_over_is_not_given_to_other_sites(client, url):
    for headers in (ELSEWHERE, FOLLOWED, {"Sec-Fetch-Site": "same-site"}):
        answer = client.get(url, headers=headers)
        assert answer.status_code == 403, headers
        assert "Another site asked for this" in answer.text
    assert client.get("/render/corner.jpg?width=64", headers={"Sec-Fetch-Site": "same-origin"})
    assert client.get("/openapi.json", headers={"Sec-Fetch-Site": "none"}).status_code == 200


def test_a_link_to_a_page_of_ours_may_be_followed_from_anywhere(client):
    for url in ("/", "/bench?style=linen", "/slips", "/wall"):
        assert client.get(url, headers=FOLLOWED).status_code in (200, 302)
        assert client.get(url, headers=ELSEWHERE | {"Sec-Fetch-Dest": "iframe"}).status_code == 403


def test_a_post_of_another_site_spoils_nothing(client):
    """It comes without our cookie; were it answered with a new one, the page that is open could not
    save any more."""
    page = client.get("/bench")
    token = re.search(r'name="csrf-token" content="([^"]+)"', page.text)[1]
    stranger = client.application.test_client()
    for headers in (ELSEWHERE, {"Origin": "https://evil.example"}, {"Origin": "null"}):
        answer = stranger.post("/slips/save", data={"name": "Theirs"}, headers=headers)
        assert answer.status_code == 403
        assert "Set-Cookie" not in answer.headers
    form = {"name": "Mine", "csrf_token": token}
    saved = client.post("/slips/save", data=form, headers={"Origin": "http://localhost"})
    assert saved.status_code == 302
    assert "Theirs" not in client.get("/slips").text


def test_two_programs_on_one_host_have_cookies_of_their_own(client):
    names = set()
    for port in (8760, 8761):
        answer = client.get("/slips", headers={"Host": f"127.0.0.1:{port}"})
        names.add(answer.headers["Set-Cookie"].split("=")[0])
    assert names == {"plum-8760", "plum-8761"}


def talk(address: str, sent: bytes, seconds: float = 5.0) -> bytes:
    """What a server says to some bytes until it closes or is silent."""
    host, port = urlsplit(address).netloc.split(":")
    said = b""
    with socket.create_connection((host, int(port)), seconds) as line:
        line.sendall(sent)
        line.settimeout(seconds)
        try:
            while part := line.recv(4096):
                said += part
        except (TimeoutError, ConnectionError):
            pass
    return said


@pytest.mark.parametrize(
    ("head", "status"),
    [
        (b"POST /slips/save HTTP/1.1\r\nContent-Length: 19000000000", b"413"),
        (b"POST /take-in HTTP/1.1\r\nContent-Length: 102000000", b"413"),
        (b"GET /slips HTTP/1.1\r\nContent-Length: 70000", b"413"),
        (b"POST /nowhere HTTP/1.1\r\nContent-Length: 70000", b"413"),
        (b"GET /slips HTTP/1.1\r\nX-Long: " + b"x" * 70_000, b"431"),
        (b"POST /slips/save HTTP/1.1\r\nTransfer-Encoding: chunked", b""),
    ],
)
def test_what_is_too_large_is_refused_before_it_is_sent(server, head, status):
    begun = time.monotonic()
    said = talk(server, head + b"\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n", 2)
    assert said[9:12] == status
    assert time.monotonic() - begun < 5


def test_chunks_are_counted_too(server):
    part = b"100000\r\n" + b"x" * 2**20 + b"\r\n"
    head = b"POST /slips/save HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked\r\n\r\n"
    assert talk(server, head + part * 3)[9:12] == b"413"


def test_lines_that_say_nothing_keep_nobody_waiting(server):
    host, port = urlsplit(server).netloc.split(":")
    idle = [socket.create_connection((host, int(port))) for _ in range(300)]
    for line in idle[::2]:
        line.sendall(b"GET /slips HTTP/1.1\r\nHo")
    begun = time.monotonic()
    said = talk(
        server, b"GET /openapi.json HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n"
    )
    assert said[9:12] == b"200"
    assert time.monotonic() - begun < 2
    for line in idle:
        line.close()


def test_who_dawdles_is_told_apart_from_who_is_slow(monkeypatch):
    def after(seconds):
        monkeypatch.setattr(serving.time, "monotonic", lambda: 1000 + seconds)
        return parser.dawdles()

    monkeypatch.setattr(serving.time, "monotonic", lambda: 1000)
    parser = serving._Parser(serving.Adjustments(), lambda *_: 0, silent=False)
    assert not after(serving.HEAD_SECONDS - 1)
    assert after(serving.HEAD_SECONDS + 1)
    parser.headers_finished, parser.body_bytes_received = True, 5 * 10**6
    assert not after(600)
    assert after(5 * 10**6 / serving.SLOWEST + 1)


def test_every_address_that_takes_more_than_a_form_is_known(app):
    endpoints = {rule.endpoint for rule in app.url_map.iter_rules()}
    assert set(limits.LARGER) <= endpoints
    assert limits.of_address(app.url_map, "POST", "/restore") > 10**9
    assert limits.of_address(app.url_map, "GET", "/restore") == limits.NO_BODY

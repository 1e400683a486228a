"""One application on a fresh data folder, as a test client and as a running server."""

import re
import subprocess
import sys
from datetime import UTC, datetime, timedelta

import pytest
from flask.testing import FlaskClient
from hypothesis import settings

from zesty_plum.web import create_app

# A shared machine may stall for longer than any deadline.
settings.register_profile("plum", deadline=None)
settings.load_profile("plum")


class Clock:
    """A clock that moves a second at every look."""

    def __init__(self) -> None:
        self.now = datetime(2026, 10, 3, 18, 0, tzinfo=UTC)

    def __call__(self) -> datetime:
        self.now += timedelta(seconds=1)
        return self.now


class Reader(FlaskClient):
    """A client that reads pages as people hear them: white space of any kind is one space, and
    looks are nothing."""

    def open(self, *args, **more):
        answer = super().open(*args, **more)
        if answer.mimetype == "text/html":
            plain = b" ".join(answer.get_data().split())
            answer.set_data(re.sub(rb' class="[^"]*"', b"", plain).replace(b" >", b">"))
        return answer


@pytest.fixture
def app(tmp_path):
    made = create_app(tmp_path / "data", Clock())
    made.test_client_class = Reader
    made.config["TESTING"] = True
    return made


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.fixture
def post(client):
    """Post a form the way a page does: with its token and a referrer."""

    def send(url, data=None, **more):
        page = client.get("/slips").text
        token = page.split('name="csrf-token" content="')[1].split('"')[0]
        return client.post(url, data=(data or {}) | {"csrf_token": token}, **more)

    return send


@pytest.fixture(scope="session")
def server_data(tmp_path_factory):
    """The data folder of the server that runs."""
    return tmp_path_factory.mktemp("demo")


@pytest.fixture(scope="session")
def server(server_data):
    """The demo, started as a person starts it; its address."""
    data = str(server_data)
    command = [sys.executable, "-m", "zesty_plum", "demo", "--port", "0", "--data", data]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        line = process.stdout.readline()
        yield line.split()[-1].rstrip("/")
        process.terminate()

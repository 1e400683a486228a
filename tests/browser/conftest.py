"""Debian's Chromium through Playwright."""

import sqlite3
from contextlib import closing

import pytest
from playwright.sync_api import expect, sync_playwright

from tools.chromium import launch

# A busy machine is slow, not wrong.
expect.set_options(timeout=20_000)


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as play:
        made = launch(play)
        yield made
        made.close()


@pytest.fixture(scope="session")
def begun_with(server, server_data):
    """What the demo begins with."""
    with closing(sqlite3.connect(server_data / "plum.db")) as live:
        kept = sqlite3.connect(":memory:")
        live.backup(kept)
    with closing(kept):
        yield kept


@pytest.fixture(autouse=True)
def as_the_demo_began(begun_with, server_data):
    """No test finds what another one left."""
    with closing(sqlite3.connect(server_data / "plum.db", timeout=60)) as live:
        begun_with.backup(live)


@pytest.fixture
def page(browser, server):
    """A fresh window at 1280x800; fails the test on any script error, refused resource or foreign
    request."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=server, accept_downloads=True
    )
    made = context.new_page()
    faults: list[str] = []
    made.on("pageerror", lambda error: faults.append(str(error)))
    made.on(
        "console",
        lambda message: (
            message.type == "error"
            and "400 (BAD REQUEST)" not in message.text
            and faults.append(message.text)
        ),
    )
    made.on(
        "request",
        lambda request: (
            request.url.startswith((server, "blob:", "data:", "file:"))
            or faults.append(request.url)
        ),
    )
    yield made
    context.close()
    assert faults == []

"""Debian's Chromium through Playwright."""

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

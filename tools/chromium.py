"""Debian's headless Chromium through Playwright, for tests, pictures of screens and benchmarks."""

from playwright.sync_api import Browser, Playwright

FLAGS = [
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-dev-shm-usage",
]


def launch(play: Playwright) -> Browser:
    """A browser that asks the network for nothing by itself."""
    return play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)

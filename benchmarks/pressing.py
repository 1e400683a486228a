"""A dial pressed in the browser: how long until the new picture stands, against the server's own
time; and memory."""

import http.client
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from urllib.parse import urlsplit

from playwright.sync_api import sync_playwright

from benchmarks.timing import row
from tools.chromium import launch

PRESSES, HOUR = 56, 3000
LISTEN = """() => { window.shown = []; document.addEventListener('plum:shown', (e) => {
  const server = Number(/dur=([0-9.]+)/.exec(e.detail.server)[1]);
  window.shown.push([performance.now() - window.pressed, server]); }); }"""
DIALS = [
    ("highlights", 13),
    ("shadows", 13),
    ("colour", 9),
    ("shift_red", 13),
    ("shift_blue", 13),
    ("noise_filter", 9),
    ("sharpness", 9),
]


def resident(pid: int) -> float:
    """Memory of a process in MB."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmRSS"):
            return int(line.split()[1]) / 1024
    return 0.0


def percentile(values: list[float], share: float) -> float:
    """A percentile by rank."""
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]


def start(folder: str) -> tuple[subprocess.Popen, str, float]:
    """Start the demo; returns the process, its address, and seconds until the first page."""
    begun = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, "-m", "zesty_plum", "demo", "--port", "0", "--data", folder],
        stdout=subprocess.PIPE,
        text=True,
    )
    assert process.stdout is not None
    address = process.stdout.readline().split()[-1].rstrip("/")
    get(address, "/bench")
    return process, address, time.perf_counter() - begun


def get(address: str, path: str) -> bytes:
    """Fetch a path from our own server on loopback."""
    connection = http.client.HTTPConnection(urlsplit(address).netloc)
    connection.request("GET", path)
    body = connection.getresponse().read()
    connection.close()
    return body


PRESS = """(key) => { window.shown.length = 0; window.pressed = performance.now();
  document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true })); }"""
TRIP = """async () => { const begun = performance.now();
  await (await fetch('/openapi.json', { cache: 'no-store' })).text();
  return performance.now() - begun; }"""


# From choosing another line until every picture of its strip is there, looked at once a frame.
FILLED = """(dial) => new Promise((done) => {
  const images = () => [...document.querySelectorAll('#strip img')];
  const old = new Set(images().map((i) => i.getAttribute('src'))), begun = performance.now();
  const there = () => images().some((i) => !old.has(i.getAttribute('src'))) &&
    images().every((i) => i.complete && i.naturalWidth);
  const look = () => (there() ? done(performance.now() - begun) : requestAnimationFrame(look));
  document.querySelector(`[data-dial=${dial}] .name`).click(); look(); })"""


def press(address: str) -> None:
    """Press dials in the browser and print how long pictures and strips took."""
    seen: list[tuple[float, float]] = []
    filled: list[float] = []
    with sync_playwright() as play:
        browser = launch(play)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        # Every dial begins at its low end and is stepped up in turn, so that no look is seen twice.
        ends = (
            "highlights=-3&shadows=-3&colour=-4&shift_red=-6&shift_blue=-6"
            "&sharpness=-4&noise_filter=0"
        )
        page.goto(f"{address}/bench?scene=workshop&line=style&style=linen&grain=1&{ends}")
        page.wait_for_load_state("networkidle")
        page.evaluate(LISTEN)
        trip = statistics.median(page.evaluate(TRIP) for _ in range(20))
        for k in range(PRESSES):
            # Walk over the dials, so that every look is new; the strip has filled in before each
            # press.
            dial = DIALS[k % len(DIALS)][0]
            filled.append(page.evaluate(FILLED, dial))
            page.locator(f"[data-dial={dial}] .name").click()
            page.wait_for_timeout(150)
            page.wait_for_load_state("networkidle")
            page.evaluate(PRESS, "ArrowRight")
            page.wait_for_function("() => window.shown.length > 0")
            waited, server = page.evaluate("() => window.shown[0]")
            seen.append((waited, server))
        browser.close()
    waits, served = [s[0] for s in seen], [s[1] for s in seen]
    ratio = statistics.median(w / (s + trip) for w, s in seen)
    row(
        "dial press to picture, median and 95th percentile",
        f"{statistics.median(waits):.0f}, {percentile(waits, 0.95):.0f} ms",
        "about 100 ms",
    )
    row(
        "  over server rendering plus empty round trip",
        f"{ratio:.2f} x ({statistics.median(served):.0f} + {trip:.0f} ms)",
        "at most 1.5 x",
    )
    spread = f"{statistics.median(filled):.0f}, {percentile(filled, 0.95):.0f} ms"
    row("strip of another line filled in, median and 95th percentile", spread, "about 200 ms")


def run() -> None:
    """Print first page, presses and memory."""
    with tempfile.TemporaryDirectory() as folder:
        process, address, first = start(folder)
        row("start to first page", f"{first:.2f} s", "at most 2 s")
        try:
            press(address)
            for k in range(HOUR):
                (dial, places), (other, more) = DIALS[k % len(DIALS)], DIALS[(k // 7) % len(DIALS)]
                query = "&".join(
                    f"{d}={v}"
                    for d, v in {dial: k % min(places, 4), other: k % min(more, 3)}.items()
                )
                scene = ("boatyard", "workshop", "corner")[k % 3]
                width, bias = 670 if k % 8 == 0 else 192, (0, 1, -1)[k % 3]
                get(address, f"/render/{scene}.jpg?width={width}&exposure={bias}&seed={k}&{query}")
            row(
                f"memory after {HOUR} pictures", f"{resident(process.pid):.0f} MB", "at most 400 MB"
            )
        finally:
            process.terminate()
            process.wait()

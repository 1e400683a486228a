"""A dial pressed in the browser: how long until the new picture stands, against the server's own
time; and memory."""

import statistics
import tempfile
from collections.abc import Iterator

from playwright.sync_api import sync_playwright

from benchmarks.serving import get, resident, served
from benchmarks.starting import DEMO
from benchmarks.timing import Row
from tools.chromium import launch

LISTEN = """() => { window.shown = []; document.addEventListener('plum:shown', (e) => {
  const server = Number(/dur=([0-9.]+)/.exec(e.detail.server)[1]);
  window.shown.push([performance.now() - window.pressed, server]); }); }"""
DIALS = [
    ("highlights", 9),
    ("shadows", 9),
    ("colour", 13),
    ("shift_amber", 21),
    ("shift_green", 25),
    ("noise_filter", 6),
    ("sharpness", 7),
]


def percentile(values: list[float], share: float) -> float:
    """A percentile by rank."""
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]


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
  document.querySelector(`[data-dial=${dial}]`).click(); look(); })"""


def press(address: str, presses: int) -> Iterator[Row]:
    """Press dials in the browser: how long pictures and strips took."""
    seen: list[tuple[float, float]] = []
    filled: list[float] = []
    with sync_playwright() as play:
        browser = launch(play)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        # Every dial begins at its low end and is stepped up in turn, so that no look is seen twice.
        ends = (
            "body_edition=2&highlights=-4&shadows=-4&colour=-6&shift_amber=-50&shift_green=-12"
            "&sharpness=-3&noise_filter=0"
        )
        page.goto(f"{address}/bench?scene=workshop&line=style&style=linen&grain=flour&{ends}")
        page.wait_for_load_state("networkidle")
        page.evaluate(LISTEN)
        trip = statistics.median(page.evaluate(TRIP) for _ in range(20))
        for k in range(presses):
            # Walk over the dials, so that every look is new; the strip has filled in before each
            # press.
            dial = DIALS[k % len(DIALS)][0]
            filled.append(page.evaluate(FILLED, dial))
            page.locator(f"[data-dial={dial}]").click()
            page.wait_for_timeout(150)
            page.wait_for_load_state("networkidle")
            page.evaluate(PRESS, "ArrowRight")
            page.wait_for_function("() => window.shown.length > 0")
            waited, server = page.evaluate("() => window.shown[0]")
            seen.append((waited, server))
        browser.close()
    waits, served_ = [s[0] for s in seen], [s[1] for s in seen]
    ratio = statistics.median(w / (s + trip) for w, s in seen)
    shown = f"{statistics.median(waits):.0f}, {percentile(waits, 0.95):.0f} ms"
    trips = f"server, {statistics.median(served_):.0f}, and trip, {trip:.0f} ms"
    yield Row("press to picture, median and 95th", shown, ratio, trips, 1.1)
    first, late = waits[1], statistics.median(waits[len(waits) // 2 :])
    yield Row("  the second press", f"{first:.0f} ms", first / late, "later ones", 1.3)
    shown = f"{statistics.median(filled):.0f}, {percentile(filled, 0.95):.0f} ms"
    yield Row(
        "strip of another line, median and 95th", shown, statistics.median(filled) / 200, "200 ms"
    )


def hour(address: str, pid: int, pictures: int, settled: int) -> Iterator[Row]:
    """Memory after so many pictures, and whether it grows once it has settled."""
    held = []
    for k in range(pictures + 1):
        if k >= settled and k % ((pictures - settled) // 10) == 0:
            held.append((k, resident(pid)))
        (dial, places), (other, more) = DIALS[k % len(DIALS)], DIALS[(k // 7) % len(DIALS)]
        turned = {dial: k % min(places, 4), other: k % min(more, 3)}
        far = {"shift_amber": 5}  # mired a step
        query = "&".join(f"{d}={v * far.get(d, 1)}" for d, v in turned.items())
        scene = ("boatyard", "workshop", "corner")[k % 3]
        width, bias = 670 if k % 8 == 0 else 192, (0, 1, -1)[k % 3]
        get(
            address,
            f"/render/{scene}.jpg?width={width}&exposure={bias}&seed={k}&{query}&body_edition=2",
        )
    at, megabytes = zip(*held, strict=True)
    grown = statistics.linear_regression(at, megabytes).slope * (pictures - settled)
    name = f"memory after {pictures:,} pictures"
    yield Row(name, f"{megabytes[-1]:.0f} MB", megabytes[-1] / 350, "350 MB", 1.0)
    shown = f"{grown:+.1f} MB"
    name = f"  growth over the last {pictures - settled:,}"
    yield Row(name, shown, max(grown, 0) / 5, "5 MB", 1.0)


def run(quick: bool) -> Iterator[Row]:
    """The rows."""
    with tempfile.TemporaryDirectory() as folder, served([*DEMO, folder]) as server:
        yield from press(server.address, 10 if quick else 56)
        yield from hour(server.address, server.pid, *((1000, 700) if quick else (3000, 1000)))

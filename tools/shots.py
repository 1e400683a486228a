"""Refresh docs/screenshots from the demo data: make shots"""

import subprocess
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tools import asked
from tools.chromium import launch

HERE = Path(__file__).parents[1] / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)
CHOICES = [f"Choose {('left', 'left', 'right', 'left', 'neither')[k % 5]}" for k in range(20)]
VIEWS = [
    ("bench", "/bench?slip=5&line=style", DESK, []),
    ("bench-lamps", "/bench?slip=4&scene=workshop&line=white_balance", DESK, []),
    (
        "bench-clipping",
        "/bench?scene=workshop&body_edition=2&style=bunting&exposure=0.67&line=guard",
        DESK,
        ["c"],
    ),
    (
        "bench-verdict",
        "/bench?scene=painters&body_edition=2&exposure=1.33&line=highlights&style=linen",
        DESK,
        ["Focus #verdicts li button:last-child"],
    ),
    ("bench-everywhere", "/bench?slip=4", DESK, ["a", "Wait 9000"]),
    ("bench-phone", "/bench?slip=4&scene=workshop&line=highlights", PHONE, []),
    ("slips", "/slips", DESK, []),
    ("slip", "/slips/5?scene=boatyard", DESK, ["Wait 9000"]),
    ("card", "/slips/4/card", DESK, []),
    ("kit", "/kit/cases/1?slot=2", DESK, ["Wait 1500"]),
    ("presses", "/kit/cases/1/presses", PHONE, []),
    ("outing", "/outing/1?shoot=5", DESK, ["Wait 1500"]),
    ("notes", "/notes/", DESK, ["Wait 1500"]),
    ("drill", "/drill/", DESK, ['Click button:has-text("Begin")', "Wait 1500", "Press 2"]),
    ("taught", "/kit/bodies/turnstone", DESK, []),
    (
        "blind",
        f"/blind?seed=7&scene=workshop&{'&'.join(f'r=slip-{k}' for k in (1, 2, 3, 4, 5))}",
        DESK,
        ['Click button:has-text("Begin")', *CHOICES],
    ),
    ("wall", "/wall?scene=painters&scene=workshop&r=slip-4&r=slip-1&r=slip-3&r=slip-2", DESK, []),
]


def act(page: Page, key: str) -> None:
    """Press a key, or focus an element, or wait."""
    what, _, rest = key.partition(" ")
    if what == "Focus":
        page.locator(rest).first.focus()
    elif what in ("Click", "Choose"):
        with page.expect_navigation():
            page.locator(rest if what == "Click" else f"button[value={rest}]").click()
    elif what == "Press":
        with page.expect_navigation():
            page.keyboard.press(rest)
    elif what == "Wait":
        page.wait_for_timeout(int(rest))
    else:
        page.keyboard.press(key)
        page.wait_for_timeout(500)


def main(names: list[str]) -> None:
    """Start the demo on a fresh folder and photograph each view, or those that are named."""
    HERE.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        command = [sys.executable, "-m", "zesty_plum", "demo", "--port", "0", "--data", folder]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
            assert process.stdout is not None
            address = process.stdout.readline().split()[-1].rstrip("/")
            browser = launch(play)
            for name, path, (width, height), keys in (
                v for v in VIEWS if v[0] in names or not names
            ):
                page = browser.new_page(viewport={"width": width, "height": height})
                page.goto(address + path)
                page.wait_for_load_state("networkidle")
                page.wait_for_timeout(1500)  # verdicts come when the hand rests
                for key in keys:
                    act(page, key)
                page.wait_for_timeout(800)
                page.wait_for_load_state("networkidle")
                page.screenshot(path=HERE / f"{name}.png")
                page.close()
                print(HERE / f"{name}.png")
            browser.close()
            process.terminate()


if __name__ == "__main__":
    main(asked(__doc__).names)

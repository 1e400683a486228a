"""What one person does on a first evening, through the real interface."""

import hashlib
import json
import re

import numpy as np
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.builders import file_of
from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.bodies import body

pytestmark = pytest.mark.browser


def settle(page: Page) -> None:
    """Wait until the picture and the strip belong to the present address."""
    if page.locator("#frame").count():
        expect(page.locator("#frame")).to_have_attribute("aria-busy", "false")
    page.wait_for_timeout(60)  # the strip is asked for when the hand rests
    page.wait_for_load_state("networkidle")


def picture(page: Page) -> str:
    """Digest of the large picture as the browser shows it."""
    settle(page)
    return hashlib.sha256(page.locator("#frame").screenshot()).hexdigest()


def accessible(page: Page) -> None:
    page.wait_for_load_state()  # with its style sheet, by which much is hidden
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()


def test_open_choose_turn_save_reload_compare_take_away_bring_in(page, tmp_path):
    page.goto("/")
    expect(page).to_have_title("Bench – Zesty Plum")
    settle(page)
    accessible(page)
    first = picture(page)

    # A scene by its number, then three dials by keyboard only.
    page.keyboard.press(str(list(scenes.index()).index("boatyard") + 1))
    expect(page.locator("#scene-line")).to_have_text(re.compile(r"Boatyard, \d+ K"))
    assert picture(page) != first
    expect(page.locator("#lines [data-here]")).to_have_attribute("aria-label", "Style")
    page.keyboard.press("ArrowRight")
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("Bunting")
    order = [dial.id for dial in body("heron-m2").dials]
    for _ in range(order.index("guard") - order.index("style")):
        page.keyboard.press("ArrowDown")
    expect(page.locator("#lines [data-here]")).to_have_attribute("aria-label", "Guard")
    page.keyboard.press("End")
    expect(page.locator("#lines [data-here] [data-cost]")).to_have_text("at least ISO 500")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    expect(page.locator("#lines [data-here]")).to_have_attribute("aria-valuetext", "keep warm")
    assert {
        "scene=boatyard",
        "style=bunting",
        "guard=2",
        "white_balance=keep_warm",
        "line=white_balance",
    } <= set(page.url.split("?")[1].split("&"))
    turned = picture(page)

    # The address alone gives the same bench; back and forward walk through it.
    page.reload()
    assert picture(page) == turned
    page.go_back()
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("auto")
    page.go_forward()
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("keep warm")
    assert picture(page) == turned
    page.keyboard.press("Control+z")
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("auto")
    page.keyboard.press("Control+y")
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("keep warm")

    # Every step is looked at, and choosing is clicking the picture of it.
    strip = page.locator("#strip button")
    expect(strip).to_have_count(7)
    settle(page)
    assert all(
        strip.locator("img").evaluate_all("all => all.map(i => i.complete && i.naturalWidth > 0)")
    )
    strip.filter(has_text="lamps").click()
    page.mouse.move(640, 30)  # the mouse over a step shows that step
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("lamps")

    # Hold for the reference, clipping on demand, loupe, wipe.
    before = picture(page)
    page.keyboard.down("b")
    expect(page.locator("#badge")).to_have_text("Reference: as shipped")
    assert picture(page) != before
    page.keyboard.up("b")
    assert picture(page) == before
    for key, shown in (("c", "#marks"), ("w", "#seam"), ("l", "#badge")):
        page.keyboard.press(key)
        expect(page.locator(shown)).to_be_visible()
        settle(page)
        accessible(page)
        page.keyboard.press(key)

    # Save twice: two versions.
    page.keyboard.press("s")
    accessible(page)
    page.locator("#save-name").fill("Night quay")
    page.locator("#save-note").fill("Paper stays paper.")
    page.locator("#save-go").click()
    expect(page.locator("#slip-name")).to_have_text("Night quay")
    expect(page.locator("#slip-state")).to_have_text("Version 1, nothing changed")
    page.locator('[data-dial="highlights"]').click()
    page.keyboard.press("ArrowLeft")
    expect(page.locator('[data-dial="highlights"]')).to_have_attribute("data-changed", "true")
    expect(page.locator("#slip-state")).to_have_text("1 change since version 1")
    page.locator("#save").click()
    page.locator("#save-go").click()
    expect(page.locator("#slip-state")).to_have_text("Version 2, nothing changed")

    # Compare on the Wall.
    page.locator("#take summary").click()
    page.get_by_text("Hang on the Wall").click()
    expect(page.locator("[data-column]")).to_have_count(2)
    settle(page)
    page.get_by_label("Add a recipe").select_option(label="Soot")
    expect(page.locator("[data-column]")).to_have_count(3)
    expect(page.locator("[data-difference]").last).to_have_text(
        re.compile(r"CIEDE2000 \d+\.\d\s+mean,\s+\d+\.\d\s+in the worst\s+5 %")
    )
    page.get_by_label("Make Soot the standard").click()
    expect(page.locator("[data-column][data-standard] h2")).to_have_text("Soot")
    settle(page)
    accessible(page)

    # Take it away as a file, bring it in again.
    page.get_by_role("link", name="Slips").click()
    accessible(page)
    page.get_by_role("link", name="Night quay on the Bench").first.click()
    page.locator("#take summary").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Recipe file").click()
    path = tmp_path / download.value.suggested_filename
    download.value.save_as(path)
    taken = recipes.loads(path.read_bytes())
    assert (taken.dials["style"], taken.dials["white_balance"], taken.dials["highlights"]) == (
        "bunting",
        "lamps",
        -1,
    )
    page.keyboard.press("Escape")
    page.locator("#own").set_input_files(path)
    expect(page.get_by_role("status")).to_contain_text("'Night quay' was taken in")
    data = json.loads(page.locator("#bench-data").text_content())
    assert data["slip"] != taken
    assert (data["name"], data["note"]) == ("Night quay", "Paper stays paper.")


def test_the_picture_that_is_seen_is_the_one_that_is_removed(page, tmp_path):
    """Whatever stood there when the page was loaded; of a scene that ships none is offered."""
    for name, level in (("pier", 90), ("mole", 160)):
        path = tmp_path / f"{name}.png"
        path.write_bytes(file_of(np.full((80, 120, 3), level, np.uint8)))
        page.goto("/bench")
        page.locator("#own").set_input_files(path)
        expect(page.locator("#scene-line")).to_have_text(f"{name}, approximate")
    page.reload()
    page.get_by_role("link", name="pier").click()
    expect(page.locator("#scene-line")).to_have_text("pier, approximate")
    page.get_by_role("button", name="Remove").click()
    expect(page.get_by_role("status")).to_contain_text("'pier' was removed")
    expect(page.locator("#scenes")).to_contain_text("mole")
    expect(page.get_by_role("button", name="Remove")).to_be_hidden()
    page.get_by_role("link", name="mole").click()
    page.get_by_role("button", name="Remove").click()
    expect(page.locator("[data-scene^=own]")).to_have_count(0)


def test_several_pictures_come_in_at_once_and_one_that_cannot_keeps_none_out(page, tmp_path):
    paths = []
    for name, level in (("slip", 70), ("broken", 0), ("weir", 190)):
        paths.append(tmp_path / f"{name}.png")
        made = file_of(np.full((80, 120, 3), level, np.uint8))
        paths[-1].write_bytes(made if level else made[:60])
    page.goto("/bench?style=linen")
    page.locator("#own").set_input_files(paths)
    expect(page.locator("#scene-line")).to_have_text("weir, approximate")
    expect(page.locator("#scenes")).to_contain_text("slip")
    expect(page.locator("[data-scene^=own]")).to_have_count(2)
    expect(page.locator('[data-dial="style"] [data-shown]')).to_have_text("Linen")
    for name in ("weir", "slip"):
        page.get_by_role("link", name=name, exact=True).click()
        expect(page.locator("#scene-line")).to_have_text(f"{name}, approximate")
        page.get_by_role("button", name="Remove").click()
    expect(page.locator("[data-scene^=own]")).to_have_count(0)


def test_a_picture_of_ones_own_a_mistake_undone_and_a_phone(page, tmp_path):
    photo = np.zeros((80, 120, 3), np.uint8)
    photo[:, :60] = (200, 120, 60)
    path = tmp_path / "pier.png"
    path.write_bytes(file_of(photo))
    page.goto("/bench?style=linen&guard=1")
    page.locator("#own").set_input_files(path)
    expect(page.locator("#scene-line")).to_have_text("pier, approximate")
    # The dials came along.
    expect(page.locator('[data-dial="style"] [data-shown]')).to_have_text("Linen")
    page.get_by_role("button", name="Remove").click()
    expect(page.locator("[data-scene^=own]")).to_have_count(0)
    expect(page.locator('[data-dial="style"] [data-shown]')).to_have_text("Linen")  # the look stays
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("#scene-line")).to_have_text("pier, approximate")
    page.get_by_text("Name and light").click()
    page.get_by_label("Taken in").select_option("shade")
    page.locator("#picture-title").fill("Pier in the morning")
    page.keyboard.press("Enter")
    expect(page.locator("#scene-line")).to_have_text("Pier in the morning, approximate")
    expect(page.get_by_role("group", name="Shade").locator("[aria-current]")).to_have_text(
        "Pier in the morning"
    )
    expect(page.locator('[data-dial="style"] [data-shown]')).to_have_text("Linen")

    page.locator("#own").set_input_files(
        {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"not a picture"}
    )
    expect(page.get_by_role("status")).to_contain_text("is not a picture that can be read")

    page.goto("/slips")
    page.get_by_role("link", name="Soot", exact=True).click()
    accessible(page)
    page.locator("summary", has_text="Change").click()
    page.get_by_role("button", name="Rename").click()
    page.get_by_label("New name").fill("Soot and rain")
    page.keyboard.press("Enter")
    expect(page.locator("h1")).to_have_text("Soot and rain")
    page.locator("summary", has_text="Change").click()
    page.get_by_role("button", name="Delete").click()
    expect(page.locator("article h2", has_text="Soot and rain")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("article h2", has_text="Soot and rain")).to_have_count(1)

    # Find by typing, all keys by asking.
    page.goto("/bench")
    page.keyboard.press("/")
    page.keyboard.type("shad")
    page.keyboard.press("Enter")
    expect(page.locator("#lines [data-here]")).to_have_attribute("aria-label", "Shadows")
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    page.keyboard.press("Escape")

    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/bench?line=shadows")
    settle(page)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.locator("#strip button").nth(3).click()
    expect(page.locator("#lines [data-here] [data-shown]")).not_to_have_text("0")
    # What the wide screen has in its first line is within reach.
    page.locator("#find").click()
    page.keyboard.type("supper")
    page.keyboard.press("Enter")
    expect(page.locator("#scene-line")).to_have_text(re.compile("^Hall supper"))
    page.get_by_role("button", name="All keys").click()
    expect(page.locator("#keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.locator("body > header details summary").click()
    page.locator("body > header details").get_by_role("link", name="Wall").click()
    expect(page.locator("h1")).to_have_text(re.compile(r"recipes on\s"))
    hangs, prints = page.locator("[data-hangs]"), page.locator("[data-column] button:has(img)")
    at = prints.first.bounding_box()
    hangs.evaluate("it => it.scrollBy(it.clientWidth - 15, 0)")
    page.wait_for_function("document.querySelector('[data-hangs]').scrollLeft > 300")
    then = prints.nth(1).bounding_box()
    assert then == pytest.approx(at, abs=3)
    for url in ("/slips", "/wall"):
        page.goto(url)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390
        accessible(page)


def test_a_held_key_never_queues_up(page):
    page.goto("/bench?line=exposure")
    settle(page)
    asked: list[str] = []
    page.on(
        "request",
        lambda r: "/render/" in r.url and "width=192" not in r.url and asked.append(r.url),
    )
    for _ in range(9):
        page.keyboard.down("ArrowRight")
    page.keyboard.up("ArrowRight")
    settle(page)
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("+3")
    assert asked[-1].count("exposure=3&") == 1
    # One entry for the back button, not nine.
    page.go_back()
    expect(page.locator('[data-dial="exposure"] [data-shown]')).to_have_text("0")

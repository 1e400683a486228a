"""Notes and drills as a person uses them, by keyboard."""

import re

import cv2
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.test_story import accessible, settle

pytestmark = pytest.mark.browser


def test_a_trial_is_noted_in_one_key_and_comes_back_to_the_bench(page):
    page.goto("/bench?slip=5&scene=boatyard")
    settle(page)
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    settle(page)
    here = page.url
    page.keyboard.press("i")
    seen = page.get_by_label("What did you see?")
    expect(seen).to_be_focused()
    accessible(page)
    page.keyboard.type("A touch better in the ropes.")
    page.get_by_label("kept", exact=True).check()
    page.get_by_label("Next question").fill("And on paper?")
    page.get_by_role("button", name="Keep").click()
    expect(page).to_have_url(here)
    expect(page.get_by_role("status")).to_contain_text("The note is kept.")
    page.goto("/notes/")
    expect(page.locator("article").first).to_contain_text("A touch better in the ropes.")
    accessible(page)
    page.get_by_role("button", name="Answered: And on paper?").click()
    expect(page.get_by_role("status")).to_contain_text("“And on paper?” is answered.")
    page.get_by_label("Search notes").fill("ropes kept:kept")
    page.keyboard.press("Enter")
    expect(page.locator("article")).not_to_have_count(0)


def test_which_settings_and_one_change_at_a_time(page):
    page.goto("/notes/")
    page.get_by_role("link", name="One change at a time").first.click()
    page.locator('select[name="slip"]').select_option(value="5")
    page.locator('select[name="dial"]').select_option(label="Grain")
    page.get_by_label("Net loft").check()
    accessible(page)
    page.get_by_role("button", name="Plan it").click()
    expect(page.get_by_role("heading", name="Slack tide: Grain")).to_be_visible()
    page.wait_for_load_state("networkidle")
    page.get_by_label(re.compile("Net loft, salt is")).select_option(label="the best here")
    expect(page.locator("#result")).to_contain_text("Grain salt was best under Net loft")
    accessible(page)


def sent(seed):
    pixels = np.random.default_rng(seed).integers(40, 200, (60, 90, 3), np.uint8)
    data = cv2.imencode(".png", pixels)[1].tobytes()
    return {"name": f"field-{seed}.png", "mimeType": "image/png", "buffer": data}


def test_pictures_are_dropped_hung_and_filed_and_the_page_shows_them(page):
    page.goto("/notes/")
    page.locator("#which-file").set_input_files([sent(1), sent(2)])
    expect(page.locator("main table tbody tr")).to_have_count(2)
    expect(page.locator("main table")).to_contain_text("does not say when it was taken")
    accessible(page)
    page.locator("#files").set_input_files([sent(3)])
    page.get_by_role("button", name="Look").click()
    expect(page.locator("main table tbody tr")).to_have_count(1)
    page.goto("/notes/1")
    page.locator("#hang-file").set_input_files(sent(4))
    expect(page.get_by_role("button", name="off")).to_have_count(1)
    page.goto("/notes/singly/new?slip=5&dial=grain")
    page.locator('[name="lights"]').fill("the hall's tubes")
    page.get_by_role("button", name="Plan it").click()
    page.wait_for_url(re.compile(r"singly/\d+"))
    page.wait_for_load_state("networkidle")
    files, hung = page.locator('main input[type="file"]'), page.locator('main img[src*="own-"]')
    held = []  # the second time the address is that of the page already, and its script is late
    page.route("**/app.js*", lambda route: route.continue_() if held else held.append(route))
    files.nth(1).set_input_files(sent(5))
    expect(hung).to_have_count(1)
    files.nth(2).set_input_files(sent(6))
    held[0].continue_()
    expect(hung).to_have_count(2)


def test_what_is_chosen_before_the_script_ran_counts_and_what_comes_back_does_not(page):
    held = []
    page.route("**/app.js*", lambda route: route.continue_() if held else held.append(route))
    page.goto("/notes/singly/new", wait_until="commit")
    page.locator('select[name="slip"]').select_option(value="5")
    held[0].continue_()
    expect(page.locator('select[name="dial"]')).to_be_visible()
    page.locator('select[name="dial"]').select_option(label="Grain")
    expect(page.get_by_text("Places of grain")).to_be_visible()
    page.go_back()
    expect(page.get_by_text("Places of grain")).to_be_hidden()
    page.wait_for_timeout(500)
    expect(page.get_by_text("Places of grain")).to_be_hidden()
    held.clear()
    page.goto("/slips/4/card", wait_until="commit")
    page.get_by_label("square").check()
    held[0].continue_()
    expect(page).to_have_url(re.compile("shape=square"))


def test_a_drill_by_keys_from_beginning_to_end(page):
    page.goto("/drill/")
    accessible(page)
    page.get_by_label("Who", exact=True).fill("Ann")
    page.get_by_role("button", name="Begin").click()
    for place in range(1, 13):
        expect(page.get_by_text(f"{place} of 12")).to_be_visible()
        page.wait_for_load_state("networkidle")
        if place == 2:
            accessible(page)
        right = page.locator('[data-side="b"]')
        if place == 1:  # flicking shows the left one in its place while the key is held
            own = right.get_attribute("src")
            page.keyboard.down("Space")
            assert page.locator('[data-side="b"]').evaluate("i => i.src").endswith("/a.jpg")
            page.keyboard.up("Space")
            assert right.evaluate("i => i.src").endswith(own)
        page.keyboard.press("1")
        expect(page.locator("[data-told]")).to_be_visible()
        if place == 2:
            accessible(page)
        expect(page.locator("#next")).to_be_focused()
        page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile(r"\d+ of 12 right"))).to_be_visible()
    accessible(page)


def test_a_place_is_marked_by_keys_and_a_match_is_turned(page):
    page.goto("/drill/")
    page.get_by_text("Where is it wrong?").first.click()
    page.get_by_role("button", name="Begin").click()
    expect(page.locator("#mark-on")).to_be_focused()
    page.wait_for_load_state("networkidle")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowUp")
    expect(page.locator("#mark-on circle")).to_have_attribute("cx", "52.5%")
    page.keyboard.press("Enter")
    expect(page.locator("[data-told]")).to_contain_text("% of the frame is")
    page.wait_for_load_state("networkidle")
    wide = page.locator("#sides img").evaluate("i => [i.clientWidth, i.naturalWidth]")
    assert 0 < wide[0] <= wide[1]  # nothing is judged on a picture made larger
    accessible(page)
    page.goto("/drill/")
    page.get_by_text("Match it by hand").first.click()
    page.get_by_role("button", name="Begin").click()
    before = page.locator("#mine").get_attribute("src")
    page.wait_for_load_state("networkidle")
    page.get_by_role("button", name=re.compile("higher$")).first.click()
    expect(page.get_by_text("1 step", exact=True)).to_be_visible()
    assert page.locator("#mine").get_attribute("src") != before
    accessible(page)
    page.get_by_role("button", name="Compare").click()
    expect(page.locator("[data-told]")).to_contain_text(re.compile("step"))


PHONE = ("/notes/", "/notes/new", "/notes/which", "/notes/singly/1", "/drill/", "/drill/screen",
         "/outing/1", "/reckoner/")  # fmt: skip


@pytest.mark.parametrize("path", PHONE)
def test_new_rooms_fit_a_phone(page, path):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(path)
    wide = page.evaluate("document.documentElement.scrollWidth")
    assert wide <= 390
    accessible(page)

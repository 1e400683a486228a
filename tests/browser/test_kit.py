"""Kit as a person uses it: from a difference to its settling, by hand and by keyboard."""

import io
import json
import re
import zipfile

import pytest
from playwright.sync_api import expect

from tests.browser.test_story import accessible, settle

pytestmark = pytest.mark.browser


def test_a_difference_is_found_shown_and_pressed_right(page):
    page.goto("/kit/cases/1?slot=2")
    expect(page.get_by_text("Shadows -1 on the body, +1 on the slip")).to_be_visible()
    words = page.locator("#slot [x-text=words]")
    expect(words).to_have_text(re.compile("^On .*, the body is "))
    accessible(page)
    first = page.locator("[data-slot] > a").first
    first.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(page.locator("#slot-title")).to_have_text("Slot 2 on the body")
    page.get_by_role("link", name="68 presses").click()
    accessible(page)
    box = page.get_by_label(re.compile("Save over 2"))
    box.check()
    page.reload()
    expect(page.get_by_label(re.compile("Save over 2"))).to_be_checked()
    page.get_by_role("button", name="All pressed").click()
    expect(page.locator("main header")).to_contain_text("As planned")


def test_a_card_goes_to_the_stand_in_and_comes_back_changed(page):
    page.goto("/kit/cases/2")
    with page.expect_download() as taken:
        page.get_by_role("link", name="Write a settings card").click()
    data = taken.value.path().read_bytes()
    page.goto("/stand-in/heron-m2")
    page.locator("#card").set_input_files(
        {"name": "card.zip", "mimeType": "application/zip", "buffer": data}
    )
    page.get_by_role("button", name="Load card").click()
    for button in ("Menu", "OK", "up", "OK"):
        page.get_by_role("button", name=re.compile(button)).first.click()
    expect(page.locator("[role=status]:has(h2)")).to_contain_text("Output")
    accessible(page)
    with page.expect_download() as taken:
        page.get_by_role("link", name="Write card").click()
    with zipfile.ZipFile(io.BytesIO(taken.value.path().read_bytes())) as inside:
        told = json.loads(inside.read("plum-card/card.json"))
    told["slots"]["1"]["dials"]["colour"] = 4
    page.goto("/kit/cases/2")
    page.get_by_text("Read it").click()
    page.locator("#card-file").set_input_files(
        {"name": "card.json", "mimeType": "application/json", "buffer": json.dumps(told).encode()}
    )
    page.get_by_role("button", name="Read the card").click()
    expect(page.locator("#slot-title")).to_have_text("Slot 1 on the body")
    page.get_by_role("button", name="Leave it so").click()
    expect(page.get_by_text("1 is left as it is.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Colour +4 on the body, +1 on the slip")).to_be_visible()


def test_a_slip_is_dragged_onto_a_slot(page):
    page.goto("/kit/cases/1")
    page.locator("main li details summary").click()
    page.locator("main li [draggable=true]").first.drag_to(page.locator('[data-slot="6"]'))
    expect(page.get_by_text(re.compile("stands in A 6"))).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator('[data-slot="6"]')).to_contain_text("Nothing planned")


def test_the_reckoner_opens_anywhere_and_follows_what_is_typed(page):
    page.goto("/slips")
    page.keyboard.press("r")
    drawer = page.locator("#reckoner")
    expect(drawer).to_be_visible()
    card = drawer.locator("#files")
    pictures = card.get_by_label("pictures", exact=True)
    expect(pictures).to_have_attribute("placeholder", "1 665")
    card.get_by_label("card, GB").fill("32")
    expect(pictures).to_have_attribute("placeholder", "832")
    pictures.fill("5000")  # what was typed longest ago makes room
    expect(card.get_by_label("MB a picture")).to_have_value("")
    expect(card.get_by_label("MB a picture")).to_have_attribute("placeholder", "6.08")
    exposure = drawer.locator("#ev")
    exposure.get_by_label("EV at ISO 100").fill("15")
    exposure.get_by_label("f-number").fill("wide")
    expect(exposure.locator("dl")).to_contain_text("F-number is a number, not 'wide'.")
    accessible(page)
    drawer.get_by_role("button", name="Close").click()
    expect(drawer).to_be_hidden()


def test_a_shoot_is_dragged_along_the_line_of_time(page):
    page.goto("/outing/1")
    bar = page.locator("[data-bar]").nth(1)
    expect(page.locator("[data-card]").nth(1)).to_contain_text("09:30–11:30")
    box, sky = bar.bounding_box(), page.locator("svg:has([data-bar])")
    hour = (
        sky.bounding_box()["width"]
        * 60
        / float(re.search(r"day\((\d+)", page.locator("main").get_attribute("x-data"))[1])
    )
    page.mouse.move(box["x"] + 20, box["y"] + 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 20 + hour / 2, box["y"] + 2, steps=4)
    page.mouse.up()
    expect(page.locator("[data-card]").nth(1)).to_contain_text("10:00–12:00")


def test_a_sums_value_is_put_into_the_recipe_and_into_the_shoot(page):
    page.goto("/bench?body=heron-m2")
    settle(page)
    page.keyboard.press("r")
    drawer = page.locator("#reckoner")
    drawer.locator("#mired").get_by_role("textbox", name="kelvin").fill("")
    drawer.locator("#mired").get_by_role("textbox", name="mired").fill("300")
    drawer.get_by_role("button", name="Put it into the recipe: kelvin").last.click()
    expect(drawer).to_be_hidden()
    expect(page).to_have_url(re.compile("white_balance=kelvin"))
    expect(page).to_have_url(re.compile("kelvin=33[0-9]{2}"))
    page.goto("/outing/1?shoot=2")
    page.locator("h1").click()
    page.keyboard.press("r")
    hand = drawer.locator("#hand")
    hand.get_by_role("textbox", name="lens, mm").fill("180")
    hand.get_by_role("button", name="Put it into the shoot: lens, mm").click()
    form = page.locator("#shoot form[data-takes]")
    expect(form.get_by_label("Lens, mm")).to_have_value("180")
    page.keyboard.press("Tab")
    form.get_by_label("Pictures").fill("400")
    expect(form.locator("[aria-live]")).to_contain_text("f/")
    accessible(page)


def test_a_shoot_is_moved_by_keys_and_finds_its_slot(page):
    page.goto("/outing/1")
    bar = page.get_by_role("slider", name=re.compile("Painters"))
    bar.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-card]").nth(2)).to_contain_text("12:20–14:05")
    page.get_by_role("slider", name=re.compile("Painters")).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Painters, in hand")).to_be_visible()
    last = page.locator("[data-card]").last
    expect(last.locator("[x-text], small >> nth=-1")).to_contain_text(
        "Last lantern: put there for", timeout=30000
    )
    last.locator("a").click()
    page.get_by_role("button", name="Use Last lantern").click()
    expect(page.locator("[data-card]").last).to_contain_text("B 2")


def test_what_was_ticked_before_leaving_stays_ticked(page):
    page.goto("/outing/1")
    box = page.get_by_label("Batteries charged, cards formatted after two copies")
    box.check()
    page.reload()
    expect(box).to_be_checked()
    box.uncheck()
    page.reload()
    expect(box).not_to_be_checked()
    held = []  # the page's script is late
    page.route("**/app.js*", lambda route: route.continue_() if held else held.append(route))
    page.goto("/outing/1", wait_until="commit")
    box.check()
    held[0].continue_()
    page.wait_for_load_state("networkidle")
    page.goto("/outing/1")
    expect(box).to_be_checked()


def test_the_pocket_page_says_what_is_now_and_what_is_next(page, tmp_path):
    page.goto("/outing/1")
    page.get_by_text("Pocket plan").click()
    with page.expect_download() as taken:
        page.get_by_role("link", name="Page for a phone, Everybody").click()
    path = tmp_path / "pocket.html"
    taken.value.save_as(path)
    page.set_viewport_size({"width": 390, "height": 844})
    page.clock.set_fixed_time("2026-11-07T06:00:00+01:00")
    page.goto(path.as_uri())
    expect(page.locator("#now")).to_be_hidden()
    expect(page.locator("#next")).to_contain_text("Fog on the jetty, A 1 in 30 min.")
    page.clock.set_fixed_time("2026-11-07T07:10:00+01:00")
    page.reload()
    expect(page.locator("#now")).to_contain_text("Fog on the jetty, A 1 30 min left.")
    expect(page.locator("#next")).to_contain_text("Kites on the beach")
    accessible(page)

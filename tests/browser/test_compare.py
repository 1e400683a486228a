"""Comparing and sharing, through the real interface."""

import json
import re
import zipfile

import pytest
from playwright.sync_api import expect

from tests.browser.test_story import accessible, settle
from zesty_plum.core.paper.scan import scan
from zesty_plum.core.pictures import metadata

pytestmark = pytest.mark.browser


def save(page, name, **dials):
    """A slip, saved from the Bench."""
    page.goto("/bench?" + "&".join(f"{k}={v}" for k, v in dials.items()))
    settle(page)
    page.keyboard.press("s")
    page.locator("#save-name").fill(name)
    page.locator("#save-go").click()
    expect(page.locator("#slip-name")).to_have_text(name)


def test_find_select_tag_take_away_delete_and_undo(page, tmp_path):
    for k in range(3):
        save(page, f"Gannet {k}", style="kelp", grain=k)
    page.goto("/slips")
    accessible(page)
    page.get_by_label("Search slips").press_sequentially("gannet grain>0", delay=15)
    expect(page.locator("#count")).to_contain_text("2 slips of")
    expect(page.locator("#shelf article")).to_have_count(2)
    assert "q=gannet" in page.url
    for name in ("Gannet 1", "Gannet 2"):
        page.get_by_label(f"Select {name}").check()
    expect(page.locator("#picked-count")).to_have_text("2 selected")
    accessible(page)
    page.locator("#picked summary").click()
    with page.expect_download() as taken:
        page.get_by_role("button", name="Zip of recipe files").click()
    with zipfile.ZipFile(taken.value.path()) as packed:
        assert {s["name"] for s in json.loads(packed.read("manifest.json"))["slips"]} == {
            "Gannet 1",
            "Gannet 2",
        }
    page.get_by_label("Tag", exact=True).fill("seabirds")
    page.get_by_role("button", name="Tag", exact=True).click()
    page.get_by_role("link", name=re.compile("seabirds")).click()
    expect(page.locator("#shelf article")).to_have_count(2)
    # What is selected stays so when a search puts it away.
    page.get_by_label("Select Gannet 1").check()
    page.get_by_label("Search slips").fill("gannet grain=0")
    expect(page.locator("#count")).to_contain_text("1 slip of")
    page.get_by_label("Select Gannet 0").check()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("status")).to_contain_text("2 slips were deleted.")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("status")).to_contain_text("2 slips are back.")
    # Nothing matches, and the way back.
    page.get_by_label("Search slips").fill("zzzz")
    page.get_by_role("link", name="Show all").click()
    expect(page.locator("#shelf article").first).to_be_visible()


def test_what_is_selected_before_the_script_ran_is_selected(page):
    save(page, "Hasty", style="kelp")
    held = []
    page.route("**/app.js*", lambda route: held.append(route))
    page.goto("/slips?q=hasty", wait_until="commit")
    page.get_by_label("Select Hasty").check()
    for one in held:
        one.continue_()
    expect(page.locator("#picked-count")).to_have_text("1 selected")
    expect(page.get_by_label("Select Hasty")).to_be_checked()


def test_bring_in_looks_first_and_is_undone(page, tmp_path):
    page.goto("/slips")
    before = page.locator("#count").text_content()
    files = [
        {
            "name": f"s{k}.plum.json",
            "mimeType": "application/json",
            "buffer": json.dumps(
                {
                    "format": "zesty-plum-recipe",
                    "version": 1,
                    "name": name,
                    "body": "heron-m2",
                    "dials": dials,
                }
            ).encode(),
        }
        for k, (name, dials) in enumerate(
            [
                ("Turnstone", {"style": "ink", "grain": 3}),
                ("Slack tide", {"style": "marmalade"}),
                ("Double", {}),
            ]
        )
    ]
    page.locator("#bring").set_input_files(
        [*files, {"name": "x.json", "mimeType": "application/json", "buffer": b"{"}]
    )
    expect(page.locator("h1")).to_have_text("3 recipes found")
    expect(page.get_by_role("status")).to_contain_text("x.json")
    accessible(page)
    expect(page.locator("main form li", has_text="Double")).to_contain_text("Does just what")
    page.locator("#named").select_option("next")
    page.get_by_role("button", name="Take in").click()
    expect(page.get_by_role("status")).to_contain_text("2 slips were taken in.")
    page.get_by_role("link", name="Slack tide", exact=True).first.click()
    expect(page.locator("h2", has_text="versions")).to_have_text("2 versions")
    expect(page.locator("[data-words]").first).to_have_text(re.compile(r"\w+.*\."))
    page.go_back()
    page.go_back()  # the note is gone, but what was brought in can still be taken back
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.locator("h1")).to_have_text("3 recipes found")
    page.goto("/slips")
    assert page.locator("#count").text_content() == before


def test_a_long_library_comes_in_parts_and_nothing_jumps(page):
    """150 slips: parts keep the room they will need, so what is looked at stays where it is while
    others come."""
    recipes = [
        {
            "format": "zesty-plum-recipe",
            "version": 1,
            "name": f"Dunlin flock {k:03}",
            "body": "heron-m2",
            "dials": {"grain": 3, "shift_red": k % 13 - 6, "shift_blue": k // 13 - 6},
        }
        for k in range(150)
    ]
    page.goto("/slips")
    page.locator("#bring").set_input_files(
        [
            {
                "name": "many.json",
                "mimeType": "application/json",
                "buffer": json.dumps(recipes).encode(),
            }
        ]
    )
    page.get_by_role("button", name="Take in").click()
    page.goto('/slips?q="dunlin flock"&sort=name')
    cards = page.locator("#shelf article")
    expect(cards).to_have_count(60)
    height = page.evaluate("document.documentElement.scrollHeight")
    last = page.get_by_role("link", name="Dunlin flock 149", exact=True)
    place = "(link) => link.getBoundingClientRect().y + scrollY"
    page.evaluate("scrollTo(0, document.documentElement.scrollHeight)")
    expect(last).to_be_visible()
    expect(cards).to_have_count(90)  # the part between has been passed, not fetched
    before = last.evaluate(place)
    page.locator("[data-part]").scroll_into_view_if_needed()
    expect(cards).to_have_count(150)
    assert last.evaluate(place) == pytest.approx(before, abs=2)
    assert page.evaluate("document.documentElement.scrollHeight") == pytest.approx(height, abs=4)
    names = page.evaluate(
        "[...document.querySelectorAll('#shelf article h2')].map((h) => h.textContent.trim())"
    )
    assert names == [r["name"] for r in recipes]
    # All that are found go at once, and come back at once.
    page.get_by_label("Select Dunlin flock 149").check()
    page.get_by_label("all that are found").check()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("status")).to_contain_text("150 slips were deleted.")


def test_a_slips_page_its_card_and_back_from_a_screenshot(page):
    page.goto("/slips")
    page.get_by_role("link", name="Last lantern", exact=True).click()
    expect(page.locator("#fits")).to_have_text(re.compile("Good for|every scene"), timeout=60000)
    accessible(page)
    page.get_by_role("link", name="Card").click()
    page.get_by_label("square").check()
    expect(page).to_have_url(re.compile("shape=square"))
    page.wait_for_load_state("networkidle")
    accessible(page)
    with page.expect_download() as taken:
        page.get_by_role("link", name="Take JPEG").click()
    data = taken.value.path().read_bytes()
    assert metadata.find(data).name == "Last lantern"
    shot = page.locator("main img").screenshot()  # no metadata, other pixels
    assert metadata.find(shot) is None
    assert scan(shot) == metadata.find(data)
    page.goto("/bench")
    page.locator("#own").set_input_files(
        {"name": "shot.png", "mimeType": "image/png", "buffer": shot}
    )
    expect(page.locator("#slip-name")).to_have_text("Last lantern")


def test_the_wall_zooms_together_turns_grades_and_is_sent(page):
    page.goto("/wall?scene=workshop&scene=painters&r=slip-4&r=slip-1&r=slip-3&r=slip-2")
    page.wait_for_load_state("networkidle")
    accessible(page)
    assert (
        page.evaluate("document.documentElement.scrollHeight") <= 800
    )  # four by two without scrolling
    page.get_by_role("button", name="2×").click()
    page.keyboard.press("ArrowRight")
    places = page.locator("img[data-print]").evaluate_all(
        "all => all.map(i => i.style.transform + i.style.transformOrigin)"
    )
    assert len(set(places)) == 1
    assert "scale(2)60% 40%" in places[0]
    first = page.locator("img[data-print]").first
    box = first.locator("..").bounding_box()
    page.mouse.move(box["x"] + 100, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + 160, box["y"] + 60, steps=4)
    page.mouse.up()
    assert "standard=" not in page.url  # it was moved, not chosen
    kept = page.url.split("#")[1]
    page.reload()
    assert page.url.endswith(kept)
    assert "scale(2)" in first.get_attribute("style")
    page.locator("summary", has_text="View").click()
    page.get_by_role("link", name="As an 8-bit file, graded").click()
    expect(page.locator("[data-words]").first).to_contain_text("8-bit code")
    page.locator("summary", has_text="View").click()
    page.get_by_role("link", name="Recipes down, scenes across").click()
    expect(page.locator("[data-turned]")).to_be_visible()
    accessible(page)
    page.locator("summary", has_text="Tools").click()
    with page.expect_download() as taken:
        page.get_by_role("button", name="Page to send").click()
    sent = taken.value.path().read_bytes()
    assert b"<script" not in sent
    assert len(sent) < 2_000_000
    page.set_viewport_size({"width": 390, "height": 844})
    page.reload()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_blind_round_by_keyboard(page):
    page.goto("/wall?r=slip-1&r=slip-2&r=slip-3&scene=corner")
    page.locator("summary", has_text="Tools").click()
    page.get_by_role("button", name="Blind round").click()
    accessible(page)
    page.get_by_label("Who chooses").fill("loft crew")
    page.get_by_role("button", name="Begin").click()
    page.wait_for_load_state("networkidle")
    accessible(page)
    total = int(re.search(r"of\s+(\d+)", page.locator("header p").text_content())[1])
    for number in range(total):
        expect(page.locator("main > header p")).to_contain_text(f"question {number + 1} of")
        if number == 2:
            with page.expect_navigation():
                page.keyboard.press("Backspace")
            expect(page.locator("main > header p")).to_contain_text("question 2 of")
            with page.expect_navigation():
                page.keyboard.press("ArrowDown")
        with page.expect_navigation():
            page.keyboard.press("ArrowLeft" if number % 2 else "ArrowRight")
    expect(page.locator("h1")).to_contain_text("loft crew preferred")
    expect(page.locator("ol li:has(svg)")).to_have_count(3)
    accessible(page)
    page.get_by_role("link", name="Hang them on the Wall").click()
    expect(page.locator("[data-column]")).to_have_count(3)

"""What one does on the Bench of an evening, point by point, through the real interface."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.test_story import accessible, picture, settle
from zesty_plum.core import scenes
from zesty_plum.core.bodies import body

pytestmark = pytest.mark.browser
HERON = body("heron-m2")


def said(page) -> None:
    """Wait until verdicts belong to the present address."""
    settle(page)
    expect(page.locator("#verdicts")).to_have_attribute("aria-busy", "false")


def test_another_body_shows_both_ways_and_undo_leads_back(page):
    page.goto("/bench?scene=workshop&body_edition=2&style=linen&shift_amber=15&name=Slack+tide")
    settle(page)
    for way, shown in (("Take the nearest", "nearest"), ("Start as shipped", "fresh")):
        page.locator("#body-menu summary").click()
        page.get_by_role("button", name="Sandpiper P").first.click()
        page.wait_for_url("**/onto?**")
        expect(page.locator("figure")).to_have_count(3)
        accessible(page)
        page.get_by_role("link", name=way).click()
        settle(page)
        expect(page.locator("#slip-name")).to_have_text("Slack tide")
        expect(page.locator("#came")).to_have_count(1 if shown == "nearest" else 0)
        page.keyboard.press("Control+z")
        expect(page.locator("#body-menu summary")).to_have_text("Heron M2")
        settle(page)
        expect(page.locator('[data-dial="shift_amber"] [data-shown]')).to_have_text("+15 mired")
    # Where nothing was turned nothing is lost, so nothing is asked.
    page.goto("/bench?scene=workshop")
    settle(page)
    page.locator("#body-menu summary").click()
    page.get_by_role("button", name="Sandpiper P").first.click()
    expect(page.locator("#body-menu summary")).to_have_text("Sandpiper P")


def test_begin_with_a_goal_a_list_or_another_body(page):
    page.goto("/bench?scene=garden")
    settle(page)
    page.keyboard.press("n")
    accessible(page)
    page.locator("#paste").fill("Style: Linen\nHighlights -1\namber 10 mired, green -3\nclarity 6")
    page.get_by_role("button", name="Read", exact=True).click()
    said = page.locator("#paste-said")
    expect(said.locator("tr[data-kind=taken] td:first-child")).to_have_text(
        ["Style: Linen", "Highlights -1", "amber 10 mired", "green -3"]
    )
    expect(said.locator("tr[data-kind=nearest]")).to_contain_text("Clarity goes from -3 to +3")
    # A correction reads the list again in place, and the hand stays where it was.
    place = said.get_by_label("Clarity at")
    place.focus()
    place.select_option(label="+2")
    expect(said.locator("tr[data-kind=chosen]")).to_contain_text("As you chose.")
    expect(place).to_be_focused()
    said.get_by_label("amber 10 mired is").select_option(label="leave out")
    expect(said.locator("tr[data-kind=left_out] td:first-child")).to_have_text("amber 10 mired")
    accessible(page)
    page.get_by_role("link", name="To the Bench", exact=True).click()
    settle(page)
    expect(page.locator('[data-dial="shift_green"] [data-shown]')).to_have_text("-0.003 Duv")
    expect(page.locator('[data-dial="shift_amber"] [data-shown]')).to_have_text("0")
    expect(page.locator('[data-dial="clarity"] [data-shown]')).to_have_text("+2")
    page.keyboard.press("n")
    page.locator("#begin").get_by_role("button", name="Dunlin 4").click()
    page.wait_for_url("**/onto?**")
    page.get_by_role("link", name="Take the nearest").click()
    expect(page.locator("#body-menu summary")).to_have_text("Dunlin 4")
    expect(page.locator("#came")).to_contain_text(
        re.compile(r"Came from From a list on Heron M2\..*CIEDE2000 [\d.]+ here")
    )
    settle(page)
    page.keyboard.press("n")
    page.get_by_role("link", name="Raw files, a quiet preview").click()
    expect(page.locator("#raw-notice")).to_be_visible()
    expect(page.locator("#intent")).to_have_value("raw_only")


def test_looking_at_a_step_chooses_nothing_and_a_square_chooses_two(page):
    page.goto("/bench?line=highlights&scene=workshop")
    before = picture(page)
    page.locator("#strip button").last.hover()
    expect(page.locator("#badge")).to_have_text(re.compile("Would be: Highlights"))
    assert page.locator("#frame").screenshot() != before
    page.mouse.move(5, 5)
    assert picture(page) == before
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("0")
    page.goto("/bench?line=shift_amber&scene=workshop")
    settle(page)
    expect(page.locator("#gauge-own button")).to_have_count(25)
    page.get_by_role("button", name="Blue to amber -20 mired, Pink to green +0.004 Duv").click()
    expect(page.locator('[data-dial="shift_amber"] [data-shown]')).to_have_text("-20 mired")
    expect(page.locator('[data-dial="shift_green"] [data-shown]')).to_have_text("+0.004 Duv")
    page.keyboard.press("Control+z")
    expect(page.locator('[data-dial="shift_amber"] [data-shown]')).to_have_text("0")


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("line=colour&colour=3", "hue ring"),
        ("line=noise_filter", "Noise at mid grey"),
        ("line=sharpness&sharpness=2", "MTF50"),
        ("line=kelvin&white_balance=kelvin", "White is taken at 5260 K"),
        ("line=grain&body_edition=2&grain=salt", "RMS 1.8 %"),
        ("body=wader-v1&line=output&output=clip_10", "code values a stop, 10 bits"),
    ],
)
def test_each_line_has_its_gauge(page, query, words):
    page.goto(f"/bench?{query}")
    settle(page)
    expect(page.locator("#gauge-own svg")).to_have_attribute("aria-label", re.compile(words))
    accessible(page)


def test_the_ring_of_depths_leads_to_each_hue(page):
    page.goto("/bench?body=wader-v1&body_edition=2&line=depth_skin&depth_water=3&scene=beach")
    settle(page)
    chips = page.locator("#gauge-own [data-line]")
    expect(chips).to_have_count(4)
    accessible(page)
    page.get_by_role("button", name="Depth sky +3").click()
    expect(page.locator("#lines [data-here]")).to_have_attribute("aria-label", "Depth sky")


def test_ways_to_look(page):
    page.goto("/bench?scene=painters&line=exposure")
    plain = picture(page)
    seen = {plain}
    for key in ("z", "x", "g"):
        page.keyboard.press(key)
        seen.add(picture(page))
        page.keyboard.press(key)
    assert len(seen) == 4
    assert picture(page) == plain
    page.locator("#look-menu summary").click()
    accessible(page)
    page.locator("#view").select_option("deutan")
    page.keyboard.press("Escape")
    assert picture(page) != plain
    assert "view=deutan" in page.url
    page.reload()
    expect(page.locator("#badge")).to_have_text("without green cones")
    page.locator("#look-menu summary").click()
    page.locator("#view").select_option("")
    page.locator("#than").select_option(label="Soot")
    page.locator("#true-size").select_option("phone")
    page.keyboard.press("Escape")
    page.locator("#lines [data-here]").focus()
    page.keyboard.down("b")
    expect(page.locator("#badge")).to_have_text("Reference: Soot")
    page.keyboard.up("b")
    assert page.locator("#frame").bounding_box()["width"] == pytest.approx(65 / 25.4 * 96, abs=1)


@pytest.mark.parametrize("size", [(1280, 800), (390, 844)])
def test_the_list_of_keys_opens_at_its_top_and_gives_way(page, size):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto("/bench")
    settle(page)
    page.keyboard.press("?")
    keys = page.get_by_role("dialog", name="All keys")
    expect(keys.get_by_role("heading", name="All keys")).to_be_in_viewport()
    expect(keys.get_by_text("line before, line after")).to_be_in_viewport()
    assert keys.evaluate("d => d.scrollWidth <= d.clientWidth")
    if size[0] > 1000:
        expect(keys.get_by_role("button", name="Close")).to_be_in_viewport()
    accessible(page)
    page.keyboard.press("Escape")
    expect(keys).to_be_hidden()


def test_the_spot_meters_where_the_picture_is_clicked(page):
    """In the loft the dark doorway asks for more light than the white wall does."""
    page.goto("/bench?scene=loft&metering=spot&line=metering")
    settle(page)
    shown = {}
    for name, (x, y) in {"doorway": (0.55, 0.7), "wall": (0.2, 0.3)}.items():
        box = page.locator("#frame").bounding_box()
        page.locator("#frame").click(position={"x": box["width"] * x, "y": box["height"] * y})
        settle(page)
        expect(page.locator("#meter")).to_be_visible()
        shown[name] = float(page.locator("#exposure").text_content().split("1/")[1].split(" s")[0])
    assert shown["doorway"] < shown["wall"] / 4  # two stops or more
    before = page.url
    page.locator("#lines [data-here]").focus()
    page.keyboard.press("Shift+ArrowRight")
    settle(page)
    assert page.url != before
    page.locator('[data-dial="metering"]').press("ArrowLeft")
    expect(page.locator("#meter")).to_be_hidden()


def test_the_trail_keeps_every_step_also_after_a_reload(page):
    page.goto("/bench?line=colour")
    settle(page)
    for key in ("ArrowRight", "ArrowRight", "ArrowDown", "ArrowLeft"):
        page.keyboard.press(key)
        settle(page)
    page.reload()
    settle(page)
    page.keyboard.press("t")
    rows = page.locator("#trail-list li")
    expect(rows.locator("button").filter(has_not_text="variant")).to_have_text(
        [
            "Clarity from 0 to -1",
            "Colour from +1 to +2",
            "Colour from 0 to +1",
            "Where the trail begins",
        ]
    )
    expect(page.locator("#trail-since")).to_have_text(
        "Since as shipped: Colour from 0 to +2; Clarity from 0 to -1."
    )
    accessible(page)
    rows.nth(2).get_by_placeholder("name this point").fill("mild")
    rows.nth(2).get_by_role("button").first.click()
    expect(rows.nth(2)).to_have_attribute("aria-current", "step")
    expect(page.locator('[data-dial="clarity"] [data-shown]')).to_have_text("0")
    rows.nth(2).get_by_role("button", name="Make a variant from here").click()
    expect(page.locator("#save-name")).to_have_value("mild")
    page.keyboard.press("Escape")
    page.locator("#lines [data-here]").focus()
    page.keyboard.press("Control+y")
    expect(page.locator('[data-dial="colour"] [data-shown]')).to_have_text("+2")


def test_a_verdict_shows_its_place_and_its_mend_and_keeps_to_the_intent_and_the_school(page):
    page.goto("/bench?scene=supper&exposure=1&line=style")
    said(page)
    verdict = page.locator("#verdicts li").first
    expect(verdict).to_contain_text("Skin is clipped")
    verdict.get_by_role("button").first.focus()
    expect(page.locator("#spot")).to_be_visible()
    frame, spot = page.locator("#frame").bounding_box(), page.locator("#spot").bounding_box()
    assert 0.6 < (spot["x"] + 27 - frame["x"]) / frame["width"] < 0.9  # on the face by the panel
    before = page.locator("#frame").screenshot()
    verdict.get_by_role("button").last.focus()
    expect(page.locator("#badge")).to_contain_text("Would be:")
    assert page.locator("#frame").screenshot() != before
    accessible(page)
    words = verdict.locator("b").text_content()
    verdict.get_by_role("button").last.click()
    said(page)
    assert page.locator("#gauge-title").text_content().replace(":", "") == words
    left = re.search(r"Skin is clipped: ([\d.]+) %", page.locator("#verdicts").text_content())
    assert float(left[1] if left else 0) < 15  # of a quarter of the face before
    page.goto("/bench?scene=garden&exposure=1")
    said(page)
    expect(page.locator("#verdicts")).to_contain_text("The sky is clipped")
    page.get_by_text("My preferences").click()
    page.get_by_label("let the background go").check()
    expect(page.locator("#verdicts")).not_to_contain_text("The sky is clipped")
    page.get_by_text("What a step does here").click()
    expect(page.locator("#steps-list li").first).to_have_text(re.compile(r"Bunting: \w+"))


def test_all_scenes_at_once_and_a_name_from_the_look(page):
    page.goto("/bench?exposure=2&style=lamplight")
    settle(page)
    page.keyboard.press("a")
    expect(page.locator("#everywhere-state")).to_have_text(
        re.compile(r"It falls short in \d+ of \d+ scenes"), timeout=30000
    )
    assert page.locator("#everywhere [data-fails]").count() >= 3
    accessible(page)
    page.get_by_text("Choose scenes").click()
    for left_out in ("Net loft", "Test corner"):
        page.get_by_label(left_out).uncheck()
    expect(page.locator("#everywhere button:has(img)")).to_have_count(len(scenes.index()) - 2)
    page.locator("#everywhere button:has(img)", has_text="Painters").click()
    expect(page.locator("#scene-line")).to_have_text(re.compile("Painters"))
    page.keyboard.press("s")
    expect(page.locator("#save-name")).to_have_value("Bright full Lamplight")
    page.keyboard.press("Escape")
    expect(page.locator("#save-dialog")).to_be_hidden()
    page.keyboard.press("/")
    expect(page.locator("#find")).to_be_focused()
    page.keyboard.type("trail")
    page.keyboard.press("Enter")
    expect(page.locator("#trail")).to_be_visible()


def test_without_scripts_dials_turn_and_a_slip_is_saved(browser, server):
    context = browser.new_context(java_script_enabled=False, base_url=server)
    page = context.new_page()
    page.goto("/bench")
    page.locator("select[name=style]").select_option("linen")
    page.get_by_role("button", name="Show").click()
    expect(page.locator('[data-dial="style"] [data-shown]')).to_have_text("Linen")
    page.get_by_role("textbox", name="Name").fill("No scripts")
    page.get_by_role("button", name="Save as a new slip").click()
    page.goto("/slips")
    expect(page.locator("article h2", has_text="No scripts")).to_have_count(1)
    context.close()


def test_two_browsers_on_one_slip_the_second_is_told_and_nothing_is_lost(browser, server):
    pages = []
    for _ in range(2):
        context = browser.new_context(base_url=server)
        pages.append(context.new_page())
        pages[-1].goto("/slips")
        pages[-1].get_by_role("link", name="Kite weather on the Bench").click()
        settle(pages[-1])
    for dial, page in zip(("shadows", "colour"), pages, strict=True):
        page.locator(f'[data-dial="{dial}"]').click()
        page.keyboard.press("ArrowRight")
        page.locator("#save").click()
        page.locator("#save-go").click()
        page.wait_for_load_state("networkidle")
    expect(pages[1].get_by_role("status")).to_contain_text(re.compile("version"))
    pages[1].goto("/slips")
    pages[1].get_by_role("link", name="Kite weather", exact=True).click()
    listed = pages[1].locator("main").text_content()
    assert "Version 2" in listed
    assert "Version 3" in listed
    for page in pages:
        page.context.close()


def test_what_is_fine_is_shown_at_100_percent_by_itself(page):
    """A dial of texture: strip and corner hold a part pixel for photosite, and the picture says so;
    a dial of tone has none of it."""
    page.goto("/bench?scene=boatyard&line=sharpness")
    settle(page)
    expect(page.locator("#badge")).to_contain_text("corner and strip at 100 %")
    expect(page.locator("#inset")).to_be_visible()
    for image in page.locator("#strip img, #inset").all():
        assert "detail=1" in image.get_attribute("src")
        # A pixel of the answer is one of the screen.
        assert image.evaluate("(i) => Math.abs(i.naturalWidth - i.clientWidth)") <= 5
    page.locator('[data-dial="highlights"]').click()
    settle(page)
    expect(page.locator("#inset")).to_be_hidden()
    expect(page.locator("#badge")).to_be_hidden()


def test_the_part_at_100_percent_can_be_pulled_and_pushed(page):
    page.goto("/bench?scene=boatyard&line=grain&loupe=1")
    settle(page)
    first = picture(page)
    box = page.locator("#frame").bounding_box()
    page.mouse.move(box["x"] + 300, box["y"] + 200)
    page.mouse.down()
    page.mouse.move(box["x"] + 200, box["y"] + 150, steps=4)
    page.mouse.up()
    expect(page).to_have_url(re.compile("place=0"))
    pulled = picture(page)
    assert pulled != first
    at = page.url
    page.keyboard.press("Shift+ArrowLeft")
    settle(page)
    assert page.url != at
    assert picture(page) != pulled
    page.go_back()
    assert picture(page) == pulled

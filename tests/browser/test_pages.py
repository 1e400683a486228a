"""How every page holds: at each width, zoomed, by keyboard and touch alone, on paper, on a slow
line."""

import contextlib
import re

import pytest
from playwright.sync_api import Error, expect

from tests.browser.test_story import accessible, picture, settle
from zesty_plum.web.frame.screens import screens

pytestmark = pytest.mark.browser

PAGES = [
    "/bench?scene=jetty&line=highlights",
    "/bench?slip=4&scene=workshop&line=shift_amber",
    "/bench?body=wader-v1&line=depth_water",
    "/slips",
    "/slips/4",
    "/slips/4/card",
    "/wall?scene=loft&scene=jetty&r=slip-1&r=slip-2&r=slip-3",
    "/wall?scene=loft&r=slip-1&r=slip-7&graded=8",
    "/blind?scene=corner&r=slip-1&r=slip-2&r=slip-3",
    "/kit/cases/1?slot=2",
    "/kit/cases/2?slot=c3&set=night",
    "/kit/cases/1/presses",
    "/kit/cases/1/sheet",
    "/kit/bodies",
    "/kit/bodies/turnstone",
    "/kit/chart/",
    "/stand-in/heron-m2",
    "/outing/1?shoot=5",
    "/outing/1?add=1",
    "/outing/days",
    "/reckoner/",
    "/notes/",
    "/notes/new?slip=5&grain=3&scene=loft",
    "/notes/1",
    "/notes/which",
    "/notes/singly/1",
    "/notes/singly/new?slip=2&dial=grain",
    "/drill/",
    "/drill/screen",
    "/drill/1/result",
    "/kit/list?like=heron-m2",
    "/kit/teach",
    "/kit/near",
    "/kit/near?r=Near+it~heron-m2~style=linen&r=Near+it+2~heron-m2~colour=2&by=so",
    "/kit/shoot?like=turnstone",
    "/restore",
    "/devices",
    "/pieces",
    "/no-such-page",
]
# What stands past the right edge without standing in something that scrolls; what is wider than its
# own box and cut there.
CUT = """() => [...document.querySelectorAll('main *, body > header *')].filter((e) => {
  const box = e.getBoundingClientRect();
  const hidden = !box.width || !e.checkVisibility({ visibilityProperty: true });
  if (hidden || e.closest('.sr-only, svg')) return false;
  for (let p = e.parentElement; p; p = p.parentElement)
    if (/auto|scroll|hidden/.test(getComputedStyle(p).overflowX)) return false;
  return box.right > innerWidth + 1 || box.left < -1;
}).map((e) => e.outerHTML.slice(0, 90))"""
NAMELESS = """() => {
  const name = (e) => e.getAttribute('aria-label') || e.textContent.trim() || e.title ||
    e.labels?.length || e.querySelector('img[alt]:not([alt=""])');
  const all = document.querySelectorAll('button, a[href], input, select, textarea, summary');
  return [...all].filter((e) => e.type !== 'hidden' && e.getClientRects().length && !name(e))
    .map((e) => e.outerHTML.slice(0, 90)); }"""


def test_every_screen_is_among_the_pages():
    for screen in screens():
        assert any(page.startswith(f"/{screen.name.lower()}") for page in PAGES)


@pytest.mark.parametrize(
    "sizes", [[(1280, 800), (1024, 768), (640, 400)], [(390, 844)]], ids=["desk", "phone"]
)
@pytest.mark.parametrize("url", PAGES)
def test_nothing_is_cut_off_or_without_a_name(browser, server, url, sizes):
    """A window is made smaller as people do; 640 by 400 is 1280 by 800 at 200 percent."""
    context = browser.new_context(
        viewport={"width": sizes[0][0], "height": sizes[0][1]}, base_url=server
    )
    page = context.new_page()
    page.goto(url)
    settle(page)
    for wide, high in sizes:
        page.set_viewport_size({"width": wide, "height": high})
        drawn(page)
        assert page.evaluate("document.documentElement.scrollWidth") <= wide
        assert page.evaluate(CUT) == []
        assert page.evaluate(NAMELESS) == []
        for menu in page.locator("details[x-data=menu] > summary").filter(visible=True).all():
            menu.click()
            drawn(page)
            assert page.evaluate(CUT) == [], menu.text_content()
            over = "s => s.nextElementSibling.scrollWidth - s.nextElementSibling.clientWidth"
            assert menu.evaluate(over) <= 0, menu.text_content()
            menu.click()
        if "/bench" in url and wide == 1280:
            assert page.evaluate("document.documentElement.scrollHeight") <= 800
    context.close()


SMALL = """() => [...document.querySelectorAll('main button, main summary, main select')]
  .filter((e) => e.checkVisibility() && e.getBoundingClientRect().height < 24)
  .map((e) => e.outerHTML.slice(0, 90))"""  # WCAG 2.2, 2.5.8


@pytest.mark.parametrize("size", [(1280, 800), (390, 844)], ids=["desk", "phone"])
def test_every_piece_is_right_in_each_of_its_states(page, size):
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto("/pieces")
    accessible(page)
    assert page.evaluate(SMALL) == []
    page.get_by_role("button", name="Open the dialog").click()
    expect(page.get_by_role("dialog", name="A dialog")).to_be_visible()
    accessible(page)
    page.keyboard.press("Escape")
    for menu in page.locator("main details[x-data=menu] > summary").all():
        menu.click()
        accessible(page)
        page.keyboard.press("Escape")
        expect(menu).to_be_focused()


def drawn(page):
    page.evaluate(
        "() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))"
    )


def test_by_keyboard_alone_and_the_focus_is_always_seen(page):
    page.goto("/bench?scene=boatyard&line=style")
    settle(page)
    seen = set()
    ring = """() => { const e = document.activeElement, s = getComputedStyle(e);
      const line = s.outlineStyle !== 'none' && parseFloat(s.outlineWidth) >= 2;
      const seen = line || s.boxShadow !== 'none' || e.type === 'file' || e === document.body;
      return [e.id || e.dataset.dial || e.textContent.trim(), seen]; }"""
    for _ in range(80):
        page.keyboard.press("Tab")
        what, marked = page.evaluate(ring)
        assert marked, what
        if what in seen and len(seen) > 20:
            break
        seen.add(what)
    # The dials are one stop, on the line in hand; scenes, strip and the ways out are reached too.
    assert {"style", "save"} <= seen
    assert not {"guard", "shadows"} & seen
    page.locator('[data-dial="style"]').focus()
    page.keyboard.press("ArrowDown")
    assert page.evaluate("document.activeElement.dataset.dial") == "mono_filter"
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowRight")
    dial = page.locator('[data-dial="style"]')
    expect(dial).to_have_attribute("aria-valuenow", "1")
    expect(dial).to_have_attribute("aria-valuetext", re.compile("^Bunting"))
    expect(dial).to_have_attribute("role", re.compile("slider|spinbutton"))


def test_by_touch_alone_on_a_phone(browser, server):
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, base_url=server, has_touch=True, is_mobile=True
    )
    page = context.new_page()
    page.goto("/bench?scene=boatyard&line=highlights")
    before = picture(page)
    page.locator("#strip button").nth(2).tap()
    expect(page.locator('[data-dial="highlights"] [data-shown]')).not_to_have_text("0")
    assert picture(page) != before
    page.locator('#scenes a[data-scene="painters"]').tap()
    expect(page.locator("#scene-line")).to_have_text(re.compile("Painters"))
    page.locator('[data-dial="shadows"]').tap()
    page.locator('[data-dial="shadows"] button >> nth=1').tap()
    expect(page.locator('[data-dial="shadows"] [data-shown]')).to_have_text("+1")
    for button in page.locator("#strip button, #lines [data-here] button, #save").all():
        box = button.bounding_box()
        assert min(box["width"], box["height"]) >= 24  # WCAG 2.2, 2.5.8
    context.close()


def test_on_a_slow_line_the_last_choice_is_what_is_shown(browser, server):
    """An answer that comes after a newer one changes nothing; one that does not come, or comes
    torn, is told in our words."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=server)
    page = context.new_page()
    held = []

    def slow(route):
        held.append(route) if "exposure=0.3" in route.request.url else route.continue_()

    answers = [slow]  # one route for all of it: a fresh one may come too late for the next request
    page.route(re.compile(r"/render/.*width=(?!192)"), lambda route: answers[-1](route))
    page.goto("/bench?scene=corner&line=exposure")
    settle(page)
    page.keyboard.press("ArrowRight")
    page.wait_for_timeout(50)
    assert len(held) == 1
    page.keyboard.press("ArrowRight")
    wanted = picture(page)
    expect(page.locator("#lines [data-here] [data-shown]")).to_have_text("+2/3")
    with contextlib.suppress(Error):  # the browser has given it up
        held[0].continue_()
    page.wait_for_timeout(300)
    assert picture(page) == wanted
    page.reload()
    assert picture(page) == wanted
    for answer in (
        lambda route: route.abort(),
        lambda route: route.fulfill(content_type="image/jpeg", body=b"torn"),
    ):
        answers.append(answer)
        page.keyboard.press("ArrowRight")
        told = page.get_by_role("status").filter(has_text="The picture did not come. See whether")
        expect(told).to_be_visible()
        expect(page.locator("#frame")).to_have_attribute("aria-busy", "false")
        assert page.locator("#picture").evaluate(
            "(image) => image.complete && image.naturalWidth > 0"
        )  # the last one stays
        answers.append(lambda route: route.continue_())
        page.reload()
        settle(page)
    context.close()


def test_less_motion_is_honoured_and_paper_has_pictures_and_no_buttons(page):
    page.emulate_media(reduced_motion="reduce")
    page.goto("/wall?scene=loft&r=slip-1&r=slip-2")
    settle(page)
    moving = """() => [...document.querySelectorAll('*')].filter((e) => {
      const s = getComputedStyle(e);
      const times = [...s.transitionDuration.split(','), ...s.animationDuration.split(',')];
      return times.some((d) => parseFloat(d) > 0.01); }).length"""
    assert page.evaluate(moving) == 0
    page.emulate_media(media="print")
    expect(page.locator("body > header")).to_be_hidden()
    expect(page.get_by_role("button", name="View")).to_be_hidden()
    expect(page.locator("[data-column] img").first).to_be_visible()
    expect(page.locator("[data-column] h2").first).to_be_visible()


def test_a_backup_takes_the_place_of_what_is_here(page, tmp_path):
    page.goto("/slips")
    names = page.locator("article h2").all_text_contents()
    with page.expect_download() as taken:
        page.get_by_role("link", name="Make a backup").click()
    saved = tmp_path / "backup.zip"
    taken.value.save_as(saved)
    page.get_by_role("link", name="Soot", exact=True).first.click()
    page.locator("summary", has_text="Change").click()
    page.get_by_role("button", name="Delete").click()
    expect(page.locator("article h2", has_text="Soot")).to_have_count(
        sum("Soot" in n for n in names) - 1
    )
    page.get_by_role("link", name="Put a backup back").click()
    accessible(page)
    torn = {"name": "x.zip", "mimeType": "application/zip", "buffer": b"PK torn"}
    page.locator("input[type=file][name=file]").set_input_files(torn)
    page.get_by_label("Replace what is here").check()
    page.get_by_role("button", name="Put back").click()
    expect(page.get_by_role("status")).to_contain_text("damaged, so nothing was changed")
    page.goto("/restore")
    page.locator("input[type=file][name=file]").set_input_files(saved)
    page.get_by_label("Replace what is here").check()
    page.get_by_role("button", name="Put back").click()
    expect(page).to_have_url(re.compile("/slips$"))
    assert page.locator("article h2").all_text_contents() == names


def test_long_work_shows_how_far_it_is_and_can_be_stopped(page):
    """The page to send, held up on its way."""
    held = []
    page.route("**/wall/page.html*", lambda route: held.append(route))
    far = {"words": "Making the page", "done": 3, "of": 12, "waits": False}
    page.route("**/work/*", lambda route: route.fulfill(json=far))
    page.goto("/wall?r=slip-1&r=slip-2&scene=corner")
    page.locator("summary", has_text="Tools").click()
    page.get_by_role("button", name="Page to send").click()
    note = page.locator("#says [data-note]", has=page.locator("progress:visible"))
    expect(note).to_contain_text("Making the page")
    expect(note.locator("progress")).to_have_js_property("value", 3)
    expect(note.locator("progress")).to_have_js_property("max", 12)
    note.get_by_role("button", name="Stop").click()
    expect(note).to_have_count(0)
    expect(page.locator("#says [data-note]", has_text="Stopped.")).to_be_visible()
    page.unroute("**/wall/page.html*")
    with page.expect_download() as taken:
        page.locator("summary", has_text="Tools").click()
        page.get_by_role("button", name="Page to send").click()
    assert taken.value.suggested_filename.endswith(".html")


@pytest.mark.parametrize(
    "path", ["/bench", "/slips", "/slips/1", "/wall?r=slip-1&r=slip-2&scene=corner"]
)
def test_one_menu_is_open_at_a_time_and_escape_closes_it(page, path):
    page.goto(path)
    menus = page.locator("details[x-data=menu]:visible > summary:visible")
    assert menus.count() > 0
    for k in range(menus.count()):
        menus.nth(k).click()
        expect(page.locator("details[x-data=menu][open]")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(page.locator("details[x-data=menu][open]")).to_have_count(0)
    menus.first.click()
    page.locator("h1").first.click(force=True)
    expect(page.locator("details[x-data=menu][open]")).to_have_count(0)

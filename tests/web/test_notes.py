"""Notes through their own pages: trials from everywhere, search, what leaves, which settings, one
change at a time, and drafts of a day."""

import io
import json
import re
from contextlib import closing
from datetime import UTC, datetime
from html import unescape

import numpy as np
import pytest
from markdown_it import MarkdownIt
from PIL import ExifTags, Image, TiffImagePlugin

from tests.web.test_cases import words
from zesty_plum.core.pictures.write import file_of
from zesty_plum.core.recipe import dumps, make
from zesty_plum.store import backup, database, notes
from zesty_plum.web import create_app

SLIP = {"body": "heron-m2", "name": "Lantern", "grain": "1"}  # as of the first edition


@pytest.fixture
def slip(post):
    post("/slips/save", SLIP)
    return 1


@pytest.fixture
def clock(app):
    """Sets the application's clock."""

    def put(moment):
        app.config["CLOCK"].now = datetime.fromisoformat(moment).replace(tzinfo=UTC)

    return put


def new(client, query="slip=1&grain=3&scene=loft"):
    """The form of a new note as it comes, and its hidden fields."""
    page = client.get(f"/notes/new?{query}").text
    hidden = dict(re.findall(r'name="(before|after|slip|version|back)"\s+value="([^"]*)"', page))
    flat = {k: v.replace("&#34;", '"').replace("&amp;", "&") for k, v in hidden.items()}
    return page, flat


def test_a_note_comes_filled_in_and_is_found_again(client, post, slip):
    page, hidden = new(client)
    assert "Before: grain flour. After: grain sand." in words(page)
    assert re.search(r'value="grain"\s+checked', page)
    said = {**hidden, "seen": "Too coarse on faces.", "kept": "back", "tag": ["grain"],
            "scene": "loft", "next": "And on paper?", "asked": "more bite"}  # fmt: skip
    assert post("/notes/", said).location == "/notes/"
    page = words(client.get("/notes/").text)
    assert "Lantern: more bite Too coarse on faces." in page
    assert "Measured: " in page
    assert "taken back" in page
    for query, found in (("coarse", 1), ("moved:grain kept:back", 1), ("grain>3", 0),
                         ("slip:lantern light:lamps", 0), ("open:yes", 1)):  # fmt: skip
        assert client.get("/notes/", query_string={"q": query}).text.count("<article") == found
    assert "No condition is called" in client.get("/notes/?q=wobble:x").text
    assert "Lantern: more bite" in words(client.get("/slips/1").text)
    post("/notes/1/answered")
    assert "And on paper? (answered)" in words(client.get("/notes/").text)
    assert client.get("/notes/?q=open:yes").text.count("<article") == 0
    post("/notes/1", {**said, "seen": "Fine after all.", "kept": "kept"})
    assert "Fine after all." in client.get("/notes/1").text
    post("/notes/1/remove")
    assert "No trial is noted yet." in words(client.get("/notes/").text)
    post("/notes/1/back")
    assert "Fine after all." in client.get("/notes/").text


def test_what_was_just_saved_is_compared_with_the_version_before(client, post, slip):
    post("/slips/save", {**SLIP, "grain": "2", "slip": "1", "as": "version"})
    assert "Before: grain flour. After: grain salt." in words(new(client, "slip=1")[0])
    assert "Before: grain none. After: grain flour." in words(new(client, "slip=1&version=1")[0])
    alone = words(new(client, "")[0])
    assert "Note a trial Nothing was turned. About the slip none yet Lantern" in alone
    pair = "before=slip-1.1&after=slip-1.2&scene=table&place=the+Wall"
    assert 'value="the Wall"' in new(client, pair)[0]


@pytest.mark.parametrize(
    ("sent", "says"),
    [
        ({"before": "", "after": ""}, "This note lost its recipes."),
        (
            {"kept": "perhaps"},
            "“It is” can be not settled, kept, taken back, not",
        ),
        ({"next": "x" * 200}, "“Next question” holds 160 letters; this has 200."),
        ({"tags": ",".join("abcdefghijklm")}, "A note has up to 12 tags"),
    ],
)
def test_what_cannot_be_noted_is_told(client, post, slip, sent, says):
    answer = post("/notes/", {**new(client)[1], "seen": "x", **sent})
    assert answer.status_code == 400
    assert says in answer.text
    assert "No trial is noted yet." in words(client.get("/notes/").text)


def test_a_way_back_leads_nowhere_else(client, post, slip):
    said = {**new(client)[1], "seen": "x"}
    assert post("/notes/", {**said, "back": "/bench?slip=1"}).location == "/bench?slip=1"
    for back in ("//elsewhere.example", "https://elsewhere.example"):
        assert post("/notes/", {**said, "back": back}).location == "/notes/"


def test_notes_leave_as_page_table_and_text(client, post, slip):
    _, hidden = new(client)
    post("/notes/", {**hidden, "seen": "=SUM(1)", "scene": "loft", "next": "More?"})
    page = client.get("/notes/notes.html").text
    assert page.count("data:image/jpeg") == 2
    assert "<script" not in page
    rows = client.get("/notes/notes.csv").text.splitlines()
    assert len(rows) == 2
    assert "'=SUM(1)" in rows[1]
    text = client.get("/notes/notes.md").text
    assert "- before: grain flour; after: grain sand" in text
    assert "- [ ] More?" in text
    assert "=SUM" not in client.get("/notes/notes.md?q=zzzz").text


def test_words_are_words_in_markdown(client, post, slip):
    """As a reader of CommonMark shows them that lets HTML through."""
    _, hidden = new(client)
    said = "<img src=x onerror=alert(1)> *loud* [here](http://x.example) `code` a_b_c &lt; 2 | 3"
    post("/notes/", {**hidden, "seen": said, "scene": "loft", "next": "<b>More</b>?"})
    post("/notes/", {**hidden, "seen": "1. first\n- second\n# third\n===", "scene": "loft"})
    html = MarkdownIt("commonmark").render(client.get("/notes/notes.md").text)
    assert set(re.findall(r"<(\w+)", html)) == {"h1", "h2", "h3", "ul", "li", "p"}
    words = unescape(re.sub(r"<[^>]+>", "", html))
    for line in (said, "<b>More</b>?", "1. first", "- second", "# third", "==="):
        assert line in words


def picture(time="2026:11:07 18:00:00", grey=False, **told):
    """A JPEG with EXIF, in colour or without."""
    image = Image.effect_noise((120, 80), 60).convert("RGB")
    if not grey:
        image = Image.merge(
            "RGB", (image.split()[0], image.split()[1].rotate(180), image.split()[2])
        )
    exif = Image.Exif()
    part = exif.get_ifd(ExifTags.IFD.Exif)
    part[ExifTags.Base.DateTimeOriginal] = time
    ratio = TiffImagePlugin.IFDRational
    for name, value in told.items():
        tag = getattr(ExifTags.Base, name)
        part[tag] = ratio(round(value * 3), 3) if isinstance(value, float) else value
    out = io.BytesIO()
    image.save(out, "JPEG", exif=exif)
    return out.getvalue()


def ask(post, *files, **more):
    sent = {"file": [(io.BytesIO(data), name) for data, name in files], "zone": "UTC", **more}
    form = {"content_type": "multipart/form-data", "follow_redirects": True}
    return words(post("/notes/which", sent, **form).text)


def test_which_settings_made_this_picture(client, post, slip, clock):
    own = make("Mine", "heron-m2", {"grain": "salt"})
    body = file_of(np.zeros((40, 60, 3), np.uint8), own, "jpg", 8)
    assert "its own data The file says it: Mine." in ask(post, (body, "x.jpg"))
    post("/slips/save", {"body": "heron-m2", "name": "Ink", "style": "ink", "exposure": "-0.67"})
    post("/kit/cases", {"body": "heron-m2", "name": "First", "letter": "A"})
    assert "before anybody read the camera" in ask(post, (picture(), "A1.JPG"))
    post("/kit/cases/1/slots/1", {"slip": "1", "why": "x", "scene": "loft"})
    post("/kit/cases/1/slots/2", {"slip": "2", "why": "x", "scene": "loft"})
    card = client.get("/kit/cases/1/plum-card.zip").data

    def read_at(moment):
        clock(moment)
        file = {"file": (io.BytesIO(card), "card.zip")}
        post("/kit/cases/1/read", file, content_type="multipart/form-data")

    read_at("2026-11-07T12:00:00")
    dark = (picture(grey=True, ExposureBiasValue=-2 / 3), "A1.JPG")
    page = ask(post, dark)
    assert "as last read" in page, page[page.index("Known by") :][:500]
    read_at("2026-11-07T22:00:00")
    page = ask(post, dark)
    assert "known Taken 2026-11-07 18:00 with A 2, found the same before and after." in page
    assert "Ink, version 1" in page
    assert "nothing fits" in ask(post, (picture(ISOSpeedRatings=30), "A1.JPG"))
    assert "does not say when it was taken" in ask(post, (picture(time="soon"), "A1.JPG"))
    table = ask(post, dark, (body, "x.jpg"), (b"no picture", "y.jpg"))
    assert table.count("Taken") == 1
    assert "The file says it: Mine." in table


def test_a_clock_that_is_ahead_is_reckoned_with(client, post, slip, clock):
    post("/kit/cases", {"body": "heron-m2", "name": "First", "letter": "A", "ahead": "7200"})
    post("/kit/cases/1/slots/1", {"slip": "1", "why": "x", "scene": "loft"})
    card = client.get("/kit/cases/1/plum-card.zip").data
    clock("2026-11-07T17:00:00")
    file = {"file": (io.BytesIO(card), "card.zip")}
    post("/kit/cases/1/read", file, content_type="multipart/form-data")
    assert "before anybody read" in ask(post, (picture("2026:11:07 18:00:00"), "A1.JPG"))
    assert "It can have been A 1 or A 2" in ask(post, (picture("2026:11:07 19:30:00"), "A1.JPG"))


def test_one_change_at_a_time_from_plan_to_result(client, post, slip):
    page = client.get("/notes/singly/new?slip=1&dial=grain").text
    assert "flour (as it is)" in words(page)
    sent = {
        "slip": "1",
        "dial": "grain",
        "place": ["none", "flour"],
        "light": ["loft"],
        "lights": "the hall",
    }
    at = post("/notes/singly/", sent).location
    assert "Nothing has been looked at yet." in words(client.get(at).text)
    post(f"{at}/mark", {"light": "loft", "place": "flour", "mark": "best"})
    assert "Grain flour was best under Net loft" in words(client.get(at).text)
    told = make("x", "heron-m2", {"grain": "flour", "clarity": 2})
    body = file_of(np.zeros((40, 60, 3), np.uint8), told, "jpg", 8)
    file = {"light": "the hall", "place": "flour", "file": (io.BytesIO(body), "h.jpg")}
    post(f"{at}/mark", file, content_type="multipart/form-data")
    assert "Two dials moved, Grain, Clarity: you cannot tell which." in words(client.get(at).text)
    bad = post(f"{at}/mark", {"light": "loft", "place": "7", "mark": "best"})
    assert bad.status_code == 400
    post(f"{at}/remove")
    assert "Lantern: Grain" not in client.get("/notes/").text
    post(f"{at}/back")
    assert "Lantern: Grain" in client.get("/notes/").text


def test_a_day_becomes_drafts(client, post, slip):
    day = post("/outing/days", {"name": "Day", "date": "2026-11-07"}).location
    assert "nothing to note" in post(f"{day}/notes").text
    post("/kit/cases", {"body": "heron-m2", "name": "First", "letter": "A"})
    post("/kit/cases/1/slots/1", {"slip": "1", "why": "x", "scene": "loft"})
    shoot = {"title": "Nets", "from": "10:00", "to": "11:00", "light": "shade", "at": "1:1"}
    post(f"{day}/shoots", shoot)
    post(f"{day}/notes")
    page = words(client.get("/notes/").text)
    assert "Lantern: Nets A draft: what was seen is not written yet." in page
    assert re.search(r"Day, 10:00–11:00, A 1, f/[\d.]+ · 1/\d+ · ISO \d+", page)


def test_a_backup_brings_notes_and_plans_back(tmp_path, client, post, slip):
    post("/notes/", {**new(client)[1], "seen": "kept words", "scene": "loft"})
    post(
        "/notes/singly/",
        {"slip": "1", "dial": "grain", "place": ["none", "flour"], "light": ["loft"]},
    )
    whole = client.get("/backup.zip").data
    other = create_app(tmp_path / "other")
    with closing(database.connect(other.config["DATABASE"])) as db:
        for _ in range(2):  # twice is once
            backup.add(db, other.extensions["place"], io.BytesIO(whole))
        assert [(t.seen, t.slip) for t in notes.listed(db)] == [("kept words", 1)]
        assert [s.name for s in notes.singles(db)] == ["Lantern: Grain"]


def test_a_note_of_a_body_that_is_gone_is_told_of_and_can_be_taken_away(app, client, post, slip):
    post("/notes/", {**new(client)[1], "seen": "words", "asked": "of old"})
    with closing(database.connect(app.config["DATABASE"])) as db:
        told = json.loads(dumps(make("x", "heron-m2", {})))
        told["body"] = "gone-1"
        db.execute("UPDATE trial SET after = ?", (json.dumps(told),))
    page = words(client.get("/slips").text)
    assert "of old" in page
    assert "words" in client.get("/slips/unreadable/note-1.json").text
    assert "No trial is noted yet." in words(client.get("/notes/").text)

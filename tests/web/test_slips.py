"""The library through Flask's client: what is taken away comes back, many at a time, and stays
whole on the way."""

import csv
import io
import json
import re
import zipfile

import numpy as np
import PyOpenColorIO as ocio
import pytest
from PIL import Image

from tests.builders import file_of, named
from tests.conftest import Reader
from zesty_plum.core import exchange
from zesty_plum.core.exchange import lut
from zesty_plum.core.recipe import dumps, loads
from zesty_plum.store import database, slips
from zesty_plum.web import create_app

JSON = {"Accept": "application/json"}
NOW = "2026-10-03T18:00:00Z"
MANY = [
    named("Slack tide", style="linen", grain="flour", note="Overcast."),
    named("Soot", style="ink", author="loft crew"),
    named("Slack tide", style="kelp"),
    named("=SUM(1)", "wader-v1", note='line\nbreak, "quoted"', toe=0.6),
]


@pytest.fixture
def stocked(app):
    with database.connect(app.config["DATABASE"]) as db:
        ids = [slips.create(db, r, NOW).id for r in MANY]
    db.close()
    return ids


def test_a_zip_of_slips_comes_back_as_it_was_and_its_table_says_the_same(
    client, post, stocked, tmp_path
):
    post("/slips/tag", {"id": stocked[0], "tag": "keep"})
    away = client.get("/slips/slips.zip", query_string={"id": stocked})
    with zipfile.ZipFile(io.BytesIO(away.data)) as packed:
        manifest = json.loads(packed.read("manifest.json"))
        rows = list(csv.DictReader(io.StringIO(packed.read("slips.csv").decode())))
        assert [loads(packed.read(s["file"])) for s in manifest["slips"]] == MANY
    assert [s["tags"] for s in manifest["slips"]] == [["keep"], [], [], []]
    assert rows[0]["style"] == "Linen"
    assert rows[3]["name"] == "'=SUM(1)"  # no spreadsheet takes it for a formula
    assert rows[3]["note"] == MANY[3].note
    for cell in ("\n=1+1", "\t@a", " -1", "＝1", "＋1"):
        sheet = csv.DictReader(io.StringIO(exchange.table([(named("x", note=cell), [])])))
        assert next(sheet)["note"] == "'" + cell
    # All is there already, so nothing is proposed; in another library all is new.
    looked = post("/bring", {"file": (io.BytesIO(away.data), "x.zip")}, headers=JSON).json
    assert client.get(looked["to"]).text.count("Does just what") == 4
    assert {b.recipe.name for b in exchange.read_many([("x.zip", away.get_data)]).found} == {
        r.name for r in MANY
    }


def test_many_files_of_all_kinds_are_read_and_faulty_ones_are_told_of(client, post):
    card = client.get("/take/card.png?name=Card&style=linen&with=table").data
    fax = file_of(np.asarray(Image.open(io.BytesIO(card)).convert("L")), "JPEG", quality=50)
    listed = json.dumps(
        [json.loads(dumps(r)) for r in MANY] + [{"format": "zesty-plum-recipe", "version": 9}]
    ).encode()
    files = [
        (card, "card.png"),
        (fax, "fax.jpg"),
        (listed, "list.json"),
        (b"Name: Note\nWader V1\nSaturation +3\n", "note.txt"),
        (b"{", "broken.json"),
        (b"PK\x03\x04 torn", "torn.zip"),
        (b"\x00\x01\x02", "what.bin"),
    ]
    there = post("/bring", {"file": [(io.BytesIO(d), n) for d, n in files]}, headers=JSON).json
    page = client.get(there["to"]).text
    assert re.search(r"<h1>7 recipes found", page)
    assert all(f"{n}: " in page for n in ("broken.json", "torn.zip", "what.bin", "list.json, 5"))
    batch = there["to"].rsplit("/", 1)[1]
    post(f"/bring/{batch}/take")
    names = re.findall(
        r'<h2><a href="/slips/\d+[^>]*>([^<]*)</a>', client.get("/slips?sort=name").text
    )
    assert sorted(names) == [
        "=SUM(1)",
        "Card",
        "Note",
        "Slack tide",
        "Slack tide",
        "Soot",
    ]  # the fax is the card once more
    undo = re.search(r'action="(/bring/\d+/back)"', client.get("/slips").text)
    post(undo[1] if undo else f"/bring/{batch}/back")
    assert "No slips yet" in client.get("/slips").text


def test_a_written_list_is_read_back(client, post):
    args = {
        "name": "Slack tide",
        "style": "linen",
        "shift_blue": "-3",
        "shadows": "0.5",
        "white_balance": "kelvin",
        "kelvin": "4950",
    }
    text = client.get("/take/slip.txt", query_string=args).data
    back = exchange.recipes_in(text, "slack-tide.txt", [])[0].recipe
    dials = {
        "style": "linen",
        "white_balance": "kelvin",
        "kelvin": 4950,
        "shift_amber": 10,
        "shift_green": 3,
        "shadows": 1,
    }
    assert (back.name, back.camera.changed(back.dials)) == ("Slack tide", dials)


@pytest.mark.parametrize(
    ("text", "body", "dials"),
    [
        (
            "Style Linen\r\nShadows +1\r\nsomething else",
            "heron-m2",
            {"style": "linen", "shadows": 1},
        ),
        ("contrast +2, saturation -1", "dunlin-4", {"contrast": 2, "saturation": -1}),
        ("Body: Sandpiper P\nSharpness soft", "sandpiper-p", {"sharpness": "soft"}),
    ],
)
def test_a_pasted_list_finds_the_body_that_knows_it(text, body, dials):
    found = exchange.recipe_in_text(text)
    assert (found.body, found.camera.changed(found.dials)) == (body, dials)


def test_a_list_without_scripts_is_corrected_and_kept_as_a_slip(post, client):
    """The page's own forms: read, corrected by hand, kept with what is no setting in its note."""
    text = "Rain walk\nLinen\nClarity 6\nswirl -2\nShadows +2"
    page = post("/begin/list", {"text": text, "scene": "garden"}).text
    assert "swirl -2" in page
    assert "Clarity goes from -3 to +3 on Heron M2; +3 is nearest to 6." in page
    page = post("/begin/list", {"text": text, "v2": "3", "c4": "-"}).text
    form = re.search(r'<form method="post" action="/slips/save".*?</form>', page, re.S)[0]
    kept = dict(re.findall(r'name="(\w+)"\s+value="([^"]*)"', form))
    to = post("/slips/save", kept, headers={"Accept": "application/json"}).json
    sheet = client.get(f"/slips/{to['slip']}").text
    found = re.search(r"/take/recipe\.plum\.json\?[^\"]*", sheet)[0]
    slip = client.get(found.replace("&amp;", "&")).json
    assert slip["name"] == "Rain walk"
    assert slip["note"] == "Also in the list: swirl -2"
    assert (slip["dials"]["style"], slip["dials"]["clarity"]) == ("linen", 3)
    assert "shadows" not in slip["dials"]


def test_where_a_recipe_came_from_stays_with_its_slip(post, client):
    """Over versions and variants, with what remains, as long as the slip lives."""
    came = "Lamps~heron-m2~style=lamplight~guard=1"
    form = {"name": "Lamps", "body": "sandpiper-p", "style": "ledger", "came": came}
    first = post("/slips/save", form, headers={"Accept": "application/json"}).json
    later = {"name": "Lamps", "body": "sandpiper-p", "slip": first["slip"]}
    later |= {"style": "ledger", "sharpness": "soft"}
    assert post("/slips/save", later, headers={"Accept": "application/json"}).json["version"] == 2
    page = client.get(f"/slips/{first['slip']}").text
    assert "Came from Lamps on Heron M2." in page
    assert "Sandpiper P has no Lamplight; Ledger comes closest." in page
    assert "Came from" in client.get(f"/bench?slip={first['slip']}").text


@pytest.mark.parametrize("text", ['{"a": 1}', "[]", "{style: linen}", ""])
def test_odd_pasted_text_gets_an_answer(post, text):
    answer = post("/begin/list", {"text": text}, follow_redirects=True)
    assert answer.status_code in (200, 400)


@pytest.mark.parametrize(
    "path",
    [
        "/slips/{}/page.html?scene=corner",
        "/wall/page.html?r=slip-{}&r=x~heron-m2~style=ink&scene=corner&scene=table",
    ],
)
def test_a_page_to_send_stands_alone_and_is_small(client, stocked, path):
    page = client.get(path.format(stocked[0])).data
    assert len(page) < 2_000_000
    text = page.decode()
    assert "<script" not in text
    assert set(re.findall(r'(?:src|href)="([^"]{0,20})', text)) == {"data:image/jpeg;base"}
    assert "Slack tide" in text


def test_a_lut_with_an_offset_is_the_look_of_a_stop_more(client):
    """OpenColorIO applies the file; a neutral picture a stop darker comes out as the plain LUT
    makes the picture itself."""
    recipe = named("Offset", style="linen", shadows=1)
    light = np.linspace(0.02, 0.4, 60, dtype=np.float32)
    grey = np.repeat(light[:, None], 3, 1)
    found = []
    for offset, scale in ((0.0, 1.0), (1.0, 0.5)):
        text = lut.cube(recipe, 65, "acescct", offset)
        transform = ocio.Lut3DTransform(gridSize=65)
        rows = np.array(
            [line.split() for line in text.splitlines() if line[:1].isdigit()], float
        ).reshape(65, 65, 65, 3)
        transform.setData(rows.transpose(2, 1, 0, 3).astype(np.float32).ravel())
        transform.setInterpolation(ocio.INTERP_TETRAHEDRAL)
        log = ((np.log2(np.maximum(grey * scale, 1e-6)) + 9.72) / 17.52).astype(np.float32)
        ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor().applyRGB(log)
        found.append(log)
    assert np.abs(found[0] - found[1]).max() < 0.004
    assert "Exposure offset: +1 stops" in client.get("/take/look.cube?offset=1&size=5").text
    assert client.get("/take/look.clf?offset=7").status_code == 400


def test_a_backup_comes_back_into_an_empty_and_a_full_library(client, post, stocked, app, tmp_path):
    photo = np.random.default_rng(1).integers(0, 255, (64, 96, 3), np.uint8)
    own = post("/take-in", {"file": (io.BytesIO(file_of(photo)), "pier.png")}, headers=JSON).json[
        "scene"
    ]
    post("/slips/save", {"name": "Soot", "style": "ink", "grain": "2", "slip": stocked[1]})
    post(f"/slips/{stocked[1]}/duplicate")
    post("/slips/tag", {"id": stocked[0], "tag": "keep"})
    blind = {"r": ["A~heron-m2", "B~heron-m2~colour=1"], "scene": "corner", "person": "loft crew"}
    post(
        post("/blind/begin", blind).headers["Location"] + "/answer",
        {"number": "0", "choice": "left"},
    )
    saved = client.get("/backup.zip").data

    def seen():
        pages = [client.get(f"/slips/{k}").text for k in (stocked[1], stocked[0])]
        return [
            re.sub(
                r'name="(csrf_token|once)"\s*value="[^"]+"',
                "",
                p[p.index("<main") : p.index("</main>")],
            )
            for p in pages
        ]

    before = seen()

    def restore(data, how):
        return post("/restore", {"file": (io.BytesIO(data), "b.zip"), "how": how}, headers=JSON)

    # A damaged one, in any place, changes nothing.
    post("/slips/delete", {"id": stocked[2]})
    now = client.get("/slips").text.count("<article")
    for cut in (
        saved[: len(saved) // 2],
        saved[:200] + bytes(60) + saved[260:],
        b"",
        b"PK\x05\x06" + bytes(18),
    ):
        answer = restore(cut, "replace")
        assert answer.status_code == 400
        assert "nothing was changed" in answer.json["error"]
    assert client.get("/slips").text.count("<article") == now
    # Full library, added: all is known. Replaced: as it was, and what was there is kept.
    restore(saved, "add")
    assert "5 were there already" in client.get("/slips").text
    restore(saved, "replace")
    assert seen() == before
    assert len(list((tmp_path / "data").glob("before-restore-*.zip"))) == 1
    # Another, empty library.
    another = create_app(tmp_path / "other")
    another.test_client_class = Reader
    other = another.test_client()
    token = re.search(r'csrf-token" content="([^"]+)"', other.get("/slips").text)[1]
    other.post(
        "/restore", data={"file": (io.BytesIO(saved), "b.zip"), "how": "add", "csrf_token": token}
    )
    page = other.get("/slips").text
    assert "5 slips and 1 pictures came back" in page
    assert "keep <small>1" in page
    assert f'data-scene="{own}"' in other.get("/bench").text
    assert "Soot, variant" in other.get("/slips/2").text  # the family is kept
    assert "loft crew, 2 recipes" in (rounds := other.get("/blind").text)
    assert "1 answer," in rounds


def test_ten_thousand_slips_are_a_page_at_a_time(client, stocked):
    first = client.get("/slips?part=cards&after=2&sort=oldest").text
    assert re.findall(r"<h2><a[^>]*>([^<]*)<", first) == ["Slack tide", "=SUM(1)"]
    assert client.get("/slips?sort=size").status_code == 400
    assert client.get("/slips?after=-1").status_code == 400
    assert [s["name"] for s in client.get("/find.json?q=soo").json] == ["Soot"]


def test_thousands_deleted_together_come_back_together(client, post, app):
    with database.connect(app.config["DATABASE"]) as db, database.transaction(db):
        for k in range(1200):
            slips.add(db, named(f"Slip {k}", noise_filter=k % 5), NOW)
    db.close()
    post("/slips/delete", {"id": "7"})
    post("/slips/delete", {"all": "1", "q": "noise_filter>0"})
    page = client.get("/slips").text
    assert "240 slips" in page
    assert "Put all 960 back" in page
    post(re.search(r'action="(/slips/restore\?at=[^"]+)"', page[page.rindex("were deleted") :])[1])
    assert (
        "1,199 slips" in client.get("/slips").text
    )  # the one that was deleted before stays deleted
    post("/slips/restore", {"everything": "1"})
    assert "1,200 slips" in client.get("/slips").text


def test_saving_makes_a_version_of_what_changed_and_says_who_came_between(client, post):
    """A recipe that is the latest already makes none; a version that another page has saved
    meanwhile is named."""
    made = {"name": "Tide", "body": "heron-m2", "style": "linen"}

    def save(**more):
        answer = post("/slips/save", made | more, headers={"Accept": "application/json"})
        return answer.json, client.get("/slips").text

    first, _ = save()
    same, page = save(slip=first["slip"], offered=2)
    assert same["version"] == 1
    assert "Nothing is changed: &#39;Tide&#39; stays at version 1." in page
    second, page = save(slip=first["slip"], style="kelp", offered=2)
    assert second["version"] == 2
    assert "came in from somewhere else" not in page
    third, page = save(slip=first["slip"], style="ink", offered=2)
    assert third["version"] == 3
    assert "Version 2 came in from somewhere else while you worked; it is kept." in page

"""Cards, sheets and codes: read back by other programs, in any language, after what happens to
pictures on their way."""

import io
import json
import re
import shutil
import subprocess
from dataclasses import replace

import cv2
import numpy as np
import pytest
import zxingcpp
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.builders import named
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import bodies
from zesty_plum.core.paper import card, code, faces, pdf, scan
from zesty_plum.core.pictures import metadata, write
from zesty_plum.core.recipe import Intent, make

TEXT = st.text(st.characters(exclude_categories=["Cs"]), max_size=60)
LONG = (
    "Grey days with faces near; soft whites, cool shade left a little cool, and nothing "
    "under lamps. " * 30
)
RENDERS = [
    cv2.GaussianBlur(np.random.default_rng(k).integers(0, 255, (360, 540, 3), np.uint8), (0, 0), 9)
    for k in range(3)
]
SLACK = named(
    "Slack tide",
    note="Overcast, no faces near the frame edge.",
    author="pier crew",
    style="linen",
    guard=1,
    shift_amber=20,
    shift_green=1,
    highlights=-1,
    shadows=1,
    colour=1,
    sharpness=-2,
    noise_filter=2,
    grain="flour",
)


@st.composite
def recipes(draw):
    camera = draw(st.sampled_from(list(bodies().values())))
    dials = {d.id: draw(st.sampled_from(d.values)) for d in camera.dials if draw(st.booleans())}
    name = draw(TEXT.filter(lambda t: t.strip() != ""))
    extra = draw(
        st.dictionaries(st.sampled_from(["rating", "x-lens"]), st.integers() | TEXT, max_size=2)
    )
    return replace(
        make(
            name,
            camera.id,
            dials,
            intent=draw(st.sampled_from(Intent)),
            note=draw(TEXT),
            author=draw(TEXT),
        ),
        extra=extra,
    )


@settings(max_examples=150)
@given(recipes(), TEXT)
def test_any_recipe_comes_back_from_its_code_whatever_is_around_it(recipe, around):
    text = code.pack(recipe)
    assert set(text) <= set(
        "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ $%*+-./:"
    )  # what a square code packs tightest
    assert code.unpack(text) == recipe
    assert code.unpack(f"<{text[:30]}\n{text[30:].lower()}>") == recipe


def test_a_code_of_the_first_version_is_read_for_ever():
    # Written down on 25 November 2026; if this fails, codes on printed cards are lost.
    first = (
        "ZP1:VMWLJK4GGGBECCKWUESBG3BW2RECJZLQ3PIEGEQ2TODDVMFQG3KEDDQREMOZJSGSGVDMTK2WXKDDVCBYG3IDHV"
        "MBI46UIAUWEJ2I25GQ2KFWCLKSZAAVGVTGOFDGUCVOECDMNAD7LFVFCMRQBHVSRZHFFOSCKJVHCYV6"
        "JJJGCYUZIZFEFK"
        "AIWFAFKBWOUKOVAIAA"
    )
    found = code.unpack(first)  # of the first edition of its body
    assert found == SLACK
    assert found.carried[0] == "Written for the first edition of Heron M2 and carried over."


@given(st.integers(0, 10**6), st.sampled_from("ABCDEFGHIJKLMNOPQRSTUVWXYZ234567"))
def test_a_damaged_code_is_refused_with_a_sentence(at, letter):
    text = code.pack(SLACK)
    at = len(code.HEAD) + at % (len(text) - len(code.HEAD))
    damaged = text[:at] + letter + text[at + 1 :]
    try:
        found = code.unpack(damaged)
    except PlumError as error:
        said = str(error)
        assert re.search("damaged|no recipe", said)
        return
    # The last letters hold bits that say nothing; everywhere else a wrong one is noticed.
    assert found == SLACK
    assert damaged == text or at >= len(text) - 3


def test_text_without_a_code_is_refused_with_a_sentence():
    with pytest.raises(PlumError, match="no recipe code"):
        code.unpack("just a list of settings")


@pytest.mark.parametrize("shape", card.SHAPES)
@pytest.mark.parametrize(
    "recipe",
    [SLACK, replace(SLACK, name="夕方の港 " * 6, note=LONG, author="קבוצת הרציף")],
    ids=["short", "long"],
)
def test_a_card_is_read_back_after_a_poor_copy_of_it(shape, recipe):
    """JPEG at quality 40, then 600 pixels on the short side: read by ours, and by OpenCV's reader,
    which is another program."""
    made = Image.fromarray(card.draw(recipe, RENDERS, shape, 3))
    poor = io.BytesIO()
    made.save(poor, "JPEG", quality=40)
    scale = 600 / min(made.size)
    small = Image.open(poor).resize(
        (round(made.width * scale), round(made.height * scale)), Image.Resampling.BICUBIC
    )
    out = io.BytesIO()
    small.save(out, "JPEG", quality=40)
    found = scan.scan(out.getvalue())
    whole = code.fitting(recipe)[1]
    assert (found == recipe) is whole
    assert (found.name, found.dials, found.author) == (recipe.name, recipe.dials, recipe.author)
    text, *_ = cv2.QRCodeDetector().detectAndDecode(np.asarray(made))
    assert code.unpack(text) == found


def test_metadata_of_a_card_is_the_whole_recipe_even_when_the_code_is_not():
    recipe = replace(SLACK, note=LONG[:3900])
    for kind in (".png", ".jpg"):
        assert metadata.find(write.file_of(card.draw(recipe, RENDERS[:1]), recipe, kind)) == recipe


@pytest.mark.skipif(not shutil.which("exiftool"), reason="exiftool is not installed")
def test_exiftool_reads_the_recipe_of_a_card(tmp_path):
    for kind in ("png", "jpg"):
        path = tmp_path / f"card.{kind}"
        named = replace(SLACK, name="Bøye über 日")
        path.write_bytes(write.file_of(card.draw(named, RENDERS), named, f".{kind}"))
        said = json.loads(
            subprocess.run(
                ["exiftool", "-json", "-G0", str(path)], capture_output=True, check=True
            ).stdout
        )[0]
        assert json.loads(said["XMP:Recipe"])["dials"]["shift_amber"] == 20
        assert said["EXIF:Software"] == "Zesty Plum"
        assert said["EXIF:ImageDescription"] == "Rendered with the look recipe 'Bøye über 日'"
        assert "EXIF:Make" not in said
        assert said["ICC_Profile:ProfileDescription"].startswith("sRGB")


WORDS = [
    "Slack tide",
    "Übergrößenträger",
    "Γκρίζες μέρες",
    "Серые дни",
    "أيام رمادية",
    "灰色の日に",
    "회색 날",
    "Đường ven biển",
    "धूसर दिन, ধূসর দিন, சாம்பல் நாள்",
    "วันสีเทา ថ្ងៃប្រផេះ ግራጫ ቀን",
    "🌫 fog",
]


@pytest.mark.parametrize("text", [*WORDS, " ".join(WORDS), "x" * 120, "W" * 119, "很" * 120])
@pytest.mark.parametrize("shape", card.SHAPES)
def test_text_of_any_language_and_length_stays_inside_the_card(text, shape):
    """Ink only where paper is: the margins right and below stay clean, and every letter has a face
    that holds it."""
    recipe = replace(SLACK, name=text[:120], note=text * 8, author=text)
    made = card.draw(recipe, RENDERS, shape, 12)
    left, top, right, bottom = card.SHAPES[shape].paper
    paper = made[top + 12 : bottom, left:right].astype(int)
    for margin in (paper[150:, -28:], paper[-28:, 20:]):
        assert np.abs(margin - np.array([0xFB, 0xFA, 0xF7])).max() == 0
    known = frozenset().union(*(faces._covers(f) for f in ("head", *faces.OTHERS)))
    assert {c for c in text if ord(c) not in known and not c.isspace()} <= {
        "🌫"
    }  # no face has that one


@pytest.mark.parametrize("body_id", list(bodies()))
def test_papers_name_all_that_a_used_body_must_be_brought_to(body_id):
    """What was turned in the table, all else that counts in the small print, each as printed."""
    camera = bodies()[body_id]
    dials = {
        d.id: next(v for v in reversed(d.values) if v != d.default)
        for d in camera.dials
        if len(d.values) > 1
    }
    for some in (dials, {}, dict(list(dials.items())[:5])):
        recipe = make("All", body_id, some)
        listed, rest = card.rows(recipe)
        for dial in camera.dials:
            if not camera.counts(dial, recipe.dials):
                continue
            printed = dial.choice(recipe.dials[dial.id]).label
            if dial.id in camera.changed(recipe.dials) or dial.id == "style":
                assert (dial.label, printed) in listed
            else:
                assert f"{dial.label} {printed}" in rest


@pytest.mark.skipif(not shutil.which("pdftotext"), reason="poppler is not installed")
@pytest.mark.parametrize("kind", ["page", "pocket"])
def test_poppler_reads_the_sheets(tmp_path, kind):
    names = ["Slack tide", "夕方の港", "Серые дни", *(f"Slip {k}" for k in range(12))]
    render = RENDERS[0] if kind == "page" else None
    slips = [
        pdf.Slip(
            replace(SLACK, name=n, note=SLACK.note + " Long." * 200 * (n == "Slip 3")), 2, render
        )
        for n in names
    ]
    path = tmp_path / "sheets.pdf"
    path.write_bytes(pdf.sheets(slips, kind))
    text = subprocess.run(
        ["pdftotext", "-layout", str(path), "-"], capture_output=True, check=True, text=True
    ).stdout
    assert all(n in text for n in names)
    assert text.count("Linen") == len(names)
    assert text.count("Overcast, no faces near the frame edge.") == len(names)
    # A telephone held over the paper: every code is read, whatever the note's length.
    subprocess.run(["pdftoppm", "-r", "200", "-gray", str(path), str(tmp_path / "p")], check=True)
    pages = [np.asarray(Image.open(p)) for p in sorted(tmp_path.glob("p-*.pgm"))]
    codes = [
        f.text
        for p in pages
        for f in zxingcpp.read_barcodes(p, zxingcpp.BarcodeFormats(zxingcpp.BarcodeFormat.QRCode))
    ]
    seen = [code.unpack(text) for text in codes]
    assert sorted(r.name for r in seen) == sorted(names)
    assert all(r.dials == SLACK.dials for r in seen)
    info = subprocess.run(["pdfinfo", str(path)], capture_output=True, check=True, text=True).stdout
    assert f"Pages:           {15 if kind == 'page' else 2}" in info

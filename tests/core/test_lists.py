"""Reading written lists: a corpus in many hands, everything printed by us, and the protocol."""

import tomllib
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zesty_plum.core import recipe as recipes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import bodies
from zesty_plum.core.exchange import recipe_in_text, written
from zesty_plum.core.lists import Kind, read_list
from zesty_plum.core.lists.read import Choice
from zesty_plum.core.lists.tokens import words

CORPUS = tomllib.loads((Path(__file__).parent / "lists.toml").read_text("utf-8"))["list"]
SIGNS = {"+": ("+", "", "＋", "+ ", "plus "), "-": ("-", "−", "–", "- ", "minus ")}
LINKS = (": ", " ", " = ", ":", "\t", " : ", " .... ", " - ")


@pytest.mark.parametrize("case", CORPUS, ids=[c["text"][:30] for c in CORPUS])
def test_lists_in_many_hands(case):
    """What a careful reader took from each beforehand, and nothing else."""
    read = read_list(case["text"], case.get("body", "heron-m2"))
    assert read.dials == case["dials"]
    assert [p.text for p in read.open] == case.get("open", [])
    assert read.name == case.get("name", read.name)


def test_the_corpus_is_large_enough():
    assert len(CORPUS) >= 80


@pytest.mark.parametrize("body", bodies())
@given(data=st.data())
def test_what_a_body_prints_is_read_back(body, data):
    """Every dial at any place, in any order, spacing and style of signs."""
    camera = bodies()[body]
    dials = {d.id: data.draw(st.sampled_from(d.values), label=d.id) for d in camera.dials}
    link = data.draw(st.sampled_from(LINKS))

    def printed(dial):
        label = dial.choice(dials[dial.id]).label
        sign = label[0] if label[0] in SIGNS and link != " - " else ""
        return data.draw(st.sampled_from(SIGNS[sign])) + label[1:] if sign else label

    lines = [f"{d.label}{link}{printed(d)}" for d in data.draw(st.permutations(camera.dials))]
    end = data.draw(st.sampled_from(("\n", "\n\n", "; ", ",\n", "\r\n")))
    text = end.join(["my best one!", *lines])
    read = read_list(text, camera)
    assert read.dials == dials, text
    assert (read.name, read.open) == ("my best one!", ())


@given(st.data())
def test_a_written_recipe_comes_back_whole(data):
    camera = bodies()[data.draw(st.sampled_from(list(bodies())))]
    dials = {d.id: data.draw(st.sampled_from(d.values), label=d.id) for d in camera.dials}
    made = recipes.make("Slack tide", camera.id, dials)
    note = "Overcast.\n\nSharpness: +4 was too much; by the way, 5600 K too"
    intent = data.draw(st.sampled_from(recipes.Intent))
    made = replace(made, intent=intent, note=note, author="pier crew")
    assert recipe_in_text(written(made)) == made


LETTERS = "abz RB+-−½,.:;=/|()\n\t 0123456789Kk%é…"
SCRAPS = [
    "Style",
    "Linen",
    "WB",
    "red",
    "ISO",
    "to",
    "highlights",
    "grain",
    "strong",
    "note:",
    "f/2",
]


@given(
    st.lists(
        st.one_of(st.sampled_from(SCRAPS), st.text(LETTERS, max_size=6), st.text(max_size=4)),
        max_size=40,
    ).map(" ".join),
    st.sampled_from(list(bodies())),
)
def test_nothing_vanishes_and_no_text_breaks_the_reader(text, camera):
    """Every letter and figure stands in a piece, and the pieces follow each other."""
    read = read_list(text, camera)
    assert read.recipe.camera.id == camera
    shown = "".join(c for p in read.pieces for c in p.text if c.isalnum())
    at = 0
    for piece in read.pieces:
        assert piece.start >= at
        assert text[piece.start : piece.end] == piece.text
        at = piece.end
    small = {"and", "with", "und", "mit", "et", "avec", "y", "con", "e", "en", "met"}
    left = "".join(c for c in text if c.isalnum())
    assert len(shown) >= len(left) - sum(len(w) for w in words(text) if w in small)


# What is written | how it is understood | what is said of it, on Heron M2.
SAID = """
Shadows -0.7, x | rounded | -0.7 lies between -1 and 0; -1 is nearer.
Shadows 1.5 | rounded | 1.5 lies midway between +1 and +2; the smaller is taken.
5600K | rounded | 5600 K is not on this dial; 5620 K is nearest, 0.6 mired away.
Exposure -1/3 to +1 | rounded | A range; +1/3 is nearest to its middle.
WB 5500-6000K | rounded | A range; 5810 K is nearest to its middle.
dynamic range 400% | nearest | 400 % is 2 stops here.
dynamic range 800% | nearest | 800 % would be 3 stops; Heron M2 goes to 2 stops.
NR -4 | nearest | Noise filter goes from 0 to 5 on Heron M2. -4 on a scale of -4 to +4 is 0 here.
grain weak | nearest | Grain is none, flour, salt, sand, grit on Heron M2; 'weak' is taken as flour.
Clarity 6 | nearest | Clarity goes from -3 to +3 on Heron M2; +3 is nearest to 6.
amber 20 mired | taken | 
pink to green -0.004 Duv | taken | 
Sharpness 50 | unclear | Sharpness goes from -3 to +3 on Heron M2; 50 must be of another scale.
wb cloudy | nearest | Heron M2 has no 'cloud'; 6250 K comes nearest.
contrast +2 | nearest | Heron M2 has no contrast; highlights +1 and shadows -1 come nearest.
black level 2 | lacking | Heron M2 has no black level.
Sharpnes -1 | guessed | 'Sharpnes' is read as sharpness.
Driftwod | guessed | 'Driftwod' is read as Driftwood.
monochrome | guessed | 'monochrome' is read as Ink.
Sharpness - 2 | guessed | The dash is read as a minus.
shift 2 -4 | guessed | Read as red, then blue: blue to amber +25 mired and pink to green +0.002 Duv.
sharqnext 4 | unclear | Heron M2 has nothing of that name. Did you mean Sharpness?
swirl -2 | unclear | Heron M2 has nothing of that name.
Grain: | unclear | No value for grain stands here.
shadows +1 | taken | On Heron M2 plus is brighter; some bodies count the other way.
lens 35mm | beside | Stands beside a look; kept in the note.
"""


@pytest.mark.parametrize("case", SAID.strip().splitlines())
def test_the_protocol_says_what_was_made_of_a_piece(case):
    text, kind, said = case.split(" | ")
    piece = read_list(text, "heron-m2").pieces[0]
    assert (piece.kind, piece.said) == (kind, said)


def test_a_shift_of_three_is_steps_and_not_mired():
    piece = read_list("amber 3", "heron-m2").pieces[0]
    assert piece.said == (
        "Blue to amber goes from -50 mired to +50 mired on Heron M2. "
        "+3 on a scale of -9 to +9 is +10 mired here."
    )


def test_shifts_of_other_axes_come_to_the_same_light():
    """Amber and green in steps of 3 mired and 0.0012 Duv, red and blue in 2.5 mired and -0.001: of
    these every second place is there."""
    for amber, green in ((6, 1), (3, -2), (-4, 3), (1, 2)):
        read = read_list(f"amber {amber:+d}, green {green:+d}", "wader-v1").dials
        red, blue = read.get("shift_red", 0), read.get("shift_blue", 0)
        assert abs(2.5 * (red - blue) - 3 * amber) <= 2.6
        assert abs(-0.001 * (red + blue) - 0.0012 * green) <= 0.0011


def test_what_is_set_twice_stands_where_it_was_set_first():
    read = read_list("Sharpness -1\nSharpness +2\nSharpness -1")
    assert [p.kind for p in read.pieces] == [Kind.TAKEN, Kind.REPEATED, Kind.REPEATED]
    assert read.pieces[1].said == "The sharpness is set above; the first one counts."
    assert read.dials == {"sharpness": -1}
    beyond = read_list("Clarity 2\nClarity 6\nshift 1 2")
    assert beyond.dials == {"clarity": 2, "shift_amber": -5, "shift_green": -3}
    # What stands in for something this body lacks comes on top.
    on_top = read_list("Highlights -1\nContrast +2", "heron-m2")
    assert on_top.dials == {"highlights": 0, "shadows": -1}


def test_a_text_too_long_to_be_a_list_is_refused_not_cut():
    with pytest.raises(PlumError, match=r"has 9,000 letters; a list of settings may have 8,000"):
        read_list("x" * 9000)


@pytest.mark.parametrize("text", ["Shadows {}", "{}", "{} x 2", "1 {}/{}", "f/{}", "-{} K"])
def test_a_number_without_end_sets_nothing(text):
    assert read_list(text.replace("{}", "9" * 900), "heron-m2").dials == {}


def test_a_reader_corrects_a_piece():
    """Another place, another dial (which takes the number along), or left out."""
    text = "Clarity 6\nTexture -2\nGrain strong"
    chosen = {0: Choice(value=3), 1: Choice("sharpness"), 2: Choice(out=True)}
    read = read_list(text, "heron-m2", chosen)
    assert [p.kind for p in read.pieces] == [Kind.CHOSEN, Kind.CHOSEN, Kind.LEFT_OUT]
    assert read.dials == {"clarity": 3, "sharpness": -2}


def test_a_correction_goes_before_what_the_list_says_elsewhere():
    read = read_list("Sharpness -1\nTexture +3", "heron-m2", {1: Choice("sharpness")})
    assert read.dials == {"sharpness": 3}
    assert read.pieces[0].kind is Kind.REPEATED


def test_the_body_that_a_list_names_is_the_one_it_is_read_for():
    text = "Wader V1\nDetail +2"
    assert read_list(text, prefer="heron-m2").camera.id == "wader-v1"
    assert read_list(text, "heron-m2").camera.id == "heron-m2"
    assert read_list("Detail +2", prefer="heron-m2").camera.id == "heron-m2"


def test_what_is_no_setting_is_kept_in_the_note():
    made = read_list("Linen\nLens 35mm\nvignette -2\nNote: for rain").recipe
    assert made.note == "for rain\n\nAlso in the list:\nLens 35mm\nvignette -2"

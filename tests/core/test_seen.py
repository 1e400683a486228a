"""The one table of what can be seen: every row speaks both ways, in exactly its words, and no
sooner than something is seen."""

import re
from dataclasses import replace

import colour
import numpy as np
import pytest

from tests.builders import HERON, flat_scene
from zesty_plum.core import seen
from zesty_plum.core.develop.pipeline import Picture
from zesty_plum.core.judge.beside import in_words, price
from zesty_plum.core.judge.effects import told
from zesty_plum.core.judge.grading import bands_in_words
from zesty_plum.core.judge.liked import in_common
from zesty_plum.core.judge.naming import adjectives
from zesty_plum.core.judge.ranking import Choice, Place, Ranking
from zesty_plum.core.look import Look
from zesty_plum.core.measure.figures import measure
from zesty_plum.core.measure.report import Blur, Cast, Curve, Detail, Figures, Flags, Report, Skin
from zesty_plum.core.recipe import make

FRAME = Figures(
    share=1.0,
    clipped=0.05,
    crushed=0.05,
    lightness=50.0,
    lights=80.0,
    darks=10.0,
    spread=4.0,
    chroma=20.0,
    chroma_high=40.0,
    colour=20.0,
    a=1.0,
    b=2.0,
    hue=60.0,
    from_plain=3.0,
    from_plain_high=6.0,
    noise=1.0,
    colour_noise=1.0,
    full=0.0,
)
BASE = Report(
    frame=FRAME,
    regions={"foliage": FRAME, "sky": FRAME, "red": FRAME},
    cast=Cast(
        a=0.0, b=0.0, mired=0.0, duv=0.0, shown=0.0, shown_duv=0.0, unmeant=0.0, unmeant_duv=0.0
    ),
    skin=Skin(off_line=0.0, chroma=20.0, lightness=60.0, darker=0.0),
    curve=Curve(
        contrast=1.2,
        stops=8.0,
        grey=0.46,
        middle=30.0,
        reach=75.0,
        codes_8=9.0,
        codes_10=36.0,
        graded_8=9.0,
        graded_10=36.0,
        stretch=1.2,
    ),
    iso=400.0,
    blur=Blur(people=1.0, hand=0.5, time=0.008),
    detail=Detail(
        overshoot=0.02,
        mtf50=0.25,
        kept=0.8,
        skin_kept=0.7,
        rest_kept=1.0,
        grain=0.02,
        grain_size=2.5,
    ),
    flags=Flags(monochrome=0.0, vivid=1.0, bias=0.0),
)


def moved(path: str, value: float, base: Report = BASE) -> Report:
    group, _, name = path.partition(".")
    if group == "regions":
        region, _, name = name.partition(".")
        part = replace(base.regions[region], **{name: value})
        return replace(base, regions={**base.regions, region: part})
    part = value if not name else replace(getattr(base, group), **{name: value})
    return replace(base, **{group: part})


# For every row: two values two just visible changes apart, and all that is said of the second
# beside the first, and of the first beside the second: (beside, step, cost, liked, name).
BETWEEN = "by 3.5 units of lightness between two stops"
ROWS = {
    "skin.darker": (
        (0.0, 0.24),
        ("", "darkens faces by 0.2 stops", "faces get 0.2 stops darker", "", ""),
        ("", "lightens faces by 0.2 stops", "faces get 0.2 stops lighter", "", ""),
    ),
    "iso": (
        (400.0, 640.0),
        ("", "", "the ISO goes from 400 to 640", "", ""),
        ("", "", "", "", ""),
    ),
    "frame.crushed": (
        (0.05, 0.07),
        (
            "",
            "closes 7.0 % of the frame to black instead of 5.0 %",
            "7.0 % of the frame closes to black",
            "",
            "",
        ),
        ("", "closes 5.0 % of the frame to black instead of 7.0 %", "", "", ""),
    ),
    "frame.clipped": (
        (0.05, 0.07),
        (
            "clips 2.0 % more of the frame",
            "clips 7.0 % of the frame instead of 5.0 %",
            "7.0 % of the frame clips",
            "more clipped, by 2.0 % of the frame",
            "",
        ),
        (
            "clips 2.0 % less of the frame",
            "clips 5.0 % of the frame instead of 7.0 %",
            "",
            "less clipped, by 2.0 % of the frame",
            "",
        ),
    ),
    "frame.colour": (
        (20.0, 22.5),
        (
            "fuller colours",
            "adds 12 % of colour",
            "colour gets 12 % stronger",
            "fuller in colour, by 2.5 of chroma",
            "Full",
        ),
        (
            "quieter colours",
            "takes 11 % of colour",
            "colour gets 11 % weaker",
            "quieter in colour, by 2.5 of chroma",
            "Quiet",
        ),
    ),
    "frame.lightness": (
        (50.0, 54.2),
        (
            "lighter",
            "lightens the picture by 4.2 units of lightness",
            "the whole picture gets 4.2 units of lightness lighter",
            "lighter, by 4.2 units of lightness",
            "Bright",
        ),
        (
            "darker",
            "darkens the picture by 4.2 units of lightness",
            "the whole picture gets 4.2 units of lightness darker",
            "darker, by 4.2 units of lightness",
            "Low",
        ),
    ),
    "cast.mired": (
        (0.0, 11.0),
        ("", "warms greys by 11 mired", "", "", ""),
        ("", "cools greys by 11 mired", "", "", ""),
    ),
    "cast.shown": (
        (0.0, 11.0),
        ("warmer", "", "", "warmer, by 11 mired", "Warm"),
        ("cooler", "", "", "cooler, by 11 mired", "Cool"),
    ),
    "cast.shown_duv": (
        (0.0, 0.0025),
        ("greener", "", "", "", ""),
        ("more magenta", "", "", "", ""),
    ),
    "cast.duv": (
        (0.0, 0.0025),
        ("", "moves greys 0.0025 Duv towards green", "", "", ""),
        ("", "moves greys 0.0025 Duv towards magenta", "", "", ""),
    ),
    "curve.contrast": (
        (1.2, 1.35),
        ("", "raises contrast at mid grey to 1.35", "", "", ""),
        ("", "lowers contrast at mid grey to 1.20", "", "", ""),
    ),
    "curve.middle": (
        (30.0, 33.5),
        (
            "firmer in the middle",
            "",
            "",
            "firmer, by 3.5 units of lightness between two stops",
            "Firm",
        ),
        (
            "softer in the middle",
            "",
            "",
            "softer, by 3.5 units of lightness between two stops",
            "Soft",
        ),
    ),
    "frame.lights": (
        (80.0, 84.2),
        ("brighter highlights", "", "", "", ""),
        ("softer highlights", "", "", "", ""),
    ),
    "frame.darks": (
        (10.0, 14.2),
        ("more open shadows", "", "", "", ""),
        ("deeper shadows", "", "", "", ""),
    ),
    "curve.stops": (
        (8.0, 8.6),
        ("", "holds 0.6 stops more from black to white", "", "", ""),
        ("", "holds 0.6 stops less from black to white", "", "", ""),
    ),
    "frame.spread": (
        (4.0, 4.6),
        ("", "spreads tones by 0.6 stops more", "", "", ""),
        ("", "draws tones together by 0.6 stops", "", "", ""),
    ),
    "skin.off_line": (
        (0.0, 4.0),
        ("skin yellower", "turns skin 4.0 degrees towards yellow", "", "", ""),
        ("skin redder", "turns skin 4.0 degrees towards red", "", "", ""),
    ),
    "skin.lightness": (
        (60.0, 64.0),
        ("skin lighter", "", "", "", ""),
        ("skin darker", "", "", "", ""),
    ),
    **{
        f"regions.{region}.lightness": (
            (50.0, 54.0),
            ("", f"lightens {what} by 4.0 units of lightness", "", "", ""),
            ("", f"darkens {what} by 4.0 units of lightness", "", "", ""),
        )
        for region, what in (("foliage", "leaves"), ("sky", "the sky"), ("red", "reds"))
    },
    "detail.grain": (
        (0.02, 0.033),
        (
            "more grain",
            "adds 1.3 % of grain",
            "",
            "grainier, by 1.3 % of grain",
            "Grainy",
        ),
        ("less grain", "takes 1.3 % of grain", "", "cleaner, by 1.3 % of grain", ""),
    ),
    "detail.mtf50": (
        (0.25, 0.28),
        ("crisper", "makes fine detail 12 % crisper", "", "", ""),
        ("softer detail", "makes fine detail 11 % softer", "", "", ""),
    ),
    "detail.overshoot": (
        (0.02, 0.03),
        ("", "makes edges overshoot by 3.0 % of full scale", "", "", ""),
        ("", "makes edges overshoot by 2.0 % of full scale", "", "", ""),
    ),
    "detail.kept": (
        (0.8, 0.9),
        ("", "keeps 90 % of fine detail", "", "", ""),
        ("", "keeps 80 % of fine detail", "", "", ""),
    ),
    "detail.skin_kept": (
        (0.7, 0.8),
        ("more texture in skin", "keeps 80 % of skin's texture", "", "", ""),
        ("smoother skin", "keeps 70 % of skin's texture", "", "", ""),
    ),
    "blur.people": (
        (1.0, 5.0),
        ("people more blurred", "blurs people by 5 pixels", "people blur by 5 pixels", "", ""),
        ("people sharper", "blurs people by 1 pixel instead of 5 pixels", "", "", ""),
    ),
    "frame.noise": (
        (1.0, 1.25),
        ("", "shows 25 % more noise", "", "", ""),
        ("", "shows 20 % less noise", "", "", ""),
    ),
}


def ranked(order: list[int]) -> Ranking:
    return Ranking([Place(k, 0, 0, 0, 0) for k in order], 1.0)


def said(was: Report, now: Report) -> tuple[str, ...]:
    """What each part of the program says of the second beside the first."""
    steps = [e.words for e in told(was, now)]
    recipes = [make(name, HERON.id, {}) for name in "ab"]
    choices = [Choice(k % 2, 1 - k % 2, 0, float(k % 2)) for k in range(8)]
    liked = in_common(ranked([1, 0]), recipes, choices, lambda look, scene: (was, now)[look])
    like = [
        re.sub(r"You preferred the (.*) of two(.*) on average: in 8 of 8 .*", r"\1\2", s)
        for s in liked
    ]
    parts = (in_words(was, now), steps, [price(was, now)], like, adjectives(was, now))
    assert all(len(p) <= 1 for p in parts)
    return tuple(p[0] if p else "" for p in parts)


def test_the_cases_are_all_rows():
    assert list(ROWS) == [f.at for f in seen.FIGURES]
    assert all(len(f.source) > 10 and f.least > 0 for f in seen.FIGURES)


@pytest.mark.parametrize("path", ROWS)
def test_a_row_speaks_both_ways_in_its_own_words(path):
    (low, high), more, less = ROWS[path]
    one, two = moved(path, low), moved(path, high)
    assert said(one, two) == more
    assert said(two, one) == less


@pytest.mark.parametrize("figure", seen.FIGURES, ids=lambda f: f.at)
def test_nothing_is_said_below_what_is_seen(figure):
    was = BASE.value(figure.at)
    unit = figure.least * (abs(was) if figure.relative else 1)
    for sign in (1, -1):
        almost = moved(figure.at, was + sign * 0.95 * unit)
        assert in_words(BASE, almost) == []
        assert price(BASE, almost) == ""
        assert adjectives(BASE, almost) == []
        assert told(BASE, moved(figure.at, was + sign * 0.2 * unit)) == []
        assert adjectives(BASE, moved(figure.at, was + sign * 1.9 * unit)) == []
        if figure.beside:
            assert len(in_words(BASE, moved(figure.at, was + sign * 1.05 * unit))) == 1


def test_degrees_are_told_apart():
    for size, words in ((1.2, "a little lighter"), (2.0, "lighter"), (3.5, "much lighter")):
        there = moved("frame.lightness", 50 + size * seen.LIGHT)
        assert in_words(BASE, there) == [words]


def test_the_strongest_comes_first_and_the_gravest_price():
    both = moved("frame.lightness", 60.0, moved("cast.shown", 6.0))
    assert in_words(BASE, both) == ["much lighter", "a little warmer"]
    assert adjectives(BASE, moved("cast.shown", 40.0, both)) == ["Warm", "Bright"]
    dear = moved("skin.darker", -0.3, moved("frame.clipped", 0.3))
    assert price(BASE, dear) == "faces get 0.3 stops lighter"


def test_without_colour_nothing_is_said_of_colour():
    grey = replace(BASE, flags=Flags(monochrome=1.0, vivid=0.0, bias=0.0))
    other = moved("cast.shown", 50.0, moved("frame.colour", 1.0, grey))
    assert in_words(BASE, other) == ["without colour"]
    assert in_words(other, BASE) == ["in colour"]
    assert adjectives(BASE, other) == []


@pytest.mark.parametrize(
    ("value", "unit", "words"),
    [
        (0.0123, "share", "1.2 %"),
        (-0.25, "share", "25 %"),
        (1.0, "stops", "1.0 stop"),
        (1.3, "stops", "1.3 stops"),
        (-30.4, "mired", "30 mired"),
        (0.0123, "duv", "0.012"),
        (0.0012, "duv", "0.0012"),
        (4.2, "degrees", "4.2 degrees"),
        (3.14, "lightness", "3.1 units of lightness"),
        (1.284, "number", "1.28"),
        (7.24, "number", "7.2"),
        (129.0, "iso", "125"),  # as cameras print it
    ],
)
def test_amounts(value, unit, words):
    assert seen.amount(value, unit) == words


@pytest.mark.parametrize(("eight", "said"), [(2.1, "bands may show in skies"), (1.9, "is enough")])
def test_bands_are_told_where_a_code_becomes_more_than_two_steps(eight, said):
    words = bands_in_words(eight, eight / 4)
    assert words.startswith(f"One 8-bit code becomes up to {eight} steps of the screen")
    assert said in words


def test_skin_is_measured_from_the_published_line():
    """Preferred skin on displays lies at 49 degrees of CIELAB hue (Zeng and Luo 2013)."""
    scene = replace(
        flat_scene(size=(60, 90)), regions={"skin": 1}, mask=np.ones((60, 90), np.uint8)
    )

    def painted(lightness: float, chroma: float, hue: float) -> Picture:
        a, b = chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))
        rgb = colour.XYZ_to_sRGB(colour.Lab_to_XYZ([lightness, a, b]))
        encoded = np.ones((60, 90, 3), np.float32) * rgb.astype(np.float32)
        pixels = (encoded * 255 + 0.5).astype(np.uint8)
        return Picture(pixels, encoded, np.zeros((60, 90), np.uint8), None)

    plain = painted(65, 25, 49).overview_lab
    for hue in (39.0, 49.0, 64.0):
        found = measure(scene, Look(), HERON.sensor, painted(65, 25, hue), plain).skin
        assert found.off_line == pytest.approx(hue - 49, abs=0.4)
        assert found.chroma == pytest.approx(25, abs=0.4)
    # Four units of L* darker are told in stops of light, through Plain's contrast of 1.28.
    darker = measure(scene, Look(), HERON.sensor, painted(61, 25, 49), plain).skin.darker
    light = [((x + 16) / 116) ** 3 for x in (65, 61)]
    assert darker == pytest.approx(np.log2(light[0] / light[1]) / 1.28, abs=0.01)

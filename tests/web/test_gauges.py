"""Gauges: what they draw is what the core computes, read back off the drawing."""

import re

import numpy as np
import pytest
from flask import render_template

from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies, body
from zesty_plum.core.look import Gauge
from zesty_plum.core.measure.gauges import gauge_of
from zesty_plum.core.recipe import Recipe, make
from zesty_plum.web.bench import gauges, patches
from zesty_plum.web.bench.patches import nearest, spread

VALUE = r'text-anchor="middle" fill="var\(--color-soft\)">(\d+)</text>'
HERON, WADER = body("heron-m2"), body("wader-v1")


@pytest.fixture(autouse=True)
def page(app):
    """Drawings are made for a page."""
    with app.test_request_context():
        yield


def drawn(kind: str, dials: dict, camera=HERON, scene: str = "workshop") -> str:
    shipped = Recipe("As shipped", camera.id, camera.complete({}))
    svg = gauges.drawn(kind, scenes.load(scene), make("x", camera.id, dials), shipped)
    return " ".join(svg.split())


def test_every_gauge_is_drawn_and_belongs_to_the_dials_it_shows():
    assert set(gauges.DRAWN) == set(Gauge)
    kinds = {d.id: gauge_of(d) for camera in bodies().values() for d in camera.dials}
    assert kinds == {
        **dict.fromkeys(("metering", "exposure", "style", "guard", "contrast"), "tone"),
        **dict.fromkeys(("highlights", "shadows", "zebra", "toe"), "tone"),
        **dict.fromkeys(("shoulder", "corners"), "tone"),
        **dict.fromkeys(("mono_filter", "density", "colour", "saturation", "hue_turn"), "hues"),
        **{f"depth_{name}": "hues" for name in ("skin", "fire", "leaves", "water")},
        **dict.fromkeys(("white_balance", "kelvin", "shift_red", "shift_blue"), "light"),
        **dict.fromkeys(("shift_amber", "shift_green"), "light"),
        **dict.fromkeys(
            ("iso_least", "iso_most", "aperture", "slowest", "rate", "dark_frame"), "noise"
        ),
        **dict.fromkeys(("noise_filter", "noise_reduction"), "noise"),
        **dict.fromkeys(("sharpness", "clarity", "softening"), "edge"),
        **dict.fromkeys(("grain", "grain_size"), "grain"),
        **dict.fromkeys(("output", "range", "chroma", "clip_size", "bit_rate"), "codes"),
    }


@pytest.mark.parametrize(
    ("dials", "bits", "white"), [({"output": "clip_8"}, 8, 255), ({"output": "clip_10"}, 10, 1023)]
)
def test_code_values_of_all_stops_add_up_to_the_files(dials, bits, white):
    """Between -6 and +4 stops the bars cannot hold more than there is from black to white, and
    Plain uses nearly all."""
    svg = drawn("codes", dials, WADER, "boatyard")
    values = [
        int(v)
        for v in re.findall(r'text-anchor="middle" fill="var\(--color-soft\)">(\d+)</text>', svg)
    ]
    assert f"{bits} bits" in svg
    assert len(values) == 10
    assert 0.9 * white < sum(values) <= white + 5  # each rounded


def test_limited_range_has_219_steps_where_full_has_255():
    full, limited = (
        sum(
            int(v)
            for v in re.findall(
                VALUE,
                drawn("codes", {"output": "clip_8", "range": r}, WADER),
            )
        )
        for r in ("full", "limited")
    )
    assert limited / full == pytest.approx(219 / 255, abs=0.02)


def test_the_noise_gauge_falls_where_the_second_native_iso_begins():
    """Read off the line: just before ISO 2500 there is more noise than just after, and the mark
    stands between."""
    svg = drawn("noise", {}, WADER)
    line = re.search(r'<path d="M([^"]*)" fill="none" stroke="var\(--color-plum\)"', svg)[1]
    x, y = np.array([p.split() for p in line.split("L")], float).T
    mark = float(re.search(r'<path d="M([\d.]+) 14V140"', svg)[1])
    at = np.searchsorted(x, mark)
    assert y[at + 1] > y[at - 1] + 3  # lower on the drawing is less
    rises = np.diff(y) > 0
    assert rises.sum() == 1  # everywhere else more ISO is more noise


def test_white_stands_where_kelvin_says_and_lamps_where_they_burn():
    """The scale is even in mired: two temperatures and a lamp keep their distances."""
    places = []
    for kelvin in (3230, 6020):
        svg = drawn("light", {"white_balance": "kelvin", "kelvin": kelvin})
        assert f"white at {kelvin} K" in svg
        places.append(float(re.search(r'<path d="M([\d.]+) 86l', svg)[1]))
    lamp = scenes.load("workshop").lights[0]
    burns = float(re.search(r'<path d="M([\d.]+) 44V58"', svg)[1])
    per_mired = (places[0] - places[1]) / (1e6 / 3230 - 1e6 / 6020)
    assert burns - places[0] == pytest.approx((1e6 / lamp.kelvin - 1e6 / 3230) * per_mired, abs=1.5)


def test_the_hue_ring_says_how_much_stronger_colours_are():
    stronger = re.search(
        r"colour (\d+)% stronger than shipped", drawn("hues", {"colour": 2}, scene="garden")
    )
    weaker = re.search(
        r"colour (\d+)% weaker than shipped", drawn("hues", {"colour": -2}, scene="garden")
    )
    # A step is about 10 percent of chroma; full colours give way at the edge of the gamut.
    assert 13 <= int(stronger[1]) <= 21
    assert 13 <= int(weaker[1]) <= 19
    assert "as strong as shipped" in drawn("hues", {}, scene="garden")


def test_scripts_in_a_name_do_not_reach_a_drawing():
    line = [(0, 0), (1, 1)]
    named = {"label": '"><script>', "words": "<b>", "before": line, "now": line}
    svg = render_template("gauges/edge.html", **named)
    assert "<script" not in svg
    assert "<b>" not in svg


def test_a_square_spreads_over_every_second_place_of_a_long_dial():
    assert spread(13, 6, 5) == [2, 4, 6, 8, 10]
    assert spread(13, 12, 5) == [4, 6, 8, 10, 12]
    assert spread(9, 0, 5) == [0, 1, 2, 3, 4]
    assert spread(3, 1, 5) == [0, 1, 2]
    assert nearest([2, 4, 6], 5) == 4


def test_the_square_frames_the_present_place_and_fills_from_it():
    recipe = make("x", "heron-m2", {"shift_amber": 15, "shift_green": 0})
    pair = next(p for p in HERON.pairs if "shift_amber" in (p.across, p.down))
    square = patches.drawn(pair, recipe)
    framed = re.search(r'aria-label="([^"]+)"\s+title="[^"]+" aria-pressed="true"', square)[1]
    assert framed == "Blue to amber +15 mired, Pink to green 0"
    order = [int(n) for n in re.findall(r'data-order="(\d+)"', square)]
    assert sorted(order) == list(range(25))
    assert order[12] == 0  # the one in the middle first, then its neighbours
    assert {order[k] for k in (7, 11, 13, 17)} == {1, 2, 3, 4}

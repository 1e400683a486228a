"""A camera without raws: a chart in one light, and pictures of one thing at two settings."""

import shutil
import subprocess
from dataclasses import replace

import colour
import cv2
import numpy as np
import pytest
from PIL import Image

from tests.builders import file_of
from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body, file, known
from zesty_plum.core.bodies.remade import Steps, divided
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.colour.spaces import REC2020_TO_XYZ
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.develop.taking import make_point
from zesty_plum.core.learn import chart, pairs, plainly
from zesty_plum.core.look import Look
from zesty_plum.core.paper.chart import sheet
from zesty_plum.core.styles import lent
from zesty_plum.demo import TAUGHT
from zesty_plum.demo.turnstone import camera

DAYLIGHT = (1e6 / 6504, 0.0)
WARPED = np.array([(150, 90), (1060, 60), (1130, 760), (90, 700)], np.float32)


def test_the_common_target_is_as_published():
    """CIE XYZ in D65 by colour-science, from its own copy of the maker's figures."""
    told = colour.CCS_COLOURCHECKERS["ColorChecker24 - After November 2014"]
    xyz = [colour.xyY_to_XYZ(v) for v in told.data.values()]
    d65 = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
    here = [
        colour.chromatic_adaptation(
            v, colour.xy_to_XYZ(told.illuminant), colour.xy_to_XYZ(d65), transform="Bradford"
        )
        for v in xyz
    ]
    assert np.abs(chart.target().light @ REC2020_TO_XYZ.T - np.array(here)).max() < 3e-3


@pytest.mark.skipif(not shutil.which("pdftoppm"), reason="poppler is not installed")
@pytest.mark.parametrize("paper", ["a4", "letter"])
def test_the_printed_chart_is_found_in_a_crooked_picture_of_it(tmp_path, paper):
    path = tmp_path / "chart.pdf"
    path.write_bytes(sheet(paper))
    subprocess.run(["pdftoppm", "-r", "110", "-png", str(path), str(tmp_path / "p")], check=True)
    flat = np.asarray(Image.open(next(tmp_path.glob("*.png"))).convert("RGB"), np.float32) / 255
    height, width = flat.shape[:2]
    ends = np.array([(0, 0), (width, 0), (width, height), (0, height)], np.float32)
    seen = cv2.warpPerspective(flat, cv2.getPerspectiveTransform(ends, WARPED), (1200, 800))
    used, values = chart.printed()
    at = chart.corners(seen)
    assert at is not None
    found = chart.patches(seen, at, used)
    assert np.abs(found - values / 255).max() < 0.02
    assert chart.corners(seen[:, :600]) is None
    with pytest.raises(PlumError, match="is no chart: its patches are not even"):
        chart.patches(seen, at + (at[1] - at[0]) / (2 * used.across - 2), used)


def seen_by_turnstone(light, monkeypatch):
    monkeypatch.setattr(camera, "FALLS_OFF", 0.0)
    samples, _ = camera.sense(np.asarray(light, np.float32)[None], DAYLIGHT, 1)
    bare = camera.Settings("House", {"smoothing": 0, "edges": 0})
    return np.asarray(camera.render(samples, DAYLIGHT, bare)[0], np.float32)


@pytest.mark.parametrize(("which", "most"), [("target", 2.6), ("printed", 2.4)])
def test_a_chart_teaches_most_of_a_rendering(monkeypatch, which, most):
    """The stand-in's pictures of scenes, light for light, which were never shown to the learner."""
    used = chart.target() if which == "target" else chart.printed()[0]
    shown = seen_by_turnstone(used.light, monkeypatch)
    made = chart.learn(shown, used, body("heron-m2"), "Godwit")
    assert made.before > 6
    assert made.mean < made.before / 2
    off, plain = [], []
    with lent(made.body.styles):
        own = Look(style=made.body.styles[0].id)
        for name in ("painters", "boatyard"):
            scene = scenes.load(name)
            through = [make_point(scene, look, made.body.sensor) for look in (own, Look())]
            matrix = np.array(through[1].matrix).T.astype(np.float32)
            light = np.maximum(scene.at_width(160) @ matrix, 0)
            there = encoded_to_lab(seen_by_turnstone(light.reshape(-1, 3), monkeypatch))
            for point, into in zip(through, (off, plain), strict=True):
                lab = encoded_to_lab(point.develop(light).reshape(-1, 3))
                into.append(float(ciede2000(lab, there).mean()))
    assert np.mean(off) < most
    assert np.mean(off) < np.mean(plain) / 3


def test_what_is_no_chart_is_told():
    grey = np.full((24, 3), 0.5, np.float32)
    with pytest.raises(PlumError, match="hardly any tones or colours"):
        chart.learn(grey, chart.target(), body("heron-m2"), "Godwit")


def test_two_pictures_of_one_thing_teach_how_far_a_dial_goes(tmp_path):
    """Within 15 percent, on a camera that renders about as the style that they are held against."""
    heron = body("heron-m2")
    ways = {"highlights": Steps(-4, 4, 1, 0.6), "colour": Steps(-6, 6, 1, 1.5)}
    dials = tuple(divided(d, ways[d.id]) if d.id in ways else d for d in heron.dials)
    theirs = replace(heron, dials=dials)
    table = ["file,highlights,colour"]
    for name, light, colours in (("A", 0, 0), ("B", 2, 0), ("C", -2, 0), ("D", 0, 3)):
        look = theirs.interpret({"highlights": light, "colour": colours})
        pixels = develop(scenes.load("garden"), look, theirs.sensor, 720).pixels
        (tmp_path / f"{name}.jpg").write_bytes(file_of(pixels, "JPEG", quality=95))
        table.append(f"{name},{light},{colours}")
    other = develop(scenes.load("supper"), Look(), theirs.sensor, 720).pixels
    (tmp_path / "E.jpg").write_bytes(file_of(other, "JPEG"))
    given, _ = pairs.by_table(plainly.find(tmp_path), "\n".join([*table, "E,1,0"]), heron)
    made, left = plainly.steps(given, heron, "Godwit")
    times = {s.dial: s.times for s in made.steps}
    assert times["highlights"] == pytest.approx(0.6, rel=0.15)
    assert times["colour"] == pytest.approx(1.5, rel=0.15)
    assert [(one.name, one.why) for one in left] == [
        ("E", "No picture at the standard shows the same.")
    ]
    assert made.dial("shadows") == heron.dial("shadows")
    assert made.dial("style") == heron.dial("style")
    own = file.loads(TAUGHT.read_bytes(), known())  # whose styles go by its own id
    for like, name, body_id in ((own, "Godwit", "godwit"), (heron, "Heron M2", "heron-m2-own")):
        with lent(like.styles):
            other = [replace(p, dials={"exposure": v}) for v, p in enumerate(given[:2])]
            again, _ = plainly.steps(other, like, name)
        assert again.id == body_id
        assert file.loads(file.dumps(again), known()) == again
    with pytest.raises(PlumError, match="one at the camera's standard, and others with a dial"):
        plainly.steps([p for p in given if p.name == "A"] * 2, heron, "Godwit")
    (tmp_path / "solo").mkdir()
    with pytest.raises(PlumError, match="nor are there two pictures of one thing"):
        plainly.find(tmp_path / "solo")

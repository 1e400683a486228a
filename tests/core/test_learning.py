"""Learning a camera: the stand-in's mathematics are not the learner's, so what is learnt is held
against pictures that only the stand-in makes."""

import csv
import io
import json
import shutil
from dataclasses import replace

import cv2
import numpy as np
import pytest
from click.testing import CliRunner
from PIL import Image

from zesty_plum.cli import main
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body, bring, file, forget
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.learn import align, pairs, reading, sure
from zesty_plum.core.look import Look
from zesty_plum.core.pictures.read import read
from zesty_plum.core.styles import style
from zesty_plum.demo import TAUGHT
from zesty_plum.demo.turnstone import shoot
from zesty_plum.demo.turnstone.camera import Settings
from zesty_plum.demo.turnstone.listing import listed

SCENES = ("garden", "table", "painters", "beach", "workshop", "quayside")
UNSEEN = ("boatyard", "supper", "jetty")


@pytest.fixture(scope="module")
def taught(tmp_path_factory):
    """Turnstone from seven pairs, one of which is a wrong one, and brackets of three dials."""
    folder = tmp_path_factory.mktemp("pairs")
    patch = pytest.MonkeyPatch()
    patch.setattr(shoot, "SIZE", (660, 440))
    patch.setattr(sure, "FOLDS", 3)
    frames = [shoot.Frame(s) for s in SCENES]
    frames += [
        shoot.Frame("garden", Settings(dials={dial: value}))
        for dial, value in (("amber_blue", 5), ("amber_blue", -5), ("strength", 7))
    ]
    frames += [shoot.Frame("loft"), shoot.Frame("snow")]
    frames += [shoot.Frame("painters", Settings(dials={"dark": 2}))]  # one side of it alone
    table = shoot.write(folder, frames)
    # A picture of another place under the name of the last; and one without its raw.
    shutil.copy(folder / "TURN0001.jpg", folder / "TURN0011.jpg")
    shutil.copy(folder / "TURN0002.jpg", folder / "ALONE.jpg")
    # One that another style made.
    raw, _ = shoot.expose(frames[9], 10)
    _, odd = shoot.expose(shoot.Frame("loft", Settings("Show"), stops=1.5), 10)
    (folder / "TURN0010.dng").write_bytes(raw)
    (folder / "TURN0010.jpg").write_bytes(odd)
    own = replace(listed(), id="heron-of-mine")
    (folder / "list.body.json").write_text(file.dumps(own))
    out = folder / "made.body.json"
    asked = ["calibrate", folder, "-o", out, "--name", "Turnstone", "--settings", table]
    asked += ["--like", "heron-of-mine", "--body-file", folder / "list.body.json", "--json"]
    in_use = bring(TAUGHT.read_text())  # of the id that the new one gets
    done = CliRunner().invoke(main, [*map(str, asked)])
    assert done.exit_code == 0, done.stderr
    assert body("turnstone") is in_use
    assert style(in_use.styles[0].id) is in_use.styles[0]
    yield bring(out.read_text()), json.loads(done.stdout)
    forget("turnstone")
    patch.undo()


def small(encoded):
    made = cv2.resize(np.ascontiguousarray(encoded, np.float32), (150, 100), interpolation=3)
    return encoded_to_lab(made)


def of_file(data: bytes):
    return small(np.asarray(Image.open(io.BytesIO(data))) / np.float32(255))


def test_pictures_it_was_not_taught_come_out_as_the_camera_makes_them(taught):
    made, told = taught
    off, before = [], []
    for scene in UNSEEN:
        raw, picture = shoot.expose(shoot.Frame(scene), 50)
        own, aim = read(raw, "a.dng", "own-a"), of_file(picture)
        for look, into in ((made.interpret({}), off), (Look(), before)):
            shown = small(develop(own, look, made.sensor, own.size[0]).encoded)
            into.append(float(ciede2000(shown, aim).mean()))
    assert np.mean(off) < 2.2
    assert np.mean(off) < np.mean(before) / 3
    low, high = told["held_out"]["likely"]
    assert low < told["held_out"]["mean"] < high
    assert told["held_out"]["mean"] < told["held_out"]["p95"] < told["held_out"]["worst"]
    assert told["before"] > 3 * told["held_out"]["mean"]


def test_what_would_help_most_next_is_what_no_pair_shows(taught):
    """No violet thing is in its scenes, and faces under lamps are."""
    made, _ = taught
    wanted = made.styles[0].sure.wanted
    assert 0 < len(wanted) <= 3
    assert any("violet" in words or "turquoise" in words for words in wanted)
    assert not any("face" in words for words in wanted)


def test_wrong_pairs_are_left_out_and_said(taught):
    _, told = taught
    why = {one["file"]: one["why"] for one in told["left_out"]}
    assert why["ALONE.jpg"] == "The raw of it is missing."
    assert "do not show the same" in why["TURN0011"]
    assert "does not fit the others" in why["TURN0010"]
    assert told["pairs_used"] == 10
    assert len(why) == 3


@pytest.mark.parametrize(
    ("dial", "value"),
    [("amber_blue", 4), ("strength", 6), ("strength", 2), ("dark", 3), ("dark", -2)],
)
def test_a_dial_goes_as_far_as_the_cameras(taught, dial, value):
    made, told = taught
    assert {d["id"] for d in told["dials"]} == {"amber_blue", "strength", "dark"}
    slopes = []
    for scene in ("painters", "table", "supper"):
        raw, rest = shoot.expose(shoot.Frame(scene), 60)
        _, moved = shoot.expose(shoot.Frame(scene, Settings(dials={dial: value})), 60)
        own = read(raw, "a.dng", "own-a")
        shown = [
            small(develop(own, made.interpret(d), made.sensor, own.size[0]).encoded)
            for d in ({}, {dial: value})
        ]
        ours, theirs = (shown[1] - shown[0]).ravel(), (of_file(moved) - of_file(rest)).ravel()
        slopes.append(float(ours @ theirs / (theirs @ theirs)))
    assert np.mean(slopes) == pytest.approx(1, abs=0.2)


def test_a_picture_that_is_cropped_moved_and_bent_is_laid_where_it_belongs():
    light = shoot.framed(shoot.scenes.load("boatyard"), (0, 0, 1))
    luma = np.clip(light.mean(-1), 0, 1) ** 0.5
    luma = cv2.resize(luma, (720, 480)).astype(np.float32)
    height, width = 440, 660  # of the camera's picture
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    u, v = (x - width / 2) / (width / 2), (y - height / 2) / (width / 2)
    bend = 1 + 0.02 * (u * u + v * v)
    map_x = (u * bend * width / 2 + width / 2) + 27
    map_y = (v * bend * width / 2 + height / 2) + 16
    made = cv2.remap(np.repeat(luma[..., None], 3, -1), map_x, map_y, cv2.INTER_LINEAR)
    found = align.lay(luma, np.ascontiguousarray(np.clip(made**0.8 * 0.9 + 0.05, 0, 1)))
    assert found.alike > 0.9
    inside = found.inside & (luma > 0.02)
    back = ((found.shown[..., 0] - 0.05) / 0.9).clip(0, 1) ** (1 / 0.8)
    assert np.abs(back - luma)[inside].mean() < 0.006
    other = cv2.resize(shoot.framed(shoot.scenes.load("table"), (0, 0, 1)), (720, 480))
    assert align.lay(luma, np.clip(other, 0, 1)).alike < align.ALIKE


def test_what_was_read_is_kept_until_its_files_change(tmp_path, monkeypatch):
    monkeypatch.setattr(shoot, "SIZE", (330, 220))
    shoot.write(tmp_path, [shoot.Frame("garden"), shoot.Frame("painters")])
    (tmp_path / "ALONE.jpg").unlink(missing_ok=True)
    found, asked = pairs.find(tmp_path)[0], []

    def hand_out(does, of):
        asked.append([pair.name for pair in of])
        return map(does, of)

    keep = tmp_path / "read"
    first = [got for _, got in reading.read_all(found, hand_out, keep)]
    again = [got for _, got in reading.read_all(found, hand_out, keep)]
    (tmp_path / "TURN0002.jpg").touch()
    list(reading.read_all(found, hand_out, keep))
    assert asked == [["TURN0001", "TURN0002"], [], ["TURN0002"]]
    for there, here in zip(first, again, strict=True):
        assert np.array_equal(there.cells, here.cells)
    scene = again[0].scene  # it can be developed again
    there = develop(first[0].scene, Look(), body("heron-m2").sensor, 200).pixels
    assert np.array_equal(develop(scene, Look(), body("heron-m2").sensor, 200).pixels, there)


def grid(rows) -> bytes:
    out = io.StringIO()
    csv.writer(out).writerows(rows)
    return out.getvalue().encode()


def two(folder):
    for name in ("A", "B"):
        (folder / f"{name}.dng").write_bytes(b"II*\0")
        (folder / f"{name}.JPG").write_bytes(b"\xff\xd8\xff")
    return pairs.find(folder)[0]


def test_what_was_set_is_read_from_a_table_or_from_folders(tmp_path):
    found = two(tmp_path)
    heron = body("heron-m2")
    rows = [
        ["file", "Style", "Highlights", "colour"],
        ["a.jpg", "House", "-1", ""],
        ["C", "", "", ""],
    ]
    told, left = pairs.by_table(found, grid(rows), heron)
    assert [(p.style, dict(p.dials)) for p in told] == [
        ("House", {"highlights": -1}),
        (pairs.STANDARD, {}),
    ]
    assert [(one.name, one.why) for one in left] == [
        ("C", "The table names it, and it is not there.")
    ]
    inside = tmp_path / "Show" / "colour +2"
    inside.mkdir(parents=True)
    shutil.copy(tmp_path / "A.dng", inside / "Z.dng")
    shutil.copy(tmp_path / "A.JPG", inside / "Z.jpg")
    deep = next(p for p in pairs.by_folder(pairs.find(tmp_path)[0], heron) if "Z" in p.name)
    assert dict(deep.dials) == {"colour": 2}


@pytest.mark.parametrize(
    ("table", "says"),
    [
        (b"file,saturashun\nA,1\n", "has a column 'saturashun', which is no dial of Heron M2"),
        (b"file,highlights\nA,9\n", "Row 2 of the table of settings: Highlights"),
        (b"file\n", "is empty"),
        (b"\xff\xfe\x00", "not a CSV text in UTF-8"),
        (b"x" * (2**20 + 1), "over 1 MB"),
    ],
)
def test_a_wrong_table_is_told_in_a_sentence(tmp_path, table, says):
    with pytest.raises(PlumError, match=says):
        pairs.by_table(two(tmp_path), table, body("heron-m2"))


def test_a_folder_that_cannot_teach_says_why(tmp_path):
    def said(folder):
        asked = ["calibrate", str(folder), "-o", str(tmp_path / "x.body.json"), "--name", "Mine"]
        done = CliRunner().invoke(main, asked)
        assert done.exit_code == 1
        assert not (tmp_path / "x.body.json").exists()
        return done.stderr.strip().splitlines()[-1]

    empty = tmp_path / "empty"
    assert said(empty).startswith("There is no folder")
    empty.mkdir()
    assert said(empty).startswith("There is no pair in 'empty': a raw and the picture")
    two(empty)
    assert "There is no pair at the standard settings" in said(empty)
    assert "'A.dng' is not a picture that can be read" in said(empty)
    one = tmp_path / "one"
    one.mkdir()
    raw, picture = shoot.expose(shoot.Frame("table"), 1)
    (one / "P.dng").write_bytes(raw)
    (one / "P.jpg").write_bytes(picture)
    assert said(one).startswith("There is one pair at the standard settings of one style")
    grey = Image.open(io.BytesIO(picture)).convert("L")
    grey.save(one / "P.jpg")
    assert "has no colour: monochrome styles are not learnt" in said(one)
    Image.new("RGB", grey.size).save(one / "P.jpg")
    assert "is black, so it teaches nothing" in said(one)
    Image.new("RGB", grey.size, "white").save(one / "P.jpg")
    assert "is clipped nearly everywhere" in said(one)
    Image.new("RGB", (40, 30), "gray").save(one / "P.jpg")
    assert "is too small to learn from" in said(one)


def test_pairs_are_found_by_the_time_they_tell_and_other_cameras_left_out(tmp_path):
    for number in (1, 2, 3):
        raw, picture = shoot.expose(shoot.Frame("table"), number)
        (tmp_path / f"IMG{number}.dng").write_bytes(raw)
        (tmp_path / f"P{9 - number}.jpg").write_bytes(picture)
    image = Image.open(tmp_path / "P6.jpg")
    exif = image.getexif()
    exif[0x0110] = "Other"
    image.save(tmp_path / "P6.jpg", exif=exif)
    found, left = pairs.find(tmp_path)
    assert not left
    assert {(p.raw.stem, p.finished.stem) for p in found} == {
        ("IMG1", "P8"),
        ("IMG2", "P7"),
        ("IMG3", "P6"),
    }
    kept, others = pairs.one_camera(found)
    assert len(kept) == 2
    assert "most of the others with Saltmarsh Instruments Turnstone" in others[0].why

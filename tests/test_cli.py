"""The command line as a script sees it: standard output, exit codes, nothing half-written."""

import json
import subprocess
import sys

import cv2
import jsonschema
import numpy as np
import pytest
from PIL import Image

from tests.builders import file_of, recipe
from zesty_plum.core import recipe as recipes


def plum(*args, stdin: bytes | None = None) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "zesty_plum", *map(str, args)],
        input=stdin,
        capture_output=True,
        check=False,
    )


@pytest.fixture
def tide(tmp_path):
    path = tmp_path / "tide.plum.json"
    path.write_text(recipes.dumps(recipe("Tide", style="bunting", guard=1)))
    return path


def test_lists_and_schema():
    for command in (["bodies"], ["styles"], ["scenes"], ["dials", "heron-m2"]):
        rows = json.loads(plum(*command, "--json").stdout)
        assert rows[0]["id"]
        assert plum(*command).stdout.decode().startswith(rows[0]["id"])
    dials = json.loads(plum("dials", "heron-m2", "--json").stdout)
    assert {"id", "label", "values", "default", "unit", "purpose"} <= set(dials[0])
    assert all(d["default"] in d["values"] for d in dials)
    assert {d["edition"] for d in dials} == {2}
    every = json.loads(plum("bodies", "--json").stdout)
    assert all(b["edition"] == 2 and 0 < b["readout"] < 0.1 for b in every)
    jsonschema.Draft202012Validator.check_schema(json.loads(plum("schema").stdout))


def test_a_written_list_is_read_with_its_protocol(tmp_path):
    file = tmp_path / "list.txt"
    file.write_text("Linen\nShadows -0.7\nvignette 2", encoding="utf-8")
    done = json.loads(plum("read", file, "--body", "heron-m2", "--json").stdout)
    assert [p["kind"] for p in done["pieces"]] == ["taken", "rounded", "unclear"]
    assert done["pieces"][1]["sets"] == {"shadows": -1}
    assert "Grain" in done["as_shipped"]
    made = recipes.from_data(done["recipe"])
    assert (made.dials["style"], made.dials["shadows"]) == ("linen", -1)
    told = plum("read", "-", stdin=b"Shadows -0.7").stdout.decode()
    assert told.startswith("Shadows -0.7  ->  Shadows -1; rounded; -0.7 lies between")
    wrong = plum("read", file, "--body", "nix")
    assert (wrong.returncode, b"There is no body 'nix'" in wrong.stderr) == (1, True)


def test_rendering_measuring_and_luts(tide, tmp_path):
    assert (
        plum(
            "render", tide, "--scene", "corner", "-o", tmp_path / "a.jpg", "--width", 300
        ).returncode
        == 0
    )
    assert Image.open(tmp_path / "a.jpg").size == (300, 200)
    done = plum(
        "render",
        "-",
        "--scene",
        "corner",
        "-o",
        tmp_path / "b.png",
        "--bits",
        16,
        "--seed",
        3,
        stdin=tide.read_bytes(),
    )
    assert done.returncode == 0
    assert cv2.imread(str(tmp_path / "b.png"), cv2.IMREAD_UNCHANGED).dtype == np.uint16
    assert (
        plum("render", tide, "--scene", "boatyard", "--detail", "-o", tmp_path / "c.tif").returncode
        == 0
    )
    assert Image.open(tmp_path / "c.tif").size == (960, 640)
    (tmp_path / "own.png").write_bytes(file_of(np.full((40, 60, 3), 120, np.uint8)))
    assert (
        plum("render", tide, "--picture", tmp_path / "own.png", "-o", tmp_path / "d.png").returncode
        == 0
    )
    assert plum("lut", tide, "-o", tmp_path / "t.cube", "--size", 5).returncode == 0
    assert "LUT_3D_SIZE 5" in (tmp_path / "t.cube").read_text()
    assert (
        plum(
            "card", tide, "-o", tmp_path / "card.png", "--scene", "corner", "--shape", "square"
        ).returncode
        == 0
    )
    assert Image.open(tmp_path / "card.png").size == (1080, 1080)
    assert plum("card", tide, "-o", tmp_path / "usual.jpg").returncode == 0  # needs no scene
    # A picture that carries a recipe stands for it.
    same = json.loads(
        plum("compare", tide, tmp_path / "a.jpg", "--scene", "corner", "--json").stdout
    )
    assert same["dials"] == []
    assert same["ciede2000"] == {"mean": 0, "p95": 0, "most": 0}


@pytest.mark.parametrize(
    ("args", "code", "words"),
    [
        (["render", "{tide}", "--scene", "attic", "-o", "{out}.jpg"], 1, "no scene 'attic'"),
        (["render", "{tide}", "--scene", "corner", "-o", "{out}.gif"], 1, ".jpg, .png or .tif"),
        (["render", "{tide}", "--scene", "corner", "-o", "{out}/no/x.jpg"], 1, "no folder"),
        (["render", "{tide}", "--scene", "corner", "-o", "{out}.jpg", "--bits", "16"], 1, "8 bits"),
        (
            ["render", "{tide}", "--scene", "corner", "-o", "{out}.jpg", "--width", "5000"],
            1,
            "not enlarged",
        ),
        (["render", "{tide}", "-o", "{out}.jpg"], 2, "--scene or --picture"),
        (["render", "missing.json", "--scene", "corner", "-o", "{out}.jpg"], 1, "cannot be read"),
        (["lut", "{tide}", "-o", "{out}.txt"], 1, ".cube or .clf"),
        (["lut", "{tide}", "-o", "{out}.cube", "--input", "moon"], 1, "no LUT input"),
        (["card", "{tide}", "-o", "{out}.gif", "--scene", "corner"], 1, ".png or .jpg"),
        (["dials", "owl"], 1, "no body 'owl'"),
        (["serve", "--data", "{out}", "--host", "0.0.0.0"], 1, "give --share 0.0.0.0"),
        (["nonsense"], 2, "nonsense"),
    ],
)
def test_faults_are_one_sentence_and_leave_nothing_behind(args, code, words, tide, tmp_path):
    before = set(tmp_path.rglob("*"))
    done = plum(*(a.format(tide=tide, out=tmp_path / "out") for a in args))
    assert done.returncode == code
    assert words in done.stderr.decode()
    assert b"Traceback" not in done.stderr
    assert done.stdout == b""
    assert code == 2 or len(done.stderr.strip().splitlines()) == 1
    assert set(tmp_path.rglob("*")) == before


@pytest.mark.parametrize(
    "command",
    ["demo", "serve", "render", "lut", "compare", "bodies", "styles", "scenes", "dials", "schema"],
)
def test_help_shows_an_example(command):
    assert f"zesty-plum {command}" in plum(command, "--help").stdout.decode()


def test_measuring_judging_and_moving(tide, tmp_path):
    said = json.loads(plum("measure", tide, "--scene", "workshop", "--json").stdout)
    assert said["figures"]["frame"]["share"] == 1
    assert {"skin", "lamp", "white"} <= set(said["figures"]["regions"])
    assert all(v["sentence"].endswith(".") for v in said["verdicts"])
    assert b"L*" in plum("measure", tide, "--scene", "workshop").stdout
    out = tmp_path / "moved.plum.json"
    moved = json.loads(plum("translate", tide, "--to", "sandpiper-p", "-o", out, "--json").stdout)
    assert json.loads(out.read_text())["body"] == "sandpiper-p"
    # What it says of the distance is what compare finds by the same measure: more than nothing, and
    # a percentile above the mean.
    assert 0 < moved["ciede2000"]["mean"] < moved["ciede2000"]["p95"]
    wrong = plum("translate", tide, "--to", "curlew", "-o", tmp_path / "no.plum.json")
    assert wrong.returncode == 1
    assert b"The bodies are" in wrong.stderr
    assert not (tmp_path / "no.plum.json").exists()


def test_the_spot_and_the_code_values_of_a_clip(tmp_path):
    clip = tmp_path / "clip.plum.json"
    dials = {"metering": "spot", "output": "clip_8", "range": "limited"}
    clip.write_text(
        json.dumps(
            {
                "format": "zesty-plum-recipe",
                "version": 1,
                "name": "Clip",
                "body": "heron-m2",
                "dials": dials,
            }
        )
    )
    means = []
    for k, spot in enumerate(((0.05, 0.95), (0.7, 0.1))):  # a black of the wedge, a light wall
        path = tmp_path / f"{k}.png"
        assert (
            plum(
                "render",
                clip,
                "--scene",
                "corner",
                "-o",
                path,
                "--width",
                300,
                "--spot",
                *spot,
                "--as-written",
            ).returncode
            == 0
        )
        means.append(cv2.imread(str(path)).mean())
    assert means[0] > means[1] + 20
    assert len(np.unique(cv2.imread(str(tmp_path / "1.png")))) <= 220

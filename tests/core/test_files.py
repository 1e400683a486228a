"""Recipe files, LUT files, and pictures that carry a recipe, each read by a program that is not
ours."""

import io
import json
import shutil
import subprocess

import colour
import cv2
import jsonschema
import numpy as np
import PyOpenColorIO as ocio
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms, ImageFilter
from skimage import data

from tests.builders import HERON, recipe, rendered
from tests.builders import file_of as picture_file
from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.spaces import linear_srgb_to_lab, srgb_decode
from zesty_plum.core.develop.pipeline import Passage, develop
from zesty_plum.core.exchange import lut
from zesty_plum.core.pictures import metadata
from zesty_plum.core.pictures.read import read
from zesty_plum.core.pictures.write import check_kind, file_of

LOOKS = [
    {
        "style": "bunting",
        "highlights": -2,
        "shadows": 1,
        "colour": 2,
        "shift_amber": 10,
        "shift_green": -3,
    },
    {"style": "linen", "guard": 2, "white_balance": "lamps", "exposure": -0.67},
    {"style": "ink", "shadows": -2},
]


def _picked(name: str, note: str, picks: list[int]) -> recipes.Recipe:
    dials = {d.id: d.values[p % len(d.values)] for d, p in zip(HERON.dials, picks)}
    return recipes.make(name, HERON.id, dials, note=note)


any_recipe = st.builds(
    _picked,
    st.text(min_size=1, max_size=60),
    st.text(max_size=200),
    st.lists(st.integers(0, 60), min_size=len(HERON.dials), max_size=len(HERON.dials)),
)


@given(any_recipe)
def test_a_recipe_survives_its_file_and_fits_the_schema(made):
    text = recipes.dumps(made)
    assert recipes.loads(text.encode()) == made
    assert list(json.loads(text))[:2] == ["format", "version"]
    jsonschema.validate(json.loads(text), recipes.schema())


def test_unknown_extra_fields_are_kept():
    made = recipes.to_data(recipe(style="linen")) | {"lens": {"focal": 35}, "stars": 4}
    assert recipes.to_data(recipes.from_data(made)) == made


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"version": 2}, "version 2"),
        ({"format": "other"}, "not a recipe file"),
        ({"dials": {"tint": 1}}, "no dial 'tint'"),
        ({"dials": {"highlights": 0.25}}, "-4, -3, -2"),
        ({"dials": {"guard": "2"}}, "0, 0.33, 0.67, 1"),
        ({"dials": {"style": "velvet"}}, "plain, bunting, linen, driftwood"),
        ({"dials": {"grain": True}}, "dials"),
        ({"body": "owl"}, "heron-m2"),
        ({"intent": "art"}, "intent"),
        ({"name": ""}, "name"),
        ({"dials": [1]}, "dials"),
    ],
)
def test_faults_are_named_in_one_sentence(change, words):
    with pytest.raises(PlumError) as error:
        recipes.from_data(recipes.to_data(recipe()) | change)
    assert words in str(error.value)
    assert "\n" not in str(error.value)
    # The published schema refuses the same, all but a body that it does not know.
    faults = list(
        jsonschema.Draft202012Validator(recipes.schema()).iter_errors(
            recipes.to_data(recipe()) | change
        )
    )
    assert bool(faults) == (change.get("body") != "owl")


@pytest.mark.parametrize(
    "text", [b"", b"[]", b"{", b"\xff\xfe", b"[" * 100_000, b"x" * 300_000, b'{"format":NaN}']
)
def test_what_is_no_recipe_is_refused(text):
    with pytest.raises(PlumError):
        recipes.loads(text)


# ---- LUTs ----------------------------------------------------------------------------------------
def apart(first: np.ndarray, second: np.ndarray) -> np.ndarray:
    return ciede2000(
        *(linear_srgb_to_lab(srgb_decode(np.asarray(e, np.float32))) for e in (first, second))
    )


@pytest.mark.parametrize("dials", LOOKS)
@pytest.mark.parametrize("kind", ["cube", "clf"])
def test_opencolorio_applying_our_lut_gives_our_render(dials, kind, tmp_path):
    photo = data.astronaut()
    ours = rendered(read(picture_file(photo), "photo.png", "own-1"), 512, **dials)
    path = tmp_path / f"look.{kind}"
    path.write_text(getattr(lut, kind)(recipe(**dials)), encoding="utf-8")
    transform = ocio.FileTransform(str(path), interpolation=ocio.INTERP_TETRAHEDRAL)
    theirs = np.ascontiguousarray(photo, np.float32) / 255
    ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor().applyRGB(theirs)
    assert np.percentile(apart(ours.encoded, theirs), 99) < 0.1


@pytest.mark.parametrize("dials", LOOKS)
def test_pillow_applying_our_cube_gives_our_render(dials):
    photo = data.coffee()
    ours = rendered(read(picture_file(photo), "photo.png", "own-2"), 600, **dials).pixels / 255
    rows = [r for r in lut.cube(recipe(**dials)).splitlines() if r[:1].isdigit()]
    table = ImageFilter.Color3DLUT(33, [float(v) for r in rows for v in r.split()])
    theirs = np.asarray(Image.fromarray(photo).filter(table)) / 255  # trilinear, 8 bit
    assert np.percentile(apart(ours, theirs), 99) < 1.0


def test_colour_science_and_ffmpeg_read_our_luts_as_we_do(tmp_path):
    """Two more readers, on colours of no picture: every corner of the cube and a thousand random
    places."""
    dice = np.random.default_rng(8)
    pixels = np.concatenate(
        [np.array(list(np.ndindex(2, 2, 2))) * 255, dice.integers(0, 256, (1016, 3))]
    ).astype(np.uint8)
    photo, path = pixels.reshape(32, 32, 3), tmp_path / "look.cube"
    dials = {"style": "marmalade", "shadows": 1, "shift_amber": 10, "shift_green": 2}
    path.write_text(lut.cube(recipe(**dials)), encoding="utf-8")
    expected = rendered(read(picture_file(photo), "photo.png", "own-3"), 32, **dials).encoded
    theirs = colour.read_LUT(str(path)).apply(
        photo / 255, interpolator=colour.algebra.table_interpolation_tetrahedral
    )
    assert np.percentile(apart(expected, theirs), 99) < 0.1
    if shutil.which("ffmpeg"):
        cv2.imwrite(str(tmp_path / "in.png"), photo[..., ::-1].astype(np.uint16) * 257)
        command = [
            "ffmpeg",
            "-loglevel",
            "error",
            "-i",
            "in.png",
            "-vf",
            "format=gbrp16le,lut3d=look.cube:interp=tetrahedral",
            "-pix_fmt",
            "rgb48be",
            "out.png",
        ]
        subprocess.run(command, cwd=tmp_path, check=True)
        theirs = cv2.imread(str(tmp_path / "out.png"), cv2.IMREAD_UNCHANGED)[..., ::-1] / 65535
        assert np.percentile(apart(expected, theirs), 99) < 0.2


def test_the_lut_of_plain_is_the_identity():
    grid = lut.table(recipe(), 33)
    steps = np.linspace(0, 1, 33)
    assert (
        np.abs(grid - np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), -1)).max()
        < 0.2 / 255
    )


def test_the_cube_says_what_it_cannot_hold_and_survives_an_odd_name():
    head = lut.cube(recipe('Two "tides"\n# x'), 2).splitlines()
    assert head[0] == "TITLE \"Two 'tides' # x\""
    assert any("grain" in row for row in head if row.startswith("#"))
    with pytest.raises(PlumError, match="2 to 129"):
        lut.table(recipe(), 1)


# ---- pictures that carry a recipe ----------------------------------------------------------------
@given(any_recipe)
def test_a_recipe_survives_its_xmp_packet(made):
    assert metadata.from_packet(metadata.packet(made)) == made


@pytest.mark.parametrize("kind", [".jpg", ".png"])
def test_a_rendered_file_carries_recipe_profile_and_honest_exif(kind):
    made = recipe("Bøye & <tau> 'ni' ~ 日", style="linen", grain="salt")
    picture = rendered(scenes.load("boatyard"), 300, style="linen", grain="salt")
    bytes_ = file_of(picture.pixels, made, kind)
    assert metadata.find(bytes_) == made
    image = Image.open(io.BytesIO(bytes_))
    image.load()
    assert "sRGB" in ImageCms.getProfileDescription(
        ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
    )
    assert image.getexif()[305] == "Zesty Plum"
    assert 271 not in image.getexif()


def test_sixteen_bits_are_really_there():
    scene, look = scenes.load("corner"), HERON.interpret({})
    picture = develop(scene, look, HERON.sensor, 600)
    deep = Passage(scene, look, HERON.sensor, 600).samples(deep=True)
    for kind in (".png", ".tif"):
        bytes_ = file_of(deep, recipe(), kind)
        back = cv2.imdecode(np.frombuffer(bytes_, np.uint8), cv2.IMREAD_UNCHANGED)[..., ::-1]
        assert np.abs(back / 65535 - picture.encoded.clip(0, 1)).max() < 1e-4
        assert len(np.unique(back)) > 2000
    with pytest.raises(PlumError, match="8 bits"):
        check_kind(".jpg", 16)


@pytest.mark.parametrize(("flat", "guard"), [("ledger", 0), ("sounding", 2)])
def test_a_flat_clip_goes_back_to_plain_through_our_lut(flat, guard):
    """Rendered flat, then the LUT by OpenColorIO, against the same scene through Plain with the
    room that the flat one has."""
    values = lut.table(recipes.make("p", "heron-m2", {"guard": guard}), 33, flat)
    cube = ocio.Lut3DTransform(gridSize=33)
    cube.setInterpolation(ocio.INTERP_TETRAHEDRAL)
    cube.setData(np.ascontiguousarray(values, np.float32).ravel())
    processor = ocio.Config.CreateRaw().getProcessor(cube).getDefaultCPUProcessor()
    for scene_id in ("corner", "garden", "workshop"):
        scene = scenes.load(scene_id)
        clip = np.ascontiguousarray(
            np.clip(rendered(scene, 360, style=flat).encoded, 0, 1), np.float32
        )
        processor.applyRGB(clip)
        labs = [
            linear_srgb_to_lab(srgb_decode(p).astype(np.float32))
            for p in (clip, np.clip(rendered(scene, 360, guard=guard).encoded, 0, 1))
        ]
        apart = ciede2000(*labs)
        assert apart.mean() < 0.2, scene_id
        assert np.percentile(apart, 99) < 1.5, scene_id


def test_acescct_is_decoded_as_published():
    x = np.linspace(0, 1, 500, dtype=np.float32)
    assert lut.acescct_decode(x) == pytest.approx(
        colour.models.log_decoding_ACEScct(x), rel=1e-4, abs=1e-6
    )

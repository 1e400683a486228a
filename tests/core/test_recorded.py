"""What a file keeps of a picture and of a clip."""

import subprocess

import colour
import numpy as np
import pytest
from scipy.ndimage import zoom

from tests.builders import HERON
from zesty_plum.core import scenes
from zesty_plum.core.develop import recorded
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look


def pictured(height=240, width=320):
    """Something with edges, texture and a gradient, encoded."""
    rng = np.random.default_rng(3)
    soft = zoom(rng.random((7, 9, 3)), (height / 7, width / 9, 1), order=1)
    return np.clip(soft + rng.normal(0, 0.03, soft.shape), 0, 1).astype(np.float32)


LOOKS = [
    Look(clip=True, bits=8, chroma=420),
    Look(clip=True, bits=10, chroma=422),
    Look(clip=True, bits=10, chroma=420, limited=True),
]


@pytest.mark.parametrize("look", LOOKS)
def test_code_values_of_a_clip_are_those_of_bt_709(look):
    """Against colour-science."""
    encoded = np.repeat(np.repeat(pictured(12, 16)[::2, ::2], 2, 0), 2, 1)
    planes, *_ = recorded.planes_of(encoded, look, look.chroma)
    theirs = colour.RGB_to_YCbCr(
        encoded,
        K=colour.WEIGHTS_YCBCR["ITU-R BT.709"],
        in_legal=False,
        in_int=False,
        out_bits=look.bits,
        out_legal=look.limited,
        out_int=True,
    )
    down = 2 if look.chroma == 420 else 1
    assert np.abs(planes[0].astype(int) - theirs[..., 0]).max() <= 1
    for k in (1, 2):
        assert np.abs(planes[k].astype(int) - theirs[::down, ::2, k]).max() <= 1


@pytest.mark.parametrize(("bits", "chroma"), [(8, 420), (10, 422), (10, 420)])
def test_a_frame_is_h264_of_its_bits_that_others_read(bits, chroma, tmp_path):
    """Within the budget, not far below it, and the same planes through ffmpeg."""
    look = Look(clip=True, bits=bits, chroma=chroma)
    planes, *_ = recorded.planes_of(pictured(), look, chroma)
    for budget in (60_000, 200_000):
        data = recorded.h264(planes, bits, chroma, budget)
        assert 0.5 * budget < 8 * len(data) <= 1.02 * budget
    (tmp_path / "frame.h264").write_bytes(data)
    layout = f"yuv{chroma}p" + ("10le" if bits == 10 else "")
    subprocess.run(
        ["ffmpeg", "-v", "error", "-i", "frame.h264", "-pix_fmt", layout, "out.yuv"],
        cwd=tmp_path,
        check=True,
    )
    kind = np.uint16 if bits == 10 else np.uint8
    theirs = np.frombuffer((tmp_path / "out.yuv").read_bytes(), kind)
    ours = recorded._decoded(data, planes)
    assert np.array_equal(theirs, np.concatenate([p.ravel() for p in ours]))
    assert np.abs(ours[0].astype(int) - planes[0]).mean() < 12 * 2 ** (bits - 8)


def test_more_bits_keep_more():
    encoded = pictured()
    lost = []
    for rate in (0.5, 2, 8, 40):
        look = Look(clip=True, frame_size=320, bit_rate=rate, chroma=444)
        lost.append(float(np.abs(recorded.as_file(encoded, look, 320, 6000) - encoded).mean()))
    assert lost == sorted(lost, reverse=True)
    assert lost[0] > 3 * lost[-1]


def test_colours_at_half_size_bleed_and_greys_do_not():
    """Red and blue stripes two pixels wide: 4:2:0 mixes them, 4:4:4 keeps them; a picture's JPEG
    as a clip."""
    stripes = np.full((64, 96, 3), 0.2, np.float32)
    stripes[:, 0::4, 0] = stripes[:, 1::4, 0] = 0.8
    stripes[:, 2::4, 2] = stripes[:, 3::4, 2] = 0.8
    stripes = np.roll(stripes, 1, 1)
    kept = []
    for chroma in (444, 420):
        back = recorded.as_file(stripes, Look(chroma=chroma), 6000, 6000)
        kept.append(float(np.abs(np.diff(back[..., 0] - back[..., 2], axis=1)).mean()))
    assert kept[1] < 0.8 * kept[0]
    grey = np.repeat(stripes.mean(2, keepdims=True), 3, 2)
    apart = np.abs(recorded.as_file(grey, Look(chroma=420), 6000, 6000) - grey)
    assert apart.max() < 0.02


def test_a_clip_shows_no_finer_detail_than_it_has_pixels():
    """At 100 percent of the sensor a frame 1920 wide has lost what is finer than its pixels; shown
    as small as a preview it has not, and a picture keeps it."""
    scene = scenes.load("table")
    for dials, least, most in (
        ({"output": "clip_10", "bit_rate": 100}, 0, 0.5),
        ({}, 0.8, 1.2),
    ):
        look = HERON.interpret({**dials, "sharpness": 0})
        fine = [
            np.abs(np.diff(p.encoded[..., 1], axis=1)).mean()
            for p in (
                develop(scene, look, HERON.sensor, 480, full_detail=True, as_written=w)
                for w in (True, False)
            )
        ]
        assert least < fine[0] / fine[1] < most


@pytest.mark.parametrize("side", [8, 37, 120])
def test_a_small_part_of_a_clip_is_as_good_as_a_large_one(side):
    """A strip's step shows a few of a clip's pixels: they cost no more than in a whole frame."""
    encoded = pictured(240, 320)
    look = Look(clip=True, frame_size=3840, bit_rate=100, chroma=422)
    part = np.ascontiguousarray(encoded[:side, : side + 20])
    lost = [np.abs(recorded.as_file(e, look, 3840, 6000) - e).mean() for e in (part, encoded)]
    assert lost[0] < 1.5 * lost[1] + 0.01

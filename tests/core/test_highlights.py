"""Colour near white: hues stay while nothing clips, and go as sensors lose them."""

import colour
import numpy as np
import pytest

from tests.builders import HERON
from zesty_plum.core.colour.spaces import REC2020_TO_SRGB, linear_srgb_to_oklab, srgb_decode
from zesty_plum.core.develop import metering, point
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look, Metering
from zesty_plum.core.scenes.frame import Held
from zesty_plum.core.scenes.scene import Scene
from zesty_plum.core.styles import styles

# Of the colour checker of 2005, and its skins two times as pale: linear sRGB.
CHECKER = colour.CCS_COLOURCHECKERS["ColorChecker24 - After November 2014"].data
PATCHES = {
    name: colour.XYZ_to_sRGB(colour.xyY_to_XYZ(xyy), apply_cctf_encoding=False).clip(0.01)
    for name, xyy in CHECKER.items()
    if name in ("dark skin", "light skin", "blue sky", "foliage", "moderate red", "blue flower")
}
HOLDING = [s for s in styles().values() if s.id != "plain" and not s.monochrome]


def hue_and_chroma(linear: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Oklch hue in degrees and chroma, by colour-science."""
    lab = colour.XYZ_to_Oklab(colour.sRGB_to_XYZ(linear, apply_cctf_decoding=False))
    return np.degrees(np.arctan2(lab[..., 2], lab[..., 1])), np.hypot(lab[..., 1], lab[..., 2])


@pytest.mark.parametrize("which", HOLDING, ids=lambda s: s.id)
@pytest.mark.parametrize("name", PATCHES)
def test_skin_stays_skin_and_sky_sky_while_nothing_clips(which, name):
    """Oklab hue within 15 degrees of the patch's own, from a hand-metered exposure up to where the
    first channel clips."""
    made = point.Point(Look(style=which.id), which, 3.0, point.as_tuple(np.eye(3)), False)
    patch = PATCHES[name]
    most = np.log2(made.clip * 0.97 / (np.linalg.inv(REC2020_TO_SRGB) @ patch).max())
    stops = np.linspace(-1, min(most, np.log2(made.clip * 0.97 / patch.max())), 12)
    light = np.exp2(stops)[:, None] * (np.linalg.inv(REC2020_TO_SRGB) @ patch)
    shown = srgb_decode(made.develop(light.astype(np.float32))).astype(float)
    hues, chroma = hue_and_chroma(shown)
    off = (hues - hue_and_chroma(patch)[0] + 180) % 360 - 180
    assert np.abs(off[chroma > 0.01]).max() < 15
    # Up to a stop and a half over grey it hardly moves.
    assert np.ptp(off[stops + np.log2(patch.max() / 0.18) < 1.5]) < 3


def field(rgb: np.ndarray, kelvin: float) -> Scene:
    """An even field that a daylight camera sees as linear Rec.2020 `rgb`, balanced for a light."""
    light = 1e6 / kelvin, 0.0
    pixels = np.ones((48, 72, 3), np.float32) * np.asarray(rgb, np.float32)
    return Scene("field", "Field", Held(pixels), light, light, ev100=14.0)


@pytest.mark.parametrize("kelvin", [2800, 6504])
@pytest.mark.parametrize(
    "rgb", [(0.6, 0.05, 0.03), (0.05, 0.09, 0.5), (0.4, 0.26, 0.19), (0.06, 0.3, 0.05)]
)
def test_beyond_the_clip_point_colour_falls_steadily_to_none(rgb, kelvin):
    """As exposure rises from where the first channel clips to where all do, chroma falls, and then
    there is none. (A blue lamp under a balance for lamps goes through cyan, whose edge lies 0.02
    further out.)"""
    clip = 0.18 * 2**HERON.sensor.headroom
    first, last = np.log2(clip / max(rgb)), np.log2(clip / min(rgb))
    chroma = []
    for stops in np.linspace(first, last + 0.3, 24):
        shown = develop(field(rgb, kelvin), Look(exposure=stops, style="linen"), HERON.sensor, 72)
        chroma.append(float(hue_and_chroma(srgb_decode(shown.encoded).mean((0, 1)))[1]))
    assert (np.array(chroma) <= np.minimum.accumulate(chroma) + 0.02).all()
    assert chroma[-1] < 0.05
    assert max(-np.diff(chroma)) < 0.04  # and not in one step


@pytest.mark.parametrize("kelvin", [2800, 4000, 6504, 9000])
def test_white_things_stay_white_where_one_channel_clips(kelvin):
    from zesty_plum.core.colour.spaces import REC2020_TO_XYZ, xy_to_xyz
    from zesty_plum.core.colour.white import white_xy

    white = np.linalg.inv(REC2020_TO_XYZ) @ xy_to_xyz(white_xy(1e6 / kelvin)) * 0.18
    for stops in (1.5, 2.2, 2.6, 2.9, 3.2, 4.0):
        shown = develop(field(white * 2**stops, kelvin), Look(), HERON.sensor, 72).encoded
        assert hue_and_chroma(srgb_decode(shown).mean((0, 1)))[1] < 0.006


def test_metering_for_highlights_keeps_the_guard_and_never_brightens():
    dull = np.full((60, 90, 3), 0.05, np.float32)
    lantern = dull.copy()
    lantern[20:30, 30:45] = (4.0, 0.2, 0.1)  # a red lantern: its luminance is no highlight
    assert metering.meter(dull, Metering.HIGHLIGHTS, 3.0) == 0
    gain = metering.meter(lantern, Metering.HIGHLIGHTS, 3.0)
    assert 4.0 * 2**gain == pytest.approx(0.18 * 2 ** (3.0 - metering.MARGIN), rel=0.02)
    bright = field((3.0, 3.0, 3.0), 6504)
    takes = [
        develop(bright, Look(metering=Metering.HIGHLIGHTS, guard=g), HERON.sensor, 72).metered
        for g in (0.0, 1.0, 2.0)
    ]
    assert np.ptp(takes) < 0.01
    assert takes[0] < -1


def test_plain_turns_hues_as_the_docs_say():
    """Its exact inverse costs that: light skin is turned towards yellow by about seven degrees at
    one and a half stops over."""
    plain = styles()["plain"]
    made = point.Point(Look(), plain, 3.0, point.as_tuple(np.eye(3)), False)
    patch = PATCHES["light skin"] * 0.18 / (PATCHES["light skin"] @ [0.2126, 0.7152, 0.0722])
    light = np.linalg.inv(REC2020_TO_SRGB) @ patch * 2**1.5
    lab = linear_srgb_to_oklab(srgb_decode(made.develop(light.astype(np.float32)[None])))
    turned = np.degrees(np.arctan2(lab[0, 2], lab[0, 1])) - hue_and_chroma(patch)[0]
    assert 4 < turned < 12

"""Raw pictures as light: colours and brightness as their files tell them."""

import colour
import numpy as np
import pytest
from pidng.defs import CalibrationIlluminant

from tests.builders import raw_of, rendered
from zesty_plum.core.bodies import bodies
from zesty_plum.core.colour.spaces import REC2020_TO_XYZ
from zesty_plum.core.colour.white import mired_and_duv
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look
from zesty_plum.core.pictures.read import read

# From XYZ to a camera that never was, under incandescent light and under daylight.
LAMP = np.array([[0.92, -0.22, -0.10], [-0.42, 1.28, 0.15], [-0.02, 0.12, 0.62]])
DAY = np.array([[0.78, -0.16, -0.09], [-0.46, 1.26, 0.21], [-0.06, 0.18, 0.66]])
PATCH, WHITE = 32, 60000


def fractions(values):
    return [[round(float(v) * 10000), 10000] for v in np.ravel(values)]


def patches(xyz, matrix, folder, **tags):
    """A raw file of even patches of XYZ (n, 3), where Y 1 of the white is just below the clip."""
    mosaic = np.zeros((PATCH, PATCH * len(xyz)))
    camera = xyz @ matrix.T
    for k, (red, green, blue) in enumerate(camera):
        part = mosaic[:, PATCH * k : PATCH * (k + 1)]
        part[:] = green
        part[::2, ::2], part[1::2, 1::2] = red, blue
    own = {
        "ColorMatrix1": fractions(LAMP),
        "CalibrationIlluminant1": CalibrationIlluminant.Standard_Light_A,
        "ColorMatrix2": fractions(DAY),
        "CalibrationIlluminant2": CalibrationIlluminant.D65,
    }
    return raw_of(np.round(mosaic * WHITE).clip(0, WHITE), folder, WHITE, **{**own, **tags})


def seen(data):
    """XYZ of the patches (n, 3) of a raw file as light, relative to a white that clips."""
    scene = read(data, "made.dng", "own-made")
    middle = scene.pixels[PATCH // 2, PATCH // 2 :: PATCH]
    return middle @ REC2020_TO_XYZ.T / (0.18 * 8), scene


def checker(white):
    """XYZ of a colour checker (24, 3) under a light of chromaticity `white`, Y of white 1."""
    chart = colour.CCS_COLOURCHECKERS["ColorChecker24 - After November 2014"]
    xyz = np.array([colour.xyY_to_XYZ(c) for c in chart.data.values()])
    return colour.chromatic_adaptation(
        xyz, colour.xy_to_XYZ(chart.illuminant), colour.xy_to_XYZ(white)
    )


@pytest.mark.parametrize("kelvin", [2856, 3800, 6504])
def test_a_raw_shows_the_colours_that_its_file_tells(kelvin, tmp_path):
    """Between the two lights that a file has matrices for, by mired (closed form); the cast of the
    light stays in, and the light is known."""
    xy = (
        colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["A"]
        if kelvin == 2856
        else colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
        if kelvin == 6504
        else colour.temperature.CCT_to_xy_Kang2002(kelvin)
    )
    share = (1e6 / kelvin - 1e6 / 6504) / (1e6 / 2856 - 1e6 / 6504)
    matrix = share * LAMP + (1 - share) * DAY
    white = colour.xy_to_XYZ(xy)
    neutral = matrix @ white
    xyz = checker(xy) * 0.9 / neutral.max()
    made, scene = seen(patches(xyz, matrix, tmp_path, AsShotNeutral=fractions(neutral)))
    labs = (colour.XYZ_to_Lab(v / 0.9, xy) for v in (made, xyz * neutral.max()))
    apart = colour.delta_E(*labs, method="CIE 2000")
    assert apart.max() < 1.0
    assert scene.auto_light == pytest.approx(mired_and_duv(tuple(xy)), abs=4)


@pytest.mark.parametrize("more", [{}, {"BaselineExposure": [[5, 4]]}])
def test_brightness_is_the_files_own_on_every_body(more, tmp_path):
    """Mid grey lies three stops below the clip, corrected by the baseline; a picture that has
    nothing bright is not brightened, and what clips is white."""
    up = 1.25 if more else 0.0
    neutral = DAY @ colour.xy_to_XYZ([0.3127, 0.3290])
    grey = colour.xy_to_XYZ([0.3127, 0.3290]) / neutral.max()
    levels = np.array([2.0**-3, 2.0**-5, 4.0, 2.0 ** (-3 - up)])
    tags = {"AsShotNeutral": fractions(neutral), **more}
    data = patches(levels[:, None] * grey, DAY, tmp_path, **tags)
    _, scene = seen(data)
    light = scene.pixels[PATCH // 2, PATCH // 2 :: PATCH, 1]
    assert np.log2(light / 0.18) == pytest.approx([up, up - 2, up + 3, 0], abs=0.02)
    shown = []
    for camera in bodies().values():
        picture = develop(scene, Look(), camera.sensor, PATCH * 4)
        middle = picture.encoded[PATCH // 2, PATCH // 2 :: PATCH]
        assert middle[2] == pytest.approx([1, 1, 1], abs=0.01)
        shown.append(middle[3])
    assert np.ptp(shown, axis=0) == pytest.approx([0, 0, 0], abs=0.03)


def test_snow_is_white_and_nothing_is_made_grey(tmp_path):
    neutral = DAY @ colour.xy_to_XYZ([0.3127, 0.3290])
    snow = np.ones((4, 1)) * colour.xy_to_XYZ([0.3127, 0.3290]) / neutral.max() * 0.8
    _, scene = seen(patches(snow, DAY, tmp_path, AsShotNeutral=fractions(neutral)))
    assert rendered(scene, width=PATCH * 4).pixels.min() > 235


def test_a_guard_has_no_say_once_a_picture_is_exposed(tmp_path):
    neutral = DAY @ colour.xy_to_XYZ([0.3127, 0.3290])
    bright = np.ones((4, 1)) * colour.xy_to_XYZ([0.3127, 0.3290]) / neutral.max() * 0.6
    _, scene = seen(patches(bright, DAY, tmp_path, AsShotNeutral=fractions(neutral)))
    plain, guarded = (rendered(scene, width=64, guard=g).encoded for g in (0, 2))
    assert (plain == guarded).all()

"""CIEDE2000 against the published pairs and against colour-science."""

import colour
import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.spaces import linear_srgb_to_lab, linear_srgb_to_oklab, srgb_encode

# From the test data of Sharma, Wu and Dalal (2005), with the cases that break careless hue
# arithmetic.
PUBLISHED = [
    ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
    ((50, -1.3802, -84.2814), (50, 0, -82.7485), 1.0000),
    ((50, 0, 0), (50, -1, 2), 2.3669),
    ((50, 2.49, -0.001), (50, -2.49, 0.0009), 7.1792),
    ((50, 2.49, -0.001), (50, -2.49, 0.0011), 7.2195),
    ((50, -0.001, 2.49), (50, 0.0009, -2.49), 4.8045),
    ((50, 2.5, 0), (73, 25, -18), 27.1492),
    ((50, 2.5, 0), (50, 3.1736, 0.5854), 1.0000),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
]


def test_published_pairs():
    first, second, expected = (np.array(x, np.float64) for x in zip(*PUBLISHED))
    assert np.allclose(ciede2000(first, second), expected, atol=1e-3)


@given(
    arrays(np.float64, (8, 3), elements=st.floats(-90, 90)),
    arrays(np.float64, (8, 3), elements=st.floats(-90, 90)),
)
def test_matches_colour_science(first, second):
    first[:, 0], second[:, 0] = np.abs(first[:, 0]), np.abs(second[:, 0])
    theirs = colour.delta_E(first, second, method="CIE 2000")
    ours = ciede2000(first, second)
    # Within rounding of opposite hues both answers are right; they differ there by which side is
    # taken.
    turn = np.abs(np.arctan2(first[:, 2], first[:, 1]) - np.arctan2(second[:, 2], second[:, 1]))
    clear = np.abs(turn - np.pi) > 1e-3
    assert np.allclose(ours[clear], theirs[clear], atol=0.02, rtol=1e-3)


def test_lab_and_oklab_match_colour_science():
    rgb = np.random.default_rng(1).random((200, 3)).astype(np.float32)
    xyz = colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ @ rgb.T
    assert np.allclose(
        linear_srgb_to_lab(rgb), colour.XYZ_to_Lab(xyz.T, (0.3127, 0.3290)), atol=0.05
    )
    assert np.allclose(linear_srgb_to_oklab(rgb), colour.XYZ_to_Oklab(xyz.T), atol=1e-3)
    assert np.allclose(srgb_encode(rgb), colour.models.eotf_inverse_sRGB(rgb), atol=1e-5)

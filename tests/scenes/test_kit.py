"""Helpers of the scene programs: closed shapes face outwards, spectra agree with standards and with
measured skin."""

import colour
import numpy as np
import pytest

from scenes.kit import closed, noise, shapes, spectra


def volume(shape) -> float:
    """Signed volume by the divergence theorem: positive where triangles face outwards."""
    v, f, _ = shape
    return float(np.einsum("ij,ij->i", v[f[:, 0]], np.cross(v[f[:, 1]], v[f[:, 2]])).sum() / 6)


def test_a_box_is_closed_and_faces_outwards():
    assert volume(shapes.box((2, 3, 4), 0.01)) == pytest.approx(24, rel=0.01)
    rounded = volume(shapes.box((1, 1, 1), 0.3))
    assert 0.8 < rounded < 1


def test_turned_and_tubular_shapes_hold_what_geometry_says():
    cone = shapes.lathe(
        np.stack([np.linspace(0, 1, 40), np.linspace(0, 0, 40)], 1).tolist() + [[1, 0], [0, 2]], 200
    )
    assert abs(volume(cone)) == pytest.approx(np.pi * 2 / 3, rel=0.01)
    assert abs(volume(shapes.sphere(200, 100))) == pytest.approx(4 / 3 * np.pi, rel=0.01)
    path = np.stack([np.zeros(50), np.linspace(0, 3, 50), np.zeros(50)], 1)
    v, _, _ = shapes.tube(path, 0.5, 64)
    assert np.hypot(v[:, 0], v[:, 2]) == pytest.approx(0.5, abs=1e-6)


def test_turning_is_rigid_and_in_the_stated_order():
    r = shapes.rotation(20, 50, -70)
    assert np.allclose(r @ r.T, np.eye(3))
    assert np.allclose(shapes.rotation(90, 0, 0) @ [0, 1, 0], [0, 0, 1])
    assert np.allclose(shapes.rotation(90, 90, 0) @ [0, 1, 0], [1, 0, 0])
    v, _, _ = shapes.place(shapes.box((1, 1, 1)), (5, 0, 0), (0, 45, 0), 2)
    assert v[:, 0].mean() == pytest.approx(5, abs=1e-6)
    assert np.ptp(v[:, 1]) == pytest.approx(2)


def test_normals_point_out_of_a_sphere():
    v, f, _ = shapes.sphere(64, 32)
    away = (shapes.vertex_normals(v, f) * v).sum(1)
    assert np.abs(away).min() > 0.99


def test_noise_is_smooth_bounded_and_the_same_for_a_seed():
    at = np.random.default_rng(1).uniform(-50, 50, (4000, 3))
    values = noise.value_noise(at, 3)
    assert np.abs(values).max() <= 1
    assert values.std() > 0.2
    assert np.array_equal(values, noise.value_noise(at, 3))
    assert np.abs(noise.value_noise(at + 1e-4, 3) - values).max() < 2e-3
    assert not np.allclose(values, noise.value_noise(at, 4))


def mouth(apart, deep):
    """Triangles of two lips with a slit `apart` high between them, and what lies `deep` behind."""
    sheets = []
    for low, high, z in ((-1, -apart / 2, 0), (apart / 2, 1, 0), (-1, 1, -deep)):
        corners = np.array([[-1, low, z], [1, low, z], [1, high, z], [-1, high, z]], float)
        sheets += [corners[[0, 1, 2]], corners[[0, 2, 3]]]
    return np.array(sheets)


@pytest.mark.parametrize(
    ("apart", "deep", "found"), [(0.05, 0.4, 0.05), (0.012, 0.4, 0.012), (0.05, 0.03, 0.0)]
)
def test_an_open_mouth_is_found_and_a_crease_is_none(apart, deep, found):
    _, low, high = closed.openings(mouth(apart, deep), np.zeros(3))
    assert high - low == pytest.approx(found, abs=0.0021)  # two steps between rays


def test_a_glance_is_measured_against_the_face():
    ahead = np.array([0.0, 0, 2])
    assert closed.between(ahead, np.array([1.0, 0, 1])) == pytest.approx(45)
    with pytest.raises(ValueError, match="eyes turn 45 degrees"):
        closed.refuse("she", 0.0, 45.0)
    with pytest.raises(ValueError, match=r"lips are 0\.050 dm apart"):
        closed.refuse("she", 0.05, 0.0)
    closed.refuse("she", 0.0, 14.0)


@pytest.mark.parametrize("kelvin", [2200, 2700, 5400])
def test_lamps_follow_planck(kelvin):
    theirs = colour.sd_blackbody(kelvin, colour.SpectralShape(380, 780, 10)).values
    assert np.allclose(spectra.planck(kelvin), theirs / theirs[18], rtol=2e-3)


def test_daylight_rgb_has_its_colour_temperature():
    rgb = spectra.daylight_rgb(8200)
    xy = colour.XYZ_to_xy(colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ @ rgb)
    assert np.allclose(xy, colour.temperature.CCT_to_xy_CIE_D(8200), atol=1e-4)


@pytest.mark.parametrize(
    ("number", "melanins"), [(15, np.linspace(0.005, 0.1, 20)), (18, np.linspace(0.02, 0.3, 20))]
)
def test_modelled_skin_comes_close_to_a_measured_one(number, melanins):
    # CIE 224 test colours 15 and 18 are measured skins; the model has to be able to come near their
    # shape.
    table = colour.quality.cfi2017.load_TCS_CIE2017(colour.SpectralShape(380, 780, 5)).values[
        ::2, number - 1
    ]
    band = (spectra.WAVELENGTHS >= 420) & (spectra.WAVELENGTHS <= 700)
    best = 1.0
    for melanin in melanins:
        for blood in np.linspace(0.002, 0.045, 12):
            made = spectra.skin_reflectance(melanin, blood, 2.3)
            scale = (made[band] @ table[band]) / (made[band] @ made[band])
            best = min(
                best,
                float(
                    np.sqrt(np.mean((scale * made[band] - table[band]) ** 2)) / table[band].mean()
                ),
            )
    assert best < 0.09

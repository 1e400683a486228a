"""Highlights, shadows and contrast of every body: a shoulder and a toe, not a wave."""

import itertools

import numpy as np
import pytest

from tests.builders import HERON
from zesty_plum.core.bodies import bodies
from zesty_plum.core.colour.spaces import srgb_encode
from zesty_plum.core.develop import bend, point, tone
from zesty_plum.core.look import Look
from zesty_plum.core.measure.tones import scant_room
from zesty_plum.core.styles import style, styles

STOPS = np.linspace(-9, 5, 5601)
DIALS = [
    (camera, dial)
    for camera in bodies().values()
    for dial in ("highlights", "shadows", "contrast")
    if dial in camera.by_id
]
STEPS = [c.adds["highlights"] for c in HERON.dial("highlights").choices]


def curve(look: Look, white: float) -> np.ndarray:
    """log2 of the display light of greys at `STOPS`, over black."""
    made = point.Point(look, style(look.style), white, point.as_tuple(np.eye(3)), False)
    return np.log2(made.curve.display(0.18 * np.exp2(STOPS)))


@pytest.mark.parametrize(("camera", "dial"), DIALS, ids=lambda x: getattr(x, "id", x))
def test_no_tone_loses_half_of_its_contrast_or_gets_twice_of_it(camera, dial):
    """Local gamma against the style's own, wherever both encode below 0.95."""
    assert {c.id for c, _ in DIALS} >= {"heron-m2", "dunlin-4"}
    for which, guard in itertools.product(camera.dial("style").values, (0, 1, 2)):
        white = camera.sensor.headroom + guard
        for value in (camera.dial(dial).values[0], camera.dial(dial).values[-1]):
            look = camera.interpret({"style": which, dial: value})
            own, new = curve(Look(style=which), white), curve(look, white)
            seen = srgb_encode(np.exp2(np.maximum(own, new))) < 0.95
            share = np.diff(new[seen]) / np.diff(own[seen])
            assert share.min() >= 0.5, (which, guard, value)
            assert share.max() <= 2.0, (which, guard, value)


def test_at_the_ends_of_the_dial_two_stops_above_grey_move_as_far_as_asked():
    """In stops of display light down, and up in stops of scene light: Plain has 0.45 stops of
    display light left there."""
    at = int(np.argmin(abs(STOPS - 2)))
    own, soft, hard = (curve(HERON.interpret({"highlights": h}), 3.0) for h in (0, -4, 4))
    assert own[at] - soft[at] > 0.3
    below = STOPS < 2.99
    assert np.interp(hard[at], own[below], STOPS[below]) - 2 > 0.55
    assert np.interp(soft[at], own[below], STOPS[below]) - 2 < -0.3


@pytest.mark.parametrize("which", ["plain", "wet-slate", "linen"])
def test_steps_are_even_and_mid_grey_stays(which):
    at, grey = (int(np.argmin(abs(STOPS - s))) for s in (1.8, 0.0))
    made = np.stack([curve(Look(style=which, highlights=h), 3.0) for h in STEPS])
    below = made[:, at] < 0
    steps = np.diff(made[:, at])
    assert below.all()
    assert (steps > 0).all()
    for side in (steps[: len(steps) // 2], steps[len(steps) // 2 :]):
        assert side == pytest.approx(side.mean(), rel=0.05)
    assert np.ptp(made[:, grey]) < 1e-9
    slopes = np.diff(made[:, grey - 1 : grey + 2], axis=1)
    assert slopes == pytest.approx(slopes.mean(), rel=0.01)


def test_a_log_curve_is_not_bent_and_a_straight_shoulder_has_no_room():
    sounding = style("sounding").tone
    assert np.array_equal(
        tone.display(STOPS, sounding, 3.0), tone.display(STOPS, sounding, 3.0, 1.0, 2.0)
    )
    assert bend.room(sounding, 3.0) == (0, 0)
    assert HERON.interpret({"style": "sounding", "highlights": 3}).highlights == 0
    for name, white in (("plain", 3.0), ("ledger", 3.0), ("ledger", 5.0)):
        how = style(name).tone
        own, soft, hard = (
            float(np.log2(tone.display(np.array([2.0]), how, white, h))[0]) for h in (0, -1, 1)
        )
        assert bend.room(how, white) == pytest.approx((own - soft, hard - own))
    assert bend.room(style("ledger").tone, 2.7)[0] < 0.06 < bend.room(style("plain").tone, 2.7)[0]


def test_a_style_without_room_says_so():
    assert scant_room(style("ledger"), 3.0) == (
        "Ledger has little room for softer highlights: the lowest step takes 0.11 stops from tones "
        "two stops above mid grey."
    )
    assert [s for s in styles() if scant_room(style(s), 3.0)] == ["ledger"]

"""What is kept for the next picture changes none: each is what it is by itself."""

from dataclasses import replace

import numpy as np
import pytest

from zesty_plum.core import scenes
from zesty_plum.core.bodies import body
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.develop import moving, table, way
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.develop.taking import make_point

HERON = body("heron-m2")
BASE = {"style": "linen", "noise_filter": 3, "grain": "flour"}


def emptied() -> None:
    way._sensed._made.clear()
    moving._movers._made.clear()


def looks() -> dict[str, object]:
    """What differs in one thing that acts before the table, each with what it is developed by."""
    look, scene, sensor = HERON.interpret(BASE), scenes.load("procession"), HERON.sensor
    long = replace(look, slowest=4.0, iso_most=50.0)
    return {
        "as it is": (scene, look, sensor, {}),
        "tone": (scene, HERON.interpret({**BASE, "shadows": 2}), sensor, {}),
        "exposure": (scene, HERON.interpret({**BASE, "exposure": 1}), sensor, {}),
        "guard": (scene, HERON.interpret({**BASE, "guard": 1}), sensor, {}),
        "balance": (
            scene,
            HERON.interpret({**BASE, "shift_amber": 10, "shift_green": -3}),
            sensor,
            {},
        ),
        "filter": (scene, HERON.interpret({**BASE, "noise_filter": 4}), sensor, {}),
        "time": (scene, replace(look, slowest=0.5, iso_most=400.0), sensor, {}),
        "nothing moves": (replace(scene, moves=(), lens=0.0), look, sensor, {}),
        "another seed": (scene, look, sensor, {"seed": 7}),
        "another sensor": (scene, look, replace(sensor, electrons=sensor.electrons / 9), {}),
        "warmer": (replace(scene, celsius=40.0), long, sensor, {}),
        "another scene": (scenes.load("supper"), look, sensor, {}),
        "at 100 percent": (scene, look, sensor, {"full_detail": True}),
        "another place": (replace(scene, place=(0.2, 0.2)), look, sensor, {"full_detail": True}),
    }


def test_pictures_made_one_after_another_are_what_they_are_alone():
    alone = {}
    for name, (scene, look, sensor, how) in looks().items():
        emptied()
        alone[name] = develop(scene, look, sensor, 260, **how).encoded
    emptied()
    for name, (scene, look, sensor, how) in looks().items():
        together = develop(scene, look, sensor, 260, **how).encoded
        assert np.array_equal(together, alone[name]), name
    first = alone.pop("as it is")
    for name, other in alone.items():
        assert other.shape != first.shape or not np.array_equal(other, first), name


def test_what_is_kept_is_not_written_to_and_bounded():
    emptied()
    look, scene = HERON.interpret(BASE), scenes.load("workshop")
    shown = develop(scene, look, HERON.sensor, 300)
    (kept,) = way._sensed._made.values()
    before = kept[1].copy()
    with pytest.raises(ValueError, match="read-only"):
        kept[1][0, 0, 0] = 1
    develop(scene, HERON.interpret({**BASE, "colour": 2}), HERON.sensor, 300)
    assert np.array_equal(kept[1], before)
    assert len(way._sensed) == 1
    assert shown.encoded.flags.writeable
    for k in range(40):
        develop(scene, replace(look, noise_filter=2 + k / 100), HERON.sensor, 720)
    held = sum(array.nbytes for _, array in way._sensed._made.values())
    assert held <= way.MOST_KEPT


def test_colours_between_the_rows_that_were_looked_at_are_caught_up_on():
    """Every row but those has a colour of its own; all come out as the formula has them."""
    scene = scenes.load("workshop")
    made = make_point(scene, HERON.interpret(BASE), HERON.sensor)
    light = np.full((240, 32, 3), 0.18, np.float32)
    dice = np.random.default_rng(4)
    odd = [row for row in range(240) if row % table.SOME != table.SOME // 2]
    light[odd] = dice.uniform(0.01, 0.6, (len(odd), 32, 3))
    encoded = np.ascontiguousarray(made.to_shaper(light))
    wanted = made.develop(light)
    fresh = table.Table(made, table.FINE)
    luma, out = np.empty((240, 32), np.float32), np.empty_like(encoded)
    for _ in range(2):  # when nothing is known, and when all is
        fresh.apply(encoded, luma, out)
        away = ciede2000(encoded_to_lab(out), encoded_to_lab(wanted))
        assert np.percentile(away, 99) < 1.5
        assert away.mean() < 0.3
    in_place = encoded.copy()
    fresh.apply(in_place, luma)
    assert np.array_equal(in_place, out)

"""Recipes of the first editions of bodies come over by look, and what cannot is named."""

import json
import random

import numpy as np
import pytest
from skimage.color import deltaE_ciede2000, rgb2lab

from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body, first, shipped
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.recipe.earlier import carry

# Dials that have no counterpart, or none that goes as far: what they did is named instead.
GONE = {
    "heron-m2": {"density", "grain", "grain_size"},
    "wader-v1": {"black_level", "knee_point", "knee_slope"},
}
SCENES = ("garden", "snow", "table")
MANY = 30  # of each body; 500 of each were tried by hand


def drawn(body_id: str, seed: int, every: bool = False) -> dict:
    dice, old = random.Random(f"{body_id} {seed}"), first()[body_id]
    gone = () if every else GONE.get(body_id, ())
    kept = [d for d in old.dials if d.id not in gone and (every or not d.id.startswith("depth_"))]
    return {d.id: dice.choice(d.values) for d in kept}


def remains(body_id: str, dials: dict, found: dict) -> float:
    """Mean CIEDE2000 of scenes through the old dials and the new ones, by another library."""
    old, now = first()[body_id], body(body_id)
    looks = old.interpret(dials), now.interpret(found)
    apart = []
    for name in SCENES:
        scene = scenes.load(name)
        labs = [rgb2lab(develop(scene, x, now.sensor, 200).pixels) for x in looks]
        apart.append(float(deltaE_ciede2000(*labs).mean()))
    return float(np.mean(apart))


@pytest.mark.parametrize("body_id", first())
def test_what_has_counterparts_looks_the_same_afterwards(body_id):
    away = []
    for seed in range(MANY):
        dials = drawn(body_id, seed)
        away.append(remains(body_id, dials, carry(body_id, dials).dials))
    assert np.mean(np.array(away) < 0.8) >= 0.95, sorted(away)[-5:]


@pytest.mark.parametrize("body_id", first())
def test_at_zero_nothing_changes(body_id):
    old, now = first()[body_id], body(body_id)
    found = carry(body_id, {})
    assert found.dials == now.shipped
    assert now.interpret(found.dials) == old.interpret({})
    assert found.words == (f"Written for the first edition of {now.name} and carried over.",)
    styles = old.style_dial
    for style in styles.values:  # a style alone is exact too
        assert now.interpret(carry(body_id, {styles.id: style}).dials) == old.interpret(
            {styles.id: style}
        )


@pytest.mark.parametrize("body_id", GONE)
def test_what_does_not_look_the_same_names_the_dial_and_how_far(body_id):
    told = 0
    for seed in range(16):
        dials = drawn(body_id, seed, every=True)
        found = carry(body_id, dials)
        if remains(body_id, dials, found.dials) > 0.8:
            said = [w for w in found.words if "could not follow" in w or "no dial for" in w]
            assert said, (dials, found.words)
            assert all(any(c.isdigit() for c in w) for w in said)
            told += 1
    assert told


def test_a_family_stands_in_for_a_hue_that_has_no_dial_any_more():
    found = carry("wader-v1", {"depth_blue": 5, "depth_cyan": 4})
    assert found.dials["depth_water"] > 0
    assert {found.dials[f"depth_{k}"] for k in ("skin", "fire", "leaves")} == {0}
    kept = {**found.dials, "depth_water": 0}
    there = {"depth_blue": 5, "depth_cyan": 4}
    full = first()["wader-v1"].complete(there)
    assert remains("wader-v1", full, found.dials) < 0.7 * remains("wader-v1", full, kept)
    assert "Depth sky +" in found.words[1]
    assert found.words[2].startswith("Wader V1 has no dial for Depth")


def test_the_contracts_example_is_of_the_first_edition():
    text = {
        "format": "zesty-plum-recipe", "version": 1,
        "name": "Slack tide", "body": "heron-m2", "intent": "finished",
        "dials": {"style": "linen", "guard": 1, "white_balance": "auto", "shift_red": 2,
                  "shift_blue": -3, "highlights": -1, "shadows": 0.5, "colour": 1,
                  "sharpness": -2, "noise_filter": 1, "grain": 1, "grain_size": "fine"},
        "note": "Overcast, no faces near the frame edge.", "author": "pier crew", "x": [1],
    }  # fmt: skip
    made = recipes.from_data(text)
    assert made.dials["shift_amber"] == 20
    assert made.dials["grain"] == "flour"
    assert "Shift red +2, Shift blue -3" in made.carried[1]
    assert "Blue to amber +20 mired" in made.carried[1]
    again = json.loads(recipes.dumps(made))
    assert (again["body_edition"], again["x"]) == (2, [1])
    assert recipes.loads(recipes.dumps(made)) == made
    assert recipes.loads(recipes.dumps(made)).carried == ()


@pytest.mark.parametrize(
    ("edition", "dials", "said"),
    [
        (None, {"shift_amber": 10}, 'Write "body_edition": 2 beside its body'),
        (1, {"grain": "salt"}, 'Write "body_edition": 2 beside its body'),
        (None, {"tint": 1}, "Heron M2 has no dial 'tint'"),
        (2, {"shift_red": 1}, "Heron M2 has no dial 'shift_red'"),
        (3, {}, "made for edition 3 of Heron M2; this program knows up to edition 2"),
        (0, {}, "'body_edition' is 0"),
        ("2", {}, "'body_edition'"),
    ],
)
def test_an_edition_that_does_not_fit_is_told_in_a_sentence(edition, dials, said):
    data = {"format": "zesty-plum-recipe", "version": 1, "name": "x", "body": "heron-m2"}
    data |= {"dials": dials} | ({} if edition is None else {"body_edition": edition})
    with pytest.raises(PlumError) as error:
        recipes.from_data(data)
    assert said in str(error.value)


def test_no_list_shows_what_bodies_had_before():
    for camera in shipped().values():
        assert camera.edition == 2
    assert set(first()) == set(shipped())
    assert not {"knee_point", "density", "shift_red"} & set(body("heron-m2").by_id)

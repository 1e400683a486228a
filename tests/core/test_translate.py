"""Moving a recipe between bodies: no worse than brute force and SciPy, and never further on the way
back."""

import itertools

import numpy as np
import pytest
from scipy.optimize import differential_evolution

from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies, body
from zesty_plum.core.measure.looking import apart
from zesty_plum.core.recipe import make
from zesty_plum.core.translate import _Search, origin, remains, translate

RECIPES = [
    make(
        "soft",
        "heron-m2",
        {
            "style": "linen",
            "shift_amber": 20,
            "shift_green": 1,
            "highlights": -1,
            "shadows": 1,
            "colour": 1,
            "sharpness": -2,
        },
    ),
    make(
        "film",
        "wader-v1",
        {
            "style": "kelp",
            "toe": 0.6,
            "saturation": -2,
            "hue_turn": 4,
            "depth_water": 1,
            "shift_red": 2,
            "shift_blue": -2,
        },
    ),
    make(
        "hard", "dunlin-4", {"style": "driftwood", "contrast": 2, "saturation": -1, "kelvin": 5000}
    ),
]


def test_the_same_body_is_no_journey():
    found = translate(RECIPES[0], body("heron-m2"))
    assert found.mean < 0.05
    assert found.texture < 0.05


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda r: r.name)
def test_there_and_back_never_ends_further_than_there(recipe):
    for camera in bodies().values():
        if camera.id != recipe.body:
            there = translate(recipe, camera)
            back = translate(there.recipe, recipe.camera)
            assert back.mean + back.texture <= there.mean + there.texture + 1e-6


def test_no_worse_than_trying_everything_on_a_small_body():
    recipe, camera = RECIPES[0], body("sandpiper-p")
    search = _Search(recipe.look, recipe.camera.sensor, camera)
    dials = ("style", "white_balance", "sharpness", "noise_reduction", "exposure")
    all_of = itertools.product(
        *[
            camera.dial(d).values if d != "exposure" else (-0.67, -0.33, 0, 0.33, 0.67)
            for d in dials
        ]
    )
    best = min(search.cost(camera.complete(dict(zip(dials, values)))) for values in all_of)
    found = translate(recipe, camera)
    assert search.cost(found.recipe.dials) <= best + 1e-6


def test_no_worse_than_scipy_on_a_reduced_space():
    recipe, camera = RECIPES[1], body("heron-m2")
    search = _Search(recipe.look, recipe.camera.sensor, camera)
    names = ("highlights", "shadows", "colour", "shift_amber", "shift_green")
    start = translate(recipe, camera).recipe.dials
    values = [camera.dial(n).values for n in names]

    def cost(x: np.ndarray) -> float:
        return search.cost(
            {**start, **{n: v[int(np.clip(i, 0, len(v) - 1))] for n, v, i in zip(names, values, x)}}
        )

    theirs = differential_evolution(
        cost,
        [(0, len(v) - 1) for v in values],
        maxiter=12,
        popsize=8,
        seed=3,
        integrality=np.ones(5),
        polish=False,
    )
    assert search.cost(start) <= theirs.fun + 1e-6


def test_what_another_body_cannot_do_is_said():
    found = translate(
        make("x", "heron-m2", {"style": "lamplight", "grain": "sand", "guard": 1}), body("dunlin-4")
    )
    text = " ".join(found.words)
    assert "Dunlin 4 has no Lamplight" in text
    assert "no grain" in text
    assert "no guard" in text
    assert found.recipe.dials["noise_reduction"] == 0


def test_a_scene_at_hand_is_weighed_in_and_what_remains_there_is_told():
    """Beside the recipe that was found for pictures of all kinds, by the pictures themselves."""
    lamps = {"style": "lamplight", "white_balance": "keep_warm", "guard": 1, "highlights": -1}
    source, workshop = make("Lamps", "heron-m2", lamps), scenes.load("workshop")
    for to in ("sandpiper-p", "dunlin-4"):
        anywhere, here = (translate(source, body(to), scene=s) for s in (None, workshop))
        assert here.here == apart(workshop, source, here.recipe).whole
        assert here.here.mean <= apart(workshop, source, anywhere.recipe).whole.mean + 0.1
    worse = remains(source, make("x", "heron-m2", {**lamps, "white_balance": "daylight"}), workshop)
    assert worse.words[1] == f"In this scene more remains: {worse.here.mean:.1f} on average."


def test_a_translated_recipe_keeps_where_it_came_from_and_turns_nothing_idle():
    source = make("Lamps", "heron-m2", {"style": "lamplight", "guard": 1})
    found = translate(source, body("sandpiper-p")).recipe
    kept = recipes.loads(recipes.dumps(found))
    assert (origin(kept).name, origin(kept).dials) == ("Lamps", source.dials)
    turned = found.camera.changed(found.dials)
    assert not [k for k in turned if found.camera.idle(found.camera.dial(k), found.dials)]

"""What is said of a recipe beside the picture: verdicts, what a step does, where it fails."""

from dataclasses import replace
from typing import Any

from flask import Blueprint, jsonify, request
from werkzeug.wrappers import Response

from ...core.bodies import Body
from ...core.judge.effects import effects
from ...core.judge.naming import suggested_name
from ...core.judge.rules import SCHOOLS
from ...core.judge.verdicts import Verdict, mended
from ..frame.values import whole
from ..render import address, measured
from ..render.eyes import followed, visible
from ..server.turns import Rank, turn

blueprint = Blueprint("margin", __name__)

MOST_PLACES = 24
CLOSE = 0.05  # weights of verdicts that count as the same


def schools() -> frozenset[str]:
    """The schools that the address names."""
    return frozenset(s for s in request.args.get("schools", "").split(",") if s in SCHOOLS)


def verdict_data(verdict: Verdict, camera: Body) -> dict[str, Any]:
    """A verdict as the page's script needs it."""
    mend = verdict.remedy
    return {
        "rule": verdict.rule,
        "sentence": verdict.sentence,
        "reason": verdict.reason,
        "at": verdict.at,
        "mend": mend
        and {
            "dial": mend.dial,
            "label": mend.label,
            "place": camera.dial(mend.dial).position(mend.value),
            "printed": mend.printed,
            "mended": mend.mended,
            "sentence": mend.sentence,
        },
    }


@blueprint.get("/bench/verdicts")
def verdicts() -> Response:
    """Verdicts on the address's recipe in its scene, the weightiest first, each with its mend; or
    with `mends=later` without, which takes a third of the time."""
    recipe = address.recipe_from(request.args)
    scene = address.scene_asked(request.args)
    found = visible(measured.judged(scene, recipe, schools()), followed())
    if request.args.get("mends") != "later":
        with turn(Rank.MENDS) as pause:
            found = mended(scene, recipe, found, schools(), pause)
    return jsonify([verdict_data(v, recipe.camera) for v in found])


@blueprint.get("/bench/effects")
def what_steps_do() -> Response:
    """In words, what the steps next to where a dial stands would do in this scene."""
    recipe = address.recipe_from(request.args)
    scene = address.scene_asked(request.args)
    dial = recipe.camera.dial(request.args.get("line", ""))
    with turn(Rank.FIGURES) as pause:
        moves = effects(scene, recipe, dial.id, pause)
    return jsonify(
        [
            {"place": dial.position(m.value), "printed": m.printed, "sentence": m.sentence}
            for m in moves
        ]
    )


@blueprint.get("/bench/failing/<scene_id>")
def failing(scene_id: str) -> Response:
    """The weightiest verdict in one scene, or nothing, and whether the recipe fails its intent
    there: not where what is said is only worth knowing. For the page of every scene."""
    recipe = address.recipe_from(request.args)
    every = measured.judged(address.scene_of(scene_id), recipe, schools())
    found = visible(every, followed())
    fails = any(v.weight > 1 for v in found)
    return jsonify(
        sentence=found[0].sentence if found else "", more=max(0, len(found) - 1), fails=fails
    )


@blueprint.get("/bench/best")
def best() -> Response:
    """Of some places of the line in hand those at which verdicts weigh least, where they weigh
    less than at the present one; none where they do not."""
    recipe = address.recipe_from(request.args)
    scene = address.scene_asked(request.args)
    dial = recipe.camera.dial(request.args.get("line", ""))
    asked = [whole(p) for p in request.args.get("places", "").split(",")]
    places = [p for p in asked if p is not None and 0 <= p < len(dial.values)][:MOST_PLACES]
    weights = {}
    for place in places:
        there = replace(recipe, dials={**recipe.dials, dial.id: dial.values[place]})
        found = measured.judged(scene, there, schools())
        weights[place] = round(sum(v.importance for v in found), 3)
    least, now = min(weights.values(), default=0), recipe.dials[dial.id]
    better = least < weights.get(dial.position(now), 0) - CLOSE
    return jsonify([p for p, weight in weights.items() if better and weight <= least + CLOSE])


@blueprint.get("/bench/name")
def name_for() -> Response:
    """A name for the address's recipe, from what it looks like."""
    recipe = address.recipe_from(request.args)
    with turn(Rank.FIGURES):
        scene = address.scene_asked(request.args)
        return jsonify(name=suggested_name(scene, recipe))

"""The blind round: pictures without names, two at a time; then what was preferred, and how sure
that is."""

import secrets
from functools import cache

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.wrappers import Response

from ...core import scenes
from ...core.base.errors import PlumError
from ...core.judge import liked, ranking
from ...core.measure.report import Report
from ...store import rounds
from ..frame.context import db, now, sent_file, tell
from ..frame.values import identity, whole
from ..render import address, measured
from ..render.asked import Asked
from ..render.rendering import render
from ..ways.take import attached

blueprint = Blueprint("blind", __name__, template_folder="templates", url_prefix="/blind")

WIDTH = 900
WORDS = {"left": 1.0, "right": 0.0, "neither": 0.5}


@blueprint.get("")
def before() -> str:
    """Begin a round from what hangs on the Wall, go on with one, or look at what was found."""
    codes = request.args.getlist("r")[: rounds.MOST]
    chosen = list(dict.fromkeys(request.args.getlist("scene")))[: rounds.MOST_SCENES] or [
        address.FIRST_SCENE
    ]
    columns = [(c, address.from_code(c)[0]) for c in codes]
    return render_template(
        "blind_begin.html",
        columns=columns,
        chosen=chosen,
        scenes=address.scene_row(),
        rounds=rounds.listed(db()),
        asked=ranking.length(len(columns)) if len(columns) > 1 else 0,
    )


@blueprint.post("/begin")
def begin() -> Response:
    """A new round."""
    recipes = [address.from_code(c)[0] for c in request.form.getlist("r")]
    chosen = [s for s in request.form.getlist("scene") if address.scene_of(s)]
    seed = identity(request.form.get("seed", ""))
    if seed is None or seed > rounds.MOST_SEED:
        seed = secrets.randbelow(10**6)
    made = rounds.begin(db(), recipes, chosen, request.form.get("person", ""), seed, now())
    return redirect(url_for("blind.question", round_id=made))


@blueprint.post("/bring")
def bring() -> Response:
    """Somebody's round from its file."""
    file = sent_file("Choose the file of a blind round.")
    made = rounds.from_file(db(), file.read(), now())
    return redirect(url_for("blind.question", round_id=made))


def _next(a_round: rounds.Round) -> tuple[int, int, int]:
    return ranking.ask(len(a_round.recipes), len(a_round.scenes), a_round.choices, a_round.seed)


@blueprint.get("/<int:round_id>")
def question(round_id: int) -> ResponseReturnValue:
    """Two pictures to choose between; the result when all was asked."""
    a_round = rounds.get(db(), round_id)
    number = len(a_round.choices)
    if a_round.ended:
        return redirect(url_for("blind.result", round_id=round_id))
    _, _, scene = _next(a_round)
    return render_template(
        "blind.html", a_round=a_round, number=number, scene=address.scene_of(a_round.scenes[scene])
    )


@blueprint.get("/<int:round_id>/<int:number>/<any(left, right):side>.jpg")
def picture(round_id: int, number: int, side: str) -> Response:
    """One side of a question; its address says nothing of what it shows."""
    a_round = rounds.get(db(), round_id)
    if number > len(a_round.choices):
        abort(404)
    left, right, scene = ranking.ask(
        len(a_round.recipes), len(a_round.scenes), a_round.choices[:number], a_round.seed
    )
    recipe = a_round.recipes[left if side == "left" else right]
    made = render(Asked(a_round.scenes[scene], recipe, WIDTH))
    response = Response(made.jpeg, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "no-store"
    return response


@blueprint.post("/<int:round_id>/answer")
def choose(round_id: int) -> Response:
    """Keep an answer, take the last one back, or end the round."""
    a_round, said = rounds.get(db(), round_id), request.form.get("choice", "")
    number = whole(request.form.get("number", ""))
    if said == "back":
        rounds.take_back(db(), round_id)
    elif said == "end":
        if not a_round.choices:
            raise PlumError(
                "Nothing was answered yet, so there is nothing to say. Choose between a few "
                "pictures first."
            )
        rounds.end(db(), round_id, now())
    elif said in WORDS:
        left, right, scene = _next(a_round)
        kept = rounds.answer(
            db(),
            round_id,
            -1 if number is None else number,
            ranking.Choice(left, right, scene, WORDS[said]),
        )
        if not kept:
            tell("That was answered already, in another window; that answer stays.", "note")
        if len(rounds.get(db(), round_id).choices) >= a_round.asked:
            rounds.end(db(), round_id, now())
    else:
        raise PlumError("An answer is left, right or can't tell.")
    return redirect(url_for("blind.question", round_id=round_id))


@blueprint.get("/<int:round_id>/result")
def result(round_id: int) -> str:
    """The ranking with its confidence, how steady the answers were, what the preferred ones share,
    and another's beside it."""
    a_round = rounds.get(db(), round_id)
    count = len(a_round.recipes)
    ranked = ranking.rank(count, a_round.choices, a_round.seed)
    scene_id = a_round.scenes[0]
    scene = address.scene_of(scene_id)
    places = [address.scene_of(s) for s in a_round.scenes]

    def report(look: int, place: int) -> Report:
        return measured.seen(places[place], a_round.recipes[look]).report

    seen = cache(report)
    low, high = min(p.low for p in ranked.places), max(p.high for p in ranked.places)

    def across(value: float) -> float:
        return round(100 * (value - low) / max(high - low, 1e-9), 2)

    rows = [
        {
            "place": p,
            "recipe": a_round.recipes[p.look],
            "args": address.look_query(a_round.recipes[p.look]),
            "code": address.code(a_round.recipes[p.look]),
            "at": across(p.strength),
            "from": across(p.low),
            "to": across(p.high),
        }
        for p in ranked.places
    ]
    others = [
        r
        for r in rounds.listed(db())
        if r.id != round_id and r.choices and r.recipes == a_round.recipes
    ]
    other = next((r for r in others if str(r.id) == request.args.get("with")), None)
    beside = ranking.rank(count, other.choices, other.seed) if other else None
    return render_template(
        "blind_result.html",
        a_round=a_round,
        rows=rows,
        sure=ranked.sure,
        steady=ranking.steady(a_round.choices),
        shared=liked.in_common(ranked, a_round.recipes, a_round.choices, seen),
        scene_id=scene_id,
        scene=scene,
        others=others,
        other=other,
        other_order=[a_round.recipes[p.look].name for p in beside.places] if beside else [],
        alike=ranking.alike(ranked, beside) if beside else None,
        confidence=ranking.CONFIDENCE,
        odd=[s for s in a_round.scenes if s not in scenes.index()],
    )


@blueprint.get("/<int:round_id>/round.json")
def file(round_id: int) -> Response:
    """The round as a file for somebody else; with `answers` to be set beside theirs."""
    a_round = rounds.get(db(), round_id)
    answers = request.args.get("answers") == "1"
    name = f"blind-round-{round_id}{'-answered' if answers else ''}.json"
    return attached(name, rounds.to_file(a_round, answers), "application/json")


@blueprint.post("/<int:round_id>/delete")
def delete(round_id: int) -> Response:
    """Delete a round."""
    rounds.delete(db(), round_id, now())
    tell("The round was deleted.", f"undo:{url_for('blind.restore', round_id=round_id)}")
    return redirect(url_for("blind.before"))


@blueprint.post("/<int:round_id>/restore")
def restore(round_id: int) -> Response:
    """Take a round back."""
    rounds.delete(db(), round_id, None)
    return redirect(url_for("blind.question", round_id=round_id))

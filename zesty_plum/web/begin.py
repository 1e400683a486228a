"""Beginning a recipe from a list in plain text."""

from urllib.parse import parse_qsl

from flask import Blueprint, jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from ..core.begin import Goal, goals, read_list
from ..core.bodies import body
from ..core.paper.code import holds, unpack
from ..core.translate import translate
from .address import FIRST_BODY, FIRST_SCENE, dial_args, query, recipe_from
from .context import tell, went
from .work import long_work

MOST_PASTED = 8000  # characters of a list
blueprint = Blueprint("begin", __name__, template_folder="templates")


def goal_links() -> list[dict[str, str]]:
    """Title, reason and address of every goal."""

    def link(goal: Goal) -> str:
        asked = {
            "scene": goal.scene,
            "name": goal.recipe.name,
            "intent": str(goal.recipe.intent),
            "body": goal.recipe.body,
        }
        return url_for("bench.page") + "?" + query(asked | dial_args(goal.recipe))

    return [{"title": g.title, "why": g.why, "url": link(g)} for g in goals()]


@blueprint.post("/begin/list")
def read_pasted() -> ResponseReturnValue:
    """What was understood of a pasted list, what was not and why, and the bench that it leads
    to."""
    text = request.form.get("text", "")[:MOST_PASTED]
    if holds(text):
        recipe = unpack(text)
        said = {
            "understood": [f"The code of '{recipe.name}', for {recipe.camera.name}"],
            "unclear": [],
        }
        asked = {
            "scene": request.form.get("scene", FIRST_SCENE),
            "body": recipe.body,
            "intent": str(recipe.intent),
            "name": recipe.name,
        }
        return _read(said | {"to": url_for("bench.page") + "?" + query(asked | dial_args(recipe))})
    reading = read_list(text, request.form.get("body", FIRST_BODY))
    asked = {
        "scene": request.form.get("scene", FIRST_SCENE),
        "body": reading.camera.id,
    } | dial_args(reading.recipe)
    return _read(
        {
            "understood": reading.understood,
            "unclear": reading.unclear,
            "to": url_for("bench.page") + "?" + query(asked),
        }
    )


def _read(said: dict[str, object]) -> ResponseReturnValue:
    if request.accept_mimetypes.best == "application/json":
        return jsonify(said)
    return render_template("read.html", **said)


@blueprint.get("/begin/match")
def match() -> Response:
    """The nearest recipe on another body: to its bench, with a word on what remains."""
    given = MultiDict(parse_qsl(request.args.get("from", "")[:4000]))
    source, camera = recipe_from(given), body(request.args.get("to", FIRST_BODY))
    with long_work(f"Looking for the nearest recipe on {camera.name}") as work:
        found = translate(source, camera, work.pause)
    tell(
        f"{camera.name}, nearest to {source.camera.name}: {' '.join(found.words)} CIEDE2000 "
        f"{found.mean:.1f} on average remains.",
        "note",
    )
    asked = {
        "scene": given.get("scene", FIRST_SCENE),
        "body": camera.id,
        "intent": str(source.intent),
    } | dial_args(found.recipe)
    return went(url_for("bench.page") + "?" + query(asked))

"""Beginning a recipe from a list in plain text."""

from flask import Blueprint, jsonify, render_template, request, url_for

from ..core.begin import Goal, goals, read_list
from .address import FIRST_BODY, FIRST_SCENE, dial_args, query

blueprint = Blueprint("begin", __name__, template_folder="templates")


def goal_links() -> list[dict[str, str]]:
    """Title, reason and address of every goal."""

    def link(goal: Goal) -> str:
        asked = {"scene": goal.scene, "name": goal.recipe.name, "intent": str(goal.recipe.intent), "body": goal.recipe.body}
        return url_for("bench.page") + "?" + query(asked | dial_args(goal.recipe))

    return [{"title": g.title, "why": g.why, "url": link(g)} for g in goals()]


@blueprint.post("/begin/list")
def read_pasted() -> object:
    """What was understood of a pasted list, what was not and why, and the bench that it leads to."""
    reading = read_list(request.form.get("text", "")[:8000], request.form.get("body", FIRST_BODY))
    asked = {"scene": request.form.get("scene", FIRST_SCENE), "body": reading.camera.id} | dial_args(reading.recipe)
    said = {"understood": reading.understood, "unclear": reading.unclear, "to": url_for("bench.page") + "?" + query(asked)}
    if request.accept_mimetypes.best == "application/json":
        return jsonify(said)
    return render_template("read.html", **said)

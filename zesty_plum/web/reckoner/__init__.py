"""The reckoner: each sum of the day on its own, on a page and in a drawer anywhere (key R)."""

from flask import Blueprint, jsonify, render_template, request
from werkzeug.wrappers import Response

from ...core.base.errors import PlumError
from ...core.reckon.sheet import BY_ID, SHEET
from ...core.reckon.solve import Answered, answered
from ..frame.screens import Room
from ..frame.values import choice

blueprint = Blueprint("reckoner", __name__, template_folder="templates", url_prefix="/reckoner")
MOST_TEXT = 40
NOTHING = Answered({}, {}, [])


@blueprint.get("/")
def page() -> str:
    """All sums; the one that was asked with what was given, the others as they stand first. With
    `part` only what a drawer shows."""
    asked = request.args.get("sum", "")
    rows = []
    for one in SHEET:
        told = one.firsts
        if one.id == asked:
            told = {f.name: request.args.get(f.name, "")[:MOST_TEXT] for f in one.fields}
        try:
            rows.append((one, told, answered(one, told), ""))
        except PlumError as error:
            rows.append((one, told, NOTHING, str(error)))
    template = "_sums.html" if request.args.get("part") else "reckoner.html"
    return render_template(template, rows=rows, asked=asked)


@blueprint.get("/<kind>.json")
def answers(kind: str) -> Response:
    """What follows of one sum from the fields that are filled in."""
    one = BY_ID[choice("sum", kind, BY_ID)]
    found = answered(one, {f.name: request.args.get(f.name, "")[:MOST_TEXT] for f in one.fields})
    return jsonify(shown=found.shown, values=found.values, rows=found.rows)


ROOM = Room("Outing", (blueprint,))

"""The reckoner: each sum of the day on its own, on a page and in a drawer anywhere (key R)."""

from collections.abc import Mapping

from flask import Blueprint, jsonify, render_template, request
from werkzeug.wrappers import Response

from ...core.errors import PlumError
from ...core.reckon.sheet import BY_ID, SHEET, Answers, Sum
from ...core.reckon.time import seconds
from ..screens import Room
from ..values import choice

blueprint = Blueprint("reckoner", __name__, template_folder="templates", url_prefix="/reckoner")
MOST_TEXT = 20


@blueprint.get("/")
def page() -> str:
    """All sums; the one that was asked with what was given, the others as they stand first. With
    `part` only what a drawer shows."""
    asked = request.args.get("sum", "")
    rows = []
    for one in SHEET:
        first = {f.name: f.first for f in one.fields}
        given = {f.name: request.args.get(f.name, "") for f in one.fields}
        told = given if one.id == asked else first
        rows.append((one, told, *_answered(one, told)))
    template = "_sums.html" if request.args.get("part") else "reckoner.html"
    return render_template(template, rows=rows, asked=asked)


@blueprint.get("/<kind>.json")
def answers(kind: str) -> Response:
    """What follows of one sum."""
    one = BY_ID[choice("sum", kind, BY_ID)]
    return jsonify(answers=follow(one, request.args))


def _answered(one: Sum, told: Mapping[str, str]) -> tuple[Answers, str]:
    try:
        return follow(one, told), ""
    except PlumError as error:
        return [], str(error)


def follow(one: Sum, told: Mapping[str, str]) -> Answers:
    """What follows from what was typed; PlumError names a field that is no number or is empty."""
    given = {}
    for field in one.fields:
        text = str(told.get(field.name, "")).strip()[:MOST_TEXT]
        if not text:
            if field.free:
                continue
            raise PlumError(f"Fill in: {field.label}.")
        if field.time:
            given[field.name] = seconds(text)
            continue
        try:
            given[field.name] = float(text.replace(",", ".").replace("−", "-"))
        except ValueError as error:
            raise PlumError(f"{field.label.capitalize()} is a number, not '{text}'.") from error
    try:
        return one.follows(given)
    except (OverflowError, ValueError, ZeroDivisionError, KeyError) as error:
        raise PlumError("These numbers do not go together. Look through them.") from error


ROOM = Room("Outing", (blueprint,))

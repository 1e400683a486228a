"""Beginning a recipe from a list in plain text."""

import json
from dataclasses import replace

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core.base.text import shortened
from ...core.bodies import bodies, body
from ...core.lists import Choice, Kind, Protocol, read_list
from ...core.paper.code import holds, unpack
from ...core.recipe import Recipe
from ...core.recipe.begin import Goal, goals
from ..render.address import FIRST_SCENE, dial_args, query

MOST_IN_LINK = 1500  # of a note that goes along to the Bench
# What is written beside a piece of a list, by how it was understood.
MARKS = {
    Kind.TAKEN: ("taken", "✓"),
    Kind.ROUNDED: ("rounded", "≈"),
    Kind.NEAREST: ("nearest", "≈"),
    Kind.GUESSED: ("a guess", "?"),
    Kind.CHOSEN: ("chosen", "✓"),
    Kind.WORDS: ("words", "¶"),
    Kind.BESIDE: ("to the note", "¶"),
    Kind.REPEATED: ("said twice", "="),
    Kind.LACKING: ("not on this body", "–"),
    Kind.UNCLEAR: ("not understood", "?"),
    Kind.LEFT_OUT: ("left out", "–"),
}
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
    """A pasted list as it was read, piece by piece, each to be corrected; where it is a recipe's
    code, the Bench."""
    text = request.form.get("text", "")
    scene = request.form.get("scene", FIRST_SCENE)
    if holds(text):
        return redirect(url_for("bench.page") + "?" + query(bench_args(unpack(text), scene)))
    if text.lstrip()[:1] in ("{", "[") and _is_json(text):
        return redirect(url_for("bring.look"), 307)
    given = request.form.get("body", "")
    prefer = request.form.get("prefer", "") or None
    read = read_list(text, body(given) if given else None, prefer=prefer)
    if chosen := _choices(read):
        read = read_list(text, read.camera, chosen)
    shown = {
        "read": read,
        "scene": scene,
        "bench": url_for("bench.page") + "?" + query(bench_args(read.recipe, scene)),
        "keep": {"scene": scene, **_words(read.recipe), **dial_args(read.recipe)},
        "chosen": chosen,
        "bodies": bodies().values(),
        "marks": MARKS,
        "part": bool(request.form.get("part")),
    }
    return render_template("_read.html" if shown["part"] else "read.html", **shown)


def _choices(read: Protocol) -> dict[int, Choice]:
    """What was chosen by hand for pieces: c3 is a dial or '-' for left out, v3 a place of d3, the
    dial that stood there. Another dial takes no place along; another body is read afresh."""
    out: dict[int, Choice] = {}
    if request.form.get("of", read.camera.id) != read.camera.id:
        return out
    for k, piece in enumerate(read.pieces):
        dial, place = request.form.get(f"c{k}", ""), request.form.get(f"v{k}", "")
        if dial != request.form.get(f"d{k}", dial):
            place = ""
        if dial == "-":
            out[k] = Choice(out=True)
            continue
        of = read.camera.by_id.get(dial or piece.dial)
        if of is None or not (dial or place):
            continue
        value = next((v for v in of.values if str(v) == place), None)
        out[k] = Choice(dial, value)
    return out


def _is_json(text: str) -> bool:
    try:
        json.loads(text)
    except (ValueError, RecursionError):
        return False
    return True


def _words(recipe: Recipe) -> dict[str, str]:
    words = {
        "name": recipe.name,
        "intent": str(recipe.intent),
        "note": recipe.note,
        "author": recipe.author,
    }
    return {k: v for k, v in words.items() if v}


def bench_args(recipe: Recipe, scene: str) -> dict[str, str]:
    """Arguments of the Bench for a recipe with its words."""
    short = replace(recipe, note=shortened(recipe.note, MOST_IN_LINK))
    return {"scene": scene} | _words(short) | dial_args(recipe)

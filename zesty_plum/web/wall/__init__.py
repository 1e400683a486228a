"""The Wall: recipes side by side on scenes."""

from dataclasses import replace
from typing import Any

from flask import Blueprint, flash, render_template, request
from werkzeug.datastructures import MultiDict

from ...core.bodies import Dial
from ...core.judge.words import beside, looked_at
from ...core.measure.compare import difference, to_lab
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from ...store import shelf
from .. import address, db

blueprint = Blueprint("wall", __name__, template_folder="templates")

FEWEST, MOST, MOST_SCENES = 2, 8, 12
MEASURED_WIDTH = 360
MOST_WORDS = 5


def _chosen(codes: list[str]) -> list[tuple[str, Recipe, str]]:
    """Code, recipe and line of each column; begins with the newest slips where none are named."""
    if not codes:
        codes = [f"slip-{k}" for k, _ in shelf.names(db(), most=3)]
    if len(codes) > MOST:
        flash(f"The Wall holds {MOST} recipes; the first {MOST} are shown.", "fault")
    return [(c, *address.from_code(c)) for c in codes[:MOST]]


def bracketed(recipe: Recipe, dial: Dial) -> list[Recipe]:
    """A recipe with one dial at the places around where it stands, as people bracket in the field: at most seven."""
    at, last = dial.position(recipe.dials[dial.id]), len(dial.values) - 1
    step = 1 if last < 14 else 2
    places = [at + step * k for k in range(-3, 4)] if last > 6 else range(last + 1)
    some = [p for p in places if 0 <= p <= last]
    return [
        replace(recipe, name=f"{dial.label} {dial.choices[p].label}", dials={**recipe.dials, dial.id: dial.values[p]}) for p in some
    ]


def _told(scene: Scene, columns: list[tuple[str, Recipe, str]], standard: int) -> list[dict[str, Any]]:
    """Each column with words and figures against the standard, on one scene."""
    seen = [looked_at(scene, recipe, MEASURED_WIDTH) for _, recipe, _ in columns]
    labs = [to_lab(picture) for picture, _ in seen]
    made = []
    for k, (code, recipe, line) in enumerate(columns):
        own = k == standard
        words = [] if own else beside(scene, (columns[standard][1], seen[standard][1]), (recipe, seen[k][1]))
        made.append({
            "code": code,
            "recipe": recipe,
            "line": line,
            "args": address.query(address.dial_args(recipe)),
            "difference": None if own else difference(labs[standard], labs[k]),
            "words": words[:MOST_WORDS],
            "clipped": seen[k][1].frame.clipped,
            "contrast": seen[k][1].curve.contrast,
            "dials": [] if own else recipe.differing(columns[standard][1]),
        })  # fmt: skip
    return made


@blueprint.get("/wall")
def page() -> str:
    """Two to eight recipes across, one to twelve scenes down, told against the standard on the first scene."""
    columns = _chosen(request.args.getlist("r"))
    bracket = request.args.get("bracket", "")
    if bracket and columns:
        recipe = columns[0][1]
        columns = [(address.code(r), r, f"{r.camera.name}, bracket") for r in bracketed(recipe, recipe.camera.dial(bracket))]
    scene_ids = list(dict.fromkeys(request.args.getlist("scene")))[:MOST_SCENES] or [address.FIRST_SCENE]
    rows = [(scene_id, address.scene_of(scene_id)) for scene_id in scene_ids]
    text = request.args.get("standard", "0")
    standard = min(int(text), max(len(columns) - 1, 0)) if text.isdigit() and len(text) < 3 else 0
    if bracket and "standard" not in request.args:
        standard = len(columns) // 2
    keep = MultiDict([*(("r", c) for c, _, _ in columns), *(("scene", s) for s in scene_ids)])
    return render_template(
        "wall.html",
        columns=_told(rows[0][1], columns, standard) if columns else [],
        standard=standard,
        scene_id=scene_ids[0],
        rows=rows,
        scene=rows[0][1],
        scenes=address.scene_row(),
        slips=shelf.names(db()),
        bracket_dials=[d for d in columns[0][1].camera.dials if len(d.values) > 1] if columns else [],
        keep=keep,
        apart=request.args.get("apart") == "1",
        most=MOST,
        fewest=FEWEST,
    )

"""The Wall: recipes side by side on one scene."""

from flask import Blueprint, flash, render_template, request

from ...core.develop.pipeline import develop
from ...core.measure.compare import difference, to_lab
from ...core.recipe import Recipe
from ...store import slips
from .. import address, db

blueprint = Blueprint("wall", __name__, template_folder="templates")

FEWEST, MOST = 2, 4
MEASURED_WIDTH = 360


def _chosen(codes: list[str]) -> list[tuple[str, Recipe, str]]:
    """Code, recipe and line of each column; begins with the newest slips where none are named."""
    if not codes:
        codes = [f"slip-{s.id}" for s in slips.listed(db())[:3]]
    if len(codes) > MOST:
        flash(f"The Wall holds {MOST} recipes in this version; the first {MOST} are shown.", "fault")
    return [(c, *address.from_code(c)) for c in codes[:MOST]]


@blueprint.get("/wall")
def page() -> str:
    """Two to four recipes on a scene, measured against the standard."""
    columns = _chosen(request.args.getlist("r"))
    scene_id = request.args.get("scene", address.FIRST_SCENE)
    scene = address.scene_of(scene_id)
    text = request.args.get("standard", "0")
    standard = min(int(text), max(len(columns) - 1, 0)) if text.isdigit() and len(text) < 3 else 0
    labs = [to_lab(develop(scene, r.look, r.camera.sensor, MEASURED_WIDTH)) for _, r, _ in columns]
    shown = []
    for k, (code, recipe, line) in enumerate(columns):
        shown.append(
            {
                "code": code,
                "recipe": recipe,
                "line": line,
                "args": address.query(address.dial_args(recipe)),
                "difference": None if k == standard else difference(labs[standard], labs[k]),
                "dials": [] if k == standard else recipe.differing(columns[standard][1]),
            }
        )
    return render_template(
        "wall.html",
        columns=shown,
        standard=standard,
        scene_id=scene_id,
        scene=scene,
        scenes=address.scene_row(),
        slips=slips.listed(db()),
        most=MOST,
        fewest=FEWEST,
    )

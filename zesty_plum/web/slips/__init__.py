"""Slips: the library of recipes."""

from flask import Blueprint, flash, jsonify, redirect, render_template, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from ...core.errors import PlumError
from ...core.recipe import INTENT_WORDS
from ...store import slips
from .. import address, db, now, wants_json

blueprint = Blueprint("slips", __name__, template_folder="templates")


@blueprint.get("/slips")
def page() -> str:
    """All slips, each with a render on the scene of choice."""
    scene_id = request.args.get("scene", address.FIRST_SCENE)
    address.scene_of(scene_id)
    cards = [
        {
            "slip": slip,
            "camera": slip.recipe.camera,
            "intent": INTENT_WORDS[slip.recipe.intent],
            "changed": [
                (slip.recipe.camera.dial(k).label, slip.recipe.camera.dial(k).choice(v).label)
                for k, v in slip.recipe.camera.changed(slip.recipe.dials).items()
            ],
            "args": address.query(address.dial_args(slip.recipe)),
        }
        for slip in slips.listed(db())
    ]
    return render_template("slips.html", cards=cards, scenes=address.scene_row(), scene_id=scene_id, trash=slips.listed(db(), True))


@blueprint.get("/slips/<int:slip_id>")
def versions(slip_id: str) -> str:
    """The versions of one slip."""
    kept = slips.history(db(), int(slip_id))
    slip = slips.get(db(), int(slip_id))
    scene_id = request.args.get("scene", address.FIRST_SCENE)
    rows = [
        {
            "slip": v,
            "args": address.query(address.dial_args(v.recipe)),
            "changes": v.recipe.differing(kept[k + 1].recipe) if k + 1 < len(kept) else [],
        }
        for k, v in enumerate(kept)
    ]
    parent = slips.get(db(), slip.parent) if slip.parent else None
    return render_template("versions.html", slip=slip, rows=rows, scene_id=scene_id, parent=parent)


@blueprint.post("/slips/save")
def save() -> Response:
    """Save the Bench's recipe: as a new slip, or as the next version of the one it came from."""
    recipe = address.recipe_from(MultiDict(request.form))
    if not request.form.get("name", "").strip():
        raise PlumError("A slip needs a name. Type one and save again.")
    onto = request.form.get("slip", "")
    if onto.isdigit() and request.form.get("as") != "new":
        slip = slips.save(db(), int(onto), recipe, now())
    else:
        version = request.form.get("version", "")
        parent = (int(onto), int(version)) if onto.isdigit() and version.isdigit() else None
        slip = slips.create(db(), recipe, now(), parent)
    flash(f"'{slip.name}' is saved as version {slip.version}.", "done")
    to = url_for("bench.page", scene=request.form.get("scene") or None, slip=slip.id, line=request.form.get("line") or None)
    return jsonify(to=to, slip=slip.id, version=slip.version) if wants_json() else redirect(to)


def _back() -> Response:
    return redirect(url_for("slips.page", scene=request.form.get("scene") or None))


@blueprint.post("/slips/<int:slip_id>/rename")
def rename(slip_id: int) -> Response:
    """Another name for a slip."""
    slip = slips.rename(db(), slip_id, request.form.get("name", ""))
    flash(f"It is called '{slip.name}' now.", "done")
    return _back()


@blueprint.post("/slips/<int:slip_id>/duplicate")
def duplicate(slip_id: int) -> Response:
    """A new slip that begins where this one stands."""
    from dataclasses import replace

    slip = slips.get(db(), slip_id)
    recipe = replace(slip.recipe, name=f"{slip.name[:110]}, variant")
    made = slips.create(db(), recipe, now(), (slip.id, slip.version))
    flash(f"'{made.name}' was made from '{slip.name}'.", "done")
    return _back()


@blueprint.post("/slips/<int:slip_id>/delete")
def delete(slip_id: int) -> Response:
    """Into the trash."""
    slip = slips.get(db(), slip_id)
    slips.delete(db(), slip_id, now())
    flash(f"'{slip.name}' was deleted.", f"undo:{url_for('slips.restore', slip_id=slip_id)}")
    return _back()


@blueprint.post("/slips/<int:slip_id>/restore")
def restore(slip_id: int) -> Response:
    """Back out of the trash."""
    slip = slips.restore(db(), slip_id)
    flash(f"'{slip.name}' is back.", "done")
    return _back()

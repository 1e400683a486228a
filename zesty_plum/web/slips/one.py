"""A slip's own page: what it looks like, its dials as the body prints them, what it is for, its
versions and its family."""

from typing import Any

from flask import Blueprint, jsonify, render_template, request
from werkzeug.wrappers import Response

from ...core.bodies import Body, Dial, mark
from ...core.kit.state import Slot, bank_of, slots
from ...core.recipe import INTENT_WORDS, Recipe
from ...core.translate import origin, remains
from ...store import cases, plans, rounds, shelf, slips
from ..frame.context import db
from ..frame.values import identity
from ..render import address, measured
from ..render.trials import of_slip

blueprint = Blueprint("slip", __name__, template_folder="templates")

DEEPEST = 6  # generations of variants that the tree shows
MOST_SEEN = 4  # words of what a version changed that are told


def _groups(recipe: Recipe) -> list[tuple[str, list[dict[str, Any]]]]:
    """Dials by group, in the order of the menus: label, value as printed, whether it was turned,
    why it does not count."""
    camera: Body = recipe.camera
    turned = camera.changed(recipe.dials)

    def line(dial: Dial) -> dict[str, Any]:
        value = recipe.dials[dial.id]
        return {
            "label": dial.label,
            "value": dial.choice(value).label,
            "turned": dial.id in turned,
            "idle": camera.idle(dial, recipe.dials),
            "later": dial.later,
        }

    groups: dict[str, list[dict[str, Any]]] = {}
    for dial in camera.dials:
        groups.setdefault(dial.group, []).append(line(dial))
    return list(groups.items())


def _tree(slip: slips.Slip, here: int, deep: int = 0) -> dict[str, Any]:
    """A slip with what was varied from it."""
    below = (
        [_tree(v, here, deep + 1) for v in slips.variants(db(), slip.id)] if deep < DEEPEST else []
    )
    return {"slip": slip, "here": slip.id == here, "below": below}


def _eldest(slip: slips.Slip) -> slips.Slip:
    """The slip from which all of its family come; the nearest that is not in the trash."""
    seen = {slip.id}
    while slip.parent and slip.parent not in seen:
        above = next(iter(slips.some(db(), [slip.parent])), None)
        if above is None or above.deleted:
            break
        seen.add(above.id)
        slip = above
    return slip


def _places(recipe: Recipe) -> list[tuple[cases.Case, list[tuple[Slot, plans.Put | None]]]]:
    """Slots of the person's cameras that a recipe can be put into, and what should be in them."""
    bank = bank_of(recipe.camera, recipe.dials)
    out = []
    for case in cases.listed(db()):
        if case.body == recipe.body:
            puts = plans.slots_of(db(), case.id)
            fit = [s for s in slots(case.camera) if s.bank in ("", bank)]
            out.append((case, [(s, puts.get(s.key)) for s in fit]))
    return out


def _edition(recipe: Recipe) -> str:
    """That a recipe was made for another edition of its body than it is shown through."""
    made_for, here = recipe.extra.get("body_mark"), mark(recipe.body)
    if not made_for or not here or made_for == here:
        return ""
    camera = recipe.camera
    return (
        f"It was made for edition {recipe.extra.get('body_edition')} of {camera.name} and is shown "
        f"through edition {camera.edition}, so it may look a little different."
    )


@blueprint.get("/slips/<int:slip_id>")
def page(slip_id: int) -> str:
    """One slip."""
    kept, slip = slips.history(db(), slip_id), slips.get(db(), slip_id)
    scene_id = request.args.get("scene", address.FIRST_SCENE)
    scene = address.scene_of(scene_id)
    versions = [
        {
            "slip": v,
            "args": address.look_query(v.recipe),
            "changes": v.recipe.differing(kept[k + 1].recipe) if k + 1 < len(kept) else [],
            "carried": " ".join(v.recipe.carried),
            "today": k + 1 < len(kept) and bool(kept[k + 1].recipe.carried),
            "renamed": k + 1 < len(kept) and v.recipe.note != kept[k + 1].recipe.note,
        }
        for k, v in enumerate(kept)
    ]
    tree = _tree(_eldest(slip), slip.id)
    before = origin(slip.recipe)
    if before is not None and before.body == slip.recipe.body:
        before = None
    return render_template(
        "slip.html",
        slip=slip,
        recipe=slip.recipe,
        camera=slip.recipe.camera,
        intent=INTENT_WORDS[slip.recipe.intent],
        groups=_groups(slip.recipe),
        versions=versions,
        tree=tree if tree["below"] else None,
        tags=shelf.tags_of(db(), slip_id),
        came=before,
        came_words=remains(before, slip.recipe).words if before else [],
        rounds=rounds.using(db(), slip.recipe),
        trials=of_slip(slip_id),
        scene=scene,
        scene_id=scene_id,
        scenes=address.scene_row(),
        args=address.look_query(slip.recipe),
        edition=_edition(slip.recipe),
        stands=plans.standing(db(), slip_id),
        places=_places(slip.recipe),
    )


@blueprint.get("/slips/<int:slip_id>/words")
def words(slip_id: int) -> Response:
    """In words, what a version looks like beside the one before it, on a scene."""
    newer = slips.get(db(), slip_id, identity(request.args.get("version", "")))
    if newer.version < 2:
        return jsonify(words="")
    older = slips.get(db(), slip_id, newer.version - 1)
    scene = address.scene_asked(request.args)
    seen = measured.against(scene, older.recipe, newer.recipe).words[:MOST_SEEN]
    words = f"{', '.join(seen)}." if seen else "Nobody would see the difference in this scene."
    return jsonify(words=words)

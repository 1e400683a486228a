"""Slips: the library of recipes, found, sorted, tagged, and changed one or many at a time."""

from dataclasses import replace
from typing import Any

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from ...core.base.errors import PlumError
from ...core.recipe import INTENT_WORDS, Recipe, search
from ...store import plans, shelf, slips
from ...store import unreadable as cannot_be_read
from ...store.database import transaction
from ..frame.context import db, now, number, tell, wants_json
from ..frame.drawn import drawn_from
from ..frame.screens import Room
from ..frame.values import identity, place
from ..render import address
from ..render.rendering import SHELF_WIDTH
from . import one, unreadable

blueprint = Blueprint("slips", __name__, template_folder="templates")

AT_ONCE = 60  # cards in a part of the page; even in rows of one to six
MOST_PICKED = 20_000
TAGS_SHOWN = 12


def _card(slip: slips.Slip) -> dict[str, object]:
    camera = slip.recipe.camera
    changed = camera.changed(slip.recipe.dials)
    return {
        "slip": slip,
        "camera": camera,
        "intent": INTENT_WORDS[slip.recipe.intent],
        "changed": [
            (camera.dial(k).label, camera.dial(k).choice(v).label) for k, v in changed.items()
        ],
        "args": address.look_query(slip.recipe),
    }


@blueprint.get("/slips")
def page() -> str:
    """Slips that the search finds, each with a render on the scene of choice; with `part` only what
    a script asks for."""
    scene_id = request.args.get("scene", address.FIRST_SCENE)
    address.scene_of(scene_id)
    query, sort = search.parse(request.args.get("q", "")), request.args.get("sort", "newest")
    after = number("after", 0, 0, 10**7)
    ids = shelf.find(db(), query, sort, AT_ONCE, after)
    cards = [_card(slip) for slip in slips.some(db(), ids)]
    asked = {"q": request.args.get("q", ""), "sort": sort, "scene": scene_id}
    shown = {"cards": cards, "scene_id": scene_id, "width": SHELF_WIDTH, "asked": asked}
    if request.args.get("part") == "cards":
        return render_template("_cards.html", **shown)
    found = shelf.count(db(), query)
    shown |= {
        "found": found,
        "every": shelf.count(db()),
        "notes": query.notes,
        "after": after,
        "rest": list(range(after + AT_ONCE, found, AT_ONCE)),
        "at_once": AT_ONCE,
    }
    if request.args.get("part") == "found":
        return render_template("_found.html", **shown)
    trash = shelf.find(db(), sort="newest", most=AT_ONCE, deleted=True)
    return render_template(
        "slips.html",
        scenes=address.scene_row(),
        sorts=list(shelf.SORTS),
        tags=sorted(sorted(shelf.tags(db()), key=lambda t: -t[1])[:TAGS_SHOWN]),
        trash=slips.some(db(), trash),
        in_trash=shelf.count(db(), deleted=True),
        unreadable=cannot_be_read.listed(db()),
        **shown,
    )


@blueprint.post("/slips/save")
def save() -> Response:
    """Save the Bench's recipe: as a new slip, or as the next version of the one it came from."""
    recipe = address.recipe_from(MultiDict(request.form))
    if not request.form.get("name", "").strip():
        raise PlumError("A slip needs a name. Type one and save again.")
    onto = identity(request.form.get("slip", ""))
    if onto is not None and request.form.get("as") != "new":
        slip, words = _next_version(onto, recipe)
    else:
        version = identity(request.form.get("version", ""))
        parent = (onto, version) if onto is not None and version is not None else None
        slip = slips.create(db(), recipe, now(), parent)
        words = f"'{slip.name}' is saved as version {slip.version}."
    if request.form.get("tags", "").strip():
        shelf.tag(db(), [slip.id], request.form["tags"])
    tell(words, "done")
    to = url_for(
        "bench.page",
        scene=request.form.get("scene") or None,
        slip=slip.id,
        line=request.form.get("line") or None,
    )
    return jsonify(to=to, slip=slip.id, version=slip.version) if wants_json() else redirect(to)


def _next_version(onto: int, recipe: Recipe) -> tuple[slips.Slip, str]:
    """The slip with the recipe as its next version, where it is another one, and what to say."""
    latest = slips.get(db(), onto)
    recipe = replace(recipe, extra={**latest.recipe.extra, **recipe.extra})
    if recipe == latest.recipe:
        return latest, f"Nothing is changed: '{latest.name}' stays at version {latest.version}."
    slip = slips.save(db(), onto, recipe, now())
    words = f"'{slip.name}' is saved as version {slip.version}."
    at = [f"{case.short} {put.key}" for case, put in plans.standing(db(), onto)]
    if at:
        words += f" It stands in {', '.join(at)} with an older version; its page plans the new one."
    offered = identity(request.form.get("offered", ""))
    if offered is not None and offered < slip.version:
        words += (
            f" Version {latest.version} came in from somewhere else while you worked; it is kept."
        )
    return slip, words


def picked(given: "MultiDict[str, str]") -> list[int]:
    """Ids of the slips that a form or address names: one by one, or all that a search finds."""
    if given.get("all") == "1":
        return shelf.find(
            db(),
            search.parse(given.get("q", "")),
            given.get("sort", "newest") or "newest",
            MOST_PICKED,
        )
    ids = [identity(k) for k in dict.fromkeys(given.getlist("id"))]
    return [k for k in ids if k is not None][:MOST_PICKED]


def _back() -> Response:
    asked: dict[str, Any] = {k: request.form.get(k) or None for k in ("scene", "q", "sort")}
    return redirect(place(request.form.get("to", ""), url_for("slips.page", **asked)))


def _some(ids: list[int]) -> str:
    return "one slip" if len(ids) == 1 else f"{len(ids)} slips"


@blueprint.post("/slips/compare")
def compare() -> Response:
    """The chosen slips side by side on the Wall."""
    ids = picked(request.form)
    if not ids:
        raise PlumError("No slip is selected. Select two or more to compare them.")
    return redirect(
        url_for(
            "wall.page", r=[f"slip-{k}" for k in ids[:8]], scene=request.form.get("scene") or None
        )
    )


@blueprint.post("/slips/delete")
def delete() -> Response:
    """Into the trash."""
    ids = picked(request.form)
    if not ids:
        raise PlumError("No slip is selected. Select the ones that should go into the trash.")
    called = slips.get(db(), ids[0]).name if len(ids) == 1 else ""
    moment = slips.delete(db(), ids, now())
    undo = url_for("slips.restore", at=moment)
    tell(
        f"'{called}' was deleted." if called else f"{len(ids):,} slips were deleted.",
        f"undo:{undo}",
    )
    return _back()


@blueprint.post("/slips/restore")
def restore() -> Response:
    """Back out of the trash: what the form names, what was deleted together `at` a time, or
    `everything`."""
    moment = request.args.get("at", "")
    ids = (
        slips.deleted_at(db(), moment)
        if moment or request.form.get("everything") == "1"
        else picked(request.form)
    )
    back = slips.restore(db(), ids)
    tell(
        f"'{back[0].name}' is back." if len(back) == 1 else f"{len(back):,} slips are back.", "done"
    )
    return _back()


@blueprint.post("/slips/tag")
def tag() -> Response:
    """A tag on the chosen slips, or with `off` away from them."""
    ids, off = picked(request.form), request.form.get("off") == "1"
    if not ids:
        raise PlumError("No slip is selected. Select the ones that should have the tag.")
    kept = shelf.tag(db(), ids, request.form.get("tag", ""), off)
    named = " and ".join(f"'{t}'" for t in kept)
    tell(
        f"{named} {'is' if len(kept) == 1 else 'are'} {'off' if off else 'on'} {_some(ids)} now.",
        "done",
    )
    return _back()


@blueprint.post("/slips/<int:slip_id>/rename")
def rename(slip_id: int) -> Response:
    """Another name for a slip."""
    with transaction(db()):
        drawn_from(slips.get(db(), slip_id).name, "The name of this slip")
        slip = slips.rename(db(), slip_id, request.form.get("name", ""))
    tell(f"It is called '{slip.name}' now.", "done")
    return _back()


@blueprint.post("/slips/<int:slip_id>/duplicate")
def duplicate(slip_id: int) -> Response:
    """A new slip that begins where this one stands."""
    slip = slips.get(db(), slip_id)
    recipe = replace(slip.recipe, name=f"{slip.name[:110]}, variant")
    made = slips.create(db(), recipe, now(), (slip.id, slip.version))
    tell(f"'{made.name}' was made from '{slip.name}'.", "done")
    return _back()


ROOM = Room("Slips", (blueprint, one.blueprint, unreadable.blueprint), home="slips.page", order=3)

"""Taking in what is dropped or chosen: recipe files, pictures that carry a recipe, and pictures."""

from urllib.parse import parse_qsl, urlencode

from flask import Blueprint, jsonify, redirect, request, url_for
from werkzeug.wrappers import Response

from ...core.base.errors import PlumError
from ...core.exchange import recipes_in
from ...store import shelf, slips
from ...store.database import transaction
from ..frame.context import db, now, pictures, sent_file, tell, wants_json
from ..frame.drawn import drawn_from
from ..kit import first_needed
from ..server.turns import Rank
from ..server.work import long_work

MOST_QUERY = 4000  # letters of a Bench's address

blueprint = Blueprint("dropped", __name__)


@blueprint.post("/take-in")
def take_in() -> Response:
    """Decide what the file is, keep it, and say where to go."""
    file = sent_file("Choose a picture or a recipe file.")
    faults: list[tuple[str, str]] = []
    own = None
    with long_work("Taking it in", rank=Rank.LARGE):
        as_picture = request.form.get("as") == "picture"
        if not as_picture and (needed := first_needed([file])):
            return jsonify(to=needed) if wants_json() else redirect(needed)
        data, name = file.read(), str(file.filename)
        found = [] if as_picture else recipes_in(data, name, faults)
        if not found and not faults:
            own = pictures().add(db(), data, name, now())
    if len(found) + len(faults) > 1:
        raise PlumError(
            "This file holds a list of recipes. Bring it in on the page of slips, where you "
            "see what happens first."
        )
    if faults:
        raise PlumError(faults[0][1])
    if own is None:
        recipe = found[0].recipe
        known = shelf.same(db(), recipe)
        slip = slips.create(db(), recipe, now())
        if known:
            tell(f"It does just what '{known[0][1]}' does already.", "note")
        to = url_for("bench.page", slip=slip.id)
        tell(f"'{slip.name}' was taken in as a new slip.", "done")
        if recipe.carried:
            tell(" ".join(recipe.carried), "note")
    else:
        to = url_for("bench.page", scene=own.id, slip=request.form.get("slip") or None)
        tell(f"'{own.title}' is in the scene row now.", "done")
    return jsonify(to=to, scene=own.id if own else None) if wants_json() else redirect(to)


@blueprint.post("/pictures/<picture_id>/name")
def name_picture(picture_id: str) -> Response:
    """Give an own picture a name and the light it was taken in."""
    form = request.form
    with transaction(db()):
        drawn_from(pictures().get(db(), picture_id), "The name of this picture")
        own = pictures().name(db(), picture_id, form.get("title", ""), form.get("light", ""))
    tell(f"'{own.title}' is its name now.", "done")
    return redirect(_bench({**_query(), "scene": own.id}))


@blueprint.post("/pictures/<picture_id>/delete")
def delete_picture(picture_id: str) -> Response:
    """Remove an own picture; it can be taken back."""
    own = pictures().get(db(), picture_id)
    pictures().delete(db(), picture_id, now())
    stays = request.form.get("query", "")[:MOST_QUERY]
    back = url_for("dropped.restore_picture", picture_id=picture_id, query=stays or None)
    tell(f"'{own.title}' was removed.", f"undo:{back}")
    return redirect(_bench({k: v for k, v in _query().items() if k != "scene"}))


@blueprint.post("/pictures/<picture_id>/restore")
def restore_picture(picture_id: str) -> Response:
    """Take a removed picture back."""
    own = pictures().restore(db(), picture_id)
    tell(f"'{own.title}' is back.", "done")
    return redirect(_bench({**_query(), "scene": own.id}))


def _query() -> dict[str, str]:
    """What stood in the Bench's address when something was asked of a picture."""
    return dict(parse_qsl(request.values.get("query", "")[:MOST_QUERY]))


def _bench(stays: dict[str, str]) -> str:
    to = url_for("bench.page")
    return f"{to}?{urlencode(stays)}" if stays else to

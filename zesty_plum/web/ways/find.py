"""What the finder finds by its name: places, slips, days and shoots, scenes, and on the Bench also
dials and commands."""

from collections.abc import Iterator

from flask import Blueprint, Response, jsonify, request, url_for

from ...core.bodies import body
from ...core.recipe import search
from ...store import outings, shelf
from ..frame.context import db
from ..frame.keys import KEYS
from ..frame.screens import screens
from ..render import address

blueprint = Blueprint("find", __name__)
MOST = 12
MOST_KEPT = 6  # of slips, and of days


def _led(name: str, kind: str, url: str) -> dict[str, str]:
    return {"name": name, "kind": kind, "url": url}


def _done(name: str, kind: str, what: str, at: str) -> dict[str, str]:
    return {"name": name, "kind": kind, "what": what, "id": at}


def _shipped(camera_id: str) -> Iterator[dict[str, str]]:
    """What is there before anybody saves anything; `camera_id` is that of the Bench's body, or
    empty elsewhere."""
    for screen in screens():
        yield _led(screen.name, "place", url_for(screen.endpoint))
    if camera_id:
        for dial in body(camera_id).dials:
            yield _done(dial.label, "dial", "dial", dial.id)
    for scene in address.scene_row():
        name, at = str(scene["title"]), str(scene["id"])
        if camera_id:
            yield _done(name, "scene", "scene", at)
        else:
            yield _led(name, "scene", url_for("bench.page", scene=at))
    for key in KEYS if camera_id else ():
        for _, act in key.acts if key.name else ():
            yield _done(key.name, f"command, {key.shown}", "act", act)


def _kept(words: str) -> Iterator[dict[str, str]]:
    like = search.parse('name:"{}"'.format(words.replace('"', " ")))
    for k, name in shelf.names(db(), like, MOST_KEPT):
        yield _led(name, "slip", url_for("bench.page", slip=k))
    found = []
    for outing in outings.listed(db()):
        at = url_for("outing.one", outing_id=outing.id)
        found.append(_led(outing.name, "outing", at))
        for row in outing.rows:
            found.append(_led(row.shoot.title, "outing", f"{at}?shoot={row.id}#shoot"))
    yield from [entry for entry in found if words in entry["name"].casefold()][:MOST_KEPT]


@blueprint.get("/find.json")
def found() -> Response:
    """Name, kind, and address or what the Bench does, of everything whose name holds `q`."""
    words = request.args.get("q", "").strip().casefold()
    if not words:
        return jsonify([])
    here = [e for e in _shipped(request.args.get("body", "")) if words in e["name"].casefold()]
    return jsonify([*here, *_kept(words)][:MOST])

"""What cannot be read: taken away as it is, removed, taken back."""

from flask import Blueprint, redirect, url_for
from werkzeug.wrappers import Response

from ...store import unreadable
from ..frame.context import db, now, tell
from ..ways.take import attached

blueprint = Blueprint("unreadable", __name__, url_prefix="/slips/unreadable")


@blueprint.get("/<kind>-<int:number>.json")
def away(kind: str, number: int) -> Response:
    """All that the database holds of it."""
    text = unreadable.as_it_is(db(), kind, number)
    return attached(f"{kind}-{number}.json", text, "application/json")


@blueprint.post("/<kind>-<int:number>/remove")
def remove(kind: str, number: int) -> Response:
    """Out of the lists."""
    unreadable.remove(db(), kind, number, now())
    back = url_for("unreadable.restore", kind=kind, number=number)
    tell("It is off this list; the data itself stays in the database.", f"undo:{back}")
    return redirect(url_for("slips.page"))


@blueprint.post("/<kind>-<int:number>/restore")
def restore(kind: str, number: int) -> Response:
    """Back into the lists."""
    unreadable.remove(db(), kind, number, None)
    tell("It is back among what cannot be read.", "done")
    return redirect(url_for("slips.page"))

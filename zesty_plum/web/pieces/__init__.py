"""A page of every piece that pages are put together from, in each of its states: for who builds a
page, and for the tests."""

from flask import Blueprint, render_template

from ...core import scenes
from ..frame.screens import Room

blueprint = Blueprint("pieces", __name__, template_folder="templates")


@blueprint.get("/pieces")
def page() -> str:
    """The page."""
    return render_template("pieces.html", scene=next(iter(scenes.index())))


ROOM = Room("", (blueprint,))

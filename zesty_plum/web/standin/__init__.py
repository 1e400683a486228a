"""A stand-in for a camera: a page that behaves as the invented bodies do, with their menus in their
order, slots, and a memory card. It knows nothing of the kit; cards go between them as files."""

import json
from pathlib import Path

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core import bodies as core
from ...core.base.errors import PlumError
from ...core.base.saving import save
from ...core.bodies import Body
from ...core.kit import card
from ...core.kit.menu import BUTTONS, Camera, Screen
from ...core.kit.state import shipped
from ..frame.context import now, place, tell, went
from ..frame.screens import Room
from ..frame.values import choice
from ..ways.take import attached

blueprint = Blueprint("standin", __name__, template_folder="templates", url_prefix="/stand-in")
MOST_PRESSES = 400  # that are sent at once
FOLDER = "stand-ins"


def _at(camera: Body) -> Path:
    return place().folder / FOLDER / f"{camera.id}.json"


def _camera(body_id: str) -> Camera:
    """The camera as it was left; as bought the first time."""
    made = core.body(body_id)
    at = _at(made)
    if not at.is_file():
        return Camera(made, shipped(made))
    told = json.loads(at.read_text(encoding="utf-8"))
    return Camera(made, card.loads(json.dumps(told["card"])).state, Screen(**told["screen"]))


def _keep(camera: Camera) -> None:
    made, screen = camera.body, camera.screen
    files = card.files(made, camera.state, made.name, now())
    told = {
        "card": json.loads(files[f"{card.FOLDER}/{card.CARD}"]),
        "screen": {
            "is_open": screen.is_open,
            "page": screen.page,
            "line": screen.line,
            "place": screen.place,
        },
    }
    _at(made).parent.mkdir(mode=0o700, exist_ok=True)
    save(_at(made), json.dumps(told).encode(), place().scratch)


@blueprint.get("/<body_id>")
def page(body_id: str) -> str:
    """What it shows."""
    camera = _camera(body_id)
    lines = []
    if camera.screen.is_open:
        for k, line in enumerate(camera.menu[camera.screen.page].lines):
            shown = ""
            if line.dial:
                dial = (camera.body.beside_by_id if line.beside else camera.body.by_id)[line.dial]
                there = camera.state.beside if line.beside else camera.state.now or {}
                here = k == camera.screen.line and camera.screen.place is not None
                value = dial.values[camera.screen.place or 0] if here else there[line.dial]
                shown = dial.choice(value).label
            lines.append((line.label, shown, k == camera.screen.line))
    return render_template(
        "standin.html", camera=camera, lines=lines, buttons=BUTTONS, bodies=core.bodies().values()
    )


@blueprint.post("/<body_id>/press")
def press(body_id: str) -> ResponseReturnValue:
    """Press a button, or several in turn, apart by blanks."""
    camera = _camera(body_id)
    for button in request.form.get("button", "").split()[:MOST_PRESSES]:
        camera = camera.press(choice("button", button, BUTTONS))
    _keep(camera)
    return redirect(url_for("standin.page", body_id=body_id))


@blueprint.get("/<body_id>/plum-card.zip")
def write_card(body_id: str) -> Response:
    """Write the settings onto its memory card, which is taken out as a zip."""
    camera = _camera(body_id)
    packed = card.packed(camera.body, camera.state, request.args.get("case", "")[:60], now())
    return attached(f"{body_id}-plum-card.zip", packed, "application/zip")


@blueprint.post("/<body_id>/card")
def load_card(body_id: str) -> ResponseReturnValue:
    """Put a memory card in and load its settings."""
    camera = _camera(body_id)
    sent = {str(f.filename): f.read() for f in request.files.getlist("file") if f.filename}
    if not sent:
        raise PlumError("There is no card in it. Choose the zip or card.json.")
    made = card.read_files(sent)
    if made.body.id != body_id:
        raise PlumError(f"This card is of a {made.body.name}; this is a {camera.body.name}.")
    there = camera.state
    slots = {**there.slots, **made.state.slots}
    beside = {**there.beside, **made.state.beside}
    state = type(there)(slots, made.state.now or there.now, beside)
    _keep(Camera(camera.body, state))
    tell("The card is loaded.", "done")
    return went(url_for("standin.page", body_id=body_id))


ROOM = Room("Kit", (blueprint,))

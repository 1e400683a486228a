"""Devices: a phone at the venue, paired by a square code, looks at what is on this machine."""

import io
from datetime import datetime

from flask import (
    Blueprint,
    Response,
    abort,
    current_app,
    redirect,
    render_template,
    request,
    url_for,
)
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from ...core.base.late import library
from ...store import devices
from ...store.devices import MOST_NAME, RIGHTS
from ..frame.context import db, now, tell
from ..frame.screens import Room
from ..frame.values import choice
from ..server.sharing import A_YEAR, COOKIE, VALID, share

segno = library("segno")

blueprint = Blueprint("devices", __name__, template_folder="templates")
MODULE = 5  # pixels of a module of the code on the screen


def _square(text: str) -> Markup:
    out = io.BytesIO()
    code = segno.make(text, error="m")
    code.save(out, "svg", scale=MODULE, border=3, xmldecl=False, svgns=True, omitsize=False)
    return Markup(out.getvalue().decode())


def _moment() -> datetime:
    found: datetime = current_app.config["CLOCK"]()
    return found


@blueprint.get("/devices")
def page() -> str:
    """The devices that are paired, and how another one is."""
    return render_template(
        "devices.html", share=share(), devices=devices.listed(db()), rights=RIGHTS, code=None
    )


@blueprint.post("/devices/invite")
def invite() -> ResponseReturnValue:
    """A code for another device."""
    shared = share()
    if shared is None:
        abort(400, "Zesty Plum is not shared in a network. Start it with --share and an address.")
    rights = choice("right", request.form.get("rights", ""), RIGHTS)
    url = shared.invite(rights, _moment())
    return render_template(
        "devices.html",
        share=shared,
        devices=devices.listed(db()),
        rights=RIGHTS,
        code=_square(url),
        chosen=rights,
        url=url,
        minutes=VALID.seconds // 60,
    )


@blueprint.post("/devices/<int:device_id>/forget")
def forget(device_id: int) -> ResponseReturnValue:
    """Let a device in no more."""
    tell(f"'{devices.forget(db(), device_id)}' can no longer connect.", "done")
    return redirect(url_for("devices.page"))


@blueprint.get("/pair/<secret>")
def invited(secret: str) -> str:
    """What a device sees that followed the code (`sharing` has looked at the secret): its name, and
    a button, so that nothing that only looks at addresses uses the code up."""
    shared = share()
    assert shared is not None
    return render_template("pair.html", secret=secret, rights=RIGHTS[shared.rights], most=MOST_NAME)


@blueprint.get("/pair/<secret>/style.css")
def style(secret: str) -> Response:
    """How that page looks; all other files are for paired devices only."""
    return current_app.send_static_file("plum.css")


@blueprint.post("/pair/<secret>")
def pair(secret: str) -> ResponseReturnValue:
    """Pair the device that asks."""
    shared = share()
    if shared is None or not shared.used(secret, _moment()):
        abort(Response(status=404))
    token = devices.pair(db(), request.form.get("name", ""), shared.rights, now())
    answer = redirect(url_for("slips.page"))
    answer.set_cookie(
        COOKIE, token, max_age=A_YEAR, secure=shared.secure, httponly=True, samesite="Strict"
    )
    return answer


ROOM = Room("Slips", (blueprint,))

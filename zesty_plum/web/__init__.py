"""The application: one folder a screen, a shared layout, and pictures as pure functions of their
address."""

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from flask import Flask, redirect, request, url_for
from flask_wtf.csrf import CSRFProtect
from werkzeug.wrappers import Response

from ..store.pictures import Pictures
from ..store.place import prepared
from ..store.renders import Renders
from .frame import context, page, values
from .frame.screens import rooms, screens
from .render import overlays, rendering
from .server import errors, limits, once, openapi, security, sharing, work
from .server.rules import LateRule
from .ways import begin, dropped, find, onto, take

ADDRESSES = (begin, find, onto, dropped, take, rendering, overlays, openapi, work)


def create_app(
    data: Path,
    clock: Callable[[], datetime] = lambda: datetime.now(UTC),
    say: Callable[[str], None] = lambda _: None,
) -> Flask:
    """The application on a data folder, which is made and brought up to date when needed; `say`
    hears what of it takes a while."""
    place = prepared(data, say)
    app = Flask(__name__)
    app.url_rule_class = LateRule
    app.url_map.strict_slashes = False  # with its last slash and without, an address is the same
    app.config.update(
        SECRET_KEY=place.secret(),
        MAX_FORM_MEMORY_SIZE=limits.FORM_BYTES,
        MAX_FORM_PARTS=limits.FORM_PARTS,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        WTF_CSRF_TIME_LIMIT=None,
        DATABASE=place.database,
        CLOCK=clock,
    )
    app.extensions["place"] = place
    app.extensions["pictures"] = Pictures(place.pictures, place.scratch)
    app.extensions["renders"] = Renders(place.renders, place.scratch)
    values.equip(app.url_map)
    sharing.guard(app)  # first: who asks too often is not looked at, nor who is not let in
    security.guard(app)
    app.before_request(_room)
    CSRFProtect(app)
    once.equip(app)
    for room in rooms():
        for blueprint in room.blueprints:
            app.register_blueprint(blueprint)
    for part in ADDRESSES:
        app.register_blueprint(part.blueprint)
    app.teardown_appcontext(context.close)
    page.equip(app)
    errors.equip(app)
    app.add_url_rule("/", "home", _home)
    return app


def _room() -> None:
    """How much this address takes."""
    request.max_content_length = limits.of_endpoint(request.endpoint, request.method)


def _home() -> Response:
    return redirect(url_for(screens()[0].endpoint))

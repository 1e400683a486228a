"""The application: one folder a screen, a shared layout, and pictures as pure functions of their
address."""

import secrets
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from flask import Flask, flash, jsonify, redirect, render_template, request, url_for
from flask_wtf.csrf import CSRFError, CSRFProtect
from werkzeug.exceptions import HTTPException
from werkzeug.wrappers import Response

from ..core.errors import NotFound, PlumError
from ..core.pictures.read import MOST_BYTES
from ..core.pictures.write import save
from ..store import database, shelf
from ..store.backup import MOST_UNPACKED
from ..store.pictures import Pictures
from ..store.renders import Renders
from . import context, page, security
from .screens import SCREENS

csrf = CSRFProtect()


def _secret(folder: Path) -> bytes:
    """The key that signs forms, made once for each data folder."""
    path = folder / "secret.key"
    if not path.exists():
        save(path, secrets.token_bytes(32))
        path.chmod(0o600)
    return path.read_bytes()


def create_app(data: Path, clock: Callable[[], datetime] = lambda: datetime.now(UTC)) -> Flask:
    """The application on a data folder, which is made and brought up to date when needed."""
    try:
        data.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise PlumError(
            f"The data folder {data} cannot be made: {error.strerror}. Choose another with --data."
        ) from error
    path = data / "plum.db"
    database.prepare(path)
    with closing(database.connect(path)) as opened:
        shelf.refresh(opened)
    app = Flask(__name__)
    app.config.update(
        SECRET_KEY=_secret(data),
        MAX_CONTENT_LENGTH=MOST_BYTES + 2**20,
        MAX_FORM_MEMORY_SIZE=2**20,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        WTF_CSRF_TIME_LIMIT=None,
        DATABASE=path,
        CLOCK=clock,
    )
    app.extensions["pictures"] = Pictures(data / "pictures")
    app.extensions["renders"] = Renders(data / "renders")

    @app.before_request
    def room() -> None:
        # A backup holds all of a person's pictures; whatever else comes in is one file.
        if request.endpoint == "bring.restore":
            request.max_content_length = MOST_UNPACKED

    csrf.init_app(app)
    security.guard(app)

    from . import (
        begin,
        bench,
        bring,
        dropped,
        openapi,
        overlays,
        papers,
        rendering,
        slips,
        take,
        wall,
    )
    from .bench import margin
    from .slips import one
    from .wall import blind

    rooms = (bench, margin, wall, blind, slips, one, bring, papers)
    for part in (*rooms, begin, dropped, take, rendering, overlays, openapi):
        app.register_blueprint(part.blueprint)
    app.teardown_appcontext(context.close)
    page.equip(app)
    _errors(app)

    @app.get("/")
    def home() -> Response:
        return redirect(url_for(SCREENS[0].endpoint))

    return app


def _say(message: str, code: int) -> Response | tuple[Response, int] | tuple[str, int]:
    if context.wants_json():
        return jsonify(error=message), code
    if (
        request.method == "POST"
        and code in (400, 404)
        and request.referrer
        and not isinstance(code, str)
    ):
        flash(message, "fault")
        return redirect(request.referrer)
    return render_template("error.html", message=message, code=code), code


def _errors(app: Flask) -> None:
    @app.errorhandler(PlumError)
    def fault(error: PlumError):  # type: ignore[no-untyped-def]
        return _say(str(error), 404 if isinstance(error, NotFound) else 400)

    @app.errorhandler(CSRFError)
    def stale(_: CSRFError):  # type: ignore[no-untyped-def]
        return _say(
            "This page is out of date, so nothing was changed. Reload it and try again.", 400
        )

    @app.errorhandler(HTTPException)
    def http(error: HTTPException):  # type: ignore[no-untyped-def]
        words = {
            404: "There is no such page. The Bench is the place to begin.",
            405: "This address does not take that kind of request.",
            413: "This file is over 100 MB. Export it smaller.",
        }
        return _say(
            words.get(error.code or 500, error.description or error.name), error.code or 500
        )

    @app.errorhandler(Exception)
    def broken(error: Exception):  # type: ignore[no-untyped-def]
        app.logger.exception("unexpected error", exc_info=error)
        return _say(
            "Something went wrong on our side; nothing was changed. Try again, and tell us "
            "if it stays.",
            500,
        )

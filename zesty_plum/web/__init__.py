"""The application: one folder a screen, a shared layout, and pictures as pure functions of their
address."""

import secrets
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from flask import Flask, redirect, request, url_for
from flask_wtf.csrf import CSRFProtect
from werkzeug.wrappers import Response

from ..core.errors import PlumError
from ..core.pictures.read import MOST_BYTES
from ..core.pictures.write import save
from ..store import database, shelf
from ..store.backup import MOST_UNPACKED
from ..store.pictures import Pictures
from ..store.renders import Renders
from . import (
    begin,
    context,
    dropped,
    errors,
    openapi,
    overlays,
    page,
    rendering,
    security,
    take,
    values,
)
from .screens import rooms, screens

ADDRESSES = (begin, dropped, take, rendering, overlays, openapi)


def _secret(folder: Path) -> bytes:
    """The key that signs forms, made once for each data folder."""
    path = folder / "secret.key"
    if not path.exists():
        save(path, secrets.token_bytes(32))
        path.chmod(0o600)
    return path.read_bytes()


def _prepared(data: Path) -> Path:
    """The database of a data folder, made and brought up to date when needed."""
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
    return path


def create_app(data: Path, clock: Callable[[], datetime] = lambda: datetime.now(UTC)) -> Flask:
    """The application on a data folder, which is made and brought up to date when needed."""
    path = _prepared(data)
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
    values.equip(app.url_map)
    app.before_request(_room)
    CSRFProtect(app)
    security.guard(app)
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
    """A backup holds all of a person's pictures; whatever else comes in is one file."""
    if request.endpoint == "bring.restore":
        request.max_content_length = MOST_UNPACKED


def _home() -> Response:
    return redirect(url_for(screens()[0].endpoint))

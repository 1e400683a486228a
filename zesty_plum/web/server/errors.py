"""Errors as people and scripts see them: one sentence, on a page, beside the form, or as JSON."""

import io
from collections.abc import Mapping
from urllib.parse import unquote, urlsplit, urlunsplit

from flask import Flask, current_app, jsonify, redirect, render_template, request
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException
from werkzeug.wrappers import Response

from ...core.base.errors import Changed, Gone, NotFound, PlumError, Refused
from ...store import faults as disk
from ..frame.context import place as data_folder
from ..frame.context import say_now, tell, wants_json
from ..frame.values import place
from . import limits
from .refilled import HERE, refilled
from .turns import Busy, Superseded

CODES = {NotFound: 404, Gone: 409, Changed: 409, disk.Missing: 503}


def _page_before() -> str:
    """The page of ours that asked; nothing when it is another site's."""
    if (here := place(request.form.get(HERE, ""), "")) and request.method == "POST":
        return here
    before = urlsplit(request.referrer or "")
    if before.netloc != request.host:
        return ""
    return place(urlunsplit(("", "", before.path, before.query, "")), "")


def _as_it_was(back: str, message: str, faults: Mapping[str, str]) -> str | None:
    """The page before with its form as it was filled in, and what is wrong; None where it has none
    to fill in."""
    if not any(name != "csrf_token" for name in request.form):
        return None
    to, sent, app = request.path, request.form, current_app
    at = urlsplit(back)
    asked = {
        **request.environ, "REQUEST_METHOD": "GET", "PATH_INFO": unquote(at.path),
        "QUERY_STRING": at.query, "REQUEST_URI": back, "CONTENT_LENGTH": "0", "CONTENT_TYPE": "",
        "wsgi.input": io.BytesIO(),
    }  # fmt: skip
    asked.pop("werkzeug.request", None)
    with app.request_context(asked):
        say_now(message, "fault")
        answer = app.full_dispatch_request()
        if answer.status_code != 200 or answer.mimetype != "text/html":
            return None
        return refilled(answer.get_data(as_text=True), back, to, sent, faults)


def _say(
    message: str, code: int, faults: Mapping[str, str] | None = None
) -> Response | tuple[Response, int] | tuple[str, int]:
    if wants_json():
        return jsonify(error=message, **({"faults": faults} if faults else {})), code
    if request.method == "POST" and code in (400, 404, 409) and (back := _page_before()):
        as_it_was = _as_it_was(back, message, faults or {}) if code != 404 else None
        if as_it_was is not None:
            return as_it_was, code
        tell(message, "fault")
        return redirect(back)
    return render_template("error.html", message=message, code=code), code


def equip(app: Flask) -> None:
    """Turn every kind of error into a sentence: a page, JSON for scripts, or a note where one
    was."""

    @app.errorhandler(PlumError)
    def fault(error: PlumError):  # type: ignore[no-untyped-def]
        faults = error.faults if isinstance(error, Refused) else {}
        code = next((code for kind, code in CODES.items() if isinstance(error, kind)), 400)
        return _say(str(error), code, faults)

    @app.errorhandler(Superseded)
    def superseded(_: Superseded):  # type: ignore[no-untyped-def]
        return "", 204  # nobody reads it

    @app.errorhandler(Busy)
    def busy(error: Busy):  # type: ignore[no-untyped-def]
        said = app.make_response(_say(str(error), 503))
        said.headers["Retry-After"] = "2"
        return said

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
            429: "This device asks too often. Wait a minute, then try again.",
            413: limits.sentence(request.endpoint),
        }
        return _say(
            words.get(error.code or 500, error.description or error.name), error.code or 500
        )

    @app.errorhandler(Exception)
    def broken(error: Exception):  # type: ignore[no-untyped-def]
        told = disk.sentence(error, data_folder().folder)
        if told is not None:
            return _say(told, 503)
        app.logger.exception("unexpected error", exc_info=error)
        return _say(
            "Something went wrong on our side; nothing was changed. Try again, and tell us "
            "if it stays.",
            500,
        )

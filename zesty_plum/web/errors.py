"""Errors as people and scripts see them: one sentence, on a page, beside the form, or as JSON."""

from urllib.parse import urlsplit, urlunsplit

from flask import Flask, jsonify, redirect, render_template, request
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException
from werkzeug.wrappers import Response

from ..core.errors import NotFound, PlumError
from ..store import faults
from . import limits
from .context import tell, wants_json
from .turns import Busy, Superseded
from .values import place


def _page_before() -> str:
    """The page of ours that asked; nothing when it is another site's."""
    before = urlsplit(request.referrer or "")
    if before.netloc != request.host:
        return ""
    return place(urlunsplit(("", "", before.path, before.query, "")), "")


def _say(message: str, code: int) -> Response | tuple[Response, int] | tuple[str, int]:
    if wants_json():
        return jsonify(error=message), code
    if request.method == "POST" and code in (400, 404) and (back := _page_before()):
        tell(message, "fault")
        return redirect(back)
    return render_template("error.html", message=message, code=code), code


def equip(app: Flask) -> None:
    """Turn every kind of error into a sentence: a page, JSON for scripts, or a note where one
    was."""

    @app.errorhandler(PlumError)
    def fault(error: PlumError):  # type: ignore[no-untyped-def]
        return _say(str(error), 404 if isinstance(error, NotFound) else 400)

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
        told = faults.sentence(error)
        if told is not None:
            return _say(told, 503)
        app.logger.exception("unexpected error", exc_info=error)
        return _say(
            "Something went wrong on our side; nothing was changed. Try again, and tell us "
            "if it stays.",
            500,
        )

"""A form that is sent twice, by a double click or because no answer came, makes one thing: the
second gets the answer of the first."""

import hashlib
import secrets
import threading
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Any

from flask import (
    Flask,
    Response,
    current_app,
    g,
    jsonify,
    make_response,
    redirect,
    request,
    session,
)

FIELD = "once"
KEPT = 500  # forms whose answers are remembered, for as long as the application runs
PATIENCE = 120.0  # seconds that the second waits for the first
NOT_SAID = (FIELD, "csrf_token", "here")


@dataclass
class _Sent:
    """A form that was sent, by its key: whether its answer is there, and which."""

    key: str
    done: threading.Event = field(default_factory=threading.Event)
    answer: tuple[bool, Any] | None = None  # whether JSON, and the place to go to or the JSON
    notes: Any = None


class _Kept:
    """The last forms by their token and what they say."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._sent: OrderedDict[str, _Sent] = OrderedDict()

    def first(self, key: str) -> tuple[bool, _Sent]:
        """Whether this is the first one of its key, and what is known of it."""
        with self._lock:
            found = self._sent.get(key)
            if found is not None:
                self._sent.move_to_end(key)
                return False, found
            made = self._sent[key] = _Sent(key)
            while len(self._sent) > KEPT:
                self._sent.popitem(last=False)
            return True, made

    def over(self, sent: _Sent) -> None:
        """Its answer is there. What led nowhere, as a form that was refused or only tried, is not
        remembered, so that it may be sent again."""
        if sent.answer is None:
            with self._lock:
                self._sent.pop(sent.key, None)
        sent.done.set()


def _key(token: str) -> str:
    """Token and content: a page that somebody went back to, and filled in anew, is another form."""
    said = [(k, v) for k, v in sorted(request.form.items(multi=True)) if k not in NOT_SAID]
    files = [(f.name, f.filename) for f in request.files.values()]
    whole = repr((request.path, said, files, request.content_length if files else 0))
    return f"{token[:64]} {hashlib.blake2b(whole.encode('utf-8', 'replace')).hexdigest()}"


def _again() -> Response | None:
    token = request.form.get(FIELD) if request.method == "POST" else None
    if not token:
        return None
    kept: _Kept = current_app.extensions["once"]
    is_first, sent = kept.first(_key(token))
    if is_first:
        g.once = sent
        return None
    sent.done.wait(PATIENCE)
    if sent.answer is None:
        return None
    if sent.notes is not None:
        session["_flashes"] = sent.notes
    as_json, what = sent.answer
    return jsonify(what) if as_json else make_response(redirect(what))


def _answered(answer: Response) -> Response:
    sent: _Sent | None = g.get("once")
    if sent is not None:
        if answer.status_code in (302, 303):
            sent.answer = False, answer.headers["Location"]
        elif answer.status_code == 200 and answer.is_json and "to" in answer.get_json():
            sent.answer = True, answer.get_json()
        sent.notes = session.get("_flashes")
    return answer


def _over(_: BaseException | None) -> None:
    sent: _Sent | None = g.pop("once", None)
    if sent is not None:
        kept: _Kept = current_app.extensions["once"]
        kept.over(sent)


def equip(app: Flask) -> None:
    """Let each form act once."""
    app.extensions["once"] = _Kept()
    app.jinja_env.globals["once"] = lambda: secrets.token_hex(8)
    app.before_request(_again)
    app.after_request(_answered)
    app.teardown_request(_over)

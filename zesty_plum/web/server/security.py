"""Which requests are let in, what every answer carries, and the cookie."""

import re
from urllib.parse import urlsplit

from flask import Flask, Request, abort, request
from flask.sessions import SecureCookieSessionInterface, SessionMixin
from werkzeug.wrappers import Response

from ..frame.screens import rooms
from .sharing import is_shared, let_in, share

POLICY = "; ".join(
    [
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' blob:",
        "font-src 'self'",
        "connect-src 'self'",
        "form-action 'self'",
        "frame-ancestors 'none'",
        "base-uri 'none'",
    ]
)
LOOPBACK = ("127.0.0.1", "localhost", "[::1]", "::1")
# Compared whole, with a port or none, for "[::1]evil.example" begins well too.
HOST = re.compile(rf"({'|'.join(map(re.escape, LOOPBACK))})(:[0-9]{{1,5}})?", re.IGNORECASE)
# Pages that another site, or a mail that is read on one, may lead to: those that cost nothing much
# and hand nothing over.
OPEN = ("home", "static")


def from_elsewhere(asked: Request) -> bool:
    """Whether another site's page makes this request."""
    site = asked.headers.get("Sec-Fetch-Site")
    if site is not None:
        return site in ("cross-site", "same-site")
    origin = asked.headers.get("Origin")
    return origin is not None and urlsplit(origin).netloc != asked.host


def _leads_here(asked: Request) -> bool:
    """Whether it is a link of another site that somebody followed to one of our pages."""
    plain = asked.method == "GET" and asked.headers.get("Sec-Fetch-Dest", "") in ("", "document")
    return plain and asked.endpoint in (*OPEN, *(room.home for room in rooms() if room.home))


class _Sessions(SecureCookieSessionInterface):
    """A cookie for each port, for programs on one host share their cookies; and none for a request
    of another site, which comes without ours and would replace it."""

    def get_cookie_name(self, app: Flask) -> str:
        """Its name."""
        port = urlsplit(f"//{request.host}").port if request else None
        return f"plum-{port or 80}"

    def should_set_cookie(self, app: Flask, session: SessionMixin) -> bool:
        """Whether an answer carries it."""
        return not from_elsewhere(request) and super().should_set_cookie(app, session)


def guard(app: Flask) -> None:
    """Check where requests come from, and set headers on every answer."""
    app.session_interface = _Sessions()

    @app.before_request
    def known_host() -> None:
        # A page elsewhere that points its own name at this machine would send that name here.
        host, shared = request.headers.get("Host", ""), share()
        if is_shared():
            if shared is None or host != shared.netloc:
                abort(Response(status=404))
        elif not HOST.fullmatch(host):
            abort(400, "This address is not one that Zesty Plum answers to. Open it as 127.0.0.1.")

    app.before_request(let_in)  # before any other word is said

    @app.before_request
    def own_pages() -> None:
        if from_elsewhere(request) and not _leads_here(request):
            abort(403, "Another site asked for this. Open it from within Zesty Plum.")

    @app.after_request
    def headers(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
        response.headers.setdefault(
            "Permissions-Policy", "camera=(), microphone=(), geolocation=()"
        )
        if not response.headers.get("Cache-Control"):
            response.headers["Cache-Control"] = "no-store"
        return response

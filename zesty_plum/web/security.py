"""What every answer carries, and which requests are let in."""

import re

from flask import Flask, abort, request
from werkzeug.wrappers import Response

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


def guard(app: Flask) -> None:
    """Check the Host header, and set headers on every answer."""

    @app.before_request
    def known_host() -> None:
        # A page elsewhere that points its own name at this machine would send that name here.
        if not HOST.fullmatch(request.headers.get("Host", "")):
            abort(400, "This address is not one that Zesty Plum answers to. Open it as 127.0.0.1.")

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

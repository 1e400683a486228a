"""An address in the network that is open to paired devices only. Whoever else asks there gets
nothing at all, but for the page to which a square code leads, which holds a secret for two minutes.
"""

import hmac
import secrets
import threading
from contextlib import closing
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from flask import Flask, abort, current_app, g, request
from werkzeug.http import parse_cookie
from werkzeug.wrappers import Response

from ...store import database, devices
from ..frame.context import db, now
from ..frame.screens import rooms
from . import limits

ENVIRON = "plum.shared"  # set by the server on what comes in by the shared address
COOKIE = "plum-device"
VALID = timedelta(minutes=2)
A_YEAR = 365 * 24 * 3600
REQUESTS, TRIES = 900, 20  # a minute, of all addresses and of those of pairing
LOCAL = ("devices.page", "devices.invite", "devices.forget")  # for who sits at the machine
KEPT_BACK = ("papers.everything", "bring.restore", "bring.restoring", "openapi.description")
PAIRING = ("devices.invited", "devices.pair", "devices.style")


@dataclass
class Share:
    """Where it is shared: host and port, whether with a certificate; and the invitation that is
    open, if one is."""

    host: str
    port: int = 0
    secure: bool = False
    secret: str = ""
    rights: str = devices.LOOK
    until: datetime | None = None
    _lock: threading.Lock = field(default_factory=threading.Lock, repr=False)

    @property
    def netloc(self) -> str:
        """Host and port as they stand in an address."""
        host = f"[{self.host}]" if ":" in self.host else self.host
        usual = self.port == (443 if self.secure else 80)  # which browsers leave out
        return host if usual else f"{host}:{self.port}"

    @property
    def url(self) -> str:
        """Its address."""
        return f"{'https' if self.secure else 'http'}://{self.netloc}/"

    def invite(self, rights: str, moment: datetime) -> str:
        """A new secret, in the place of the one before; returns the address to go to with it."""
        self.secret, self.rights = secrets.token_urlsafe(24), rights
        self.until = moment + VALID
        return f"{self.url}pair/{self.secret}"

    def invites(self, secret: str, moment: datetime) -> bool:
        """Whether a secret is the open one and has not run out."""
        is_open = self.until is not None and moment <= self.until
        return is_open and hmac.compare_digest(secret.encode(), self.secret.encode())

    def used(self, secret: str, moment: datetime) -> bool:
        """Use the invitation up; False where another device was quicker."""
        with self._lock:
            open_still = self.invites(secret, moment)
            if open_still:
                self.secret, self.until = "", None
            return open_still


def share() -> Share | None:
    """Where this program is shared; None where it is not, as it is from the start."""
    found: Share | None = current_app.extensions.get("share")
    return found


def is_shared() -> bool:
    """Whether the request in hand came in by the shared address."""
    return bool(request.environ.get(ENVIRON))


def _ticks() -> frozenset[str]:
    return frozenset(endpoint for room in rooms() for endpoint in room.ticks)


def may(device: devices.Device) -> bool:
    """Whether a device may do what is asked: with the right to everything all that is not kept for
    who sits at the machine; else look, and post what only ticks."""
    if request.endpoint in (*LOCAL, *KEPT_BACK):
        return False
    looks = request.method in ("GET", "HEAD", "OPTIONS")
    return device.rights == devices.EVERYTHING or looks or request.endpoint in _ticks()


def _invited() -> bool:
    """Whether the address in hand has the secret of the invitation that is open."""
    shared, moment = share(), current_app.config["CLOCK"]()
    secret = (request.view_args or {}).get("secret", "")
    return shared is not None and shared.invites(secret, moment)


def let_in() -> Response | None:
    """Nothing without pairing, and of what is paired what its rights say."""
    if not is_shared():
        return Response(status=404) if request.endpoint in PAIRING else None
    if request.endpoint in PAIRING:
        return None if _invited() else Response(status=404)
    token = request.cookies.get(COOKIE, "")
    g.device = devices.known(db(), token, now()) if token else None
    if g.device is None:
        return Response(status=404)
    if not may(g.device):
        abort(403, "This device may look and tick. What changes more is done at the machine.")
    return None


def admits(app: Flask, method: str, path: str, cookies: str) -> int:
    """Bytes that the body of a request at the shared address may have, known from its head alone: a
    device that is not paired, or may not do what it asks, costs no more than a small form."""
    most = limits.of_address(app.url_map, method, path)
    if most <= limits.NO_BODY:
        return most
    endpoint = limits.endpoint_of(app.url_map, method, path)
    token = parse_cookie(cookies).get(COOKIE, "")
    if not token or endpoint in KEPT_BACK or not _has_rights(app, token, endpoint):
        return limits.NO_BODY
    return most


def _has_rights(app: Flask, token: str, endpoint: str) -> bool:
    with closing(database.connect(app.config["DATABASE"])) as opened:
        device = devices.of_token(opened, token)
    return device is not None and (device.rights == devices.EVERYTHING or endpoint in _ticks())


class _Asked:
    """How often who asks has asked within a minute."""

    def __init__(self) -> None:
        from limits import RateLimitItemPerMinute, storage, strategies

        self._counted = strategies.FixedWindowRateLimiter(storage.MemoryStorage())
        self._all, self._tries = map(RateLimitItemPerMinute, (REQUESTS, TRIES))

    def once_more(self, pairing: bool) -> bool:
        """Count the request in hand; False where it is one too many."""
        whose = str(request.remote_addr)
        if pairing and not self._counted.hit(self._tries, "pairing", whose):
            return False
        return self._counted.hit(self._all, "all", whose)


def guard(app: Flask) -> None:
    """Nobody asks too often by the shared address, whatever is asked for and whoever asks; at the
    addresses of pairing seldom. Before anything else is looked at."""
    lock = threading.Lock()

    def seldom() -> None:
        if not is_shared():
            return
        with lock:  # loaded for the first who comes, as few programs are shared
            asked = app.extensions.setdefault("asked", None) or _Asked()
            app.extensions["asked"] = asked
        if not asked.once_more(request.endpoint in PAIRING):
            abort(429)

    app.before_request(seldom)

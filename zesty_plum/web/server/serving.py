"""The server: threads that are started when they are needed, bodies that are too large refused
before they are read, and connections that say nothing for too long ended."""

import copy
import logging
import socket
import ssl
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any

from flask import Flask
from waitress import wasyncore
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer
from waitress.utilities import Error, RequestEntityTooLarge
from werkzeug.routing import Map

from ...core.base.errors import PlumError
from . import limits
from .sharing import ENVIRON, Share, admits

THREADS = 420  # more than can wait for a turn, so that pages never wait behind them
CONNECTIONS = 700
SHARED_CONNECTIONS = 500  # of them; what is left belongs to who sits at the machine
ONE_ADDRESS = 100  # of these, from one address of the network
HEAD_SECONDS, IDLE_SECONDS = 15, 30
SLOWEST, SLOW_SECONDS = 2000, 60  # bytes a second of what is sent to us for longer than that
HEAD_BYTES = 64 * 1024
LOOK_AHEAD = 4  # requests read while one is in work; reading on tells when the client is gone


class _Dispatcher:
    """Hands requests to threads, which are started as they are needed."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(THREADS, thread_name_prefix="request")
        self._lock = threading.Lock()
        self._busy, self._since = 0, time.monotonic()

    def add_task(self, task: HTTPChannel) -> None:
        """Answer the next request of a connection."""
        self._count(1)
        self._pool.submit(task.service).add_done_callback(lambda _: self._count(-1))

    def _count(self, more: int) -> None:
        with self._lock:
            self._busy, self._since = self._busy + more, time.monotonic()

    def idle(self) -> float:
        """Seconds since a request was in work; nothing while one is."""
        with self._lock:
            return 0.0 if self._busy else time.monotonic() - self._since

    def shutdown(self, cancel_pending: bool = True, timeout: int = 5) -> bool:
        """Take nothing new."""
        self._pool.shutdown(wait=False, cancel_futures=cancel_pending)
        return True


Admits = Callable[[str, str, str], int]  # method, path and cookies: bytes that a body may have


class _Nothing(Error):
    """What a stranger gets: nothing at all."""

    def to_response(self, ident: str | None = None) -> tuple[str, list[tuple[str, str]], bytes]:
        """Status, headers and body."""
        del ident
        return "404 Not Found", [], b""


class _Parser(HTTPRequestParser):
    """Reads a request; how large its body may be goes by its address, and by who sends it."""

    error: Error | None = None

    def __init__(self, adj: Adjustments, admits: Admits, silent: bool) -> None:
        super().__init__(adj)
        self.adj: Adjustments = adj
        self._admits, self._silent, self._begun = admits, silent, time.monotonic()

    def received(self, data: bytes) -> int:
        """Read what has come."""
        consumed = int(super().received(data))
        if self._silent and isinstance(self.error, RequestEntityTooLarge):
            self.error = _Nothing("")
        return consumed

    def parse_header(self, header_plus: bytes) -> None:
        """Read the head."""
        super().parse_header(header_plus)
        if self.chunked or self.content_length:
            self.adj = copy.copy(self.adj)
            most = self._admits(self.command, self.path, self.headers.get("COOKIE", ""))
            self.adj.max_request_body_size = most + 1

    def dawdles(self) -> bool:
        """Whether what is being sent takes too long to come; by a clock that nobody sets."""
        took = time.monotonic() - self._begun
        if not self.headers_finished:
            return took > HEAD_SECONDS
        return took > SLOW_SECONDS and self.body_bytes_received < SLOWEST * took


class _Channel(HTTPChannel):
    def parser_class(self, adj: Adjustments) -> _Parser:
        """A reader for the next request."""
        return _Parser(adj, self.server.admits, self.server.silent)


class _NotYet(Exception):
    """Nothing whole has come on an encrypted line."""


class _Secure(_Channel):
    """A line that is encrypted. The library's objects for it are not for two threads at once, and
    may hold more than `poll` tells of."""

    def __init__(self, *given: Any, **named: Any) -> None:
        self._line = threading.Lock()
        super().__init__(*given, **named)

    def handle_read(self) -> None:
        """Read all that has come."""
        try:
            super().handle_read()
            while self.connected and self.socket.pending():
                super().handle_read()
        except _NotYet:
            pass

    def recv(self, size: int) -> bytes:
        """Bytes that have come."""
        with self._line:
            try:
                data = bytes(self.socket.recv(size))
            except (ssl.SSLWantReadError, ssl.SSLWantWriteError) as error:
                raise _NotYet from error
            except OSError:
                data = b""
        if not data:
            self.handle_close()
        return data

    def send(self, data: bytes, do_close: bool = True) -> int:
        """Send what can be sent now; how many bytes that was."""
        with self._line:
            try:
                return int(self.socket.send(data))
            except (ssl.SSLWantReadError, ssl.SSLWantWriteError):
                return 0
            except OSError:
                pass
        if do_close:
            self.handle_close()
        return 0


class _Server(TcpWSGIServer):
    channel_class = _Channel
    admits: Admits
    most_of_one, silent = CONNECTIONS, False
    tls: ssl.SSLContext | None = None

    def accept(self) -> tuple[socket.socket, Any] | None:
        """The next connection, encrypted where it is to be; the hands are shaken as it is read."""
        found: tuple[socket.socket, Any] | None = super().accept()
        if found is None:
            return None
        line, address = found
        same = sum(c.addr[0] == address[0] for c in self.active_channels.values())
        if same >= self.most_of_one:
            line.close()
            return None
        if self.tls is None:
            return found
        line.setblocking(False)
        return (
            self.tls.wrap_socket(line, server_side=True, do_handshake_on_connect=False),
            address,
        )

    def maintenance(self, now: float) -> None:
        """Close what idles or dawdles."""
        super().maintenance(now)
        for channel in list(self.active_channels.values()):
            if channel.request is not None and channel.request.dawdles():
                channel.will_close = True


def certified(certificate: Path, key: Path | None) -> ssl.SSLContext:
    """What encrypts with a person's own certificate (PEM, with its key or that in a file)."""
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    try:
        context.load_cert_chain(certificate, key)
    except (OSError, ValueError) as error:
        raise PlumError(
            f"The certificate '{certificate}' cannot be used ({error}). It has to be a PEM file, "
            "with its key in it or given by --key."
        ) from error
    return context


def _by_address(url_map: Map, method: str, path: str, _: str) -> int:
    """Bytes that a body may have whose sender sits at the machine."""
    return limits.of_address(url_map, method, path)


class Serving:
    """An application that answers on this machine at a host and port, 0 for a free one; and where
    it is shared, at an address of the network."""

    def __init__(self, app: Flask, host: str, port: int) -> None:
        logging.getLogger("waitress").setLevel(logging.ERROR)
        self._app, self._sockets = app, dict[int, wasyncore.dispatcher]()
        self._dispatcher = _Dispatcher()
        self.idle = self._dispatcher.idle
        self.port = int(self._opened(app, host, port).effective_port)

    def share(self, share: Share, tls: ssl.SSLContext | None) -> None:
        """Answer paired devices at another address too."""

        def marked(environ: dict[str, Any], start: Any) -> Any:
            environ[ENVIRON] = True
            return self._app(environ, start)

        share.secure = tls is not None
        server = self._opened(marked, share.host, self.port, tls, SHARED_CONNECTIONS)
        server.most_of_one, server.silent = ONE_ADDRESS, True
        server.admits = partial(admits, self._app)
        share.port = int(server.effective_port)
        self._app.extensions["share"] = share

    def _opened(
        self,
        application: Any,
        host: str,
        port: int,
        tls: ssl.SSLContext | None = None,
        most: int = CONNECTIONS,
    ) -> _Server:
        settings = Adjustments(
            ident=None,
            connection_limit=most,
            channel_timeout=IDLE_SECONDS,
            cleanup_interval=5,
            max_request_header_size=HEAD_BYTES,
            channel_request_lookahead=LOOK_AHEAD,
            asyncore_use_poll=True,
            url_scheme="https" if tls else "http",
        )
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        info = (family, socket.SOCK_STREAM, socket.IPPROTO_TCP, (host, port))
        try:
            server = _Server(
                application,
                self._sockets,
                dispatcher=self._dispatcher,
                adj=settings,
                sockinfo=info,
            )
        except OSError as error:
            raise PlumError(
                f"Port {port} of {host} cannot be opened: {error.strerror}. Choose another with "
                "--port, or another address."
            ) from error
        server.admits, server.tls = partial(_by_address, self._app.url_map), tls
        if tls is not None:
            server.channel_class = _Secure
        return server

    def run(self) -> None:
        """Answer until somebody presses Ctrl and C."""
        try:
            wasyncore.loop(timeout=1, map=self._sockets, use_poll=True)
        except (SystemExit, KeyboardInterrupt):
            self._dispatcher.shutdown()
            wasyncore.close_all(self._sockets)

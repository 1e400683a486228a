"""Starting the application, with demo data or on a data folder."""

import ipaddress
import os
import sys
import threading
from contextlib import closing, nullcontext
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

import click

from ..allocator import keep_freed
from ..core.base.errors import PlumError
from ..demo.prepared import lay_out
from ..store import database
from .common import EXAMPLE, progress, told_faults
from .warming import warm

STOP_SECONDS = 5  # that work in hand may take when the server is stopped

on_port = click.option(
    "--port",
    type=click.IntRange(0, 65535),
    default=8760,
    show_default=True,
    help="0 takes a free one.",
)


@dataclass(frozen=True)
class Sharing:
    """An address of this machine in a network, and what encrypts what goes there."""

    address: str
    certificate: Path | None = None
    key: Path | None = None


def _network_address(text: str) -> str:
    try:
        address = ipaddress.ip_address(text)
    except ValueError as error:
        raise PlumError(
            f"'{text}' is no address. Give the one that this machine has in the network, as in "
            "192.168.1.20."
        ) from error
    if address.is_unspecified or address.is_multicast:
        raise PlumError(
            f"{text} is not one address of this machine. Give the one that it has in the network "
            "of the phone, as in 192.168.1.20."
        )
    return str(address)


def _run(data: Path, host: str, port: int, with_demo: bool, sharing: Sharing | None = None) -> None:
    from ..web import create_app
    from ..web.server.security import LOOPBACK
    from ..web.server.serving import Serving, certified
    from ..web.server.sharing import Share

    if host not in LOOPBACK:
        raise PlumError(
            f"On {host} everybody could do everything. Zesty Plum answers on 127.0.0.1; give "
            f"--share {host} to open it to devices that you pair."
        )
    share = Share(_network_address(sharing.address)) if sharing else None
    tls = certified(sharing.certificate, sharing.key) if sharing and sharing.certificate else None
    os.umask(0o077)  # what is kept is one person's
    keep_freed()
    moment = datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    laid_out = with_demo and lay_out(data, moment)
    app = create_app(data, say=progress)
    if with_demo and not laid_out:
        from ..demo.seed import seed

        with closing(database.connect(data / "plum.db")) as db:
            seed(db, moment)
    host = "127.0.0.1" if host == "localhost" else host.strip("[]")
    serving = Serving(app, host, port)
    if share is not None:
        serving.share(share, tls)
    shown = f"[{host}]" if ":" in host else host
    click.echo(f"Zesty Plum is open at http://{shown}:{serving.port}/")
    if share is not None:
        click.echo(
            f"Paired devices are let in at {share.url}; pair one at "
            f"http://{shown}:{serving.port}/devices"
        )
    sys.stdout.flush()
    stopped = threading.Event()
    warming = threading.Thread(target=warm, args=(serving.idle, stopped), daemon=True)
    warming.start()
    try:
        # One line to the database stays open: what SQLite made beside it is then there when the
        # disk is full, and reading goes on.
        held = database.connect(data / "plum.db") if os.access(data, os.W_OK) else None
        with closing(held) if held else nullcontext():
            serving.run()
    finally:
        stopped.set()
        warming.join(STOP_SECONDS)


@click.command(epilog=EXAMPLE + "zesty-plum demo --port 8760")
@on_port
@click.option(
    "--data", type=click.Path(path_type=Path), default=Path("data/demo"), show_default=True
)
@told_faults
def demo(port: int, data: Path) -> None:
    """Start with the slips of a made-up picture crew."""
    _run(data, "127.0.0.1", port, with_demo=True)


@click.command(epilog=EXAMPLE + "zesty-plum serve --data ~/looks")
@click.option("--data", type=click.Path(path_type=Path), required=True)
@click.option("--host", default="127.0.0.1", show_default=True)
@on_port
@click.option(
    "--share", metavar="ADDRESS", help="Also answer paired devices at this address of the machine."
)
@click.option(
    "--certificate", type=click.Path(path_type=Path), help="PEM file that encrypts what is shared."
)
@click.option("--key", type=click.Path(path_type=Path), help="Its key, where that is apart.")
@told_faults
def serve(
    data: Path,
    host: str,
    port: int,
    share: str | None,
    certificate: Path | None,
    key: Path | None,
) -> None:
    """Start on a data folder of your own."""
    if certificate and not share:
        raise click.UsageError("--certificate is for what is shared; give --share too.")
    sharing = Sharing(share, certificate, key) if share else None
    _run(data, host, port, with_demo=False, sharing=sharing)

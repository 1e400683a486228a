"""Starting the application, with demo data or on a data folder."""

import logging
import sys
import threading
import time
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

import click
from waitress import create_server

from ..allocator import keep_freed
from ..core import scenes
from ..core.bodies import FIRST, Value, body
from ..core.develop.pipeline import develop
from ..core.errors import PlumError
from ..core.measure.compare import difference, to_lab
from ..demo.seed import seed
from ..store import database
from ..store.backup import MOST_UNPACKED
from .common import EXAMPLE, told_faults

on_port = click.option(
    "--port",
    type=click.IntRange(0, 65535),
    default=8760,
    show_default=True,
    help="0 takes a free one.",
)


def _run(data: Path, host: str, port: int, with_demo: bool) -> None:
    from ..web import create_app
    from ..web.security import LOOPBACK

    if host not in LOOPBACK:
        raise PlumError(
            "Zesty Plum is not protected by a password yet, so it answers on 127.0.0.1 only, "
            f"not on {host}."
        )
    keep_freed()
    app = create_app(data)
    if with_demo:
        with closing(database.connect(data / "plum.db")) as db:
            seed(db, datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ"))
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    try:
        server = create_server(
            app,
            host=host,
            port=port,
            threads=6,
            channel_timeout=60,
            ident=None,
            max_request_body_size=MOST_UNPACKED,
        )
    except OSError as error:
        raise PlumError(
            f"Port {port} is taken by another program. Choose another with --port."
        ) from error
    click.echo(
        "Zesty Plum is open at "
        f"http://{'127.0.0.1' if host == 'localhost' else host}:{server.effective_port}/",
        err=False,
    )
    sys.stdout.flush()
    threading.Thread(target=_warm, daemon=True).start()
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()


def _warm() -> None:
    """Load the first scene and build the first tables, so that the first picture does not wait for
    them."""
    from ..web.address import FIRST_BODY, FIRST_SCENE

    time.sleep(0.05)
    camera, scene = body(FIRST_BODY), scenes.load(FIRST_SCENE)
    develop(scene, camera.interpret({}), camera.sensor, 720)
    ready()


def ready() -> None:
    """Run every compiled loop once. The first time on a machine it compiles them and keeps the
    result on disk; `make` does that when it installs, so that nobody's first picture waits for it.
    """
    camera, scene = body(FIRST), scenes.load("corner")
    every: dict[str, Value] = {
        "style": "linen",
        "density": 1,
        "clarity": 1,
        "sharpness": 1,
        "noise_filter": 1,
        "grain": 1,
    }
    pictures = [develop(scene, camera.interpret(dials), camera.sensor, 96) for dials in (every, {})]
    difference(*map(to_lab, pictures))


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
@told_faults
def serve(data: Path, host: str, port: int) -> None:
    """Start on a data folder of your own."""
    _run(data, host, port, with_demo=False)

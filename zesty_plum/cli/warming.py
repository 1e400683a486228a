"""What a program does before somebody has to wait for it: load and compile loops, templates, the
first scene."""

import threading
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from ..core import scenes
from ..core.bodies import FIRST, Value, body
from ..core.develop import learnt
from ..core.develop.pipeline import develop
from ..core.measure.compare import difference, to_lab
from ..core.styles.learnt import MANY

QUIET = 0.3  # seconds without a request, after which nobody is held up
LOOK = 0.05  # seconds between two looks whether it is quiet
EVERY: dict[str, Value] = {
    "style": "linen",
    "clarity": 1,
    "sharpness": 1,
    "noise_filter": 2,
    "grain": "flour",
}


def warm(idle: Callable[[], float], stopped: threading.Event) -> None:
    """While nobody waits for anything: the first picture, then all loops that the next ones
    take. `idle` says for how many seconds nobody did."""
    from ..web.render.address import FIRST_BODY, FIRST_SCENE

    while idle() < QUIET:
        if stopped.wait(LOOK):
            return
    camera = body(FIRST_BODY)
    try:
        develop(scenes.load(FIRST_SCENE), camera.interpret({}), camera.sensor, 720)
        if not stopped.is_set():
            _loops()
    except RuntimeError:  # a program that ends hands out no more work
        if not stopped.is_set():
            raise


def _loops() -> None:
    camera, scene = body(FIRST), scenes.load("corner")
    pictures = [
        develop(scene, camera.interpret(dials), camera.sensor, 96)
        for dials in (EVERY, dict[str, Value]())
    ]
    difference(*map(to_lab, pictures))
    learnt.oklab(np.full((4, 3), 0.1, np.float32), np.zeros(MANY), np.zeros((0, 3)))


def ready() -> None:
    """Run every compiled loop and compile every template once. The first time on a machine that
    takes a while, and the result is kept on disk; `make` does it when it installs, so that nobody's
    first page or picture waits for it."""
    from ..web import create_app

    _loops()
    with TemporaryDirectory() as folder:
        known = create_app(Path(folder)).jinja_env
        for name in known.list_templates(["html", "xml", "ics"]):
            known.get_template(name)

"""From starting the program to its first page, its first picture and its verdicts, beside an empty
Flask page; and commands of the shell beside loading their two libraries."""

import compileall
import re
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import zesty_plum
from benchmarks.serving import get, served
from benchmarks.timing import Row
from zesty_plum.cli.warming import ready

EMPTY = """
import numpy
from flask import Flask
from waitress.server import create_server
app = Flask(__name__)
app.add_url_rule("/bench", "bench", lambda: "Nothing here.")
server = create_server(app, host="127.0.0.1", port=0)
print(f"open at http://127.0.0.1:{server.effective_port}/", flush=True)
server.run()
"""
DEMO = ["-m", "zesty_plum", "demo", "--port", "0", "--data"]
SERVE = ["-m", "zesty_plum", "serve", "--port", "0", "--data"]
VERDICTS = "/bench/verdicts?scene={}&body=heron-m2&intent=finished&line=style&mends=later"
LIST = "Linen, highlights -1, shadows +1, WB auto R2 B-3, sharpness -2, grain 1\n"
COMMANDS = {
    "--version": ["--version"],
    "bodies": ["bodies"],
    "dials": ["dials", "heron-m2"],
    "styles": ["styles"],
    "scenes": ["scenes"],
    "schema": ["schema"],
    "reckon": ["reckon", "ev", "--aperture", "8", "--time", "1/125", "--iso", "100"],
    "read": ["read", "-", "--body", "heron-m2"],
}


def _first(command: list[str]) -> tuple[float, float]:
    """Seconds from starting a server to its first page, and to all that a browser asks for then:
    the small scenes, the picture and the verdicts on it."""
    begun = time.perf_counter()
    with served(command) as server:
        page = get(server.address, "/bench").decode()
        first = time.perf_counter() - begun
        asked = [p.replace("&amp;", "&") for p in re.findall(r'src="(/render/[^"]+)"', page)]
        if asked:
            scene = re.search(r"/render/([a-z]+)\.jpg\?width=720", page)
            assert scene, "the page has no large picture"
            asked.append(VERDICTS.format(scene[1]))
            with ThreadPoolExecutor(6) as browser:  # as many as browsers open to one server
                large = [browser.submit(get, server.address, path) for path in asked]
                for answer in large[-2:]:  # the picture and its verdicts
                    assert answer.result()
                seen = time.perf_counter() - begun
                return first, seen
    return first, first


def _turns(works: dict[str, Callable[[], tuple[float, float]]], rounds: int) -> dict[str, list]:
    took: dict[str, list[tuple[float, float]]] = {name: [] for name in works}
    for _ in range(rounds):
        for name, work in works.items():
            took[name].append(work())
    return took


def pages(rounds: int) -> Iterator[Row]:
    """The first page of a folder that holds the demo, and of a new one."""
    with tempfile.TemporaryDirectory() as base:
        filled, numbers = Path(base) / "filled", iter(range(10**6))
        _first([*DEMO, str(filled)])
        took = _turns(
            {
                "empty": lambda: _first(["-c", EMPTY]),
                "filled": lambda: _first([*SERVE, str(filled)]),
                "new": lambda: _first([*DEMO, str(Path(base) / f"new-{next(numbers)}")]),
            },
            rounds,
        )
    empty = [first for first, _ in took["empty"]]
    for name, which, k, goal in (
        ("first page of a filled folder", "filled", 0, 4.0),
        ("  its first picture and verdicts", "filled", 1, 6.0),
        ("first page of the demo in a new folder", "new", 0, 8.0),
    ):
        ratio = statistics.median(t[k] / e for t, e in zip(took[which], empty))
        seconds = statistics.median(t[k] for t in took[which])
        yield Row(name, f"{seconds:.2f} s", ratio, "an empty Flask page", goal)


def commands(rounds: int) -> Iterator[Row]:
    """Commands that need neither pictures nor a server."""
    peer = [sys.executable, "-c", "import click, numpy"]
    took: dict[str, list[float]] = {name: [] for name in ("peer", *COMMANDS)}
    for _ in range(rounds):
        for name in took:
            command = (
                peer if name == "peer" else [sys.executable, "-m", "zesty_plum", *COMMANDS[name]]
            )
            begun = time.perf_counter()
            subprocess.run(command, input=LIST, text=True, capture_output=True, check=True)
            took[name].append(time.perf_counter() - begun)
    for name in COMMANDS:
        ratio = statistics.median(a / b for a, b in zip(took[name], took["peer"]))
        yield Row(
            f"zesty-plum {name}",
            f"{statistics.median(took[name]) * 1000:.0f} ms",
            ratio,
            "import click, numpy",
            2.0,
        )


def run(quick: bool) -> Iterator[Row]:
    """The rows, of a program that is compiled, as `make` leaves it and its libraries are."""
    compileall.compile_dir(zesty_plum.__path__[0], quiet=1)
    ready()
    yield from commands(2 if quick else 9)
    yield from pages(1 if quick else 7)

"""What the commands share: faults as one sentence, recipes and scenes from arguments, JSON."""

import json
import sqlite3
import sys
from collections.abc import Callable
from functools import partial, wraps
from pathlib import Path
from typing import Any

import click

from ..core import scenes
from ..core.bodies import bring, forget
from ..core.errors import PlumError
from ..core.pictures import metadata
from ..core.pictures.read import MOST_BYTES, read
from ..core.recipe import Recipe, loads
from ..core.scenes.scene import Scene
from ..store import faults

JSON = click.option("--json", "as_json", is_flag=True, help="Print JSON.")
EXAMPLE = "Example:\n\n  "


def _bring(context: click.Context, _: click.Parameter, files: tuple[str, ...]) -> None:
    for path in files:
        try:
            made = bring(read_bytes(path))
        except PlumError as error:
            click.echo(f"{path}: {error}" if path != "-" else str(error), err=True)
            context.exit(1)
        context.call_on_close(partial(forget, made.id))


BODY_FILES = click.option(
    "--body-file",
    multiple=True,
    is_eager=True,  # before other options name the body
    expose_value=False,
    callback=_bring,
    help="The file of a body that does not ship; can be repeated.",
)


def told_faults(command: Callable[..., None]) -> Callable[..., None]:
    """Turn a fault of the input into one sentence and exit code 1."""

    @wraps(command)
    def wrapped(*args: Any, **kwargs: Any) -> None:
        try:
            command(*args, **kwargs)
        except PlumError as error:
            click.echo(str(error), err=True)
            sys.exit(1)
        except BrokenPipeError:
            sys.exit(0)
        except (OSError, sqlite3.Error) as error:
            told = faults.sentence(error)
            if told is None:
                raise
            click.echo(told, err=True)
            sys.exit(1)

    return wrapped


def read_bytes(path: str) -> bytes:
    """What a file or, for '-', standard input holds."""
    if path == "-":
        return sys.stdin.buffer.read(MOST_BYTES + 1)
    try:
        file = Path(path)
        if file.stat().st_size > MOST_BYTES:
            raise PlumError(f"'{path}' is over 100 MB. Choose a smaller file.")
        return file.read_bytes()
    except OSError as error:
        raise PlumError(f"'{path}' cannot be read: {error.strerror}.") from error


def read_recipe(path: str) -> Recipe:
    """A recipe from a file, from '-', or from a picture that carries one."""
    data = read_bytes(path)
    if data[:2] == b"\xff\xd8" or data[:4] == b"\x89PNG":
        found = metadata.find(data)
        if found is None:
            raise PlumError(f"The picture '{path}' carries no recipe. Give a recipe file.")
        return found
    return loads(data)


def scene_of(scene: str | None, picture: str | None) -> Scene:
    """The sample scene or the picture that a command was given; it needs one of the two."""
    if (scene is None) == (picture is None):
        raise click.UsageError("Give either --scene or --picture.")
    if picture is not None:
        return read(read_bytes(picture), Path(picture).name, "own-picture")
    assert scene is not None
    return scenes.load(scene)


def print_json(data: Any) -> None:
    """Print for programs to read."""
    click.echo(json.dumps(data, ensure_ascii=False, indent=2))

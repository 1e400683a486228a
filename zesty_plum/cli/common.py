"""What the commands share: faults as one sentence, files of bodies, JSON."""

import json
import sqlite3
import sys
from collections.abc import Callable
from functools import partial, wraps
from pathlib import Path
from typing import Any

import click

from ..core.base.errors import PlumError
from ..core.pictures import MOST_BYTES
from ..store import faults

JSON = click.option("--json", "as_json", is_flag=True, help="Print JSON.")
EXAMPLE = "Example:\n\n  "


def _bring(context: click.Context, _: click.Parameter, files: tuple[str, ...]) -> None:
    if not files:
        return
    from ..core.bodies import bring, forget

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


def progress(words: str) -> None:
    """A line on what takes a while."""
    click.echo(words, err=True)


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


def print_json(data: Any) -> None:
    """Print for programs to read."""
    click.echo(json.dumps(data, ensure_ascii=False, indent=2))

"""A whole folder of pictures through a recipe."""

import os
import sys
from collections import Counter
from pathlib import Path

import click

from ..archive.folder import Outcome, develop_folder
from ..archive.one import Keep
from ..core.base.errors import PlumError
from .common import BODY_FILES, EXAMPLE, JSON, print_json, told_faults
from .given import read_recipe

WORDS = {"developed": "developed", "there": "there already", "failed": "not done"}


@click.command(
    epilog=EXAMPLE + "zesty-plum develop voyage --recipe slack-tide.plum.json -o voyage-slack-tide"
)
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--recipe", required=True, help="A recipe file, or a picture that carries one.")
@click.option(
    "-o", "--output", required=True, type=click.Path(path_type=Path), help="Folder for the JPEGs."
)
@click.option(
    "--workers",
    type=click.IntRange(1, 256),
    help="Processes on this machine; as many as it has cores when left out.",
)
@click.option("--cluster", help="Address of a Dask scheduler, to work on its machines instead.")
@click.option("--keep-place", is_flag=True, help="Keep where a picture was taken (GPS).")
@click.option(
    "--keep-owner",
    is_flag=True,
    help="Keep artist, copyright, owner, serial numbers and comments.",
)
@JSON
@BODY_FILES
@told_faults
def develop(
    folder: Path,
    recipe: str,
    output: Path,
    workers: int | None,
    cluster: str | None,
    keep_place: bool,
    keep_owner: bool,
    as_json: bool,
) -> None:
    """Develop every picture in FOLDER by a recipe. Pictures that are done already are left alone,
    so what was broken off goes on; no file is ever written over. The JPEGs tell when and with what
    settings they were taken, but not where and by whom, unless that is wished."""
    if workers and cluster:
        raise click.UsageError("Give --workers or --cluster, not both.")
    made = read_recipe(recipe)

    def tell(outcome: Outcome, done: int, of: int) -> None:
        why = f" {outcome.why}" if outcome.why else ""
        click.echo(f"{done} of {of}: {outcome.name}, {WORDS[outcome.became]}.{why}", err=True)

    try:
        hands = workers or os.cpu_count() or 1
        keep = Keep(keep_place, keep_owner)
        found = develop_folder(folder, made, output, hands, cluster, tell, keep)
    except KeyboardInterrupt:
        raise PlumError("Broken off. The same command goes on with what is left.") from None
    many = Counter(outcome.became for outcome in found)
    if as_json:
        failed = [{"file": f.name, "why": f.why} for f in found if f.became == "failed"]
        print_json({**{k: many[k] for k in WORDS if k != "failed"}, "failed": failed})
    else:
        click.echo(", ".join(f"{many[k]} {words}" for k, words in WORDS.items() if many[k]) + ".")
    if many["failed"]:
        sys.exit(1)

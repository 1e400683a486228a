"""Formats of files, and a body that ships as one."""

from importlib import import_module
from pathlib import Path

import click

from ..core.base.errors import PlumError
from ..core.base.saving import save
from ..core.bodies import body
from ..core.bodies import file as body_file
from .common import EXAMPLE, print_json, told_faults

# The module that reads each format, loaded when it is asked for.
FORMATS = {
    "recipe": "core.recipe",
    "body": "core.bodies.file",
    "kit": "store.kit_file",
    "card": "core.kit.card",
    "outing": "store.outing_file",
}


@click.command("schema", epilog=EXAMPLE + "zesty-plum schema > recipe.schema.json")
@click.option("--of", "what", type=click.Choice(list(FORMATS)), default="recipe")
@told_faults
def print_schema(what: str) -> None:
    """Print the JSON Schema of the recipe file, or of another."""
    print_json(import_module(f"..{FORMATS[what]}", __package__).schema())


@click.command("body", epilog=EXAMPLE + "zesty-plum body heron-m2 -o mine.body.json")
@click.argument("body_id", metavar="BODY")
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path), help=".body.json")
@told_faults
def write_body(body_id: str, output: Path) -> None:
    """Write BODY as a file: rename what is in it, give it an id of its own, and other commands take
    it by --body-file."""
    if not output.name.endswith(".body.json"):
        raise PlumError(f"Bodies are written as .body.json, not '{output.name}'.")
    save(output, body_file.dumps(body(body_id)).encode())
    click.echo(f"{output}: {body(body_id).name}", err=True)

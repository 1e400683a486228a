"""Lists of what ships, and the schema of the recipe file."""

import json
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from typing import Any

import click

from ..core import recipe, scenes
from ..core.bodies import bodies, body
from ..core.bodies import file as body_file
from ..core.errors import PlumError
from ..core.kit import card
from ..core.lists import read_list
from ..core.pictures.write import save
from ..core.styles import styles
from ..store import kit_file, outing_file
from .common import BODY_FILES, EXAMPLE, JSON, print_json, read_bytes, told_faults


@click.command("bodies", epilog=EXAMPLE + "zesty-plum bodies --json")
@JSON
@BODY_FILES
@told_faults
def list_bodies(as_json: bool) -> None:
    """List camera bodies."""
    rows = [
        {
            "id": b.id,
            "name": b.name,
            "kind": b.kind,
            "base_iso": b.sensor.base_iso,
            "slots": b.slots,
        }
        for b in bodies().values()
    ]
    _list(
        rows,
        as_json,
        lambda r: (
            f"{r['id']}  {r['name']}, {r['kind']}, base ISO {r['base_iso']:g}, {r['slots']} slots"
        ),
    )


@click.command("styles", epilog=EXAMPLE + "zesty-plum styles")
@JSON
@told_faults
def list_styles(as_json: bool) -> None:
    """List picture styles."""
    rows = [{"id": s.id, "name": s.name, "purpose": s.purpose} for s in styles().values()]
    _list(rows, as_json, lambda r: f"{r['id']}  {r['purpose']}")


@click.command("scenes", epilog=EXAMPLE + "zesty-plum scenes --json")
@JSON
@told_faults
def list_scenes(as_json: bool) -> None:
    """List sample scenes."""
    rows = [asdict(e) for e in scenes.index().values()]
    _list(
        rows,
        as_json,
        lambda r: f"{r['id']}  {r['title']}: {r['story']} ({r['kelvin']:.0f} K, EV {r['ev100']:g})",
    )


@click.command("dials", epilog=EXAMPLE + "zesty-plum dials heron-m2 --json")
@click.argument("body_id", metavar="BODY")
@JSON
@BODY_FILES
@told_faults
def list_dials(body_id: str, as_json: bool) -> None:
    """List the dials of BODY with their values."""
    rows = [
        {
            "id": d.id,
            "label": d.label,
            "values": list(d.values),
            "default": d.default,
            "unit": d.unit,
            "purpose": d.purpose,
            "step": d.means,
            "later": d.later,
        }
        for d in body(body_id).dials
    ]
    _list(
        rows,
        as_json,
        lambda r: f"{r['id']}  {body(body_id).dial(r['id']).spelled()} (as shipped {r['default']})",
    )


FORMATS = {
    "recipe": recipe.schema,
    "body": body_file.schema,
    "kit": kit_file.schema,
    "card": card.schema,
    "outing": outing_file.schema,
}


@click.command("schema", epilog=EXAMPLE + "zesty-plum schema > recipe.schema.json")
@click.option(
    "--of", "what", type=click.Choice(["recipe", "body", "kit", "card"]), default="recipe"
)
@told_faults
def print_schema(what: str) -> None:
    """Print the JSON Schema of the recipe file, or of the body file."""
    print_json(FORMATS[what]())


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


@click.command("read", epilog=EXAMPLE + "zesty-plum read list.txt --body heron-m2 --json")
@click.argument("textfile")
@click.option("--body", "body_id", help="The body to read it for; the one it names where left out.")
@JSON
@BODY_FILES
@told_faults
def read_written(textfile: str, body_id: str | None, as_json: bool) -> None:
    """Read a list of settings from TEXTFILE, and tell what each piece of it was taken for."""
    text = read_bytes(textfile).decode("utf-8", "replace")
    read = read_list(text, body_id)
    if not as_json:
        for piece in read.pieces:
            set_to = ", ".join(
                f"{read.camera.dial(k).label} {read.camera.dial(k).choice(v).label}"
                for k, v in (piece.sets.items() if piece.counts else ())
            )
            said = "; ".join(part for part in (set_to, f"{piece.kind}", piece.said) if part)
            click.echo(f"{' '.join(piece.text.split())}  ->  {said}")
        return
    pieces = [
        {
            "text": p.text,
            "start": p.start,
            "end": p.end,
            "kind": p.kind.value,
            "sets": dict(p.sets) if p.counts else {},
            "said": p.said,
        }
        for p in read.pieces
    ]
    print_json(
        {
            "body": read.camera.id,
            "recipe": json.loads(recipe.dumps(read.recipe)),
            "pieces": pieces,
            "as_shipped": list(read.untouched),
        }
    )


def _list(rows: list[dict[str, Any]], as_json: bool, line: Callable[[dict[str, Any]], str]) -> None:
    if as_json:
        print_json(rows)
        return
    for row in rows:
        click.echo(line(row))

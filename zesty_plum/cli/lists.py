"""Lists of what ships, and the schema of the recipe file."""

import json
from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import click

from ..core import recipe, scenes
from ..core.bodies import bodies, body
from ..core.lists import read_list
from ..core.styles import styles
from .common import EXAMPLE, JSON, print_json, read_bytes, told_faults


@click.command("bodies", epilog=EXAMPLE + "zesty-plum bodies --json")
@JSON
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


@click.command("schema", epilog=EXAMPLE + "zesty-plum schema > recipe.schema.json")
@told_faults
def print_schema() -> None:
    """Print the JSON Schema of the recipe file."""
    print_json(recipe.schema())


@click.command("read", epilog=EXAMPLE + "zesty-plum read list.txt --body heron-m2 --json")
@click.argument("textfile")
@click.option("--body", "body_id", help="The body to read it for; the one it names where left out.")
@JSON
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

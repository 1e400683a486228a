"""Lists of settings that somebody wrote."""

import json

import click

from ..core import recipe
from ..core.lists import read_list
from .common import BODY_FILES, EXAMPLE, JSON, print_json, read_bytes, told_faults


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

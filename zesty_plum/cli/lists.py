"""Lists of what ships."""

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import click

from ..core import scenes
from ..core.bodies import bodies, body
from ..core.styles import styles
from .common import BODY_FILES, EXAMPLE, JSON, print_json, told_faults


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
            "edition": b.edition,
            "kind": b.kind,
            "base_iso": b.sensor.base_iso,
            "readout": b.sensor.readout,
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
    camera = body(body_id)
    rows = [
        {
            "id": d.id,
            "edition": camera.edition,
            "label": d.label,
            "values": list(d.values),
            "default": d.default,
            "unit": d.unit,
            "purpose": d.purpose,
            "step": d.means,
            "later": d.later,
        }
        for d in camera.dials
    ]
    _list(
        rows,
        as_json,
        lambda r: f"{r['id']}  {camera.dial(r['id']).spelled()} (as shipped {r['default']})",
    )


def _list(rows: list[dict[str, Any]], as_json: bool, line: Callable[[dict[str, Any]], str]) -> None:
    if as_json:
        print_json(rows)
        return
    for row in rows:
        click.echo(line(row))

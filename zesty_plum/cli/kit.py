"""The kit from a shell: cameras and slots, settings cards written and read, presses."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import click

from ..core.base.errors import PlumError
from ..core.base.saving import save
from ..core.kit import card, differ
from ..core.kit.presses import presses, total
from ..store import cases, database, plans, readings
from ..store.cases import Case
from ..store.place import prepared
from .common import EXAMPLE, JSON, print_json, progress, told_faults

DATA = click.option(
    "--data", required=True, type=click.Path(path_type=Path), help="The data folder."
)


@click.group()
def kit() -> None:
    """What stands in the cameras, and whether it is what was planned."""


@contextmanager
def _opened(data: Path) -> Iterator[sqlite3.Connection]:
    if not data.is_dir():
        raise PlumError(f"There is no data folder '{data}'. Give the one that is served.")
    place = prepared(data, progress)
    with closing(database.connect(place.database)) as db:
        yield db


def _now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


@kit.command("list", epilog=EXAMPLE + "zesty-plum kit list --data ~/plum")
@DATA
@JSON
@told_faults
def list_cases(data: Path, as_json: bool) -> None:
    """The cameras with what should stand in their slots."""
    with _opened(data) as db:
        every = [_told(db, case) for case in cases.listed(db)]
    if as_json:
        return print_json(every)
    for case in every:
        click.echo(f"{case['letter'] or '-'}  {case['name']} ({case['body']})")
        for slot in case["slots"]:
            version = f", version {slot['version']}" if slot["version"] else ""
            click.echo(f"   {slot['key']:>3}  {slot['name']}{version}")
    return None


def _told(db: sqlite3.Connection, case: Case) -> dict[str, Any]:
    last = readings.last(db, case)
    return {
        "name": case.name,
        "letter": case.letter,
        "body": case.body,
        "carried": case.carried,
        "read_at": last.read_at if last else None,
        "slots": [
            {"key": p.key, "name": p.recipe.name, "version": p.version, "why": p.why}
            for p in plans.slots_of(db, case.id).values()
        ],
        "beside": plans.beside_of(db, case),
    }


@kit.command("write", epilog=EXAMPLE + "zesty-plum kit write A /media/card --data ~/plum")
@click.argument("case")
@click.argument("folder", type=click.Path(path_type=Path, file_okay=False))
@DATA
@JSON
@told_faults
def write(case: str, folder: Path, data: Path, as_json: bool) -> None:
    """Write a settings card that brings CASE, a letter or a name, to its plan into FOLDER."""
    with _opened(data) as db:
        found = cases.named(db, case)
        files = card.files(found.camera, readings.whole_plan(db, found), found.name, _now())
    for name, text in files.items():
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        save(folder / name, text.encode())
    if as_json:
        print_json({"case": found.name, "files": [str(folder / name) for name in files]})
    else:
        click.echo(f"Written to {folder / card.FOLDER} for {found.name}.")


@kit.command("read", epilog=EXAMPLE + "zesty-plum kit read /media/card --data ~/plum --json")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--case", help="Whose card it is, where that is not clear.")
@DATA
@JSON
@told_faults
def read(folder: Path, case: str | None, data: Path, as_json: bool) -> None:
    """Read the settings card in FOLDER, keep what was found, and say what differs."""
    made = card.read_folder(folder)
    for line in made.carried:
        click.echo(line, err=True)
    with _opened(data) as db:
        found = cases.named(db, case) if case else readings.whose(db, made)
        readings.of_its_body(found, made)
        readings.keep(db, found, made.state, readings.CARD, _now())
        told = differ.differences(found.camera, made.state, plans.planned(db, found))
        beside = differ.settings(found.camera, made.state, plans.beside_of(db, found))
    differs = [d for d in told if d.differs or d.gone_on]
    if as_json:
        return print_json({"case": found.name, **_differences(differs, beside)})
    if not differs and not beside:
        return click.echo(f"{found.name}: as planned.")
    for one in differs:
        why = "; ".join(f"{label} {there}, planned {want}" for label, want, there in one.dials)
        gone = f"the slip is at version {one.gone_on}" if one.gone_on else ""
        click.echo(f"Slot {one.key}: {one.found}. {why or gone}")
    for setting in beside:
        click.echo(f"{setting.label}: {setting.found}, planned {setting.planned}")
    return None


def _differences(
    slots: list[differ.Difference], beside: list[differ.Setting]
) -> dict[str, list[dict[str, Any]]]:
    return {
        "slots": [
            {
                "key": d.key,
                "found": str(d.found),
                "dials": [
                    {"label": label, "planned": want, "found": there}
                    for label, want, there in d.dials
                ],
                "mean": round(d.mean, 3),
                "words": list(d.words),
                "version": d.version or None,
                "gone_on": d.gone_on or None,
            }
            for d in slots
        ],
        "beside": [
            {"id": s.id, "label": s.label, "planned": s.planned, "found": s.found} for s in beside
        ],
    }


@kit.command("plan", epilog=EXAMPLE + "zesty-plum kit plan A --data ~/plum")
@click.argument("case")
@DATA
@JSON
@told_faults
def plan(case: str, data: Path, as_json: bool) -> None:
    """The presses that bring CASE to its plan, from how it was read last."""
    with _opened(data) as db:
        found = cases.named(db, case)
        last = readings.last(db, found)
        if last is None:
            raise PlumError(
                f"Nobody knows what is in {found.name}. Read its settings card first: kit read."
            )
        steps = presses(found.camera, last.state, plans.plan_of(db, found))
    if as_json:
        listed = [
            {"page": s.page, "words": s.words, "presses": s.count, "buttons": list(s.buttons)}
            for s in steps
        ]
        return print_json({"case": found.name, "presses": total(steps), "steps": listed})
    for step in steps:
        click.echo(f"{step.page}: {step.words} ({step.path})")
    return click.echo(f"{total(steps)} presses" if steps else "As planned.")

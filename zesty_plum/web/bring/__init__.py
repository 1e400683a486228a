"""Bringing in: many recipes at once, looked at before anything happens; and a backup put back."""

import time
from collections.abc import Callable

from flask import Blueprint, redirect, render_template, request, url_for
from werkzeug.wrappers import Response

from ...core.base.errors import PlumError
from ...core.exchange import read_many
from ...core.recipe import INTENT_WORDS
from ...store import backup, batches
from ..frame.context import db, now, place, tell, went
from ..frame.screens import Room
from ..kit import first_needed
from ..render import address
from ..server.turns import Rank
from ..server.work import Work, long_work

blueprint = Blueprint("bring", __name__, template_folder="templates")

MOST_SECONDS = 60  # that reading what was brought may take
MOST_FAULTS = 4  # files that are told of one by one
SHOWN = 400  # rows with a picture and a choice of their own; a longer batch is decided as a whole


def _budget(work: Work) -> Callable[[int, int], bool]:
    """Whether there is time for another file; tells how far it is."""
    begun = time.monotonic()

    def go_on(many: int, done: int) -> bool:
        work.of, work.done = many, done
        work.pause()
        return time.monotonic() - begun < MOST_SECONDS

    return go_on


@blueprint.post("/bring")
def look() -> Response:
    """Read the files and show what would happen."""
    files = [f for f in request.files.getlist("file") if f.filename]
    if not files and not request.form.get("text", "").strip():
        raise PlumError(
            "No file was chosen. Choose recipe files, a zip of them, cards, or lists in plain text."
        )
    given = [(f.filename or "", f.read) for f in files]
    if request.form.get("text", "").strip():
        given.append(("Pasted list", request.form["text"].encode))
    with long_work("Reading the files", rank=Rank.LARGE) as work:
        if needed := first_needed(files):
            return went(needed)
        reading = read_many(given, _budget(work))
    if not reading.found:
        raise PlumError(
            f"{reading.faults[0][0]}: {reading.faults[0][1]}"
            if reading.faults
            else "No recipe is in these files."
        )
    batch = batches.stage(db(), reading.found, now())
    for name, why in reading.faults[:MOST_FAULTS]:
        tell(f"{name}: {why}", "fault")
    if reading.left:
        tell(
            f"Reading took more than {MOST_SECONDS} seconds, so {reading.left:,} of the files were "
            "not looked at. Bring those in by themselves.",
            "fault",
        )
    rest = len(reading.faults) - MOST_FAULTS
    if rest > 0:
        tell(f"{rest} more {'file' if rest == 1 else 'files'} held no recipe.", "fault")
    to = url_for("bring.batch", batch=batch)
    return went(to)


@blueprint.get("/bring/<int:batch>")
def batch(batch: int) -> str:
    """What each recipe is, and what will happen to it."""
    rows = batches.rows(db(), batch)
    conflicts = sum(1 for r in rows if r.named and not r.same)
    return render_template(
        "bring.html",
        batch=batch,
        rows=[
            (r, address.look_query(r.brought.recipe), INTENT_WORDS[r.brought.recipe.intent])
            for r in rows[:SHOWN]
        ],
        more=max(0, len(rows) - SHOWN),
        every=len(rows),
        same=sum(1 for r in rows if r.same),
        conflicts=conflicts,
        taken=batches.taken(db(), batch),
        scene_id=address.FIRST_SCENE,
    )


@blueprint.post("/bring/<int:batch>/take")
def take(batch: int) -> Response:
    """Take it in: the person's choices, and for conflicts the one answer that was given for all."""
    named = request.form.get("named", batches.NEW)
    choices = []
    for k, row in enumerate(batches.rows(db(), batch)):
        offered = row.offered if row.same or not row.named else named
        choices.append(request.form.get(f"row{k}") or offered)
    made = batches.take(db(), batch, choices, now())
    if not made:
        tell("Nothing was chosen, so nothing was taken in.", "fault")
        return redirect(url_for("bring.batch", batch=batch))
    many = "One slip was" if len(made) == 1 else f"{len(made):,} slips were"
    tell(f"{many} taken in.", f"undo:{url_for('bring.take_back', batch=batch)}")
    return redirect(url_for("slips.page"))


@blueprint.post("/bring/<int:batch>/back")
def take_back(batch: int) -> Response:
    """Undo."""
    many = batches.take_back(db(), batch, now())
    tell(f"{'One slip is' if many == 1 else f'{many:,} slips are'} as before.", "done")
    return redirect(url_for("bring.batch", batch=batch))


@blueprint.get("/restore")
def restoring() -> str:
    """Choose a backup and how it comes back."""
    return render_template("restore.html")


@blueprint.post("/restore")
def restore() -> Response:
    """Put a backup back; before it takes the place of what is there, that is kept as a backup in
    the data folder."""
    file = request.files.get("file")
    if file is None or not file.filename:
        raise PlumError("No backup was chosen. Choose the zip that 'Make a backup' gave.")
    with long_work("Checking the backup and putting it back"):
        if request.form.get("how") == "replace":
            back, kept = backup.replace(db(), place(), file.stream, now())
            tell(
                f"{back.slips} slips stand where the old ones stood. Those are kept in the data "
                f"folder as {kept.name}.",
                "done",
            )
            return went(url_for("slips.page"))
        back = backup.add(db(), place(), file.stream)
    there = f" {back.known} were there already." if back.known else ""
    tell(f"{back.slips} slips and {back.pictures} pictures came back.{there}", "done")
    return went(url_for("slips.page"))


ROOM = Room("Slips", (blueprint,))

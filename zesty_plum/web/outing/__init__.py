"""Outing: a day planned before it happens, with its light, its shoots and what each needs."""

import re
from datetime import UTC, datetime, time, timedelta
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core.errors import PlumError
from ...core.exchange import stem
from ...core.outing.lights import WEATHERS, kinds
from ...store import cases, outing_file, outings
from ...store.outings import Outing, Row
from .. import address
from ..context import db, now, sent_file, tell, went
from ..papers import inside, picture_of, sent
from ..screens import Room
from ..take import attached
from ..values import identity
from ..work import long_work
from . import day

blueprint = Blueprint("outing", __name__, template_folder="templates", url_prefix="/outing")
MOVES = ("-30", "-10", "10", "30")


@blueprint.get("/")
def page() -> ResponseReturnValue:
    """The next day that is planned; or how to begin."""
    every = outings.listed(db())
    if not every:
        return render_template("outings.html", every=[], weathers=WEATHERS)
    coming = [o for o in every if o.on.isoformat() >= now()[:10]]
    return redirect(url_for("outing.one", outing_id=(coming[-1:] or every)[0].id))


@blueprint.get("/days")
def days() -> str:
    """All days."""
    return render_template("outings.html", every=outings.listed(db()), weathers=WEATHERS)


@blueprint.get("/<int:outing_id>")
def one(outing_id: int) -> str:
    """A day: its light, its shoots, cards and what to do before leaving; `shoot` is in hand."""
    outing = outings.get(db(), outing_id)
    at = day.sky(outing)
    shown = _cards(outing, at)
    uses, clashes = day.uses(shown)
    in_hand = next((c for c in shown if str(c.row.id) == request.args.get("shoot")), None)
    return render_template(
        "outing.html",
        outing=outing,
        sky=at,
        cards=shown,
        card=in_hand or next(iter(shown), None),
        chosen=in_hand is not None,
        adding="add" in request.args,
        uses=uses,
        clashes=clashes,
        lasting=day.lasting(shown, uses),
        leaving=day.before_leaving(shown),
        queries={c.row.id: _query(c) for c in shown},
        slots=_slots(),
        kinds=kinds(),
        weathers=WEATHERS,
        scenes=address.scene_row(),
        moves=MOVES,
        hours=day.hours,
        size=(day.WIDE, day.HIGH, day.HORIZON),
    )


def _cards(outing: Outing, at: day.Sky) -> list[day.Card]:
    with long_work("Working the day out"):
        return day.cards(outing, at)


def _query(card: day.Card) -> str:
    return address.look_query(card.recipe) if card.recipe else ""


def _slots() -> list[tuple[str, str]]:
    """Cameras and their slots to choose from: 3, or 3:2."""
    out = []
    for case in cases.listed(db()):
        name = case.letter or case.name
        out.append((str(case.id), f"{case.name}, no slot"))
        out += [
            (f"{case.id}:{put.key}", f"{name} {put.key}, {put.recipe.name}")
            for put in cases.slots_of(db(), case.id).values()
        ]
    return out


# ---- days ----------------------------------------------------------------------------------------
@blueprint.post("/days")
def add() -> ResponseReturnValue:
    """A day more."""
    made = outings.add(db(), request.form, now())
    tell(f"{made.name} is planned.", f"undo:{url_for('outing.delete', outing_id=made.id)}")
    return redirect(url_for("outing.one", outing_id=made.id))


@blueprint.post("/<int:outing_id>")
def change(outing_id: int) -> ResponseReturnValue:
    """A day written anew; another date brings another light."""
    made = outings.change(db(), outing_id, request.form)
    tell(f"{made.name} is kept.", "done")
    return redirect(url_for("outing.one", outing_id=outing_id))


@blueprint.post("/<int:outing_id>/delete")
def delete(outing_id: int) -> ResponseReturnValue:
    """Delete a day."""
    gone = outings.delete(db(), outing_id, now())
    tell(f"{gone.name} was deleted.", f"undo:{url_for('outing.back', outing_id=outing_id)}")
    return redirect(url_for("outing.page"))


@blueprint.post("/<int:outing_id>/back")
def back(outing_id: int) -> ResponseReturnValue:
    """Take it back."""
    tell(f"{outings.delete(db(), outing_id, None).name} is back.", "done")
    return redirect(url_for("outing.one", outing_id=outing_id))


@blueprint.post("/<int:outing_id>/duplicate")
def duplicate(outing_id: int) -> ResponseReturnValue:
    """The same day again."""
    made = outings.duplicate(db(), outing_id, now())
    tell(f"{made.name}: give it its date.", f"undo:{url_for('outing.delete', outing_id=made.id)}")
    return redirect(url_for("outing.one", outing_id=made.id))


@blueprint.get("/<int:outing_id>/day.outing.json")
def export(outing_id: int) -> Response:
    """A day as a file."""
    outing = outings.get(db(), outing_id)
    name = f"{stem(outing.name)}.outing.json"
    return attached(name, outing_file.dumps(outing), "application/json")


@blueprint.post("/bring")
def bring() -> ResponseReturnValue:
    """Take a day's file in."""
    given = sent_file("Choose a day's file, .outing.json.")
    made = outing_file.take_in(db(), given.read(), now())
    tell(f"{made.name} came in.", f"undo:{url_for('outing.delete', outing_id=made.id)}")
    return redirect(url_for("outing.one", outing_id=made.id))


# ---- shoots --------------------------------------------------------------------------------------
@blueprint.post("/<int:outing_id>/shoots")
def put_shoot(outing_id: int) -> ResponseReturnValue:
    """A shoot more, or one written anew."""
    outings.get(db(), outing_id)
    case, _, slot = request.form.get("at", "").partition(":")
    row = Row(
        identity(request.form.get("shoot", "")) or 0,
        outings.shoot_by(request.form),
        identity(case),
        slot[:8],
        request.form.get("scene", "")[:40],
    )
    made = outings.put_shoot(db(), outing_id, row)
    tell(f"{row.shoot.title} is planned.", "done")
    return redirect(url_for("outing.one", outing_id=outing_id, shoot=made))


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/use")
def use(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Take the slot that was suggested."""
    outing = outings.get(db(), outing_id)
    row = _row(outing, shoot_id)
    case, _, slot = request.form.get("at", "").partition(":")
    outings.put_shoot(db(), outing_id, Row(row.id, row.shoot, identity(case), slot, row.scene))
    return redirect(url_for("outing.one", outing_id=outing_id, shoot=shoot_id))


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/move")
def move(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Earlier or later by some minutes."""
    row = _row(outings.get(db(), outing_id), shoot_id)
    by = request.form.get("by", "").replace("\u2212", "-")
    if not re.fullmatch(r"-?\d{1,4}", by):
        raise PlumError("A shoot is moved by minutes, as 30 or -30.")
    outings.put_shoot(db(), outing_id, outings.moved(row, int(by)))
    return went(url_for("outing.one", outing_id=outing_id, shoot=shoot_id))


def _row(outing: Outing, shoot_id: int) -> Row:
    found = next((r for r in outing.rows if r.id == shoot_id), None)
    if found is None:
        raise PlumError("This shoot is not on this day any more.")
    return found


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/remove")
def remove_shoot(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Take a shoot off the day."""
    title = _row(outings.get(db(), outing_id), shoot_id).shoot.title
    outings.remove_shoot(db(), outing_id, shoot_id, now())
    to = url_for("outing.shoot_back", outing_id=outing_id, shoot_id=shoot_id)
    tell(f"{title} was taken off.", f"undo:{to}")
    return redirect(url_for("outing.one", outing_id=outing_id))


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/back")
def shoot_back(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Undo."""
    outings.remove_shoot(db(), outing_id, shoot_id, None)
    return redirect(url_for("outing.one", outing_id=outing_id, shoot=shoot_id))


# ---- in the pocket -------------------------------------------------------------------------------
@blueprint.get("/<int:outing_id>/pocket.html")
def pocket(outing_id: int) -> Response:
    """The day as a page that works on a phone without network; of one person, if `who`."""
    outing = outings.get(db(), outing_id)
    who = request.args.get("who", "")
    at = day.sky(outing)
    shown = [c for c in _cards(outing, at) if not who or c.row.shoot.who in ("", who)]
    with long_work("Making the page", len(shown)) as work:
        lines: list[dict[str, Any]] = []
        for card in work.steps(shown):
            picture = (
                inside(picture_of(card.recipe, card.scene, 400)) if card.recipe is not None else ""
            )
            lines.append({"card": card, "picture": picture})
    return sent(
        outing.name,
        "pocket.html",
        outing=outing,
        lines=lines,
        sky=at,
        leaving=day.before_leaving(shown),
    )


@blueprint.get("/<int:outing_id>/plan.ics")
def calendar(outing_id: int) -> Response:
    """The shoots as a calendar file (RFC 5545), slot and exposure in each."""
    outing = outings.get(db(), outing_id)
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Zesty Plum//Outing//EN"]
    stamp = now().replace("-", "").replace(":", "")
    for card in _cards(outing, day.sky(outing)):
        starts, ends = (_utc(outing, m) for m in (card.row.shoot.starts, card.row.shoot.ends))
        title = f"{card.row.shoot.title}, {card.label}" if card.label else card.row.shoot.title
        told = "\n".join([card.needs.printed, *card.warnings])
        lines += [
            "BEGIN:VEVENT",
            f"UID:outing-{outing.id}-{card.row.id}@zesty-plum.example",
            f"DTSTAMP:{stamp}",
            f"DTSTART:{starts}",
            f"DTEND:{ends}",
            f"SUMMARY:{_escaped(title)}",
            f"DESCRIPTION:{_escaped(told)}",
            *([f"LOCATION:{_escaped(outing.said.place)}"] if outing.said.place else []),
            "END:VEVENT",
        ]
    lines.append("END:VCALENDAR")
    text = "\r\n".join(part for line in lines for part in _folded(line)) + "\r\n"
    return attached(f"{stem(outing.name)}.ics", text, "text/calendar")


def _utc(outing: Outing, minutes: int) -> str:
    local = datetime.combine(outing.on, time(), outing.place.clock) + timedelta(minutes=minutes)
    return local.astimezone(UTC).strftime("%Y%m%dT%H%M%SZ")


def _escaped(text: str) -> str:
    made = text.replace("\\", "\\\\").replace(";", "\\;").replace(",", "\\,")
    return made.replace("\n", "\\n")


def _folded(line: str) -> list[str]:
    """Lines of at most 75 octets, as the format asks for."""
    out, part = [], ""
    for letter in line:
        if len((part + letter).encode()) > 73:
            out.append(part)
            part = " "
        part += letter
    return [*out, part]


ROOM = Room("Outing", (blueprint,), "outing.page", 5)

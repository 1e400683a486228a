"""A day in the pocket: a page that works on a phone without network, paper to fold, and a calendar
file."""

import re
from datetime import UTC
from typing import Any

from flask import Blueprint, Response, request

from ...core.exchange import stem
from ...core.kit.presses import calling
from ...core.outing.daylight import moment, told
from ...core.outing.leaving import before
from ...core.paper import pocket as paper
from ...store import outings
from ...store.outings import Outing
from ..frame.context import db, now
from ..frame.values import choice
from ..papers import inside, picture_of, sent
from ..server.work import long_work
from ..ways.take import attached
from . import day
from .kept import Kept
from .sky import sky

blueprint = Blueprint("pocket", __name__, template_folder="templates", url_prefix="/outing")
WIDE, SMALL = 480, 320  # pixels across of a picture in a page, and on paper


def _asked(outing_id: int) -> tuple[Outing, Kept, list[day.Card]]:
    outing, kept = outings.get(db(), outing_id), Kept()
    who = request.args.get("who", "")
    shown = [c for c in day.cards(outing, kept) if not who or c.row.shoot.who in ("", who)]
    return outing, kept, shown


def _name(outing: Outing) -> str:
    who = request.args.get("who", "")
    return f"{outing.name}, {who}" if who else outing.name


def presses_of(shown: list[day.Card]) -> dict[int, tuple[str, str, int]]:
    """What to press before each shoot whose camera stands at another slot: words, buttons and their
    number, by the shoot's id."""
    at: dict[int, str] = {}
    out = {}
    for card in sorted(shown, key=lambda c: c.row.shoot.starts):
        if card.case is None or card.put is None:
            continue
        if at.get(card.case.id) != card.put.key:
            step = calling(card.case.camera, card.put.key)
            out[card.row.id] = step.words, step.path, step.count
        at[card.case.id] = card.put.key
    return out


@blueprint.get("/<int:outing_id>/pocket.html")
def page(outing_id: int) -> Response:
    """The day as a page that works on a phone without network; of one person, if `who`."""
    outing, kept, shown = _asked(outing_id)
    with long_work("Making the page", len(shown) + 1) as work:
        lines: list[dict[str, Any]] = []
        for card in work.steps(shown):
            made = picture_of(card.recipe, card.scene, WIDE) if card.recipe else None
            shoot = card.row.shoot
            begins, ends = (
                moment(outing.said, m).astimezone(UTC) for m in (shoot.starts, shoot.ends)
            )
            lines.append(
                {
                    "card": card,
                    "picture": inside(made) if made is not None else "",
                    "begins": int(begins.timestamp()),
                    "ends": int(ends.timestamp()),
                }
            )
    return sent(
        _name(outing),
        "pocket.html",
        outing=outing,
        who=request.args.get("who", ""),
        lines=lines,
        sky=sky(outing, now()),
        presses=presses_of(shown),
        leaving=before(day.jobs(shown, kept), outing.said.filters),
    )


@blueprint.get("/<int:outing_id>/pocket.pdf")
def sheet(outing_id: int) -> Response:
    """The day on paper: A4, or a sheet that folds to A6; of one person, if `who`."""
    outing, kept, shown = _asked(outing_id)
    kind = choice("kind", request.args.get("kind", "fold"), paper.KINDS)
    presses = presses_of(shown)
    with long_work("Making the sheet", len(shown) + 1) as work:
        lines = []
        for card in work.steps(shown):
            made = picture_of(card.recipe, card.scene, SMALL) if card.recipe else None
            lines.append(
                paper.Line(
                    card.hours,
                    card.row.shoot.title,
                    card.label,
                    card.needs.printed,
                    _below(card, presses),
                    made,
                )
            )
    place = f"{outing.said.place}, " if outing.said.place else ""
    head = f"{place}{outing.on.day} {outing.on:%B %Y}. {told(outing.said)}"
    made_ = paper.sheet(
        _name(outing), head, lines, before(day.jobs(shown, kept), outing.said.filters), kind
    )
    return attached(f"{stem(_name(outing))}.pdf", made_, "application/pdf")


def _below(card: day.Card, presses: dict[int, tuple[str, str, int]]) -> list[str]:
    """What stands below a shoot's line: warnings, presses, what must not be missed."""
    out = [*card.warnings]
    if card.row.id in presses:
        words, path, _ = presses[card.row.id]
        out.insert(0, f"{words}: {path}.")
    if card.row.shoot.must:
        out.append(f"Not to miss: {card.row.shoot.must}")
    return out


# ---- calendar ------------------------------------------------------------------------------------
@blueprint.get("/<int:outing_id>/plan.ics")
def calendar(outing_id: int) -> Response:
    """The shoots as a calendar file (RFC 5545), slot and exposure in each; of one person, if
    `who`."""
    outing, _, shown = _asked(outing_id)
    presses = presses_of(shown)
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Zesty Plum//Outing//EN"]
    stamp = re.sub(r"[-:]", "", now())
    for card in shown:
        shoot = card.row.shoot
        starts, ends = (_utc(outing, m) for m in (shoot.starts, shoot.ends))
        title = f"{shoot.title}, {card.label}" if card.label else shoot.title
        told = "\n".join([card.needs.printed, *_below(card, presses)])
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
    return attached(f"{stem(_name(outing))}.ics", text, "text/calendar")


def _utc(outing: Outing, minutes: int) -> str:
    return moment(outing.said, minutes).astimezone(UTC).strftime("%Y%m%dT%H%M%SZ")


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

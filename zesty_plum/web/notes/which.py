"""Which settings made this picture? What the file itself says; else what stood in the slots then;
else what it looks like. Several at once make a table."""

import math
import re
import secrets
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from flask import Blueprint, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core import bodies
from ...core.base.arrays import Array
from ...core.base.cache import BoundedCache
from ...core.base.errors import NotFound, PlumError
from ...core.develop.appearance import appearance, colour_distance
from ...core.notes import which as asking
from ...core.outing.day import USUAL
from ...core.pictures import metadata
from ...core.pictures.apart import apart
from ...core.pictures.read import read
from ...core.recipe import MOST_NAME, Recipe, make
from ...core.reckon.sun import Place
from ...core.translate.nearest import nearest
from ...store import cases, outings, readings, shelf, slips
from ..frame.context import db, went
from ..render import address
from ..server.turns import Rank
from ..server.work import long_work

blueprint = Blueprint("which", __name__, template_folder="templates", url_prefix="/notes")
MOST_FILES, MOST_NEAR, MOST_SLIPS, MOST_TABLES = 30, 3, 200, 40
NO_COLOUR = 1.5  # of 255, that channels differ by in 95 of 100 pixels of a picture without colour
TOLD_ZONE = re.compile(r"([+-])(\d\d):(\d\d)")
NEAR, FAR = 3.0, 8.0  # CIEDE2000 on patches of a slip from what a picture asks for


@dataclass(frozen=True)
class Row:
    """A picture in the table: what is said, by what it is known, recipes with a line on each, and
    what is told beside."""

    name: str
    how: str
    words: str
    recipes: tuple[tuple[Recipe, str], ...] = ()
    beside: str = ""


@dataclass(frozen=True)
class Table:
    """What was found of the pictures that were looked at, with clocks on a zone."""

    rows: tuple[Row, ...] = ()
    zone: str = ""


_tables: BoundedCache[Table] = BoundedCache(MOST_TABLES)


@blueprint.get("/which")
@blueprint.get("/which/<token>")
def page(token: str = "") -> str:
    """Drop pictures and see; or what was found of some lately."""
    table = _tables.get(token) if token else Table()
    if table is None:
        raise NotFound("What was found is no longer here. Look at the pictures again.")
    zone = table.zone or _zone()
    return render_template(
        "which.html", rows=table.rows, zone=zone, zones=_zones(), look=address.look_query
    )


@blueprint.post("/which")
def look() -> ResponseReturnValue:
    """What made each of the pictures; none of them is kept."""
    given = [f for f in request.files.getlist("file") if f.filename]
    if not given:
        raise PlumError("No file was chosen. Choose pictures.")
    if len(given) > MOST_FILES:
        raise PlumError(f"{MOST_FILES} pictures at a time. Choose fewer.")
    zone = Place(0, 0, request.form.get("zone", "")[:60] or _zone()).clock
    by_look = request.form.get("look") == "1"
    histories = _histories()
    with long_work("Looking at the pictures", len(given), rank=Rank.LARGE) as work:
        rows = tuple(
            _row(f.read(), str(f.filename), zone, histories, by_look) for f in work.steps(given)
        )
    token = secrets.token_hex(8)
    _tables.put(token, Table(rows, str(zone)))
    return went(url_for("which.page", token=token))


def _zone() -> str:
    """The zone of the newest day that is planned, or the one that a new day begins with."""
    days = outings.listed(db())
    return days[0].said.zone if days else USUAL.zone


def _zones() -> list[str]:
    return sorted({o.said.zone for o in outings.listed(db())} | {_zone(), "UTC"})


def _histories() -> list[asking.History]:
    out = []
    for case in cases.listed(db()):
        every = readings.listed_of(db(), case, 400)
        read_ = [
            asking.Read(_seconds(r.read_at), {k: h.dials for k, h in r.state.slots.items()})
            for r in every
        ]
        out.append(asking.History(case.id, case.camera, read_, case.letter))
    return out


def _seconds(moment: str) -> float:
    return datetime.strptime(f"{moment}+0000", "%Y-%m-%dT%H:%M:%SZ%z").timestamp()


def _row(
    data: bytes, name: str, zone: ZoneInfo, histories: list[asking.History], by_look: bool
) -> Row:
    with suppress(PlumError):
        own = metadata.find(data)
        if own is not None:
            return Row(name, "its own data", f"The file says it: {own.name}.", ((own, ""),))
    told = apart.shot_by(data)
    row = _by_time(name, told, data, zone, histories)
    if row.how not in (asking.KNOWN, asking.LIKELY) and by_look:
        return _by_look(row, data, name)
    return row


# ---- by time -------------------------------------------------------------------------------------
def _by_time(
    name: str, told: dict[str, str], data: bytes, zone: ZoneInfo, histories: list[asking.History]
) -> Row:
    when = _when(told, zone)
    if when is None:
        return Row(name, asking.CANNOT, "The file does not say when it was taken.")
    if not histories:
        return Row(
            name, asking.CANNOT, "No camera is in your kit, so nobody knows what stood then."
        )
    ahead = {c.id: c.ahead for c in cases.listed(db())}
    mine = [h for h in histories if h in asking.named(histories, name)]
    offs = {ahead.get(h.case, 0) for h in mine}
    if len(offs) > 1:
        return Row(
            name, asking.CANNOT, "The clocks of your cameras differ, and its name tells no camera."
        )
    evidence = asking.Evidence(
        when.timestamp() - next(iter(offs)), name.lower().endswith((".mp4", ".mov")),
        _number(told, "iso"), _number(told, "aperture"), _number(told, "seconds"),
        _number(told, "bias"), {"1": True, "0": False}.get(told.get("balance", "")),
        _mono(data),
    )  # fmt: skip
    found = asking.which(histories, evidence, name)
    at = f"Taken {when:%Y-%m-%d %H:%M}"
    listed = tuple((_as_recipe(h), _label(h)) for h in found.held if h.content is not None)
    labels = " or ".join(dict.fromkeys(_label(h) for h in found.held))
    if found.how == asking.KNOWN:
        words = f"{at} with {labels}, found the same before and after. By hand, anything could "
        return Row(name, found.how, words + "have been turned besides.", listed)
    if found.how == asking.LIKELY:
        words = f"{at}; {labels} held this when it was last read, and it was not read since."
        return Row(name, found.how, words, listed)
    if found.how == asking.NOTHING:
        return Row(name, found.how, f"{at}, but no slot of that time comes to what the file says.")
    if not found.held:
        return Row(name, found.how, f"{at}, before anybody read the camera.")
    open_ = any(h.content is None for h in found.held)
    words = f"{at}. It can have been {labels}"
    words += ", some of which were changed between two readings." if open_ else "."
    return Row(name, found.how, words, listed)


def _when(told: dict[str, str], zone: ZoneInfo) -> datetime | None:
    try:
        local = datetime.strptime(told.get("time", ""), "%Y:%m:%d %H:%M:%S")
    except ValueError:
        return None
    offset = TOLD_ZONE.fullmatch(told.get("offset", ""))
    if offset:
        hours, minutes = int(offset[2]), int(offset[3])
        away = timedelta(hours=hours, minutes=minutes) * (-1 if offset[1] == "-" else 1)
        return (local - away).replace(tzinfo=UTC).astimezone(zone)
    return local.replace(tzinfo=zone)


def _number(told: dict[str, str], key: str) -> float | None:
    try:
        value = float(told[key])
    except (KeyError, ValueError):
        return None
    if not math.isfinite(value):
        return None
    return value if key == "bias" or value > 0 else None


def _mono(data: bytes) -> bool | None:
    """Whether a finished picture has no colour; None where it is no finished picture."""
    try:
        scene = read(data, "x", "own-which", 256)
    except PlumError:
        return None
    if not scene.finished:
        return None
    pixels = scene.at_width(128)
    return bool(_colourful(pixels) < NO_COLOUR)


def _colourful(pixels: Array) -> float:
    spread = 255 * (np.max(pixels, -1) - np.min(pixels, -1))
    return float(np.percentile(spread, 95))


def _as_recipe(held: asking.Held) -> Recipe:
    """What stood in a slot as a recipe, under the name of the slip and version that it is."""
    case = cases.get(db(), held.case)
    content = dict(held.content or {})
    made = make("Of no slip", case.body, {**case.camera.shipped, **content})
    ids = {d.id for d in case.camera.held}
    for slip in slips.some(db(), [k for k, _ in shelf.names(db(), most=MOST_SLIPS)]):
        if slip.recipe.body != case.body:
            continue
        for version in slips.history(db(), slip.id):
            if all(version.recipe.dials[k] == made.dials[k] for k in ids):
                name = f"{slip.name}, version {version.version}"
                return replace(version.recipe, name=name[:MOST_NAME])
    return made


def _label(held: asking.Held) -> str:
    case = cases.get(db(), held.case)
    return f"{case.short} {held.key}"


# ---- by look -------------------------------------------------------------------------------------
def _by_look(row: Row, data: bytes, name: str) -> Row:
    """The slips that come nearest to what its look asks for, and how sure that is."""
    try:
        picture = read(data, name, "own-which")
        every = slips.some(db(), [k for k, _ in shelf.names(db(), most=MOST_SLIPS)])
        camera = every[0].recipe.camera if every else bodies.body(bodies.FIRST)
        answer = nearest([picture], camera)
    except PlumError as error:
        return Row(row.name, row.how, f"{row.words} {error}", row.recipes)
    wanted = answer.found[0].recipe
    there = appearance(wanted.look, camera.sensor)
    far = sorted(
        ((colour_distance(there, appearance(s.recipe.look, s.recipe.camera.sensor))[0], s)
         for s in every), key=lambda pair: pair[0])[:MOST_NEAR]  # fmt: skip
    near = tuple((s.recipe, f"CIEDE2000 {d:.1f} on patches") for d, s in far)
    exact = answer.by.startswith("place by place")
    sure = "closely, for it shows one of our scenes" if exact else "only as a direction"
    if not far or far[0][0] > FAR:
        words = f"{row.words} By its look no slip comes near."
    else:
        side = "comes near" if far[0][0] <= NEAR else "is the nearest, and not near"
        words = f"{row.words} By its look {far[0][1].name} {side}: {sure}."
    return Row(row.name, "by its look", words, near or ((wanted, ""),), beside=answer.by)

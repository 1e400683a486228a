"""Outing: a day planned before it happens, with its light, its shoots and what each needs."""

import re
from dataclasses import replace
from typing import Any

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.wrappers import Response

from ...core.base.errors import PlumError
from ...core.base.nominal import ISOS
from ...core.base.text import shortened
from ...core.bodies import Body
from ...core.develop.pipeline import develop
from ...core.exchange import lut, stem
from ...core.fields.declared import declared, from_form, to_form
from ...core.notes.said import LINE
from ...core.outing import leaving
from ...core.outing.day import Day, completed
from ...core.outing.daylight import band
from ...core.outing.needs import at_iso
from ...core.outing.places import PLACES, Named
from ...core.outing.shoot import Shoot
from ...core.outing.sunlight import BEARINGS
from ...core.pictures.write import preview
from ...core.recipe import Recipe, make
from ...store import cases, notes, outings, plans
from ...store.database import transaction
from ...store.notes import Trial
from ...store.outings import Row
from ..frame.context import db, now, number, sent_file, tell, went
from ..frame.drawn import drawn_from
from ..frame.screens import Room
from ..frame.values import identity
from ..render import address
from ..render.asked import asked
from ..render.rendering import answer
from ..server.turns import Rank, turn
from ..server.work import long_work
from ..ways.take import attached
from . import day, pocket
from .kept import Kept
from .sky import HIGH, HORIZON, WIDE, sky

blueprint = Blueprint("outing", __name__, template_folder="templates", url_prefix="/outing")
MOVES = ("-30", "-10", "10", "30")
CLOSE = 280  # pixels across of a part at 100 percent


@blueprint.get("/")
def page() -> ResponseReturnValue:
    """The next day that is planned; or how to begin."""
    every = outings.listed(db())
    if not every:
        return days()
    coming = [o for o in every if o.on.isoformat() >= now()[:10]]
    return redirect(url_for("outing.one", outing_id=(coming[-1:] or every)[0].id))


@blueprint.get("/days")
def days() -> str:
    """All days."""
    return render_template("outings.html", every=outings.listed(db()), **_choices())


def _choices() -> dict[str, Any]:
    """What the form of a day offers."""
    known = {p.name: p for p in PLACES}
    for outing in outings.listed(db()):
        told = outing.said
        if told.place and told.place not in known:
            where = told.latitude, told.longitude, told.zone, told.mains
            known[told.place] = Named(told.place, *where)
    return {
        "day": {f.form: f for f in declared(Day)},
        "filled": to_form,
        "places": known.values(),
        "mine": cases.listed(db()),
    }


def _offered() -> dict[str, Any]:
    """What the form of a shoot offers."""
    return {
        "fields": {f.form: f for f in declared(Shoot)},
        "slots": _slots(),
        "bearings": {name: name for name in BEARINGS},
        "scenes": address.scene_row(),
        "filled": lambda shoot: to_form(shoot) if shoot else {},
    }


@blueprint.get("/<int:outing_id>")
def one(outing_id: int) -> str:
    """A day: its light, its shoots, cards and what to do before leaving; `shoot` is in hand."""
    outing, kept = outings.get(db(), outing_id), Kept()
    shown = day.cards(outing, kept)
    jobs, bag = day.jobs(shown, kept), outing.said.filters
    clashes = leaving.clashes(jobs, bag, lambda minute: band(outing.said, minute))
    in_hand = next((c for c in shown if str(c.row.id) == request.args.get("shoot")), None)
    in_clash = {k for c in clashes for k in c.shoots}
    card = in_hand or next(iter(shown), None)
    return render_template(
        "outing.html",
        outing=outing,
        sky=sky(outing, now()),
        cards=shown,
        card=card,
        chosen=in_hand is not None,
        adding="add" in request.args,
        uses=leaving.uses(jobs),
        clashes=clashes,
        in_clash=in_clash,
        lasting=leaving.lasting(jobs, outing.said.celsius),
        leaving=leaving.before(jobs, bag),
        queries={c.row.id: address.look_query(c.recipe) if c.recipe else "" for c in shown},
        fits={c.row.id: _fits(day.fits(outing, c.row, wait=False)) for c in shown if not c.put},
        presses=pocket.presses_of(shown),
        people=sorted({c.row.shoot.who for c in shown if c.row.shoot.who}),
        close=_close(card) if card else [],
        lut=_lut(card) if card else "",
        given=_offered(),
        moves=MOVES,
        size=(WIDE, HIGH, HORIZON),
        **_choices(),
    )


def _close(card: day.Card) -> list[tuple[str, str]]:
    """Parts at 100 percent of what a shoot's ISO looks like, and the ISO that the next rule would
    have let it have: words and address."""
    isos = [card.needs.exposure.iso, *([card.needs.calmer] if card.needs.calmer else [])]
    recipe = card.recipe or make("x", card.gear.body.id, {})
    look = address.look_query(recipe)
    at = url_for("outing.noise", scene_id=card.scene)
    return [(f"ISO {n:g}", f"{at}?{look}&iso={n:g}")
            for n in (min(ISOS, key=lambda v: abs(v / iso - 1)) for iso in isos)]  # fmt: skip


@blueprint.get("/noise/<scene_id>.jpg")
def noise(scene_id: str) -> Response:
    """A part of a scene at 100 percent, through a recipe held at an ISO."""
    ask, iso = asked(scene_id), number("iso", 1600, 25, 102_400)
    sensor = ask.recipe.camera.sensor
    with turn(Rank.SMALL):
        scene, look = at_iso(ask.scene, ask.recipe.look, sensor, iso)
        made = develop(scene, look, sensor, CLOSE, ask.seed, True)
    return answer(f"{ask.key}i{iso}", preview(made.pixels), "image/jpeg").make_conditional(request)


def _lut(card: day.Card) -> str:
    """The address of a LUT that puts right what a shoot was rated at, onto Plain; empty where
    nothing is to be put right."""
    third = min(lut.OFFSETS, key=lambda o: abs(float(o) - card.needs.offset))
    if float(third) == 0:
        return ""
    style = card.gear.look.style
    source = style if style in lut.INPUTS else "srgb"
    recipe = _plain(card.gear.body, f"{card.row.shoot.title}, put right")
    asked_ = address.look_query(recipe, name=recipe.name, input=source, offset=third)
    return f"{url_for('take.lut_file', kind='cube')}?{asked_}"


def _plain(body: Body, name: str) -> Recipe:
    """A recipe of the style Plain, with every dial as it changes nothing."""
    dial = body.style_dial
    plain = next((c for c in dial.choices if c.style == "plain"), None) if dial else None
    return make(name, body.id, {dial.id: plain.value} if dial and plain else {})


def _fits(found: day.Fits | None) -> dict[str, str] | None:
    if found is None:
        return None
    at = f"{found.choice.case}:{found.choice.key}" if found.choice else ""
    name = found.choice.recipe.name if found.choice else ""
    return {"words": found.words, "at": at, "name": name}


@blueprint.get("/<int:outing_id>/shoots/<int:shoot_id>/fits.json")
def fits(outing_id: int, shoot_id: int) -> Response:
    """The slot that fits a shoot, worked out by rendering and judging what stands in the slots."""
    outing = outings.get(db(), outing_id)
    with long_work("Looking for a slot that fits"):
        found = day.fits(outing, outings.shoot(outing, shoot_id), wait=True)
    return jsonify(_fits(found))


def _slots() -> list[tuple[str, str]]:
    """Cameras and their slots to choose from: 3, or 3:2."""
    out = []
    for case in cases.listed(db()):
        name = case.short
        out.append((str(case.id), f"{case.called}, no slot"))
        out += [
            (f"{case.id}:{put.key}", f"{name} {put.key}, {put.recipe.name}")
            for put in plans.slots_of(db(), case.id).values()
        ]
    return out


# ---- days ----------------------------------------------------------------------------------------
@blueprint.post("/days")
def add() -> ResponseReturnValue:
    """A day more."""
    made = outings.add(db(), _sent_day(), now())
    tell(f"{made.name} is planned.", f"undo:{url_for('outing.delete', outing_id=made.id)}")
    return redirect(url_for("outing.one", outing_id=made.id))


@blueprint.post("/<int:outing_id>")
def change(outing_id: int) -> ResponseReturnValue:
    """A day written anew; another date brings another light."""
    with transaction(db()):
        said = outings.get(db(), outing_id).said
        drawn_from(said, "This day", said)
        made = outings.change(db(), outing_id, _sent_day())
    tell(f"{made.name} is kept.", "done")
    return redirect(url_for("outing.one", outing_id=outing_id))


def _sent_day() -> Day:
    told = [identity(text) for text in request.form.getlist("cases")]
    cases = tuple(n for n in told if n is not None)
    return from_form(Day, completed(request.form), cases=cases)


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


@blueprint.post("/<int:outing_id>/notes")
def draft_notes(outing_id: int) -> ResponseReturnValue:
    """Afterwards: a draft of a note for each shoot that had a slot, with what was planned and what
    was found in it."""
    outing, kept = outings.get(db(), outing_id), Kept()
    made = []
    for card in day.cards(outing, kept):
        if card.put is None or card.case is None:
            continue
        last = kept.of(card.case).last
        there = last.state.slots.get(card.put.key) if last else None
        planned = card.put.recipe
        found = replace(planned, dials={**planned.dials, **there.dials}) if there else planned
        made.append(
            Trial(
                id=0,
                made_at=now(),
                before=planned,
                after=found,
                slip=card.put.slip,
                version=card.put.version,
                scene=card.scene,
                place=shortened(
                    f"{outing.name}, {card.hours}, {card.label}, {card.needs.printed}", LINE.most
                ),
                case=card.case.id,
                asked=card.row.shoot.title,
            )
        )
    if not made:
        raise PlumError("No shoot of this day has a slot, so there is nothing to note.")
    notes.add(db(), made)
    many = "One draft is" if len(made) == 1 else f"{len(made)} drafts are"
    tell(f"{many} among your notes: write what you saw.", "done")
    return redirect(url_for("notes.page"))


@blueprint.get("/<int:outing_id>/day.outing.json")
def export(outing_id: int) -> Response:
    """A day as a file."""
    outing = outings.get(db(), outing_id)
    name = f"{stem(outing.name)}.outing.json"
    from ...store import outing_file

    return attached(name, outing_file.dumps(outing), "application/json")


@blueprint.post("/bring")
def bring() -> ResponseReturnValue:
    """Take a day's file in."""
    given = sent_file("Choose a day's file, .outing.json.")
    from ...store import outing_file

    made = outing_file.take_in(db(), given.read(), now())
    tell(f"{made.name} came in.", f"undo:{url_for('outing.delete', outing_id=made.id)}")
    return redirect(url_for("outing.one", outing_id=made.id))


# ---- shoots --------------------------------------------------------------------------------------
@blueprint.post("/<int:outing_id>/shoots")
def put_shoot(outing_id: int) -> ResponseReturnValue:
    """A shoot more, or one written anew."""
    row = _sent_row()
    with transaction(db()):
        if row.id:
            now_ = outings.shoot(outings.get(db(), outing_id), row.id)
            drawn_from(now_, "This shoot", now_.shoot)
        made = outings.put_shoot(db(), outing_id, row)
    tell(f"{row.shoot.title} is planned.", "done")
    return redirect(url_for("outing.one", outing_id=outing_id, shoot=made))


def _sent_row() -> Row:
    case, _, slot = request.form.get("at", "").partition(":")
    return Row(
        identity(request.form.get("shoot", "")) or 0,
        from_form(Shoot, request.form),
        identity(case),
        slot[:8],
        request.form.get("scene", "")[:40],
    )


@blueprint.post("/<int:outing_id>/shoots/try")
def try_shoot(outing_id: int) -> Response:
    """What a shoot would need as the form stands, and how far its slot is from the one that is
    kept, on patches; nothing is kept."""
    outing, kept = outings.get(db(), outing_id), Kept()
    row = _sent_row()
    made = day.card(outing, row, kept)
    before = next((r for r in outing.rows if r.id == row.id), None)
    was = day.card(outing, before, kept).recipe if before else None
    apart = ""
    if was is not None and made.recipe is not None and was.key != made.recipe.key:
        far = day.apart_on_patches(was, made.recipe)
        apart = f"{made.recipe.name} beside {was.name}: CIEDE2000 {far:.1f} on patches."
    rows = [*made.needs.rows, *([("Sun", made.sun)] if made.sun else [])]
    return jsonify(printed=made.needs.printed, rows=rows, warnings=made.warnings, apart=apart)


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/use")
def use(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Take the slot that was suggested."""
    case, _, slot = request.form.get("at", "").partition(":")
    with transaction(db()):
        row = outings.shoot(outings.get(db(), outing_id), shoot_id)
        drawn_from(row, "This shoot")
        outings.put_shoot(db(), outing_id, Row(row.id, row.shoot, identity(case), slot, row.scene))
    return redirect(url_for("outing.one", outing_id=outing_id, shoot=shoot_id))


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/move")
def move(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Earlier or later by some minutes."""
    by = request.form.get("by", "").replace("\u2212", "-")
    if not re.fullmatch(r"-?\d{1,4}", by):
        raise PlumError("A shoot is moved by minutes, as 30 or -30.")
    with transaction(db()):
        row = outings.shoot(outings.get(db(), outing_id), shoot_id)
        outings.put_shoot(db(), outing_id, outings.moved(row, int(by)))
    return went(url_for("outing.one", outing_id=outing_id, shoot=shoot_id))


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/remove")
def remove_shoot(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Take a shoot off the day."""
    with transaction(db()):
        title = outings.shoot(outings.get(db(), outing_id), shoot_id).shoot.title
        outings.remove_shoot(db(), outing_id, shoot_id, now())
    to = url_for("outing.shoot_back", outing_id=outing_id, shoot_id=shoot_id)
    tell(f"{title} was taken off.", f"undo:{to}")
    return redirect(url_for("outing.one", outing_id=outing_id))


@blueprint.post("/<int:outing_id>/shoots/<int:shoot_id>/back")
def shoot_back(outing_id: int, shoot_id: int) -> ResponseReturnValue:
    """Undo."""
    outings.remove_shoot(db(), outing_id, shoot_id, None)
    return redirect(url_for("outing.one", outing_id=outing_id, shoot=shoot_id))


ROOM = Room("Outing", (blueprint, pocket.blueprint), "outing.page", 5)

"""The cameras that a person has: what should stand in their slots and beside the look, what was
read, and what differs."""

from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core import bodies as core
from ...core.base.arrays import Bytes8
from ...core.base.errors import PlumError
from ...core.develop.pipeline import develop
from ...core.exchange import stem
from ...core.fields.declared import declared, from_form, to_form
from ...core.kit import card, sets
from ...core.kit.case import About
from ...core.kit.state import State, bank_of, shipped, slot_of
from ...core.kit.typed import typed
from ...core.paper import case_card
from ...core.pictures.write import preview
from ...core.recipe import make
from ...store import cases, plans, readings, slips
from ...store.cases import Case
from ...store.database import transaction
from ...store.plans import Put
from ..frame.context import db, now, sent_file, tell, went
from ..frame.drawn import FIELD, drawn_from
from ..frame.values import identity
from ..papers import sent_case
from ..render import address
from ..server.turns import Rank
from ..server.work import long_work
from ..ways.take import attached
from . import standing as seen

blueprint = Blueprint("cases", __name__, template_folder="templates", url_prefix="/kit")
FORM = {"about": declared(About), "filled": to_form}
PRINT_WIDTH, CARD_QUALITY = 480, 93
MOST_HISTORY = 8  # readings that are shown
MOST_CARD = 40  # files that are looked through for a settings card


@blueprint.get("/")
def page() -> ResponseReturnValue:
    """The first camera; or how to begin."""
    every = cases.listed(db())
    if every:
        return redirect(url_for("cases.one", case_id=every[0].id))
    retired = cases.listed(db(), retired=True)
    return render_template(
        "kit.html", bodies=core.bodies().values(), retired=retired, case=None, **FORM
    )


@blueprint.get("/cases/<int:case_id>")
def one(case_id: int) -> str:
    """A camera: its slots with what should be and what is in them; `slot` is the one in hand."""
    case = cases.get(db(), case_id)
    at = seen.standing(case)
    in_hand = next((p for p in at.places if p.key == request.args.get("slot")), None)
    free = seen.homeless(case)
    return render_template(
        "kit.html",
        case=case,
        at=at,
        place=in_hand,
        steps=[s for s in at.steps if in_hand and s.slot in (in_hand.key, "")],
        others=[(c, seen.line(c, now())) for c in cases.listed(db())],
        retired=cases.listed(db(), retired=True),
        homeless=free,
        choices=_choices(case, in_hand),
        alike=seen.alike(at),
        idle=seen.idle(at, now()),
        escape=seen.escape(case, State(beside=plans.beside_of(db(), case))),
        beside=_beside(case),
        drawn_plan=plans.whole(db(), case),
        wrong={s.id: s for s in at.settings},
        sets=sets.sets().values(),
        wanted=_set_asked(case),
        scenes=address.scene_row(),
        bodies=core.bodies().values(),
        queries=_queries(in_hand),
        lost=plans.lost(db(), case_id),
        stands_in=case.body in core.shipped(),
        history=readings.listed_of(db(), case, MOST_HISTORY),
        **FORM,
    )


def _choices(case: Case, place: seen.Place | None) -> list[slips.Slip]:
    """Slips that could stand in a slot."""
    if place is None:
        return []
    return [
        s
        for s in seen.of_body(case)
        if not place.bank or bank_of(case.camera, s.recipe.dials) == place.bank
    ]


def _queries(place: seen.Place | None) -> dict[str, str]:
    """What renders a slot as planned, and as it was found."""
    if place is None or place.put is None or place.found is None or place.found.there is None:
        return {}
    if not place.found.dials:
        return {}
    return {"slip": place.query, "body": address.look_query(place.found.there)}


def _beside(case: Case) -> list[tuple[str, list[Any]]]:
    """Settings beside the look by group: the dial and what is planned for it."""
    plan = plans.beside_of(db(), case)
    groups: dict[str, list[Any]] = {}
    for dial in case.camera.beside:
        groups.setdefault(dial.group, []).append((dial, plan.get(dial.id)))
    return list(groups.items())


def _set_asked(case: Case) -> tuple[sets.Set, list[tuple[str, str, str]]] | None:
    """The set that is looked at before it counts, and what it would change."""
    if "set" not in request.args:
        return None
    chosen = sets.named(request.args["set"])
    return chosen, sets.changes(case.camera, chosen, plans.beside_of(db(), case))


# ---- cameras -------------------------------------------------------------------------------------
@blueprint.post("/cases")
def add() -> ResponseReturnValue:
    """A camera more."""
    camera = core.body(request.form.get("body", core.FIRST))
    case = cases.add(db(), camera, from_form(About, request.form), now())
    tell(f"{case.called} is in your kit.", f"undo:{url_for('cases.retire', case_id=case.id)}")
    return redirect(url_for("cases.one", case_id=case.id))


@blueprint.post("/cases/<int:case_id>")
def change(case_id: int) -> ResponseReturnValue:
    """What is said of a camera."""
    with transaction(db()):
        here = cases.get(db(), case_id)
        drawn_from(here.about, here.called, here.about)
        case = cases.change(db(), case_id, from_form(About, request.form))
    tell(f"{case.called} is kept.", "done")
    return redirect(url_for("cases.one", case_id=case.id))


@blueprint.post("/cases/<int:case_id>/retire")
def retire(case_id: int) -> ResponseReturnValue:
    """Put a camera away."""
    case = cases.retire(db(), case_id, now())
    tell(f"{case.called} is put away.", f"undo:{url_for('cases.back', case_id=case_id)}")
    return redirect(url_for("cases.page"))


@blueprint.post("/cases/<int:case_id>/back")
def back(case_id: int) -> ResponseReturnValue:
    """Take it back."""
    case = cases.retire(db(), case_id, None)
    tell(f"{case.called} is back.", "done")
    return redirect(url_for("cases.one", case_id=case_id))


# ---- the plan ------------------------------------------------------------------------------------
@blueprint.post("/cases/<int:case_id>/slots/<key>")
def put(case_id: int, key: str) -> ResponseReturnValue:
    """Put a slip's newest version, or one of its versions, into a slot."""
    return _put_slip(case_id, key, request.values.get(FIELD, ""))


def _put_slip(case_id: int, key: str, drawn: str) -> ResponseReturnValue:
    slip_id = identity(request.form.get("slip", ""))
    if slip_id is None:
        raise PlumError("No slip was chosen. Choose one for this slot.")
    with transaction(db()):
        slip = slips.get(db(), slip_id, identity(request.form.get("version", "")))
        at = seen.labelled(cases.get(db(), case_id), key)
        before = plans.slots_of(db(), case_id).get(key)
        drawn_from(before, at, drawn=drawn)
        why = request.form.get("why", before.why if before else "")
        scene = request.form.get("scene") or (before.scene if before else "")
        made = Put(key, slip.id, slip.version, slip.recipe, why, scene, now(), None)
        undo = plans.put(db(), case_id, made)
    tell(f"'{slip.name}' stands in {at}.", f"undo:{url_for('cases.undo', change=undo)}")
    return went(_back_to(case_id, key))


@blueprint.post("/put")
def put_from_slip() -> ResponseReturnValue:
    """The same from a slip's own page: `at` is a camera, a slot and what it was drawn from, as
    3:c1:77aa0123456789ff."""
    case_id, key, drawn = ([*request.form.get("at", "").split(":"), "", ""])[:3]
    if identity(case_id) is None:
        raise PlumError("No slot was chosen. Choose one of your cameras' slots.")
    return _put_slip(identity(case_id) or 0, key, drawn)


@blueprint.post("/cases/<int:case_id>/slots/<key>/shelf")
def shelf(case_id: int, key: str) -> ResponseReturnValue:
    """Make a slot the one to go back to: as shipped."""
    with transaction(db()):
        case = cases.get(db(), case_id)
        slot_of(case.camera, key)
        drawn_from(plans.slots_of(db(), case_id).get(key), seen.labelled(case, key))
        recipe = make("On the shelf", case.body, dict(shipped(case.camera).slots[key].dials))
        made = Put(key, None, 0, recipe, "as shipped, the way back", "", now(), None)
        undo = plans.put(db(), case_id, made)
    words = f"{seen.labelled(case, key)} is the way back."
    tell(words, f"undo:{url_for('cases.undo', change=undo)}")
    return redirect(_back_to(case_id, key))


@blueprint.post("/cases/<int:case_id>/slots/<key>/clear")
def clear(case_id: int, key: str) -> ResponseReturnValue:
    """Plan nothing for a slot."""
    with transaction(db()):
        at = seen.labelled(cases.get(db(), case_id), key)
        drawn_from(plans.slots_of(db(), case_id).get(key), at)
        undo = plans.clear(db(), case_id, key, now())
    tell(f"Nothing is planned for {at}.", f"undo:{url_for('cases.undo', change=undo)}")
    return redirect(_back_to(case_id, key))


def _back_to(case_id: int, key: str = "") -> str:
    return url_for("cases.one", case_id=case_id, slot=key or None)


@blueprint.post("/cases/<int:case_id>/beside")
def set_beside(case_id: int) -> ResponseReturnValue:
    """Plan settings beside the look: those of a form, or of a set."""
    case = cases.get(db(), case_id)
    if "set" in request.form:
        chosen = sets.named(request.form["set"])
        values, words = chosen.of(case.camera), f"{chosen.label} is planned for {case.called}."
    else:
        values = {
            d.id: d.choice(request.form[d.id]).value
            for d in case.camera.beside
            if request.form.get(d.id)
        }
        words = f"What stands beside the look of {case.called} is kept."
    with transaction(db()):
        drawn_from(plans.beside_of(db(), case), f"What stands beside the look of {case.called}")
        undo = plans.set_beside(db(), case_id, values, now())
    tell(words, f"undo:{url_for('cases.undo', change=undo)}")
    return redirect(_back_to(case_id))


@blueprint.post("/undo/<int:change>")
def undo(change: int) -> ResponseReturnValue:
    """Put a plan back as it was before a change."""
    case_id, stay = plans.undo(db(), change)
    case = cases.get(db(), case_id)
    named = [
        case.camera.beside_by_id[k].label
        if k in case.camera.beside_by_id
        else seen.labelled(case, k)
        for k in stay
    ]
    if named:
        tell(f"{' and '.join(named)}: changed again since, so this stays as it is now.", "note")
    else:
        tell("It is as it was.", "done")
    return redirect(_back_to(case_id))


# ---- cards ---------------------------------------------------------------------------------------
@blueprint.get("/cases/<int:case_id>/plum-card.zip")
def write_card(case_id: int) -> Response:
    """A settings card that brings the camera to its plan."""
    case = cases.get(db(), case_id)
    packed = card.packed(case.camera, readings.whole_plan(db(), case), case.called, now())
    return attached(f"{stem(case.short)}-plum-card.zip", packed, "application/zip")


@blueprint.post("/read")
@blueprint.post("/cases/<int:case_id>/read")
def read(case_id: int | None = None) -> ResponseReturnValue:
    """Read a settings card, or what somebody typed, and say what differs."""
    text = request.form.get("typed", "")
    sent = [f for f in request.files.getlist("file") if f.filename][:MOST_CARD]
    with long_work("Reading the card", rank=Rank.FIGURES):
        if case_id is not None and text.strip():
            case = cases.get(db(), case_id)
            found, how = typed(case.camera, plans.plan_of(db(), case), text), readings.TYPED
        elif sent:
            made = card.read_files({str(f.filename): f.read() for f in sent})
            case = readings.whose(db(), made) if case_id is None else cases.get(db(), case_id)
            readings.of_its_body(case, made)
            found, how = made.state, readings.CARD
            if made.carried:
                tell(" ".join(made.carried), "note")
        else:
            raise PlumError("No card was chosen. Choose its folder, a zip of it, or card.json.")
        readings.keep(db(), case, found, how, now())
    at = seen.standing(case)
    tell(f"{case.called} was read. {at.sentence or 'Nothing differs from the plan.'}", "done")
    first = next((p.key for p in at.places if p.found and p.found.differs), "")
    return went(_back_to(case.id, first))


@blueprint.get("/cases/<int:case_id>/sheet")
def sheet(case_id: int) -> str:
    """The slots on a page, large enough to be taped to the camera."""
    case = cases.get(db(), case_id)
    puts = plans.slots_of(db(), case_id)
    turned = {key: _turned(case, made) for key, made in puts.items()}
    at = seen.standing(case, pictures=False)
    beside = _beside_told(case)
    return render_template("sheet.html", case=case, at=at, turned=turned, beside=beside)


@blueprint.get("/cases/<int:case_id>/card.jpg")
def card_of(case_id: int) -> Response:
    """The slots with a picture of each, as one picture."""
    case = cases.get(db(), case_id)
    puts = [(p.label, p.put) for p in seen.standing(case, pictures=False).places if p.put]
    if not puts:
        raise PlumError(f"Nothing is planned for {case.called}. Put slips into its slots first.")
    with long_work("Drawing the card", len(puts) + 1) as work:
        drawn = [
            case_card.Slot(
                label,
                put.recipe.name,
                put.why,
                ", ".join(f"{dial} {value}" for dial, value in _turned(case, put)) or "as shipped",
                _seen(put),
            )
            for label, put in work.steps(puts)
        ]
    about = ", ".join(t for t in (case.letter, case.camera.name, case.carried) if t)
    made = case_card.draw(case.called, about, drawn, now()[:10])
    return attached(f"{stem(case.called)}-slots.jpg", preview(made, CARD_QUALITY), "image/jpeg")


def _seen(put: Put) -> Bytes8:
    """What stands in a slot, on its scene, or on the first one where that is not there any more."""
    look, sensor = put.recipe.look, put.recipe.camera.sensor
    try:
        scene = address.scene_of(put.scene or address.FIRST_SCENE)
    except PlumError:
        scene = address.scene_of(address.FIRST_SCENE)
    return develop(scene, look, sensor, PRINT_WIDTH).pixels


@blueprint.get("/cases/<int:case_id>/page.html")
def page_to_send(case_id: int) -> Response:
    """The slots as a page to send."""
    case = cases.get(db(), case_id)
    lines = [
        {
            "label": seen.labelled(case, made.key),
            "recipe": made.recipe,
            "scene": made.scene or address.FIRST_SCENE,
            "why": made.why,
            "dials": _turned(case, made),
        }
        for made in plans.slots_of(db(), case_id).values()
    ]
    return sent_case(case.called, lines, _beside_told(case), case)


def _turned(case: Case, made: Put) -> list[tuple[str, str]]:
    """Dials of a slot that do not stand as shipped, as printed."""
    camera = case.camera
    turned = camera.changed(made.recipe.dials)
    return [(camera.dial(k).label, camera.dial(k).choice(v).label) for k, v in turned.items()]


def _beside_told(case: Case) -> list[tuple[str, str]]:
    plan = plans.beside_of(db(), case)
    return [(d.label, d.choice(plan[d.id]).label) for d in case.camera.beside if d.id in plan]


@blueprint.get("/kit.json")
def export() -> Response:
    """All cameras with their plans, as one open file."""
    from ...store import kit_file

    return attached("kit.json", kit_file.dumps(db(), now()), "application/json")


@blueprint.post("/kit.json")
def bring() -> ResponseReturnValue:
    """Take in the cameras of such a file, beside those that are here."""
    given = sent_file("Choose a kit.json.")
    from ...store import kit_file

    made = kit_file.take_in(db(), given.read(), now())
    names = ", ".join(case.called for case in made)
    tell(f"{names or 'No camera'} came in.", "done")
    return redirect(url_for("cases.page"))

"""Settling what differs, the presses that do it, and cameras that are borrowed."""

import math
from dataclasses import replace

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.wrappers import Response

from ...core import scenes
from ...core.base.errors import PlumError
from ...core.colour.difference import ciede2000
from ...core.kit.differ import as_recipe
from ...core.kit.presses import presses, total
from ...core.kit.state import slots
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from ...core.translate import scene_appearance, scene_colours, translate
from ...store import cases, plans, readings, slips
from ...store.cases import Case
from ...store.database import transaction
from ...store.plans import Put
from ..frame.context import db, now, tell, went
from ..frame.drawn import drawn_from
from ..frame.values import choice, identity
from ..render import address, measured
from ..server.work import long_work
from . import standing as seen

blueprint = Blueprint("settling", __name__, template_folder="templates", url_prefix="/kit")
MOST_READINGS, MOST_WORDS = 400, 4
WAYS = ("right", "keep", "leave", "newest")


@blueprint.post("/cases/<int:case_id>/settle/<key>")
def settle(case_id: int, key: str) -> ResponseReturnValue:
    """Settle a difference: put the body right, keep what is there as a new version of the slip,
    leave it so, or plan the slip's newest version."""
    how = choice("how", request.form.get("how", ""), WAYS)
    with transaction(db()):
        return _settled(cases.get(db(), case_id), key, how)


def _settled(case: Case, key: str, how: str) -> ResponseReturnValue:
    at = next((p for p in seen.standing(case).places if p.key == key), None)
    if at is None or at.put is None:
        raise PlumError("Nothing is planned for this slot. Put a slip into it first.")
    if how == "right":
        return redirect(url_for("settling.presses_page", case_id=case.id))
    there = at.found.there if at.found else None
    label = seen.labelled(case, key)
    drawn_from(at.put, label)
    if how == "newest" and at.put.slip is not None:
        made = slips.get(db(), at.put.slip)
        words = f"{label} is planned with version {made.version}."
        put = Put(key, made.id, made.version, made.recipe, at.put.why, at.put.scene, now(), None)
    elif there is None:
        raise PlumError("Nobody knows what is in this slot. Read the camera first.")
    elif how == "keep":
        if at.put.slip is None:
            raise PlumError("No slip is planned for this slot, so there is none to keep it in.")
        base = slips.get(db(), at.put.slip).recipe
        dials = {**base.dials, **{d.id: there.dials[d.id] for d in case.camera.held}}
        made = slips.save(db(), at.put.slip, replace(base, dials=dials), now())
        words = f"What {label} holds is version {made.version} of '{made.name}' now."
        put = Put(key, made.id, made.version, made.recipe, at.put.why, at.put.scene, now(), None)
    else:
        words = f"{label} is left as it is."
        held = {d.id: there.dials[d.id] for d in case.camera.held}
        old = at.put
        put = Put(key, old.slip, old.version, old.recipe, old.why, old.scene, old.put_at, held)
    undo = plans.put(db(), case.id, put)
    tell(words, f"undo:{url_for('cases.undo', change=undo)}")
    return redirect(url_for("cases.one", case_id=case.id, slot=key))


@blueprint.get("/cases/<int:case_id>/slots/<key>/words")
def words(case_id: int, key: str) -> Response:
    """In words, what a slot as it was found looks like beside its plan, on the scene where that
    shows most."""
    case = cases.get(db(), case_id)
    at = next((p for p in seen.standing(case).places if p.key == key), None)
    if at is None or at.put is None or at.found is None or at.found.there is None:
        return jsonify(words="")
    planned, there = at.put.recipe, at.found.there
    _, scene = _by_scene(planned, there)[0]
    found = measured.against(scene, planned, there)
    if not found.words:
        return jsonify(words=f"On {scene.title} nobody would see a difference.")
    return jsonify(words=f"On {scene.title}, the body is {', '.join(found.words)}.")


def _apart(scene: Scene, first: Recipe, second: Recipe) -> float:
    """Mean CIEDE2000 between two recipes on a scene's colours."""
    colours = scene_colours(scene)
    labs = [scene_appearance(r.look, r.camera.sensor, scene, colours) for r in (first, second)]
    return float(ciede2000(*labs).mean())


def _by_scene(first: Recipe, second: Recipe) -> list[tuple[float, Scene]]:
    """How far two recipes are apart on each scene that ships, most first."""
    rows = [(_apart(s, first, second), s) for s in map(scenes.load, scenes.index())]
    return sorted(rows, key=lambda row: -row[0])


@blueprint.get("/cases/<int:case_id>/presses")
def presses_page(case_id: int) -> str:
    """The presses that put a camera right, to tick off."""
    case = cases.get(db(), case_id)
    at = seen.standing(case, pictures=False)
    pages: list[tuple[str, list[tuple[int, object]]]] = []
    for number, step in enumerate(at.steps):
        if not pages or pages[-1][0] != step.page:
            pages.append((step.page, []))
        pages[-1][1].append((number, step))
    return render_template("presses.html", case=case, at=at, pages=pages, many=total(at.steps))


@blueprint.post("/cases/<int:case_id>/presses")
def ticked(case_id: int) -> ResponseReturnValue:
    """All was pressed: the camera stands as planned now."""
    with transaction(db()):
        case = cases.get(db(), case_id)
        steps = seen.standing(case, pictures=False).steps
        drawn_from(steps, f"What is to be pressed on {case.called}")
        plan, last = plans.plan_of(db(), case), readings.last(db(), case)
        done = [step.slot for step in steps if step.slot]
        if last and last.state.now is not None and done:  # what was saved last is what is set
            plan = replace(plan, now={**last.state.now, **plan.slots[done[-1]].dials})
        readings.keep(db(), case, plan, readings.CARRIED_OUT, now())
    tell(f"{case.called} stands as planned, as far as it was pressed.", "done")
    return redirect(url_for("cases.one", case_id=case_id))


# ---- borrowed ------------------------------------------------------------------------------------
@blueprint.post("/cases/<int:case_id>/borrowed")
def borrowed(case_id: int) -> ResponseReturnValue:
    """Bring a borrowed camera to the state of one's own: the same body as it is, another one by
    translation, slot by slot."""
    case = cases.get(db(), case_id)
    own = cases.get(db(), identity(request.form.get("like", "")) or 0)
    if own.id == case.id:
        raise PlumError("A camera cannot be brought to its own state. Choose another one.")
    slots_ = plans.slots_of(db(), own.id)
    with long_work("Moving the slots", len(slots_)) as work:
        moved = [_moved(case, put) for put in work.steps(slots_.values())]
        beside = {
            k: v
            for k, v in plans.beside_of(db(), own).items()
            if k in case.camera.beside_by_id and v in case.camera.beside_by_id[k].values
        }
        came = readings.last(db(), case)
        reading = case.came or (came.id if came else None)
        puts = [put for put, _ in moved if put is not None]
        with transaction(db()):
            drawn_from(plans.whole(db(), case), f"The plan of {case.called}")
            undo = plans.plan_anew(db(), case.id, puts, beside, now(), own.id, reading)
    for words in [words for _, words in moved if words][:MOST_WORDS]:
        tell(words, "note")
    back = url_for("cases.undo", change=undo)
    tell(
        f"{case.called} is planned like {own.called}. Give it back when you are done.",
        f"undo:{back}",
    )
    return went(url_for("cases.one", case_id=case_id))


def _moved(case: Case, put: Put) -> tuple[Put | None, str]:
    """A slot of another camera as it can be planned for this one, and what is lost."""
    label, recipe = f"{case.short} {put.key}", put.recipe
    if put.key not in {s.key for s in slots(case.camera)}:
        return None, f"'{recipe.name}' has no slot on {case.called}."
    if recipe.body == case.body:
        return replace(put, put_at=now(), left=None), ""
    found = translate(recipe, case.camera, scene=_shown_on(put))
    words = f"{label}, '{recipe.name}': {' '.join(found.words[:2])}"
    return Put(put.key, None, 0, found.recipe, put.why, put.scene, now(), None), words


def _shown_on(put: Put) -> Scene:
    """The scene that a slot is shown on: what its job looks like."""
    return address.scene_of(put.scene or address.FIRST_SCENE)


@blueprint.post("/cases/<int:case_id>/given-back")
def given_back(case_id: int) -> ResponseReturnValue:
    """Plan what stood in a borrowed camera when it was read first, so that it can be put back."""
    with transaction(db()):
        return _given_back(cases.get(db(), case_id))


def _given_back(case: Case) -> ResponseReturnValue:
    drawn_from(plans.whole(db(), case), f"The plan of {case.called}")
    every = readings.listed_of(db(), case, MOST_READINGS)
    first = next((r.state for r in every if r.id == case.came), None)
    if first is None:
        raise PlumError(f"{case.called} was not read before it was changed, so nobody knows how.")
    puts = [
        Put(key, None, 0, as_recipe(case.camera, held), "as it came", "", now(), None)
        for key, held in first.slots.items()
    ]
    plans.plan_anew(db(), case.id, puts, first.beside, now())
    many = total(presses(case.camera, every[0].state, plans.plan_of(db(), case)))
    tell(f"{case.called} is planned as it came: {many} presses, or a settings card.", "done")
    return redirect(url_for("settling.presses_page", case_id=case.id))


# ---- matching ------------------------------------------------------------------------------------
@blueprint.get("/match")
def match() -> str:
    """Two slots that should look alike: side by side, scene by scene, and what would come nearer;
    and which lens gives the same view on both."""
    every = [
        (f"{case.id}:{put.key}", f"{seen.labelled(case, put.key)}, {put.recipe.name}", case, put)
        for case in cases.listed(db())
        for put in plans.slots_of(db(), case.id).values()
    ]
    known = {code: (case, put) for code, _, case, put in every}
    chosen = [known.get(request.args.get(name, "")) for name in ("a", "b")]
    shown = {}
    if chosen[0] and chosen[1]:
        shown = _matched(*chosen[0], *chosen[1])
    # Nobody compares a slot with itself: the second begins at the next camera that has one.
    first = request.args.get("a") or next((code for code, *_ in every), "")
    others = [code for code, _, case, _ in every if f"{case.id}" != first.partition(":")[0]]
    second = request.args.get("b") or next(iter(others), first)
    return render_template("match.html", every=every, asked=(first, second), **shown)


def _matched(case: Case, put: Put, other_case: Case, other: Put) -> dict[str, object]:
    first, second = put.recipe, other.recipe
    with long_work("Looking for the nearest recipe"):
        nearest = translate(first, second.camera)
    lenses = [
        (focal, round(focal * case.crop / other_case.crop)) for focal in (16, 23, 35, 50, 85, 135)
    ]
    codes = [address.code(replace(r, name=n)) for r, n in ((first, "First"), (second, "Second"))]
    moved = replace(nearest.recipe, name=f"{first.name}, on {second.camera.name}"[:80])
    return {
        "rows": _by_scene(first, second),
        "queries": [address.look_query(r) for r in (first, second)],
        "codes": codes,
        "nearest": nearest,
        "nearest_query": address.query(address.dial_args(moved) | {"name": moved.name}),
        "lenses": lenses,
        "stops": round(2 * math.log2(case.crop / other_case.crop), 1),
    }

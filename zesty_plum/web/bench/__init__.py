"""The Bench: design a recipe on a scene."""

from typing import Any

import numpy as np
from flask import Blueprint, jsonify, render_template, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from ...core.arrays import MID_GREY
from ...core.bodies import Body, Dial, Need, bodies
from ...core.colour.spaces import LUMINANCE_2020
from ...core.develop import balance, point, tone
from ...core.develop.pipeline import make_point, metered
from ...core.develop.sense import least_iso
from ...core.judge.rules import SCHOOLS
from ...core.measure.views import VIEWS
from ...core.recipe import INTENT_WORDS, Intent, Recipe
from ...core.scenes.scene import Scene
from ...store import shelf, slips
from .. import address
from ..address import ENGINE
from ..begin import goal_links
from ..context import db
from . import gauges

blueprint = Blueprint("bench", __name__, template_folder="templates")

CURVE_FROM, CURVE_TO, CURVE_POINTS = -7.0, 5.0, 61
FIRST_LINE = "style"
# Levels that people set their stripes to, and what each is good for.
ZEBRAS = (
    (70, "light skin"),
    (80, "bright skin, sand"),
    (95, "paper, just below white"),
    (100, "white of a finished picture"),
)


def choice_note(camera: Body, dial: Dial, position: int) -> str:
    """What a place of a dial costs, where that can be said exactly."""
    guard = dial.choices[position].adds.get("guard", 0)
    return f"at least ISO {least_iso(camera.sensor, guard):.0f}" if guard else ""


def need_data(need: Need) -> dict[str, Any]:
    """A condition as the page's script needs it."""
    return {
        "dial": need.dial,
        "only": [str(v) for v in need.only],
        "never": [str(v) for v in need.never],
        "least": need.least,
        "why": need.why,
    }


def dial_data(camera: Body, dial: Dial) -> dict[str, Any]:
    """A dial as the page's script needs it."""
    return {
        "id": dial.id,
        "label": dial.label,
        "unit": dial.unit,
        "group": dial.group,
        "purpose": dial.purpose,
        "means": dial.means,
        "later": dial.later,
        "values": [str(v) for v in dial.values],
        "labels": [c.label for c in dial.choices],
        "notes": [choice_note(camera, dial, k) for k in range(len(dial.choices))],
        "shipped": dial.position(dial.default),
        "needs": [need_data(need) for need in dial.needs],
        "choiceNeeds": [[need_data(need) for need in choice.needs] for choice in dial.choices],
    }


def _bench_recipe(args: "MultiDict[str, str]") -> tuple[Recipe, slips.Slip | None]:
    """The recipe of the address, on top of the slip it names; and that slip."""
    slip_id = args.get("slip", "")
    if not (slip_id.isdigit() and len(slip_id) < 10):
        return address.recipe_from(args), None
    version = args.get("version", "")
    slip = slips.get(
        db(), int(slip_id), int(version) if version.isdigit() and len(version) < 9 else None
    )
    saved = MultiDict(
        {
            "name": slip.name,
            "intent": str(slip.recipe.intent),
            "note": slip.recipe.note,
            "author": slip.recipe.author,
            "body": slip.recipe.body,
        }
    )
    saved.update({k: str(v) for k, v in slip.recipe.dials.items()})
    for key, value in args.items():
        saved[key] = value
    return address.recipe_from(saved), slip


@blueprint.get("/bench")
def page() -> str:
    """The Bench with everything that the address says."""
    recipe, slip = _bench_recipe(request.args)
    camera = recipe.camera
    scene_id = request.args.get("scene", address.FIRST_SCENE)
    row = address.scene_row()
    scene = address.scene_of(scene_id)
    here = next((s for s in row if s["id"] == scene_id), None)
    line = request.args.get("line", FIRST_LINE)
    places = [d.id for d in camera.dials]
    if line not in places:
        line = FIRST_LINE if FIRST_LINE in places else places[0]
    reference = slip.recipe if slip else Recipe("As shipped", camera.id, camera.complete({}))
    data = {
        "engine": ENGINE,
        "body": camera.id,
        "firstBody": address.FIRST_BODY,
        "firstScene": address.FIRST_SCENE,
        "dials": [dial_data(camera, d) for d in camera.dials],
        "positions": [d.position(recipe.dials[d.id]) for d in camera.dials],
        "reference": [d.position(reference.dials[d.id]) for d in camera.dials],
        "referenceName": f"version {slip.version}" if slip else "as shipped",
        "scenes": [{key: s[key] for key in ("id", "line", "title")} for s in row],
        "scene": scene_id,
        "line": line,
        "slip": slip.id if slip else None,
        "version": slip.version if slip else None,
        "newest": slip.versions if slip else None,
        "name": recipe.name if slip else request.args.get("name", ""),
        "note": recipe.note,
        "author": recipe.author,
        "intent": str(recipe.intent),
        "savedIntent": str(slip.recipe.intent) if slip else str(Intent.FINISHED),
        "urls": {
            "save": url_for("slips.save"),
            "verdicts": url_for("margin.verdicts"),
            "effects": url_for("margin.what_steps_do"),
            "best": url_for("margin.best"),
            "name": url_for("margin.name_for"),
            "failing": "/bench/failing/",
            "facts": url_for("bench.facts"),
            "bench": url_for("bench.page"),
            "takeIn": url_for("dropped.take_in"),
            "slips": url_for("slips.page"),
            "wall": url_for("wall.page"),
        },
        "slips": [{"id": k, "name": name} for k, name in shelf.names(db())],
    }
    return render_template(
        "bench.html",
        camera=camera,
        recipe=recipe,
        slip=slip,
        lights=address.by_light(row),
        bodies=list(bodies().values()),
        scene=scene,
        here=here,
        line=camera.dial(line),
        positions={d.id: d.position(recipe.dials[d.id]) for d in camera.dials},
        notes={d.id: choice_note(camera, d, d.position(recipe.dials[d.id])) for d in camera.dials},
        data=data,
        goals=goal_links(),
        begin_styles=[
            (c.value, c.label) for d in camera.dials if d.id == "style" for c in d.choices
        ],
        zebras=ZEBRAS,
        views=VIEWS,
        schools=SCHOOLS,
        intents=INTENT_WORDS,
        picture=url_for("rendering.picture", scene_id=scene_id)
        + "?"
        + address.query(address.dial_args(recipe) | {"width": "720"}),
    )


def histogram(scene: Scene, made: point.Point, exposure: float) -> list[float]:
    """Share of the frame by stops from mid grey, in the curve's range, the tallest bar 1."""
    small = scene.at_width(120)
    if scene.finished:
        from ...core.colour.spaces import srgb_decode
        from ...core.styles import plain

        light = tone.undo(srgb_decode(small), plain().tone, point.FINISHED_WHITE)
    else:
        light = small @ np.array(made.matrix, np.float32).T
    stops = np.log2(np.maximum(light @ LUMINANCE_2020, 1e-6) / MID_GREY) + exposure
    bars, _ = np.histogram(stops, bins=48, range=(CURVE_FROM, CURVE_TO))
    return [round(float(b), 3) for b in bars / max(bars.max(), 1)]


BANDS = (
    ("skin", "skin"),
    ("white", "white"),
)  # regions that the gauge marks, by the beginning of their names, and their words


def bands(scene: Scene, made: point.Point, exposure: float) -> list[dict[str, Any]]:
    """Where faces and white things lie on the gauge's scale, 0 to 1: from the 10th to the 90th
    percentile of their stops."""
    if scene.finished or scene.mask is None:
        return []
    every, labels = scene.pixels[::4, ::4], scene.mask[::4, ::4]
    found = []
    for begins, words in BANDS:
        inside = np.isin(
            labels, [value for name, value in scene.regions.items() if name.startswith(begins)]
        )
        if inside.sum() < 20:
            continue
        light = every[inside] @ np.array(made.matrix, np.float32).T @ LUMINANCE_2020
        stops = np.percentile(np.log2(np.maximum(light, 1e-6) / MID_GREY) + exposure, [10, 90])
        low, high = np.clip((stops - CURVE_FROM) / (CURVE_TO - CURVE_FROM), 0, 1)
        found.append({"name": words, "from": round(float(low), 3), "to": round(float(high), 3)})
    return found


def curve(made: point.Point) -> list[float]:
    """Encoded grey, 0 to 1, at even stops of scene light."""
    stops = np.linspace(CURVE_FROM, CURVE_TO, CURVE_POINTS, dtype=np.float32)
    return [round(float(v), 4) for v in made.grey_curve(MID_GREY * np.exp2(stops))]


@blueprint.get("/bench/facts")
def facts() -> Response:
    """The gauge's numbers for a recipe on a scene: curve, the reference's curve, histogram,
    light."""
    recipe = address.recipe_from(request.args)
    scene = address.scene_asked(request.args)
    sensor, look = recipe.camera.sensor, recipe.look
    made, bias = make_point(scene, look, sensor), look.exposure + metered(scene, look, sensor)
    camera = recipe.camera
    shipped = Recipe(
        "As shipped",
        camera.id,
        camera.complete({"style": recipe.dials["style"]} if "style" in recipe.dials else {}),
    )
    line = request.args.get("line", FIRST_LINE)
    kind = gauges.kind_of(camera.dial(line)) if line in {d.id for d in camera.dials} else "tone"
    light = balance.assumed_light(look, scene.auto_light, scene.card_light)
    return jsonify(
        curve=curve(made),
        before=curve(make_point(scene, shipped.look, sensor)),
        histogram=histogram(scene, made, bias),
        bands=bands(scene, made, bias),
        white=gauges.printed(light[0]),
        duv=f"{light[1]:+.3f}",
        kind=kind,
        gauge=gauges.drawn(kind, scene, recipe, shipped),
    )

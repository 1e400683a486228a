"""The Bench: design a recipe on a scene."""

from typing import Any

from flask import Blueprint, jsonify, render_template, request, url_for
from werkzeug.wrappers import Response

from ...core.base.nominal import printed_kelvin
from ...core.bodies import Body, bodies
from ...core.develop import balance
from ...core.develop.taking import white_stops
from ...core.judge.rules import SCHOOLS
from ...core.learn.untaught import untaught
from ...core.look import Gauge
from ...core.measure.gauges import gauge_of
from ...core.measure.purpose import ENDS
from ...core.measure.tones import scant_room
from ...core.measure.views import VIEWS, zebras
from ...core.recipe import INTENT_WORDS, Intent, Recipe
from ...core.styles import style
from ...core.translate import origin
from ...store import shelf, slips
from ...store.pictures import LIGHTS
from ..frame.context import db, say_now
from ..frame.page import urls
from ..frame.screens import Room
from ..render import address
from ..render.rendering import ROW_WIDTH
from ..server.turns import Rank, turn
from ..ways.begin import bench_args, goal_links
from . import gauges, margin, patches
from .data import choice_note, dial_data

blueprint = Blueprint("bench", __name__, template_folder="templates")

FIRST_LINE = "style"
# Of the ways to look: what is on or off, and what is chosen by a word.
FLAGS = ("clip", "loupe", "wipe", "apart", "guess", "written", "ends")
WORDS = ("view", "stripes", "than", "size", "spot", "place")


def _line(camera: Body) -> str:
    """The dial in hand: the one that the address names, or the first that every body has."""
    line = request.args.get("line", FIRST_LINE)
    return line if line in camera.by_id else next(iter(camera.by_id))


def _shipped(camera: Body, **dials: Any) -> Recipe:
    return Recipe("As shipped", camera.id, camera.complete(dials))


def _places(recipe: Recipe) -> list[int]:
    return [d.position(recipe.dials[d.id]) for d in recipe.camera.dials]


def _state(recipe: Recipe) -> dict[str, Any]:
    """What the page's script changes and writes into the address."""
    return {
        "scene": _scene_id(),
        "positions": _places(recipe),
        "line": _line(recipe.camera),
        "intent": str(recipe.intent),
        **{flag: request.args.get(flag) == "1" for flag in FLAGS},
        **{word: request.args.get(word, "") for word in WORDS},
        "surround": request.args.get("surround", "mid"),
    }


def _script_data(recipe: Recipe, slip: slips.Slip | None, row: list[Any]) -> dict[str, Any]:
    """What the page's script begins with."""
    camera = recipe.camera
    reference = slip.recipe if slip else _shipped(camera)
    return {
        "engine": address.engine(),
        "body": camera.id,
        "edition": address.edition_of(camera),
        "firstBody": address.FIRST_BODY,
        "firstScene": address.FIRST_SCENE,
        "dials": [dial_data(camera, d) for d in camera.dials],
        "state": _state(recipe),
        "ways": [*FLAGS, *WORDS],
        "reference": _places(reference),
        "referenceName": f"version {slip.version}" if slip else "as shipped",
        "scenes": [
            {key: s.get(key, "") for key in ("id", "line", "title", "own", "light", "revision")}
            for s in row
        ],
        "slip": slip.id if slip else None,
        "version": slip.version if slip else None,
        "newest": slip.versions if slip else None,
        "name": recipe.name if slip else request.args.get("name", ""),
        "note": recipe.note,
        "author": recipe.author,
        "savedIntent": str(slip.recipe.intent) if slip else str(Intent.FINISHED),
        "came": _came(recipe),
        "left": request.args.get("left", ""),
        "back": _back(recipe),
        "ends": {str(intent): words for intent, words in ENDS.items()},
        "urls": urls(),
        "slips": [{"id": k, "name": name} for k, name in shelf.names(db())],
    }


def _came(recipe: Recipe) -> dict[str, str] | None:
    """The recipe on another body that this one came from: as code, in words, and its Bench."""
    before = origin(recipe)
    if before is None or before.body == recipe.body:
        return None
    words = f"{before.name} on {before.camera.name}"
    return {"code": address.code(before), "words": words, "url": _bench_of(before)}


def _back(recipe: Recipe) -> str:
    """Where undo leads at the beginning of the trail: the recipe that was left for this body."""
    came, left = _came(recipe), request.args.get("left", "")
    if came:
        return came["url"]
    return _bench_of(address.from_code(left)[0]) if left else ""


def _bench_of(recipe: Recipe) -> str:
    return url_for("bench.page") + "?" + address.query(bench_args(recipe, _scene_id()))


def _scene_id() -> str:
    return request.args.get("scene", address.FIRST_SCENE)


def _named(row: list[dict[str, Any]], scene_id: str) -> dict[str, Any]:
    """What the row says of a scene; an error says what is wrong with one that is not in it."""
    found = next((s for s in row if s["id"] == scene_id), None)
    if found is None:
        scene = address.scene_of(scene_id)
        found = {"id": scene.id, "title": scene.title, "line": scene.title}
    return found


@blueprint.get("/bench")
def page() -> str:
    """The Bench with everything that the address says."""
    recipe, slip = address.on_slip(request.args)
    if recipe.carried:
        say_now(" ".join(recipe.carried), "note")
    camera, row = recipe.camera, address.scene_row()
    data = _script_data(recipe, slip, row)
    scene_id = _scene_id()
    styles = camera.style_dial.choices if camera.style_dial else ()
    picture = url_for("rendering.picture", scene_id=scene_id)
    return render_template(
        "bench.html",
        camera=camera,
        recipe=recipe,
        slip=slip,
        lights=address.by_light(row),
        picture_lights=LIGHTS,
        bodies=list(bodies().values()),
        here=_named(row, scene_id),
        row_width=ROW_WIDTH,
        scene_id=scene_id,
        line=camera.dial(_line(camera)),
        positions=dict(zip(camera.by_id, data["state"]["positions"], strict=True)),
        notes={d.id: choice_note(camera, d.choice(recipe.dials[d.id])) for d in camera.dials},
        data=data,
        goals=goal_links(),
        begin_styles=[(c.value, c.label, style(c.style).purpose) for c in styles],
        zebras=zebras(camera),
        views=VIEWS,
        schools=SCHOOLS,
        intents=INTENT_WORDS,
        here_query=address.query(bench_args(recipe, scene_id)),
        picture=f"{picture}?{address.look_query(recipe, width='720')}",
    )


@blueprint.get("/bench/facts")
def facts() -> Response:
    """What is told beside the picture of a recipe on a scene: the gauge of the dial in hand, light,
    room above white, and how much of it is a guess."""
    recipe = address.recipe_from(request.args)
    scene = address.scene_asked(request.args)
    camera, look = recipe.camera, recipe.look
    chosen = camera.style_dial
    same_style = {chosen.id: recipe.dials[chosen.id]} if chosen else {}
    shipped = _shipped(camera, **same_style)
    line = request.args.get("line", FIRST_LINE)
    kind = gauge_of(camera.by_id[line]) if line in camera.by_id else Gauge.TONE
    light = balance.neutral_light(look, scene.auto_light, scene.card_light)
    with turn(Rank.FIGURES):
        pair = next((p for p in camera.pairs if line in (p.across, p.down)), None)
        gauge = patches.drawn(pair, recipe) if pair else gauges.drawn(kind, scene, recipe, shipped)
        guess = untaught(scene, look, camera.sensor)
    room = guess.words
    if line in camera.by_id and "highlights" in camera.by_id[line].touches:
        room = scant_room(style(look.style), white_stops(scene, look, camera.sensor)) or room
    white, duv = printed_kelvin(light[0]), f"{light[1]:+.3f}"
    return jsonify(white=white, duv=duv, room=room, guess=guess.share, gauge=gauge)


ROOM = Room("Bench", (blueprint, margin.blueprint), home="bench.page", order=1)

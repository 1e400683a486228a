"""A recipe onto another body: what comes nearest and what starts afresh, shown before it is
chosen."""

from urllib.parse import parse_qsl

from flask import Blueprint, jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict

from ...core.bodies import Body, body
from ...core.recipe import Recipe, make
from ...core.scenes.scene import Scene
from ...core.translate import remains, translate
from ..frame.context import went
from ..render.address import (
    FIRST_BODY,
    FIRST_SCENE,
    NEW,
    code,
    from_code,
    look_query,
    query,
    recipe_from,
    scene_of,
)
from ..server.turns import Rank, turn
from ..server.work import long_work
from .begin import bench_args

MOST_QUERY = 6000  # letters of a Bench's address
blueprint = Blueprint("onto", __name__, template_folder="templates")


def _given() -> tuple[Recipe, Body, str, str]:
    """The recipe in hand, the body to go to, the scene, and the Bench's own address."""
    text = request.args.get("from", "")[:MOST_QUERY]
    given = MultiDict(parse_qsl(text))
    scene = given.get("scene", FIRST_SCENE)
    return recipe_from(given), body(request.args.get("to", FIRST_BODY)), scene, text


@blueprint.get("/onto/find")
def find() -> ResponseReturnValue:
    """Look for the nearest recipe on another body; one that nothing was turned in just begins
    there."""
    source, camera, scene, text = _given()
    if camera.id == source.body or not source.camera.changed(source.dials):
        return went(url_for("bench.page") + "?" + query(_fresh(source, camera, scene)))
    with long_work(f"Looking for the nearest recipe on {camera.name}") as work:
        found = translate(source, camera, work.pause, scene_of(scene)).recipe
    asked = {"from": text, "to": camera.id, "found": code(found)}
    return went(url_for("onto.page") + "?" + query(asked))


@blueprint.get("/onto")
def page() -> str:
    """Both ways side by side with what is in hand; nothing is changed before one is chosen."""
    source, camera, scene, text = _given()
    made = from_code(request.args.get("found", ""))[0]
    place = scene_of(scene)
    with turn(Rank.FIGURES):
        found = remains(source, made, place)
    nearest = bench_args(made, scene) | {
        "name": source.name,
        "intent": str(source.intent),
        "came": code(source),
    }
    fresh = _fresh(source, camera, scene)
    bench = url_for("bench.page") + "?"
    return render_template(
        "onto.html",
        source=source,
        title="This recipe" if source.name == NEW else source.name,
        camera=camera,
        found=found,
        place=place,
        to_nearest=bench + query(nearest),
        to_fresh=bench + query(fresh),
        back=bench + text,
        pictures=[
            url_for("rendering.picture", scene_id=scene) + "?" + look_query(r, width="480")
            for r in (source, made, make("", camera.id, {}))
        ],
        turned=[
            (camera.dial(k).label, camera.dial(k).choice(v).label)
            for k, v in camera.changed(made.dials).items()
        ],
    )


def _fresh(source: Recipe, camera: Body, scene: str) -> dict[str, str]:
    """The body as shipped under the recipe's name; `left` leads back by undo."""
    began = make(source.name, camera.id, {}, intent=source.intent, note=source.note)
    turned = bool(source.camera.changed(source.dials))
    return bench_args(began, scene) | ({"left": code(source)} if turned else {})


@blueprint.get("/onto/remains")
def remaining() -> ResponseReturnValue:
    """What remains between a recipe and the one that it came from, in the scene at hand."""
    came, recipe = from_code(request.args.get("came", ""))[0], recipe_from(request.args)
    scene: Scene = scene_of(request.args.get("scene", FIRST_SCENE))
    with turn(Rank.FIGURES):
        found = remains(came, recipe, scene)
    assert found.here is not None
    return jsonify(
        said=f"{found.words[0]} CIEDE2000 {found.here.mean:.1f} here, {found.mean:.1f} elsewhere.",
        words=found.words,
    )

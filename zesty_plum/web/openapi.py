"""A description of the plain addresses, for scripts."""

from flask import Blueprint, Response, jsonify

from .. import __version__
from ..core.bodies import body
from ..core.measure.views import VIEWS
from ..core.paper.card import SHAPES
from .address import FIRST_BODY

blueprint = Blueprint("openapi", __name__)


def _query(name: str, kind: dict[str, object], text: str) -> dict[str, object]:
    return {"name": name, "in": "query", "required": False, "schema": kind, "description": text}


def _get(summary: str, types: list[str], parameters: list[dict[str, object]]) -> dict[str, object]:
    fault = {"description": "A sentence that says what is wrong."}
    done = {
        "description": "Done.",
        "content": {t: {"schema": {"type": "string", "format": "binary"}} for t in types},
    }
    return {
        "get": {
            "summary": summary,
            "parameters": parameters,
            "responses": {"200": done, "400": fault, "404": fault},
        }
    }


@blueprint.get("/openapi.json")
def description() -> Response:
    """OpenAPI 3.1 description."""
    camera = body(FIRST_BODY)
    dials = [
        _query(d.id, {"enum": [str(v) for v in d.values], "default": str(d.default)}, d.purpose)
        for d in camera.dials
    ]
    recipe = [_query("body", {"type": "string", "default": FIRST_BODY}, "Camera body."), *dials]
    name = _query("name", {"type": "string"}, "Name of the recipe.")
    scene = _query("scene", {"type": "string"}, "Id of a scene.")
    in_path = {
        "name": "scene",
        "in": "path",
        "required": True,
        "schema": {"type": "string"},
        "description": "Id of a scene.",
    }
    width = _query("width", {"type": "integer", "minimum": 48, "maximum": 3000}, "Width in pixels.")
    seed = _query("seed", {"type": "integer", "minimum": 0}, "Seed of noise and grain.")
    size = _query("size", {"type": "integer", "minimum": 2, "maximum": 65}, "Points a side.")
    level = _query(
        "level", {"type": "integer", "minimum": 5, "maximum": 109}, "Percent of full brightness."
    )
    than = _query(
        "than", {"type": "string"}, "The other recipe: 'slip-3', or name~body~dial=value~..."
    )
    line = _query("line", {"enum": [d.id for d in camera.dials]}, "The dial.")
    shape = _query("shape", {"enum": list(SHAPES)}, "Shape of the card.")
    bits = _query("bits", {"enum": ["8", "10"]}, "Bits a channel.")
    view = _query(
        "view",
        {"enum": [v for v in VIEWS if v]},
        "Without colour, or as colour-vision deficiencies see it.",
    )
    written = _query("written", {"enum": ["1"]}, "Rounded to the code values of the file.")
    spot = _query(
        "spot", {"type": "string"}, "Where spot metering looks: two shares, as in 0.42,0.3."
    )
    search = _query("q", {"type": "string"}, "A search, as in grain>0 body:heron.")
    every = _query("all", {"enum": ["1"]}, "All slips that the search finds.")
    pair = [
        _query(k, {"type": "string"}, "A recipe: 'slip-3', or name~body~dial=value~...")
        for k in "ab"
    ]
    paths = {
        "/render/{scene}.jpg": _get(
            "A rendered preview; never changes.",
            ["image/jpeg"],
            [in_path, width, seed, view, written, spot, *recipe],
        ),
        "/render/{scene}.zebra.png": _get(
            "Stripes from a level of brightness on.",
            ["image/png"],
            [in_path, width, level, *recipe],
        ),
        "/render/{scene}.apart.png": _get(
            "A map of CIEDE2000 from another recipe.",
            ["image/png"],
            [in_path, width, than, *recipe],
        ),
        "/bench/verdicts": _get(
            "Verdicts on a recipe in a scene, with mends that were tried.",
            ["application/json"],
            [scene, *recipe],
        ),
        "/bench/effects": _get(
            "What the steps of a dial do in a scene, in words.",
            ["application/json"],
            [scene, line, *recipe],
        ),
        "/bench/name": _get(
            "A name for a recipe from its look.", ["application/json"], [scene, *recipe]
        ),
        "/take/recipe.plum.json": _get("The recipe file.", ["application/json"], [name, *recipe]),
        "/take/look.cube": _get("The look as a LUT.", ["text/plain"], [name, size, *recipe]),
        "/take/look.clf": _get("The look as a LUT.", ["application/xml"], [name, size, *recipe]),
        "/take/slip.txt": _get("The recipe as a written list.", ["text/plain"], [name, *recipe]),
        "/take/card.png": _get(
            "The card of the recipe.", ["image/png"], [scene, shape, name, *recipe]
        ),
        "/render/{scene}.graded.jpg": _get(
            "Written with 8 or 10 bits, then graded to stand as Plain would.",
            ["image/jpeg"],
            [in_path, width, bits, *recipe],
        ),
        "/take/picture.jpg": _get(
            "The scene at full size.", ["image/jpeg"], [scene, name, seed, *recipe]
        ),
        "/take/difference.json": _get(
            "CIEDE2000 between two recipes.", ["application/json"], [scene, *pair]
        ),
        "/slips/found.json": _get(
            "Slips that a search finds: id and name.", ["application/json"], [search]
        ),
        "/slips/slips.zip": _get(
            "Slips as recipe files with a manifest.", ["application/zip"], [every, search]
        ),
        "/slips/slips.csv": _get("Slips as a table.", ["text/csv"], [every, search]),
        "/take/schema.json": _get("JSON Schema of the recipe file.", ["application/json"], []),
    }
    return jsonify(
        openapi="3.1.0", info={"title": "Zesty Plum", "version": __version__}, paths=paths
    )

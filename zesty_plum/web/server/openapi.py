"""A description of the plain addresses, for scripts."""

from typing import Any

from flask import Blueprint, Response, jsonify

from ... import __version__
from ...core.bodies import Dial, body
from ...core.exchange.lut import LEAST as FEWEST_POINTS
from ...core.measure.views import VIEWS
from ...core.paper.card import SHAPES
from ...core.recipe import Intent
from ..render.address import FIRST_BODY
from ..render.asked import LEAST, MOST, MOST_SEED, USUAL
from ..render.overlays import LEAST_ZEBRA, MOST_ZEBRA
from ..ways.take import MOST_POINTS

blueprint = Blueprint("openapi", __name__)
Schema = dict[str, Any]
TEXT: Schema = {"type": "string"}
CODE = "'slip-3', or name~body~dial=value~..."


def _whole(least: int, most: int, **more: int) -> Schema:
    return {"type": "integer", "minimum": least, "maximum": most, **more}


# What an address can ask, by name: its schema and what it is.
PARAMETERS: dict[str, tuple[Schema, str]] = {
    "a": (TEXT, f"A recipe: {CODE}"),
    "all": ({"enum": ["1"]}, "All slips that the search finds."),
    "b": (TEXT, f"A recipe: {CODE}"),
    "bits": ({"enum": ["8", "10"]}, "Bits a channel."),
    "body": ({"type": "string", "default": FIRST_BODY}, "Camera body."),
    "level": (_whole(LEAST_ZEBRA, MOST_ZEBRA), "Percent of full brightness."),
    "name": (TEXT, "Name of the recipe."),
    "detail": ({"enum": ["1"]}, "At 100 percent: a pixel a photosite."),
    "place": (TEXT, "Middle of what is seen at 100 percent: two shares, as in 0.42,0.3."),
    "q": (TEXT, "A search, as in grain>0 body:heron."),
    "scene": (TEXT, "Id of a scene."),
    "seed": (_whole(0, MOST_SEED), "Seed of noise and grain."),
    "shape": ({"enum": list(SHAPES)}, "Shape of the card."),
    "size": (_whole(FEWEST_POINTS, MOST_POINTS), "Points a side."),
    "spot": (TEXT, "Where spot metering looks: two shares, as in 0.42,0.3."),
    "than": (TEXT, f"The other recipe: {CODE}"),
    "view": (
        {"enum": [v for v in VIEWS if v]},
        "Without colour, or as colour-vision deficiencies see it.",
    ),
    "width": (_whole(LEAST, MOST, default=USUAL), "Width in pixels."),
    "written": ({"enum": ["1"]}, "As the file holds it."),
    "ends": ({"enum": [*Intent]}, "As a purpose ends."),
}
JPEG, PNG, JSON = "image/jpeg", "image/png", "application/json"
# Address, what it gives, its type, and what it can be asked; `recipe` is body and dials.
ADDRESSES: tuple[tuple[str, str, str, str], ...] = (
    (
        "/render/{scene}.jpg",
        "A rendered preview; never changes.",
        JPEG,
        "width seed view written ends spot detail place recipe",
    ),
    (
        "/render/{scene}.zebra.png",
        "Stripes from a level of brightness on.",
        PNG,
        "width level recipe",
    ),
    (
        "/render/{scene}.guess.png",
        "Where the picture shows colours that a learnt style was hardly taught.",
        PNG,
        "width recipe",
    ),
    (
        "/render/{scene}.apart.png",
        "A map of CIEDE2000 from another recipe.",
        PNG,
        "than spot recipe",
    ),
    (
        "/render/{scene}.graded.jpg",
        "Written with 8 or 10 bits, then graded to stand as Plain would.",
        JPEG,
        "width bits recipe",
    ),
    (
        "/bench/verdicts",
        "Verdicts on a recipe in a scene, with mends that were tried.",
        JSON,
        "scene recipe",
    ),
    (
        "/bench/effects",
        "What the steps of a dial do in a scene, in words.",
        JSON,
        "scene line recipe",
    ),
    ("/bench/name", "A name for a recipe from its look.", JSON, "scene recipe"),
    ("/take/recipe.plum.json", "The recipe file.", JSON, "name recipe"),
    ("/take/look.cube", "The look as a LUT.", "text/plain", "name size recipe"),
    ("/take/look.clf", "The look as a LUT.", "application/xml", "name size recipe"),
    ("/take/slip.txt", "The recipe as a written list.", "text/plain", "name recipe"),
    ("/take/card.png", "The card of the recipe.", PNG, "scene shape name recipe"),
    ("/take/picture.jpg", "The scene at full size.", JPEG, "scene name seed recipe"),
    ("/take/difference.json", "CIEDE2000 between two recipes.", JSON, "scene a b"),
    ("/take/schema.json", "JSON Schema of the recipe file.", JSON, ""),
    ("/find.json", "Places, slips, days and scenes by their names.", JSON, "q"),
    ("/slips/slips.zip", "Slips as recipe files with a manifest.", "application/zip", "all q"),
    ("/slips/slips.csv", "Slips as a table.", "text/csv", "all q"),
)


def _asked(name: str, schema: Schema, text: str, where: str = "query") -> dict[str, Any]:
    return {
        "name": name,
        "in": where,
        "required": where == "path",
        "schema": schema,
        "description": text,
    }


def _dial(dial: Dial) -> dict[str, Any]:
    values = [str(v) for v in dial.values]
    return _asked(dial.id, {"enum": values, "default": str(dial.default)}, dial.purpose)


def _parameters(path: str, names: str) -> list[dict[str, Any]]:
    dials = body(FIRST_BODY).dials
    made = [_asked("scene", TEXT, "Id of a scene.", "path")] if "{scene}" in path else []
    for name in names.split():
        if name == "recipe":
            made += [_asked("body", *PARAMETERS["body"]), *map(_dial, dials)]
        elif name == "line":
            made.append(_asked("line", {"enum": [d.id for d in dials]}, "The dial."))
        else:
            made.append(_asked(name, *PARAMETERS[name]))
    return made


def _described(path: str, summary: str, kind: str, names: str) -> dict[str, Any]:
    fault = {"description": "A sentence that says what is wrong."}
    content = {kind: {"schema": {"type": "string", "format": "binary"}}}
    done = {"description": "Done.", "content": content}
    return {
        "get": {
            "summary": summary,
            "parameters": _parameters(path, names),
            "responses": {"200": done, "400": fault, "404": fault},
        }
    }


@blueprint.get("/openapi.json")
def description() -> Response:
    """OpenAPI 3.1 description."""
    paths = {row[0]: _described(*row) for row in ADDRESSES}
    return jsonify(
        openapi="3.1.0", info={"title": "Zesty Plum", "version": __version__}, paths=paths
    )

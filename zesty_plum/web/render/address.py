"""Recipes and scenes in addresses: reading them, and writing them as short as they can be."""

import itertools
import re
from collections.abc import Mapping
from dataclasses import replace
from urllib.parse import quote, urlencode

from werkzeug.datastructures import MultiDict

from ... import __version__
from ...core import scenes
from ...core.base.errors import PlumError
from ...core.bodies import FIRST, Body, Dial, Value, body, first, mark, marks
from ...core.recipe import (
    EDITION,
    MOST_AUTHOR,
    MOST_NAME,
    MOST_NOTE,
    Intent,
    Recipe,
    as_now,
    make,
)
from ...core.scenes.scene import Scene
from ...core.translate import FROM, origin, origin_of
from ...store import slips
from ...store.database import revision
from ...store.pictures import LIGHTS
from ..frame.context import db, pictures
from ..frame.values import choice, identity, letters

ENGINE = f"{__version__}-9"  # changes when the same address gives other pixels
NEW = "New slip"  # what has no name yet
FIRST_BODY, FIRST_SCENE = FIRST, scenes.SHOWN[0]


def dial_value(dial: Dial, text: str) -> Value:
    """The value that `text` in an address stands for."""
    for own in dial.choices:
        if str(own.value) == text:
            return own.value
    try:
        return dial.choice(float(text)).value
    except (ValueError, OverflowError):
        return dial.choice(text).value  # raises with the values it can take


Given = tuple[dict[str, Value], tuple[str, ...]]  # all dials, and what was carried over


def edition_of(camera: Body) -> str:
    """What an address says beside a body's dials, so that they count as of today; empty for a body
    that has had one edition only, or does not ship."""
    return str(camera.edition) if camera.id in first() else ""


def dials_from(camera: Body, args: Mapping[str, str]) -> Given:
    """All dials of a body, from the arguments that name one: of its first edition, where they do
    not say of which."""
    said = args.get(EDITION)
    if edition_of(camera) == (said or ""):
        given = {d.id: dial_value(d, args[d.id]) for d in camera.dials if d.id in args}
        return camera.complete(given), ()
    before = first().get(camera.id, camera).by_id
    known = {**camera.by_id, **before}
    earlier = {k: dial_value(d, args[k]) for k, d in known.items() if k in args}
    if not earlier:
        return camera.complete({}), ()
    edition = int(said) if said and said.isascii() and said.isdigit() else said or None
    dials, words = as_now(camera.id, edition, earlier)
    return camera.complete(dials), words


def recipe_from(args: "MultiDict[str, str]") -> Recipe:
    """The recipe that an address holds."""
    camera = body(args.get("body", FIRST_BODY))
    intent = choice("intent", args.get("intent", Intent.FINISHED), Intent)
    name = letters("A name", " ".join(args.get("name", "").split()), MOST_NAME) or NEW
    note = letters("A note", args.get("note", ""), MOST_NOTE)
    author = letters("Who made it", args.get("author", ""), MOST_AUTHOR)
    dials, carried = dials_from(camera, args)
    more = {"intent": intent, "note": note, "author": author, "carried": carried}
    made = make(name, camera.id, dials, **more)
    came = args.get("came", "")
    return replace(made, extra={FROM: origin_of(from_code(came)[0])}) if came else made


def dial_args(recipe: Recipe) -> dict[str, str]:
    """Body and the dials that do not stand as shipped, as address arguments."""
    shown = {"body": recipe.body} if recipe.body != FIRST_BODY else {}
    return shown | _said(recipe)


def _said(recipe: Recipe) -> dict[str, str]:
    """The dials that do not stand as shipped, and of which edition they are."""
    changed = {k: str(v) for k, v in recipe.camera.changed(recipe.dials).items()}
    edition = edition_of(recipe.camera) if changed else ""
    return ({EDITION: edition} if edition else {}) | changed


def query(args: Mapping[str, str]) -> str:
    """Arguments as a query string."""
    return urlencode(args, quote_via=quote, safe=",.~ -")


def look_query(recipe: Recipe, **more: str) -> str:
    """Body, turned dials and the engine's number, which is another one when pixels change: a
    render's address but for its scene; with `more`, its width and the like."""
    return query(dial_args(recipe) | more | {"v": engine()})


def engine() -> str:
    """The engine's number, and a mark of the bodies that do not ship."""
    own = marks()
    return f"{ENGINE}-{own}" if own else ENGINE


def engine_of(recipe: Recipe) -> str:
    """The engine's number, and a mark of the recipe's body if that does not ship: what does not
    change as other bodies come and go."""
    own = mark(recipe.body)
    return f"{ENGINE}-{own}" if own else ENGINE


def code(recipe: Recipe) -> str:
    """A recipe as one address argument: name, body and changed dials between tildes."""
    pairs = [f"{k}={v}" for k, v in _said(recipe).items()]
    return "~".join([recipe.name.replace("~", "-"), recipe.body, *pairs])


def from_code(text: str) -> tuple[Recipe, str]:
    """The recipe of `code`, or of a slip as 'slip-3' or 'slip-3.2'; and a line on what it is."""
    if text.startswith("slip-") and "~" not in text:
        parts = text[5:].split(".")
        numbers = [identity(p) for p in parts]
        if None in numbers or len(numbers) > 2:
            raise PlumError(f"'{text[:40]}' does not name a slip. Choose one from the list.")
        slip = slips.get(db(), numbers[0] or 0, numbers[1] if len(numbers) == 2 else None)
        return slip.recipe, f"{slip.recipe.camera.name}, version {slip.version}"
    parts = text.split("~")
    if len(parts) < 2:
        raise PlumError(f"'{text[:40]}' does not name a recipe. Choose one from the list.")
    camera = body(parts[1])
    pairs = dict(p.split("=", 1) for p in parts[2:] if "=" in p)
    dials, carried = dials_from(camera, pairs)
    for name in pairs:
        if name != EDITION and name not in first().get(camera.id, camera).by_id:
            camera.dial(name)
    made = make(parts[0] or "Unnamed", camera.id, dials, carried=carried)
    return made, f"{camera.name}, from the Bench"


def on_slip(args: "MultiDict[str, str]") -> tuple[Recipe, slips.Slip | None]:
    """The recipe of the address, on top of the slip it names; and that slip."""
    slip_id = identity(args.get("slip", ""))
    if slip_id is None:
        return recipe_from(args), None
    slip = slips.get(db(), slip_id, identity(args.get("version", "")))
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
    saved[EDITION] = edition_of(slip.recipe.camera)
    before = origin(slip.recipe)
    if before is not None and before.body != slip.recipe.body:
        saved["came"] = code(before)
    for key, value in args.items():
        saved[key] = value
    if EDITION not in args and saved["body"] == slip.recipe.body:
        # What an older address turned stands on top of the slip as it is today.
        saved[EDITION] = edition_of(slip.recipe.camera)
        turned, carried = dials_from(slip.recipe.camera, args)
        said = {*slip.recipe.camera.changed(turned), *args}
        dials = {k: turned[k] if k in said else v for k, v in slip.recipe.dials.items()}
        for name, place in dials.items():
            saved[name] = str(place)
        return replace(recipe_from(saved), carried=carried), slip
    return recipe_from(saved), slip


def scene_of(scene_id: str, full: bool = False) -> Scene:
    """A shipped scene or one of the person's own pictures, that one at a size for looking at or in
    `full`."""
    if scene_id.startswith("own-"):
        return pictures().full(db(), scene_id) if full else pictures().scene(db(), scene_id)
    return scenes.load(scene_id)


def scene_asked(args: Mapping[str, str], scene_id: str = "", full: bool = False) -> Scene:
    """The scene that an address names, or `scene_id`, metered where its `spot` says."""
    scene = scene_of(scene_id or args.get("scene", FIRST_SCENE), full)
    text = args.get("spot", "")
    return replace(scene, spot=spot_from(text)) if text else scene


def spot_from(text: str) -> tuple[float, float]:
    """A place '0.42,0.3' as shares of width and height."""
    parts = text.split(",")
    if len(parts) == 2 and all(re.fullmatch(r"0(\.\d{1,4})?|1(\.0{1,4})?", p) for p in parts):
        return float(parts[0]), float(parts[1])
    raise PlumError(
        f"'{text[:20]}' is no place in the picture. Write two shares of its width and height, "
        "as in 0.42,0.3."
    )


_ROW = (*LIGHTS[1:], "yours")


def scene_row() -> list[dict[str, str | bool]]:
    """All scenes to choose from: id, title, a line on the light, whether finished, whether own."""
    row: list[dict[str, str | bool]] = [
        {
            "id": e.id,
            "title": e.title,
            "line": scene_line(e.title, e.kelvin),
            "finished": False,
            "own": False,
            "story": e.story,
            "group": e.group,
        }
        for e in scenes.index().values()
    ]
    for own in pictures().listed(db()):
        line = f"{own.title}, approximate" if own.finished else f"{own.title}, raw"
        row.append(
            {
                "id": own.id,
                "title": own.title,
                "line": line,
                "finished": own.finished,
                "own": True,
                "story": "",
                "group": own.light or "yours",
                "light": own.light,
                "revision": revision(own),
            }
        )
    return sorted(row, key=lambda s: _ROW.index(str(s["group"])))


def by_light(row: list[dict[str, str | bool]]) -> list[tuple[str, list[dict[str, str | bool]]]]:
    """The row in its groups of light, in order: (name to show, scenes)."""
    return [
        (str(name).capitalize(), list(scenes_))
        for name, scenes_ in itertools.groupby(row, key=lambda s: s["group"])
    ]


def scene_line(title: str, kelvin: float) -> str:
    """Title and light of a shipped scene."""
    return f"{title}, {round(kelvin, -2):.0f} K at the subject"

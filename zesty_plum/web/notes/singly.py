"""One change at a time: plans of trials, looked at or shot, and what came of them."""

from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core.base.errors import PlumError
from ...core.bodies import Dial, Value
from ...core.notes import singly
from ...core.pictures import metadata
from ...core.recipe import Recipe
from ...store import notes, shelf, slips
from ...store.database import transaction
from ...store.notes import Single
from ..frame.context import db, now, pictures, sent_file, tell, went
from ..frame.drawn import drawn_from
from ..frame.values import identity
from ..render import address
from ..server.turns import Rank
from ..server.work import long_work

blueprint = Blueprint("singly", __name__, template_folder="templates", url_prefix="/notes/singly")


@dataclass(frozen=True)
class Cell:
    """A light and place of a plan: its mark and the id of its own picture, which its forms are
    drawn from; the address of what is shown, and what speaks against it."""

    light: str
    place: Value
    label: str
    said: tuple[str, str]
    picture: str
    doubt: str

    @property
    def mark(self) -> str:
        """How it is marked."""
        return self.said[0]

    @property
    def own(self) -> bool:
        """Whether a picture came back."""
        return bool(self.said[1])


@blueprint.get("/new")
def new() -> str:
    """Begin one: a slip, a dial, places, lights."""
    slip_id = identity(request.args.get("slip", ""))
    slip = slips.get(db(), slip_id) if slip_id else None
    chosen = request.args.get("dial", "")
    dials = slip.recipe.camera.dials if slip else ()
    dial = next((d for d in dials if d.id == chosen), None)
    return render_template(
        "single_new.html",
        names=shelf.names(db()),
        slip=slip,
        dials=[d for d in dials if len(d.choices) > 1],
        dial=dial,
        near=_near(dial, slip.recipe) if dial and slip else (),
        scenes=address.scene_row(),
    )


def _near(dial: Dial, recipe: Recipe) -> set[Value]:
    """The places that are ticked first: where it stands, and its neighbours."""
    at = dial.position(recipe.dials[dial.id])
    return {dial.values[k] for k in (at - 1, at, at + 1) if 0 <= k < len(dial.values)}


@blueprint.post("/")
def add() -> ResponseReturnValue:
    """Keep a plan."""
    form = request.form
    slip = slips.get(db(), identity(form.get("slip", "")) or 0)
    dial = slip.recipe.camera.dial(form.get("dial", ""))
    by_text = {str(v): v for v in dial.values}
    places = [by_text[t] for t in form.getlist("place") if t in by_text]
    lights = [*form.getlist("light"), *form.get("lights", "").split(",")]
    made = singly.plan(slip.recipe, dial.id, places, lights)
    name = f"{slip.name}: {dial.label}"
    number = notes.plan(db(), name, slip.id, made, now())
    tell(f"{name} is planned.", f"undo:{url_for('singly.remove', number=number)}")
    return redirect(url_for("singly.one", number=number))


@blueprint.get("/<int:number>")
def one(number: int) -> str:
    """A plan as a table of lights and places, with what came of it."""
    single = notes.single(db(), number)
    titles = {str(s["id"]): str(s["title"]) for s in address.scene_row()}
    dial = single.plan.base.camera.dial(single.plan.dial)
    return render_template(
        "single.html",
        single=single,
        dial=dial,
        labels=[dial.choice(p).label for p in single.plan.places],
        rows=[(titles.get(x, x), x in titles, _row(single, x, titles)) for x in single.plan.lights],
        result=_named(singly.result(single.plan, single.marks), titles),
        marks=singly.MARKS,
    )


def _named(words: str, titles: dict[str, str]) -> str:
    for scene_id, title in titles.items():
        words = words.replace(f" {scene_id}", f" {title}")
    return words


def _row(single: Single, light: str, titles: dict[str, str]) -> list[Cell]:
    out = []
    recipes = single.plan.recipes
    dial = single.plan.base.camera.dial(single.plan.dial)
    for place in single.plan.places:
        cell = light, place
        own = single.said_of(cell)[1]
        url = ""
        if own:
            url = url_for("rendering.picture", scene_id=own) + "?width=300"
        elif light in titles:
            at = url_for("rendering.picture", scene_id=light)
            close = {"detail": "1"} if dial.fine else {}
            url = f"{at}?{address.look_query(recipes[place], width='300', **close)}"
        label = dial.choice(place).label
        doubt = _doubt(single, own, place) if own else ""
        out.append(Cell(light, place, label, single.said_of(cell), url, doubt))
    return out


def _doubt(single: Single, own: str, place: Value) -> str:
    """What speaks against a picture that came back, by what its own data say."""
    path = pictures().folder / own
    try:
        told = metadata.find(path.read_bytes())
    except (OSError, PlumError):
        return ""
    if told is None:
        return ""
    if told.body == single.plan.base.body and told.dials[single.plan.dial] != place:
        label = told.camera.dial(single.plan.dial).choice(told.dials[single.plan.dial]).label
        return f"It was made with {label}."
    return singly.confounded(single.plan, told)


@blueprint.post("/<int:number>/mark")
def mark(number: int) -> ResponseReturnValue:
    """Mark a place under a light, or put the picture there that came back."""
    single = notes.single(db(), number)
    form = request.form
    by_text = {str(p): p for p in single.plan.places}
    if form.get("place", "") not in by_text:
        raise PlumError("This plan has no such place.")
    cell = form.get("light", ""), by_text[form["place"]]
    picture = None
    if request.files.get("file") and request.files["file"].filename:
        file = sent_file("Choose a picture.")
        with long_work("Taking it in", rank=Rank.LARGE):
            picture = pictures().add(db(), file.read(), str(file.filename), now()).id
    with transaction(db()):
        drawn_from(notes.single(db(), number).said_of(cell), "This place")
        notes.mark(db(), number, cell, form.get("mark"), picture)
    return went(url_for("singly.one", number=number))


@blueprint.post("/<int:number>/remove")
def remove(number: int) -> ResponseReturnValue:
    """Remove a plan."""
    with transaction(db()):
        notes.single(db(), number)
        notes.remove(db(), "single", number, now())
    tell("The plan was removed.", f"undo:{url_for('singly.back', number=number)}")
    return redirect(url_for("notes.page"))


@blueprint.post("/<int:number>/back")
def back(number: int) -> ResponseReturnValue:
    """Take it back."""
    notes.remove(db(), "single", number, None)
    tell("The plan is back.", "done")
    return redirect(url_for("singly.one", number=number))

"""Drill: training the eye, one question after the other."""

import random
from dataclasses import replace
from datetime import date, timedelta

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core.base.errors import NotFound, PlumError
from ...core.drill.begun import MOST_SEED, Begun, Person
from ...core.drill.kinds import KINDS
from ...core.exchange import stem
from ...core.fields.declared import from_form
from ...core.recipe import EDITION, Recipe
from ...store import drills
from ...store.drills import Answer, Drill
from ..frame.context import db, now, sent_file, tell
from ..frame.screens import Room
from ..frame.values import identity, within_or
from ..render import address
from ..ways.take import attached
from . import asking, progress

blueprint = Blueprint("drill", __name__, template_folder="templates", url_prefix="/drill")
LENGTHS = (12, 24, 48)
STALE = 7  # days after which a screen has to be looked at again
ENOUGH = 5  # steps of eight to be told apart at each end
UNKNOWN_SCREEN = "uncalibrated screen"


@blueprint.get("/")
def page() -> str:
    """Who is here, what they can see, and which drills there are."""
    everybody = drills.eyes(db())
    who = _who(everybody)
    mine = drills.of(db(), who.id) if who else []
    return render_template(
        "drills.html",
        everybody=everybody,
        who=who,
        kinds=KINDS.values(),
        titles={kind.id: kind.title for kind in KINDS.values()},
        lengths=LENGTHS,
        lines=progress.lines(who) if who else [],
        honest=progress.honest(who) if who else "",
        open=[d for d in mine if not d.done][-3:],
        done=[d for d in mine if d.done][-8:][::-1],
        screen=_screen(who) if who else "",
    )


def _who(everybody: list[drills.Eye]) -> drills.Eye | None:
    wanted = identity(request.args.get("eye", ""))
    return next((e for e in everybody if e.id == wanted), everybody[0] if everybody else None)


def _screen(who: drills.Eye) -> str:
    """What is known of the screen."""
    if who.screen_at is None or who.screen_at[:10] < _days_ago(STALE):
        return UNKNOWN_SCREEN
    words = f"screen looked at {who.screen_at[:10]}, uncalibrated"
    return words if min(who.darks, who.lights) >= ENOUGH else f"{words}, swallows steps"


def _days_ago(days: int) -> str:
    return (date.fromisoformat(now()[:10]) - timedelta(days=days)).isoformat()


def _person() -> drills.Eye:
    """Who is said to do it, who is new if nobody has the name."""
    return drills.person(db(), from_form(Person, request.form), now())


@blueprint.post("/")
def begin() -> ResponseReturnValue:
    """Begin a drill."""
    begun, who = from_form(Begun, request.form), _person()
    if begun.seed is None:
        begun = replace(begun, seed=random.SystemRandom().randrange(1, MOST_SEED))
    fixed = request.form.get("fixed") == "1"
    made = drills.begin(db(), who, begun, now(), fixed, _screen(who))
    return redirect(url_for("drill.one", number=made.id))


@blueprint.get("/<int:number>")
def one(number: int) -> ResponseReturnValue:
    """The next question, or how it went."""
    drill = drills.get(db(), number)
    if drill.done:
        return redirect(url_for("drill.result", number=number))
    return redirect(url_for("drill.ask", number=number, place=len(drill.answers) + 1))


@blueprint.get("/<int:number>/<int:place>")
def ask(number: int, place: int) -> ResponseReturnValue:
    """A question, or with its answer when that was given."""
    drill = drills.get(db(), number)
    at = place - 1
    if not 0 <= at < drill.many:
        raise NotFound("This drill has no such question.")
    if at > len(drill.answers):
        return redirect(url_for("drill.one", number=number))
    given = next((a for a in drill.answers if a.number == at), None)
    if given is not None and not given.question:
        raise NotFound("Only the answer to this question is known here, not the question.")
    asked = asking.question(drill, at, drill.answers)
    verdict = asked.verdict(given.said) if given else None
    who = drills.eye(db(), drill.eye)
    return render_template(
        f"questions/{asked.kind.id}.html",
        drill=drill,
        place=place,
        asked=asked,
        given=given,
        verdict=verdict,
        ahead=_ahead(drill, at),
        lines=progress.lines(who),
        tired=progress.tired(who) if given else "",
        who=who,
        kinds=KINDS.values(),
        rendered=_rendered,
        turnable=_turnable,
        **asked.more(given.said if given else None),
    )


def _rendered(scene_id: str, recipe: Recipe, **more: str) -> str:
    """The address of a recipe's picture."""
    at = url_for("rendering.picture", scene_id=scene_id)
    return f"{at}?{address.look_query(recipe, **more)}"


def _turnable(scene_id: str, recipe: Recipe) -> str:
    """The same, to which a script adds dials of today."""
    edition = address.edition_of(recipe.camera)
    return _rendered(scene_id, recipe, **({EDITION: edition} if edition else {}))


def _ahead(drill: Drill, at: int) -> list[str]:
    """Pictures of the next question, whichever way this one is answered, to be rendered ahead."""
    if at + 1 >= drill.many:
        return []
    sides = KINDS[drill.kind].ahead

    def there(side: str, guess: str | None = None) -> str:
        asked = {"number": drill.id, "place": at + 2, "side": side, "if": guess}
        return url_for("drill.picture", **asked)  # type: ignore[arg-type]

    if at < len(drill.answers):
        return [there(s) for s in sides]
    return [there(s, w) for w in "rw" for s in sides]


@blueprint.post("/<int:number>/<int:place>")
def answered(number: int, place: int) -> ResponseReturnValue:
    """An answer; it stays as it is."""
    drill = drills.get(db(), number)
    at = place - 1
    if at == len(drill.answers) and at < drill.many:
        asked = asking.question(drill, at, drill.answers)
        said = request.form.get("said", "").strip()
        if not said:
            raise PlumError("Choose or mark something first.")
        found = asked.verdict(said)
        seconds = within_or(request.form.get("seconds", ""), 0.0, 3600.0, 0.0)
        given = Answer(at, asked.data, said, found.right, found.measure, found.size, seconds, now())
        if not drills.answer(db(), number, given):
            tell("That was answered already, in another window; that answer stays.", "note")
    return redirect(url_for("drill.ask", number=number, place=place))


@blueprint.get("/<int:number>/<int:place>/<side>.jpg")
def picture(number: int, place: int, side: str) -> ResponseReturnValue:
    """A side of a question; `if` it is the one after a right (r) or wrong (w) answer to come."""
    drill = drills.get(db(), number)
    at, given = place - 1, list(drill.answers)
    guess = request.args.get("if", "")
    if guess and at == len(given) + 1:
        asked = asking.question(drill, at - 1, given)
        given.append(asked.supposed(at - 1, guess == "r"))
    if not 0 <= at <= len(given):
        raise NotFound("This question has not come yet.")
    if any(a.number == at and not a.question for a in given):
        raise NotFound("Only the answer to this question is known here, not its pictures.")
    asked = asking.question(drill, at, given)
    said = next((a.said for a in drill.answers if a.number == at), "")
    if not said and asked.kind.hidden(side):
        raise NotFound("This is shown after the answer.")
    body = asked.picture(side, said)
    response = Response(body, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=600"
    return response


@blueprint.get("/<int:number>/result")
def result(number: int) -> str:
    """How it went, beside others who did the same."""
    drill = drills.get(db(), number)
    named = {e.id: e.name for e in drills.eyes(db())}
    others = [(named.get(d.eye, "somebody"), d) for d in drills.same(db(), drill)]
    who = drills.eye(db(), drill.eye)
    return render_template(
        "result.html",
        drill=drill,
        who=who,
        others=others,
        missed=asking.missed(drill),
        title=KINDS[drill.kind].title,
        lines=progress.lines(who),
        tired=progress.tired(who),
    )


@blueprint.post("/<int:number>/remove")
def remove(number: int) -> ResponseReturnValue:
    """Remove a drill; its answers count no more."""
    drill = drills.get(db(), number)
    drills.remove(db(), number, now())
    tell("The drill was removed.", f"undo:{url_for('drill.back', number=number)}")
    return redirect(url_for("drill.page", eye=drill.eye))


@blueprint.post("/<int:number>/back")
def back(number: int) -> ResponseReturnValue:
    """Take it back."""
    drills.remove(db(), number, None)
    tell("The drill is back.", "done")
    return redirect(url_for("drill.page", eye=drills.get(db(), number).eye))


# ---- passed on -----------------------------------------------------------------------------------
@blueprint.get("/<int:number>/drill.json")
def file(number: int) -> Response:
    """A drill to be passed on: the same questions for everybody, with the answers so far."""
    drill = drills.get(db(), number)
    if not drill.fixed:
        raise PlumError("This drill follows its person. Begin one that asks the same of everybody.")
    named = {e.id: e.name for e in drills.eyes(db())}
    every = [(named[d.eye], d) for d in (drill, *drills.same(db(), drill)) if d.answers]
    name = f"{stem(KINDS[drill.kind].title)}-{drill.seed}.drill.json"
    return attached(name, drills.dumps(drill, every), "application/json")


@blueprint.post("/bring")
def bring() -> ResponseReturnValue:
    """Take a drill in: begin it, with what others answered beside."""
    begun, said = drills.read_file(sent_file("Choose a drill's file.").read())
    who = _person()
    drills.others(db(), begun, [(p, r) for p, r in said if p.name != who.name], now())
    made = drills.begin(db(), who, begun, now(), True, _screen(who))
    return redirect(url_for("drill.one", number=made.id))


# ---- the screen ----------------------------------------------------------------------------------
@blueprint.get("/screen")
def screen() -> str:
    """Near-black and near-white steps, and a ramp, to be looked at."""
    return render_template("screen.html", who=_who(drills.eyes(db())), steps=range(1, 9))


@blueprint.post("/screen")
def looked() -> ResponseReturnValue:
    """What was seen of the screen."""
    who = _person()
    darks, lights = (identity(request.form.get(k, "")) or 0 for k in ("darks", "lights"))
    drills.screen(db(), who.id, min(darks, 8), min(lights, 8), now())
    good = min(darks, lights) >= ENOUGH
    tell(
        "The screen shows enough of both ends. It is still uncalibrated."
        if good
        else "The screen swallows steps at its ends: shade it, or turn its brightness. Results say "
        "so.",
        "done" if good else "note",
    )
    return redirect(url_for("drill.page", eye=who.id))


@blueprint.post("/use")
def use() -> ResponseReturnValue:
    """Let words on the Wall and in notes follow somebody's eye, or nobody's."""
    who = identity(request.form.get("eye", ""))
    drills.use(db(), who)
    tell(
        f"Words follow what {drills.eye(db(), who).name} can see." if who else
        "Words follow a careful eye again.", "done",
    )  # fmt: skip
    return redirect(url_for("drill.page", eye=who or None))


ROOM = Room("Drill", (blueprint,), "drill.page", 7)

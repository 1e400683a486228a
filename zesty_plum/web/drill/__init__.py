"""Drill: training the eye, one question after the other."""

import random
from datetime import date, timedelta
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...core.drill.dimensions import BY_ID
from ...core.drill.pairs import NOTHING
from ...core.drill.places import FAULTS
from ...core.drill.quest import octaves
from ...core.errors import NotFound, PlumError
from ...core.exchange import stem
from ...core.recipe import make
from ...store import drills
from ...store.drills import KINDS, Answer, Drill
from .. import address
from ..context import db, now, sent_file, tell
from ..screens import Room
from ..take import attached
from ..values import choice, identity
from . import asking, progress, results
from .asking import Asked, Verdict

blueprint = Blueprint("drill", __name__, template_folder="templates", url_prefix="/drill")
ABOUT = {
    "which": "two pictures, one dial apart",
    "far": "say the step in mired, stops or per cent",
    "where": "mark what is clipped, blocked up, smeared or banding, before you look",
    "match": "bring yours to the other, in few steps",
    "set": "a job and a light; pick, then see",
    "sums": "ISO floors, filters, cards, angles",
}
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
        kinds=KINDS,
        about=ABOUT,
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


@blueprint.post("/")
def begin() -> ResponseReturnValue:
    """Begin a drill."""
    form = request.form
    who = drills.person(db(), form.get("name", "") or "Somebody", now())
    kind = choice("kind", form.get("kind", "which"), KINDS)
    many = identity(form.get("many", "")) or LENGTHS[0]
    seed = identity(form.get("seed", "")) or random.SystemRandom().randrange(1, drills.MOST_SEED)
    fixed = form.get("fixed") == "1"
    made = drills.begin(db(), who, kind, seed, many, now(), fixed, _screen(who))
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
    verdict = asking.verdict(asked, given.said) if given else None
    who = drills.eye(db(), drill.eye)
    return render_template(
        "question.html",
        drill=drill,
        place=place,
        asked=asked,
        given=given,
        verdict=verdict,
        title=KINDS[drill.kind],
        ahead=_ahead(drill, at),
        lines=progress.lines(who),
        tired=progress.tired(who) if given else "",
        who=who,
        kinds=KINDS,
        about=ABOUT,
        **_shown(asked, given, verdict),
    )


def _ahead(drill: Drill, at: int) -> list[str]:
    """Pictures of the next question, whichever way this one is answered, to be rendered ahead."""
    if at + 1 >= drill.many:
        return []
    if drill.kind == "sums":
        return []
    names = {"set": "p", "where": "a", "match": "a"}.get(drill.kind, "ab")

    def there(side: str, guess: str | None = None) -> str:
        asked = {"number": drill.id, "place": at + 2, "side": side, "if": guess}
        return url_for("drill.picture", **asked)  # type: ignore[arg-type]

    if at < len(drill.answers):
        return [there(s) for s in names]
    return [there(s, w) for w in "rw" for s in names]


def _shown(asked: Asked, given: Answer | None, verdict: Verdict | None) -> dict[str, Any]:
    """What the page of a kind needs."""
    data = asked.data
    if asked.kind in ("which", "far"):
        pair = data if asked.kind == "which" else data["pair"]
        scene = address.scene_of(pair["scene"])
        fine = ", at 100 %" if pair["fine"] else ""
        if asked.kind == "which":
            left = "Left" if pair["right"] else "Right"
            right = "right" if pair["right"] else "left"
            line = f"{scene.title}{fine}. {left} as shipped, {right} with one dial moved, or none."
            choices = [(d, BY_ID[d].label if d in BY_ID else "Nothing") for d in pair["choices"]]
            return {"line": line, "choices": choices, "answer": pair["dim"]}
        dim = BY_ID[pair["dim"]]
        choices = [(str(k), dim.words(s, pair["up"])) for k, s in enumerate(data["sizes"])]
        right = next(str(k) for k, s in enumerate(data["sizes"]) if s == pair["size"])
        line = f"{scene.title}{fine}. {dim.label} moved on the right. How far?"
        return {"line": line, "choices": choices, "answer": right}
    if asked.kind == "where":
        scene = address.scene_of(data["scene"])
        fine = ", at 100 %" if data["fault"] == "smeared" else ""
        return {"line": f"{scene.title}{fine}. Mark a place that is {FAULTS[data['fault']][0]}."}
    if asked.kind == "match":
        return _shown_match(asked, given)
    if asked.kind == "set":
        return _shown_set(asked, verdict)
    sum_ = asking.sum_of(data)
    return {"line": f"{sum_.one.label}.", "rows": sum_.rows, "wanted": sum_.asked.label}


def _shown_match(asked: Asked, given: Answer | None) -> dict[str, Any]:
    match = asking.match_of(asked.data)
    mine, steps = asking.tried(asked, given.said if given else "0")
    cam = match.wanted.camera
    scene = address.scene_of(match.scene)
    dials = [
        {
            "id": d,
            "label": cam.dial(d).label,
            "values": [str(v) for v in cam.dial(d).values],
            "labels": [c.label for c in cam.dial(d).choices],
            "at": cam.dial(d).position(mine.dials[d]),
            "wanted": cam.dial(d).choice(match.wanted.dials[d]).label,
        }
        for d in match.dials
    ]
    at = url_for("rendering.picture", scene_id=match.scene)
    many = "one of these dials" if len(match.target) == 1 else "some of these dials"
    return {
        "line": f"{scene.title} on {cam.name}. Left is to be matched: {many} moved.",
        "dials": dials,
        "steps": steps,
        "mine": f"{at}?{address.look_query(mine, width='640')}",
        "render": f"{at}?{address.look_query(make('x', match.body, {}))}",
        "body": match.body,
    }


def _shown_set(asked: Asked, verdict: Verdict | None) -> dict[str, Any]:
    one_ = asking.situation_of(asked.data)
    scene = address.scene_of(one_.scene)
    choices = [(k, one_.options[k][0]) for k in asked.data["letters"]]
    out: dict[str, Any] = {"line": f"{one_.job} {scene.title}.", "choices": choices}
    if verdict is not None:
        found = asking.judged(one_)
        out["said"] = {k: [v.sentence for v in found.said[k]] for k in found.said}
        out["best"] = found.best
    return out


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
        found = asking.verdict(asked, said)
        seconds = _seconds(request.form.get("seconds", ""))
        given = Answer(at, asked.data, said, found.right, found.measure, found.size, seconds, now())
        drills.answer(db(), number, given)
    return redirect(url_for("drill.ask", number=number, place=place))


def _seconds(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        return 0.0
    return value if 0 <= value < 3600 else 0.0


@blueprint.get("/<int:number>/<int:place>/<side>.jpg")
def picture(number: int, place: int, side: str) -> ResponseReturnValue:
    """A side of a question; `if` it is the one after a right (r) or wrong (w) answer to come."""
    drill = drills.get(db(), number)
    at, given = place - 1, list(drill.answers)
    guess = request.args.get("if", "")
    if guess and at == len(given) + 1:
        asked = asking.question(drill, at - 1, given)
        given.append(_supposed(asked, at - 1, guess == "r"))
    if not 0 <= at <= len(given):
        raise NotFound("This question has not come yet.")
    asked = asking.question(drill, at, given)
    if not asked.data:
        raise NotFound("Only the answer to this question is known here, not its pictures.")
    said = next((a.said for a in drill.answers if a.number == at), "")
    if not said and (side == "marked" or (asked.kind == "set" and side != "p")):
        raise NotFound("This is shown after the answer.")
    body = asking.picture(asked, side, said)
    response = Response(body, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "private, max-age=600"
    return response


def _supposed(asked: Asked, at: int, right: bool) -> Answer:
    """An answer that was not given yet, as far as the next question hangs on it."""
    if asked.kind == "which" and asked.data["dim"] != NOTHING:
        size = octaves(asked.data["size"])
        return Answer(at, asked.data, "", right, f"which:{asked.data['dim']}", size)
    if asked.kind == "far":
        return Answer(at, asked.data, "", right, "far", octaves(asked.data["ratio"]))
    if asked.kind == "where":
        share = asking.spot_seen(asked).share
        return Answer(at, asked.data, "", right, "where", octaves(100 * share))
    return Answer(at, asked.data, "", right, asked.kind)


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
        missed=results.missed(drill),
        title=KINDS[drill.kind],
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
    name = f"{stem(KINDS[drill.kind])}-{drill.seed}.drill.json"
    return attached(name, drills.to_file(drill, every), "application/json")


@blueprint.post("/bring")
def bring() -> ResponseReturnValue:
    """Take a drill in: begin it, with what others answered beside."""
    kind, seed, many, said = drills.read_file(sent_file("Choose a drill's file.").read())
    who = drills.person(db(), request.form.get("name", "") or "Somebody", now())
    drills.others(db(), kind, seed, many, [(n, r) for n, r in said if n != who.name], now())
    made = drills.begin(db(), who, kind, seed, many, now(), True, _screen(who))
    return redirect(url_for("drill.one", number=made.id))


# ---- the screen ----------------------------------------------------------------------------------
@blueprint.get("/screen")
def screen() -> str:
    """Near-black and near-white steps, and a ramp, to be looked at."""
    return render_template("screen.html", who=_who(drills.eyes(db())), steps=range(1, 9))


@blueprint.post("/screen")
def looked() -> ResponseReturnValue:
    """What was seen of the screen."""
    who = drills.person(db(), request.form.get("name", "") or "Somebody", now())
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

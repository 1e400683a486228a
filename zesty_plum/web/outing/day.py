"""What a day's page shows: its light as bands, the sun's path, and each shoot worked out."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, time, timedelta

from ...core import scenes
from ...core.bodies import shipped
from ...core.outing import clash, suggest
from ...core.outing.lights import FIXED, Light, out_of_doors
from ...core.outing.shoot import Gear, Needs, needs
from ...core.recipe import Recipe
from ...core.reckon import sun
from ...store import cases, readings
from ...store.cases import Case
from ...store.outings import Outing, Row
from .. import measured
from ..context import db

STEP = 10  # minutes from look to look at the sun
WIDE, HIGH, HORIZON = 1240, 96, 58  # of the drawing
SCENES = {"sun": "beach", "shade": "painters", "dusk": "jetty", "lamps": "workshop"}
SCENES["night"] = "procession"


@dataclass(frozen=True)
class Card:
    """A shoot on the page."""

    row: Row
    light: Light
    needs: Needs
    scene: str
    recipe: Recipe | None
    case: Case | None
    label: str
    hours: str
    left: float
    right: float
    suggestion: str = ""
    suggested: suggest.Choice | None = None
    warnings: tuple[str, ...] = ()


@dataclass(frozen=True)
class Sky:
    """The line of time: bands (from, to, name) and the sun's path in the drawing, rise and set."""

    first: int
    last: int
    bands: tuple[tuple[float, float, str], ...]
    path: str
    hours: tuple[tuple[float, str], ...]
    rise: str
    set: str


def hours(minutes: int) -> str:
    """Minutes of the day as people write them."""
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def _moment(outing: Outing, minutes: int) -> datetime:
    return datetime.combine(outing.on, time(), outing.place.clock) + timedelta(minutes=minutes)


def sky(outing: Outing) -> Sky:
    """The light of a day from an hour before its first shoot, or from five."""
    starts = [r.shoot.starts // 60 - 1 for r in outing.rows]
    first = max(0, min([5, *starts]))
    last = 24
    at = outing.place
    every = range(first * 60, last * 60 + 1, STEP)
    names = [sun.band(at, _moment(outing, m)) for m in every]
    x = [WIDE * (m - first * 60) / ((last - first) * 60) for m in every]
    bands: list[tuple[float, float, str]] = []
    for place, name in zip(x, names, strict=True):
        if bands and bands[-1][2] == name:
            bands[-1] = (bands[-1][0], place, name)
        else:
            begin = bands[-1][1] if bands else 0.0
            bands.append((begin, place, name))
    heights = [sun.position(at, _moment(outing, m))[0] for m in every]
    y = [min(HIGH - 6.0, HORIZON - 0.8 * h) for h in heights]
    path = " ".join(f"{a:.1f},{max(6.0, b):.1f}" for a, b in zip(x, y, strict=True))
    day = sun.day(at, outing.on)
    ticks = [(WIDE * (h - first) / (last - first), f"{h:02d}") for h in range(first, last + 1)]
    told = [t.strftime("%H:%M") if t else "" for t in (day.rise, day.set)]
    return Sky(first, last, tuple(bands), path, tuple(ticks), told[0], told[1])


def light_of(outing: Outing, row: Row) -> Light:
    """The light of a shoot: the sun's at its middle, or the kind that it is in."""
    shoot = row.shoot
    if shoot.light != "out":
        made = FIXED[shoot.light]
    else:
        middle = (shoot.starts + shoot.ends) // 2
        made = out_of_doors(sun.band(outing.place, _moment(outing, middle)), outing.said.weather)
    return replace(made, kelvins=(shoot.kelvin, shoot.kelvin)) if shoot.kelvin else made


def cards(outing: Outing, at: Sky) -> list[Card]:
    """The shoots of a day, worked out."""
    mine = {c.id: c for c in cases.listed(db())}
    span = (at.last - at.first) * 60
    out = []
    for row in outing.rows:
        shoot, light = row.shoot, light_of(outing, row)
        case = mine.get(row.case) if row.case else None
        put = cases.slots_of(db(), case.id).get(row.slot) if case and row.slot else None
        camera = case.camera if case else next(iter(shipped().values()))
        look = put.recipe.look if put else camera.interpret({})
        gear = Gear(camera, case.crop if case else 1.0, look, put.recipe.name if put else "")
        made = needs(shoot, light, gear, outing.said.mains)
        scene = row.scene or (put.scene if put else "") or SCENES.get(light.group, "painters")
        label = f"{case.letter or case.name} {row.slot}" if case and put else ""
        label = label or (case.letter or case.name if case else "")
        among = [case] if case else list(mine.values())
        suggestion = None if put else _suggested(among, light, shoot.kelvin, scene)
        out.append(
            Card(
                row,
                light,
                made,
                scene,
                put.recipe if put else None,
                case,
                label,
                f"{hours(shoot.starts)}–{hours(shoot.ends)}",
                WIDE * (shoot.starts - at.first * 60) / span,
                WIDE * (shoot.ends - at.first * 60) / span,
                suggestion[1] if suggestion else "",
                suggestion[0] if suggestion else None,
                (*made.warnings, *_of_kit(case, row, put is not None)),
            )
        )
    return out


def _of_kit(case: Case | None, row: Row, planned: bool) -> list[str]:
    """What the kit says of a shoot's slot."""
    if case is None:
        return []
    if row.slot and not planned:
        return [f"Nothing is planned for slot {row.slot}"]
    last = readings.last(db(), case)
    if row.slot and last is not None:
        there, plan = last.state.slots.get(row.slot), cases.plan_of(db(), case).slots[row.slot]
        if there is not None and dict(there.dials) != dict(plan.dials):
            return [f"Slot {row.slot} is not as planned"]
    return []


def _suggested(
    mine: Iterable[Case], light: Light, kelvin: int, scene: str
) -> tuple[suggest.Choice, str] | None:
    choices = []
    shown = scenes.load(scene) if scene in scenes.index() else None
    for case in mine:
        for put in cases.slots_of(db(), case.id).values():
            if put.slip is None:
                continue  # the way back is for no light
            verdicts = (
                sum(v.weight > 1 for v in measured.judged(shown, put.recipe, frozenset()))
                if shown is not None
                else 0
            )
            choices.append(suggest.Choice(case.id, put.key, put.recipe, put.why, verdicts))
    return suggest.best(choices, light, kelvin)


def gigabytes(case: Case) -> float:
    """What a camera's cards hold together, as it is said of them: 2 of 64 GB, both the same."""
    found = re.search(r"(?:(\d+)\s*of\s*)?(\d+(?:\.\d+)?)\s*(GB|TB)", case.cards, re.IGNORECASE)
    if not found:
        return 0.0
    each = float(found[2]) * (1000 if found[3].upper() == "TB" else 1)
    many = int(found[1] or 1)
    mode = cases.beside_of(db(), case).get("two_cards", "same")
    return each * many if many > 1 and mode == "in_turn" else each


def uses(made: Sequence[Card]) -> tuple[list[clash.Use], list[str]]:
    """What cards take over the day, and what clashes."""
    planned = [
        clash.Planned(
            c.row.shoot,
            c.case.name if c.case else "",
            _megabytes(c),
            float(c.recipe.look.bit_rate) if c.recipe else 100.0,
        )
        for c in made
    ]
    holds = {c.case.name: gigabytes(c.case) for c in made if c.case}
    return clash.cards(planned, holds), clash.clashes(planned)


def lasting(made: Sequence[Card], used: Sequence[clash.Use]) -> list[str]:
    """What of cards and batteries does not last, or is too slow, in sentences."""
    out = [use.words for use in used if use.words]
    known = {c.case.name: c.case for c in made if c.case}
    for use in used:
        case = known.get(use.camera)
        if case is None:
            continue
        rates = [
            c.recipe.look.bit_rate
            for c in made
            if c.case == case and c.recipe and c.row.shoot.minutes
        ]
        out.append(clash.batteries(use, case.batteries))
        out.append(clash.too_slow(case.name, case.cards, max(rates, default=0.0)))
    return [words for words in out if words]


def _megabytes(card: Card) -> float:
    """Of a file: a third of a megabyte a megapixel for a picture, and two bytes a photosite more
    where a raw goes with it."""
    if card.case is None:
        return 20.0
    wide = card.case.camera.sensor.width
    megapixels = wide * wide / 1.5 / 1e6
    files = cases.beside_of(db(), card.case).get("files", "picture")
    picture, raw = 0.35 * megapixels, 1.3 * megapixels
    return {"picture": picture, "raw": raw}.get(str(files), picture + raw)


def before_leaving(made: Sequence[Card]) -> list[str]:
    """What to look at before the day begins, from the plan and the kit."""
    out = []
    for case in {c.case.id: c.case for c in made if c.case}.values():
        last = readings.last(db(), case)
        if last is None:
            out.append(f"{case.name}: read its card, nobody knows what is in it")
            continue
        plan = cases.plan_of(db(), case)
        wrong = [
            key
            for key, held in plan.slots.items()
            if key in last.state.slots and dict(last.state.slots[key].dials) != dict(held.dials)
        ]
        out.append(
            f"{case.name}: put slot {', '.join(wrong)} right"
            if wrong
            else f"{case.name}: slots as planned, read {last.read_at[:10]}"
        )
        if last.state.beside.get("without_card") == "allowed":
            out.append(f"“Shoot without card” is allowed on {case.name}")
        if last.state.beside.get("switch_off") not in (None, "never") and any(
            "ceremony" in c.row.shoot.title.casefold() for c in made
        ):
            out.append(f"{case.name} switches itself off: set it to never for the ceremony")
    if len({c.case.id for c in made if c.case}) > 1:
        out.append("Clocks of all cameras the same")
    out.append("Format cards after two copies; erasing all takes what is not protected")
    if any(c.light.label.startswith("low sun") for c in made):
        out.append("Low sun: never aim an optical finder at it; a grey filter is no sun filter")
    if any(c.row.shoot.light == "stage" for c in made):
        out.append("Strobing light can trouble people: warn them, and follow the house's rules")
    return out

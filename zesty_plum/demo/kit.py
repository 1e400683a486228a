"""The crew's cameras: what they planned, and what stands in them after two days of the festival."""

import sqlite3
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime, timedelta

from ..core.bodies import Value, body
from ..core.fields.declared import from_form
from ..core.kit.case import About
from ..core.kit.sets import named
from ..core.kit.state import Held, State, shipped
from ..core.recipe import make
from ..store import cases, plans, readings, slips
from ..store.cases import Case
from ..store.plans import Put

# Of each camera: body, name, letter, who carries it, cards, batteries, crop.
CAMERAS = (
    ("heron-m2", "Heron M2, A", "A", "pier crew", "2 of 64 GB", "3", "1.5"),
    ("heron-m2", "Heron M2, B", "B", "night shift", "2 of 64 GB", "2", "1.5"),
    ("wader-v1", "Wader V1", "W", "film table, ten places", "1 of 256 GB", "4", "1"),
    ("sandpiper-p", "Sandpiper P", "S", "whoever carries the small one", "1 of 32 GB", "1", "2.7"),
    ("turnstone", "Turnstone", "T", "own body", "1 of 64 GB", "2", "1.5"),
)
# By camera: slot, slip, what it is for, and the scene that shows it.
SLOTS = {
    "A": (
        ("1", "Slack tide", "out of doors", "boatyard"),
        ("2", "Last lantern", "under lamps", "workshop"),
        ("3", "Kite weather", "hard sun", "beach"),
        ("4", "Slack tide, faces", "the family", "painters"),
        ("5", "Soot", "boats and ropes", "loft"),
    ),
    "B": (
        ("1", "Slack tide", "out of doors", "quayside"),
        ("2", "Last lantern", "under lamps", "supper"),
    ),
    "W": (("1", "Harbour clip", "clips match stills", "quayside"),),
    "S": (("1", "Pocket fair", "the fair", "beach"),),
}
BESIDE = {"without_card": "locked", "front_button": "white_balance", "grid": "on"}


def fill(db: sqlite3.Connection, made: Mapping[str, slips.Slip], now: str) -> None:
    """Put the cameras into a library that holds the crew's slips."""
    earlier = before(now, 190)
    every: dict[str, Case] = {}
    for name, called, letter, carried, cards, batteries, crop in CAMERAS:
        about = {"name": called, "letter": letter, "carried": carried, "cards": cards}
        about |= {"batteries": batteries, "crop": crop}
        every[letter] = case = cases.add(db, body(name), from_form(About, about), now)
        for key, slip, why, scene in SLOTS.get(letter, ()):
            one = made[slip]
            plans.put(db, case.id, Put(key, one.id, 1, one.recipe, why, scene, now, None))
        quiet = {**named("quiet").of(case.camera), **BESIDE}
        values = {k: v for k, v in quiet.items() if k in case.camera.beside_by_id}
        plans.set_beside(db, case.id, values, now)
    _shelf(db, every["A"], "7", now)
    for letter in "ABWS":
        found = _as_planned(db, every[letter])
        if letter == "A":
            found = _after_two_days(found)
        readings.keep(db, every[letter], found, readings.CARD, earlier if letter == "S" else now)
    faces = made["Slack tide, faces"]
    gone_on = {**faces.recipe.dials, "shadows": 1}
    slips.save(db, faces.id, replace(faces.recipe, dials=gone_on), now)


def _shelf(db: sqlite3.Connection, case: Case, key: str, now: str) -> None:
    recipe = make("On the shelf", case.body, {})
    plans.put(
        db, case.id, Put(key, None, 0, recipe, "as shipped, the way back", "table", now, None)
    )


def _as_planned(db: sqlite3.Connection, case: Case) -> State:
    base, plan = shipped(case.camera), plans.plan_of(db, case)
    return State({**base.slots, **plan.slots}, base.now, {**base.beside, **plan.beside})


def _after_two_days(found: State) -> State:
    """Somebody lowered the shadows under the lamps, and allowed to shoot without a card."""
    lantern: dict[str, Value] = {**found.slots["2"].dials, "shadows": -1}
    changed = found.with_slot("2", Held(lantern, found.slots["2"].name))
    return replace(changed, beside={**changed.beside, "without_card": "allowed"})


def before(now: str, days: int) -> str:
    """A moment so many days earlier."""
    moment = datetime.strptime(now, "%Y-%m-%dT%H:%M:%SZ") - timedelta(days=days)
    return moment.strftime("%Y-%m-%dT%H:%M:%SZ")

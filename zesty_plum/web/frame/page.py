"""What every page carries for its scripts, and what every template can use."""

from typing import Any

from flask import Flask, request, url_for
from jinja2 import FileSystemBytecodeCache

from ... import compiled
from ...core import recipe
from ...core.bodies import file as body_file
from ...core.kit.case import MOST_WORD
from ...core.kit.typed import MOST_LETTERS as MOST_TYPED
from ...core.lists import MOST_LETTERS
from ...core.pictures import MOST_BYTES
from ...core.recipe import search
from ...store import database, drills, faults, rounds
from ...store.pictures import MOST_TITLE
from ...store.shelf import TAG_LENGTH
from ..server.sharing import is_shared
from .context import place, told
from .keys import KEYS, shown_for
from .screens import screen_of, screens

# Stand for a scene's id and for the name of work in the addresses that scripts fill in.
SCENE, WORK = "SCENE", "WORK"
MOST_POINT = 60  # letters of a point of the trail, which a browser keeps
LIMITS = {
    "word": MOST_WORD,
    "typed": MOST_TYPED,
    "name": recipe.MOST_NAME,
    "note": recipe.MOST_NOTE,
    "eye": drills.MOST_NAME,
    "author": recipe.MOST_AUTHOR,
    "tag": TAG_LENGTH,
    "pasted": MOST_LETTERS,
    "pictureTitle": MOST_TITLE,
    "person": rounds.MOST_PERSON,
    "searched": search.MOST_LETTERS,
    "camera": body_file.MOST_NAME,
    "dial": body_file.MOST_LABEL,
    "unit": body_file.MOST_AFTER,
    "point": MOST_POINT,
}


def urls() -> dict[str, Any]:
    """Addresses that scripts ask for, by name; none is written by hand in them."""
    return {
        "bench": url_for("bench.page"),
        "best": url_for("margin.best"),
        "bring": url_for("bring.look"),
        "effects": url_for("margin.what_steps_do"),
        "facts": url_for("bench.facts"),
        "failing": url_for("margin.failing", scene_id=SCENE),
        "find": url_for("find.found"),
        "note": url_for("notes.new"),
        "name": url_for("margin.name_for"),
        "namePicture": url_for("dropped.name_picture", picture_id=SCENE),
        "reckoner": url_for("reckoner.page"),
        "remains": url_for("onto.remaining"),
        "remove": url_for("dropped.delete_picture", picture_id=SCENE),
        "save": url_for("slips.save"),
        "slips": url_for("slips.page"),
        "takeIn": url_for("dropped.take_in"),
        "verdicts": url_for("margin.verdicts"),
        "wall": url_for("wall.page"),
        "work": url_for("work.how_far", name=WORK),
        "render": {
            "picture": url_for("rendering.picture", scene_id=SCENE),
            "marks": url_for("overlays.marks", scene_id=SCENE),
            "zebra": url_for("overlays.zebra_stripes", scene_id=SCENE),
            "apart": url_for("overlays.apart", scene_id=SCENE),
            "guess": url_for("overlays.guessed", scene_id=SCENE),
        },
    }


def data() -> dict[str, Any]:
    """What a page's scripts are told: addresses, and keys with what they do."""
    return {
        "urls": urls(),
        "work": WORK,
        "limits": {"file": MOST_BYTES},
        "keys": [{"press": press, "act": act} for key in KEYS for press, act in key.acts],
    }


def _little_room() -> str:
    """What to say before a disk is full; nothing while there is room."""
    left = faults.free(place().folder)
    if left >= faults.LOW:
        return ""
    return (
        f"{left // 2**20} MB are left on the disk of the data folder. Make room there: once it is "
        "full, nothing more can be kept."
    )


def _words() -> dict[str, Any]:
    return {
        "screens": screens(),
        "current_screen": screen_of(request.endpoint),
        "keys": KEYS,
        "key_for": shown_for,
        "limits": LIMITS,
        "page_data": data,
        "told": told,
        "little_room": _little_room(),
        "on_device": is_shared(),
    }


def equip(app: Flask) -> None:
    """Give every template what all of them use."""
    app.context_processor(_words)
    app.jinja_env.bytecode_cache = FileSystemBytecodeCache(str(compiled.templates()), "%s.jinja")
    app.jinja_env.filters["revision"] = database.revision
    app.jinja_env.filters["when"] = lambda stamp: stamp[:16].replace("T", " ")

"""What a body is called that was learnt, and by which id it goes."""

import re
from dataclasses import replace

from ..base.errors import PlumError
from ..bodies import Body, Choice, shipped
from ..bodies.file import MOST_NAME

NOTHING = "own"  # what is left of a text without letters or digits


def slug(text: str, most: int = 36) -> str:
    """Letters and digits of a text, for an id."""
    made = re.sub(r"[^a-z0-9]+", "-", text.casefold()).strip("-")[:most].strip("-")
    return made or NOTHING


def called(name: str) -> tuple[str, str]:
    """A camera's name, tidied, and the id that its body gets: no one's that ships. PlumError where
    the name has neither letters nor digits."""
    tidy = " ".join(name.split())[:MOST_NAME]
    made = slug(tidy)
    if made == NOTHING:
        raise PlumError("Your camera needs a name with letters or digits.")
    return tidy, f"{made}-own" if made in shipped() else made


def renamed(body: Body, body_id: str) -> Body:
    """A body under another id, with its own styles."""
    ids = {s.id: f"{body_id}{s.id.removeprefix(body.id)}" for s in body.styles}

    def of(choice: Choice) -> Choice:
        own = choice.sets.get("style")
        return replace(choice, sets={**choice.sets, "style": ids[own]}) if own in ids else choice

    dials = tuple(replace(d, choices=tuple(map(of, d.choices))) for d in body.dials)
    styles = tuple(replace(s, id=ids[s.id]) for s in body.styles)
    return replace(body, id=body_id, dials=dials, styles=styles)

"""A day that is planned: when and where, in what weather, who comes with what."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from ..base.errors import PlumError
from ..fields.declared import says
from ..fields.kinds import Choice, Number, among
from ..fields.kinds import Day as Date
from ..reckon.sun import Place
from ..reckon.time import MAINS
from . import bag
from .lights import WEATHERS
from .places import PLACES, Named
from .shoot import NAME, TEXT

USUAL = PLACES[0]
THERE = ("latitude", "longitude", "zone", "mains")  # what is known of a known place


@dataclass(frozen=True)
class Day:
    """A day. `cases` are the cameras that come, by number; all of them where none is named. What is
    empty or None is not said."""

    on: date = says(Date(), "Date", key="date")
    name: str = says(NAME, "Name", "A day out")
    place: str = says(NAME, "Place", "")
    latitude: float = says(Number(-90, 90, unit="°"), "Degrees north", USUAL.latitude)
    longitude: float = says(Number(-180, 180, unit="°"), "Degrees east", USUAL.longitude)
    zone: str = says(NAME, "Time zone", USUAL.zone, note="As Europe/Berlin")
    mains: int = says(
        Choice(lambda: {hz: f"{hz} Hz" for hz in MAINS}, USUAL.mains),
        "Mains",
        USUAL.mains,
        note="Hertz",
    )
    weather: str = says(Choice(among(WEATHERS), "clear"), "Weather", "clear")
    people: str = says(TEXT, "Who comes", "", private=True)
    note: str = says(TEXT, "Note", "", private=True)
    filters: str = says(TEXT, "Grey filters in the bag", "", note="As ND8 67, ND64 72")
    celsius: float | None = says(Number(-60, 60, None, unit="°C"), "The coldest, °C", None)
    cases: tuple[int, ...] = ()

    @staticmethod
    def together(values: dict[str, Any]) -> dict[str, str]:
        """What its fields have to mean: filters that are some, and a zone that there is."""
        try:
            bag.read(values["filters"])
        except PlumError:
            return {"filters": "takes factor and thread, as ND8 67, ND64 72"}
        try:
            _ = Place(values["latitude"], values["longitude"], values["zone"]).clock
        except PlumError:
            return {"zone": "takes a zone by its name, as Europe/Berlin"}
        return {}

    @property
    def where(self) -> Place:
        """Where the sun is asked for."""
        return Place(self.latitude, self.longitude, self.zone)


def known(word: str) -> Named | None:
    """A place of the small list, by its name."""
    said = " ".join(word.split()).casefold()
    return next((p for p in PLACES if p.name.casefold() == said), None)


def completed(given: Mapping[str, Any]) -> dict[str, Any]:
    """What was said of a day, and of a known place what was not."""
    out = dict(given)
    there = known(str(given.get("place", "")))
    if there is not None:
        out["place"] = there.name
        for key in THERE:
            if out.get(key) in (None, ""):
                out[key] = getattr(there, key)
    return out

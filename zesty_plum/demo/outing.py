"""The crew's Saturday, planned."""

import sqlite3

from ..core.fields.declared import from_form
from ..core.outing.day import Day
from ..core.outing.shoot import Shoot
from ..store import cases, outings
from ..store.outings import Row

DAY = {
    "name": "Lantern Week, Saturday",
    "date": "2026-11-07",
    "place": "Saltmarsh Quay",
    "latitude": "54.3",
    "longitude": "10.1",
    "zone": "Europe/Berlin",
    "mains": "50",
    "weather": "broken cloud",
    "people": "Pier crew, night shift",
}
CREW, NIGHT = "pier crew", "night shift"
# From, to, what, light, lens, speed, near, pictures, minutes, who, camera, slot, scene.
SHOOTS = (
    ("06:30", "07:40", "Fog on the jetty", "out", 35, 1.2, 8, 140, 0, CREW, "A", "1", "jetty"),
    ("09:30", "11:30", "Kites on the beach", "out", 85, 4, 20, 420, 0, CREW, "A", "3", "beach"),
    ("12:15", "14:00", "Painters", "shade", 50, 0.3, 2, 260, 0, CREW, "A", "4", "painters"),
    ("15:20", "16:25", "Quay, low sun", "out", 50, 0.6, 4, 160, 0, CREW, "A", "1", "quayside"),
    ("17:15", "19:15", "Workshop", "lamps", 45, 0.2, 2, 200, 12, CREW, "A", "2", "workshop"),
    ("19:30", "22:00", "Procession", "lanterns", 35, 1.2, 4, 380, 25, NIGHT, "B", "", ""),
)
MUST = {"Workshop": "the youngest with her first lantern"}


def fill(db: sqlite3.Connection, now: str) -> None:
    """Put the day into a library that has the crew's cameras."""
    letters = {c.letter: c.id for c in cases.listed(db)}
    made = outings.add(db, from_form(Day, DAY), now)
    for (
        starts,
        ends,
        title,
        light,
        focal,
        speed,
        near,
        frames,
        minutes,
        who,
        at,
        slot,
        scene,
    ) in SHOOTS:
        said = {"from": starts, "to": ends, "title": title, "light": light, "focal": focal}
        said |= {"speed": speed, "near": near, "frames": frames, "minutes": minutes, "who": who}
        said |= {"must": MUST.get(title, "")}
        shoot = from_form(Shoot, said)
        outings.put_shoot(db, made.id, Row(0, shoot, letters.get(at), slot, scene))

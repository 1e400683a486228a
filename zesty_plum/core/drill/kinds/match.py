"""Match it by hand."""

from typing import Any

from ...base.errors import PlumError
from ...recipe import Recipe, make
from .. import matching, pairs
from ..matching import Match as Question
from .kind import Around, Data, Kind, Missed, Verdict, View, labs

HARDER = 3  # questions after which one dial more is off, where all are asked the same


class Match(Kind[Question]):
    """Two pictures: one is brought to the other by its dials."""

    id, title, about = "match", "Match it by hand", "bring yours to the other, in few steps"
    miss, flicks, ahead = "Not quite", True, ("a",)

    def ask(self, seed: int, number: int, around: Around) -> Question:
        """As in `Kind`."""
        level, clean = 1 + number // HARDER, around.right(self.id)
        if clean is not None:
            level = 1 + sum(clean) - sum(not c for c in clean)
        level = min(max(level, matching.EASIEST), matching.HARDEST)
        return matching.ask(seed, number, around.scenes, around.camera, level)

    def read(self, data: Data) -> Question:
        """As in `Kind`."""
        target = tuple((k, v) for k, v in data["target"])
        return Question(data["body"], data["scene"], tuple(data["dials"]), target)

    def line(self, question: Question, around: Around) -> str:
        """As in `Kind`."""
        many = "one of these dials" if len(question.target) == 1 else "some of these dials"
        where = f"{around.scene(question.scene).title} on {question.wanted.camera.name}"
        return f"{where}. Left is to be matched: {many} moved."

    def sides(self, question: Question, around: Around) -> dict[str, View]:
        """As in `Kind`."""
        return {"a": View(question.scene, question.wanted.look)}

    def judge(self, question: Question, said: str, around: Around) -> Verdict:
        """As in `Kind`."""
        mine, steps = tried(question, said)
        same, off = matching.matches(mine, question.wanted)
        words, size = matching.told(question, steps, off), float(question.shortest)
        if same:
            return Verdict(same, words, self.id, size)
        views = [View(question.scene, r.look) for r in (question.wanted, mine)]
        seen = pairs.shown(around.scene(question.scene), *labs(views, around))
        return Verdict(same, f"{words} They differ most at the mark.", self.id, size, seen.at)

    def missed(self, question: Question) -> Missed:
        """As in `Kind`."""
        cam = question.wanted.camera
        turned = (f"{cam.dial(k).label} {cam.dial(k).choice(v).label}" for k, v in question.target)
        return Missed(", ".join(turned), question.scene, "a")

    def more(self, question: Question, said: str | None, around: Around) -> dict[str, Any]:
        """As in `Kind`."""
        cam, wanted = question.wanted.camera, question.wanted.dials
        mine, steps = tried(question, said or "0")
        dials = [
            {
                "id": name,
                "label": cam.dial(name).label,
                "values": [str(v) for v in cam.dial(name).values],
                "labels": [c.label for c in cam.dial(name).choices],
                "at": cam.dial(name).position(mine.dials[name]),
                "wanted": cam.dial(name).choice(wanted[name]).label,
            }
            for name in question.dials
        ]
        shipped = make("x", question.body, {})
        return {"dials": dials, "steps": steps, "yours": mine, "shipped": shipped}


def tried(match: Question, said: str) -> tuple[Recipe, int]:
    """What somebody turned to match, and in how many steps: 7;shift_red=2;colour=-1."""
    head, *rest = said.split(";")
    cam = match.wanted.camera
    given = dict(part.split("=", 1) for part in rest if "=" in part)
    dials = {}
    for name in match.dials:
        by_text = {str(v): v for v in cam.dial(name).values}
        if name in given:
            if given[name] not in by_text:
                raise PlumError(f"{cam.dial(name).label} cannot be set to '{given[name][:20]}'.")
            dials[name] = by_text[given[name]]
    return make("Yours", match.body, dials), int(head) if head.isdigit() else 0

"""What clashes on a day: one person in two places, a camera twice at once, ways that are too long,
and light that is over before somebody is there."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from .power import Planned, clock, titles

BRIEF = ("low sun", "dawn", "dusk")  # bands of light that people come for


@dataclass(frozen=True)
class Clash:
    """A sentence, and the places of the shoots that it is about, in their order."""

    words: str
    shoots: tuple[int, ...]


def clashes(planned: Sequence[Planned]) -> list[Clash]:
    """People and cameras that are wanted twice at once, and ways between shoots."""
    out, called = [], titles(planned)
    for k, one in enumerate(planned):
        for m, two in enumerate(planned[k + 1 :], k + 1):
            a, b = one.shoot, two.shoot
            if max(a.starts, b.starts) >= min(a.ends, b.ends):
                continue
            both = f"'{called[k]}' and '{called[m]}' at once"
            if a.who and a.who == b.who:
                out.append(Clash(f"{a.who} is at {both}.", (k, m)))
            if one.id and one.id == two.id:
                out.append(Clash(f"{one.camera} is wanted for {both}.", (k, m)))
    for m in range(len(planned)):
        late = arrives(planned, m) - planned[m].shoot.starts
        if late > 0:
            shoot = planned[m].shoot
            out.append(Clash(_late(shoot.who, called[m], shoot.walk, shoot.starts + late), (m,)))
    return out


def _late(who: str, title: str, walk: float, there: int) -> str:
    who = f"{who} is there" if who else "you are there"
    return f"The way to '{title}' takes {walk:g} min: {who} at {clock(there)}."


def arrives(planned: Sequence[Planned], place: int) -> int:
    """The minute at which whoever does a shoot can be there: after what they did before, and the
    way; its own begin where nothing keeps them."""
    shoot = planned[place].shoot
    before = [
        p.shoot.ends
        for p in planned
        if p.shoot.starts < shoot.starts
        and p.shoot.who == shoot.who
        and p.shoot.ends <= shoot.starts
    ]
    if not before or not shoot.walk:
        return shoot.starts
    return max(shoot.starts, max(before) + round(shoot.walk))


Band = Callable[[int], str]


def missed_light(planned: Sequence[Planned], band: Band) -> list[Clash]:
    """Shoots of low sun, dawn or dusk whose light is over when people get there; `band` names the
    light of a minute."""
    out, called = [], titles(planned)
    for k, one in enumerate(planned):
        shoot = one.shoot
        wanted = band(shoot.starts)
        if shoot.light != "out" or wanted not in BRIEF:
            continue
        there = arrives(planned, k)
        if band(there) == wanted:
            continue
        over = next(m for m in range(shoot.starts, there + 1) if band(m) != wanted)
        words = f"'{called[k]}': {wanted} is over at {clock(over)}, and the way there ends at "
        out.append(Clash(f"{words}{clock(there)}.", (k,)))
    return out

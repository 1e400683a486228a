"""Cards, batteries and heat of a day, and what to look at before it begins."""

import re
from collections.abc import Iterable, Sequence

from ...core.outing import bag, clash, power
from ...core.outing.clash import Clash
from ...store import cases
from ...store.cases import Case
from ...store.outings import Outing
from ..context import db
from .day import Card
from .kept import Kept, Stands
from .sky import band

QUIET = ("ceremony", "vows", "wedding", "concert", "speech", "service")
FLYING = ("drone", "from the air", "flying")


def gigabytes(case: Case) -> float:
    """What a camera's cards hold together, as it is said of them: 2 of 64 GB, both the same."""
    found = re.search(r"(?:(\d+)\s*of\s*)?(\d+(?:\.\d+)?)\s*(GB|TB)", case.cards, re.IGNORECASE)
    if not found:
        return 0.0
    each = float(found[2]) * (1000 if found[3].upper() == "TB" else 1)
    many = int(found[1] or 1)
    mode = cases.beside_of(db(), case).get("two_cards", "same")
    return each * many if many > 1 and mode == "in_turn" else each


def planned(made: Iterable[Card]) -> list[power.Planned]:
    """The shoots with what their files take."""
    return [
        power.Planned(
            c.row.shoot,
            c.case.name if c.case else "",
            _megabytes(c),
            float(c.gear.look.bit_rate),
            c.gear.look.rate,
            c.gear.look.frame_size,
        )
        for c in made
    ]


def uses(made: Sequence[Card]) -> list[power.Use]:
    """What cards take over the day."""
    return power.cards(planned(made), {c.case.name: gigabytes(c.case) for c in made if c.case})


def clashes(outing: Outing, made: Sequence[Card]) -> list[Clash]:
    """What clashes: people, cameras, ways, light, filters, and cards that are full."""
    every = planned(made)
    out = clash.clashes(every) + clash.missed_light(every, lambda m: band(outing, m))
    has = bag.read(outing.said.filters)
    for card in made:
        shoot = card.row.shoot
        stops = card.needs.exposure.filter or shoot.grey
        words = bag.lacks(has, 2.0 ** round(stops), shoot.thread, shoot.title)
        if words:
            out.append(Clash(words, (card.number,)))
    for use in uses(made):
        if use.full_at:
            at = next(c.number for c in made if c.case and c.case.name == use.camera
                      and c.row.shoot.title == use.full_at)  # fmt: skip
            out.append(Clash(use.words, (at,)))
    return out


def lasting(outing: Outing, made: Sequence[Card], used: Sequence[power.Use]) -> list[str]:
    """What of cards, batteries and cameras does not last, or is too slow, in sentences."""
    out = [use.words for use in used if not use.full_at]
    known = {c.case.name: c.case for c in made if c.case}
    for use in used:
        case = known[use.camera]
        mine = [c for c in made if c.case == case]
        rates = [c.gear.look.bit_rate for c in mine if c.row.shoot.minutes]
        most = max(rates, default=0.0)
        out.append(power.at_less(use, most, _slower(case, most)))
        out.append(power.batteries(use, case.batteries, case.charge, outing.said.celsius))
        out.append(power.too_slow(case.name, case.cards, most))
        limit = str(cases.beside_of(db(), case).get("heat", ""))
        out += [power.hot(p, limit, case.hot) for p in planned(mine) if p.shoot.minutes]
    return [words for words in out if words]


def _slower(case: Case, megabits: float) -> float:
    """The next lower bit rate that a camera has; the same where there is none."""
    rates = {
        float(c.sets["bit_rate"])
        for d in case.camera.dials
        for c in d.choices
        if "bit_rate" in c.sets
    }
    return max((r for r in rates if r < megabits), default=megabits)


def _megabytes(card: Card) -> float:
    """Of a shot: about a third of a megabyte a megapixel for a picture, and 1.3 for a raw, which
    is packed."""
    if card.case is None:
        return 20.0
    wide = card.case.camera.sensor.width
    megapixels = wide * wide / 1.5 / 1e6
    files = cases.beside_of(db(), card.case).get("files", "picture")
    picture, raw = 0.35 * megapixels, 1.3 * megapixels
    return {"picture": picture, "raw": raw}.get(str(files), picture + raw)


def before(outing: Outing, made: Sequence[Card], kept: Kept) -> list[str]:
    """What to look at before the day begins, from the plan and the kit."""
    titles = " ".join(c.row.shoot.title.casefold() for c in made)
    quiet = any(word in titles for word in QUIET)
    out, comes = [], {c.case.id: c.case for c in made if c.case}
    for case in comes.values():
        out += _of_camera(case, kept.of(case), quiet)
    if len(comes) > 1:
        out.append("Clocks of all cameras the same" + _off([*comes.values()]))
    if outing.said.filters and any(c.needs.exposure.filter or c.row.shoot.grey for c in made):
        out.append(f"In the bag: {outing.said.filters}")
    if comes:
        out.append("Batteries charged, cards formatted after two copies")
        out.append("Erasing all takes what is not protected: copy first")
    return [*out, *_cautions(made, titles)]


def _of_camera(case: Case, at: Stands, quiet: bool) -> list[str]:
    if at.last is None:
        return [f"{case.name}: read its card, nobody knows what is in it"]
    out, beside = [], at.last.state.beside
    if at.wrong:
        out.append(f"{case.name}: put slot {', '.join(at.wrong)} right")
    else:
        out.append(f"{case.name}: slots as planned, read {at.last.read_at[:10]}")
    if beside.get("without_card") == "allowed":
        out.append(f"“Shoot without card” is allowed on {case.name}")
    if quiet and beside.get("switch_off") not in (None, "never"):
        out.append(f"{case.name} switches itself off: set it to never for the ceremony")
    if quiet and beside.get("sounds") == "on":
        out.append(f"{case.name} beeps: sounds off for the ceremony")
    if beside.get("flash") == "on" and beside.get("finder") == "file":
        out.append(f"{case.name}: with flash in the dark, the finder not as the file")
    return out


def _off(every: Sequence[Case]) -> str:
    told = [f"{c.name} is {abs(c.ahead)} s {'ahead' if c.ahead > 0 else 'behind'}"
            for c in every if c.ahead]  # fmt: skip
    return f": {', '.join(told)}" if told else ""


def _cautions(made: Sequence[Card], titles: str) -> list[str]:
    out = []
    if any(c.light.label.startswith("low sun") for c in made):
        out.append("Low sun: never aim an optical finder at it; a grey filter is no sun filter")
    if any(c.row.shoot.light == "stage" for c in made):
        out.append("Strobing light can trouble people: warn them, and follow the house's rules")
    if any(word in titles for word in FLYING):
        out.append("Flying cameras: local rules say where, how high, and over whom")
    if any(c.row.shoot.minutes for c in made):
        out.append("People in clips: ask them, local rules go first")
    return out

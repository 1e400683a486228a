"""Cards, batteries and heat of a day with the cameras that come, and what to look at before it
begins."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from ..bodies import Body, Value
from ..kit.case import About, gigabytes
from . import bag, clash, power
from .clash import Clash
from .lights import Light
from .shoot import Gear, Shoot

# Words of titles that ask for silence, and for the rules of flying.
QUIET = ("ceremony", "vows", "wedding", "concert", "speech", "service")
FLYING = ("drone", "from the air", "flying")
PICTURE, RAW = 0.35, 1.3  # megabytes a megapixel of a picture, and of a raw, which is packed
UNKNOWN = 20.0  # megabytes of a picture of nobody knows which camera


@dataclass(frozen=True)
class Camera:
    """A camera that comes: its id, what it is called, what is said of it, what is planned beside
    its look, and as its card was read last: when, with what, and which slots are not as planned."""

    id: int
    called: str
    about: About
    body: Body
    planned: Mapping[str, Value] = field(default_factory=dict)
    read_at: str = ""
    found: Mapping[str, Value] = field(default_factory=dict)
    wrong: tuple[str, ...] = ()

    @property
    def holds(self) -> float:
        """Gigabytes of its cards."""
        return gigabytes(self.about.cards, str(self.planned.get("two_cards", "same")))

    @property
    def megabytes(self) -> float:
        """Of a shot: of the picture, the raw, or both, as its files are planned."""
        wide = self.body.sensor.width
        megapixels = wide * wide / 1.5 / 1e6
        picture, raw = PICTURE * megapixels, RAW * megapixels
        files = str(self.planned.get("files", "picture"))
        return {"picture": picture, "raw": raw}.get(files, picture + raw)

    def slower(self, megabits: float) -> float:
        """The next lower bit rate that it has; the same where there is none."""
        choices = [c for d in self.body.dials for c in d.choices if "bit_rate" in c.sets]
        rates = {float(c.sets["bit_rate"]) for c in choices}
        return max((r for r in rates if r < megabits), default=megabits)


@dataclass(frozen=True)
class Job:
    """A shoot of a day, with its gear, its light, stops of a grey filter that it wants, and its
    camera, if it has one."""

    shoot: Shoot
    gear: Gear
    light: Light
    filter: float = 0.0
    camera: Camera | None = None


def planned(jobs: Iterable[Job]) -> list[power.Planned]:
    """The shoots with what their files take."""
    return [
        power.Planned(
            job.shoot,
            job.camera.called if job.camera else "",
            job.camera.megabytes if job.camera else UNKNOWN,
            float(job.gear.look.bit_rate),
            job.gear.look.rate,
            job.gear.look.frame_size,
            job.camera.id if job.camera else 0,
        )
        for job in jobs
    ]


def cameras(jobs: Iterable[Job]) -> dict[int, Camera]:
    """The cameras that come, by id."""
    return {job.camera.id: job.camera for job in jobs if job.camera}


def uses(jobs: Sequence[Job]) -> list[power.Use]:
    """What cards take over the day."""
    return power.cards(planned(jobs), {k: c.holds for k, c in cameras(jobs).items()})


def clashes(jobs: Sequence[Job], filters: str, band: clash.Band) -> list[Clash]:
    """What clashes: people, cameras, ways, light, `filters` in the bag, and cards that are full."""
    every = planned(jobs)
    out = clash.clashes(every) + clash.missed_light(every, band)
    has, titles = bag.read(filters), power.titles(every)
    for k, job in enumerate(jobs):
        stops = job.filter or job.shoot.grey
        words = bag.lacks(has, 2.0 ** round(stops), job.shoot.thread, titles[k])
        if words:
            out.append(Clash(words, (k,)))
    full = [use for use in uses(jobs) if use.full_at is not None]
    return [*out, *(Clash(use.words, (use.full_at,)) for use in full if use.full_at is not None)]


def lasting(jobs: Sequence[Job], celsius: float | None) -> list[str]:
    """What of cards, batteries and cameras does not last, or is too slow, in sentences."""
    used, every = uses(jobs), cameras(jobs)
    out = [use.words for use in used if use.full_at is None]
    for use in used:
        camera = every[use.id]
        mine = [job for job in jobs if job.camera and job.camera.id == use.id]
        most = max((job.gear.look.bit_rate for job in mine if job.shoot.minutes), default=0.0)
        out.append(power.at_less(use, most, camera.slower(most)))
        about = camera.about
        out.append(power.batteries(use, about.batteries, about.charge, celsius))
        out.append(power.too_slow(camera.called, about.cards, most))
        limit = str(camera.planned.get("heat", ""))
        out += [power.hot(p, limit, about.hot) for p in planned(mine) if p.shoot.minutes]
    return [words for words in out if words]


def before(jobs: Sequence[Job], filters: str) -> list[str]:
    """What to look at before the day begins, from the plan and the kit."""
    titles = " ".join(job.shoot.title.casefold() for job in jobs)
    quiet, comes = _speaks_of(titles, QUIET), list(cameras(jobs).values())
    out = [words for camera in comes for words in _of_camera(camera, quiet)]
    if len(comes) > 1:
        out.append("Clocks of all cameras the same" + _off(comes))
    if filters and any(job.filter or job.shoot.grey for job in jobs):
        out.append(f"In the bag: {filters}")
    if comes:
        out.append("Batteries charged, cards formatted after two copies")
        out.append("Erasing all takes what is not protected: copy first")
    return [*out, *_cautions(jobs, titles)]


def _speaks_of(titles: str, words: Iterable[str]) -> bool:
    return any(re.search(rf"\b{re.escape(word)}", titles) for word in words)


def _of_camera(camera: Camera, quiet: bool) -> list[str]:
    name, beside = camera.called, camera.found
    if not camera.read_at:
        return [f"{name}: read its card, nobody knows what is in it"]
    if camera.wrong:
        out = [f"{name}: put slot {', '.join(camera.wrong)} right"]
    else:
        out = [f"{name}: slots as planned, read {camera.read_at[:10]}"]
    if beside.get("without_card") == "allowed":
        out.append(f"“Shoot without card” is allowed on {name}")
    if quiet and beside.get("switch_off") not in (None, "never"):
        out.append(f"{name} switches itself off: set it to never for the ceremony")
    if quiet and beside.get("sounds") == "on":
        out.append(f"{name} beeps: sounds off for the ceremony")
    if beside.get("flash") == "on" and beside.get("finder") == "file":
        out.append(f"{name}: with flash in the dark, the finder not as the file")
    return out


def _off(every: Sequence[Camera]) -> str:
    told = [
        f"{c.called} is {abs(c.about.ahead)} s {'ahead' if c.about.ahead > 0 else 'behind'}"
        for c in every
        if c.about.ahead
    ]
    return f": {', '.join(told)}" if told else ""


def _cautions(jobs: Sequence[Job], titles: str) -> list[str]:
    out = []
    if any(job.light.band == "low sun" for job in jobs):
        out.append("Low sun: never aim an optical finder at it; a grey filter is no sun filter")
    if any(job.shoot.light == "stage" for job in jobs):
        out.append("Strobing light can trouble people: warn them, and follow the house's rules")
    if _speaks_of(titles, FLYING):
        out.append("Flying cameras: local rules say where, how high, and over whom")
    if any(job.shoot.minutes for job in jobs):
        out.append("People in clips: ask them, local rules go first")
    return out

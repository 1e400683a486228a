"""Many people at once: each steps dials on a scene of their own, as a browser does it: the picture,
then what is said of it, now and then a page."""

import http.client
import json
import random
import threading
import time
from dataclasses import dataclass, field
from urllib.parse import urlencode, urlsplit

from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies

PAGES = ("/slips", "/bench", "/wall", "/blind")
REST = 0.3  # seconds that a hand rests before verdicts are asked for


@dataclass
class Seen:
    """What came back: seconds by kind of request, and everything that was no proper answer."""

    picture: list[float] = field(default_factory=list)
    figures: list[float] = field(default_factory=list)
    mends: list[float] = field(default_factory=list)
    page: list[float] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)

    def add(self, other: "Seen") -> None:
        """Take in what another client saw."""
        for kind in ("picture", "figures", "mends", "page", "faults"):
            getattr(self, kind).extend(getattr(other, kind))


def percentile(values: list[float], share: float) -> float:
    """The value below which a share of them lies."""
    return sorted(values)[min(len(values) - 1, int(share * len(values)))] if values else 0.0


class Client:
    """One person at one browser window, with a connection for pictures and one for figures."""

    def __init__(self, address: str, number: int) -> None:
        self._host = urlsplit(address).netloc
        self.dice, self.seen, self.number = random.Random(number), Seen(), number
        self._lines = {k: http.client.HTTPConnection(self._host, timeout=120) for k in "pf"}
        self.camera = self.dice.choice(list(bodies().values()))
        self.scene = self.dice.choice(list(scenes.index()))
        self.dials = dict(self.camera.complete({}))
        self._asks = 0

    def _get(self, line: str, url: str, **headers: str) -> tuple[float, int, bytes]:
        """Seconds, status and body. As browsers do, asks again once when a connection that was
        kept has been closed meanwhile."""
        begun, connection = time.perf_counter(), self._lines[line]
        for again in (False, True):
            kept = connection.sock is not None
            try:
                connection.request("GET", url, headers=headers)
                answer = connection.getresponse()
                body = answer.read()
                break
            except (OSError, http.client.HTTPException) as error:
                connection.close()
                if again or not kept or not isinstance(error, ConnectionError):
                    self.seen.faults.append(f"{url[:80]}: {error!r}")
                    return time.perf_counter() - begun, 0, b""
        if answer.status >= 400:
            self.seen.faults.append(f"{url[:80]}: {answer.status} {body[:120]!r}")
        return time.perf_counter() - begun, answer.status, body

    def _query(self, **more: str) -> str:
        return urlencode(
            {"body": self.camera.id, "body_edition": str(self.camera.edition)}
            | {k: str(v) for k, v in self.dials.items()}
            | more
        )

    def step(self, figures: bool = True) -> None:
        """Turn a dial by one place, look, and read what is said."""
        dial = self.dice.choice(self.camera.dials)
        at = dial.position(self.dials[dial.id]) + self.dice.choice((-1, 1))
        self.dials[dial.id] = dial.values[max(0, min(at, len(dial.values) - 1))]
        self._asks += 1
        window = f"w{id(self)}"
        url = f"/render/{self.scene}.jpg?{self._query(width='720')}"
        took, status, body = self._get("p", url, **{"Plum-Ask": f"{window}p.{self._asks}"})
        if status == 200 and not body.startswith(b"\xff\xd8"):
            self.seen.faults.append(f"{url[:80]}: no JPEG")
        self.seen.picture.append(took)
        if not figures:
            return
        time.sleep(REST)
        asked = {"scene": self.scene, "line": dial.id}
        took, _, _ = self._get("f", f"/bench/facts?{self._query(**asked)}")
        for kind, later in (("figures", {"mends": "later"}), ("mends", {})):
            self._asks += 1
            ask = f"{window}v.{self._asks}"
            url = f"/bench/verdicts?{self._query(**asked, **later, ask=ask)}"
            more, status, body = self._get("f", url, Accept="application/json")
            getattr(self.seen, kind).append(took + more)
            if status != 200 or not json.loads(body):
                return
            took = 0.0

    def page(self) -> None:
        """Open a page."""
        took, _, _ = self._get("p", self.dice.choice(PAGES))
        self.seen.page.append(took)

    def work(self, until: float, pause: float) -> None:
        """Step until a moment, `pause` seconds between steps on average."""
        time.sleep(self.dice.random() * min(pause, 8))
        while time.perf_counter() < until:
            begun = time.perf_counter()
            self.step(figures=pause > 0 or self.dice.random() < 0.3)
            if self.dice.random() < 0.1:
                self.page()
            rest = self.dice.uniform(0.5, 1.5) * pause - (time.perf_counter() - begun)
            time.sleep(max(0.0, min(rest, until - time.perf_counter())))
        for line in self._lines.values():
            line.close()


def run(address: str, many: int, seconds: float, pause: float) -> Seen:
    """What `many` clients saw in some seconds."""
    until = time.perf_counter() + seconds
    clients = [Client(address, k) for k in range(many)]
    threads = [threading.Thread(target=c.work, args=(until, pause)) for c in clients]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    seen = Seen()
    for client in clients:
        seen.add(client.seen)
    return seen


def told(seen: Seen) -> str:
    """Counts, medians and 95th percentiles in a line."""
    parts = [f"{len(seen.faults)} faults"]
    for kind in ("picture", "figures", "mends", "page"):
        values = getattr(seen, kind)
        parts.append(
            f"{kind} {len(values)}: {percentile(values, 0.5) * 1000:.0f} ms, p95 "
            f"{percentile(values, 0.95) * 1000:.0f}, worst {max(values, default=0) * 1000:.0f}"
        )
    return "; ".join(parts)

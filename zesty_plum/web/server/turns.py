"""Who goes first when many ask at once: a picture that somebody waits for before small ones, those
before figures, those before what could be done about them, and long work last; within each, people
in turn. What is not wanted any more ends before it is begun, or between two steps."""

import itertools
import threading
import time
from collections import Counter, OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from enum import IntEnum

from flask import has_request_context, request, session

from ...core.base.errors import PlumError
from ..frame.values import whole

HANDS = 3  # pieces of work at once: each keeps one core busy, and a second one part of the time
MOST_WAITING, MOST_OF_ONE = 400, 60
MOST_REMEMBERED = 500  # people and windows
# Seconds after which something that waits is as urgent as a picture, so that nothing starves; and
# the same of what comes after figures.
PATIENCE, LONG_PATIENCE = 2.0, 10.0
LOOK = 0.2  # seconds between two looks whether somebody still waits for the answer


class Rank(IntEnum):
    """Kinds of work, the most urgent first."""

    PICTURE = 0
    SMALL = 1
    FIGURES = 2
    MENDS = 3  # what could be done about a verdict, which is read after it
    LONG = 4  # in many steps, of one at a time
    LARGE = 5  # long work that takes much memory: none is begun before the one before it is over


class Superseded(PlumError):
    """Nobody waits for this any more."""

    def __init__(self) -> None:
        super().__init__("Something newer was asked for, so this was not worked out.")


class Busy(PlumError):
    """More is asked for at once than can wait."""


@dataclass(eq=False)
class _Ticket:
    rank: Rank
    client: str
    number: int
    since: float
    begun: bool
    granted: threading.Event = field(default_factory=threading.Event)

    @property
    def urgency(self) -> int:
        """The rank, or the first one when it has waited for long."""
        patience = PATIENCE if self.rank <= Rank.FIGURES else LONG_PATIENCE
        return 0 if time.monotonic() - self.since > patience else int(self.rank)


class Turns:
    """Hands out `hands` turns at a time."""

    def __init__(self, hands: int = HANDS) -> None:
        self._free, self._lock = hands, threading.Lock()
        self._waiting: list[_Ticket] = []
        self._of_one: Counter[str] = Counter()
        self._long = self._large = 0
        self._served: OrderedDict[str, int] = OrderedDict()
        self._numbers, self._services = itertools.count(), itertools.count()
        self._here = threading.local()

    @contextmanager
    def turn(
        self, rank: Rank, client: str = "", wanted: Callable[[], bool] = lambda: True
    ) -> Iterator[Callable[[], None]]:
        """A turn for the work inside; gives what that work calls between steps, which lets more
        urgent work go first. Superseded where `wanted` says no while it waits or between steps,
        Busy where too many wait. Work inside work has its turn already."""
        if getattr(self._here, "has", False):
            yield self._here.pause
            return
        since = time.monotonic()
        self._wait(rank, client, wanted, since)

        def pause() -> None:
            if not wanted():
                raise Superseded
            if self._others_first(rank):
                self._leave(rank)
                self._here.has = False
                self._wait(rank, client, wanted, since, begun=True)
                self._here.has = True

        self._here.has, self._here.pause = True, pause
        try:
            yield pause
        finally:
            with self._lock:
                self._large -= rank == Rank.LARGE
            if self._here.has:
                self._here.has = False
                self._leave(rank)
            else:
                with self._lock:
                    self._grant()

    def _wait(
        self,
        rank: Rank,
        client: str,
        wanted: Callable[[], bool],
        since: float,
        begun: bool = False,
    ) -> None:
        with self._lock:
            ticket = _Ticket(rank, client, next(self._numbers), since, begun)
            crowded = len(self._waiting) >= MOST_WAITING or self._of_one[client] >= MOST_OF_ONE
            if crowded and not begun:
                raise Busy("Too much is asked for at once. Wait a moment, then try again.")
            self._waiting.append(ticket)
            self._of_one[client] += 1
            self._grant()
        while not ticket.granted.wait(LOOK):
            if not wanted():
                break
        if not wanted():
            self._withdraw(ticket)
            raise Superseded

    def _withdraw(self, ticket: _Ticket) -> None:
        with self._lock:
            if ticket.granted.is_set():
                self._return(ticket.rank)
                self._large -= ticket.rank == Rank.LARGE and not ticket.begun
            else:
                self._remove(ticket)
            self._grant()

    def _leave(self, rank: Rank) -> None:
        with self._lock:
            self._return(rank)
            self._grant()

    def _return(self, rank: Rank) -> None:
        self._free += 1
        self._long -= rank >= Rank.LONG

    def _remove(self, ticket: _Ticket) -> None:
        self._waiting.remove(ticket)
        self._of_one[ticket.client] -= 1
        if not self._of_one[ticket.client]:
            del self._of_one[ticket.client]

    def _others_first(self, rank: Rank) -> bool:
        with self._lock:
            return any(
                t.rank < rank or (rank >= Rank.LONG and self._able(t)) for t in self._waiting
            )

    def _able(self, ticket: _Ticket) -> bool:
        """Whether there is the memory for it."""
        return ticket.rank < Rank.LARGE or ticket.begun or not self._large

    def _order(self, ticket: _Ticket) -> tuple[int, bool, int, int]:
        """The lowest goes first. What was begun is finished before other work of its rank, for
        many half-done answers come later than the same one after another; long work, which may
        take minutes, goes round."""
        begun = ticket.begun and ticket.rank < Rank.LONG
        return (
            min(ticket.urgency, Rank.LONG),
            not begun,
            self._served.get(ticket.client, -1),
            ticket.number,
        )

    def _grant(self) -> None:
        """Give free hands to those who wait, the most urgent first, people in turn."""
        while self._free:
            able = [t for t in self._waiting if t.rank < Rank.LONG or not self._long]
            able = [t for t in able if self._able(t)]
            if not able:
                return
            ticket = min(able, key=self._order)
            self._remove(ticket)
            self._served[ticket.client] = next(self._services)
            self._served.move_to_end(ticket.client)
            while len(self._served) > MOST_REMEMBERED:
                self._served.popitem(last=False)
            self._free -= 1
            self._long += ticket.rank >= Rank.LONG
            self._large += ticket.rank == Rank.LARGE and not ticket.begun
            ticket.granted.set()


class Newest:
    """The newest question of each window."""

    def __init__(self) -> None:
        self._numbers: OrderedDict[str, int] = OrderedDict()
        self._lock = threading.Lock()

    def asked(self, ask: str) -> Callable[[], bool]:
        """Note a question 'window.number'; returns what says whether it is still the newest.
        Questions without a number always are."""
        window, _, text = ask.partition(".")
        window, number = window[:40], whole(text)
        if number is None:
            return lambda: True
        with self._lock:
            self._numbers[window] = max(number, self._numbers.pop(window, number))
            while len(self._numbers) > MOST_REMEMBERED:
                self._numbers.popitem(last=False)
        return lambda: self._numbers.get(window, number) <= number


turns, newest = Turns(), Newest()


def _client() -> str:
    """Who asks: a browser by its session, or else a connection."""
    known = session.get("csrf_token")
    return str(known or f"{request.remote_addr}:{request.environ.get('REMOTE_PORT', '')}")


@contextmanager
def turn(rank: Rank) -> Iterator[Callable[[], None]]:
    """A turn for the request in hand, for as long as it is the newest of its window (`ask` in the
    address, or the header Plum-Ask) and its connection stands."""
    if not has_request_context():
        with turns.turn(rank) as pause:
            yield pause
        return
    is_newest = newest.asked(request.args.get("ask") or request.headers.get("Plum-Ask", ""))
    gone = request.environ.get("waitress.client_disconnected", lambda: False)
    with turns.turn(rank, _client(), lambda: is_newest() and not gone()) as pause:
        yield pause

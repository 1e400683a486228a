"""Work that takes longer than a moment: it goes in steps, tells how far it is to the page that
asked, and ends when that page stops waiting."""

import re
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import TypeVar

from flask import Blueprint, has_request_context, jsonify, request
from werkzeug.wrappers import Response

from .turns import Rank, turn

blueprint = Blueprint("work", __name__)
HEADER = "Plum-Work"  # the name, made up by the page, under which it asks how far its work is
_NAME = re.compile(r"[a-z0-9]{8,40}")
MOST_KNOWN = 500
Item = TypeVar("Item")


@dataclass
class Work:
    """How far it is: `done` of `of` steps, or 0 of 0 where they are not known; `waits` for its
    turn. `pause` is called between steps."""

    words: str
    of: int = 0
    done: int = 0
    waits: bool = True
    pause: Callable[[], None] = field(default=lambda: None, repr=False)

    def steps(self, items: Iterable[Item]) -> Iterator[Item]:
        """The items, each a step."""
        for item in items:
            self.pause()
            yield item
            self.done += 1


_known: OrderedDict[str, Work] = OrderedDict()
_lock = threading.Lock()


def _named(work: Work) -> str:
    name = request.headers.get(HEADER, "") if has_request_context() else ""
    if not _NAME.fullmatch(name):
        return ""
    with _lock:
        _known[name] = work
        while len(_known) > MOST_KNOWN:
            _known.popitem(last=False)
    return name


@contextmanager
def long_work(words: str, of: int = 0, rank: Rank = Rank.LONG) -> Iterator[Work]:
    """A turn for long work of `of` steps, told of in `words`, such as 'Drawing the card'."""
    work = Work(words, of)
    name = _named(work)
    try:
        with turn(rank) as pause:
            work.waits, work.pause = False, pause
            yield work
    finally:
        with _lock:
            _known.pop(name, None)


@blueprint.get("/work/<name>")
def how_far(name: str) -> Response:
    """How far the work of a name is; nothing when it is done or was never begun."""
    with _lock:
        work = _known.get(name)
    if work is None:
        return jsonify({})
    return jsonify(words=work.words, done=work.done, of=work.of, waits=work.waits)

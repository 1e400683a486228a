"""Reading pairs, by one or by many hands; what was read can be kept, so that a lesson that was
stopped goes on where it was."""

import hashlib
import os
import pickle
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any

from ..base.errors import PlumError
from ..base.saving import save
from .pairs import LeftOut, Pair
from .shot import Shot, load

VERSION = 1  # of what is kept; another is read anew
Answer = Shot | LeftOut
# Does something for each of many, in their order, as `map` does.
HandOut = Callable[[Callable[[Any], Any], Sequence[Any]], Iterable[Any]]


def read_one(pair: Pair) -> Answer:
    """A pair laid over each other, or why it teaches nothing."""
    try:
        return load(pair.raw, pair.finished)
    except PlumError as error:
        return LeftOut(pair.name, str(error))
    except OSError as error:
        return LeftOut(pair.name, f"It cannot be read: {error.strerror}.")


def read_all(
    pairs: Sequence[Pair], hand_out: HandOut = map, keep: Path | None = None
) -> Iterator[tuple[Pair, Answer]]:
    """All pairs in their order; those that were read before from where they are kept."""
    there = {pair.name: _kept(pair, keep) for pair in pairs}
    missing = iter(hand_out(read_one, [p for p in pairs if there[p.name] is None]))
    for pair in pairs:
        known = there.pop(pair.name)
        made = known if known is not None else next(missing)
        if known is None and keep is not None and isinstance(made, Shot):
            keep.mkdir(exist_ok=True)
            save(keep / _key(pair), pickle.dumps(made))
        yield pair, made


def _key(pair: Pair) -> str:
    """What a pair is kept under: another once one of its files changes."""
    stats = [
        (path.name, s.st_size, s.st_mtime_ns)
        for path in (pair.raw, pair.finished)
        if (s := os.stat(path))
    ]
    return hashlib.sha256(repr((VERSION, stats)).encode()).hexdigest()[:24] + ".shot"


def _kept(pair: Pair, keep: Path | None) -> Shot | None:
    """What was read before; it lies in a folder that is its owner's alone, so it can be trusted as
    much as the program's own files."""
    if keep is None:
        return None
    # A file cut short or of another version fails in any of these ways, and is then read anew.
    broken = (EOFError, AttributeError, ImportError, ValueError, TypeError, LookupError)
    with suppress(OSError, pickle.UnpicklingError, *broken):
        made = pickle.loads((keep / _key(pair)).read_bytes())
        return made if isinstance(made, Shot) else None
    return None

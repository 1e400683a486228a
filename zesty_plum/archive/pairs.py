"""Reading the pairs that teach a camera, by many hands where there are many."""

import os
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import ExitStack, contextmanager
from typing import Any

from ..core.learn.reading import HandOut
from .folder import client_of

MANY = 24  # pairs from which starting other processes pays


def hands(pairs: int) -> int:
    """How many processes read so many pairs, if nobody says."""
    return min(os.cpu_count() or 1, 8) if pairs >= MANY else 1


@contextmanager
def handed_out(workers: int, cluster: str | None = None) -> Iterator[HandOut]:
    """Who reads: this process, so many others here, or those of the cluster at an address."""
    if workers < 2 and cluster is None:
        yield map
        return
    with ExitStack() as stack:
        client = stack.enter_context(client_of(stack, workers, cluster))

        def each(does: Callable[[Any], Any], of: Sequence[Any]) -> Iterable[Any]:
            for future in client.map(does, list(of), pure=False):
                yield future.result()

        yield each

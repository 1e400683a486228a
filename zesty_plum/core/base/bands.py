"""Rows of a picture worked on side by side: the kernels hold no lock, so plain threads suffice."""

import itertools
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

THREADS = 2
# rows below which a second thread costs more than it saves: small pictures come many at a time
SMALL = 200
MANY = 4096  # the same for single colours
pool = ThreadPoolExecutor(2 * THREADS, thread_name_prefix="develop")


def alone() -> None:
    """Use the calling thread only, where every core has a process of its own."""
    global THREADS
    THREADS = 1


def run(work: Callable[[int, int], Any], height: int, small: int = SMALL) -> None:
    """Call `work(top, end)` for bands that cover `height` rows, in one go below `small`."""
    if height < small:
        work(0, height)
        return
    edges = [height * k // THREADS for k in range(THREADS + 1)]
    waiting = [pool.submit(work, a, b) for a, b in itertools.pairwise(edges[1:])]
    work(edges[0], edges[1])
    for job in waiting:
        job.result()

"""A folder of pictures on one worker and on as many as the machine has cores."""

import os
import tempfile
import time
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path

import cv2
import numpy as np

from benchmarks.timing import Row
from zesty_plum.archive.folder import client_of
from zesty_plum.archive.one import DEVELOPED, develop_one
from zesty_plum.archive.shots import shots
from zesty_plum.core.recipe import dumps, make

SIZE = (2000, 3000)


def run(quick: bool) -> Iterator[Row]:
    """The speed-up of n workers of one thread each against one such worker."""
    pictures, rounds = (2, 1) if quick else (24, 3)
    recipe = dumps(
        make("Archive", "heron-m2", {"style": "linen", "sharpness": 1, "grain": "flour"})
    )
    cores = os.cpu_count() or 1
    with tempfile.TemporaryDirectory() as base, ExitStack() as stack:
        folder = Path(base) / "in"
        folder.mkdir()
        rng = np.random.default_rng(1)
        for k in range(pictures):
            rough = rng.integers(0, 255, (SIZE[0] // 40, SIZE[1] // 40, 3), np.uint8)
            cv2.imwrite(str(folder / f"{k}.jpg"), cv2.resize(rough, SIZE[::-1]))
        clients = {n: stack.enter_context(client_of(stack, n, None)) for n in {1, cores}}
        took: dict[int, list[float]] = {n: [] for n in clients}
        for turn in range(rounds + 1):  # the first to warm up
            for n, client in clients.items():
                out = Path(base) / f"out-{n}-{turn}"
                begun = time.perf_counter()
                asked = [
                    client.submit(develop_one, str(s.file), str(s.out), recipe, pure=False)
                    for s in shots(folder, out)
                ]
                assert {became for became, _ in client.gather(asked)} == {DEVELOPED}
                took[n].append(time.perf_counter() - begun)
        best = {n: min(times[1:]) for n, times in took.items()}
    # Of what so many workers would take if nothing held them up.
    name = f"a folder on {cores} workers, of 6 megapixels each"
    shown = f"{best[1] / pictures:.2f} s one by one"
    yield Row(name, shown, cores * best[cores] / best[1], "one worker's share", 1 / 0.9)

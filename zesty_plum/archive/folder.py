"""Handing the pictures of a folder out to workers, and gathering what became of them."""

from collections.abc import Callable
from contextlib import ExitStack
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ..core.base.errors import PlumError
from ..core.base.late import library
from ..core.bodies import file, shipped
from ..core.recipe import Recipe, dumps
from .one import FAILED, NOTHING, Keep, develop_one
from .shots import Shot, shots

Client = Any  # of a library that does not say its types
dask = library("distributed")

SECONDS = 15  # to find a cluster in


@dataclass(frozen=True)
class Outcome:
    """What became of a picture: its name, "developed", "there" or "failed", and why."""

    name: str
    became: str
    why: str = ""


def develop_folder(
    folder: Path,
    recipe: Recipe,
    out: Path,
    workers: int,
    cluster: str | None = None,
    told: Callable[[Outcome, int, int], None] = lambda outcome, done, of: None,
    keep: Keep = NOTHING,
) -> list[Outcome]:
    """Develop every picture of a folder into `out`, on so many processes here or on the cluster at
    an address, whose machines have to see both folders under the same names.

    `told` hears of each as it is done, with how many are and of how many. What is done stays done
    when this is broken off, and is left alone the next time.
    """
    every, camera = shots(folder, out), recipe.camera
    texts = dumps(recipe), "" if camera.id in shipped() else file.dumps(camera)
    found: dict[str, Outcome] = {}
    with ExitStack() as stack:
        client = stack.enter_context(client_of(stack, min(workers, len(every)), cluster))
        waiting = {_asked(client, shot, *texts, keep): shot for shot in every}
        for future in dask.as_completed(waiting):
            outcome = _outcome(waiting[future], future)
            found[outcome.name] = outcome
            told(outcome, len(found), len(every))
    return [found[shot.name] for shot in every]


def client_of(stack: ExitStack, workers: int, cluster: str | None) -> Client:
    """Who hands work out: to processes here, which end with the stack, or to a cluster."""
    if cluster is None:
        # Under certificates made for this run: others on the machine could else hand it work.
        local = dask.LocalCluster(
            n_workers=workers,
            threads_per_worker=1,
            processes=True,
            security=True,
            dashboard_address="127.0.0.1:0",  # none would mean a port that everybody sees
        )
        return dask.Client(stack.enter_context(local))
    try:
        return dask.Client(cluster, timeout=SECONDS)
    except (OSError, TimeoutError, ValueError) as error:
        raise PlumError(
            f"No cluster answers at '{cluster}'. Give its scheduler's address, as in "
            "tcp://192.168.1.20:8786, or leave it out to work here."
        ) from error


def _asked(client: Client, shot: Shot, recipe: str, body: str, keep: Keep) -> Any:
    at = str(shot.file.resolve()), str(shot.out.resolve())
    return client.submit(develop_one, *at, recipe, body, keep, pure=False)


def _outcome(shot: Shot, future: Any) -> Outcome:
    """What a worker says, or that it died of the picture."""
    try:
        became, why = future.result()
    except Exception as error:  # of every kind: a worker ended, or lacks the program
        return Outcome(shot.name, FAILED, f"A worker could not do it: {error}".split("\n")[0])
    return Outcome(shot.name, became, why)

"""Learning a body from a camera's own pictures."""

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..core.base.saving import save
from ..core.bodies import FIRST, body, file
from .common import BODY_FILES, EXAMPLE, JSON, print_json, read_bytes, told_faults

if TYPE_CHECKING:
    from ..core.learn.teach import Calibration


@click.command(
    epilog=EXAMPLE
    + "zesty-plum calibrate pairs -o turnstone.body.json --name Turnstone --settings pairs.csv"
)
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path))
@click.option("--name", default="", help="Name of the camera; the folder's when left out.")
@click.option("--settings", help="A CSV table with a row for each pair: file, style, dials.")
@click.option("--like", default=FIRST, show_default=True, help="The body whose dials it has.")
@click.option("--workers", type=click.IntRange(1, 256), help="Processes that read the pairs.")
@click.option("--cluster", help="Address of a Dask scheduler whose workers read them.")
@JSON
@BODY_FILES
@told_faults
def calibrate(
    folder: Path,
    output: Path,
    name: str,
    settings: str | None,
    like: str,
    workers: int | None,
    cluster: str | None,
    as_json: bool,
) -> None:
    """Learn how a camera renders from FOLDER with pairs of a raw and the picture that the camera
    made of it, X.dng and X.jpg, and write its body file."""
    from ..archive.pairs import handed_out, hands  # which no other command should wait for
    from ..core.learn.pairs import by_table, find
    from ..core.learn.teach import calibrate as learn

    def tell(what: str, done: int, of: int) -> None:
        click.echo(f"{what} ({done} of {of})" if of else what, err=True)

    table = partial(by_table, text=read_bytes(settings), like=body(like)) if settings else None
    folder = folder.resolve()  # workers may run elsewhere
    many = workers or (1 if cluster else hands(len(find(folder)[0])))
    with handed_out(many, cluster) as hand_out:
        made = learn(folder, body(like), name, table, tell, hand_out)
    save(output, file.dumps(made.body).encode())
    if as_json:
        print_json(_data(made))
    else:
        click.echo(_told(made))


def _data(made: "Calibration") -> dict[str, object]:
    sure = made.sure
    return {
        "body": made.body.id,
        "pairs_used": len(made.used),
        "used": list(made.used),
        "left_out": [{"file": one.name, "why": one.why} for one in made.left_out],
        "held_out": {
            **{"mean": sure.mean, "p95": sure.p95, "worst": sure.worst},
            "likely": [sure.low, sure.high],
        },
        "before": sure.before,
        "seen": {one.name: {"share": one.share, "error": one.error} for one in sure.seen},
        "notes": list(sure.notes),
        "styles": {
            style.name: {"pairs": style.sure.pairs, "mean": style.sure.mean} if style.sure else {}
            for style in made.body.styles
        },
        "dials": [
            {"id": s.dial, "times": s.times, "pairs": s.pairs, "moves": s.moves}
            for s in made.body.steps
        ],
    }


def _told(made: "Calibration") -> str:
    sure = made.sure
    lines = [
        f"{made.body.name}, learnt from {len(made.used)} pairs.",
        f"On pictures left out: {sure.mean:.2f} CIEDE2000 on average, {sure.p95:.1f} for the worst "
        f"twentieth; before {sure.before:.1f}. On others it lies between {sure.low:.2f} and "
        f"{sure.high:.2f} four times in five.",
        *sure.notes,
        *[f"{made.body.dial(s.dial).label}: {s.moves}" for s in made.body.steps],
        *[f"Left out: {one.name}. {one.why}" for one in made.left_out],
    ]
    return "\n".join(lines)

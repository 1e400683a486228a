"""What a recipe's purpose will show in the end: the file as it is, a raw as a plain raw editor
opens it, or a clip after a standard grade."""

from dataclasses import replace

from ..develop.grade import graded, standard_grade
from ..develop.pipeline import Picture, develop
from ..look import Look, Sensor, Stage, about
from ..recipe import Intent
from ..scenes.scene import Scene

ENDS = {
    Intent.FINISHED: "As the file is written",
    Intent.SAFETY_COPY: "As the file is written",
    Intent.QUICK_EDIT: "As the file is written",
    Intent.RAW_ONLY: "As a plain raw editor opens it: the look is gone",
    Intent.GRADE: "After a standard grade",
}


def opened(look: Look) -> Look:
    """What a raw editor that knows nothing of the look makes of its raw: exposure and balance stay,
    as they were when it was taken; the rest is Plain."""
    before = {n: getattr(look, n) for n, a in about().items() if a.stage is Stage.BEFORE}
    return replace(Look(), **before | {"clip": False})


def in_the_end(
    scene: Scene,
    look: Look,
    sensor: Sensor,
    intent: Intent,
    width: int,
    seed: int = 1,
    detail: bool = False,
) -> Picture:
    """The picture as its purpose ends; arguments as in `develop`."""
    if intent is Intent.RAW_ONLY:
        return develop(scene, opened(look), sensor, width, seed, detail)
    made = develop(scene, look, sensor, width, seed, detail, as_written=True)
    if intent is not Intent.GRADE:
        return made
    return replace(made, pixels=graded(made, standard_grade(scene, look, sensor)))

"""The stages that look at neighbours, in their order. A new one is a file of its own and a row
here.

They change only the brightness of a picture, after the table and before it is written. The noise
filter is not among them: it works before tone (`reduce_noise`).
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

from ..base.arrays import Array
from ..look import Look, at_rest
from . import clarity, detail, grain, soften
from .part import Part


@dataclass(frozen=True, slots=True)
class Local:
    """One stage: the fields of a look that are its own, what it does to brightness (h, w) in place;
    `far` that it has to know the whole picture, or else `reach`, how many pixels it looks away.

    `shape` is None for grain, which is added while the picture is written (`kernels.finish`).
    """

    fields: tuple[str, ...]
    shape: Callable[[Array, Look, Part], None] | None
    far: bool = False
    reach: float = 0.0

    def acts(self, look: Look) -> bool:
        """Whether a look asks for anything of it."""
        return any(getattr(look, name) != at_rest()[name] for name in self.fields)


STAGES = (
    Local(soften.FIELDS, soften.shape, reach=soften.REACH),
    Local(clarity.FIELDS, clarity.shape, far=True),
    Local(detail.FIELDS, detail.shape, reach=detail.REACH),
    Local(grain.FIELDS, None),
)


def shaped(luma: Array, look: Look, part: Part) -> None:
    """Put brightness through every stage that the look asks for, in place."""
    for stage in STAGES:
        if stage.shape is not None:
            stage.shape(luma, look, part)


def reach(look: Look) -> float:
    """How many pixels away the stages look that a look asks for, of those that do not know the
    whole picture."""
    return sum(stage.reach for stage in STAGES if stage.acts(look))


def looks_far(look: Look) -> bool:
    """Whether a look asks for a stage that has to know the whole picture."""
    return any(stage.far and stage.acts(look) for stage in STAGES)


def without(look: Look) -> Look:
    """The look with every stage at rest."""
    return replace(look, **{name: at_rest()[name] for s in STAGES for name in s.fields})

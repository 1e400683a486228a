"""The file of a blind round as a model. Apart from `rounds`, since its library takes a while to
load."""

from typing import Any

from pydantic import BaseModel, ConfigDict, Field, StrictInt, StrictStr, ValidationError

from ..core.base.errors import PlumError
from .rounds import FEWEST, MOST, MOST_ANSWERS, MOST_SCENES, MOST_SEED


class RoundFile(BaseModel):
    """The file of a round, as far as its shape goes."""

    model_config = ConfigDict(extra="ignore")

    person: StrictStr
    seed: StrictInt = Field(ge=0, le=MOST_SEED)
    scenes: list[StrictStr] = Field(min_length=1, max_length=MOST_SCENES)
    recipes: list[dict[str, Any]] = Field(min_length=FEWEST, max_length=MOST)
    answers: list[tuple[StrictInt, StrictInt, StrictInt, float]] = Field(max_length=MOST_ANSWERS)


def shaped(data: Any) -> RoundFile:
    """What a file holds; PlumError names what is not so."""
    try:
        return RoundFile.model_validate(data)
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"][:2]))
        raise PlumError(
            f"The file of this blind round has a fault in '{where}'. Ask for it again."
        ) from error

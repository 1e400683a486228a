"""The file of a drill as a model. Apart from `drills`, since its library takes a while to load."""

from typing import Any

from pydantic import BaseModel, ConfigDict, Field, StrictInt, StrictStr, ValidationError

from ..core.base.errors import PlumError
from .drills import FORMAT, MOST_EYES, MOST_MANY, MOST_NAME, MOST_SEED, VERSION


class _Said(BaseModel):
    model_config = ConfigDict(extra="allow")

    name: StrictStr = Field(min_length=1, max_length=MOST_NAME)
    right: list[bool] = Field(max_length=MOST_MANY)


class DrillFile(BaseModel):
    model_config = ConfigDict(extra="allow", title="Zesty Plum drill")

    format: StrictStr = Field(pattern=f"^{FORMAT}$")
    version: StrictInt = Field(ge=1, le=VERSION)
    kind: StrictStr
    seed: StrictInt = Field(ge=0, lt=MOST_SEED)
    many: StrictInt = Field(ge=1, le=MOST_MANY)
    answers: list[_Said] = Field(default=[], max_length=MOST_EYES)


def shaped(data: Any) -> DrillFile:
    """What a file holds; PlumError names what is not so."""
    try:
        return DrillFile.model_validate(data)
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"]))
        raise PlumError(f"This is no drill's file: '{where}' is missing or wrong.") from error

"""The recipe file as a model, from which its published JSON Schema is made.

Apart from `recipe`, since its library takes a while to load, and many a command reads no file."""

from typing import Any

from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    StrictFloat,
    StrictInt,
    StrictStr,
    ValidationError,
)

from ..base.errors import PlumError
from ..base.text import shortened
from . import FORMAT, MOST_AUTHOR, MOST_NAME, MOST_NOTE, VERSION, Intent


class RecipeFile(BaseModel):
    """The recipe file as a model; the published JSON Schema is made from it."""

    model_config = ConfigDict(extra="allow", title="Zesty Plum recipe")

    format: StrictStr = Field(description="Always 'zesty-plum-recipe'.", pattern=f"^{FORMAT}$")
    version: StrictInt = Field(description="Version of this format.", ge=1, le=VERSION)
    name: StrictStr = Field(min_length=1, max_length=MOST_NAME)
    body: StrictStr = Field(description="Id of a camera body.")
    body_edition: StrictInt | None = Field(
        default=None,
        description="Edition of the body that the dials are of; left out, its first.",
    )
    intent: Intent = Intent.FINISHED
    dials: dict[str, StrictInt | StrictFloat | StrictStr] = Field(
        default_factory=dict,
        description="Dial ids of the body with their values; left out means as shipped.",
    )
    note: StrictStr = Field(default="", max_length=MOST_NOTE)
    author: StrictStr = Field(default="", max_length=MOST_AUTHOR)


def shaped(data: Any) -> RecipeFile:
    """What a file holds, by type and length; PlumError names what is not so."""
    try:
        return RecipeFile.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise PlumError(
            f"The recipe file has a fault in '{_place(first)}': {first['msg']}."
        ) from error


def _place(error: Any) -> str:
    where = [str(p) for p in error["loc"]]
    return shortened(".".join(where[:2] if where[:1] == ["dials"] else where), 80)

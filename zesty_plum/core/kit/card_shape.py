"""card.json as a model, from which its published JSON Schema is made. Apart from `card`, since its
library takes a while to load."""

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StrictFloat, StrictInt, StrictStr
from pydantic import ValidationError as Invalid

from ..base.errors import PlumError
from ..base.text import shortened
from .card import FORMAT, MOST_NAME, VERSION

Number = StrictInt | StrictFloat | Annotated[StrictStr, Field(max_length=60)]
Dials = dict[Annotated[StrictStr, Field(max_length=40)], Number]


class _Part(BaseModel):
    model_config = ConfigDict(extra="allow", title="Zesty Plum settings card")


class _Slot(_Part):
    name: Annotated[StrictStr, Field(max_length=MOST_NAME)] = ""
    dials: Dials = {}


class CardFile(_Part):
    format: StrictStr = Field(pattern=f"^{FORMAT}$", description=f"Always '{FORMAT}'.")
    version: StrictInt = Field(ge=1, le=VERSION, description="Version of this format.")
    body: Annotated[StrictStr, Field(max_length=40)] = Field(description="Id of the body.")
    body_edition: StrictInt | None = Field(
        default=None, description="Edition of the body whose dials these are; left out: the first."
    )
    case: Annotated[StrictStr, Field(max_length=MOST_NAME)] = Field(
        default="", description="What its owner calls the camera."
    )
    written_at: Annotated[StrictStr, Field(max_length=40)] = ""
    slots: dict[Annotated[StrictStr, Field(max_length=8)], _Slot] = Field(
        default={}, description="By their keys: 1, 2, and c1 for clips. Left out: not written."
    )
    now: Dials | None = Field(default=None, description="What is set at present.")
    beside: Dials = Field(default={}, description="Settings beside the look.")


def shaped(data: Any) -> CardFile:
    """What a card holds, by type and length; PlumError names what is not so."""
    try:
        return CardFile.model_validate(data)
    except Invalid as error:
        first = error.errors()[0]
        where = shortened(".".join(map(str, first["loc"])), 80)
        raise PlumError(f"The settings card has a fault in '{where}': {first['msg']}.") from error

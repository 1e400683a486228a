"""Reading the code of a card back from a picture: a screenshot, or a file that lost its metadata on
the way."""

from ..pictures.apart import apart
from ..recipe import Recipe
from .code import holds, unpack


def scan(data: bytes) -> Recipe | None:
    """The recipe in the code that a JPEG or PNG shows, or None where there is none of ours."""
    return next((unpack(text) for text in apart.codes(data) if holds(text)), None)

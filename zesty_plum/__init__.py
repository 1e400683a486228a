"""Zesty Plum: design, see, compare and carry in-camera look recipes."""

import os

from . import compiled

__version__ = "0.1.0"
compiled.keep()
# Or pydantic looks through every installed package for extensions of itself, which takes as long
# as the rest of it.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

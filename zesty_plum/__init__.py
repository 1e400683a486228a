"""Zesty Plum: design, see, compare and carry in-camera look recipes."""

from . import compiled

__version__ = "0.1.0"
compiled.keep()

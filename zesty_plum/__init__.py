"""Zesty Plum: design, see, compare and carry in-camera look recipes."""

__version__ = "0.1.0"

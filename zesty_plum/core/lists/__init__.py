"""Lists of settings that somebody wrote down, read leniently and with a protocol of every piece."""

from .protocol import Kind, Piece, Protocol
from .read import MOST_LETTERS, Choice, read_list

__all__ = ["MOST_LETTERS", "Choice", "Kind", "Piece", "Protocol", "read_list"]

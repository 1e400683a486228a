"""Asking the C library to keep freed memory for the next picture instead of handing it back at
once.

Every stage makes arrays of some megabytes. By default glibc returns them to the system and the next
stage pays for fresh pages, which costs about as much as its arithmetic. One shared arena keeps what
is held bounded, and what lies free between things still in use is handed back now and then.
"""

import contextlib
import ctypes
import itertools

KEEP_BYTES = 24 * 2**20
TRIM_EVERY = 20  # pictures
_TRIM_THRESHOLD, _MMAP_THRESHOLD, _ARENA_MAX = -1, -3, -8  # from glibc's malloc.h


def keep_freed() -> bool:
    """Set it for this process; returns whether the C library took it (others than glibc do not)."""
    try:
        mallopt = ctypes.CDLL(None).mallopt
    except (AttributeError, OSError):
        return False
    wanted = ((_ARENA_MAX, 1), (_MMAP_THRESHOLD, 32 * 2**20), (_TRIM_THRESHOLD, KEEP_BYTES))
    taken = [mallopt(name, value) == 1 for name, value in wanted]
    return all(taken)


_pictures = itertools.count(1)


def picture_made() -> None:
    """Count a picture; after every twentieth the C library hands back what is free beyond
    `KEEP_BYTES` (a few ms)."""
    if next(_pictures) % TRIM_EVERY == 0:
        with contextlib.suppress(AttributeError, OSError):
            ctypes.CDLL(None).malloc_trim(KEEP_BYTES)

"""Asking the C library to keep freed memory for the next picture instead of handing it back at once.

Every stage makes arrays of some megabytes. By default glibc returns them to the system and the next stage pays for
fresh pages, which costs about as much as its arithmetic. One shared arena keeps what is held bounded.
"""

import ctypes

KEEP_BYTES = 64 * 2**20
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

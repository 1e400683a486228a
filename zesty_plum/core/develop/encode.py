"""Encode: the code values that a file really holds, full or limited range, 8 or 10 bit (ITU-R
BT.709 and BT.2100 levels)."""

import numpy as np

from ..base.arrays import Array


def levels(bits: int, limited: bool) -> tuple[int, int]:
    """Code values of black and white."""
    scale = 1 << (bits - 8)
    return (16 * scale, 235 * scale) if limited else (0, (1 << bits) - 1)


def code_values(encoded: Array, bits: int, limited: bool) -> Array:
    """Encoded values 0 to 1 as integers of a file (uint16)."""
    black, white = levels(bits, limited)
    return np.asarray(np.rint(black + np.clip(encoded, 0, 1) * (white - black)), np.uint16)


def quantised(encoded: Array, bits: int, limited: bool) -> Array:
    """What is left of encoded values after being written and read back: (...,) float32, 0 to 1."""
    black, white = levels(bits, limited)
    return (
        (code_values(encoded, bits, limited).astype(np.float32) - black) / (white - black)
    ).astype(np.float32)

"""The pixels of a scene, however they are kept: in memory, in a file that is decoded when somebody
looks, or as 16-bit samples. All are read by rows, so that a large picture is never whole in memory
as floats."""

from abc import ABC, abstractmethod
from collections.abc import Callable
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..base.arrays import Array, Mask
from ..base.cache import BoundedCache
from ..base.late import library

cv2 = library("cv2")

MOST_DRAWN = 36 * 2**20  # bytes of decoded frames of shipped scenes: two stay side by side
_drawn: BoundedCache[Array] = BoundedCache(MOST_DRAWN, lambda pixels: pixels.nbytes)


class Frame(ABC):
    """Pixels (h, w, 3), float32 when they are read."""

    shape: tuple[int, int, int]

    @abstractmethod
    def __getitem__(self, rows: slice) -> Array:
        """Rows as (n, w, 3) float32; do not write to them."""

    @property
    @abstractmethod
    def nbytes(self) -> int:
        """Memory held."""

    @cached_property
    def sparse(self) -> Array:
        """Every fourth pixel of every fourth row: colours as they are, not averaged with others."""
        return self[::4][:, ::4].copy()

    def middle(self, side: int) -> Array:
        """The middle of the frame, at most `side` pixels each way."""
        top, left = (max(0, (n - side) // 2) for n in self.shape[:2])
        return self[top : top + side][:, left : left + side]

    def shrunk(self, width: int, height: int) -> Array:
        """The whole frame averaged down to a size."""
        made = cv2.resize(self[:], (width, height), interpolation=cv2.INTER_AREA)
        return np.asarray(made, np.float32)


class Held(Frame):
    """Pixels in memory."""

    def __init__(self, pixels: Array) -> None:
        self._pixels = pixels
        self.shape = pixels.shape[0], pixels.shape[1], 3

    def __getitem__(self, rows: slice) -> Array:
        return self._pixels[rows]

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return self._pixels.nbytes


class Drawn(Frame):
    """Pixels of a file that can be decoded again, so only those looked at last are kept."""

    def __init__(self, read: Callable[[], Array]) -> None:
        self._read = read
        self.shape = self[:].shape[0], self[:].shape[1], 3

    def __getitem__(self, rows: slice) -> Array:
        return _drawn.make(self, self._read)[rows]

    @property
    def nbytes(self) -> int:
        """Memory held, beside the bounded store of frames."""
        return 0


class Deep(Frame):
    """16-bit samples (h, w, 3), in memory or in a mapped file; `light` turns samples as floats
    from 0 to 1 into the scene's pixels."""

    def __init__(
        self, samples: NDArray[np.uint16], light: Callable[[Array], Array] = lambda rows: rows
    ) -> None:
        self._samples, self._light = samples, light
        self.shape = samples.shape[0], samples.shape[1], 3

    def __getitem__(self, rows: slice) -> Array:
        return self._light(np.multiply(self._samples[rows], 1 / 65535, dtype=np.float32))

    def full(self, share: float) -> Mask:
        """Where one of a pixel's samples is at a share of what 16 bits hold, or above (h, w)."""
        return np.asarray((self._samples >= share * 65535).any(-1))

    def shrunk(self, width: int, height: int) -> Array:
        """Averaged in 16 bits, as averaging whole floats takes four times the memory."""
        made = cv2.resize(self._samples, (width, height), interpolation=cv2.INTER_AREA)
        return self._light(np.multiply(made, 1 / 65535, dtype=np.float32))

    @property
    def nbytes(self) -> int:
        """Memory held; of a mapped file the system takes back what it needs."""
        return self._samples.nbytes

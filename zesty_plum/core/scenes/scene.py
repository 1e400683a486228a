"""A scene: light to be photographed, and what is known of it."""

import math
import threading
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from ..base.arrays import Array, Bytes8
from ..base.cache import BoundedCache
from ..colour.spaces import srgb_decode
from . import telling
from .frame import Frame

MOST_METERED = 64  # settings of a meter whose answers are kept
SEARCHED = (
    2400  # pixels a side of a large picture's middle in which the most telling place is found
)


@dataclass(frozen=True)
class Light:
    """One kind of lamp or sky in a scene, and the illuminance in lux that it gives at the
    subject."""

    kind: str
    kelvin: float
    duv: float
    lux: float


@dataclass(frozen=True)
class Move:
    """What moves in a scene, in a word: how fast in metres a second across the frame, which way in
    degrees from the right against the clock, how many metres it comes before it turns back, and how
    many metres the width of the frame holds where it is. `within`: it stays in its outline, as
    water does."""

    what: str
    speed: float
    heading: float
    reach: float
    across: float
    within: bool = False

    def way(self, time: float) -> float:
        """Metres that it goes while the shutter is open for a time in seconds."""
        return self.reach * (1 - math.exp(-self.speed * time / self.reach))


class Close:
    """A detail plate with its masks; read once, at the first look at 100 percent."""

    def __init__(
        self,
        read: Callable[[], Array],
        read_mask: Callable[[], Bytes8],
        read_moves: Callable[[], Bytes8],
    ) -> None:
        self._read, self._read_mask, self._read_moves = read, read_mask, read_moves

    @cached_property
    def plate(self) -> Array:
        """Linear Rec.2020 (h, w, 3) float32."""
        return self._read()

    @cached_property
    def mask(self) -> Bytes8:
        """Regions (h, w) uint8."""
        return self._read_mask()

    @cached_property
    def moves(self) -> Bytes8:
        """What moves (h, w) uint8: 0 nothing, k the k-th of the scene's moves."""
        return self._read_moves()

    @property
    def nbytes(self) -> int:
        """Memory held, which is none before it was looked at."""
        return self.plate.nbytes if "plate" in self.__dict__ else 0


@dataclass
class Scene:
    """Pixels with what the stages need to know.

    frame : pixels (h, w, 3) float32. Linear Rec.2020, not white balanced, a hand-metered mid grey
        at 0.18; or when `finished` the encoded sRGB of a picture that some camera or program has
        already developed.
    auto_light, card_light : (mired, Duv) by automatic estimate and by a grey card at the subject.
    ev100 : exposure value that a meter gives at ISO 100; None when finished.
    moves : what moves, by the numbers of `moving` (h, w), 0 where nothing does. lens : focal length
        in mm on a frame 36 mm wide, or 0 where nobody holds a camera.
    celsius : how warm it is there.
    regions : name to value in `mask` (h, w) uint8.
    close : the telling part of the same scene as a 24-megapixel frame holds it, pixel for
        photosite, read when it is asked for; None where there is only the picture itself.
    spot : where spot metering looks, as shares of the frame, if somebody chose a place.
    place : the middle of what is seen at 100 percent, as shares of the plate or picture, if
        somebody chose one.
    whole : gives the same picture at its own size, where this one is a copy for looking at.
    headroom : stops from mid grey to where a raw picture's file clips; None for others.
    noise_present : standard deviation of the noise of a finished picture, in encoded units.
    noise_law : (per_light, floor), the noise that a raw picture came with, as `sense.noise_law` at
        100 percent.
    photosites : across the frame; None for scenes that any sensor looks at.
    """

    id: str
    title: str
    frame: Frame
    auto_light: tuple[float, float]
    card_light: tuple[float, float]
    ev100: float | None = None
    finished: bool = False
    story: str = ""
    group: str = ""
    good_for: tuple[str, ...] = ()
    lights: tuple[Light, ...] = ()
    moves: tuple[Move, ...] = ()
    moving: Bytes8 | None = None
    lens: float = 0.0
    celsius: float = 20.0
    regions: dict[str, int] = field(default_factory=dict)
    mask: Bytes8 | None = None
    close: "Close | None" = None
    headroom: float | None = None
    noise_present: float = 0.0
    noise_law: tuple[float, float] = (0.0, 0.0)
    photosites: int | None = None
    spot: tuple[float, float] | None = None
    place: tuple[float, float] | None = None
    whole: "Callable[[], Scene] | None" = None
    stops: float = 0.0
    _telling: dict[tuple[int, int], tuple[float, float]] = field(default_factory=dict, repr=False)
    _sizes: dict[int, Array] = field(default_factory=dict, repr=False)
    _moved: dict[tuple[Any, ...], Array] = field(default_factory=dict, repr=False)
    _metered: BoundedCache[float] = field(
        default_factory=lambda: BoundedCache(MOST_METERED), repr=False, compare=False
    )
    _lock: threading.Lock = field(default_factory=threading.Lock, repr=False, compare=False)

    KEPT_SIZES, KEPT_TIMES = 5, 3

    def __getstate__(self) -> dict[str, Any]:
        """For other processes: all but what can be made again, and the lock."""
        made_again = ("_sizes", "_moved", "_metered", "_lock")
        return {k: v for k, v in self.__dict__.items() if k not in made_again}

    def __setstate__(self, state: dict[str, Any]) -> None:
        again = {"_sizes": {}, "_moved": {}, "_metered": BoundedCache[float](MOST_METERED)}
        self.__dict__.update(state, **again, _lock=threading.Lock())

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.frame.shape[1], self.frame.shape[0]

    @property
    def pixels(self) -> Array:
        """All pixels at once (h, w, 3)."""
        return self.frame[:]

    @property
    def nbytes(self) -> int:
        """Memory held, smaller copies included."""
        copies = [*list(self._sizes.values()), *list(self._moved.values())]
        held: int = self.frame.nbytes + sum(a.nbytes for a in copies)
        return held + (self.close.nbytes if self.close else 0)

    @property
    def plate(self) -> Array | None:
        """The detail plate (h, w, 3), or None."""
        return self.close.plate if self.close else None

    @property
    def plate_mask(self) -> Bytes8 | None:
        """Its regions (h, w), or None."""
        return self.close.mask if self.close else None

    @cached_property
    def subject_at(self) -> tuple[float, float]:
        """Middle of the skin or subject as shares of the frame, or of the frame where there is
        none."""
        for name in ("skin", "subject", "skin_light", "neutral"):
            if self.mask is not None and name in self.regions:
                rows, columns = np.nonzero(self.mask == self.regions[name])
                if len(rows):
                    height, width = self.mask.shape
                    return float(np.median(columns) + 0.5) / width, float(
                        np.median(rows) + 0.5
                    ) / height
        return 0.5, 0.5

    @property
    def meters_at(self) -> tuple[float, float]:
        """Where spot metering looks: the chosen place, or the subject."""
        return self.spot or self.subject_at

    def height_at(self, width: int) -> int:
        """Height of the picture at `width`."""
        return max(1, int(self.frame.shape[0] * width / self.frame.shape[1] + 0.5))

    def at_width(self, width: int) -> Array:
        """Pixels averaged down to `width`; never enlarged. The last few sizes are kept; do not
        write to them."""
        if width >= self.frame.shape[1]:
            return self.pixels
        made = self._sizes.get(width)
        if made is None:
            made = self.frame.shrunk(width, self.height_at(width))
            with self._lock:  # pictures of one scene are made side by side
                while len(self._sizes) >= self.KEPT_SIZES:
                    self._sizes.pop(next(iter(self._sizes)))
                self._sizes[width] = made
        return made

    def in_time(self, key: tuple[Any, ...], make: Callable[[], Array]) -> Array:
        """Light as it fell in some time, made once for a few `key`s; do not write to it."""
        with self._lock:
            made = self._moved.pop(key, None)
            if made is not None:
                self._moved[key] = made  # the newest again
        if made is None:
            made = make()
            with self._lock:
                while len(self._moved) >= self.KEPT_TIMES:
                    self._moved.pop(next(iter(self._moved)))
                self._moved[key] = made
        return made

    def metered(self, key: tuple[Any, ...], make: Callable[[], float]) -> float:
        """What a meter says, looked at once for a `key`."""
        return self._metered.make(key, make)

    def moves_in(self, shape: tuple[int, ...], detail: bool) -> Bytes8 | None:
        """What moves in the frame, or in the part of the plate (h, w, 3) that is seen at 100
        percent."""
        if not detail or self.close is None or not self.moves:
            return self.moving
        left, top, width, height = self.crop(shape[1], shape[0])
        return self.close.moves[top : top + height, left : left + width]

    def rows_at(self, width: int) -> Array | Frame:
        """The same, to be read by rows: what is as large as the scene itself stays where it is."""
        return self.frame if width >= self.frame.shape[1] else self.at_width(width)

    def at_full(self) -> "Scene":
        """The picture at its own size, under the same light and looked at in the same places."""
        if self.whole is None:
            return self
        return replace(
            self.whole(),
            auto_light=self.auto_light,
            card_light=self.card_light,
            spot=self.spot,
            place=self.place,
            _telling=self._telling,
        )

    def crop(self, width: int, height: int) -> tuple[int, int, int, int]:
        """(left, top, width, height) in photosites of what is seen at 100 percent, at most `width`
        by `height`: around the chosen place, or where the plate or the picture tells most."""
        source = self.frame if self.plate is None else self.plate
        rows, columns = source.shape[:2]
        width, height = min(width, columns), min(height, rows)
        x, y = self.place or self._told(source, width, height)
        left = min(max(round(x * columns - width / 2), 0), columns - width)
        top = min(max(round(y * rows - height / 2), 0), rows - height)
        return left, top, width, height

    def _told(self, source: Array | Frame, width: int, height: int) -> tuple[float, float]:
        """The most telling place, found once for a size; of a large picture in its middle part."""
        if (width, height) not in self._telling:
            rows, columns = source.shape[:2]
            across, down = min(columns, SEARCHED), min(rows, SEARCHED)
            left, top = (columns - across) // 2, (rows - down) // 2
            part = np.asarray(source[top : top + down][:, left : left + across])
            part = srgb_decode(part) if self.finished else part
            x, y = telling.place(part, width, height)
            self._telling[width, height] = (left + x * across) / columns, (top + y * down) / rows
        return self._telling[width, height]

    def detail(self, width: int, height: int) -> Array:
        """Pixels of `crop`."""
        source = self.frame if self.plate is None else self.plate
        left, top, width, height = self.crop(width, height)
        return np.ascontiguousarray(source[top : top + height][:, left : left + width])

"""A scene: light to be photographed, and what is known of it."""

from dataclasses import dataclass, field

import cv2
import numpy as np

from ..arrays import Array, Bytes8


@dataclass(frozen=True)
class Light:
    """One kind of lamp or sky in a scene."""

    kind: str
    kelvin: float


@dataclass
class Scene:
    """Pixels with what the stages need to know.

    pixels : (h, w, 3) float32. Linear Rec.2020, not white balanced, a hand-metered mid grey at 0.18; or when
        `finished` the encoded sRGB of a picture that some camera or program has already developed.
    auto_light, card_light : (mired, Duv) by automatic estimate and by a grey card at the subject.
    ev100 : exposure value that a meter gives at ISO 100; None when finished.
    regions : name to value in `mask` (h, w) uint8.
    noise_present : standard deviation of the noise of a finished picture, in encoded units.
    """

    id: str
    title: str
    pixels: Array
    auto_light: tuple[float, float]
    card_light: tuple[float, float]
    ev100: float | None = None
    finished: bool = False
    story: str = ""
    group: str = ""
    good_for: tuple[str, ...] = ()
    lights: tuple[Light, ...] = ()
    regions: dict[str, int] = field(default_factory=dict)
    mask: Bytes8 | None = None
    noise_present: float = 0.0
    stops: float = 0.0
    _sizes: dict[int, Array] = field(default_factory=dict, repr=False)

    KEPT_SIZES = 3

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        return self.pixels.shape[1], self.pixels.shape[0]

    @property
    def nbytes(self) -> int:
        """Memory held, smaller copies included."""
        held: int = self.pixels.nbytes + sum(a.nbytes for a in list(self._sizes.values()))
        return held

    def height_at(self, width: int) -> int:
        """Height of the picture at `width`."""
        return max(1, int(self.pixels.shape[0] * width / self.pixels.shape[1] + 0.5))

    def at_width(self, width: int) -> Array:
        """Pixels averaged down to `width`; never enlarged. The last few sizes are kept; do not write to them."""
        if width >= self.pixels.shape[1]:
            return self.pixels
        made = self._sizes.get(width)
        if made is None:
            source = self.pixels
            made = cv2.resize(source, (width, self.height_at(width)), interpolation=cv2.INTER_AREA)
            made = np.asarray(made, np.float32)
            while len(self._sizes) >= self.KEPT_SIZES:
                self._sizes.pop(next(iter(self._sizes)), None)
            self._sizes[width] = made
        return made

    def detail_corner(self, width: int, height: int) -> tuple[int, int]:
        """Left and top of the detail crop: around the skin or subject where there is one, else the middle."""
        full_w, full_h = self.size
        cx, cy = full_w / 2, full_h / 2
        for name in ("skin", "subject", "edge"):
            if self.mask is not None and name in self.regions:
                rows, columns = np.nonzero(self.mask == self.regions[name])
                if len(rows):
                    scale = full_w / self.mask.shape[1]
                    cx, cy = columns.mean() * scale, rows.mean() * scale
                    break
        left = int(np.clip(cx - width / 2, 0, max(full_w - width, 0)))
        top = int(np.clip(cy - height / 2, 0, max(full_h - height, 0)))
        return left, top

    def detail(self, width: int, height: int) -> Array:
        """A crop at full resolution, at most `width` by `height`."""
        left, top = self.detail_corner(width, height)
        return np.ascontiguousarray(self.pixels[top : top + height, left : left + width])

"""What a lens and a frame show: the same view on another frame, pixels, focus brackets."""

import math

from .light import checked


def same_view(focal: float, crop: float, other: float) -> float:
    """Focal length on another frame with the same view: f x crop / crop."""
    return (
        checked("A focal length", focal, 0.1, 10000)
        * checked("A crop factor", crop, 0.05, 50)
        / checked("A crop factor", other, 0.05, 50)
    )


def same_depth(aperture: float, crop: float, other: float) -> float:
    """Aperture on another frame with the same depth of field at the same view."""
    return aperture * crop / other


def cropped(megapixels: float, crop: float) -> float:
    """Megapixels that are left of a frame that is cropped: pixels / crop^2."""
    return megapixels / crop**2


def print_size(pixels: int, per_inch: float = 300.0) -> float:
    """Centimetres of a print at so many pixels an inch."""
    return pixels / per_inch * 2.54


def depth_in_image(aperture: float, circle: float) -> float:
    """Depth of one frame behind the lens, in the unit of the circle of confusion: 2 N c."""
    return 2 * aperture * circle


def focus_frames(spread: float, aperture: float, circle: float) -> int:
    """Frames of a focus bracket: range over depth, both in image space and one unit."""
    return max(1, math.ceil(spread / depth_in_image(aperture, circle)))

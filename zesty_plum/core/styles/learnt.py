"""The numbers of a rendering that was learnt from a camera's own pictures; `develop.learnt` acts on
them."""

import hashlib
from dataclasses import dataclass, field, fields
from functools import cached_property

from ..base.arrays import Matrix
from ..base.late import library

np = library("numpy")  # who only lists bodies and styles does without it

DARK, BRIGHT = -8.5, 4.5  # stops from mid grey of the first and the last knot of the curve
KNOTS = 18
ORDERS = 4  # of the waves around the hue circle
WAVES = 2 * ORDERS + 1
SIDE = 11  # places a side of the residual table
REACH = 0.25  # Oklab a and b that it covers, either way


@dataclass(frozen=True)
class Learnt:
    """A smooth core and what it leaves, from light in the display's primaries to Oklab.

    matrix : six numbers off the diagonal of a matrix (3, 3) whose rows sum to 1, row by row. curve
    : encoded values (`KNOTS`,) at even steps of stops. dyes : six numbers off the diagonal of a
    matrix of the channels' stops, whose rows sum to 1, as layers of film take light from each
    other. joint : share of the curve that is applied to all channels by one factor; where that
    looks between luminance and the largest channel; and share that is applied to the largest and
    the smallest, the third keeping its place between them. turn, chroma, light : waves (`WAVES`,)
    around the hue circle, cosine and sine by turns, of radians, of the logarithm of chroma, and of
    lightness per chroma. by_light : of chroma, by lightness and its square; of turn, by lightness;
    of chroma, by chroma. tint : Oklab a and b of greys, three powers of lightness each. rest : what
    the core leaves, Oklab at `SIDE` places of lightness 0 to 1 and of a and b within `REACH`
    (SIDE^3 * 3,), or nothing. white : stops from mid grey to where its pictures clip. lamps : six
    numbers off the diagonal of what is added to the balance (3, 3) for each 100 mired that a light
    is warmer than the display's white, and six for each 0.01 of Duv that it is greener: a camera's
    channels are balanced otherwise than an eye's. shade : brighter towards the corners, by the
    square and the fourth power of the way to them; of pictures that come from the camera, for a
    scene has no lens.
    """

    matrix: tuple[float, ...]
    curve: tuple[float, ...]
    dyes: tuple[float, ...]
    joint: tuple[float, ...]
    turn: tuple[float, ...]
    chroma: tuple[float, ...]
    light: tuple[float, ...]
    by_light: tuple[float, ...]
    tint: tuple[float, ...]
    white: float = 3.0
    lamps: tuple[float, ...] = (0.0,) * 12
    shade: tuple[float, ...] = field(default=(0.0, 0.0), compare=False)
    rest: tuple[float, ...] = field(default=(), compare=False)
    mark: str = field(init=False, default="")

    def __post_init__(self) -> None:
        told = repr([getattr(self, f.name) for f in fields(self) if f.name != "mark"])
        object.__setattr__(self, "mark", hashlib.sha256(told.encode()).hexdigest()[:16])

    @cached_property
    def core(self) -> Matrix:
        """All numbers of the core in a row, as `develop.learnt` reads them."""
        made: Matrix = np.concatenate([np.asarray(getattr(self, name), float) for name in SIZES])
        return made

    @cached_property
    def table(self) -> Matrix:
        """What the core leaves (SIDE^3, 3); no rows where nothing is told."""
        made: Matrix = np.asarray(self.rest, float).reshape(-1, 3)
        return made


@dataclass(frozen=True)
class Seen:
    """A kind of colour: its share of what was taught, and CIEDE2000 of it on pictures left out."""

    name: str
    share: float
    error: float


@dataclass(frozen=True)
class Sure:
    """How well a rendering is known, in CIEDE2000 on pictures that were left out in turn.

    pairs : it was learnt from. mean, p95, worst : of cells of a frame of 240 x 160. low, high :
    between which the mean of other pictures lies four times in five. before : mean of the reference
    style. seen : by kind of colour. notes : sentences on what was found. wanted : shots that would
    teach most next.
    """

    pairs: int
    mean: float
    p95: float
    worst: float
    low: float
    high: float
    before: float
    seen: tuple[Seen, ...] = ()
    notes: tuple[str, ...] = ()
    wanted: tuple[str, ...] = ()


SIZES = {
    **{
        "matrix": 6,
        "curve": KNOTS,
        "dyes": 6,
        "joint": 3,
        "turn": WAVES,
        "chroma": WAVES,
        "light": WAVES,
    },
    **{"by_light": 4, "tint": 6},
}
PLACES: dict[str, slice] = {}
for _name, _many in SIZES.items():
    _at = sum(SIZES[n] for n in PLACES)
    PLACES[_name] = slice(_at, _at + _many)
MANY = sum(SIZES.values())


EXTRA = {"lamps": 12, "shade": 2}  # numbers that act before the core
for _name, _many in EXTRA.items():
    _at = max(at.stop for at in PLACES.values())
    PLACES[_name] = slice(_at, _at + _many)
ALL = MANY + sum(EXTRA.values())


def of_numbers(numbers: Matrix, rest: Matrix | None, white: float) -> Learnt:
    """From all numbers in a row (`ALL`,), rounded as a file holds them."""
    parts = {n: tuple(round(float(v), 5) for v in numbers[at]) for n, at in PLACES.items()}
    flat = () if rest is None else tuple(round(float(v), 5) for v in rest.ravel())
    return Learnt(**parts, white=round(white, 3), rest=flat)


def off_diagonal(six: Matrix) -> Matrix:
    """A matrix (3, 3) whose rows sum to nothing, of its six numbers off the diagonal."""
    made: Matrix = np.zeros((3, 3))
    made[[0, 0, 1, 1, 2, 2], [1, 2, 0, 2, 0, 1]] = six
    made -= np.diag(made.sum(1))
    return made

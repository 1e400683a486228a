"""What a dial does here: the figures that a step of it moves on this scene, computed and put in
words."""

from collections.abc import Callable
from dataclasses import dataclass

from ..bodies import Value
from ..measure.figures import Report
from ..recipe import Recipe
from ..scenes.scene import Scene
from .verdicts import TRY_AT, Workbench, figures_at

MOST = 3
# Path, least change worth saying, and words for more and less; {much} is the size, {was} and {now}
# the two values.
TOLD = (
    (
        "frame.clipped",
        0.002,
        "clips {now:.1%} of the frame instead of {was:.1%}",
        "clips {now:.1%} of the frame instead of {was:.1%}",
    ),
    (
        "frame.crushed",
        0.002,
        "closes {now:.1%} of the frame to black instead of {was:.1%}",
        "closes {now:.1%} to black instead of {was:.1%}",
    ),
    (
        "frame.lightness",
        0.4,
        "lightens the picture by {much:.1f} units of L*",
        "darkens the picture by {much:.1f} units of L*",
    ),
    ("frame.chroma", 0.4, "adds {share:.0%} of colour", "takes {share:.0%} of colour"),
    (
        "skin.darker",
        0.04,
        "darkens faces by {much:.2f} stops",
        "lightens faces by {much:.2f} stops",
    ),
    (
        "skin.off_line",
        0.7,
        "turns skin {much:.1f} degrees towards yellow",
        "turns skin {much:.1f} degrees towards pink",
    ),
    ("cast.mired", 0.4, "warms greys by {much:.1f} mired", "cools greys by {much:.1f} mired"),
    (
        "cast.duv",
        0.0003,
        "moves greys {much:.4f} Duv towards green",
        "moves greys {much:.4f} Duv towards magenta",
    ),
    (
        "curve.contrast",
        0.02,
        "raises contrast at mid grey to {now:.2f}",
        "lowers contrast at mid grey to {now:.2f}",
    ),
    (
        "curve.stops",
        0.15,
        "holds {much:.1f} stops more from black to white",
        "holds {much:.1f} stops less from black to white",
    ),
    ("frame.noise", 0.02, "shows {share:.0%} more noise", "shows {share:.0%} less noise"),
    (
        "detail.overshoot",
        0.001,
        "makes edges overshoot by {now:.1%} of full scale",
        "lets edges overshoot by {now:.1%} of full scale",
    ),
    ("detail.kept", 0.01, "keeps {now:.0%} of fine detail", "keeps {now:.0%} of fine detail"),
    (
        "frame.spread",
        0.08,
        "spreads tones by {much:.1f} stops more",
        "draws tones together by {much:.1f} stops",
    ),
)


@dataclass(frozen=True)
class Effect:
    """A figure that a move changes: where from, where to, and the words for it."""

    figure: str
    before: float
    after: float
    words: str


@dataclass(frozen=True)
class Move:
    """One step of a dial: where it goes and what that does, the strongest effect first."""

    value: Value
    printed: str
    effects: list[Effect]
    from_here: float

    @property
    def sentence(self) -> str:
        """The effects in one sentence."""
        if not self.effects:
            return f"{self.printed}: nothing that can be measured in this scene."
        return f"{self.printed}: {', '.join(e.words for e in self.effects)}."


def _effects(now: Report, then: Report) -> list[Effect]:
    found = []
    for path, least, more, less in TOLD:
        pair = [figures_at(r, path) for r in (now, then)]
        if not pair[0] or not pair[1]:
            continue
        was, after = pair[0][0][1], pair[1][0][1]
        change = after - was
        if abs(change) < least:
            continue
        share = abs(change) / max(abs(was), 1e-6)
        words = (more if change > 0 else less).format(
            much=abs(change), was=was, now=after, share=share
        )
        found.append((abs(change) / least, Effect(path, was, after, words)))
    return [e for _, e in sorted(found, key=lambda pair: -pair[0])][:MOST]


def effects(
    scene: Scene, recipe: Recipe, dial_id: str, pause: Callable[[], None] = lambda: None
) -> list[Move]:
    """What the steps next to where a dial stands would do in this scene; all its places where they
    are choices by name."""
    camera = recipe.camera
    dial, dials = camera.dial(dial_id), dict(recipe.dials)
    bench = Workbench(scene, camera, TRY_AT, pause)
    picture, now = bench.of(dials)
    at = dial.position(dials[dial.id])
    named = isinstance(dial.values[0], str)
    places = (
        [k for k in range(len(dial.values)) if k != at]
        if named
        else [k for k in (at - 1, at + 1) if 0 <= k < len(dial.values)]
    )
    moves = []
    for place in places:
        value = dial.values[place]
        other, then = bench.of({**dials, dial.id: value})
        moves.append(
            Move(value, dial.choices[place].label, _effects(now, then), bench.apart(picture, other))
        )
    return moves

"""What moved between two recipes, and tags that it suggests."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..bodies import Dial
from ..recipe import Recipe

# Tags by fields of the look that a dial touches, and by words of what is seen.
TAGS = {
    "exposure": ("exposure", "metering"),
    "range": ("guard",),
    "ISO": ("iso_least", "iso_most"),
    "white balance": ("balance", "light_mired", "shift_mired", "shift_duv"),
    "tone": ("highlights", "shadows", "black_level", "knee_point", "knee_slope", "brights",
             "darks"),
    "colour": ("saturation", "phase", "density", "depth_red", "depth_yellow", "depth_green",
               "depth_cyan", "depth_blue", "depth_magenta", "depth_skin", "depth_fire",
               "depth_leaves", "depth_water", "mono_filter"),
    "style": ("style",),
    "detail": ("sharpness", "clarity", "softening"),
    "noise": ("noise_filter", "colour_filter"),
    "grain": ("grain", "grain_size"),
    "clip": ("clip", "rate", "frame_size", "bit_rate", "bits", "chroma"),
}  # fmt: skip
SEEN = {"skin": "skin", "warmer": "white balance", "cooler": "white balance", "noise": "noise",
        "brighter": "exposure", "darker": "exposure", "clipped": "range"}  # fmt: skip


@dataclass(frozen=True)
class Move:
    """A dial that moved: from, to, as printed; `up` +1 or -1 by the order of its places, 0 where
    they are choices by name."""

    dial: str
    label: str
    was: str
    now: str
    up: int = 0


def moves(before: Recipe, after: Recipe) -> tuple[Move, ...]:
    """What moved, in the order of the menu; of two bodies nothing can be said dial by dial."""
    if before.body != after.body:
        return ()
    out = []
    for dial in after.camera.dials:
        a, b = before.dials[dial.id], after.dials[dial.id]
        if a != b:
            out.append(_move(dial, dial.position(a), dial.position(b)))
    return tuple(out)


def _move(dial: Dial, was: int, now: int) -> Move:
    up = 0 if dial.named else (1 if now > was else -1)
    return Move(dial.id, dial.label, dial.choices[was].label, dial.choices[now].label, up)


def told(recipe: Recipe, moved: Sequence[Move], after: bool) -> str:
    """The dials that moved as they stand on one side, in a line: shift red +2, blue -3."""
    parts = [f"{recipe.camera.dial(m.dial).spoken} {m.now if after else m.was}" for m in moved]
    return ", ".join(parts)


def suggested(before: Recipe, after: Recipe, words: Iterable[str]) -> tuple[str, ...]:
    """Tags by what moved, and by what is seen."""
    dials = [after.camera.dial(m.dial) for m in moves(before, after)]
    # A style brings more than colour with it; it is the style that was tried.
    touched = {f for d in dials for f in (("style",) if "style" in d.touches else d.touches)}
    out = [tag for tag, fields in TAGS.items() if touched & set(fields)]
    said = " ".join(words)
    out += [tag for word, tag in SEEN.items() if word in said]
    return tuple(dict.fromkeys(out))

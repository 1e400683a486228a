"""Every key by what it does: the list of keys, the finder, the hints and the Bench's script are
drawn from here."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Key:
    """One row of the list: keys as they are shown, and what they do in words. `acts` pairs what the
    browser calls a key with what the Bench's script does; `name` is the command in the finder,
    `hint` its word below the strip."""

    shown: str
    words: str
    acts: tuple[tuple[str, str], ...] = ()
    name: str = ""
    hint: str = ""


KEYS = (
    Key(
        "↑ ↓",
        "line before, line after",
        (("ArrowUp", "lineBefore"), ("ArrowDown", "lineAfter")),
        hint="line",
    ),
    Key(
        "← →",
        "step the dial in hand",
        (("ArrowLeft", "stepDown"), ("ArrowRight", "stepUp")),
        hint="step",
    ),
    Key("Home End", "ends of the dial", (("Home", "firstPlace"), ("End", "lastPlace"))),
    Key("Shift ↑ ↓ ← →", "place of the metering spot, or of the loupe"),
    Key("0", "the factory setting", (("0", "shipped"),)),
    Key("B", "hold to see the reference", (("b", "hold"),)),
    Key(
        "C",
        "clipped and blocked-up areas",
        (("c", "clip"),),
        name="Clipped and blocked-up areas",
        hint="clipping",
    ),
    Key(
        "L",
        "loupe: 100 %, pull it or push it with Shift and an arrow",
        (("l", "loupe"),),
        name="Loupe, 100 %",
        hint="loupe",
    ),
    Key(
        "W",
        "wipe between reference and now",
        (("w", "wipe"),),
        name="Wipe with the reference",
        hint="wipe",
    ),
    Key("X", "how far from the reference", (("x", "apart"),), name="Difference from the reference"),
    Key("Z", "zebra at a level", (("z", "stripes"),), name="Zebra"),
    Key("G", "without colour", (("g", "grey"),), name="Without colour"),
    Key("Q", "as the file is written", (("q", "written"),), name="As the file is written"),
    Key("E", "what the purpose will show", (("e", "ends"),), name="What the purpose will show"),
    Key(
        "A",
        "all scenes at once",
        (("a", "everywhere"),),
        name="All scenes at once",
        hint="all scenes",
    ),
    Key("T", "trail of changes", (("t", "trail"),), name="Trail of changes", hint="trail"),
    Key("N", "start a new recipe", (("n", "begin"),), name="Start a new recipe", hint="new recipe"),
    Key("M", "mount: mid, light, dark", (("m", "surround"),), name="Mount, light or dark"),
    Key("1 – 9", "scene"),
    Key("S", "save", (("s", "save"),), name="Save"),
    Key("I", "note this trial", (("i", "note"),), name="Note this trial"),
    Key("D", "duplicate as a variant", (("d", "vary"),), name="Duplicate as a variant"),
    Key("Ctrl Z, Ctrl Y", "undo, redo"),
    Key("+ −", "on the Wall: zoom all prints, ← → ↑ ↓ move them"),
    Key("← → ↓ ⌫", "in a blind round: left, right, can't tell, back"),
    Key("R", "the reckoner: sums of the day"),
    Key("/", "find"),
    Key("?", "this list"),
    Key("Esc", "close"),
)


def shown_for(act: str) -> str:
    """The key of something that the Bench's script does, as it is shown."""
    return next(key.shown for key in KEYS if act in dict(key.acts).values())

"""The stand-in camera's list of dials, as its owner would write it: in the camera's words and
steps, and what each does by the nearest body that ships."""

from dataclasses import replace

from ...core.bodies import Body, Choice, Dial, Reset, body
from ...core.bodies.dial import unsigned
from .camera import STYLES

NAME, ID = "Turnstone", "turnstone"
# id, label, group, from, to, standard, what a step adds by the nearest body, and in words
DIALS = (
    ("bright", "Bright tones", "Tone", -3, 3, 0, {"highlights": 0.3}, "Plus is brighter."),
    ("dark", "Dark tones", "Tone", -3, 3, 0, {"shadows": -0.35}, "Plus is darker."),
    ("strength", "Strength of colour", "Colour", 0, 8, 4, {"saturation": 0.1}, "4 is standard."),
    ("amber_blue", "Amber to blue", "Light", -7, 7, 0, {"shift_mired": 4.0}, "Plus is warmer."),
    ("edges", "Edges", "Detail", 0, 6, 2, {"sharpness": 0.15}, "2 is standard."),
    (
        *("smoothing", "Smoothing", "Detail", 0, 3, 1, {"noise_filter": 0.8, "colour_filter": 0.8}),
        "1 is standard.",
    ),
)
BESIDE = ("files", "two_cards", "without_card", "switch_off", "sounds", "front_button", "ring")
KEPT = ("exposure", "iso_least", "iso_most", "white_balance", "kelvin")


def listed() -> Body:
    """The body with its dials, and styles that are still the reference."""
    like = body("heron-m2")
    kept = [replace(like.dial(name), needs=()) for name in KEPT if name in like.by_id]
    own = [_dial(*row) for row in DIALS]
    there = {d.id for d in [*kept, *own]}
    kept = [
        replace(d, needs=like.dial(d.id).needs if _within(like.dial(d.id), there) else ())
        for d in kept
    ]
    return Body(
        id=ID,
        name=NAME,
        kind="stills body",
        about="A stand-in for a camera of one's own.",
        slots=4,
        separate=False,
        sensor=replace(like.sensor, width=960),
        dials=(kept[0], _styles(), *own, *kept[1:]),
        beside=tuple(like.beside_by_id[name] for name in BESIDE),
        outside=("exposure",),
        resets=(Reset("All of the look"),),
    )


def _within(dial: Dial, there: set[str]) -> bool:
    return all(need.dial in there for need in dial.needs)


def _styles() -> Dial:
    choices = tuple(Choice(n.lower(), n, sets={"style": "plain"}) for n in STYLES)
    return Dial(
        *("rendering", "Rendering", "Look", "style"),
        "The rendering that everything else is set on top of.",
        "Taught from its own pictures where it is; else as Plain.",
        "In the raw all of it can be chosen again.",
        choices,
        choices[0].value,
    )


def _dial(
    dial: str,
    label: str,
    group: str,
    low: int,
    high: int,
    standard: int,
    step: dict[str, float],
    says: str,
) -> Dial:
    zero = 0 if group == "Detail" else standard
    choices = tuple(
        Choice(
            v,
            f"{v:+d}".replace("+0", "0") if low < 0 else str(v),
            adds={k: more * (v - zero) for k, more in step.items() if v != zero},
        )
        for v in range(low, high + 1)
    )
    known = body("heron-m2").by_id
    near = {
        "bright": "highlights",
        "dark": "shadows",
        "strength": "colour",
        "amber_blue": "shift_amber",
    }
    near |= {"edges": "sharpness", "smoothing": "noise_filter"}
    purpose, later = unsigned(known[near[dial]].purpose), known[near[dial]].later
    if dial == "amber_blue":
        purpose = "Moves neutral towards amber or blue, on top of any white balance."
    return Dial(dial, label, group, "steps", purpose, says, later, choices, standard)

"""Goals to begin a recipe from."""

from dataclasses import dataclass

from ..bodies import Value
from . import Intent, Recipe, make


@dataclass(frozen=True)
class Goal:
    """A start for a purpose: title, why its dials stand as they do, and the recipe and scene to
    begin with."""

    title: str
    why: str
    recipe: Recipe
    scene: str


def goals() -> list[Goal]:
    """Starts for what people come with."""
    lamps: dict[str, Value] = {"style": "lamplight", "white_balance": "keep_warm", "guard": 1}
    lamps |= {"highlights": -1, "shadows": 1, "noise_filter": 3}
    flat: dict[str, Value] = {
        "output": "clip_10",
        "style": "sounding",
        "sharpness": -1,
        "noise_reduction": "off",
        "white_balance": "kelvin",
    }
    hard: dict[str, Value] = {"style": "linen", "guard": 2, "highlights": -1, "shadows": 1}
    return [
        Goal(
            "Finished pictures of a lamp-lit evening",
            "Keeps lamps warm, holds paper and bulbs, opens shadows a little.",
            make("Lamp-lit evening", "heron-m2", lamps),
            "workshop",
        ),
        Goal(
            "Finished pictures in hard sun",
            "Two stops of guard for bright cloth and sky, soft highlights.",
            make("Hard sun", "heron-m2", hard),
            "beach",
        ),
        Goal(
            "Clips to be graded",
            "A log-like curve, fixed white balance, little sharpness, no noise reduction: the "
            "grade decides.",
            make("To be graded", "wader-v1", flat, intent=Intent.GRADE),
            "garden",
        ),
        Goal(
            "Raw files, a quiet preview",
            "The look will not be in the file; a plain preview shows what the raw holds.",
            make(
                "Quiet preview",
                "heron-m2",
                {"style": "ledger", "sharpness": -2},
                intent=Intent.RAW_ONLY,
            ),
            "loft",
        ),
    ]

"""Which slot fits a light, and why: by its white balance, what it asks of the light, what it was
put there for, and what would be said of it on a scene of that light."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..look import Balance
from ..recipe import Recipe
from .lights import Light

OFF = 40.0  # mired of a fixed white balance that cost as much as a verdict
NOBODY = 3.0  # cost from which on no slot is said to fit
DARK = 6.0  # EV100, below which guard and bias cost noise
# Words that people write beside a slot, by what they mean.
SAID = {
    "sun": ("sun", "beach", "bright"),
    "shade": ("shade", "overcast", "out of doors", "family", "cloud"),
    "dusk": ("dawn", "dusk", "golden", "low sun", "fog"),
    "lamps": ("lamp", "indoor", "inside", "room", "warm"),
    "night": ("night", "lantern", "candle", "procession", "stage", "dark"),
}


@dataclass(frozen=True)
class Choice:
    """A slot that could be used: whose, its key, its recipe, what it is for, and how many verdicts
    are spoken of it in that light."""

    case: int
    key: str
    recipe: Recipe
    why: str
    verdicts: int = 0


def cost(choice: Choice, light: Light, kelvin: int = 0) -> float:
    """What speaks against a slot in a light; the least is the best."""
    look = choice.recipe.look
    against = 0.5 * choice.verdicts
    if look.balance is Balance.FIXED:
        off = look.light_mired - 1e6 / (kelvin or sum(light.kelvins) / 2)
        against += abs(off) / OFF
    if light.ev100 < DARK:
        against += 0.7 * look.guard + 2 * max(0.0, -look.exposure - 0.1)
    mine = _groups(choice.why)
    if light.group in mine + _groups(choice.recipe.name):
        against -= 1.5
    elif mine:
        against += 1.0
    return against


def _groups(text: str) -> list[str]:
    """Kinds of light that somebody's words speak of."""
    said = text.casefold()
    return [group for group, words in SAID.items() if any(word in said for word in words)]


def best(
    choices: Sequence[Choice], light: Light, kelvin: int = 0
) -> tuple[Choice | None, str] | None:
    """The slot that fits best, or None where none is for that light, and why in a sentence; None
    where there is no slot at all."""
    if not choices:
        return None
    found = min(choices, key=lambda c: cost(c, light, kelvin))
    if cost(found, light, kelvin) > NOBODY:
        return None, f"No slot is for this light; the nearest is {found.recipe.name}."
    look = found.recipe.look
    why = [f"put there for “{found.why}”"] if found.why else []
    if look.balance is Balance.FIXED:
        why.append("its white balance is near this light")
    if not found.verdicts:
        why.append("nothing speaks against it on a scene of this light")
    elif found.verdicts == 1:
        why.append("one thing speaks against it on a scene of this light")
    return found, f"{found.recipe.name}: {', '.join(why)}." if why else found.recipe.name

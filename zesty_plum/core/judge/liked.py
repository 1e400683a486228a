"""What the preferred looks of a blind round have in common, in dials and in measures, and nothing
that chance may have made."""

from collections.abc import Sequence

import numpy as np

from ..measure.figures import Report
from ..recipe import Recipe
from ..styles import style
from .beside import SEEN_GRAIN, SEEN_LIGHT, SEEN_MIRED
from .ranking import Ranking

# Measure, what of it is just seen, words for more and less of it, and how it is printed.
TRAITS = (
    ("warmth", SEEN_MIRED, "warmer", "cooler", "{:.0f} mired"),
    ("contrast", 0.06, "firmer", "softer", "{:.2f} in mid contrast"),
    ("lightness", SEEN_LIGHT, "lighter", "darker", "{:.1f} of lightness"),
    ("chroma", 1.0, "fuller in colour", "quieter in colour", "{:.1f} of chroma"),
    ("grain", SEEN_GRAIN, "grainier", "cleaner", "{:.1%} of grain"),
    ("clipped", 0.01, "more clipped", "less clipped", "{:.1%} of the frame"),
)


def traits(recipe: Recipe, report: Report) -> dict[str, float]:
    """The measures that are compared."""
    return {
        "warmth": report.cast.mired if report.cast else 0.0,
        "contrast": report.curve.contrast,
        "lightness": report.frame.lightness,
        "chroma": report.frame.chroma,
        "grain": recipe.look.grain,
        "clipped": report.frame.clipped,
    }


def in_common(
    ranking: Ranking, recipes: Sequence[Recipe], measured: Sequence[dict[str, float]]
) -> list[str]:
    """Sentences on how the upper half differs from the lower, and on dials and styles that the
    upper half shares."""
    order = [p.look for p in ranking.places]
    if len(order) < 2:
        return []
    half = max(1, len(order) // 2)
    upper, lower = order[:half], order[-half:]
    found: list[tuple[float, str]] = []
    for name, seen, more, less, printed in TRAITS:
        above, below = ([measured[k][name] for k in group] for group in (upper, lower))
        apart = float(np.mean(above) - np.mean(below))
        # Said only where the two halves do not overlap, or hardly: a few odd ones must not make a
        # rule.
        split = min(above) > max(below) or max(above) < min(below)
        if abs(apart) >= seen and (
            split
            or (len(order) >= 6 and abs(apart) > 2 * float(np.std([m[name] for m in measured])))
        ):
            found.append(
                (
                    abs(apart) / seen,
                    f"The ones you preferred are {more if apart > 0 else less}, by "
                    f"{printed.format(abs(apart))}.",
                )
            )
    sentences = [words for _, words in sorted(found, key=lambda pair: -pair[0])][:3]
    styles = {style(recipes[k].look.style).name for k in upper}
    others = {style(recipes[k].look.style).name for k in lower}
    if len(styles) == 1 and not styles & others and half > 1:
        sentences.append(f"All of them are in {styles.pop()}.")
    if half > 1 and len({recipes[k].body for k in order}) == 1:
        camera = recipes[order[0]].camera
        for dial in camera.dials:
            those, rest = ({recipes[k].dials[dial.id] for k in group} for group in (upper, lower))
            if len(those) == 1 and not those & rest and dial.id != "style":
                sentences.append(
                    f"All of them have {dial.label} at {dial.choice(those.pop()).label}; none "
                    "of the others has."
                )
    return sentences[:5]

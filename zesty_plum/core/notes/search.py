"""Finding trials: the library's own grammar, with conditions of notes on top."""

from collections.abc import Mapping

from ..recipe import Recipe
from ..recipe.search import Query, Term, words_of

# Beside the words and dials of slips: what a trial can be asked for.
FIELDS = ("slip", "case", "day", "moved", "kept", "open", "place", "seen", "next")


def holds(query: Query, texts: Mapping[str, str], after: Recipe) -> bool:
    """Whether a trial meets all conditions; `texts` by field, dials by what was set after."""
    return all(_holds(term, texts, after) != term.negated for term in query.terms)


def _holds(term: Term, texts: Mapping[str, str], after: Recipe) -> bool:
    if not term.field:
        every = " ".join(texts.values()).casefold()
        return all(word.casefold() in every for word in words_of(term.value))
    if term.field in texts:
        said = texts[term.field].casefold()
        return all(word.casefold() in said for word in words_of(term.value))
    if term.field not in after.dials:
        return False
    dial, value = after.camera.dial(term.field), after.dials[term.field]
    number = dial.number(value)
    if term.number is None or number is None:
        label = dial.choice(value).label.casefold()
        return term.value.casefold() in (str(value).casefold(), label)
    signs = {
        "=": abs(number - term.number) < 0.011,
        ">": number > term.number,
        "<": number < term.number,
        ">=": number >= term.number,
        "<=": number <= term.number,
    }
    return signs[term.sign]

"""What a form was drawn from: it carries a digest of that, and what changed meanwhile is not
written over but shown beside what was typed. A program that sends no digest drew nothing."""

from collections.abc import Mapping

from flask import request

from ...core.base.errors import Changed
from ...core.base.text import shortened
from ...core.fields.declared import to_form
from ...store.database import revision

FIELD = "revision"
MOST_SHOWN = 120  # letters of what stands there now


def drawn_from(now: object, what: str, fields: object = None, drawn: str | None = None) -> None:
    """Refuse a form that was drawn from something else than what there is `now`. `what` : as it is
    called in the sentence; `fields` : the declared thing behind its fields, whose values are told
    beside them where they are others; `drawn` : the digest, where the form does not carry it by
    its usual name."""
    told = request.values.get(FIELD) if drawn is None else drawn
    if not told or told == revision(now):
        return
    stands = to_form(fields) if fields is not None else {}
    raise Changed(
        _beside(stands),
        f"{what} was changed since this page was opened, by somebody else or in another window, "
        + (
            "so nothing was written over. Beside each field stands what it says now; save again "
            "to put yours in its place."
            if stands
            else "so nothing was done. Look at it as it is now, then do it again."
        ),
    )


def _beside(stands: Mapping[str, str]) -> dict[str, str]:
    return {
        name: f"Says now: {shortened(value, MOST_SHOWN)}" if value else "Is empty now"
        for name, value in stands.items()
        if name in request.form and " ".join(request.form[name].split()) != " ".join(value.split())
    }

"""A settings card: the whole state of a camera as a folder of open files, `plum-card` with
`card.json` and the same to read in `settings.txt`.

Written whole or not at all, so what is cut off was not written by us, or was torn out too soon.
"""

import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ..base import zips
from ..base.errors import PlumError
from ..base.text import shortened, well_formed_data
from ..bodies import Body, Value, bodies
from ..recipe import as_now, of_body
from .state import Held, State, slot_of, slots

if TYPE_CHECKING:
    from .card_shape import CardFile

FORMAT, VERSION = "zesty-plum-card", 1
FOLDER, CARD, TEXT = "plum-card", "card.json", "settings.txt"
MOST_BYTES, MOST_FILES = 2 * 2**20, 4000
MOST_NAME = 120


@dataclass(frozen=True)
class Card:
    """A card that was read; `carried` says what moved, if it was written for an earlier edition of
    its body."""

    body: Body
    case: str
    written_at: str
    state: State
    carried: tuple[str, ...] = ()


def schema() -> dict[str, Any]:
    """JSON Schema of card.json (draft 2020-12)."""
    from .card_shape import CardFile

    made = CardFile.model_json_schema()
    made["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return made


def files(body: Body, state: State, case: str, written_at: str) -> dict[str, str]:
    """The card's files by name: JSON, and the same to read."""
    data: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "body": body.id,
        **of_body(body.id),
        "case": case,
        "written_at": written_at,
        "slots": {
            s.key: {"name": held.name, "dials": dict(held.dials)}
            for s in slots(body)
            if (held := state.slots.get(s.key)) is not None
        },
        "now": None if state.now is None else dict(state.now),
        "beside": dict(state.beside),
    }
    text = json.dumps(data, ensure_ascii=False, indent=1) + "\n"
    return {f"{FOLDER}/{CARD}": text, f"{FOLDER}/{TEXT}": _readable(body, state, case, written_at)}


def packed(body: Body, state: State, case: str, written_at: str) -> bytes:
    """The same as a zip, to be unpacked onto a memory card."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        for name, text in files(body, state, case, written_at).items():
            file.writestr(name, text)
    return out.getvalue()


def _readable(body: Body, state: State, case: str, written_at: str) -> str:
    lines = [f"{case or body.name} ({body.name}), {written_at}", ""]
    for slot in slots(body):
        held = state.slots.get(slot.key)
        if held is None:
            continue
        lines.append(f"Slot {slot.label}: {held.name or 'without a name'}")
        turned = body.changed(held.dials)
        told = [
            f"  {body.dial(k).label}: {body.dial(k).choice(v).label}" for k, v in turned.items()
        ]
        lines += [*(told or ["  As shipped"]), ""]
    lines.append("Beside the look")
    for dial in body.beside:
        if dial.id in state.beside:
            lines.append(f"  {dial.label}: {dial.choice(state.beside[dial.id]).label}")
    return "\n".join(lines) + "\n"


# ---- reading -------------------------------------------------------------------------------------
def read_folder(folder: Path) -> Card:
    """The card in a folder: of a memory card, or one of its own."""
    for at in (folder / FOLDER / CARD, folder / CARD):
        if at.is_file():
            return loads(at.read_bytes()[: MOST_BYTES + 1])
    found = sorted(folder.rglob(CARD)) if folder.is_dir() else []
    if len(found) == 1:
        return loads(found[0].read_bytes()[: MOST_BYTES + 1])
    if found:
        raise PlumError(f"There are {len(found)} settings cards in this folder. Give one of them.")
    raise PlumError(
        f"There is no settings card in '{folder.name}': it would hold {FOLDER}/{CARD}. Write the "
        "card on the body first."
    )


def read_files(given: Mapping[str, bytes]) -> Card:
    """The card among files that were sent, or in a zip."""
    cards = [data for name, data in given.items() if name.rsplit("/", 1)[-1] == CARD]
    for name, data in given.items():
        if data[:2] == b"PK":
            cards += _in_zip(name, data)
    if len(cards) > 1:
        raise PlumError(f"These files hold {len(cards)} settings cards. Give one at a time.")
    if not cards:
        raise PlumError(
            f"No settings card is in it: it would be {FOLDER}/{CARD}, alone or in a zip."
        )
    return loads(cards[0])


def _in_zip(name: str, data: bytes) -> list[bytes]:
    try:
        with zips.opened(io.BytesIO(data), MOST_FILES, 64 * 2**20) as inside:
            names = [n for n in inside.namelist() if n.rsplit("/", 1)[-1] == CARD]
            return [zips.bounded(inside, n, MOST_BYTES) for n in names]
    except zips.DAMAGED as error:
        raise PlumError(f"'{name}' is a damaged zip ({error}). Pack it again.") from error


def loads(text: str | bytes) -> Card:
    """Read card.json; PlumError says what is wrong in one sentence."""
    if len(text) > MOST_BYTES:
        raise PlumError("This card.json is over 2 MB; one has some 20 KB. Choose another card.")
    try:
        data = well_formed_data(json.loads(text))
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError(
            "This settings card was not written to its end: card.json is no whole JSON. Write it "
            "again on the body."
        ) from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise PlumError(f"This is no settings card: card.json should have format '{FORMAT}'.")
    version = data.get("version")
    if type(version) is int and version > VERSION:
        raise PlumError(
            f"This settings card is of version {version}; this program reads up to version "
            f"{VERSION}. Update it."
        )
    from .card_shape import shaped

    card = shaped(data)
    if card.body not in bodies():
        raise PlumError(
            f"This card is of the body '{shortened(card.body, 40)}', which is not here. Bring in "
            "its file on Kit."
        )
    return Card(bodies()[card.body], card.case, card.written_at, *_state(bodies()[card.body], card))


def _state(body: Body, card: "CardFile") -> tuple[State, tuple[str, ...]]:
    """What a card holds, and what was carried over of a card of the body's first edition."""
    held, carried = {}, dict[str, None]()

    def now(dials: dict[str, Value]) -> dict[str, Value]:
        of_today, words = as_now(body.id, card.body_edition, dials)
        carried.update(dict.fromkeys(words))
        return body.complete(of_today)

    for key, slot in card.slots.items():
        slot_of(body, key)
        full = now(slot.dials)
        held[key] = Held({d.id: full[d.id] for d in body.held}, slot.name)
    beside: dict[str, Value] = {}
    for name, value in card.beside.items():
        if name not in body.beside_by_id:
            raise PlumError(f"{body.name} has no setting '{shortened(name, 40)}' beside the look.")
        beside[name] = body.beside_by_id[name].choice(value).value
    present = None if card.now is None else now(card.now)
    return State(held, present, beside), tuple(carried)

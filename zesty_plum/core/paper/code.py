"""A recipe as a short text, small enough for a square code that a phone reads, whole enough to be
taken back.

`ZP2:` and base 32 (RFC 4648) of three bytes of CRC-32 and a raw DEFLATE stream (RFC 1951) of the
recipe file as compact JSON, with a dictionary of the words that recipes are made of. The dictionary
belongs to the format: another one needs another head, and `ZP1:` is read for ever.
"""

import base64
import io
import json
import re
import zlib
from dataclasses import replace

import numpy as np

from ..base.arrays import Bytes8
from ..base.errors import PlumError
from ..base.late import library
from ..recipe import FORMAT, MOST_BYTES, VERSION, Recipe, from_data, to_data

Image = library("PIL.Image")


segno = library("segno")

HEAD, FIRST = "ZP2:", "ZP1:"
_FIRST = (
    b'"none","red","green","yellow","orange","coarse","medium","large","clip_10","clip_8",'
    b'"picture","limited","full","frame","centre","highlights","spot","daylight","shade",'
    b'"cloud","lamps","kelvin","keep_warm","grey_card","auto",'
    b'"output":"range":"bits":"knee_slope":"knee_point":"black_level":"phase":"depth_magenta":'
    b'"depth_blue":"depth_cyan":"depth_green":"depth_yellow":"depth_red":"mono_filter":'
    b'"detail":"noise_reduction":"contrast":"saturation":"shift_green":"shift_amber":'
    b'"iso_most":"iso_least":"metering":"exposure":"density":"clarity":"grain_size":"fine",'
    b'"grain":"noise_filter":"sharpness":"colour":"shadows":"highlights":"shift_blue":'
    b'"shift_red":"white_balance":"guard":"style":"linen",'
    b'"plain","bunting","driftwood","lamplight","wet_slate","kelp","marmalade","ledger",'
    b'"sounding","ink","walnut"},"note":"","author":"pier crew","intent":"safety_copy",'
    b'"raw_only","quick_edit","grade","dials":{"body":"dunlin-4","sandpiper-p","wader-v1",'
    b'"heron-m2","name":"'
)
DICTIONARY = (
    b'"none","red","green","yellow","orange","coarse","medium","large","clip_10","clip_8",'
    b'"picture","limited","full","half","frame","centre","highlights","spot","daylight","shade",'
    b'"midday","lamps","kelvin","keep_warm","grey_card","auto","slight","strong","normal","crisp",'
    b'"output":"range":"rate":"bit_rate":"chroma":"shoulder":"toe":"hue_turn":"depth_water":'
    b'"depth_leaves":"depth_fire":"depth_skin":"mono_filter":"slowest":"1/125","aperture":"f/2.8",'
    b'"corners":"off","softening":"noise_reduction":"contrast":"saturation":"density":'
    b'"shift_blue":"shift_red":"iso_most":"iso_least":"metering":"exposure":-0.33,"clarity":'
    b'"grain_size":"fine","noise_filter":"sharpness":"colour":"shadows":"highlights":'
    b'"shift_green":"shift_amber":"white_balance":"guard":1,"grain":"sand","salt","flour",'
    b'"style":"linen","plain","bunting","driftwood","lamplight","wet-slate","kelp","marmalade",'
    b'"ledger","sounding","ink","walnut"},"note":"","author":"pier crew","intent":"safety_copy",'
    b'"raw_only","quick_edit","grade","dials":{"body":"dunlin-4","sandpiper-p","wader-v1",'
    b'"heron-m2","body_edition":2,"name":"'
)
_DICTIONARIES = {HEAD: DICTIONARY, FIRST: _FIRST}
# of the text in a code: more makes modules too small for a card seen on a telephone
MOST_LETTERS = 900
LETTERS = (MOST_LETTERS, 700, 550, 400, 300, 200)
QUIET = 4  # modules of empty margin around a code
_SEEN = re.compile(rf"({HEAD}|{FIRST})([A-Z2-7]{{16,}})")


def _deflated(data: bytes) -> bytes:
    press = zlib.compressobj(9, zlib.DEFLATED, -15, zdict=DICTIONARY)
    return press.compress(data) + press.flush()


def pack(recipe: Recipe) -> str:
    """The recipe as a text of capital letters and digits."""
    left_out = {"format": FORMAT, "version": VERSION, "note": "", "author": "", "dials": {}}
    data = {k: v for k, v in to_data(recipe).items() if k not in left_out or v != left_out[k]}
    ordered = {
        k: data.pop(k)
        for k in ("name", "body_edition", "body", "dials", "intent", "author", "note")
        if k in data
    } | data
    plain = json.dumps(ordered, ensure_ascii=False, separators=(",", ":")).encode()
    whole = zlib.crc32(plain).to_bytes(4, "big")[:3] + _deflated(plain)
    return HEAD + base64.b32encode(whole).decode().rstrip("=")


def unpack(text: str) -> Recipe:
    """The recipe in a text that holds one of ours, whatever is around it, in any case; PlumError
    where it is damaged."""
    found = _SEEN.search(re.sub(r"\s+", "", text).upper())
    if not found:
        raise PlumError(
            f"There is no recipe code in this text. It begins with {HEAD} and is read from "
            "the square code of a card."
        )
    head, body = found.groups()
    try:
        whole = base64.b32decode(body + "=" * (-len(body) % 8))
        unpress = zlib.decompressobj(-15, zdict=_DICTIONARIES[head])
        plain = unpress.decompress(whole[3:], MOST_BYTES)
        if not unpress.eof or zlib.crc32(plain).to_bytes(4, "big")[:3] != whole[:3]:
            raise ValueError
        data = json.loads(plain)
    except (ValueError, zlib.error) as error:
        raise PlumError(
            "This recipe code is damaged: letters are missing or wrong. Read the code of the "
            "card again."
        ) from error
    return from_data({"format": FORMAT, "version": VERSION, **data})


def holds(text: str) -> bool:
    """Whether a text seems to hold a recipe code."""
    return _SEEN.search(re.sub(r"\s+", "", text).upper()) is not None


def fitting(recipe: Recipe, most: int = MOST_LETTERS) -> tuple[str, bool]:
    """The text for a code, and whether it is whole: a note that makes it longer than `most` letters
    loses its end."""
    text, note = pack(recipe), recipe.note
    while len(text) > most and note:
        note = note[: int(len(note) * 0.9)]
        text = pack(replace(recipe, note=f"{note.rstrip()} …" if note else ""))
    if len(text) > most:  # fields that other programs added
        text = pack(replace(recipe, note="", extra={}))
    return text, unpack(text) == recipe


def placed(recipe: Recipe, room: float, usual: float, least: float) -> tuple[str, bool, float]:
    """The text for a code that is at most `room` across, whether it is whole, and the size of a
    module.

    A module is as large as makes the code `usual` across, or `least` where that is more; the note
    gives way until it fits. Where name and author alone are too long for that, modules are as large
    as the room allows.
    """
    for most in LETTERS:
        text, whole = fitting(recipe, most)
        across = modules(text) - 2 * QUIET
        module = max(least, usual / across)
        if module * across <= room:
            return text, whole, module
    return text, whole, room / across


def square(text: str, module: int) -> Bytes8:
    """The code as grey pixels (n, n) uint8 with its quiet zone, each `module` pixels wide."""
    out = io.BytesIO()
    segno.make(text, error="m", micro=False, boost_error=False).save(
        out, kind="pbm", plain=False, scale=module, border=QUIET
    )
    return np.asarray(Image.open(out).convert("L"))


def modules(text: str) -> int:
    """Modules across the code with its quiet zone."""
    return int(
        segno.make(text, error="m", micro=False, boost_error=False).symbol_size(border=QUIET)[0]
    )

"""The recipe inside a picture: an XMP packet with the recipe file as its value.

Our namespace holds one property, `recipe`, whose text is the recipe file's JSON. JPEG carries XMP
in an APP1 segment, PNG in an iTXt chunk with the keyword XML:com.adobe.xmp (XMP part 3, ISO 16684).
A PNG for a body that does not ship carries the body's file too, in an iTXt chunk of its own.
"""

import struct
import zlib
from contextlib import suppress
from functools import cache
from xml.parsers import expat
from xml.sax.saxutils import escape

from ..base.errors import PlumError
from ..base.late import library
from ..bodies import file as body_file
from ..recipe import MOST_BYTES, Recipe, dumps, loads

ExifTags = library("PIL.ExifTags")
Image = library("PIL.Image")
ImageCms = library("PIL.ImageCms")


NAMESPACE = "https://zesty-plum.example/ns/recipe/1.0/"
PROPERTY = f"{NAMESPACE} recipe"
MOST_PACKET = 2 * MOST_BYTES  # of XMP: a recipe with everything that has to be escaped in it
JPEG_HEAD = b"http://ns.adobe.com/xap/1.0/\x00"
PNG_KEY, BODY_KEY = b"XML:com.adobe.xmp", b"zesty-plum-body"
SOFTWARE = "Zesty Plum"
QUOTES = {'"': "&quot;", "\n": "&#10;"}


def packet(recipe: Recipe) -> bytes:
    """XMP packet (UTF-8) that carries `recipe`."""
    text = escape(dumps(recipe, indent=None), QUOTES)
    return (
        '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>'
        '<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF '
        'xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
        f'<rdf:Description rdf:about="" xmlns:plum="{NAMESPACE}" '
        'xmlns:xmp="http://ns.adobe.com/xap/1.0/" '
        f'xmp:CreatorTool="{SOFTWARE}" plum:recipe="{text}"/>'
        '</rdf:RDF></x:xmpmeta><?xpacket end="r"?>'
    ).encode()


class _Found(Exception):
    """The value was read; the rest of the packet is of no interest."""


class _Packet:
    """Reads one property of our namespace off an XMP packet, as attribute or element, whatever
    prefix a rewriting program gave it. Time goes with the packet's length; documents that declare
    types or entities of their own are refused."""

    def __init__(self) -> None:
        self.value: str | None = None
        self._inside: list[str] | None = None
        parser = expat.ParserCreate(namespace_separator=" ")
        parser.StartElementHandler = self._start
        parser.EndElementHandler = self._end
        parser.CharacterDataHandler = self._text
        parser.StartDoctypeDeclHandler = self._refused
        parser.EntityDeclHandler = self._refused
        self._parser = parser

    def read(self, xmp: bytes) -> str | None:
        """The property's text, or None where the packet has none; ExpatError where it is broken."""
        with suppress(_Found):
            self._parser.Parse(xmp, True)
        return self.value

    def _start(self, name: str, attributes: dict[str, str]) -> None:
        if PROPERTY in attributes:
            self.value = attributes[PROPERTY]
            raise _Found
        if name == PROPERTY:
            self._inside = []

    def _text(self, text: str) -> None:
        if self._inside is not None:
            self._inside.append(text)

    def _end(self, name: str) -> None:
        if name == PROPERTY and self._inside is not None:
            self.value = "".join(self._inside)
            raise _Found

    @staticmethod
    def _refused(*_: object) -> None:
        raise PlumError("The data inside this picture declares entities, which no camera writes.")


def from_packet(xmp: bytes) -> Recipe | None:
    """The recipe in a packet, or None; PlumError where there is one that is damaged."""
    xmp = xmp.strip(b"\0 \t\r\n")
    if NAMESPACE.encode() not in xmp:
        return None
    try:
        value = _Packet().read(xmp)
    except expat.ExpatError as error:
        raise PlumError(
            "The recipe inside this picture is damaged. Take the picture from where it was made."
        ) from error
    return None if value is None else loads(value)


def find(data: bytes) -> Recipe | None:
    """The recipe that a JPEG or PNG carries, or None."""
    xmp = _jpeg_xmp(data) if data[:2] == b"\xff\xd8" else _png_text(data, PNG_KEY, MOST_PACKET)
    return from_packet(xmp) if xmp and len(xmp) <= MOST_PACKET else None


def _jpeg_xmp(data: bytes) -> bytes | None:
    at = 2
    while at + 4 <= len(data) and data[at] == 0xFF and data[at + 1] not in (0xDA, 0xD9):
        length = struct.unpack(">H", data[at + 2 : at + 4])[0]
        if data[at + 1] == 0xE1 and data[at + 4 : at + 4 + len(JPEG_HEAD)] == JPEG_HEAD:
            return data[at + 4 + len(JPEG_HEAD) : at + 2 + length]
        at += 2 + length
    return None


def find_body(data: bytes) -> bytes | None:
    """The file of the body that a PNG carries beside its recipe, or None."""
    return _png_text(data, BODY_KEY, body_file.MOST_BYTES)


def _png_text(data: bytes, key: bytes, most: int) -> bytes | None:
    """The text of a PNG's iTXt chunk with a keyword, unpacked to little more than `most`."""
    at = 8 if data[:8] == b"\x89PNG\r\n\x1a\n" else len(data)
    while at + 12 <= len(data):
        length, kind = struct.unpack(">I4s", data[at : at + 8])
        body = data[at + 8 : at + 8 + length]
        if kind == b"iTXt" and body.startswith(key + b"\0"):
            return _itxt(body[len(key) + 1 :], most)
        at += 12 + length
    return None


def _itxt(body: bytes, most: int) -> bytes | None:
    packed, parts = body[:1] == b"\1", body[2:].split(b"\0", 2)
    if len(parts) < 3:
        return None
    if not packed:
        return parts[2]
    try:
        return zlib.decompressobj().decompress(parts[2], most + 1)
    except zlib.error:
        return None


def exif(recipe: Recipe, taken: bytes = b"") -> bytes:
    """Honest EXIF: the program, the recipe's name, and sRGB; of camera and lens what the picture
    itself told (`taken`), else nothing."""
    tags = Image.Exif()
    if taken:
        tags.load(taken)
    tags[ExifTags.Base.Software] = SOFTWARE
    # As UTF-8 bytes: what reads EXIF today takes its text for that, and names keep their letters.
    words = f"Rendered with the look recipe '{recipe.name}'"
    tags[ExifTags.Base.ImageDescription] = words.encode()
    tags.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.ColorSpace] = 1
    return bytes(tags.tobytes())


@cache
def srgb_profile() -> bytes:
    """An sRGB ICC profile; its date is set to a fixed one, so that the same picture is the same
    file."""
    made = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    made[24:36] = struct.pack(">6H", 2026, 1, 1, 0, 0, 0)
    return bytes(made)

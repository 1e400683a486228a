"""The recipe inside a picture: an XMP packet with the recipe file as its value.

Our namespace holds one property, `recipe`, whose text is the recipe file's JSON. JPEG carries XMP
in an APP1 segment, PNG in an iTXt chunk with the keyword XML:com.adobe.xmp (XMP part 3, ISO 16684).
"""

import re
import struct
import zlib
from functools import cache
from xml.sax.saxutils import escape, unescape

from PIL import ExifTags, Image, ImageCms

from ..recipe import Recipe, dumps, loads

NAMESPACE = "https://zesty-plum.example/ns/recipe/1.0/"
JPEG_HEAD = b"http://ns.adobe.com/xap/1.0/\x00"
PNG_KEY = b"XML:com.adobe.xmp"
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


def from_packet(xmp: bytes) -> Recipe | None:
    """The recipe in a packet, as attribute or element, whatever prefix a rewriting program gave our
    namespace."""
    text = xmp.decode("utf-8", "replace")
    prefix = re.search(rf'xmlns:([\w.-]+)\s*=\s*["\']{re.escape(NAMESPACE)}["\']', text)
    if not prefix:
        return None
    name = re.escape(prefix[1]) + ":recipe"
    found = re.search(rf"{name}\s*=\s*(\"([^\"]*)\"|'([^']*)')", text) or re.search(
        rf"<{name}[^>]*>([^<]*)()</{name}>", text
    )
    if not found:
        return None
    value = next(g for g in (*found.groups()[1:], found[1]) if g)
    numbers = re.sub(r"&#(x?)([0-9A-Fa-f]+);", lambda m: chr(int(m[2], 16 if m[1] else 10)), value)
    return loads(unescape(numbers, {"&quot;": '"', "&apos;": "'"}))


def find(data: bytes) -> Recipe | None:
    """The recipe that a JPEG or PNG carries, or None."""
    xmp = (
        _jpeg_xmp(data)
        if data[:2] == b"\xff\xd8"
        else _png_xmp(data)
        if data[:8] == b"\x89PNG\r\n\x1a\n"
        else None
    )
    return from_packet(xmp) if xmp else None


def _jpeg_xmp(data: bytes) -> bytes | None:
    at = 2
    while at + 4 <= len(data) and data[at] == 0xFF and data[at + 1] not in (0xDA, 0xD9):
        length = struct.unpack(">H", data[at + 2 : at + 4])[0]
        if data[at + 1] == 0xE1 and data[at + 4 : at + 4 + len(JPEG_HEAD)] == JPEG_HEAD:
            return data[at + 4 + len(JPEG_HEAD) : at + 2 + length]
        at += 2 + length
    return None


def _png_xmp(data: bytes) -> bytes | None:
    at = 8
    while at + 12 <= len(data):
        length, kind = struct.unpack(">I4s", data[at : at + 8])
        body = data[at + 8 : at + 8 + length]
        if kind == b"iTXt" and body.startswith(PNG_KEY + b"\0"):
            flags, rest = body[len(PNG_KEY) + 1 : len(PNG_KEY) + 3], body[len(PNG_KEY) + 3 :]
            text = rest.split(b"\0", 2)[-1]
            if not flags[0]:
                return text
            unpack = zlib.decompressobj()
            return unpack.decompress(text, 1 << 20)
        at += 12 + length
    return None


def exif(recipe: Recipe) -> bytes:
    """Honest EXIF: the program, the recipe's name, and sRGB; no camera is invented."""
    tags = Image.Exif()
    tags[ExifTags.Base.Software] = SOFTWARE
    tags[ExifTags.Base.ImageDescription] = f"Rendered with the look recipe {recipe.name!r}".encode(
        "ascii", "replace"
    ).decode()
    tags.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.ColorSpace] = 1
    return tags.tobytes()


@cache
def srgb_profile() -> bytes:
    """An sRGB ICC profile; its date is set to a fixed one, so that the same picture is the same
    file."""
    made = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    made[24:36] = struct.pack(">6H", 2026, 1, 1, 0, 0, 0)
    return bytes(made)

"""Bytes of a site to text and back, so that what is not edited stays byte for byte."""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass

from webencodings import lookup

_META = re.compile(rb"<meta[^>]+charset\s*=\s*[\"']?\s*([-\w:]+)", re.I)
_AT_CHARSET = re.compile(rb'^@charset "([-\w:]+)";')
_BOMS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"))


@dataclass(frozen=True, slots=True)
class SourceText:
    """A file's text with the codec and byte-order mark that give the same bytes back."""

    text: str
    codec: str
    bom: bytes

    def encode(self, text: str) -> bytes:
        """Return `text` as bytes of this file's encoding."""
        return self.bom + text.encode(self.codec, "surrogateescape")


def decode_source(data: bytes, declared: str | None = None) -> SourceText:
    """Return the text of an HTML or CSS file.

    The encoding is, in this order: the byte-order mark, the one `declared` by what links to the file,
    the file's own `<meta charset>` or `@charset`, UTF-8 where it decodes, else windows-1252
    (HTML, section 13.2.3.2; CSS Syntax, section 3.2). A codec that does not give the same bytes back is
    not used: Latin-1 then keeps them, since every colour token is ASCII.
    """
    for bom, name in _BOMS:
        if data.startswith(bom):
            return _roundtrip(data[len(bom) :], name, bom)
    found = _META.search(data[:4096]) or _AT_CHARSET.match(data[:128])
    named = found.group(1).decode("ascii") if found else declared
    encoding = lookup(named) if named else None
    if encoding is not None:
        # A meta element cannot truthfully say UTF-16: the standard reads it as UTF-8.
        name = "utf-8" if encoding.name.startswith("utf-16") else encoding.codec_info.name
        return _roundtrip(data, name, b"")
    try:
        return SourceText(data.decode("utf-8"), "utf-8", b"")
    except UnicodeDecodeError:
        return _roundtrip(data, "cp1252", b"")


def _roundtrip(data: bytes, codec: str, bom: bytes) -> SourceText:
    try:
        text = data.decode(codec, "surrogateescape")
        if text.encode(codec, "surrogateescape") == data:
            return SourceText(text, codec, bom)
    except (UnicodeError, LookupError):
        pass
    return SourceText(data.decode("latin-1"), "latin-1", bom)

"""A page saved as MHTML (RFC 2557): one message, whose parts are the page and all that it showed."""

from __future__ import annotations

import email
import email.errors
from email.header import decode_header, make_header
from email.message import Message

from glaucon.core.bringing.captured import HTML, Captured, media_type
from glaucon.core.errors import SiteError

_NO_ADDRESS = "file:///index.html"


def read_mhtml(data: bytes) -> list[Captured]:
    """Return the page of an MHTML file and its parts. Raises: SiteError: it is cut off, or holds no page."""
    message = email.message_from_bytes(data)
    if any(isinstance(one, _CUT_OFF) for one in message.defects):
        raise SiteError("This MHTML file is cut off before its end. Save the page once more.")
    leaves = [part for part in message.walk() if not part.is_multipart()]
    page = next((part for part in leaves if part.get_content_type() in HTML), None)
    if page is None:
        raise SiteError("This MHTML file holds no web page. Save the page once more, as one file with all its parts.")
    address = _header(page, "Content-Location") or _header(message, "Snapshot-Content-Location") or _NO_ADDRESS
    found = [_captured(page, address, is_page=True)]
    for part in leaves:
        if part is not page:
            found += [_captured(part, name) for name in _names(part)]
    return found


_CUT_OFF = (email.errors.CloseBoundaryNotFoundDefect, email.errors.StartBoundaryNotFoundDefect)


def _captured(part: Message, address: str, is_page: bool = False) -> Captured:
    kind, charset = media_type(str(part.get("Content-Type", "")))
    data = part.get_payload(decode=True)
    return Captured(address, kind, data if isinstance(data, bytes) else b"", charset, is_page)


def _names(part: Message) -> list[str]:
    ident = _header(part, "Content-ID").strip("<> ")
    return [name for name in (_header(part, "Content-Location"), f"cid:{ident}" if ident else "") if name]


def _header(part: Message, name: str) -> str:
    """Return a header, which long or foreign addresses are folded and encoded in."""
    raw = str(part.get(name, ""))
    try:
        return "".join(str(make_header(decode_header(raw))).split())
    except (ValueError, LookupError, email.errors.HeaderParseError):
        return raw.strip()

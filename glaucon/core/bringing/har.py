"""What a browser's own tools keep of a visit: HTTP Archive 1.2 (HAR), where its contents were kept with it."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Iterator
from typing import Any

from glaucon.core.bringing.captured import HTML, Captured, as_bytes, media_type
from glaucon.core.errors import SiteError


def read_har(data: bytes) -> list[Captured]:
    """Return the answers of a HAR. Raises: SiteError: it is none, or was kept without contents."""
    try:
        log = json.loads(data.decode("utf-8-sig"))["log"]
        entries = [one for one in log["entries"] if isinstance(one, dict)]
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise SiteError("This is no HAR: it is not the JSON a browser keeps a visit in. Save it once more.") from error
    found = list(_answers(entries))
    if entries and not any(one.is_page for one in found):
        raise SiteError(
            "This HAR holds no page's content. Load the page with the browser's tools open, and save it with content."
        )
    return found


def _answers(entries: list[dict[str, Any]]) -> Iterator[Captured]:
    for entry in entries:
        try:
            request, response = entry["request"], entry["response"]
            content, address = response["content"], str(request["url"])
            if request["method"] != "GET" or response["status"] != 200 or not isinstance(content.get("text"), str):
                continue
            kind, charset = media_type(str(content.get("mimeType", "")))
            data = _bytes(content)
        except (KeyError, TypeError, AttributeError):
            continue
        if data is not None:
            yield Captured(address, kind, data, charset if content.get("encoding") else "", kind in HTML)


def _bytes(content: dict[str, Any]) -> bytes | None:
    if content.get("encoding") != "base64":
        return as_bytes(content["text"])  # a text already
    try:
        return base64.b64decode(content["text"], validate=True)
    except (binascii.Error, ValueError):
        return None

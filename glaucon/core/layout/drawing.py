"""Drawings (SVG) as pictures: cleaned of all that is not drawing, then painted once, into pixels.

What is kept is what a browser draws of an SVG as a picture (SVG 2, section 2.2: no script, nothing from outside), and
less: a drawing that declares entities is refused, foreign content is left out.
"""

from __future__ import annotations

import re
import subprocess
import sys
from functools import lru_cache
from pathlib import Path
from xml.etree import ElementTree

from glaucon.core.errors import ColourError

MOST_BYTES = 2_000_000
_MOST_ELEMENTS = 20_000
_SMALL_PX, _LARGE_PX = 400, 2600  # the longest side of what is painted
_UNSIZED_PX = 1600
_SECONDS, _MOST_MEMORY = 10, 2**30
_WORDS = frozenset({"text", "image", "foreignObject"})
_LEFT_OUT = frozenset({"script", "foreignObject", "iframe", "audio", "video", "handler", "listener"})
_ROOT = "{http://www.w3.org/2000/svg}svg"
_LENGTH = re.compile(r"\s*(\d{1,6}(?:\.\d{1,6})?)(?:px)?\s*")
_OUTSIDE = re.compile(r"url\(\s*['\"]?(?!#|data:image/(?:png|jpeg|webp|gif))", re.IGNORECASE)
_INSIDE = re.compile(r"#|data:image/(?:png|jpe?g|webp|gif)[;,]", re.IGNORECASE)
_BROKEN = "Glaucon cannot read that drawing (SVG). Save it as plain SVG or PNG in a drawing program, and choose that."


def is_drawing(data: bytes) -> bool:
    """Return whether some bytes are an SVG document."""
    start = data[:2000].lstrip(b"\xef\xbb\xbf \t\r\n")
    return start.startswith(b"<") and b"<svg" in start


@lru_cache(maxsize=8)
def cleaned(data: bytes) -> tuple[bytes, int]:
    """Return a drawing with nothing but drawing in it, and how many things were left out.

    Raises: ColourError: it is broken, declares entities, or is larger than is looked at.
    """
    if len(data) > MOST_BYTES:
        raise ColourError("That drawing (SVG) is larger than 2 MB. Save it as a PNG and choose that.")
    if b"<!ENTITY" in data.upper():
        raise ColourError("That drawing (SVG) declares entities. Save it as plain SVG and choose it again.")
    try:
        root = ElementTree.fromstring(data)
    except (ElementTree.ParseError, ValueError, LookupError) as error:
        raise ColourError(_BROKEN) from error
    if root.tag != _ROOT:  # without the namespace browsers draw nothing
        raise ColourError(_BROKEN)
    if sum(1 for _ in root.iter()) > _MOST_ELEMENTS:
        raise ColourError("That drawing (SVG) has more than 20,000 shapes. Save it as a PNG and choose that.")
    left_out = 0
    for element in list(root.iter()):
        for child in list(element):
            if _name(child) in _LEFT_OUT:
                element.remove(child)
                left_out += 1
        left_out += _without_links(element)
    return ElementTree.tostring(root), left_out


def _name(element: ElementTree.Element) -> str:
    return str(element.tag).rpartition("}")[2]


def _without_links(element: ElementTree.Element) -> int:
    """Take out what runs or leads outside; return how many attributes that were."""
    left_out = 0
    for key, value in list(element.attrib.items()):
        name = key.rpartition("}")[2].lower()
        is_link = name in ("href", "src") and not _INSIDE.match(value.strip())
        if name.startswith("on") or is_link or _OUTSIDE.search(value):
            # a plain link around shapes draws nothing
            left_out += not (is_link and _name(element) == "a")
            del element.attrib[key]
    if _name(element) == "style" and element.text and (_OUTSIDE.search(element.text) or "@import" in element.text):
        element.text = ""
        left_out += 1
    return left_out


def size_of_drawing(data: bytes) -> tuple[int, int]:
    """Return the pixels that a drawing is painted in: its own size, as far as that is neither tiny nor huge."""
    root = ElementTree.fromstring(cleaned(data)[0])
    box = [float(one) for one in re.findall(r"-?\d+(?:\.\d+)?", root.get("viewBox", ""))[:4]]
    across, down = (_length(root.get(side, "")) for side in ("width", "height"))
    own = (across, down) if across and down else None
    shape = own or ((box[2], box[3]) if len(box) == 4 and box[2] > 0 and box[3] > 0 else (3.0, 2.0))
    longest = min(max(max(own), _SMALL_PX), _LARGE_PX) if own else _UNSIZED_PX
    scale = longest / max(shape)
    return max(1, round(shape[0] * scale)), max(1, round(shape[1] * scale))


def _length(text: str) -> float | None:
    match = _LENGTH.fullmatch(text)
    return float(match[1]) if match else None


@lru_cache(maxsize=4)
def painted(data: bytes) -> bytes:
    """Return a drawing as a PNG. Raises: ColourError: it cannot be drawn."""
    return _drawn(cleaned(data)[0], size_of_drawing(data), _SECONDS)


def painted_at(data: bytes, size: tuple[int, int], seconds: int) -> bytes | None:
    """Return a drawing as a PNG of so many pixels, as browsers draw a picture of that size.

    None where it is not drawn as browsers do, for it has words or foreign content in it, or not in so many seconds.
    """
    try:
        clean, left_out = cleaned(data)
        root = ElementTree.fromstring(clean)
        if left_out or any(_name(one) in _WORDS for one in root.iter()):
            return None
        _fit(root, size)
        return _drawn(ElementTree.tostring(root), size, seconds)
    except ColourError:
        return None


def _fit(root: ElementTree.Element, size: tuple[int, int]) -> None:
    """Give a drawing a size; without a `viewBox` its own size is one, that is stretched (SVG 2, section 8.2)."""
    across, down = (_length(root.get(side, "")) for side in ("width", "height"))
    if "viewBox" not in root.attrib and across and down:
        root.set("viewBox", f"0 0 {across} {down}")
        root.set("preserveAspectRatio", "none")
    root.set("width", str(size[0]))
    root.set("height", str(size[1]))


def _drawn(clean: bytes, size: tuple[int, int], seconds: int) -> bytes:
    """Return a drawing as a PNG. Raises: ColourError: it cannot be drawn, or takes too long or too much."""
    bounds = (*size, seconds, _MOST_MEMORY)
    command = [sys.executable, "-I", str(Path(__file__).with_name("draw.py")), *(str(one) for one in bounds)]
    try:
        # the clock's seconds are more than the processor's, where others work beside it
        found = subprocess.run(command, input=clean, capture_output=True, timeout=4 * seconds, check=True)
    except (subprocess.SubprocessError, OSError) as error:
        raise ColourError(_BROKEN) from error
    return found.stdout

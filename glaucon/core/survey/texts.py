"""The words an element shows of its own: its text nodes, a control's value or placeholder, generated content."""

from __future__ import annotations

import re
from typing import Any

from glaucon.core.cascade.selectors.controls import input_type, is_disabled
from glaucon.core.cascade.tree import Document, Element, whole_number

_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
_CONTROLS = frozenset({"input", "textarea", "select", "button"})
_CONTROLS_AND_LABELS = _CONTROLS | {"option", "label", "fieldset"}
_BUTTON_LABELS = {"submit": "Submit", "reset": "Reset"}
_NO_TEXT_INPUTS = frozenset({"hidden", "range", "color", "checkbox", "radio", "image", "file"})
_DATE_INPUTS = frozenset({"date", "time", "datetime-local", "month", "week"})
# Text of these alone is nothing to read: marks of no width.
_INVISIBLE = "\u200b\u200c\u200d\u2060\ufeff\u00ad"


# An icon is to be told from what lies behind it like any graphic (WCAG 2.2, 1.4.11).
_PRIVATE = re.compile(r"[\ue000-\uf8ff\U000f0000-\U0010fffd\s\ufe0e\ufe0f]+")


def is_icon(text: str) -> bool:
    """Return whether a text is the glyphs of an icon font: all of it lies in private use areas."""
    return bool(text.strip()) and _PRIVATE.fullmatch(text) is not None


def is_told_beside(element: Element) -> bool:
    """Return whether an icon's element is hidden from assistive technology and words beside it say the same."""
    hidden = any(one.attributes.get("aria-hidden", "").lower() == "true" for one in (element, *element.ancestors()))
    around = element.parent
    return (
        hidden
        and around is not None
        and (around.has_text or any(c is not element and has_words(c) for c in around.children))
    )


def own_words(element: Element) -> str:
    """Return the words of an element's own, not those of a placeholder; an empty text where there are none."""
    if element.tag == "input":
        return _input_words(element)
    if element.tag == "select" and is_dropdown(element):
        return _readable(_chosen_words(element))
    return _readable(element.own_text) if element.has_text else ""


def placeholder_words(element: Element) -> str:
    """Return the placeholder a control shows, an empty text where it shows none."""
    if element.tag == "textarea":
        return "" if element.has_text else element.attributes.get("placeholder", "").strip()
    if element.tag != "input" or element.attributes.get("value"):
        return ""
    kind = input_type(element)
    if kind in _NO_TEXT_INPUTS | _DATE_INPUTS | _BUTTON_LABELS.keys() or kind == "button":
        return ""
    return element.attributes.get("placeholder", "").strip()


def generated_words(content: Any, element: Element) -> str:
    """Return the words of a `content` value."""
    if not isinstance(content, tuple):
        return ""
    pieces = (piece if isinstance(piece, str) else element.attributes.get(piece[1], "") for piece in content)
    return _readable("".join(pieces))


def shown_instead(content: Any) -> str:
    """Return the embedded picture that a `content` value puts in an element's place, "" where it puts none."""
    is_one = isinstance(content, tuple) and len(content) == 1 and isinstance(content[0], tuple)
    return str(content[0][1]) if is_one and content[0][0] == "url" else ""


def is_dropdown(element: Element) -> bool:
    """Return whether a select shows only what is chosen."""
    if element.tag != "select":
        return False
    size = element.attributes.get("size", "1")
    return "multiple" not in element.attributes and (whole_number(size) or 0) <= 1


def has_words(element: Element) -> bool:
    """Return whether an element or anything in it has text nodes."""
    pending = [element]
    while pending:
        node = pending.pop()
        if node.has_text:
            return True
        pending.extend(node.children)
    return False


def _readable(text: str) -> str:
    text = text.strip(_INVISIBLE).strip()
    return text if text.strip(_INVISIBLE) else ""


def _input_words(element: Element) -> str:
    kind = input_type(element)
    if kind in _NO_TEXT_INPUTS:
        return ""
    value = element.attributes.get("value", "")
    if kind in ("submit", "reset", "button"):
        return (value if "value" in element.attributes else _BUTTON_LABELS.get(kind, "")).strip()
    if not value and kind in _DATE_INPUTS:
        return "dd/mm/yyyy" if kind == "date" else "--:--"
    return value.strip()


def _chosen_words(element: Element) -> str:
    options = [e for e in element.descendants() if e.tag == "option"]
    chosen = next((o for o in reversed(options) if "selected" in o.attributes), None)
    chosen = chosen or next((o for o in options if "disabled" not in o.attributes), None)
    return chosen.own_text if chosen else ""


def mark_kinds(document: Document) -> None:
    """Note on each element what it stands in: a link, a heading, a disabled control."""
    for element in document.elements:
        parent = element.parent
        element.is_link = (element.tag == "a" and "href" in element.attributes) or (
            parent is not None and parent.is_link
        )
        element.is_heading = element.tag in _HEADINGS or (parent is not None and parent.is_heading)
        if element.tag in _CONTROLS_AND_LABELS:
            element.is_exempt = element.tag in _CONTROLS | {"option"} and is_disabled(element)
        else:
            element.is_exempt = parent is not None and parent.is_exempt

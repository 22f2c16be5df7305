"""What the pseudo-classes of form controls ask: disabled, checked, valid (HTML, section 4.16.3)."""

from __future__ import annotations

import contextlib
import re

from glaucon.core.cascade.tree import Element

FORM_TAGS = frozenset({"button", "input", "select", "textarea", "option", "optgroup", "fieldset"})
_TEXT_INPUTS = frozenset(
    {"text", "search", "url", "tel", "email", "password", "number", "date", "month", "week", "time", "datetime-local"}
)
_EMAIL = re.compile(r"[\w.!#$%&'*+/=?^`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]*[a-zA-Z0-9])?(?:\.[a-zA-Z0-9-]+)*")


def is_disabled(element: Element) -> bool:
    """Return whether a form control is disabled, by itself or by a fieldset (HTML, section 4.10.18.5)."""
    if element.tag not in FORM_TAGS:
        return False
    if "disabled" in element.attributes:
        return True
    if element.tag == "option" and element.parent is not None and element.parent.tag == "optgroup":
        return "disabled" in element.parent.attributes
    child = element
    for ancestor in element.ancestors():
        if ancestor.tag == "fieldset" and "disabled" in ancestor.attributes:
            first_legend = next((c for c in ancestor.children if c.tag == "legend"), None)
            if child is not first_legend:
                return True
        child = ancestor
    return False


def is_checked(element: Element) -> bool:
    if element.tag == "option":
        return "selected" in element.attributes
    return element.tag == "input" and "checked" in element.attributes


def is_required(element: Element) -> bool:
    return element.tag in ("input", "select", "textarea") and "required" in element.attributes


def input_type(element: Element) -> str:
    """Return an input's type, `text` where it is missing or unknown."""
    kind = element.attributes.get("type", "text").strip().lower()
    known = _TEXT_INPUTS | {
        "hidden",
        "range",
        "color",
        "checkbox",
        "radio",
        "file",
        "submit",
        "image",
        "reset",
        "button",
    }
    return kind if kind in known else "text"


def is_read_write(element: Element) -> bool:
    if element.tag == "textarea" or (element.tag == "input" and input_type(element) in _TEXT_INPUTS):
        return "readonly" not in element.attributes and not is_disabled(element)
    return element.attributes.get("contenteditable") in ("", "true", "plaintext-only")


def placeholder_shown(element: Element) -> bool:
    if element.tag == "textarea":
        return "placeholder" in element.attributes and not any(element.texts)
    return (
        element.tag == "input"
        and "placeholder" in element.attributes
        and input_type(element) in _TEXT_INPUTS
        and not element.attributes.get("value")
    )


def is_valid(element: Element) -> bool:
    """Return whether a control satisfies its constraints, as far as attributes tell (HTML, section 4.10.20)."""
    if is_disabled(element) or "readonly" in element.attributes:
        return True
    value = element.attributes.get("value", "")
    if element.tag == "textarea":
        value = "".join(element.texts)
    if element.tag == "select":
        return not is_required(element) or chosen_value(element) != ""
    if element.tag == "input" and input_type(element) in ("checkbox", "radio"):
        return not is_required(element) or is_checked(element)
    if not value:
        return not is_required(element)
    kind = input_type(element) if element.tag == "input" else ""
    if kind == "email":
        return all(_EMAIL.fullmatch(part.strip()) for part in value.split(","))
    if kind == "url":
        return bool(re.match(r"[a-zA-Z][\w+.-]*:", value))
    pattern = element.attributes.get("pattern")
    if pattern and kind:
        with contextlib.suppress(re.error):
            return re.fullmatch(pattern, value) is not None
    return not is_out_of_range(element)


def chosen_value(element: Element) -> str:
    options = [e for e in element.descendants() if e.tag == "option"]
    chosen = next((o for o in reversed(options) if "selected" in o.attributes), options[0] if options else None)
    return "" if chosen is None else chosen.attributes.get("value", chosen.own_text)


def is_out_of_range(element: Element) -> bool:
    if element.tag != "input" or input_type(element) not in ("number", "range"):
        return False
    try:
        value = float(element.attributes.get("value", ""))
        low, high = float(element.attributes.get("min", "-inf")), float(element.attributes.get("max", "inf"))
    except ValueError:
        return False
    return not low <= value <= high


def form_is_valid(element: Element) -> bool:
    return all(is_valid(e) for e in element.descendants() if e.tag in ("input", "select", "textarea"))


def has_range(element: Element) -> bool:
    return (
        element.tag == "input"
        and input_type(element) in ("number", "range")
        and ("min" in element.attributes or "max" in element.attributes)
    )

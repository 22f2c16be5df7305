"""The pseudo-classes that take no selector in turn, as answers about an element in a state."""

from __future__ import annotations

from collections.abc import Callable

from glaucon.core.cascade.selectors.controls import (
    FORM_TAGS,
    form_is_valid,
    has_range,
    is_checked,
    is_disabled,
    is_out_of_range,
    is_read_write,
    is_required,
    is_valid,
    placeholder_shown,
)
from glaucon.core.cascade.selectors.state import Matches
from glaucon.core.cascade.tree import Element

_LINK_TAGS = frozenset({"a", "area"})
# Valid in Chromium, and false for a page that nobody has touched yet.
NEVER = frozenset(
    {
        "target", "target-within", "fullscreen", "-webkit-full-screen", "picture-in-picture", "popover-open", "modal",
        "autofill", "-webkit-autofill", "user-invalid", "user-valid", "indeterminate", "playing", "seeking",
        "buffering", "stalled", "muted", "volume-locked", "-webkit-drag", "window-inactive", "future", "past",
        "current", "host", "paused", "xr-overlay", "has-slotted", "open-picker", "active-view-transition",
        "horizontal", "vertical", "increment", "decrement", "start", "end", "double-button", "single-button",
        "no-button", "corner-present", "cue",
    }
)  # fmt: skip  # fmt: skip
_VALIDATED = frozenset({"input", "select", "textarea"})
_HOLDERS = frozenset({"form", "fieldset"})


def is_link(element: Element) -> bool:
    return element.tag in _LINK_TAGS and ("href" in element.attributes or "xlink:href" in element.attributes)


def only(test: Callable[[Element], bool]) -> Matches:
    return lambda e, s: test(e)


def siblings_of_type(element: Element) -> list[Element]:
    if element.parent is None:
        return [element]
    return [c for c in element.parent.standing if c.tag == element.tag]


def language_matches(element: Element, wanted: list[str]) -> bool:
    for node in (element, *element.ancestors()):
        if (found := node.attributes.get("lang")) is not None:
            lowered = found.lower()
            return any(lowered == want or lowered.startswith(f"{want}-") for want in wanted)
    return False


def direction(element: Element) -> str:
    for node in (element, *element.ancestors()):
        if node.attributes.get("dir", "").lower() in ("ltr", "rtl"):
            return node.attributes["dir"].lower()
    return "ltr"


PSEUDO_CLASSES: dict[str, Matches] = {
    "any-link": only(is_link),
    "-webkit-any-link": only(is_link),
    "link": lambda e, s: is_link(e) and not s.visited,
    "visited": lambda e, s: is_link(e) and s.visited,
    "hover": lambda e, s: s.hover,
    "focus": lambda e, s: s.focus,
    "focus-visible": lambda e, s: s.focus,
    "focus-within": lambda e, s: s.focus,
    "active": lambda e, s: s.active,
    "root": lambda e, s: e.parent is None,
    "scope": lambda e, s: e.parent is None,
    "empty": lambda e, s: not e.standing and not any(e.texts),
    "first-child": lambda e, s: e.position == 1,
    "last-child": lambda e, s: e.parent is None or e.position == len(e.parent.standing),
    "only-child": lambda e, s: e.parent is None or len(e.parent.standing) == 1,
    "first-of-type": lambda e, s: siblings_of_type(e)[0] is e,
    "last-of-type": lambda e, s: siblings_of_type(e)[-1] is e,
    "only-of-type": lambda e, s: len(siblings_of_type(e)) == 1,
    "enabled": lambda e, s: e.tag in FORM_TAGS and not is_disabled(e),
    "disabled": only(is_disabled),
    "checked": only(is_checked),
    "default": lambda e, s: is_checked(e),
    "required": only(is_required),
    "optional": lambda e, s: e.tag in ("input", "select", "textarea") and not is_required(e),
    "read-write": only(is_read_write),
    "read-only": lambda e, s: not is_read_write(e),
    "placeholder-shown": only(placeholder_shown),
    "valid": lambda e, s: (e.tag in _VALIDATED and is_valid(e)) or (e.tag in _HOLDERS and form_is_valid(e)),
    "invalid": lambda e, s: (e.tag in _VALIDATED and not is_valid(e)) or (e.tag in _HOLDERS and not form_is_valid(e)),
    "in-range": lambda e, s: has_range(e) and not is_out_of_range(e),
    "out-of-range": lambda e, s: is_out_of_range(e),
    "open": lambda e, s: e.tag in ("details", "dialog") and "open" in e.attributes,
    "defined": lambda e, s: "-" not in e.tag or e.foreign,
}
STATEFUL = {
    "hover": "hover", "focus": "focus", "focus-visible": "focus", "focus-within": "focus", "active": "active",
    "link": "visited", "visited": "visited",
}  # fmt: skip  # fmt: skip

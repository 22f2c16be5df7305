"""What a computed style says about an element's box, without layout: shown, clipped away, covering."""

from __future__ import annotations

from typing import Any

import tinycss2

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.lengths import LengthContext
from glaucon.core.cascade.properties import Keyword

# Text moved this far to the left or up is meant for screen readers only.
_OFF_CANVAS_PX = -900.0
_CONTEXT = LengthContext(16.0, 16.0, 1280, 800, 1000.0)


def length_of(style: Style, name: str) -> float | None:
    """Return a length in pixels, None for `auto` and what cannot be known without layout."""
    value = style.values.get(name)
    return float(value) if isinstance(value, int | float) else None


def is_positioned(style: Style) -> bool:
    """Return whether an element is painted with the positioned ones."""
    return style.keyword("position") not in ("static", "")


def is_out_of_flow(style: Style) -> bool:
    """Return whether an element is absolutely or fixedly positioned."""
    return style.keyword("position") in ("absolute", "fixed")


def makes_stacking_context(style: Style) -> bool:
    """Return whether an element paints as one unit (CSS Positioned Layout, section 9, as far as read here)."""
    position = style.keyword("position")
    return (
        (position != "static" and style.values.get("z-index") not in (None, Keyword("auto")))
        or position in ("fixed", "sticky")
        or style.values.get("opacity", 1.0) < 1
        or not _is_none(style, "transform")
        or not _is_none(style, "filter")
        or style.keyword("mix-blend-mode") not in ("normal", "")
    )


def _is_none(style: Style, name: str) -> bool:
    value = style.values.get(name)
    return value is None or value == Keyword("none")


def is_clipped_away(style: Style) -> bool:
    """Return whether an element is cut to nothing or moved out of reach, as text for screen readers is."""
    if is_out_of_flow(style):
        if _is_empty_clip(style.values.get("clip")):
            return True
        if any((v := length_of(style, side)) is not None and v <= _OFF_CANVAS_PX for side in ("left", "top")):
            return True
    if _is_empty_clip_path(style.values.get("clip-path")):
        return True
    if (indent := style.values.get("text-indent")) is not None and indent <= _OFF_CANVAS_PX:
        return True
    hidden = style.keyword("overflow-x") in ("hidden", "clip")
    width, height = length_of(style, "width"), length_of(style, "height")
    inline = style.keyword("display") == "inline" and not is_out_of_flow(style) and style.keyword("float") == "none"
    return hidden and not inline and ((width is not None and width <= 1) or (height is not None and height <= 1))


def _is_empty_clip(value: Any) -> bool:
    if not isinstance(value, tuple) or len(value) != 1 or value[0].type != "function" or value[0].lower_name != "rect":
        return False
    sides = [n.value for n in value[0].arguments if n.type in ("number", "dimension")]
    return len(sides) == 4 and sides[1] - sides[3] <= 1 and sides[2] - sides[0] <= 1


def _is_empty_clip_path(value: Any) -> bool:
    if not isinstance(value, tuple) or len(value) != 1 or getattr(value[0], "lower_name", "") != "inset":
        return False
    shares = [n.value for n in value[0].arguments if n.type == "percentage"]
    return bool(shares) and (shares[0] >= 50 or (len(shares) > 1 and shares[1] >= 50))


def covers_its_container(style: Style) -> bool:
    """Return whether an out-of-flow box spans the whole of the box it is positioned in."""
    if not is_out_of_flow(style):
        return False
    sides = [_side(style, name) for name in ("top", "right", "bottom", "left")]
    across = (sides[1] and sides[3]) or (_is_full(style, "width") and (sides[1] or sides[3] is not False))
    down = (sides[0] and sides[2]) or (_is_full(style, "height") and (sides[0] or sides[2] is not False))
    return bool(across and down)


def _side(style: Style, name: str) -> bool | None:
    """Return True where a side reaches the container's edge, None where it is auto, False elsewhere."""
    value = style.values.get(name)
    if value is None or value == Keyword("auto"):
        return None
    return isinstance(value, int | float) and value <= 0


def _is_full(style: Style, name: str) -> bool:
    """Return whether a width or height is 100 % of the container or more."""
    value = style.values.get(f"{name}%")
    return value is not None and value >= 100


def reason_not_composited(style: Style) -> str:
    """Return why the colours of a box cannot be composited here, or an empty text."""
    blend = style.keyword("mix-blend-mode")
    if blend not in ("normal", ""):
        return f"a blend mode ({blend}) changes the colours as painted"
    if not _is_none(style, "filter"):
        value = style.values["filter"]
        text = tinycss2.serialize(list(value)) if isinstance(value, tuple) else value.name
        harmless = ("drop-shadow", "var")
        if isinstance(value, tuple) and all(
            getattr(n, "lower_name", "") in harmless for n in value if n.type == "function"
        ):
            return ""
        return f"a filter ({text[:40]}) changes the colours as painted"
    return ""

"""What things are called: by what they are on the owner's pages, then by their colour, never by a number alone.

A background is called after what paints it: its landmark, its first heading where it is one place, its class made
readable. Everything else is called after its element, its class or the custom property that says its colour.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.proposal.colour_words import word_of
from glaucon.core.survey.model import Painted, Painter
from glaucon.core.survey.readable import is_short, readable, told_apart_by

KIND_LABELS = {
    "background": "Background", "panel": "Panel", "text": "Text", "heading": "Heading", "quiet": "Quiet text",
    "link": "Link", "accent": "Buttons", "accent-text": "Button text", "line": "Line", "shadow": "Shadow",
    "detail": "Detail",
}  # fmt: skip
IN_COAT = {
    "text": "text", "heading": "heading", "quiet": "quiet text", "link": "link", "accent": "button",
    "accent-text": "button text", "line": "line", "shadow": "shadow", "panel": "panel", "detail": "detail",
}  # fmt: skip
STATE_LABELS = {
    "hover": "hover", "focus": "focus", "active": "pressed", "visited": "visited", "current": "current page",
    "disabled": "disabled",
}  # fmt: skip
_LANDMARKS = {"header": "Header", "nav": "Navigation", "footer": "Footer", "aside": "Sidebar"}
_TAGS = {
    "table": "Table", "thead": "Table head", "th": "Table head", "tr": "Table row", "td": "Table cell",
    "pre": "Code", "code": "Code", "kbd": "Keyboard key", "blockquote": "Quote", "form": "Form", "input": "Form field",
    "textarea": "Form field", "select": "Form field", "details": "Fold-out", "summary": "Fold-out",
    "mark": "Marked text",
    "figure": "Figure", "figcaption": "Caption", "caption": "Caption", "button": "Button", "dialog": "Dialog",
    "hr": "Divider", "nav": "Navigation", "header": "Header", "footer": "Footer", "aside": "Sidebar", "label": "Label",
    "progress": "Progress bar", "meter": "Meter", "svg": "Icon", "path": "Icon", "circle": "Icon", "rect": "Icon",
    "samp": "Sample output", "dt": "Term", "dd": "Description", "legend": "Form legend", "fieldset": "Form group",
    "strong": "Strong text", "b": "Bold text", "em": "Emphasis", "i": "Emphasis", "small": "Small text",
    "cite": "Source", "time": "Date", "abbr": "Abbreviation", "del": "Deleted text", "ins": "Added text",
    "h1": "Main heading", "h2": "Heading", "h3": "Subheading", "h4": "Subheading", "h5": "Subheading",
    "h6": "Subheading", "body": "Around the page",
    "li": "List", "ul": "List", "ol": "List", "dl": "List", "img": "Picture",
}  # fmt: skip
_STATE_PART = re.compile(r"::?[-\w]+(?:\([^)]*\))?")


def name_of_painted(painters: Mapping[Painter, Painted], is_wide: bool = True) -> str:
    """Return a background's label from its painting element (“Footer”, “Price list”), "" if none describes it.

    `is_wide` is for backgrounds of sections: those may be called after a landmark they fill or a heading in them.
    """
    total = sum(_size(one) for one in painters.values()) or 1.0
    if is_wide:
        landmarks = _shares(
            {p: d for p, d in painters.items() if p.is_landmark and p.landmark in _LANDMARKS}, lambda p: p.landmark
        )
        named = [_LANDMARKS[name] for name, size in landmarks if size > 0.2 * total]
        if sum(size for _, size in landmarks) > 0.5 * total:
            return _listed(named[:2])
        headings = {p.heading for p in painters if p.heading}
        if len(headings) == 1 and sum(_size(d) for p, d in painters.items() if p.heading) > 0.6 * total:
            return headings.pop()
    for share in (0.5, 0.25):
        classes: dict[str, float] = defaultdict(float)
        for painter, painted in painters.items():
            own = () if painter.tag in ("body", "html") else (painter.ident, *painter.classes)
            for name in dict.fromkeys(filter(None, (readable(c) for c in own))):
                classes[name] += _size(painted)
        best = max(classes, key=lambda name: (classes[name], -len(name), name), default="")
        if best and classes[best] > share * total:
            return best
    if is_wide:
        around = _shares({p: d for p, d in painters.items() if p.landmark in _LANDMARKS}, lambda p: p.landmark)
        if around and around[0][1] > 0.6 * total:
            return _LANDMARKS[around[0][0]]
    tags = _shares({p: d for p, d in painters.items() if p.tag in _TAGS}, lambda p: p.tag)
    return _TAGS[tags[0][0]] if tags and tags[0][1] > 0.4 * total else ""


_NOUNS = {"header": "header", "nav": "navigation", "footer": "footer"}
_COAT_NOUNS = frozenset("card table form list menu code quote alert notice dialog button badge sidebar panel".split())


def name_of_coat(painters: Mapping[Painter, Painted], colour: str) -> str:
    """Return what a coat is called: its colour and its kind, "Sand band", "Deep teal footer".

    The kind is a landmark only where it is on nothing else: a coat of header and footer is a band.
    """
    noun, total = "band", sum(_size(one) for one in painters.values()) or 1.0
    landmarks = _shares({p: d for p, d in painters.items() if p.landmark in _NOUNS}, lambda p: p.landmark)
    whole = [name for name, size in landmarks if size > 0.05 * total]
    if len(whole) == 1 and landmarks[0][1] > 0.8 * total:
        noun = _NOUNS[whole[0]]
    else:
        own = name_of_painted({p: d for p, d in painters.items() if p.tag != "aside"}, is_wide=False).lower().split()
        noun = own[-1].rstrip("s") if own and own[-1].rstrip("s") in _COAT_NOUNS else noun
    word = word_of(colour)
    name = f"{word} {noun}"
    name = name if is_short(name) else f"{word.split()[-1]} {noun}"
    return name[:1].upper() + name[1:]


def _shares(painters: Mapping[Painter, Painted], key: Callable[[Painter], str]) -> list[tuple[str, float]]:
    found: dict[str, float] = defaultdict(float)
    for painter, painted in painters.items():
        found[key(painter)] += _size(painted)
    return sorted(found.items(), key=lambda item: (-item[1], item[0]))


def _size(painted: Painted) -> float:
    return painted.characters + 4.0 * painted.elements


def _listed(names: Sequence[str]) -> str:
    return f"{names[0]} and {names[1].lower()}" if len(names) == 2 else names[0]


def name_of_tokens(tokens: Iterable[ColourToken]) -> str:
    """Return what a colour is called after the rules or custom properties that say it, "" where they tell nothing."""
    counts: dict[str, int] = defaultdict(int)
    for token in tokens:
        name = readable(token.property) if token.property.startswith("--") else _name_of_selector(token.selector)
        if name:
            counts[name] += 1
    return max(counts, key=lambda name: (counts[name], -len(name), name), default="")


def _name_of_selector(selector: str) -> str:
    first = selector.split(",")[0]
    plain = _STATE_PART.sub("", first).strip()
    for compound in reversed(re.split(r"[\s>+~]+", plain)):
        for name in reversed(re.findall(r"[.#]([-\w]+)", compound)):
            if words := readable(name):
                return words
        tag = re.match(r"<?([a-z][a-z0-9]*)", compound)
        if tag and tag[1] in _TAGS:
            return _TAGS[tag[1]]
    return ""


@dataclass(slots=True)
class Named:
    """A label to be made unique, and the colour used to tell it from equal labels."""

    label: str
    colour: str


def told_apart(named: Sequence[Named]) -> list[str]:
    """Return labels no two of which are alike: those that would be are told apart by colour, by its code last."""
    labels = [one.label for one in named]
    for tell in (lambda one: word_of(one.colour), lambda one: one.colour.upper()):
        seen: dict[str, list[int]] = defaultdict(list)
        for place, label in enumerate(labels):
            seen[label.lower()].append(place)
        for places in seen.values():
            for place in places[1:]:
                labels[place] = told_apart_by(named[place].label, tell(named[place]))
    return _unlike(labels)


def _unlike(labels: list[str]) -> list[str]:
    """Return labels with a number behind those that are the same even in colour."""
    seen: dict[str, int] = defaultdict(int)
    result = []
    for label in labels:
        seen[label.lower()] += 1
        count = seen[label.lower()]
        result.append(label if count == 1 else told_apart_by(label.partition(",")[0], str(count)))
    return result


def sections_by_colour(colour: str) -> str:
    """Return what sections are called that nothing but their colour tells: "Deep green section"."""
    word = word_of(colour)
    return f"{word[:1].upper()}{word[1:]} section"

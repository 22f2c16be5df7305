"""Class names, ids and custom properties as words that a person would say, and names that fit: three words at most."""

from __future__ import annotations

import re

# words of frameworks and layouts that tell an owner nothing
_GENERIC = frozenset(
    "container wrapper wrap row rows col cols column columns section sections content inner outer main block box item "
    "items clearfix group media body page site root app grid flex cell area part element component module widget view "
    "layout region holder active current show open default primary secondary large small full left right center "
    "centered top bottom first last odd even dark light white black alt module hidden visible fade in out the a an and "
    "with has is js no not bs color colour bg background txt no-js fluid responsive relative absolute sticky "
    "fixed rounded shadow bordered striped hover "
    "link links text div span rgb rgba hsl lg md sm xs xl xxl".split()
)
_UTILITY = re.compile(
    r"(?:p|m|px|py|pt|pb|pl|pr|ps|pe|mx|my|mt|mb|ml|mr|ms|me|d|g|w|h|col|row|text|bg|border|rounded|shadow|flex|"
    r"justify|"
    r"align|float|font|fw|fs|lh|position|overflow|order|offset|is|has|js|wp|et|u|z|gap|min|max|leading|tracking|space|"
    r"hover|focus|sm|md|lg|xl|xxl|grid|items|self|object|opacity|sr|no|post|page|tmpl|uk|mdl|pure|w3)"
    r"(?:-.*)?\d*"
)

# what authors of stylesheets shorten
_IN_FULL = {
    "btn": "button", "nav": "navigation", "navbar": "navigation bar", "hljs": "code", "pre": "code", "bg": "background",
    "desc": "description", "img": "picture", "thead": "table head", "tbl": "table", "msg": "message", "lbl": "label",
    "dropdown": "drop-down", "txt": "text", "cta": "call to action", "hr": "rule", "blockquote": "quotation",
}  # fmt: skip


def readable(name: str) -> str:
    """Return a class, id or property name as words, "" where it tells nothing: "price-table" → "Price table"."""
    spaced = re.sub(r"(?<=[a-z0-9])(?=[A-Z])", " ", name.strip("-_"))
    parts = (part.rstrip("0123456789") for part in re.split(r"[\s\-_.:/]+", spaced))
    words = [part.lower() for part in parts if part]
    telling = [word for word in words if word not in _GENERIC]
    if not telling or _UTILITY.fullmatch(name.lower()) or max(len(word) for word in telling) < 3 or len(words) > 5:
        return ""
    text = " ".join(dict.fromkeys(_IN_FULL.get(word, word) for word in telling))
    return f"{text[:1].upper()}{text[1:40]}"


MOST_WORDS, MOST_CHARACTERS = 3, 24
_NAME_WORD = re.compile(r"[^\W_]+(?:['’.&/-][^\W_]+)*|&")
# a name does not end with one of these, since more would have to come
_OPEN = frozenset(
    "a an the of and or for to in on at by with from is are be that this these your our my their its it you we i what "
    "how why we've you've i've we're you're let's as but not & get so can will new more there start".split()
)


def is_short(name: str) -> bool:
    """Return whether a name fits."""
    return len(name) <= MOST_CHARACTERS and len(name.split()) <= MOST_WORDS


def short_name(text: str, words: int = MOST_WORDS, characters: int = MOST_CHARACTERS) -> str:
    """Return the first words of a text that make a name; a single long word is cut."""
    found = _NAME_WORD.findall(text)[:words]
    while len(found) > 1 and (len(" ".join(found)) > characters or found[-1].lower() in _OPEN):
        found.pop()
    return " ".join(found)[:characters]


def told_apart_by(name: str, tell: str) -> str:
    """Return a name with what tells it from another behind it, as short as names are: "Badge, red"."""
    tell = tell if len(tell.split()) < MOST_WORDS else tell.split()[-1]
    room = MOST_CHARACTERS - len(tell) - 2
    return f"{short_name(name, MOST_WORDS - len(tell.split()), room)}, {tell}"

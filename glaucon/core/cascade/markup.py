"""HTML source as written: where each start tag, attribute and style element stands.

The tree comes from an HTML5 parser (see tree.py), which knows no positions. So the start tags are found
here, each is given a number in a marker attribute, and the tree's elements carry that number back to
their place in the source. Source: HTML, section 13.2.5 (tokenization), as far as tags need it.
"""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from html import unescape

MARKER = "data-gl-source"
FILE_MARK = "data-gl-file"  # numbers the tags that a page as it stood has from its file
_NOTHING = "<!---->"  # keeps texts apart

_TAG_NAME = re.compile(r"[a-zA-Z][^\s/>]*")
_SPACE_OR_SLASH = re.compile(r"[\s/]*")
_ATTR_NAME = re.compile(r"=?[^\s/>=]*")
_EQUALS = re.compile(r"\s*=\s*")
_UNQUOTED = re.compile(r"[^\s>]*")
_RAW_TEXT = frozenset({"script", "style", "textarea", "title", "xmp", "iframe", "noembed", "noframes", "noscript"})


@dataclass(frozen=True, slots=True)
class SourceAttribute:
    """An attribute as written; `start` to `end` spans its raw value, without quotes."""

    name: str
    raw: str
    start: int
    end: int

    @property
    def value(self) -> str:
        """Return the value with character references resolved."""
        return unescape(self.raw) if "&" in self.raw else self.raw


MOST_ATTRIBUTES = 500
# A parser looks at each tag through all elements that are open, and opens again in each paragraph what is left open of
# these: beyond so many steps of either no more of a page is read.
_MOST_STEPS, _MOST_OPENED_AGAIN = 200_000_000, 2_000_000
_OPENED_AGAIN = frozenset("a b big code em font i nobr s small strike strong tt u".split())
# between so many tags, texts that come to stand together since tags are left out would be joined one by one
_MANY_TAGS = 20_000
_ENDS_BY_ITSELF = frozenset(
    "html head body p li dt dd option optgroup tr td th thead tbody tfoot colgroup rb rt rtc rp "
    "area base br col embed hr img input link meta param source track wbr frame keygen basefont bgsound".split()
)

# what ends a drawing it stands in (HTML, section 13.2.6.5), so that its own slash means nothing
_BREAKS_OUT = frozenset(
    "b big blockquote center code div dl em font h1 h2 h3 h4 h5 h6 i listing menu nobr ol pre ruby s small span strong "
    "strike sub sup table tt u ul var".split()
)


@dataclass(frozen=True, slots=True)
class StartTag:
    """A start tag as written; `content` spans the raw text of style and script elements."""

    name: str
    start: int
    name_end: int
    end: int
    attributes: tuple[SourceAttribute, ...]
    content: tuple[int, int] | None = None

    def attribute(self, name: str) -> SourceAttribute | None:
        """Return the first attribute of that name, as a parser keeps it."""
        return next((a for a in self.attributes if a.name == name), None)


@dataclass(frozen=True, slots=True)
class Markup:
    """A page's source with its start tags in order.

    `end` is where so much is nested that no more is read; `end_tags` are where those stand.
    """

    source: str
    tags: tuple[StartTag, ...]
    head_end: int | None
    end: int | None = None
    end_tags: tuple[int, ...] = ()

    def annotated(self) -> str:
        """Return the source with numbered start tags and, as with scripting on, empty noscript elements."""
        pieces: list[str] = []
        at = 0
        ends = iter(self.end_tags if len(self.tags) + len(self.end_tags) > _MANY_TAGS else ())
        end_tag = next(ends, None)
        for number, tag in enumerate(self.tags):
            while end_tag is not None and end_tag < tag.start:
                pieces.append(f"{self.source[at:end_tag]}{_NOTHING}")
                at, end_tag = end_tag, next(ends, None)
            if len(self.tags) > _MANY_TAGS:
                pieces.append(f"{self.source[at : tag.start]}{_NOTHING}")
                at = tag.start
            pieces.append(self.source[at : tag.name_end])
            pieces.append(f' {MARKER}="{number}"')
            at = tag.name_end
            if len(tag.attributes) > MOST_ATTRIBUTES:
                # a parser compares each with all others; what nobody writes is left out
                end = tag.attributes[MOST_ATTRIBUTES].end
                pieces.append(self.source[at:end] + '">')
                at = tag.end
            if tag.name == "noscript" and tag.content:
                pieces.append(self.source[at : tag.content[0]])
                at = tag.content[1]
        while end_tag is not None:
            pieces.append(f"{self.source[at:end_tag]}{_NOTHING}")
            at, end_tag = end_tag, next(ends, None)
        pieces.append(self.source[at : self.end])
        return "".join(pieces)


def read_markup(source: str) -> Markup:
    """Return the start tags of an HTML source; broken markup is read as a browser's tokenizer reads it."""
    tags: list[StartTag] = []
    head_end: int | None = None
    end_tags: list[int] = []
    nested = _Nested()
    at = 0
    while (at := source.find("<", at)) >= 0:
        if source.startswith("<!--", at):
            at = _after_comment(source, at)
        elif source.startswith(("<!", "<?"), at):
            at = _after(source, ">", at)
        elif source.startswith("</", at):
            if head_end is None and re.match(r"</head[\s/>]", source[at : at + 8], re.I):
                head_end = at
            if ended := _TAG_NAME.match(source, at + 2):
                nested.close(ended.group().lower())
                if ended.group().lower() not in _RAW_TEXT:
                    end_tags.append(at)
            at = _end_of_end_tag(source, at)
        elif name := _TAG_NAME.match(source, at + 1):
            tag = _read_tag(source, at, name)
            if tag is None:
                break
            nested.open(source, tag)
            if nested.is_too_much:
                return Markup(source, tuple(tags), head_end, at, tuple(end_tags))
            tags.append(tag)
            at = tag.content[1] if tag.content else tag.end
        else:
            at += 1
    return Markup(source, tuple(tags), head_end, None, tuple(end_tags))


class _Nested:
    """Which elements are open, and how many steps a parser takes for that."""

    def __init__(self) -> None:
        self._open: Counter[str] = Counter()
        self._deep = self._again = self._steps = self._opened_again = 0

    def open(self, source: str, tag: StartTag) -> None:
        """Note a start tag."""
        self._steps += self._deep
        self._opened_again += self._again
        is_foreign = bool(self._open["svg"] or self._open["math"])
        is_ended = is_foreign and source[tag.end - 2] == "/" and tag.name not in _BREAKS_OUT
        if tag.name not in _ENDS_BY_ITSELF and not tag.content and not is_ended:
            self._count(tag.name, 1)

    def close(self, name: str) -> None:
        """Note an end tag."""
        self._steps += self._deep
        if self._open[name]:
            self._count(name, -1)

    def _count(self, name: str, by: int) -> None:
        self._open[name] += by
        self._deep += by
        self._again += by if name in _OPENED_AGAIN else 0

    @property
    def is_too_much(self) -> bool:
        """Return whether no more is to be read."""
        return self._steps > _MOST_STEPS or self._opened_again > _MOST_OPENED_AGAIN


def _read_tag(source: str, start: int, name: re.Match[str]) -> StartTag | None:
    lowered = name.group().lower()
    attributes: list[SourceAttribute] = []
    at = name.end()
    while True:
        at = _match(_SPACE_OR_SLASH, source, at).end()
        if at >= len(source):
            return None  # an unfinished tag is dropped by the parser
        if source[at] == ">":
            at += 1
            break
        at, attribute = _read_attribute(source, at)
        attributes.append(attribute)
    content = None
    if lowered in _RAW_TEXT:
        content = (at, _raw_text_end(source, lowered, at))
    elif lowered == "plaintext":
        content = (at, len(source))
    return StartTag(lowered, start, name.end(), at, tuple(attributes), content)


def _read_attribute(source: str, at: int) -> tuple[int, SourceAttribute]:
    name = _match(_ATTR_NAME, source, at)
    at = name.end()
    lowered = name.group().lower()
    equals = _EQUALS.match(source, at)
    if not equals:
        return at, SourceAttribute(lowered, "", at, at)
    at = equals.end()
    quote = source[at : at + 1]
    if quote in ("'", '"'):
        close = source.find(quote, at + 1)
        close = len(source) if close < 0 else close
        return close + 1, SourceAttribute(lowered, source[at + 1 : close], at + 1, close)
    bare = _match(_UNQUOTED, source, at)
    return bare.end(), SourceAttribute(lowered, bare.group(), at, bare.end())


def _match(pattern: re.Pattern[str], source: str, at: int) -> re.Match[str]:
    found = pattern.match(source, at)
    assert found is not None  # these patterns match the empty string
    return found


def _raw_text_end(source: str, name: str, at: int) -> int:
    found = re.compile(rf"</{name}(?=[\s/>])", re.I).search(source, at)
    return found.start() if found else len(source)


def _after(source: str, text: str, at: int) -> int:
    found = source.find(text, at)
    return len(source) if found < 0 else found + len(text)


def _after_comment(source: str, at: int) -> int:
    if abrupt := re.match(r"<!--(?:>|->)", source[at : at + 6]):
        return at + abrupt.end()
    found = re.compile(r"--!?>").search(source, at + 4)
    return found.end() if found else len(source)


def _end_of_end_tag(source: str, at: int) -> int:
    if not source[at + 2 : at + 3].isalpha():
        return _after(source, ">", at)
    name = _match(re.compile(r"[^\s/>]*"), source, at + 2)
    tag = _read_tag(source, at, name)
    return tag.end if tag and not tag.content else (name.end() if tag else len(source))


SHADOW = "gl-shadow"  # an element in place of each declared shadow root
_TEMPLATE = re.compile(r"<(/?)template\b([^>]*)>", re.I)


def with_shadows(text: str) -> str:
    """Return a page whose declared shadow roots are elements, so that a parser looks into them."""
    if "shadowrootmode" not in text.lower():
        return text
    pieces: list[str] = []
    inside: list[bool] = []
    at = 0
    for tag in _TEMPLATE.finditer(text):
        if tag[1]:
            is_shadow = inside.pop() if inside else False
        else:
            is_shadow = "shadowrootmode" in tag[2].lower() and all(inside)
            inside.append(is_shadow)
        if is_shadow:
            pieces.append(f"{text[at : tag.start()]}<{tag[1]}{SHADOW}{tag[2]}>")
            at = tag.end()
    return "".join([*pieces, text[at:]])

"""Pages and stylesheets as the bench shows them: harmless, live to colours, able to show a state.

Every mapped token becomes `var(--gl-ROLE, LITERAL)`: the same text under every palette, so that a drag only sets
custom properties. State pseudo-classes also answer to an attribute on the root, at equal specificity.
"""

from __future__ import annotations

import html
import posixpath
import re
from collections.abc import Iterable
from dataclasses import dataclass, replace

from selectolax.lexbor import LexborHTMLParser

from glaucon.core.cascade.markup import Markup, StartTag, read_markup
from glaucon.core.cascade.text import SourceText
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.exchange.recolour import Edit, apply_edits, token_edit
from glaucon.core.exchange.state_places import state_places
from glaucon.core.scopes.hints import HINTED, HINTED_BELOW
from glaucon.core.snapshot.told_apart import marked
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Worn, worn_by

STATE_ATTRIBUTE, HINT_ATTRIBUTE, PAGE_ATTRIBUTE = "data-gl-state", "data-gl-hint", "data-gl-page"
_ADDRESS_ATTRIBUTES = frozenset({"href", "src", "poster", "background", "action", "data"})
_HTTP_EQUIV = re.compile("http-equiv", re.I)
_UNWANTED_META = frozenset({"refresh", "content-security-policy", "x-frame-options", "set-cookie"})


@dataclass(frozen=True, slots=True)
class Root:
    """Where a site is served: the address of its top, and the origin its own addresses may name.

    With `page`, the path of the file that addresses stand in, they are led relative to that: what is made does not
    depend then on the address it is served at.
    """

    address: str
    origin: str = ""
    page: str = ""

    def led(self, url: str) -> str | None:
        """Return a root-relative or own absolute address led to where the site is served; None for others."""
        host = self.origin.split("://", 1)[-1]
        for start in (f"https://{host}/", f"http://{host}/", f"//{host}/") if host else ():
            if url.lower().startswith(start):
                return self._from_top(url[len(start) :])
        return self._from_top(url[1:]) if url.startswith("/") and not url.startswith("//") else None

    def _from_top(self, rest: str) -> str:
        if not self.page:
            return self.address + rest
        return "../" * self.page.count("/") + rest if rest or "/" in self.page else "./"


_CSS_ADDRESS = re.compile(r"""(?:url\(\s*["']?|@import\s+["'])((?:https?:/)?/[^"')\s]*)""", re.I)
_DEFAULT_RULES = {
    "default-canvas": ":where(body) {{ background-color: var({name}, transparent) }}",
    "default-text": ":where(:root) {{ color: var({name}, canvastext) }}",
    "default-link": ":where(:any-link) {{ color: var({name}, linktext) }}",
    "default-visited": (
        f':where(:visited, [{STATE_ATTRIBUTE}~="visited"] :any-link) {{{{ color: var({{name}}, visitedtext) }}}}'
    ),
}


class PreviewMaker:
    """Makes one file of a site for the bench: every mapped token a custom property, states shown by an attribute."""

    def __init__(self, path: str, tokens: Iterable[ColourToken], study: Study, root: Root) -> None:
        self._path, self._tokens, self._study, self._root = path, list(tokens), study, root

    def stylesheet(self, source: SourceText) -> str:
        """Return a stylesheet."""
        edits = [*_token_edits(self._path, self._tokens, self._study)]
        edits.extend(state_edits(source.text, 0))
        edits.extend(_css_address_edits(source.text, 0, len(source.text), self._root))
        return apply_edits(source.text, edits)

    def page(self, source: SourceText, bridge: str) -> str:
        """Return a page with `bridge`, a script element, as the first thing in it.

        Whatever could move the frame elsewhere or refuse the bridge is taken out: refreshes and policies in `<meta>`.
        """
        markup = read_markup(source.text)
        edits = _token_edits(self._path, self._tokens, self._study)
        inner = self._inside_base(markup)
        for tag in markup.tags:
            edits.extend(_tag_edits(tag, markup, self._root if tag.name == "base" else inner))
        at = _first_place(markup)
        marks, hinted = _hints(self._path, self._tokens, self._study, markup)
        edits.extend(marks)
        defaults = _default_layer(self._tokens, self._study)
        layers = f"@layer gl-defaults, gl-hints, gl-scopes; {defaults} @layer gl-hints {{ {hinted} }}"
        # a second <html> gives the first its attributes
        name = f'<html {PAGE_ATTRIBUTE}="{html.escape(self._path)}">'
        edits.append((at, at, f"{name}{bridge}<style>{layers}</style>"))
        return _that_stays(apply_edits(source.text, edits))

    def _inside_base(self, markup: Markup) -> Root:
        """Return the root that addresses are led by where a `<base>` changes what they are relative to."""
        base = next((a for t in markup.tags if t.name == "base" and (a := t.attribute("href")) is not None), None)
        if base is None or not self._root.page:
            return self._root
        led = self._root.led(base.raw.strip())
        target = base.raw.strip() if led is None else led
        if "://" in target:
            return self._root
        folder = posixpath.normpath(posixpath.join(posixpath.dirname(self._path), target, "x"))
        return replace(self._root, page=folder)


def _that_stays(page: str) -> str:
    """Return a page without what could move it elsewhere, hidden from a reader of tags but not from a browser."""
    if "http-equiv" not in page.lower():
        return page
    # asked of the tree that a browser builds; noscript is read as markup here, so more is found than a browser finds
    metas = LexborHTMLParser(page.encode("utf-8", "replace").decode()).css("meta[http-equiv]")
    if any((meta.attributes.get("http-equiv") or "").strip().lower() in _UNWANTED_META for meta in metas):
        return _HTTP_EQUIV.sub("x-taken-out", page)
    return page


def served_page(source: SourceText, root: Root) -> str:
    """Return a released page with root-relative addresses led to where the site is served."""
    markup = read_markup(source.text)
    edits = [edit for tag in markup.tags for edit in _address_edits(tag, markup, root)]
    return apply_edits(source.text, edits)


def running_page(source: SourceText, root: Root, ahead: str) -> str:
    """Return a page as it came but for its addresses, its tags numbered, with `ahead` as the first thing in it."""
    markup = read_markup(marked(source.text))
    edits = [edit for tag in markup.tags for edit in _address_edits(tag, markup, root)]
    at = _first_place(markup)
    return _that_stays(apply_edits(markup.source, [*edits, (at, at, ahead)]))


def with_root(css: str, root: Root) -> str:
    """Return CSS with its site's own addresses led to where the site is served."""
    return apply_edits(css, _css_address_edits(css, 0, len(css), root))


def _css_address_edits(text: str, start: int, end: int, root: Root) -> list[Edit]:
    found = ((one.span(1), root.led(one.group(1))) for one in _CSS_ADDRESS.finditer(text, start, end))
    return [(*span, led) for span, led in found if led is not None]


def _token_edits(path: str, tokens: Iterable[ColourToken], study: Study) -> list[Edit]:
    edits = {
        worn.token.start: _alone(worn, token_edit(worn))
        for worn in worn_by(study, tokens)
        if worn.token.file == path and worn.token.start >= 0 and worn.token.kind != "attribute"
    }
    return list(edits.values())


def _alone(worn: Worn, edit: Edit) -> Edit:
    """Return an edit of a token so that the bench can show it in a colour of its own, apart from its role."""
    start, end, text = edit
    return start, end, f"var({token_property(worn.token)}, {text})"


def token_property(token: ColourToken) -> str:
    """Return the custom property that shows one token in a colour of its own."""
    return f"--gl-t{token.number}"


def _hints(path: str, tokens: Iterable[ColourToken], study: Study, markup: Markup) -> tuple[list[Edit], str]:
    """Return marks on elements whose attributes hold colours, which cannot be `var()`, and rules for those."""
    worn = {w.token.start: w for w in worn_by(study, tokens) if w.token.file == path and w.token.kind == "attribute"}
    if not worn:
        return [], ""
    edits: list[Edit] = []
    rules: list[str] = []
    for tag in markup.tags:
        here = [worn[a.start] for a in tag.attributes if a.start in worn and tag.attribute(a.name) == a]
        if not here:
            continue
        edits.append((tag.name_end, tag.name_end, f' {HINT_ATTRIBUTE}="{" ".join(str(w.token.number) for w in here)}"'))
        for one in here:
            prop, below = one.token.property, HINTED_BELOW.get(one.token.property, "")
            value = f"var({token_property(one.token)}, var({one.custom_property.name}, {one.token.colour.hex()}))"
            selector = f'[{HINT_ATTRIBUTE}~="{one.token.number}"]{below}'
            rules.append(f":where({selector}) {{ {HINTED.get(prop, prop)}: {value} }}")
    return edits, " ".join(with_states(rule) for rule in rules)


def with_states(css: str) -> str:
    """Return CSS whose state pseudo-classes answer to the bench too."""
    return apply_edits(css, state_edits(css, 0))


def state_edits(css: str, offset: int) -> list[Edit]:
    """Return the edits that let the state pseudo-classes of some CSS answer to the bench too."""
    return [(offset + place.start, offset + place.end, _shown_in_state(place.name)) for place in state_places(css)]


def stateful(text: str, is_page: bool) -> str:
    """Return a page or a stylesheet as it came, but for its states: they answer to an attribute of the root too."""
    if not is_page:
        return apply_edits(text, state_edits(text, 0))
    inside = [tag.content for tag in read_markup(text).tags if tag.name == "style" and tag.content is not None]
    return apply_edits(text, [edit for start, end in inside for edit in state_edits(text[start:end], start)])


# what each state answers to, as the reading has it: pressed is hovered and focused too
_ANSWERS = {
    "hover": "hover", "active": "active", "focus": "focus", "focus-visible": "focus", "focus-within": "focus",
    "visited": "visited",
}  # fmt: skip


def _shown_in_state(name: str) -> str:
    """Return a state's pseudo-class so that it holds in that state of the bench too, at its own specificity."""
    if name == "link":
        return f':link:where(:not([{STATE_ATTRIBUTE}~="visited"] *))'
    attribute = f'[{STATE_ATTRIBUTE}~="{_ANSWERS[name]}"]'
    target = f"{attribute} :where(:any-link)" if name == "visited" else f"{attribute} *"
    return f":is(:{name}, {attribute}, {target})"


def _tag_edits(tag: StartTag, markup: Markup, root: Root) -> list[Edit]:
    edits = list(_address_edits(tag, markup, root))
    if tag.name == "style" and tag.content:
        start, end = tag.content
        edits.extend(state_edits(markup.source[start:end], start))
    attribute = tag.attribute("http-equiv") if tag.name == "meta" else None
    if attribute is not None and attribute.value.strip().lower() in _UNWANTED_META:
        edits.append((attribute.start, attribute.end, "x-taken-out"))
    return edits


def _address_edits(tag: StartTag, markup: Markup, root: Root) -> list[Edit]:
    edits: list[Edit] = []
    for attribute in tag.attributes:
        raw = attribute.raw
        if attribute.name in _ADDRESS_ATTRIBUTES and (led := root.led(raw.strip())) is not None:
            edits.append((attribute.start, attribute.end, led))
        elif attribute.name == "srcset" and "/" in raw:
            new = re.sub(r"(?<![^\s,])(?:https?:/)?/[^\s,]+", lambda one: root.led(one.group()) or one.group(), raw)
            edits.append((attribute.start, attribute.end, new))
    if tag.name == "style" and tag.content:
        edits.extend(_css_address_edits(markup.source, *tag.content, root))
    return edits


def _default_layer(tokens: Iterable[ColourToken], study: Study) -> str:
    rules = [
        _DEFAULT_RULES[worn.token.text].format(name=worn.custom_property.name)
        for worn in worn_by(study, tokens)
        if worn.token.kind == "default"
    ]
    return "@layer gl-defaults { " + " ".join(rules) + " }"


def _first_place(markup: Markup) -> int:
    """Return where the bridge goes: inside the head, ahead of everything in it."""
    head = next((t for t in markup.tags if t.name == "head"), None)
    if head is not None:
        return head.end
    top = next((t for t in markup.tags if t.name == "html"), None)
    if top is not None:
        return top.end
    start = markup.source.lower().find("<!doctype")
    end = markup.source.find(">", start) if start >= 0 else -1
    return end + 1 if end >= 0 else 0

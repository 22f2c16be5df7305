"""Pages and stylesheets as the bench shows them: harmless, live to colours, able to show a state.

Every mapped token becomes `var(--gl-ROLE, LITERAL)`: the same text under every palette, so that a drag only sets
custom properties. State pseudo-classes also answer to an attribute on the root, at equal specificity.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from glaucon.core.cascade.markup import Markup, StartTag, read_markup
from glaucon.core.cascade.source import Source
from glaucon.core.cascade.stylesheet import parse_stylesheet
from glaucon.core.cascade.text import SourceText
from glaucon.core.cascade.tokens import ColourToken, TokenTable
from glaucon.core.exchange.recolour import Edit, apply_edits, property_name, token_edit
from glaucon.core.palette.study import Role, Study, token_key

STATE_ATTRIBUTE = "data-gl-state"
_ADDRESS_ATTRIBUTES = frozenset({"href", "src", "poster", "background", "action", "data"})
_UNWANTED_META = frozenset({"refresh", "content-security-policy", "x-frame-options", "set-cookie"})
_ROOT_URL = re.compile(r"""(url\(\s*["']?|@import\s+["'])/(?!/)""", re.I)
_DEFAULT_RULES = {
    "default-canvas": ":where(body) {{ background-color: var({name}, transparent) }}",
    "default-text": ":where(:root) {{ color: var({name}, canvastext) }}",
    "default-link": ":where(:any-link) {{ color: var({name}, linktext) }}",
    "default-visited": ":where(:visited) {{ color: var({name}, visitedtext) }}",
}


def preview_stylesheet(path: str, source: SourceText, tokens: Iterable[ColourToken], study: Study, root: str) -> str:
    """Return a stylesheet for the bench; `root` is the address that root-relative ones start from."""
    edits = [*_token_edits(path, tokens, study), *_state_edits(source.text, 0)]
    return with_root(apply_edits(source.text, edits), root)


def preview_page(
    path: str, source: SourceText, tokens: Iterable[ColourToken], study: Study, root: str, bridge: str
) -> str:
    """Return a page for the bench with `bridge` (a nonce'd script element) as the first thing in it.

    Whatever could move the frame elsewhere or refuse the bridge is taken out: refreshes and policies in `<meta>`.
    """
    markup = read_markup(source.text)
    edits = _token_edits(path, tokens, study)
    for tag in markup.tags:
        edits.extend(_tag_edits(tag, markup, root))
    at = _first_place(markup)
    edits.append((at, at, f"{bridge}<style>{_default_layer(tokens, study)}</style>"))
    return apply_edits(source.text, edits)


def served_page(source: SourceText, root: str) -> str:
    """Return a released page with root-relative addresses led to where the site is served."""
    markup = read_markup(source.text)
    edits = [edit for tag in markup.tags for edit in _address_edits(tag, markup, root)]
    return apply_edits(source.text, edits)


def with_root(css: str, root: str) -> str:
    """Return CSS with root-relative addresses led to `root`."""
    return _ROOT_URL.sub(lambda found: found.group(1) + root, css)


def preview_values(study: Study, tokens: Iterable[ColourToken]) -> dict[str, dict[str, float]]:
    """Return, for each role, its custom properties and the opacity each stands for."""
    names: dict[str, dict[str, float]] = {role.name: {property_name(role.name): 1.0} for role in study.roles}
    for token in tokens:
        role = study.mapping.get(token_key(token) or "")
        if role is not None:
            names[role][property_name(role, token.colour.alpha)] = token.colour.alpha
    return names


def _token_edits(path: str, tokens: Iterable[ColourToken], study: Study) -> list[Edit]:
    edits: dict[int, Edit] = {}
    roles: dict[str, Role] = {role.name: role for role in study.roles}
    for token in tokens:
        role = study.mapping.get(token_key(token) or "")
        if token.file != path or token.start < 0 or role is None:
            continue
        # attributes hold no var(); the bench shows them as they are until released
        if token.kind != "attribute":
            edits[token.start] = token_edit(token, roles[role])
    return list(edits.values())


def _state_edits(css: str, offset: int) -> list[Edit]:
    sheet = parse_stylesheet(Source("\0preview", css, offset), TokenTable())
    edits: list[Edit] = []
    for place in sheet.pseudo_places:
        attribute = f'[{STATE_ATTRIBUTE}~="{place.name}"]'
        target = f"{attribute} :any-link" if place.name == "visited" else f"{attribute} *"
        edits.append((place.start, place.end, f":is(:{place.name}, {attribute}, {target})"))
    return edits


def _tag_edits(tag: StartTag, markup: Markup, root: str) -> list[Edit]:
    edits = list(_address_edits(tag, markup, root))
    if tag.name == "style" and tag.content:
        start, end = tag.content
        edits.extend(_state_edits(markup.source[start:end], start))
    attribute = tag.attribute("http-equiv") if tag.name == "meta" else None
    if attribute is not None and attribute.value.strip().lower() in _UNWANTED_META:
        edits.append((attribute.start, attribute.end, "x-taken-out"))
    return edits


def _address_edits(tag: StartTag, markup: Markup, root: str) -> list[Edit]:
    edits: list[Edit] = []
    for attribute in tag.attributes:
        raw = attribute.raw
        if attribute.name in _ADDRESS_ATTRIBUTES and raw.startswith("/") and not raw.startswith("//"):
            edits.append((attribute.start, attribute.start + 1, root))
        elif attribute.name == "srcset" and "/" in raw:
            new = re.sub(r"(^|,\s*)/(?!/)", lambda found: found.group(1) + root, raw)
            edits.append((attribute.start, attribute.end, new))
    if tag.name == "style" and tag.content:
        for found in _ROOT_URL.finditer(markup.source, *tag.content):
            edits.append((found.end() - 1, found.end(), root))
    return edits


def _default_layer(tokens: Iterable[ColourToken], study: Study) -> str:
    rules = [
        _DEFAULT_RULES[token.text].format(name=property_name(study.mapping[token.text]))
        for token in tokens
        if token.kind == "default" and token.text in study.mapping
    ]
    return "@layer gl-defaults { " + " ".join(rules) + " }"


def _first_place(markup: Markup) -> int:
    """Return where the bridge goes: inside the head, ahead of everything in it."""
    head = next((t for t in markup.tags if t.name == "head"), None)
    if head is not None:
        return head.end
    html = next((t for t in markup.tags if t.name == "html"), None)
    if html is not None:
        return html.end
    start = markup.source.lower().find("<!doctype")
    end = markup.source.find(">", start) if start >= 0 else -1
    return end + 1 if end >= 0 else 0

"""The site handed back in other colours: only colour tokens replaced, every other byte as it was."""

from __future__ import annotations

import hashlib
import posixpath
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from glaucon.core.cascade.markup import Markup, StartTag, read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.exchange.backdrops import Backdrops
from glaucon.core.exchange.schemes import Scheme
from glaucon.core.scopes.css import dressing_of
from glaucon.core.snapshot.told_apart import in_file
from glaucon.core.study.own_css import applied_css, properties_in
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Property, Worn, properties_of, worn_by
from glaucon.core.survey.model import Survey
from glaucon.core.survey.site import SiteFiles, is_page

Edit = tuple[int, int, str]
DEFAULT_RULES = {
    "default-canvas": ":where(body) {{ background-color: {value} }}",
    "default-text": ":where(:root) {{ color: {value} }}",
    "default-link": ":where(:any-link) {{ color: {value} }}",
    "default-visited": ":where(:visited) {{ color: {value} }}",
}


SYSTEM = {
    "default-canvas": "transparent",
    "default-text": "canvastext",
    "default-link": "linktext",
    "default-visited": "visitedtext",
}


@dataclass(frozen=True, slots=True)
class Recoloured:
    """What changes: new bytes by path, and the path of the one added stylesheet ("" where nothing changes).

    `stood` is how the pages that are read as their scripts made them would then stand.
    """

    files: dict[str, bytes]
    stylesheet: str
    stood: dict[str, str] = field(default_factory=dict)


def apply_edits(text: str, edits: Iterable[Edit]) -> str:
    """Return a text with spans replaced; spans must not overlap."""
    pieces: list[str] = []
    at = 0
    for start, end, new in sorted(edits):
        if start < at:
            continue
        pieces.append(text[at:start])
        pieces.append(new)
        at = end
    pieces.append(text[at:])
    return "".join(pieces)


def token_edit(worn: Worn) -> Edit:
    """Return how a token is replaced: by its role's property, or a literal where `var()` cannot stand.

    The token's own text stays as the fallback, so that the page looks as it came should the palette not load.
    """
    token = worn.token
    if token.kind == "attribute":
        return token.start, token.end, worn.role.colour.with_alpha(1.0).hex()
    return token.start, token.end, f"var({worn.custom_property.name}, {token.as_css()})"


def palette_css(
    study: Study, tokens: Iterable[ColourToken], roles: Iterable[Role], scheme: Scheme | None = None
) -> str:
    """Return the stylesheet of custom properties for some roles, each also in the forms its tokens need.

    It may stand ahead of all others; what the owner says in CSS of their own has to come after them (`applied_css`).
    """
    tokens = list(tokens)
    properties = properties_of(study, tokens)
    chosen = {role.id: role for role in (*roles, *properties_in(study))}
    lines = ["/* The palette of this site, made with Glaucon. */", ":root {"]
    lines += _properties(chosen.values(), properties)
    lines.append("}")
    if scheme is not None:
        lines += [f"@media (prefers-color-scheme: {scheme.name}) {{", ":root {"]
        lines += _properties([scheme.study.role(id_) for id_ in chosen], properties)
        lines += ["}", "}"]
    # where a scope alone sets such a colour, it falls back to the browser's own elsewhere
    defaults = [w for w in worn_by(study, tokens) if w.token.kind == "default" and (w.role.id in chosen or study.worn)]
    if defaults:
        # below every rule of the site's own, as the browser defaults they stand for are
        lines.append("@layer gl-defaults {")
        lines += [
            f"  {DEFAULT_RULES[w.token.text].format(value=f'var({w.custom_property.name}, {SYSTEM[w.token.text]})')}"
            for w in defaults
        ]
        lines.append("}")
    return "\n".join(lines) + "\n"


def _properties(roles: Iterable[Role], properties: Mapping[str, list[Property]]) -> list[str]:
    return [
        f"  {one.name}: {one.value(role)};"
        for role in roles
        for one in sorted(properties.get(role.id, [Property(role.id)]), key=lambda p: (p.is_channels, -p.share))
    ]


def recolour_site(
    site: SiteFiles, survey: Survey, study: Study, scheme: Scheme | None = None, backdrops: Backdrops | None = None,
) -> Recoloured:  # fmt: skip
    """Return the files that a study changes; a token whose role keeps its value everywhere keeps its literal.

    With a scheme, so does a token only whose role keeps its value in both studies. Pages on which something else is
    worn have a stylesheet of their own. `backdrops` are the study's, with their pictures; without, they are left out.
    """
    ids = {role.id for one in (study, scheme.study if scheme else study) for role in one.changed_roles()}
    dressing = dressing_of(study, survey)
    worn_ids = {role.id for role in study.roles if (role.kind, role.state) in dressing.kinds and role.tier != "unseen"}
    changed = [role for role in study.roles if role.id in ids]
    used, by_file = _token_edits(worn_by(study, survey.tokens), ids, worn_ids)
    laid = backdrops if backdrops is not None and study.backdrops else None
    if not used and not study.extra_css and laid is None:
        return Recoloured({}, "")
    css = palette_css(study, used, changed, scheme)
    sheet = _sheet_name(css)
    files: dict[str, bytes] = {sheet: css.encode(), **(laid.files() if laid is not None else {})}
    last = applied_css(study)
    if last:
        files[_sheet_name(last)] = last.encode()
    stood: dict[str, str] = {}
    for path in site.files:
        edits = list(by_file.get(path, {}).values())
        if not edits and not is_page(path):
            continue
        source = decode_source(site.files[path])
        if is_page(path):
            own = css + dressing.css(path) + (f"\n{laid.css(path)}" if laid is not None else "")
            markup, names = read_markup(source.text), (_sheet_name(own), _sheet_name(last) if last else "")
            if path in site.stood:
                edits, stood[path] = _told_apart(site.stood[path], markup, edits, path, names)
            files[names[0]] = own.encode()
            edits += _links(markup, path, *names)
        files[path] = source.encode(apply_edits(source.text, edits))
    return Recoloured(files, sheet, stood)


def _told_apart(
    stood: str, file: Markup, edits: list[Edit], page: str, sheets: tuple[str, str]
) -> tuple[list[Edit], str]:
    """Return the edits of a page's file, made of those of the page as it stood; and how it then stands.

    What a script has written is in no file and stays.
    """
    markup = read_markup(stood)
    there, nowhere = in_file(markup, file, edits)
    left = [edit for edit in edits if edit not in nowhere]
    return there, apply_edits(stood, [*left, *_links(markup, page, *sheets)])


def _token_edits(
    tokens: Iterable[Worn], changed: set[str], in_scopes: set[str]
) -> tuple[list[ColourToken], dict[str, dict[int, Edit]]]:
    """Return the tokens of roles that change or that scopes set, and their edits by file and position."""
    by_file: dict[str, dict[int, Edit]] = {}
    used: list[ColourToken] = []
    for worn in tokens:
        if worn.role.id not in changed and worn.role.id not in in_scopes:
            continue
        used.append(worn.token)
        # an attribute holds a literal: only the role's own value is written there, scopes have a rule for it
        if worn.token.start >= 0 and (worn.role.id in changed or worn.token.kind != "attribute"):
            by_file.setdefault(worn.token.file, {})[worn.token.start] = token_edit(worn)
    return used, by_file


def _sheet_name(css: str) -> str:
    return f"glaucon-{hashlib.sha256(css.encode()).hexdigest()[:12]}.css"


def _links(markup: Markup, page: str, palette: str, own: str) -> list[Edit]:
    """Return the edits that link the palette ahead of a page's stylesheets, and the owner's own CSS after them all."""
    first, last = head_position(markup), last_position(markup)
    edits = [link_edit(markup, page, palette, first)]
    if own and last == first:
        return [(first, first, edits[0][2] + link_edit(markup, page, own, first)[2])]
    return [*edits, link_edit(markup, page, own, last)] if own else edits


def link_edit(markup: Markup, page: str, sheet: str, at: int) -> Edit:
    """Return the edit that links a stylesheet at a place of a page."""
    href = posixpath.relpath(sheet, posixpath.dirname(page) or ".")
    base = next((t.attribute("href") for t in markup.tags if t.name == "base" and t.attribute("href")), None)
    if base is not None and "://" not in base.value:
        href = posixpath.relpath(sheet, posixpath.normpath(posixpath.join(posixpath.dirname(page), base.value)) or ".")
    return at, at, f'<link rel="stylesheet" href="{href}">'


def last_position(markup: Markup) -> int:
    """Return where a stylesheet comes after all others: at the end of a page's head, or of all where one is later."""
    styles = [tag for tag in markup.tags if _is_stylesheet(tag)]
    if markup.head_end is not None and all(tag.start < markup.head_end for tag in styles):
        return markup.head_end
    if styles:
        end = markup.source.lower().rfind("</body")
        return end if end > styles[-1].start else len(markup.source)
    return head_position(markup)


def _is_stylesheet(tag: StartTag) -> bool:
    return tag.name == "style" or (tag.name == "link" and "stylesheet" in _rel(tag.attribute("rel")))


def head_position(markup: Markup) -> int:
    """Return where an element can be put into the head ahead of the page's styles without moving anything else."""
    in_head = [t for t in markup.tags if markup.head_end is None or t.start < markup.head_end]
    body = next((t.start for t in in_head if t.name == "body"), None)
    for tag in in_head:
        if body is not None and tag.start >= body:
            break
        if _is_stylesheet(tag):
            return tag.start
    if markup.head_end is not None:
        return markup.head_end
    titles = [t for t in in_head if t.name == "title" and t.content]
    if titles and titles[0].content:
        end = markup.source.find(">", titles[0].content[1])
        return end + 1 if end >= 0 else len(markup.source)
    head = next((t for t in in_head if t.name == "head"), None) or next((t for t in in_head if t.name == "html"), None)
    if head is not None:
        return head.end
    return body if body is not None else _after_doctype(markup.source)


def _rel(attribute: object) -> str:
    return str(getattr(attribute, "value", "")).lower()


def _after_doctype(source: str) -> int:
    start = source.lower().find("<!doctype")
    if start < 0:
        return 0
    end = source.find(">", start)
    return end + 1 if end >= 0 else len(source)

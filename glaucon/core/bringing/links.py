"""What a page or stylesheet asks for, as absolute addresses, and the file each address is kept as."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Iterator
from urllib.parse import parse_qsl, quote, unquote, urlencode, urljoin, urlsplit, urlunsplit

from glaucon.core.cascade.markup import Markup, SourceAttribute, StartTag

# added to links to follow visitors about: they make no other page
_FOLLOWING = re.compile(r"^(?:utm_\w+|fbclid|gclid|mc_[ce]id|ref|sessionid|phpsessid|sid)$", re.I)
_CSS_URL = re.compile(r"""url\(\s*(?:"([^"]*)"|'([^']*)'|([^)"'\s]*))\s*\)|@import\s+(?:"([^"]*)"|'([^']*)')""", re.I)
_CANDIDATE = re.compile(r"[\s,]*([^\s,]\S*)")
_SHOWING = frozenset({"img", "input", "video", "source", "image", "body", "table", "td"})
_NOT_PAGES = re.compile(
    r"\.(?:png|jpe?g|gif|webp|avif|svg|ico|pdf|zip|gz|docx?|xlsx?|pptx?|odt|mp[34]|m4a|webm|ogg|avi|mov|js|css|xml|"
    r"json|txt|ics|exe|dmg|woff2?|ttf|eot)$",
    re.I,
)


def tidied(url: str) -> str | None:
    """Return an address without fragment and followers' parameters, None where it is no web address."""
    try:
        parts = urlsplit(url.strip())
        port = parts.port
    except ValueError:
        return None
    if parts.scheme not in ("http", "https") or not parts.hostname:
        return None
    host = parts.hostname.lower()
    usual = {"http": 80, "https": 443}[parts.scheme]
    netloc = host if port in (None, usual) else f"{host}:{port}"
    kept = [(name, value) for name, value in parse_qsl(parts.query, True) if not _FOLLOWING.match(name)]
    path = quote(unquote(parts.path), safe="/%:@!$&'()*+,;=~-._") or "/"
    return urlunsplit((parts.scheme, netloc, posixpath_clean(path), urlencode(sorted(kept)), ""))


def posixpath_clean(path: str) -> str:
    """Return a path without dots and doubled slashes; a closing slash stays."""
    clean = posixpath.normpath(path)
    clean = "/" + clean.lstrip("/")
    return clean + "/" if path.endswith("/") and clean != "/" else clean


def base_of(markup: Markup, url: str) -> str:
    """Return the address that a page's relative addresses start from."""
    for tag in markup.tags:
        href = tag.attribute("href") if tag.name == "base" else None
        if href is not None:
            return urljoin(url, href.value.strip())
    return url


def pages_asked(markup: Markup, base: str) -> Iterator[str]:
    """Yield the addresses that a page links to as pages."""
    for tag in markup.tags:
        if tag.name in ("a", "area"):
            href = tag.attribute("href")
            found = _absolute(href.value, base) if href is not None else None
            if found is not None and not _NOT_PAGES.search(urlsplit(found).path):
                yield found


def files_asked(markup: Markup, base: str) -> Iterator[tuple[str, str]]:
    """Yield (kind, address) of a page's stylesheets ("style") and of its pictures, fonts and frames' pictures ("file").

    Scripts are not asked for: they never run here.
    """
    for tag in markup.tags:
        yield from _of_tag(tag, markup, base)


def tags_asking(markup: Markup) -> Iterator[tuple[SourceAttribute, str]]:
    """Yield (attribute, form) of all that names addresses in a page: form is "one", "srcset" or "css"."""
    for tag in markup.tags:
        for attribute in tag.attributes:
            name = attribute.name
            is_shown = name in ("src", "poster", "background") and (tag.name in _SHOWING or tag.name == "script")
            if is_shown or (name == "href" and tag.name in ("link", "a", "area", "image", "use")):
                yield attribute, "one"
            elif name in ("srcset", "style"):
                yield attribute, "css" if name == "style" else name


def addresses_written(text: str, form: str) -> Iterator[tuple[int, int]]:
    """Yield where the addresses stand in a text of one of the forms that `tags_asking` tells."""
    if form == "one":
        yield 0, len(text)
    elif form == "srcset":
        yield from ((start, end) for start, end, _ in _in_srcset(text))
    else:
        for match in _CSS_URL.finditer(text):
            group = next((n for n, one in enumerate(match.groups(), 1) if one), 0)
            if group:
                yield match.span(group)


def _of_tag(tag: StartTag, markup: Markup, base: str) -> Iterator[tuple[str, str]]:
    if tag.name == "link":
        relation = tag.attribute("rel")
        rel = relation.value.lower().split() if relation is not None else []
        kind = "style" if "stylesheet" in rel else "file" if "icon" in rel else ""
        href = tag.attribute("href")
        if kind and href is not None and (found := _absolute(href.value, base)):
            yield kind, found
    for name in ("src", "poster", "background"):
        attribute = tag.attribute(name)
        found = _absolute(attribute.value, base) if attribute is not None and tag.name in _SHOWING else None
        if found is not None:
            yield "file", found
    srcset = tag.attribute("srcset")
    if srcset is not None:
        for _, _, address in _in_srcset(srcset.value):
            if found := _absolute(address, base):
                yield "file", found
    style = tag.attribute("style")
    if style is not None:
        yield from (("file", url) for kind, url in addresses_in_css(style.value, base))
    if tag.name == "style" and tag.content:
        yield from addresses_in_css(markup.source[slice(*tag.content)], base)


def _in_srcset(text: str) -> Iterator[tuple[int, int, str]]:
    """Yield (start, end, address) of each address of a `srcset` (HTML, section 4.8.4.2.2)."""
    at = 0
    while found := _CANDIDATE.match(text, at):
        address = found.group(1).rstrip(",")
        yield found.start(1), found.start(1) + len(address), address
        at = found.end()
        if not found.group(1).endswith(","):
            comma = text.find(",", at)
            at = comma + 1 if comma >= 0 else len(text)


def _without_comments(css: str) -> str:
    pieces, at = [], 0
    while (start := css.find("/*", at)) >= 0:
        pieces.append(css[at:start])
        end = css.find("*/", start + 2)
        at = end + 2 if end >= 0 else len(css)
    return " ".join([*pieces, css[at:]])


def addresses_in_css(css: str, base: str) -> Iterator[tuple[str, str]]:
    """Yield (kind, address) of what a stylesheet imports ("style") and shows ("file")."""
    for match in _CSS_URL.finditer(css := _without_comments(css)):
        text = next((group for group in match.groups() if group), "")
        before = css[max(0, match.start() - 12) : match.start()].lower()
        is_import = match.group(0).lower().startswith("@import") or "@import" in before
        if found := _absolute(text, base):
            yield ("style" if is_import else "file"), found


def _absolute(text: str, base: str) -> str | None:
    text = text.strip()
    if not text or text.startswith(("#", "data:", "javascript:", "mailto:", "tel:", "blob:", "about:")):
        return None
    try:
        return tidied(urljoin(base, text))
    except ValueError:
        return None


def origin_of(url: str) -> str:
    """Return the scheme and host of an address."""
    parts = urlsplit(url)
    return f"{parts.scheme}://{parts.netloc}"


def file_of(url: str, page: bool) -> str:
    """Return the path an address is kept as, so that what is relative in it still leads to the same files."""
    parts = urlsplit(url)
    path = unquote(parts.path).lstrip("/")
    if not page:
        return path or "index"
    if not path or path.endswith("/"):
        path += "index.html"
    elif not path.lower().endswith((".html", ".htm", ".xhtml")):
        path += ".html"
    if parts.query:
        stem, dot, suffix = path.rpartition(".")
        path = f"{stem}~{re.sub(r'[^A-Za-z0-9=_-]+', '-', parts.query)[:80]}{dot}{suffix}"
    return path

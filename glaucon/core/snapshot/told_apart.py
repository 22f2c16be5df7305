"""Leads edits of a snapshot back to the page's file, by a number on each tag that came from the file."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable

from glaucon.core.cascade.markup import FILE_MARK, Markup, StartTag, read_markup
from glaucon.core.cascade.tree import Element, parse_document

Edit = tuple[int, int, str]


def marked(source: str) -> str:
    """Return a page's source with each start tag numbered, as it is given to its scripts."""
    pieces: list[str] = []
    at = 0
    for number, tag in enumerate(read_markup(source).tags):
        pieces.append(f'{source[at : tag.name_end]} {FILE_MARK}="{number}"')
        at = tag.name_end
    return "".join([*pieces, source[at:]])


def is_as_file(stood: str, file: str) -> bool:
    """Return whether scripts have left a page as its file says: the same elements, attributes and words."""
    ours, theirs = (parse_document(text).elements for text in (stood, file))
    return len(ours) == len(theirs) and all(_said(one) == _said(other) for one, other in zip(ours, theirs, strict=True))


def _said(element: Element) -> tuple[object, ...]:
    attributes = {name: value for name, value in element.attributes.items() if name != FILE_MARK}
    words = "" if element.tag == "script" else element.own_text
    return element.tag, attributes, words, element.parent.order if element.parent is not None else None


def in_file(stood: Markup, file: Markup, edits: Iterable[Edit]) -> tuple[list[Edit], list[Edit]]:
    """Return edits of a page as it stood as edits of its file, and those of what is in no file."""
    starts = [tag.start for tag in stood.tags]
    there: list[Edit] = []
    nowhere: list[Edit] = []
    for start, end, text in edits:
        at = _place(stood, file, starts, start, end)
        if at is None:
            nowhere.append((start, end, text))
        else:
            there.append((at, at + end - start, text))
    return there, nowhere


def _place(stood: Markup, file: Markup, starts: list[int], start: int, end: int) -> int | None:
    """Return where a piece of a page as it stood is in its file, None if it is not."""
    number = bisect_right(starts, start) - 1
    if number < 0:
        return None
    tag = stood.tags[number]
    own = _in_file(tag, file)
    if own is None:
        return None
    spans = _spans(tag, own, start)
    if spans is None:
        return None
    (here, here_end), (there, there_end) = spans
    piece, old, new = stood.source[start:end], stood.source[here:here_end], file.source[there:there_end]
    if old == new:
        return there + start - here
    if not piece or old.count(piece) != new.count(piece):
        return None
    # which of those alike it is
    at = -1
    for _ in range(stood.source.count(piece, here, start) + 1):
        at = new.find(piece, at + 1)
    return there + at if at >= 0 else None


def _in_file(tag: StartTag, file: Markup) -> StartTag | None:
    mark = tag.attribute(FILE_MARK)
    if mark is None or not mark.raw.isdigit() or len(mark.raw) > 8 or int(mark.raw) >= len(file.tags):
        return None
    own = file.tags[int(mark.raw)]
    return own if own.name == tag.name else None


def _spans(tag: StartTag, own: StartTag, at: int) -> tuple[tuple[int, int], tuple[int, int]] | None:
    """Return where the attribute or the content that a place lies in is, in the page as it stood and in its file."""
    for attribute in tag.attributes:
        if attribute.start <= at < attribute.end:
            same = own.attribute(attribute.name)
            return None if same is None else ((attribute.start, attribute.end), (same.start, same.end))
    if tag.content is not None and own.content is not None and tag.content[0] <= at < tag.content[1]:
        return tag.content, own.content
    return None

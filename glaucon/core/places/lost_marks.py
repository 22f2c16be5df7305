"""Logos and icons that are lost on what a study puts behind them, and the rules that bring them back.

What counts is the share of a picture whose colours stand out from what lies under it by 3 : 1 (WCAG 2.2, 1.4.11). Only
what could be seen as the site came is told.
"""

from __future__ import annotations

import base64
import io
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal
from weakref import WeakKeyDictionary

import numpy as np
from PIL import Image

from glaucon.core.cascade.properties.images import CssPicture
from glaucon.core.colour.contrast import contrast_ratio, cut_ratio, ratio_of_luminances, relative_luminance
from glaucon.core.colour.value import Colour
from glaucon.core.known.dressed import dresses_of
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.reading.reading import ICONS_NEED, CompiledPairings, token_array
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Mark, MarkKind
from glaucon.core.survey.pictures import PictureShelf
from glaucon.core.survey.site import SiteFiles

Way = Literal["other", "plate", "light", "dark"]
# Gives, for a picture's file, the files of the site that may be other versions of it, with what they hold.
Others = Callable[[str], Mapping[str, bytes]]
_KINDS = (".svg", ".png", ".webp", ".gif")
_VERSIONS = frozenset(
    "light dark white black inverse inverted reverse reversed negative positive neg alt mono footer header on colour "
    "color default 1x 2x".split()
)
_MOST_BYTES, _MOST_PX = 12_000, (480, 160)  # what a rule in the owner's own CSS may hold
_LEAST_SEEN = 1 / 3  # of a picture that can be made out by
_ONE_COLOUR = 0.9
_WHITE, _BLACK = Colour(1.0, 1.0, 1.0), Colour(0.0, 0.0, 0.0)


@dataclass(frozen=True, slots=True)
class LostMark:
    """A picture that is lost: its file, where, the best ratio of its main colours, and what would bring it back.

    A drawing in the page has no file: its `source` is what finds it, as `selector` finds what is behind a box. Of its
    main `colours` `ratio` is the best. `section` is the key of the section it lies in, "" for none; `under` what lies
    under it now, `plate` what did. `other` is the version of it that the site has for such backgrounds, as an address
    that holds it, "" for none.
    """

    kind: MarkKind
    source: str
    selector: str
    words: str
    section: str
    place: str
    pages: tuple[str, ...]
    ratio: float
    colours: tuple[Colour, ...]
    under: Colour
    plate: Colour
    ways: tuple[Way, ...]
    other: str = ""


@dataclass(frozen=True, slots=True)
class _SeenMarks:
    """How much of a mark is seen, the best ratio of its colours, and what lies under it, None where not known."""

    share: float
    best: float
    under: Colour | None
    colours: tuple[Colour, ...] = ()


_came: WeakKeyDictionary[KnownSite, list[_SeenMarks]] = WeakKeyDictionary()


def lost_marks(known: KnownSite, plain: KnownSite, study: Study, others: Others = lambda source: {}) -> list[LostMark]:
    """Return the pictures that are lost under a study, by file and section.

    `plain` is the site as it came, `known` with what the study adds of its own: backdrops, own CSS. `others` gives what
    may be other versions of a file.
    """
    if not known.survey.marks:
        return []
    came = zip(plain.survey.marks, _as_came(plain), strict=True)
    before = {(mark.page, mark.path, mark.kind): seen for mark, seen in came}
    found: dict[tuple[MarkKind, str, str], list[tuple[Mark, _SeenMarks, _SeenMarks]]] = {}
    for mark, now in zip(known.survey.marks, _seen(known, study), strict=True):
        was = before.get((mark.page, mark.path, mark.kind))
        is_lost = now.under is not None and now.share < _LEAST_SEEN
        if is_lost and was is not None and was.under is not None and was.share >= _LEAST_SEEN:
            found.setdefault((mark.kind, mark.source, _section(known, mark)), []).append((mark, now, was))
    return [
        _told(known, section, some, {} if kind == "drawing" else others(source))
        for (kind, source, section), some in found.items()
    ]


def rule_for(known: KnownSite, lost: LostMark, way: Way) -> str:
    """Return the rule that brings a picture back: a plate of what it lay on, or itself turned white or black."""
    region = next((one for one in known.survey.regions if one.key == lost.section), None)
    name = lost.source.rpartition("/")[2].replace("\\", "\\\\").replace('"', '\\"')
    own = f'img[src*="{name}"]' if lost.kind == "picture" else lost.selector
    selector = " ".join(part for part in (region.selector if region else "", own) if part)
    plate = lost.plate.hex()
    shows = "background-image" if lost.kind == "background" else "content"
    said = {
        "other": f'{shows}: url("{lost.other}")',
        "plate": f"background-color: {plate}; box-shadow: 0 0 0 6px {plate}; border-radius: 1px",
        "light": "filter: brightness(0) invert(1)",
        "dark": "filter: brightness(0)",
    }[way]
    return f"{selector} {{ {said} }}"


def _as_came(plain: KnownSite) -> list[_SeenMarks]:
    """Return how the marks were seen as the site came, remembered for as long as the site is."""
    if plain not in _came:
        tokens = TokenColours.of(token_array(plain.survey.tokens))
        _came[plain] = _seen_in(plain, plain.index.compiled, [tokens], [0] * len(plain.survey.marks))
    return _came[plain]


def _seen(known: KnownSite, study: Study) -> list[_SeenMarks]:
    worn, dresses = dresses_of(known, study, ((one.page, one.chain, one.path) for one in known.survey.marks))
    return _seen_in(known, known.compiled(study), worn, dresses)


def _seen_in(
    known: KnownSite, compiled: CompiledPairings, worn: Sequence[TokenColours], dresses: Sequence[int]
) -> list[_SeenMarks]:
    """Return how each mark is seen in its dress; marks of the same inks in the same dress are read once."""
    both = [(mark.inks, dress) for mark, dress in zip(known.survey.marks, dresses, strict=True)]
    if not both:
        return []
    different = list(dict.fromkeys(both))
    rows = np.array([(pairing, dress) for inks, dress in different for pairing, _ in inks], dtype=np.int64)
    reading = compiled.only(np.unique(rows[:, 0])).worn(np.unique(rows[:, 0], return_inverse=True)[1], rows[:, 1])
    readings = reading.read(worn)
    # of what varies below, its middle: a picture is not lost for one spot of what it lies on
    grounds = np.clip((readings.darkest + readings.lightest) / 2, 0, 1)
    grounds = np.where(readings.varied[:, None], grounds, np.clip(readings.ground, 0, 1))
    ratios = ratio_of_luminances(relative_luminance(readings.words), relative_luminance(grounds))
    found: dict[tuple[tuple[tuple[int, float], ...], int], _SeenMarks] = {}
    at = 0
    for inks, dress in different:
        own = ratios[at : at + len(inks)]
        shares = np.array([share for _, share in inks])
        under = Colour(*grounds[at].tolist()) if not np.isnan(own).any() else None
        colours = tuple(Colour(*rgb) for rgb in np.clip(readings.words[at : at + len(inks)], 0, 1).tolist())
        share = float(shares[own >= ICONS_NEED].sum() / shares.sum())
        found[inks, dress] = _SeenMarks(share, float(own.max()), under, colours if under is not None else ())
        at += len(inks)
    return [found[one] for one in both]


def _told(
    known: KnownSite, section: str, some: Sequence[tuple[Mark, _SeenMarks, _SeenMarks]], others: Mapping[str, bytes]
) -> LostMark:
    mark, now, was = min(some, key=lambda one: one[1].best)
    assert now.under is not None and was.under is not None
    other = _best_version(others, now.under)
    ways: list[Way] = ["other"] if other else []
    if contrast_ratio(was.under, now.under) > 1.01:
        ways.append("plate")
    inks = zip(mark.inks, now.colours, strict=True)
    if sum(share for (_, share), colour in inks if colour.hex() == now.colours[0].hex()) >= _ONE_COLOUR:
        if contrast_ratio(_WHITE, now.under) >= ICONS_NEED:
            ways.append("light")
        elif contrast_ratio(_BLACK, now.under) >= ICONS_NEED:
            ways.append("dark")
    place = next((one.label for one in known.survey.regions if one.key == section), "")
    pages = tuple(sorted({one.page for one, _, _ in some}))
    colours = tuple(dict.fromkeys(now.colours))
    return LostMark(
        mark.kind, mark.source, mark.selector, mark.words, section, place, pages, cut_ratio(now.best), colours,
        now.under, was.under, tuple(ways), other,
    )  # fmt: skip


def versions_of(source: str, paths: Iterable[str]) -> list[str]:
    """Return the pictures that are named as other versions of one are: "logo-white.svg" beside "logo.png"."""
    own = _plain_name(source)
    return [path for path in paths if path != source and path.lower().endswith(_KINDS) and _plain_name(path) == own]


def _plain_name(path: str) -> str:
    stem = path.rpartition("/")[2].rpartition(".")[0].lower()
    words = [word for word in re.split(r"[^a-z0-9]+", stem) if word and word not in _VERSIONS]
    return " ".join(words)


def _best_version(others: Mapping[str, bytes], under: Colour) -> str:
    """Return the version that is seen best on a colour, as an address that holds it; "" where none is."""
    found: list[tuple[float, str]] = []
    for path, data in others.items():
        small = _small(data)
        shelf = PictureShelf(SiteFiles({path: small}))
        main = shelf.main_colours(CssPicture(path, "index.html")) if small else ()
        seen = sum(share for colour, share in main if contrast_ratio(colour, under) >= ICONS_NEED)
        if main and seen / sum(share for _, share in main) >= _LEAST_SEEN:
            kind = "svg+xml" if small.lstrip().startswith(b"<") else "webp"
            found.append((seen, f"data:image/{kind};base64,{base64.b64encode(small).decode()}"))
    return max(found)[1] if found else ""


def _small(data: bytes) -> bytes:
    """Return a logo small enough to be held in a stylesheet, nothing where it cannot be."""
    if data.lstrip().startswith(b"<"):
        return data if len(data) <= _MOST_BYTES else b""  # shown as a picture it runs nothing
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "WEBP", "GIF")) as picture:
            small = picture.convert("RGBA")
    except Exception:  # Pillow raises nearly anything on broken files
        return b""
    small.thumbnail(_MOST_PX)
    out = io.BytesIO()
    small.save(out, "WEBP", quality=90)
    return out.getvalue() if out.tell() <= _MOST_BYTES else b""


def _section(known: KnownSite, mark: Mark) -> str:
    regions = (known.survey.regions[number] for number in reversed(known.survey.chains[mark.chain]))
    return next((region.key for region in regions if region.is_section), "")

"""How the texts of a page would read on a backdrop."""

from __future__ import annotations

from collections import Counter
from typing import ClassVar, Literal

from glaucon.core.acts.act import Answer, Effort, PagePath, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.find_focus import Width
from glaucon.core.acts.behind.lay_backdrop import held
from glaucon.core.acts.behind.trying import before_backdrop, room_of_backdrop
from glaucon.core.backdrops.panels import panels_on
from glaucon.core.backdrops.pictures import PHONE_PX
from glaucon.core.backdrops.room import Side, bare_of
from glaucon.core.backdrops.trying import OnIt, text_turned, texts_on
from glaucon.core.colour.contrast import cut_ratio
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.reading.reading import VERDICTS
from glaucon.core.study.backdrops import Backdrop, OfRole
from glaucon.core.study.coat_backdrops import with_backdrop
from glaucon.core.study.roles import TEXT_USES
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

_MOST_INKS, _MOST_TEXTS = 8, 40


class TextOnIt(Answer):
    """A text on a backdrop: its ratio where it is hardest to read, and what it needs."""

    path: str
    text: str
    ratio: float | None
    required: float
    verdict: str


class TextTurned(Answer):
    """The text turned "light" or "dark", in a colour in which all of it on the backdrop could be read.

    `values` is what a scope sets for that.
    """

    way: str
    values: dict[str, str]


class Ink(Answer):
    """A colour of text in the backdrop's place, and the ratio it needs."""

    colour: str
    required: float


class TriedBackdrop(Answer):
    """How the texts of a page read on a backdrop.

    `inks` are the colours of its texts, the most used first.
    `bytes` is what its pictures weigh on this screen, `panels` how many kinds of boxes lie on it. Unless `is_measured`,
    nobody knows yet where the texts lie on it. `is_small`: its place shows hardly anything of it; `bare` are the sides
    that its picture leaves bare.
    """

    search: Literal["try-backdrop"] = "try-backdrop"
    texts: int
    hard: int
    unsure: int
    lowest: float | None
    bytes: int
    panels: int
    is_measured: bool
    is_small: bool
    bare: list[Side]
    turned: TextTurned | None
    inks: list[Ink]
    worst: list[TextOnIt]


class TryBackdrop(Search):
    """Find how the texts of a page would read on a backdrop."""

    effort: ClassVar[Effort] = "page"

    search: Literal["try-backdrop"]
    backdrop: Backdrop
    page: PagePath
    width: Width = 1280

    def find(self, site: SiteAtHand, study: Study) -> TriedBackdrop:
        site.hold_page(self.page)
        backdrop, before = held(site, self.backdrop), before_backdrop(site, study, self.backdrop)
        tried = with_backdrop(study, backdrop)
        known = site.on_pages(tried, [self.page], [ContextKey(self.width, "rest")])
        found = texts_on(known, tried, backdrop, before)
        behind = site.backdrops(tried)
        room = room_of_backdrop(site, tried, backdrop, self.page, self.width)
        ratios = [one.ratio for one in found if one.ratio is not None]
        sizes = {one.file: behind.size(one.file) for one in backdrop.pictures}
        return TriedBackdrop(
            texts=len(found), hard=_count(found, "fail"), unsure=_count(found, "unsure"),
            lowest=cut_ratio(min(ratios)) if ratios else None,
            bytes=behind.weight(backdrop, self.width <= PHONE_PX), panels=panels_on(backdrop, behind.regions),
            is_measured=(self.page, self.width) in site.measured(), is_small=room is not None and room.is_small,
            bare=bare_of(backdrop, sizes, room) if room else [],
            turned=_turned(tried, found),
            inks=_inks(found), worst=[_told(one) for one in found[:_MOST_TEXTS]],
        )  # fmt: skip


def _count(found: list[OnIt], verdict: str) -> int:
    return sum(VERDICTS[one.verdict] == verdict for one in found)


def _inks(found: list[OnIt]) -> list[Ink]:
    worn = Counter((one.colour, one.required) for one in found if one.is_inside and one.colour is not None)
    return [
        Ink(colour=Colour(*colour).hex(), required=required)
        for (colour, required), _ in worn.most_common(_MOST_INKS) if colour is not None
    ]  # fmt: skip


def _told(one: OnIt) -> TextOnIt:
    ratio = cut_ratio(one.ratio) if one.ratio is not None else None
    return TextOnIt(
        path=one.path, text=one.text, ratio=ratio, required=one.required, verdict=VERDICTS[one.verdict]
    )  # fmt: skip


def _turned(study: Study, found: list[OnIt]) -> TextTurned | None:
    turned = text_turned(study, found)
    if turned is None:
        return None
    colour = _shown(study, turned[1])
    return TextTurned(way=turned[0], values=dict.fromkeys(TEXT_USES, colour))


def _shown(study: Study, paint: OfRole | str) -> str:
    return study.role(paint.role).colour.hex() if isinstance(paint, OfRole) else read_colour(paint).hex()

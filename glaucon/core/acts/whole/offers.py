"""What would fix single findings: another text colour, another background, in its place alone, less fading, a veil."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.whole.find_fixes import LessFading
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.here_only import HereOnly, here_only
from glaucon.core.mending.offers import Mender, Offer, why_no_offer
from glaucon.core.places.behind import sections_behind
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.study.coats import wear
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study

_MOST_FADINGS = 3  # told of one finding
FindingKey = Annotated[str, Field(max_length=200)]


class ColourOffer(Answer):
    """A colour that fixes a finding: how many texts it makes readable and hard to read, and leaves of the finding's.

    `harder` are others that stay hard to read or untold, with less contrast than they have.
    """

    role: str
    label: str
    is_text: bool
    colour: str
    fixes: int
    breaks: int
    harder: int
    left: int


class PlaceOffer(Answer):
    """A change at a finding's place only: the values to set there, and the texts it fixes, breaks and makes harder."""

    where: Where
    place: str
    colour: str
    coat: str | None
    values: dict[str, str]
    fixes: int
    breaks: int
    harder: int
    left: int


class VeilPlace(Answer):
    """A section that has a picture behind it which a veil may be laid over, and a page that it is on."""

    section: str
    label: str
    page: str


class OffersForOne(Answer):
    """What would fix a finding, everywhere or in its place alone; where nothing would, why not.

    `veil` is the section whose picture lies behind it.
    """

    key: str
    offers: list[ColourOffer]
    here: PlaceOffer | None
    fadings: list[LessFading]
    veil: VeilPlace | None
    reason: str


class FoundOffers(Answer):
    """What would fix each of some findings."""

    search: Literal["offers"] = "offers"
    findings: list[OffersForOne]


class FindOffers(Search):
    """Find what would fix some findings, by their keys."""

    effort: ClassVar[Effort] = "many"

    search: Literal["offers"]
    keys: Annotated[tuple[FindingKey, ...], Field(max_length=8)]

    def find(self, site: SiteAtHand, study: Study) -> FoundOffers:
        known = site.under(study)
        reading, mender, guard = known.read(study), Mender(known, study), Guard(known, study)
        wanted = set(self.keys)
        findings = [one for one in reading.findings if one.verdict == "fail" and one.key in wanted]
        return FoundOffers(findings=[_for_one(known, study, reading, mender, guard, one) for one in findings])


def _for_one(
    known: KnownSite, study: Study, reading: SiteReading, mender: Mender, guard: Guard, finding: Finding
) -> OffersForOne:  # fmt: skip
    here = here_only(known, study, reading, finding)
    sides = dict.fromkeys(side.role for side in (finding.text, finding.background) if side.role is not None)
    free = [role for role in sides if not study.role(role).locked]
    every = [offer for role in free if (offer := mender.offer(role, finding.pairings)) is not None]
    # the text comes first; the background only where it fixes more of the finding
    every.sort(key=lambda offer: offer.left)
    found = [one for offer in every if _is_worth_it(one := _colour_offer(study, finding, offer, guard))]
    there = _place_offer(study, here, guard) if here is not None else None
    there = there if there is not None and _is_worth_it(there) else None
    fadings = mender.fadings(finding)[:_MOST_FADINGS]
    veil = _veil_place(known, reading, finding) if finding.on == "picture" else None
    return OffersForOne(
        key=finding.key,
        offers=found, here=there,
        fadings=[LessFading(selector=f.selector, opacity=f.opacity, fixes=f.fixes) for f in fadings],
        veil=veil, reason="" if found or fadings or there or veil else _why_none(study, finding, bool(every or here)),
    )  # fmt: skip


def _is_worth_it(offer: ColourOffer | PlaceOffer) -> bool:
    """Return whether an offer makes more texts readable than it takes from others."""
    return offer.fixes > offer.breaks + offer.harder


def _why_none(study: Study, finding: Finding, is_found: bool) -> str:
    if is_found:
        return "Any single colour breaks as many other texts. Use Fix all: it changes several colours together."
    return why_no_offer(study, finding)


def _veil_place(known: KnownSite, reading: SiteReading, finding: Finding) -> VeilPlace | None:
    behind = sections_behind(known.survey, reading.index.runs_of(list(finding.pairings)).tolist())
    return next((VeilPlace(section=one.key, label=one.label, page=page) for one, page in behind), None)


def _place_offer(study: Study, here: HereOnly, guard: Guard) -> PlaceOffer:
    worn = wear(study, [here.where], here.coat, dict(here.values))
    return PlaceOffer(
        where=here.where, place=here.place, colour=here.colour.hex(), coat=here.coat, values=dict(here.values),
        fixes=here.fixes, breaks=here.breaks, harder=guard.harder(worn), left=here.left,
    )  # fmt: skip


def _colour_offer(study: Study, finding: Finding, offer: Offer, guard: Guard) -> ColourOffer:
    harder = guard.harder(study.with_values({offer.role: offer.colour.hex()}))
    return ColourOffer(
        role=offer.role, label=study.role(offer.role).label, is_text=offer.role == finding.text.role,
        colour=offer.colour.hex(), fixes=offer.fixes, breaks=offer.breaks, harder=harder, left=offer.left,
    )  # fmt: skip

"""A study read on its site, shaped for the API."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from urllib.parse import quote

from glaucon.apps.api.schemas.study import (
    FadingOut,
    FindingOut,
    HereOut,
    LostMarkOut,
    NearestOut,
    OfferOut,
    OffersOut,
    ReadingOut,
    RoleReadingOut,
    SideOut,
    VeilPlaceOut,
    WhereIn,
)
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_for, known_of, versions_in
from glaucon.apps.studies.previews import preview_root
from glaucon.core.colour.value import Colour
from glaucon.core.places.behind import sections_behind
from glaucon.core.places.lost_marks import LostMark, lost_marks
from glaucon.core.places.own_rules import set_by_own
from glaucon.core.proposal.here_only import HereOnly, here_only
from glaucon.core.proposal.known import KnownSite
from glaucon.core.proposal.offers import Mender, Offer, nearest_for_role, nearest_for_some, why_no_offer
from glaucon.core.reading.findings import Finding, Side, SiteReading, SurveyIndex
from glaucon.core.study.study import Study

_MOST_FADINGS = 3  # told of one finding


def read_study(site: Site, study: Study, role: str | None = None) -> ReadingOut:
    """Return the reading of a study on its site, with the pairs of one role if asked for."""
    known = known_for(site, study)
    reading = known.read(study)
    labels = study.labels
    return ReadingOut(
        texts=reading.texts,
        hard_texts=reading.hard,
        unsure_texts=reading.unsure,
        hard=sum(1 for f in reading.findings if f.verdict == "fail"),
        unsure=sum(1 for f in reading.findings if f.verdict == "unsure"),
        findings=[finding_out(f, labels, reading.index) for f in reading.findings],
        roles={
            id_: RoleReadingOut(lowest=r.lowest, verdict=r.verdict, places=r.places, pages=r.pages)
            for id_, r in reading.roles.items()
        },
        pages=reading.page_counts,
        pairs=[finding_out(p, labels, reading.index) for p in reading.pairs_of(role)] if role else [],
        lost=[_lost_out(site, study, one) for one in lost_marks(known, known_of(site), study, versions_in(site))],
    )


def _lost_out(site: Site, study: Study, lost: LostMark) -> LostMarkOut:
    address = preview_root(site, study) + quote(lost.source) if lost.kind != "drawing" else ""
    return LostMarkOut(
        kind=lost.kind, source=lost.source, address=address, words=lost.words, colours=[c.hex() for c in lost.colours],
        section=lost.section, place=lost.place, pages=list(lost.pages), ratio=lost.ratio, under=lost.under.hex(),
        plate=lost.plate.hex(), ways=list(lost.ways),
    )  # fmt: skip


def finding_out(finding: Finding, labels: Mapping[str, str], index: SurveyIndex) -> FindingOut:
    """Return a finding as the API tells it."""
    return FindingOut(
        key=finding.key,
        text=_side(finding.text, labels),
        background=_side(finding.background, labels),
        verdict=finding.verdict,
        ratio=finding.ratio,
        required=finding.required,
        large_only=finding.large_only,
        places=finding.places,
        pages=finding.pages,
        states=finding.states,
        sample=finding.sample,
        why=finding.why,
        on=finding.on,
        faded=finding.faded if finding.faded < 1 else None,
        where=finding.where,
        own=set_by_own(index, finding.pairings),
    )


def _side(side: Side, labels: Mapping[str, str]) -> SideOut:
    return SideOut(role=side.role, label=labels.get(side.role or "", ""), colour=side.colour)


def nearest_out(site: Site, study: Study, role: str) -> NearestOut:
    """Return the nearest readable colour of a role; where none serves all, the one that serves most."""
    known = known_for(site, study)
    found, _ = nearest_for_role(known, study, role)
    if found.colour is not None:
        return NearestOut(
            role=role,
            colour=_hex(study, role, found.colour),
            delta_e_ok=found.delta_e_ok,
            other_hue=found.other_hue,
            serves=None,
            of=None,
            stays=found.delta_e_ok == 0,
        )
    some, serves, of = nearest_for_some(known, study, role, found)
    return NearestOut(
        role=role,
        colour=_hex(study, role, some.colour) if some.colour else None,
        delta_e_ok=some.delta_e_ok,
        other_hue=some.other_hue,
        serves=serves,
        of=of,
        stays=False,
    )


def offers_out(site: Site, study: Study, keys: Iterable[str]) -> list[OffersOut]:
    """Return what would fix each of some findings: another text colour, another background, or why neither."""
    known = known_for(site, study)
    wanted = set(keys)
    reading = known.read(study)
    findings = [f for f in reading.findings if f.verdict == "fail" and f.key in wanted]
    mender = Mender(known, study)
    labels = study.labels
    answers = []
    for finding in findings:
        here = here_only(known, study, reading, finding)
        sides = dict.fromkeys(side.role for side in (finding.text, finding.background) if side.role is not None)
        free = [role for role in sides if not study.role(role).locked]
        found = [offer for role in free if (offer := mender.offer(role, finding.pairings)) is not None]
        # the text comes first; the background only where it fixes more of the finding
        found.sort(key=lambda offer: offer.left)
        fadings = mender.fadings(finding)[:_MOST_FADINGS]
        veil = _veil_place(known, reading, finding) if finding.on == "picture" else None
        answers.append(
            OffersOut(
                key=finding.key,
                offers=[_offer_out(finding, offer, labels) for offer in found],
                here=_here_out(here) if here is not None else None,
                fadings=[FadingOut(selector=f.selector, opacity=f.opacity, fixes=f.fixes) for f in fadings],
                veil=veil,
                reason="" if found or fadings or here or veil else why_no_offer(study, finding),
            )
        )
    return answers


def _veil_place(known: KnownSite, reading: SiteReading, finding: Finding) -> VeilPlaceOut | None:
    behind = sections_behind(known.survey, reading.index.runs_of(list(finding.pairings)).tolist())
    return next((VeilPlaceOut(section=one.key, label=one.label, page=page) for one, page in behind), None)


def _here_out(here: HereOnly) -> HereOut:
    return HereOut(
        where=WhereIn(**here.where.model_dump()), place=here.place, colour=here.colour.hex(), coat=here.coat,
        values=dict(here.values), fixes=here.fixes, breaks=here.breaks, left=here.left,
    )  # fmt: skip


def _offer_out(finding: Finding, offer: Offer, labels: Mapping[str, str]) -> OfferOut:
    return OfferOut(
        role=offer.role,
        label=labels[offer.role],
        is_text=offer.role == finding.text.role,
        colour=offer.colour.hex(),
        delta_e_ok=offer.delta_e_ok,
        other_hue=offer.other_hue,
        fixes=offer.fixes,
        breaks=offer.breaks,
        left=offer.left,
    )


def _hex(study: Study, role: str, colour: Colour) -> str:
    return colour.with_alpha(study.role(role).colour.alpha).hex()

"""A study read on its site, shaped for the API."""

from __future__ import annotations

from collections.abc import Mapping

from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies.schemas import (
    FindingOut,
    NearestOut,
    OfferOut,
    ReadingOut,
    RoleReadingOut,
    SideOut,
)
from glaucon.core.colour.value import Colour
from glaucon.core.palette.mending import Mender, Offer, nearest_for_role, nearest_for_some
from glaucon.core.palette.study import Study
from glaucon.core.reading.findings import Finding, Side


def read_study(site: Site, study: Study, role: str | None = None) -> ReadingOut:
    """Return the reading of a study on its site, with the pairs of one role if asked for."""
    reading = known_of(site).read(study)
    labels = {role.name: role.label for role in study.roles}
    return ReadingOut(
        texts=reading.texts,
        hard_texts=reading.hard,
        unsure_texts=reading.unsure,
        hard=sum(1 for f in reading.findings if f.verdict == "fail"),
        unsure=sum(1 for f in reading.findings if f.verdict == "unsure"),
        findings=[finding_out(f, labels) for f in reading.findings],
        roles={
            name: RoleReadingOut(lowest=r.lowest, verdict=r.verdict, places=r.places, pages=r.pages)
            for name, r in reading.roles.items()
        },
        pages=reading.page_counts,
        pairs=[finding_out(p, labels) for p in reading.pairs_of(role)] if role else [],
    )


def finding_out(finding: Finding, labels: Mapping[str, str]) -> FindingOut:
    """Return a finding as the API tells it."""
    return FindingOut(
        words=_side(finding.words, labels),
        ground=_side(finding.ground, labels),
        verdict=finding.verdict,
        ratio=finding.ratio,
        required=finding.required,
        large_only=finding.large_only,
        places=finding.places,
        pages=finding.pages,
        states=finding.states,
        sample=finding.sample,
        why=finding.why,
    )


def _side(side: Side, labels: Mapping[str, str]) -> SideOut:
    return SideOut(role=side.role, label=labels.get(side.role or "", ""), colour=side.colour)


def nearest_out(site: Site, study: Study, role: str) -> NearestOut:
    """Return the nearest readable colour of a role; where none serves all, the one that serves most."""
    known = known_of(site)
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


def offers_out(site: Site, study: Study, most: int) -> list[OfferOut]:
    """Return a colour for the words or the ground of each of the worst findings."""
    known = known_of(site)
    reading = known.read(study)
    mender = Mender(known, study)
    offers = []
    for finding in [f for f in reading.findings if f.verdict == "fail"][:most]:
        sides = [side.role for side in (finding.words, finding.ground) if side.role is not None]
        found = [offer for role in sides if (offer := mender.offer(role, finding.pairings)) is not None]
        if found:
            # the words are asked first; the ground only where it mends more of the finding
            offers.append(_offer_out(finding, min(found, key=lambda offer: offer.left)))
    return offers


def _offer_out(finding: Finding, offer: Offer) -> OfferOut:
    return OfferOut(
        words=finding.words.role,
        ground=finding.ground.role,
        role=offer.role,
        colour=offer.colour.hex(),
        delta_e_ok=offer.delta_e_ok,
        other_hue=offer.other_hue,
        mended=offer.mended,
        harmed=offer.harmed,
        left=offer.left,
    )


def _hex(study: Study, role: str, colour: Colour) -> str:
    return colour.with_alpha(study.role(role).colour.alpha).hex()

"""A study read on its site, shaped for the API."""

from __future__ import annotations

from collections.abc import Mapping

from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies.schemas import (
    FindingOut,
    LeftOut,
    MendIn,
    MendOut,
    MoveOut,
    NearestOut,
    OfferOut,
    ReadingOut,
    RoleReadingOut,
    SideOut,
)
from glaucon.core.colour.value import Colour
from glaucon.core.mending.mend_all import mend_all
from glaucon.core.proposal.offers import Mender, Offer, nearest_for_role, nearest_for_some
from glaucon.core.reading.findings import Finding, Side
from glaucon.core.study.study import Study

_PATIENCE = 400  # boxes looked through for a proof: someone is waiting


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


def mend_out(site: Site, study: Study, asked: MendIn) -> MendOut:
    """Return how everything could be mended."""
    known = known_of(site)
    if asked.level is not None:
        study = study.model_copy(update={"level": asked.level})
    mended = mend_all(known, study, asked.locks, most_boxes=_PATIENCE)
    labels = {role.name: role.label for role in study.roles}
    runs = known.survey.runs
    return MendOut(
        # what follows another role comes along by itself
        values={move.role: move.after.hex() for move in mended.moved if move.role not in mended.study.ties},
        before=mended.failing_before,
        after=mended.failing_after,
        moves=[
            MoveOut(
                role=move.role, label=labels[move.role], before=move.before.hex(), after=move.after.hex(),
                delta_e_ok=move.delta_e_ok, texts=move.runs,
            )
            for move in mended.moved
        ],
        left=[
            LeftOut(
                texts=len(one.runs), samples=[runs[run].text[:60] for run in one.runs[:3]],
                locks=[labels[name] for name in one.locks], give_role=one.give[0] if one.give else None,
                give_label=labels[one.give[0]] if one.give else "", give_colour=one.give[1].hex() if one.give else "",
                is_proved=bool(one.proof),
            )
            for one in mended.left
        ],
    )  # fmt: skip


def offers_out(site: Site, study: Study, most: int) -> list[OfferOut]:
    """Return a colour for the words or the ground of each of the worst findings."""
    known = known_of(site)
    reading = known.read(study)
    mender = Mender(known, study)
    offers = []
    for finding in [f for f in reading.findings if f.verdict == "fail"][:most]:
        sides = dict.fromkeys(side.role for side in (finding.words, finding.ground) if side.role is not None)
        found = [offer for role in sides if (offer := mender.offer(role, finding.pairings)) is not None]
        # the words come first; the ground only where it mends more of the finding
        offers += [_offer_out(finding, offer) for offer in sorted(found, key=lambda offer: offer.left)]
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

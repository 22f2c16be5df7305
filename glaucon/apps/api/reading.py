"""A study read on its site, shaped for the API."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from glaucon.apps.api.study_schemas import (
    FadingOut,
    FindingOut,
    HereOut,
    LeftOut,
    MendIn,
    MendOut,
    MoveOut,
    NearestOut,
    OfferOut,
    OffersOut,
    ReadingOut,
    RoleReadingOut,
    SideOut,
    WhereIn,
)
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_for
from glaucon.core.colour.value import Colour
from glaucon.core.mending.mend_all import Left, kept_as_they_are, mend_all
from glaucon.core.proposal.here_only import HereOnly, here_only
from glaucon.core.proposal.offers import Mender, Offer, nearest_for_role, nearest_for_some, why_no_offer
from glaucon.core.reading.findings import Finding, Side
from glaucon.core.study.fading import fades_of
from glaucon.core.study.study import Study
from glaucon.core.wording import percent

_MOST_FADINGS = 3  # told of one finding
_PATIENCE = 400  # boxes looked through for a proof: someone is waiting
_SECONDS = 7.0  # and a little to set up and to read the outcome: ten in all


def read_study(site: Site, study: Study, role: str | None = None) -> ReadingOut:
    """Return the reading of a study on its site, with the pairs of one role if asked for."""
    reading = known_for(site, study).read(study)
    labels = study.labels
    return ReadingOut(
        texts=reading.texts,
        hard_texts=reading.hard,
        unsure_texts=reading.unsure,
        hard=sum(1 for f in reading.findings if f.verdict == "fail"),
        unsure=sum(1 for f in reading.findings if f.verdict == "unsure"),
        findings=[finding_out(f, labels) for f in reading.findings],
        roles={
            id_: RoleReadingOut(lowest=r.lowest, verdict=r.verdict, places=r.places, pages=r.pages)
            for id_, r in reading.roles.items()
        },
        pages=reading.page_counts,
        pairs=[finding_out(p, labels) for p in reading.pairs_of(role)] if role else [],
    )


def finding_out(finding: Finding, labels: Mapping[str, str]) -> FindingOut:
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
        faded=finding.faded if finding.faded < 1 else None,
        where=finding.where,
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


def mend_out(site: Site, study: Study, asked: MendIn) -> MendOut:
    """Return how everything could be fixed, the best found in the time that somebody waits."""
    known = known_for(site, study)
    if asked.aim is not None:
        study = study.model_copy(update={"aim": asked.aim})
    locks, floors = (set(), {}) if asked.everything else kept_as_they_are(study)
    # what backgrounds that stay stand against needs no proof: the way out is to let them change
    patience = _PATIENCE if asked.everything else 0
    mended = mend_all(known, study, {*asked.locks, *locks}, most_boxes=patience, floors=floors, seconds=_SECONDS)
    labels = study.labels
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
        left=[_left_out(site, study, one, asked) for one in mended.left],
    )  # fmt: skip


def _left_out(site: Site, study: Study, one: Left, asked: MendIn) -> LeftOut:
    known, labels = known_for(site, study), study.labels
    own = {role.id for role in study.roles if role.locked} | set(asked.locks)
    faded = min((known.index.fading(pairing, fades_of(study)) for pairing in one.pairings), default=1.0)
    kept = [name for name in one.locks if name not in own]
    if faded < 1:
        why = f"The page fades this text to {percent(faded)}. Fade it less, in the list of hard-to-read text."
    elif kept:
        why = "Backgrounds and strong colours are kept as they are. Let everything change to fix more."
    else:
        why = "No set of colours makes all of these readable together."
    return LeftOut(
        texts=len(one.runs), samples=[known.survey.runs[run].text[:60] for run in one.runs[:3]], why=why,
        locks=[labels[name] for name in one.locks if name in own],
        give_role=one.give[0] if one.give else None, give_label=labels[one.give[0]] if one.give else "",
        give_colour=one.give[1].hex() if one.give else "", is_proved=bool(one.proof),
    )  # fmt: skip


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
        answers.append(
            OffersOut(
                key=finding.key,
                offers=[_offer_out(finding, offer, labels) for offer in found],
                here=_here_out(here) if here is not None else None,
                fadings=[FadingOut(selector=f.selector, opacity=f.opacity, fixes=f.fixes) for f in fadings],
                reason="" if found or fadings or here else why_no_offer(study, finding),
            )
        )
    return answers


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

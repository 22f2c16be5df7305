"""A study read on its site, shaped for the API."""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import quote

from glaucon.apps.api.schemas.reading import FindingOut, LostMarkOut, ReadingOut, RoleReadingOut, SeenOut, SideOut
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.core.cascade.selectors.state import OPENED, at_an_element
from glaucon.core.places.lost_marks import LostMark, lost_marks
from glaucon.core.places.own_rules import set_by_own
from glaucon.core.reading.findings import Finding, Side, SurveyIndex
from glaucon.core.study.study import Study


def read_study(site: Site, study: Study, root: str, role: str | None = None) -> ReadingOut:
    """Return the reading of a study on its site, with the pairs of one role if asked for.

    `root` is the address that previews of the site live under.
    """
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
        tied={role.id: role.colour.hex() for role in study.roles if role.tie is not None},
        lost=[_lost_out(root, one) for one in lost_marks(known, known_of(site), study, KeptSite(site).versions)],
    )


def _lost_out(root: str, lost: LostMark) -> LostMarkOut:
    address = root + quote(lost.source) if lost.kind != "drawing" else ""
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
        places=finding.places,
        pages=finding.pages,
        states=finding.states,
        widths=finding.widths,
        seen=_seen(finding, index),
        sample=finding.sample,
        why=finding.why,
        on=finding.on,
        faded=finding.faded if finding.faded < 1 else None,
        where=finding.where,
        own=set_by_own(index, finding.pairings),
    )


def _seen(finding: Finding, index: SurveyIndex) -> SeenOut:
    assert finding.seen is not None
    survey, run = index.survey, index.survey.runs[finding.seen.run]
    sections = (survey.regions[number] for number in survey.chains[run.chain])
    state = finding.seen.state
    return SeenOut(
        page=run.page, path=run.path, width=finding.seen.width, state=at_an_element(state),
        opened=run.opened or (state.removeprefix(OPENED) if state.startswith(OPENED) else ""),
        section=next((one.label for one in sections if one.is_section), ""),
    )  # fmt: skip


def _side(side: Side, labels: Mapping[str, str]) -> SideOut:
    return SideOut(role=side.role, label=labels.get(side.role or "", ""), colour=side.colour)

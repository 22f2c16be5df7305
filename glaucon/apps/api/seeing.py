"""All that has to be seen on a site: the ladder, and the list of texts on screen and as a file."""

from __future__ import annotations

from typing import Literal, cast

import numpy as np
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router

from glaucon.apps.api.schemas.acts import DraftIn
from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.seeing import (
    AlikeOut,
    AlikeSideOut,
    BeyondListOut,
    BeyondOut,
    ComfortOut,
    EyeQuery,
    EyesOut,
    LadderOut,
    LaneOut,
    NamedOut,
    PartingOut,
    SaidOf,
    TextOut,
    TextsFileQuery,
    TextsOut,
    TextsPageQuery,
    ThingSeenOut,
    WaiverOut,
)
from glaucon.apps.api.shaping.reading import finding_out
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.studies import services
from glaucon.core.acts.any_act import applied
from glaucon.core.colour.value import Colour
from glaucon.core.exchange.reports.earl import earl_document
from glaucon.core.exchange.reports.paper import report_page, statement_page
from glaucon.core.exchange.reports.texts import texts_file
from glaucon.core.seeing.alike import alike_pairs
from glaucon.core.seeing.beyond import BeyondFinding, beyond_findings, judged_things
from glaucon.core.seeing.beyond_rules import rule_for
from glaucon.core.seeing.comfort import comfort_notes
from glaucon.core.seeing.eyes import blur_px, matrix_of, seen
from glaucon.core.seeing.lanes import lanes_of
from glaucon.core.seeing.summary import summary_of
from glaucon.core.seeing.texts import TextList, TextRow, TextsWanted
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Region, Survey

router = Router(tags=["seeing"])
ReportForm = Literal["report", "statement", "earl"]
_FILES = {"csv": ("text/csv; charset=utf-8", "csv"), "json": ("application/json", "json"),
          "table": ("text/plain; charset=utf-8", "txt")}  # fmt: skip


@router.post("/sites/{slug}/ladder", response=LadderOut, operation_id="getLadder")
@light
def get_ladder(request: HttpRequest, slug: str, draft: DraftIn) -> LadderOut:
    """Return the ladder after some acts; nothing is written."""
    site = own_site(request, slug)
    revision = services.current_at(site, draft.base.named)
    study = applied(KeptSite(site), revision.read(), draft.acts)
    known = known_for(site, study)
    reading, labels = known.read(study), study.labels
    return LadderOut(
        base=RevisionName.of(revision),
        lanes=[
            LaneOut(
                key=lane.key, ground=lane.ground, role=lane.role, label=labels.get(lane.role or "", ""),
                colour=lane.colour, spread=list(lane.spread) if lane.spread else None,
                section=lane.section, where=lane.where, texts=lane.texts,
                standing=[finding_out(one, labels, reading.index) for one in lane.standing],
            )
            for lane in lanes_of(known, study, reading)
        ],
        texts=reading.texts, hard_texts=reading.hard, unsure_texts=reading.unsure,
    )  # fmt: skip


@router.get("/sites/{slug}/beyond", response=BeyondListOut, operation_id="getBeyond")
@light
def get_beyond(request: HttpRequest, slug: str) -> BeyondListOut:
    """Return what besides text has to be seen."""
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    found = beyond_findings(known_for(site, study), study)
    return BeyondListOut(base=RevisionName.of(revision), findings=[_beyond_out(one, study) for one in found])


@router.get("/sites/{slug}/comfort", response=list[ComfortOut], operation_id="getComfort")
@light
def get_comfort(request: HttpRequest, slug: str) -> list[ComfortOut]:
    """Return what can be read and still tires or confuses."""
    site = own_site(request, slug)
    study = services.current_of(site).read()
    known = known_for(site, study)
    index = known.read(study).index
    found = []
    for one in comfort_notes(known, study):
        told = finding_out(one.finding, study.labels, index) if one.finding is not None else None
        change = None
        if one.role is not None and one.value is not None:
            change = PartingOut(role=one.role, label=study.labels[one.role], value=one.value)
        found.append(ComfortOut(
            kind=one.kind, says=one.says, text=one.text, ground=one.ground, where=one.where, change=change,
            seen=told.seen if told else None, sample=told.sample if told else "",
        ))  # fmt: skip
    return found


@router.get("/sites/{slug}/eyes", response=EyesOut, operation_id="seenByOthers")
@light
def seen_by_others(request: HttpRequest, slug: str, asked: Query[EyeQuery]) -> EyesOut:
    """Return how the pages look to other eyes, and which colours become alike."""
    site = own_site(request, slug)
    study = services.current_of(site).read()
    pairs = alike_pairs(known_for(site, study), study, asked.eye, asked.strength)
    return EyesOut(
        matrix=[part for row in matrix_of(asked.eye, asked.strength).tolist() for part in row],
        blur=blur_px(asked.eye, asked.strength),
        alike=[
            AlikeOut(
                one=_side_out(pair.one, asked), other=_side_out(pair.other, asked), where=pair.where,
                change=None if pair.change is None else PartingOut(
                    role=pair.change.role, label=study.labels[pair.change.role], value=pair.change.value
                ),
            )
            for pair in pairs
        ],
    )  # fmt: skip


def _side_out(role: Role, asked: EyeQuery) -> AlikeSideOut:
    shown = seen(np.array([role.colour.rgb]), asked.eye, asked.strength)[0].tolist()
    return AlikeSideOut(role=role.id, label=role.label, colour=role.colour.hex(), seen=Colour(*shown).hex())


@router.get("/sites/{slug}/texts", response=TextsOut, operation_id="getTexts")
@light
def get_texts(request: HttpRequest, slug: str, asked: Query[TextsPageQuery]) -> TextsOut:
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    known = known_for(site, study)
    texts = TextList(known.read(study))
    total, rows = texts.rows(asked.wanted, asked.start, asked.most)
    return TextsOut(
        base=RevisionName.of(revision), total=total, counts=texts.counts(asked.wanted),
        texts=[_text_out(row) for row in rows],
        sections=_named(known.survey, is_section=True), parts=_named(known.survey, is_section=False),
        widths=sorted({key.width for key in known.survey.sightings}, reverse=True),
    )  # fmt: skip


@router.get("/sites/{slug}/texts/file", operation_id="downloadTexts")
@light
def download_texts(request: HttpRequest, slug: str, asked: Query[TextsFileQuery]) -> HttpResponse:
    """Give the texts that are wanted as a file."""
    site = own_site(request, slug)
    study = services.current_of(site).read()
    _, rows = TextList(known_for(site, study).read(study)).rows(asked.wanted)
    kind, ending = _FILES[asked.form]
    answer = HttpResponse(texts_file(rows, asked.form), content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{site.slug}-texts.{ending}"'
    return answer


@router.get("/sites/{slug}/report", operation_id="getReport")
@light
def get_report(
    request: HttpRequest, slug: str, form: Literal["report", "statement", "earl"] = "report"
) -> HttpResponse:
    """Give the report, the statement for the site's visitors, or the results as EARL."""
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    known = known_for(site, study)
    now = timezone.localtime()
    if form == "earl":
        _, rows = TextList(known.read(study)).rows(TextsWanted())
        text = earl_document(rows, judged_things(known, study), study.aim, now.replace(microsecond=0))
        answer = HttpResponse(text, content_type="application/ld+json")
    else:
        summary = summary_of(known, known_of(site), study)
        page = (
            statement_page(site.name, summary, now.date()) if form == "statement"
            else report_page(site.name, revision.study.name, summary, study.labels, now.date())
        )  # fmt: skip
        answer = HttpResponse(page, content_type="text/html; charset=utf-8")
        answer["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox allow-modals"
    if form != "report":
        ending = "jsonld" if form == "earl" else "html"
        answer["Content-Disposition"] = f'attachment; filename="{site.slug}-{form}.{ending}"'
    return answer


def _beyond_out(found: BeyondFinding, study: Study) -> BeyondOut:
    one = found.first
    return BeyondOut(
        key=found.key, what=one.what, criterion=one.criterion, state=one.state, colour=one.colour, against=one.against,
        ratio=one.ratio, required=one.required, verdict=one.verdict, why=one.why, count=len(found.things),
        pages=list(dict.fromkeys(thing.page for thing in found.things)),
        seen=ThingSeenOut(page=one.page, path=one.path, section=one.label, state=one.state, words=one.words),
        rule=rule_for(found, study),
        waiver=WaiverOut(said=one.waiver.said, why=one.waiver.why) if one.waiver else None,
    )  # fmt: skip


def _text_out(row: TextRow) -> TextOut:
    said = row.verdict
    ends = (said.darkest, said.lightest)
    return TextOut(
        page=row.run.page, path=row.run.path, opened=row.run.opened, text=row.run.text, kind=row.kind,
        section=_label(row.section), part=_label(row.part), size_px=row.size_px, weight=row.weight,
        is_large=row.is_large,
        colour=said.colour.with_alpha(1).hex() if said.colour else "",
        background=said.background.with_alpha(1).hex() if said.background else "",
        spread=[ends[0].hex(), ends[1].hex()] if ends[0] and ends[1] else None,
        ratio=said.ratio, required=said.required, verdict=cast(SaidOf, said.verdict), why=said.why,
        states=list(row.states),
        widths=list(row.widths),
    )  # fmt: skip


def _label(region: Region | None) -> str:
    return region.label if region else ""


def _named(survey: Survey, is_section: bool) -> list[NamedOut]:
    """Return the regions that texts lie in, by name."""
    holding = {number for run in survey.runs for number in survey.chains[run.chain]}
    some = [survey.regions[number] for number in sorted(holding)]
    named = {one.key: one.label for one in some if one.is_section == is_section}
    return [NamedOut(key=key, label=label) for key, label in sorted(named.items(), key=lambda one: one[1].casefold())]

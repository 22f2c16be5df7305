"""Several studies of one site: named, copied, put away, compared."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.answers import own_study, shown
from glaucon.apps.api.fixing import parts_of, with_less_fading, with_worn
from glaucon.apps.api.schemas.study import ComparedOut, ComparedRole, ComparedSide, NewStudyIn, StudyOut, StudyStepIn
from glaucon.apps.api.strips import strip
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.models import Study
from glaucon.apps.studies.previews import preview_root
from glaucon.core.making.making import is_dark, with_given
from glaucon.core.reading.findings import SiteReading
from glaucon.core.study import study as core

router = Router(tags=["studies"])


def _study_out(site: Site, study: Study) -> StudyOut:
    known = known_of(site)
    assert study.current is not None
    document = study.current.read()
    reading = known.read(document)
    return StudyOut(
        number=study.pk, name=study.name, is_open=study.is_open, is_deleted=study.deleted is not None,
        is_dark=is_dark(document), colours=strip(known, document), texts=reading.texts, hard_texts=reading.hard,
        changed=len(document.changed_roles()),
    )  # fmt: skip


@router.get("/sites/{slug}/studies", response=list[StudyOut], operation_id="listStudies")
def list_studies(request: HttpRequest, slug: str) -> list[StudyOut]:
    site = own_site(request, slug)
    return [_study_out(site, study) for study in site.studies.select_related("current")]


@router.post("/sites/{slug}/studies", response=StudyOut, operation_id="addStudy")
@light
def add_study(request: HttpRequest, slug: str, wanted: NewStudyIn) -> StudyOut:
    """Copy a study, with other values if given; what is made from colours or tried comes in this way."""
    site = own_site(request, slug)
    origin = own_study(site, wanted.copy_of) if wanted.copy_of is not None else services.study_of(site)
    assert origin.current is not None
    name = " ".join(wanted.name.split())[:80] or f"{origin.name[:70]}, copy"
    document = origin.current.read()
    if wanted.values:
        document = with_given(document, wanted.values, wanted.given, parts_of(document, wanted.parts))
        document = with_worn(known_of(site), document, wanted.places)
        document = with_less_fading(known_of(site), document, wanted.fades)
    document = core.read_study(document.model_copy(update={"name": name}).model_dump(mode="json"))
    study = services.add_study(site, document, "Made" if wanted.values else f"Copied from {origin.name}"[:160])
    if wanted.is_opened:
        services.open_study(study)
    return _study_out(site, study)


@router.post("/sites/{slug}/studies/{number}", response=list[StudyOut], operation_id="stepStudy")
@light
def step_study(request: HttpRequest, slug: str, number: int, step: StudyStepIn) -> list[StudyOut]:
    site = own_site(request, slug)
    study = own_study(site, number)
    if step.what == "open":
        services.open_study(study)
    elif step.what == "rename":
        services.rename_study(study, step.name)
    elif step.what == "delete":
        services.delete_study(study)
    else:
        services.bring_back_study(study)
    return list_studies(request, slug)


@router.get("/sites/{slug}/compare", response=ComparedOut, operation_id="compareStudies")
@light
def compare_studies(request: HttpRequest, slug: str, one: int, other: int) -> ComparedOut:
    site = own_site(request, slug)
    known = known_of(site)
    studies = [own_study(site, number) for number in (one, other)]
    documents = [study.current.read() for study in studies if study.current is not None]
    readings = [known.read(document) for document in documents]
    sides = [
        ComparedSide(
            number=study.pk, name=study.name, preview=preview_root(site, document, number=study.pk),
            wear=shown(site, document), texts=reading.texts, hard_texts=reading.hard,
            pages=reading.page_counts,
        )
        for study, document, reading in zip(studies, documents, readings, strict=True)
    ]  # fmt: skip
    return ComparedOut(sides=sides, roles=_differing(documents, readings))


def _differing(documents: list[core.Study], readings: list[SiteReading]) -> list[ComparedRole]:
    labels = {id_: label for document in reversed(documents) for id_, label in document.labels.items()}
    colours = [{role.id: role.colour.hex() for role in document.roles} for document in documents]
    rows = []
    unseen = {role.id for document in documents for role in document.roles if role.tier == "unseen"}
    for id_, label in labels.items():
        if colours[0].get(id_) == colours[1].get(id_) or id_ in unseen:
            continue
        found = [reading.roles.get(id_) for reading in readings]
        rows.append(
            ComparedRole(
                id=id_, label=label, colours=[side.get(id_) for side in colours],
                lowest=[one.lowest if one else None for one in found],
                verdicts=[one.verdict if one else "" for one in found],
            )
        )  # fmt: skip
    return rows

"""Several studies of one site: named, copied, put away, compared."""

from __future__ import annotations

from collections.abc import Sequence

from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.study import ComparedOut, ComparedRole, ComparedSide, NewStudyIn, StudyOut, StudyStepIn
from glaucon.apps.api.shaping.answers import own_study, shown
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_of
from glaucon.apps.studies import services
from glaucon.apps.studies.models import Study
from glaucon.apps.studies.previews import preview_root
from glaucon.core.acts.any_act import applied, label_of
from glaucon.core.known.strip import strip_of
from glaucon.core.reading.findings import SiteReading
from glaucon.core.study import study as core
from glaucon.core.study.darkness import is_dark

router = Router(tags=["studies"])


def _study_out(site: Site, study: Study) -> StudyOut:
    known = known_of(site)
    assert study.current is not None
    document = study.current.read()
    reading = known.read(document)
    return StudyOut(
        base=RevisionName.of(study.current), name=study.name, is_open=study.is_open,
        is_deleted=study.deleted is not None, is_dark=is_dark(document), colours=strip_of(known, document),
        texts=reading.texts, hard_texts=reading.hard, changed=len(document.changed_roles()),
    )  # fmt: skip


@router.get("/sites/{slug}/studies", response=list[StudyOut], operation_id="listStudies")
@light
def list_studies(request: HttpRequest, slug: str) -> list[StudyOut]:
    site = own_site(request, slug)
    return [_study_out(site, study) for study in site.studies.select_related("current")]


@router.post("/sites/{slug}/studies", response=StudyOut, operation_id="addStudy")
@light
def add_study(request: HttpRequest, slug: str, wanted: NewStudyIn) -> StudyOut:
    """Copy a study with some acts done to it; what is made from colours or tried comes in this way."""
    site = own_site(request, slug)
    origin = own_study(site, wanted.base.study)
    assert origin.current is not None
    if services.base_of(origin.current) != wanted.base.named:
        raise Refused(409, "stale", f"“{origin.name}” was changed in another window. Look at it, then copy it again.")
    name = " ".join(wanted.name.split())[:80] or f"{origin.name[:70]}, copy"
    before = origin.current.read()
    document = applied(KeptSite(site), before.model_copy(update={"name": name}), wanted.acts)
    known_of(site).read(document)  # before anything is written
    what = label_of(wanted.acts, before, document) if wanted.acts else f"Copied from {origin.name}"
    study = services.add_study(site, document, what[:160])
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
    revisions = [study.current for study in (own_study(site, n) for n in (one, other)) if study.current is not None]
    documents = [revision.read() for revision in revisions]
    readings = [known.read(document) for document in documents]
    sides = [
        ComparedSide(
            number=revision.study_id, name=revision.study.name, preview=preview_root(site, revision),
            wear=shown(site, document), texts=reading.texts, hard_texts=reading.hard,
            pages=reading.page_counts,
        )
        for revision, document, reading in zip(revisions, documents, readings, strict=True)
    ]  # fmt: skip
    return ComparedOut(sides=sides, roles=_differing(documents, readings))


def _differing(documents: Sequence[core.Study], readings: Sequence[SiteReading]) -> list[ComparedRole]:
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

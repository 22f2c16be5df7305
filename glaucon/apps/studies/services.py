"""Steps on studies: new revisions, undo, redo; a stale write is refused, never lost silently."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from glaucon.apps.errors import Refused
from glaucon.apps.sites.models import Site
from glaucon.apps.studies.models import Revision, Study
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.proposal.carry_over import CarriedOver, carry_over
from glaucon.core.proposal.entries import Proposal
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study import study as core
from glaucon.core.study.dress import is_inside
from glaucon.core.study.fading import with_fade
from glaucon.core.survey.model import Survey
from glaucon.core.wording import counted, listed, percent, plural

MOST_STUDIES = 60


def start_study(site: Site, document: core.Study) -> Study:
    """Return a new study of a site with its first revision."""
    study = add_study(site, document, "Original")
    open_study(study)
    return study


def add_study(site: Site, document: core.Study, what: str) -> Study:
    """Return one more study of a site with its first revision; the one that is open stays open."""
    if site.studies.filter(deleted=None).count() >= MOST_STUDIES:
        raise Refused(409, "too-many", f"A site can have {MOST_STUDIES} studies. Delete one that you no longer need.")
    study = Study.objects.create(site=site, name=document.name)
    first = Revision.objects.create(study=study, number=1, document=document.model_dump(mode="json"), what=what)
    study.current = first
    study.save(update_fields=["current"])
    return study


def open_study(study: Study) -> None:
    """Make a study the one that is worked on. Raises: Refused: it is deleted."""
    if study.deleted is not None:
        raise Refused(409, "deleted", f"“{study.name}” is deleted. Restore it first.")
    with transaction.atomic():
        Study.objects.filter(site=study.site_id, is_open=True).update(is_open=False)
        study.is_open = True
        study.save(update_fields=["is_open"])


def rename_study(study: Study, name: str) -> None:
    """Call a study otherwise. Raises: Refused: the name says nothing."""
    name = " ".join(name.split())[:80]
    if not name:
        raise Refused(422, "no-name", "A study needs a name. Type what it is, such as “Autumn, dark”.")
    study.name = name
    study.save(update_fields=["name"])


def delete_study(study: Study) -> None:
    """Put a study away; it can be brought back. Raises: Refused: it is the last one."""
    with transaction.atomic():
        others = study.site.studies.filter(deleted=None).exclude(pk=study.pk)
        if not others.exists():
            raise Refused(409, "last", "This is the site's only study. Make another one before you delete it.")
        was_open, study.is_open, study.deleted = study.is_open, False, timezone.now()
        study.save(update_fields=["is_open", "deleted"])
        if was_open:
            open_study(others.order_by("-pk").first())


def bring_back_study(study: Study) -> None:
    """Bring a deleted study back."""
    study.deleted = None
    study.save(update_fields=["deleted"])


def carry_over_studies(site: Site, before: list[ColourToken], survey: Survey, proposal: Proposal) -> list[str]:
    """Move all studies of a site to its new tokens; return what changed among its colours, in sentences.

    The new revisions start afresh: undoing beyond them would lead to places the files no longer have.
    """
    said: list[str] = []
    for study in site.studies.select_related("current"):
        assert study.current is not None
        carried = carry_over(study.current.read(), before, survey.tokens, proposal)
        last = study.revisions.aggregate(last=Max("number"))["last"]
        document = carried.study.model_dump(mode="json")
        what = "Updated from the site"
        revision = Revision.objects.create(study=study, number=last + 1, document=document, what=what)
        _move(study, revision)
        said = _colours_in_words(carried) + _places_gone(carried.study, survey)
    return said


def _places_gone(document: core.Study, survey: Survey) -> list[str]:
    """Return what is worn where nothing is any more, as a sentence: it is kept, should the place come back."""
    regions = {region.key: region.pages for region in survey.regions}
    gone = [
        where.region or str(where.page)
        for where in (scope.where for scope in document.worn)
        if (where.region is not None and where.region not in regions)
        or (where.page is not None and where.page not in regions.get(where.region or "", survey.pages))
    ]
    of_page: dict[str, list[str]] = {}
    for run in survey.runs:
        of_page.setdefault(run.page, []).append(run.path)
    gone += [
        f"one text of {where.page}"
        for where in (scope.where for scope in document.worn)
        if where.at is not None and where.page in survey.pages
        and not any(is_inside(path, where.at) for path in of_page.get(where.page, ()))
    ]  # fmt: skip
    return [f"Not there any more, its colours are kept: {listed(gone)}."] if gone else []


def _colours_in_words(carried: CarriedOver) -> list[str]:
    said = [f"New colour {colour.upper()} goes with {label}." for colour, label in list(carried.joined.items())[:12]]
    if carried.new_roles:
        said.append(f"New in the palette: {listed(carried.new_roles)}.")
    if carried.unmapped:
        said.append(f"Not in the palette: {listed(carried.unmapped)}.")
    if carried.gone:
        gone = carried.gone
        said.append(f"{counted(gone, 'place')} of the palette {plural(gone, 'is')} gone from the files.")
    return said or ["Its colours are the same as before."]


def study_of(site: Site) -> Study:
    """Return the study the owner works on."""
    study: Study = site.studies.select_related("current").get(is_open=True)
    return study


def change_values(site: Site, base: int, values: Mapping[str, str], take: bool = False, what: str = "") -> Revision:
    """Return a new revision with some roles' values replaced.

    `base` is the number of the revision the writer has seen. Raises: Refused: 409 where it is not the current one.
    """
    with transaction.atomic():
        study = _locked(site, base)
        assert study.current is not None
        document = study.current.read().with_values(values, take)
        if document == study.current.read():
            return study.current
        return _advance(study, document, what or _in_words(document, values))


def change(site: Site, base: int, make: Callable[[core.Study], core.Study], what: str) -> Revision:
    """Return a new revision that `make` makes of the current one; the current one where nothing changes.

    Raises: Refused: 409 where `base` is not the current revision. Whatever `make` raises.
    """
    with transaction.atomic():
        study = _locked(site, base)
        assert study.current is not None
        before = study.current.read()
        # read anew, so that what `make` built keeps to the schema
        document = core.read_study(make(before).model_dump(mode="json"))
        return study.current if document == before else _advance(study, document, what)


def fade(site: Site, known: KnownSite, base: int, selector: str, opacity: float | None) -> Revision:
    """Return a new revision in which what a selector of the page fades has another opacity, 0 to 1.

    Raises: Refused: 422 where no rule of the site fades text by that selector.
    """
    if selector not in known.index.faded_by:
        raise Refused(422, "no-fading", f"“{selector[:80]}” fades no text on this site. Look at the pages again.")
    what = f"Faded text at {percent(opacity)}" if opacity is not None else "Fading as the page has it"
    return change(site, base, lambda study: with_fade(study, selector, opacity), what)


def undo(site: Site, base: int) -> Revision:
    """Return the revision before the current one, made current; the first stays where it is."""
    with transaction.atomic():
        study = _locked(site, base)
        assert study.current is not None
        if study.current.base is None:
            return study.current
        return _move(study, study.current.base)


def redo(site: Site, base: int) -> Revision:
    """Return the newest revision made from the current one, made current; the last stays where it is."""
    with transaction.atomic():
        study = _locked(site, base)
        assert study.current is not None
        following = study.current.next.order_by("-number").first()
        return study.current if following is None else _move(study, following)


def can_redo(revision: Revision) -> bool:
    """Return whether a revision was made from this one."""
    return revision.next.exists()


def _locked(site: Site, base: int) -> Study:
    """Return the study inside a write transaction, which SQLite gives to one writer at a time."""
    study = study_of(site)
    assert study.current is not None
    if study.current.number != base:
        raise Refused(
            409,
            "stale",
            "This site's colours were changed in another window. Use the newer ones, or keep yours.",
            revision=study.current.number,
        )
    return study


def _advance(study: Study, document: core.Study, what: str) -> Revision:
    last = study.revisions.aggregate(last=Max("number"))["last"]
    revision = Revision.objects.create(
        study=study, number=last + 1, base=study.current, document=document.model_dump(mode="json"), what=what[:160]
    )
    return _move(study, revision)


def _move(study: Study, revision: Revision) -> Revision:
    study.current = revision
    study.save(update_fields=["current"])
    return revision


def _in_words(document: core.Study, values: Mapping[str, str]) -> str:
    changes = [f"{document.role(name).label} to {document.role(name).value}" for name in values]
    return ", ".join(changes)

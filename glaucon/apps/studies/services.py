"""Writes of studies: new revisions, undo, redo. What a write was worked out from is a revision; a stale one is refused.

Nothing is computed in here: a document comes ready, the base is compared, the row is written, in one short transaction.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from glaucon.apps.errors import Refused
from glaucon.apps.sites.models import Site
from glaucon.apps.studies.models import Revision, Study
from glaucon.core.study import study as core

MOST_STUDIES = 60
_MOST_TOLD = 20  # of what was done meanwhile


class Base(NamedTuple):
    """A revision as it is named outside: the study's number, and the revision's in it."""

    study: int
    revision: int


def base_of(revision: Revision) -> Base:
    """Return how a revision is named outside."""
    return Base(revision.study_id, revision.number)


def start_study(site: Site, document: core.Study) -> Study:
    """Return a new study of a site, open, with its first revision."""
    with transaction.atomic():
        study = add_study(site, document, "Original")
        open_study(study)
    return study


def add_study(site: Site, document: core.Study, what: str) -> Study:
    """Return one more study of a site with its first revision; the one that is open stays open.

    Raises: Refused: 409: the site has too many.
    """
    with transaction.atomic():
        if site.studies.filter(deleted=None).count() >= MOST_STUDIES:
            said = f"A site can have {MOST_STUDIES} studies. Delete one that you no longer need."
            raise Refused(409, "too-many", said)
        study = Study.objects.create(site=site, name=free_name(site, document.name))
        first = Revision.objects.create(study=study, number=1, document=document.model_dump(mode="json"), what=what)
        study.current = first
        study.save(update_fields=["current"])
    return study


def free_name(site: Site, name: str) -> str:
    """Return a name that no other study of a site has: itself, else with the first number that is free."""
    taken = {one.lower() for one in site.studies.filter(deleted=None).values_list("name", flat=True)}
    tried = (name, *(f"{name[:75].rstrip()} {number}" for number in range(2, 1000)))
    return next(one for one in tried if one.lower() not in taken)


def open_study(study: Study) -> None:
    """Make a study the one that is worked on. Raises: Refused: it is deleted."""
    with transaction.atomic():
        if Study.objects.filter(pk=study.pk).exclude(deleted=None).exists():
            raise Refused(409, "deleted", f"“{study.name}” is deleted. Restore it first.")
        Study.objects.filter(site=study.site_id, is_open=True).update(is_open=False)
        study.is_open = True
        study.save(update_fields=["is_open"])


def rename_study(study: Study, name: str) -> None:
    """Call a study otherwise. Raises: Refused: the name says nothing."""
    name = " ".join(name.split())[:80]
    if not name:
        raise Refused(422, "no-name", "A study needs a name. Type what it is, such as “Autumn, dark”.")
    others = Study.objects.filter(site=study.site_id, deleted=None, name__iexact=name).exclude(pk=study.pk)
    if others.exists():
        raise Refused(409, "taken", f"Another study is called “{name}” already. Give this one another name.")
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


def study_of(site: Site) -> Study:
    """Return the study the owner works on."""
    study: Study = site.studies.select_related("current").get(is_open=True)
    return study


def current_of(site: Site) -> Revision:
    """Return the revision the owner stands on."""
    revision = study_of(site).current
    assert revision is not None
    return revision


def current_at(site: Site, base: Base) -> Revision:
    """Return the revision the owner stands on. Raises: Refused: 409 where `base` names another one."""
    study = study_of(site)
    assert study.current is not None
    if base_of(study.current) != base:
        raise _stale(study, base)
    return study.current


def _stale(study: Study, base: Base) -> Refused:
    """Return the refusal of what was worked out from another revision, with what is open now and was done since."""
    assert study.current is not None
    if study.pk != base.study:
        said = f"Another study is open now: “{study.name}”. Nothing was changed. Look at it, then do this again."
        since = Revision.objects.none()
    else:
        said = "This site's colours were changed in another window. Use the newer ones, or keep yours."
        since = study.revisions.filter(number__gt=base.revision).order_by("-number")[:_MOST_TOLD]
    return Refused(
        409, "stale", said, base=base_of(study.current)._asdict(), study=study.name,
        since=[{"what": one.what, "touches": one.touches} for one in since],
    )  # fmt: skip


def write(site: Site, base: Base, document: core.Study, what: str, touches: Iterable[str] = ()) -> Revision:
    """Return a new revision of the open study, made from `base`.

    Raises: Refused: 409 where `base` is not the current revision of the open study.
    """
    dumped = document.model_dump(mode="json")
    with transaction.atomic():
        before = current_at(site, base)
        study = before.study
        last = study.revisions.aggregate(last=Max("number"))["last"]
        revision = Revision.objects.create(
            study=study, number=last + 1, base=before, document=dumped, what=what[:160],
            touches=sorted(touches)[:_MOST_TOLD * 20],
        )  # fmt: skip
        return _move(study, revision)


def before_of(revision: Revision) -> Revision:
    """Return the revision before one, which undo goes to; the first stays where it is."""
    return revision.base or revision


def after_of(revision: Revision) -> Revision:
    """Return the newest revision made from one, which redo goes to; the last stays where it is."""
    return revision.next.order_by("-number").first() or revision


def move(site: Site, base: Base, to: Revision) -> Revision:
    """Return a revision of the open study, made current. Raises: Refused: 409 where `base` is not current."""
    with transaction.atomic():
        return _move(current_at(site, base).study, to)


def can_redo(revision: Revision) -> bool:
    """Return whether a revision was made from this one."""
    return revision.next.exists()


def replace_documents(site: Site, documents: Mapping[Base, core.Study], what: str) -> bool:
    """Give all studies of a site new revisions, each made from the one named; False, and nothing, where one has moved.

    They start afresh: undoing beyond them would lead to places that the site's files no longer have. Called within the
    transaction that replaces the files.
    """
    studies = list(site.studies.select_related("current"))
    if {base_of(one.current) for one in studies if one.current is not None} != set(documents):
        return False
    for study in studies:
        assert study.current is not None
        last = study.revisions.aggregate(last=Max("number"))["last"]
        dumped = documents[base_of(study.current)].model_dump(mode="json")
        _move(study, Revision.objects.create(study=study, number=last + 1, document=dumped, what=what))
    return True


def _move(study: Study, revision: Revision) -> Revision:
    study.current = revision
    study.save(update_fields=["current"])
    return revision

"""Releasing a study, now or at a time, and taking a release back; all or nothing."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import Max, Q
from django.utils import timezone

from glaucon.apps.accounts.limits import limits_of
from glaucon.apps.errors import Refused
from glaucon.apps.releases.models import Download, Release, ReleaseFile
from glaucon.apps.sites.backdrops import backdrops_for
from glaucon.apps.sites.blobs import put_blob
from glaucon.apps.sites.layouts import drop_layouts, folder_name
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.room import refuse_without_room
from glaucon.apps.sites.surveys import files_of, known_of
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.services import Base, current_at, current_of
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.study import study as core

_LONGEST = timedelta(minutes=2)
_FARTHEST = timedelta(days=366)


@contextlib.contextmanager
def _sole_release(site: Site) -> Iterator[None]:
    """Hold a site's releasing mark; a second release while one runs is refused."""
    now = timezone.now()
    # a mark that old is of a process that was killed
    is_free = Q(is_releasing=False) | Q(releasing_since=None) | Q(releasing_since__lt=now - _LONGEST)
    if not Site.objects.filter(is_free, pk=site.pk).update(is_releasing=True, releasing_since=now):
        raise Refused(409, "releasing", "This site is being released just now. Wait a moment and look again.")
    try:
        yield
    finally:
        Site.objects.filter(pk=site.pk).update(is_releasing=False)


@dataclass(frozen=True, slots=True)
class Given:
    """Details of a release: its name, the time it goes live, and the counts of its reading.

    `statement` is a page for the site's visitors, None for none.
    """

    name: str = ""
    due: datetime | None = None
    texts: int = 0
    hard: int = 0
    unsure: int = 0
    let_through: Sequence[Mapping[str, object]] = ()
    statement: bytes | None = None


def release(site: Site, base: Base, live_number: int | None, given: Given) -> Release:
    """Return the release of the current revision, live, or waiting for its time.

    `base` and `live_number` are the revision and the live release that its plan was made from.
    Raises: Refused: 409 where either is another by now, or while another release runs; 422 for a time that is past.
    """
    if given.due is not None and not timezone.now() < given.due < timezone.now() + _FARTHEST:
        raise Refused(422, "due", "A release can wait for a time from now on, and for a year at most. Choose another.")
    with _sole_release(site):
        blobs, stylesheet, added = _released_blobs(site, current_at(site, base).read())
        page = _free_path(blobs) if given.statement is not None else ""
        if given.statement is not None:
            blobs[page] = put_blob(given.statement)
            added += len(given.statement)
        refuse_without_room(site.owner, added)
        with transaction.atomic():
            current = current_at(site, base)
            _hold_live(site, live_number)
            _keep_original(site)
            made = _make(site, current, blobs, stylesheet, given, page)
            Release.objects.filter(pk=made.pk).update(added_bytes=added)
            _thin(site)
            return made if made.is_waiting else _put_live(site, made)


def _free_path(blobs: Mapping[str, str]) -> str:
    """Return where a statement goes among a site's files: no page of the site's own is written over."""
    tried = ("readability.html", *(f"readability-{number}.html" for number in range(2, 1000)))
    return next(path for path in tried if path not in blobs)


def _hold_live(site: Site, number: int | None) -> None:
    """Raise Refused: 409 where another release is live than the one that was seen."""
    live = live_release(site)
    if (live.number if live is not None else None) != number:
        said = "Another release went live in another window. Look at what is live now, then do this again."
        raise Refused(409, "stale", said, live=live.number if live is not None else None)


def _thin(site: Site) -> None:
    """Remove the oldest releases beyond what is kept: not the original, the live one, one named or one that waits."""
    kept = site.releases.exclude(number=0)
    spare = kept.filter(is_live=False, name="").exclude(due__isnull=False, live_since=None)
    for one in spare.order_by("number")[: max(0, kept.count() - limits_of(site.owner).releases)]:
        one.files.all().delete()
        one.delete()


def _released_blobs(site: Site, study: core.Study) -> tuple[dict[str, str], str, int]:
    """Return the blobs of a site as a study has it by path, the palette's sheet, and how many bytes of them are new."""
    survey = known_of(site).survey
    behind = backdrops_for(site, study, survey.regions)
    changed = recolour_site(files_of(site), survey, study, backdrops=behind)
    blobs = dict(site.files.values_list("path", "blob"))
    blobs.update({path: put_blob(data) for path, data in changed.files.items()})
    return blobs, changed.stylesheet, sum(map(len, changed.files.values()))


def _keep_original(site: Site) -> None:
    """Make the site as brought in something to take back to."""
    if not site.releases.filter(number=0).exists():
        first = Release.objects.create(site=site, number=0)
        _add_files(first, dict(site.files.values_list("path", "blob")))


def _make(
    site: Site, revision: Revision, blobs: dict[str, str], stylesheet: str, given: Given, page: str
) -> Release:  # fmt: skip
    last = site.releases.aggregate(last=Max("number"))["last"]
    made = Release.objects.create(
        site=site, number=last + 1, revision=revision, stylesheet=stylesheet, name=tidy_name(given.name), due=given.due,
        texts=given.texts, hard=given.hard, unsure=given.unsure, let_through=list(given.let_through), statement=page,
    )  # fmt: skip
    _add_files(made, blobs)
    return made


def tidy_name(name: str) -> str:
    """Return a name without what no name needs."""
    return " ".join(name.split())[:80]


def rename(site: Site, number: int, name: str) -> None:
    """Call a release otherwise, "" for nothing. Raises: Refused: 404."""
    if not site.releases.filter(number=number).update(name=tidy_name(name)):
        raise _unknown(number)


def call_off(site: Site, number: int) -> None:
    """Take away a release that waits for its time. Raises: Refused: there is none, or it has been live."""
    with transaction.atomic():
        found = site.releases.filter(number=number).first()
        if found is None:
            raise _unknown(number)
        if not found.is_waiting:
            raise Refused(409, "live", f"Release {number} has been live already. Go back to another one instead.")
        found.files.all().delete()
        found.delete()


def put_due_live(site: Site | None = None) -> None:
    """Put live what has waited for its time, of one site or of all."""
    waiting = Release.objects.filter(live_since=None, due__lte=timezone.now()).select_related("site")
    for one in (waiting if site is None else waiting.filter(site=site)).order_by("due", "number"):
        # one that is being released just now has its turn the next time
        with contextlib.suppress(Refused), _sole_release(one.site), transaction.atomic():
            _put_live(one.site, one)


def _add_files(made: Release, blobs: dict[str, str]) -> None:
    ReleaseFile.objects.bulk_create(
        [ReleaseFile(release=made, path=path, blob=blob) for path, blob in sorted(blobs.items())], batch_size=300
    )


def _put_live(site: Site, made: Release) -> Release:
    site.releases.filter(is_live=True).update(is_live=False)
    made.is_live, made.live_since = True, timezone.now()
    made.save(update_fields=["is_live", "live_since"])
    return made


def take_back(site: Site, number: int, live_number: int | None) -> Release:
    """Return an earlier release, live again; `live_number` is the one that was live when it was chosen.

    The study stays as it is. Raises: Refused: 409 where another one is live by now.
    """
    with _sole_release(site), transaction.atomic():
        _hold_live(site, live_number)
        earlier = site.releases.filter(number=number).first()
        if earlier is None:
            raise _unknown(number)
        return _put_live(site, earlier)


def _unknown(number: int) -> Refused:
    return Refused(404, "no-release", f"This site has no release {number}. Choose one from its history.")


def note_download(site: Site) -> None:
    """Note that the open study is what the owner takes home now."""
    current = current_of(site)
    Download.objects.update_or_create(site=site, defaults={"revision": current, "made": timezone.now()})


def download_of(site: Site) -> Download | None:
    """Return what the owner took home last, if anything."""
    found: Download | None = Download.objects.filter(site=site).select_related("revision").first()
    return found


def live_release(site: Site) -> Release | None:
    """Return what is live, if anything."""
    found: Release | None = site.releases.filter(is_live=True).select_related("revision").first()
    return found


def live_study(site: Site) -> core.Study | None:
    """Return the study that is live; None where nothing is, or the site as brought in."""
    live = live_release(site)
    return live.revision.read() if live is not None and live.revision is not None else None


def remove_site(site: Site) -> None:
    """Remove a site with its studies and releases."""
    layouts = folder_name(site)
    with transaction.atomic():
        # in this order, since live and current things protect what they stand on
        ReleaseFile.objects.filter(release__site=site).delete()
        site.releases.all().delete()
        site.studies.update(current=None)
        Revision.objects.filter(study__site=site).update(base=None)
        Revision.objects.filter(study__site=site).delete()
        site.delete()
    drop_layouts(layouts)

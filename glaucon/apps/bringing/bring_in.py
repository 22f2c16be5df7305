"""Bringing a site in, or in again. It is there whole at the end, or everything is as it was."""

from __future__ import annotations

import hashlib
import re
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Sum
from django.utils import timezone

from glaucon.apps.bringing.sources import is_address, read_source
from glaucon.apps.sites.blobs import put_blob
from glaucon.apps.sites.layouts import drop_old_layouts
from glaucon.apps.sites.models import Job, Site, SiteFile
from glaucon.apps.sites.room import refuse_without_room
from glaucon.apps.sites.surveys import known_of, make_survey
from glaucon.apps.studies.services import Base, base_of, replace_documents, start_study
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.carry_over import CarryOver
from glaucon.core.cascade.markup import read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.cascade.tree import parse_document
from glaucon.core.errors import SiteError
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Survey
from glaucon.core.survey.site import Progress, SiteFiles
from glaucon.core.wording import counted, listed, plural

_MOST_TRIES = 3  # to replace a site whose studies change meanwhile
Check = Callable[[], None]


@dataclass(slots=True)
class SiteAsRead:
    """A site as it was read: its files, their blobs by path, its contents' name, its survey and the palette in it.

    `stood` are the blobs of its pages as their scripts made them.
    """

    files: SiteFiles
    blobs: dict[str, str]
    content: str
    known: KnownSite
    stood: dict[str, str]

    def fields(self) -> dict[str, Any]:
        """Return what a site's row says of it."""
        return {
            "content": self.content, "notes": _notes(self.files, self.known.survey), "titles": _titles(self.files),
            "headings": _headings(self.files),
        }  # fmt: skip


def bring_in(job: Job, tell: Progress, check: Check) -> Site:
    """Return the site of a job, read, surveyed and kept; `check` raises where the job is no longer wanted.

    Blobs and surveys of what fails are left to the tidier: others may have taken them up meanwhile.
    Raises: SiteError: it is refused.
    """
    files = read_source(job, tell)
    if not files.pages:
        files.notes.append("There is no HTML page among its files.")
    taken = job.again.files.aggregate(sum=Sum("size"))["sum"] or 0 if job.again is not None else 0
    refuse_without_room(job.owner, sum(map(len, files.files.values())) - taken)
    read = read_in(files, tell)
    return _create(job, read, check) if job.again is None else _replace(job.again, read, check)


def read_in(files: SiteFiles, tell: Progress) -> SiteAsRead:
    """Return a site's files surveyed, its palette found, each content kept."""
    content = content_hash(files)
    known = KnownSite(make_survey(content, files, tell))
    tell("finding the palette", 0, 1)
    known.proposal()
    blobs = {}
    for done, (path, data) in enumerate(sorted(files.files.items())):
        tell("saving files", done, len(files.files))
        blobs[path] = put_blob(data)
    stood = {path: put_blob(html.encode()) for path, html in files.stood.items()}
    tell("finishing", 1, 1)
    return SiteAsRead(files, blobs, content, known, stood)


def _create(job: Job, read: SiteAsRead, check: Check) -> Site:
    files = read.files
    name = _title_of_first(files) or job.name if is_address(job.source) else job.name
    address = job.source if is_address(job.source) else ""
    fields, study = read.fields(), read.known.first_study("First study")
    with transaction.atomic():
        check()
        site = Site.objects.create(
            owner=job.owner, name=name, slug=Site.objects.free_slug(name), origin=files.origin, address=address,
            most_pages=job.most_pages, **fields,
        )  # fmt: skip
        add_files(site, read)
        start_study(site, study)
    return site


def _replace(site: Site, read: SiteAsRead, check: Check) -> Site:
    """Take up what is new; the owner's colours and mapping stay."""
    before = dict(site.files.values_list("path", "blob"))
    site.origin, site.most_pages = read.files.origin or site.origin, read.files.most_pages
    site.brought_again = timezone.now()
    take_up(site, read, files_in_words(before, read.blobs), "Updated from the site", check)
    return site


def take_up(
    site: Site, read: SiteAsRead, said: list[str], what: str, check: Check = lambda: None, anew: bool = False
) -> None:
    """Replace a site's files by those read and carry its studies over; `what` is the label of the new revisions.

    With `anew`, a study that nobody has worked on yet begins with the palette that is found now.
    Raises: SiteError: its studies change all the time.
    """
    survey, fields = known_of(site).survey, read.fields()
    for _ in range(_MOST_TRIES):
        documents, told = _carried_over(site, read, survey, anew) if read.content != site.content else ({}, [])
        with transaction.atomic():
            check()
            if documents and not replace_documents(site, documents, what):
                continue  # a study was changed meanwhile
            for name, value in fields.items():
                setattr(site, name, value)
            site.layout, site.effort, site.changes = "", None, said + told
            site.save()
            site.files.all().delete()
            add_files(site, read)
        drop_old_layouts(site, {key.width for key in read.known.survey.sightings})
        return
    raise SiteError("The site's colours were changed again and again while it was updated. Leave them for a moment.")


def _carried_over(
    site: Site, read: SiteAsRead, before: Survey, anew: bool
) -> tuple[dict[Base, Study], list[str]]:  # fmt: skip
    """Return all studies of a site as they are on its new files, by the revision each is made from; and in sentences
    what that changes among their colours, each told once."""
    act = CarryOver(before=tuple(before.tokens), places=tuple(before.regions))
    there = ReadSite(read.files, known=read.known)
    documents, told = dict[Base, Study](), list[str]()
    for study in site.studies.select_related("current"):
        assert study.current is not None
        document = study.current.read()
        if anew and study.current.number == 1:
            documents[base_of(study.current)] = read.known.first_study(document.name)
            continue
        documents[base_of(study.current)] = act.apply(there, document)
        told += act.told(there, document)
    return documents, list(dict.fromkeys(told)) or ["Its colours are the same as before."]


def add_files(site: Site, read: SiteAsRead) -> None:
    """Write down which files a site has."""
    sizes = {path: len(data) for path, data in read.files.files.items()}
    rows = [
        SiteFile(site=site, path=path, blob=blob, size=sizes[path], stood=read.stood.get(path, ""))
        for path, blob in read.blobs.items()
    ]
    SiteFile.objects.bulk_create(rows, batch_size=200)


def files_in_words(before: dict[str, str], after: dict[str, str]) -> list[str]:
    """Return what came, went and changed among a site's files, in sentences."""
    came = sorted(after.keys() - before.keys())
    went = sorted(before.keys() - after.keys())
    changed = sorted(path for path in after.keys() & before.keys() if after[path] != before[path])
    said = []
    for paths, verb, what in ((came, "is", "new"), (changed, "has", "changed"), (went, "is", "no longer there")):
        for kind, some in _by_kind(paths).items():
            number = len(some)
            said.append(f"{counted(number, kind)} {plural(number, verb)} {what}: {listed(some, 4)}.")
    return said or ["Every file is as it was."]


def _by_kind(paths: list[str]) -> dict[str, list[str]]:
    kinds: dict[str, list[str]] = {"page": [], "stylesheet": [], "other file": []}
    for path in paths:
        lower = path.lower()
        kind = "page" if lower.endswith((".html", ".htm", ".xhtml")) else "other file"
        kinds["stylesheet" if lower.endswith(".css") else kind].append(path)
    return {kind: some for kind, some in kinds.items() if some}


def content_hash(files: SiteFiles) -> str:
    """Return a hash of all files, the snapshots of their pages, and the settings that decide which pages are read."""
    total = hashlib.sha256(f"{files.origin} {files.most_pages if files.pages != files.all_pages else 0}".encode())
    for path, data in sorted(files.files.items()):
        total.update(hashlib.sha256(path.encode()).digest())
        total.update(hashlib.sha256(data).digest())
        if path in files.stood:
            total.update(hashlib.sha256(files.stood[path].encode()).digest())
    return total.hexdigest()


def _notes(files: SiteFiles, survey: Survey) -> list[str]:
    broken = [
        f"{p.file}, line {p.line}: browsers cannot read this part of the stylesheet and skip it."
        for p in survey.problems
    ]
    return [*dict.fromkeys([*files.notes, *survey.notes, *broken])][:80]


def _title_of_first(files: SiteFiles) -> str:
    """Return what the first page calls the site: its title's first part."""
    first = min(files.pages, key=lambda page: (page.count("/"), page != "index.html", page), default="")
    title = page_title(files.files[first]) if first else ""
    return re.split(r"\s[|–—-]\s|:\s", title)[0].strip()[:80]


def _titles(files: SiteFiles) -> dict[str, str]:
    return {page: page_title(files.files[page]) for page in files.pages}


def _headings(files: SiteFiles) -> dict[str, str]:
    """Return each page's first heading, where the page's title does not tell it from others."""
    titles = _titles(files)
    shared = {title for title, count in Counter(titles.values()).items() if count > 1}
    return {page: first_heading(files.files[page]) for page in files.pages if titles[page] in shared}


def first_heading(data: bytes) -> str:
    """Return the words of a page's first heading, or an empty text."""
    document = parse_document(decode_source(data).text)
    heading = next((e for e in document.elements if e.tag in ("h1", "h2", "h3")), None)
    if heading is None:
        return ""
    texts = [heading.own_text, *(inner.own_text for inner in heading.descendants())]
    return " ".join(" ".join(text for text in texts if text).split())[:80]


def page_title(data: bytes) -> str:
    """Return a page's title, or an empty text."""
    markup = read_markup(decode_source(data).text)
    title = next((t for t in markup.tags if t.name == "title" and t.content), None)
    if title is None or title.content is None:
        return ""
    return " ".join(markup.source[slice(*title.content)].split())[:120]

"""Bringing a site in, or in again. It is there whole at the end, or everything is as it was."""

from __future__ import annotations

import hashlib
import re
from collections import Counter
from collections.abc import Callable

from django.db import transaction
from django.utils import timezone

from glaucon.apps.bringing.sources import is_address, read_source
from glaucon.apps.sites.blobs import drop_blobs, put_blob
from glaucon.apps.sites.models import Job, Site, SiteFile
from glaucon.apps.sites.surveys import drop_survey, known_of, make_survey, use_layouts
from glaucon.apps.studies.previews import make_previews
from glaucon.apps.studies.services import carry_over_studies, start_study, study_of
from glaucon.core.cascade.markup import read_markup
from glaucon.core.cascade.text import decode_source
from glaucon.core.cascade.tree import parse_document
from glaucon.core.proposal.entries import Proposal
from glaucon.core.proposal.known import KnownSite
from glaucon.core.survey.model import Survey
from glaucon.core.survey.site import Progress, SiteFiles
from glaucon.core.wording import counted, listed, plural

Check = Callable[[], None]


def bring_in(job: Job, tell: Progress, check: Check) -> Site:
    """Return the site of a job, read, surveyed and kept; `check` raises where the job is no longer wanted.

    Raises: SiteError: it is refused.
    """
    files = read_source(job, tell)
    if not files.pages:
        files.notes.append("There is no HTML page among its files.")
    content = content_hash(files)
    is_new = not Site.objects.filter(content=content).exists()
    made: set[str] = set()
    try:
        survey = make_survey(content, files, tell)
        tell("finding the palette", 0, 1)
        proposal = KnownSite(survey).proposal()
        blobs = {}
        for done, (path, data) in enumerate(sorted(files.files.items())):
            tell("saving files", done, len(files.files))
            blobs[path] = put_blob(data, made)
        tell("finishing", 1, 1)
        with transaction.atomic():
            check()
            if job.again is not None:
                site = _replace(job.again, files, blobs, content, survey, proposal)
            else:
                site = _create(job, files, blobs, content, survey, proposal)
        _ready_for_the_bench(site)
        return site
    except BaseException:
        drop_blobs(made - set(SiteFile.objects.filter(blob__in=made).values_list("blob", flat=True)))
        if is_new and not Site.objects.filter(content=content).exists():
            drop_survey(content)
        raise


def _create(
    job: Job, files: SiteFiles, blobs: dict[str, str], content: str, survey: Survey, proposal: Proposal
) -> Site:
    name = _title_of_first(files) or job.name if is_address(job.source) else job.name
    site = Site.objects.create(
        owner=job.owner,
        name=name,
        slug=Site.objects.free_slug(name),
        content=content,
        notes=_notes(files, survey),
        titles=_titles(files),
        headings=_headings(files),
        origin=files.origin,
        address=job.source if is_address(job.source) else "",
        most_pages=job.most_pages,
    )
    _add_files(site, files, blobs)
    start_study(site, proposal.study(survey, "First study"))
    return site


def _ready_for_the_bench(site: Site) -> None:
    """Make the previews that the bench asks for first, while progress is still shown; use what is measured already."""
    use_layouts(site)
    current = study_of(site).current
    if current is not None:
        make_previews(site, current.read(), known_of(site).survey.pages[:12])


def _replace(
    site: Site, files: SiteFiles, blobs: dict[str, str], content: str, survey: Survey, proposal: Proposal
) -> Site:
    """Take up what is new; the owner's colours and mapping stay."""
    before = dict(site.files.values_list("path", "blob"))
    tokens = known_of(site).survey.tokens
    site.changes = files_in_words(before, blobs)
    if content != site.content:
        site.changes += carry_over_studies(site, tokens, survey, proposal)
    site.layout, site.effort = "", None
    site.content, site.notes, site.titles = content, _notes(files, survey), _titles(files)
    site.headings = _headings(files)
    site.origin = files.origin or site.origin
    site.most_pages = files.most_pages
    site.brought_again = timezone.now()
    site.save()
    site.files.all().delete()
    _add_files(site, files, blobs)
    return site


def _add_files(site: Site, files: SiteFiles, blobs: dict[str, str]) -> None:
    SiteFile.objects.bulk_create(
        [SiteFile(site=site, path=path, blob=blob, size=len(files.files[path])) for path, blob in blobs.items()],
        batch_size=200,
    )


def files_in_words(before: dict[str, str], after: dict[str, str]) -> list[str]:
    """Return what came, went and changed among a site's files, in sentences."""
    came = sorted(after.keys() - before.keys())
    went = sorted(before.keys() - after.keys())
    changed = sorted(path for path in after.keys() & before.keys() if after[path] != before[path])
    said = []
    for paths, verb, what in (
        (came, "is", "new"),
        (changed, "has", "changed"),
        (went, "is", "no longer there"),
    ):
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
    """Return one hash over all paths and contents, and over what decides what is read of them."""
    total = hashlib.sha256(f"{files.origin} {files.most_pages if files.pages != files.all_pages else 0}".encode())
    for path, data in sorted(files.files.items()):
        total.update(hashlib.sha256(path.encode()).digest())
        total.update(hashlib.sha256(data).digest())
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

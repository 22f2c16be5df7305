"""The one route for searches, which answer what would help or show; none writes anything."""

from __future__ import annotations

import hashlib
from threading import Lock
from typing import Any

from cachetools import LRUCache
from django.http import HttpRequest
from ninja import Router

from glaucon.apps.api.schemas.acts import AnswerOut, SearchIn
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.effort import light, searching, trying
from glaucon.apps.sites.surveys import survey_name
from glaucon.apps.studies import services
from glaucon.apps.work.heavy import heavy

router = Router(tags=["study"])
# a screen that is opened again, or in a second window, asks the same of the same study
_answers: LRUCache[tuple[object, ...], Any] = LRUCache(200)
_lock = Lock()


@router.post("/sites/{slug}/searches", response=AnswerOut, operation_id="search")
def search(request: HttpRequest, slug: str, asked: SearchIn) -> Any:
    """Answer a search about the revision it names; one that is not current is refused."""
    return _VIEWS[asked.question.effort](request, slug=slug, asked=asked)


def _found(request: HttpRequest, slug: str, asked: SearchIn) -> Any:
    site, question = own_site(request, slug), asked.question
    revision = services.current_at(site, asked.base.named)
    return question.find(KeptSite(site), revision.read())


@light
def search_light(request: HttpRequest, slug: str, asked: SearchIn) -> Any:
    """Answer what takes milliseconds."""
    return _found(request, slug, asked)


@searching
def search_by_many(request: HttpRequest, slug: str, asked: SearchIn) -> Any:
    """Answer what reads a site many times over; the same question about the same study is answered from memory."""
    site, question = own_site(request, slug), asked.question
    study = services.current_at(site, asked.base.named).read()
    own = site.pk if study.backdrops else None  # their pictures are this site's alone
    said = hashlib.sha256(f"{study.model_dump_json()} {question.model_dump_json()}".encode()).digest()
    key = (own, survey_name(site), question.name(), said)
    with _lock:
        known = _answers.get(key)
    if known is None:
        known = question.find(KeptSite(site), study)
        with _lock:
            _answers[key] = known
    return known


@trying
def search_on_page(request: HttpRequest, slug: str, asked: SearchIn) -> Any:
    """Answer what surveys one page anew."""
    return _found(request, slug, asked)


@heavy
def search_heavy(request: HttpRequest, slug: str, asked: SearchIn) -> Any:
    """Answer what may take seconds."""
    return _found(request, slug, asked)


_VIEWS = {"light": search_light, "many": search_by_many, "page": search_on_page, "heavy": search_heavy}

"""Asking after work that takes longer than a moment."""

from __future__ import annotations

from typing import Literal

from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router, Schema

from glaucon.apps.work import queue
from glaucon.apps.work.heavy import answer_of
from glaucon.apps.work.models import Work

router = Router(tags=["work"])


class WorkOut(Schema):
    """How work stands that has yet to end, sent with 202: its number, and how many pieces of work come first."""

    work: int
    state: Literal["waiting", "running"]
    ahead: int


def _own(request: HttpRequest, number: int) -> Work:
    work: Work | None = Work.objects.filter(owner=request.user, pk=number).first()
    if work is None:
        raise Http404
    return work


@router.get("/work/{number}", response={202: WorkOut}, operation_id="getWork")
def get_work(request: HttpRequest, number: int) -> HttpResponse:
    """Give the answer of the request that began the work, or 202 and how it stands."""
    return answer_of(_own(request, number))


@router.delete("/work/{number}", response={204: None}, operation_id="stopWork")
def stop_work(request: HttpRequest, number: int) -> HttpResponse:
    """End the work; its process is ended with it."""
    queue.cancel(_own(request, number))
    return HttpResponse(status=204)

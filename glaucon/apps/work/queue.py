"""The queue: one heavy thing of a kind at a time for each owner, the longest waiting first.

Reading of sites is never everywhere; what waits for other hosts has places of its own.
"""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from glaucon.apps.accounts.limits import limits_of
from glaucon.apps.accounts.passes import word_of_asker
from glaucon.apps.errors import Refused
from glaucon.apps.work.models import Work

SLOTS = 3
OUTSIDE_SLOTS = 8
_MOST_WAITING = 12
_KEPT = timedelta(hours=1)


def add(
    owner: object, call: str, given: dict[str, Any], is_long: bool = False, is_outside: bool = False
) -> Work:  # fmt: skip
    """Put work in the queue.

    Raises: Refused: 429 where an owner has too much waiting, or has had too much done within the hour.
    """
    of_late = Work.objects.filter(owner=owner, asked__gt=timezone.now() - _KEPT).count()
    if of_late >= limits_of(owner).works_an_hour:
        raise Refused(429, "works", "Glaucon has done as much for you as it does within an hour. Wait a little.")
    open_works = Work.objects.filter(owner=owner, state__in=(Work.State.WAITING, Work.State.RUNNING))
    if open_works.count() >= _MOST_WAITING:
        raise Refused(429, "too-much", f"{_MOST_WAITING} things of yours are waiting already. Wait until one is done.")
    kind = {"is_long": is_long, "is_outside": is_outside}
    return Work.objects.create(owner=owner, call=call, given=given, word=word_of_asker(), **kind)


def add_once(owner: object, call: str, given: dict[str, Any]) -> None:
    """Put work in the queue that is not there, or being done, already. Raises: Refused: as `add` does."""
    open_works = Work.objects.filter(owner=owner, call=call, state__in=(Work.State.WAITING, Work.State.RUNNING))
    if not any(work.given == given for work in open_works):
        add(owner, call, given)


def take_next() -> Work | None:
    """Return the work to be done next, as running; None where nothing may start now."""
    with transaction.atomic():
        running = list(Work.objects.filter(state=Work.State.RUNNING).values_list("owner", "is_long", "is_outside"))
        here = [is_long for _, is_long, is_outside in running if not is_outside]
        for work in Work.objects.filter(state=Work.State.WAITING).order_by("pk"):
            if (work.owner_id, work.is_long, work.is_outside) in running:
                continue
            if work.is_outside and len(running) - len(here) >= OUTSIDE_SLOTS:
                continue
            if not work.is_outside and (len(here) >= SLOTS or (work.is_long and sum(here) >= SLOTS - 1)):
                continue
            if Work.objects.filter(pk=work.pk, state=Work.State.WAITING).update(state=Work.State.RUNNING):
                work.state = Work.State.RUNNING
                return work
    return None


def close(work: Work, status: int, body: str) -> bool:
    """End running work with an answer; False where it was over already."""
    still = Work.objects.filter(pk=work.pk, state=Work.State.RUNNING)
    return bool(still.update(state=Work.State.DONE, status=status, body=body))


def cancel(work: Work) -> None:
    """Cancel work that has yet to end; its process is ended by whoever watches it."""
    open_work = Work.objects.filter(pk=work.pk, state__in=(Work.State.WAITING, Work.State.RUNNING))
    open_work.update(state=Work.State.CANCELLED)


def ahead_of(work: Work) -> int:
    """Return how many of all owners' pieces of work come first."""
    return int(Work.objects.filter(state=Work.State.WAITING, pk__lt=work.pk).count())


def recover() -> None:
    """Reset work that a killed process left running, and delete work that ended long ago."""
    Work.objects.filter(state__in=(Work.State.WAITING, Work.State.RUNNING)).update(state=Work.State.CANCELLED)
    sweep()


def sweep() -> None:
    """Remove what nobody has asked for within the hour."""
    Work.objects.filter(asked__lt=timezone.now() - _KEPT).exclude(
        state__in=(Work.State.WAITING, Work.State.RUNNING)
    ).delete()

"""What is done once an hour: deleted sites whose time is over, sign-ins that have ended, revisions of long ago."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime, timedelta

from django.core.management import call_command
from django.db import connection, transaction
from django.db.models import Q
from django.utils import timezone

from glaucon.apps.accounts.passes import sweep_passes
from glaucon.apps.bringing.shelf import remove_what_is_due
from glaucon.apps.studies.models import Revision, Study

LAST = 200  # revisions of a study that all stay
_HOURLY = timedelta(days=7)  # older than the last ones: one an hour for so long, then one a day
_AT_ONCE = 400


def sweep() -> None:
    """Do what is due now and then."""
    remove_what_is_due()
    call_command("clearsessions", verbosity=0)
    sweep_passes()
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM glaucon_cache WHERE expires < %s", [timezone.now().replace(tzinfo=None)])
    for study in Study.objects.all():
        thin(study)


def thin(study: Study) -> int:
    """Remove revisions older than a study's last 200, but for one an hour, later one a day; return how many.

    What was released or downloaded, or is current, stays; undo leads past what is gone to what was before it.
    """
    rows = list(study.revisions.order_by("number").values_list("pk", "made", "base"))
    old = rows[: max(0, len(rows) - LAST)]
    goes_out = Q(releases__isnull=False) | Q(downloads__isnull=False)
    released = set(study.revisions.filter(goes_out).values_list("pk", flat=True))
    kept = released | _last_of_each(old) | {study.current_id, rows[0][0] if rows else None}
    gone = [pk for pk, _, _ in old if pk not in kept]
    if not gone:
        return 0
    base_of = {pk: base for pk, _, base in rows}
    missing = set(gone)
    with transaction.atomic():
        for pk, _, base in rows:
            if pk in missing or base not in missing:
                continue
            while base in missing:
                base = base_of[base]
            Revision.objects.filter(pk=pk).update(base=base)
        Revision.objects.filter(pk__in=gone).update(base=None)
        for start in range(0, len(gone), _AT_ONCE):
            Revision.objects.filter(pk__in=gone[start : start + _AT_ONCE]).delete()
    return len(gone)


def _last_of_each(rows: Iterable[tuple[int, datetime, int | None]]) -> set[int]:
    """Return the last revision of each hour, and of those long ago of each day."""
    now, found = timezone.now(), dict[str, int]()
    for pk, made, _ in rows:
        form = "%Y-%m-%d %H" if now - made < _HOURLY else "%Y-%m-%d"
        found[made.strftime(form)] = pk
    return set(found.values())

"""How much room an owner has taken of what they may have, and refusals before it is more."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Sum

from glaucon.apps.accounts.limits import limits_of
from glaucon.apps.errors import Refused
from glaucon.apps.sites.models import Site, SiteFile, SitePicture
from glaucon.core.wording import counted

_MB = 1_000_000


@dataclass(frozen=True, slots=True)
class Taken:
    """How many sites an owner has, and how many bytes all take, deleted ones too: files, pictures, releases."""

    sites: int
    bytes: int


def taken_by(owner: object) -> Taken:
    """Return what an owner has taken."""
    sites = Site.objects.filter(owner=owner)
    sums = (
        SiteFile.objects.filter(site__in=sites).aggregate(sum=Sum("size")),
        SitePicture.objects.filter(site__in=sites).aggregate(sum=Sum("size")),
        sites.aggregate(sum=Sum("releases__added_bytes")),
    )
    return Taken(Site.objects.of(owner).count(), sum(one["sum"] or 0 for one in sums))


def refuse_another_site(owner: object) -> None:
    """Raise Refused: 409 where an owner has as many sites as they may."""
    most = limits_of(owner).sites
    if Site.objects.of(owner).count() >= most:
        said = f"You have {counted(most, 'site')}, the most there may be. Delete one that you no longer need."
        raise Refused(409, "too-many-sites", said)


def refuse_without_room(owner: object, more: int) -> None:
    """Raise Refused: 409 where so many bytes more would be too many."""
    most, taken = limits_of(owner).mb, taken_by(owner).bytes
    if more > 0 and taken + more > most * _MB:
        left = max(0, most * _MB - taken) // _MB
        said = (
            f"This takes {-(-more // _MB)} MB, and you have {left} of {most} MB left. Delete what you no longer need."
        )
        raise Refused(409, "no-room", said)

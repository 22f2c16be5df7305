"""How much an owner may have: as the operator has set it for all, or for one."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

from django.conf import settings

from glaucon.apps.accounts.models import Quota


@dataclass(frozen=True, slots=True)
class Limits:
    """At most so many sites, so many MB in all of them, releases kept of a site, and heavy works an hour."""

    sites: int
    mb: int
    releases: int
    works_an_hour: int


def limits_of(owner: object) -> Limits:
    """Return the limits of an owner."""
    for_all = Limits(
        settings.GLAUCON_MOST_SITES, settings.GLAUCON_MOST_MB, settings.GLAUCON_MOST_RELEASES,
        settings.GLAUCON_MOST_WORKS_AN_HOUR,
    )  # fmt: skip
    own = Quota.objects.filter(owner=owner).first()
    if own is None:
        return for_all
    said = {one.name: getattr(own, one.name) for one in fields(Limits)}
    return replace(for_all, **{name: value for name, value in said.items() if value is not None})

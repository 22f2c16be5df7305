"""The coat that is plain: nothing but the page's own colours, which it follows."""

from __future__ import annotations

from glaucon.core.study.study import Study
from glaucon.core.study.ties import Tie

PLAIN = ""  # how a choice names it among the ids of coats


def plain_coat(study: Study) -> str | None:
    """Return the coat that is plain, if a section needed one."""
    return next((coat.id for coat in study.coats if not coat.came and _is_plain(study, coat.id)), None)


def _is_plain(study: Study, coat: str) -> bool:
    """Return whether a coat says nothing but what the page's own roles say."""
    own = study.roles_of(coat)
    sites = [study.first(role.kind, None) for role in own]
    return bool(own) and all(
        role.tier == "unseen" and site is not None and role.tie == Tie(to=site.id)
        for role, site in zip(own, sites, strict=True)
    )

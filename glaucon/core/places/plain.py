"""Plain: the page's own colours, also for a section that came with others.

A section that came with the page's own colours is plain where it is given nothing. Any other is made plain by a coat
whose colours are tied to the page's own, so that it follows them from then on.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from glaucon.core.places.worn import came_with
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study import coats
from glaucon.core.study.editing import free_id
from glaucon.core.study.roles import Coat, Kind, Role
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.study.ties import Tie

PLAIN = ""  # how a choice names it among the ids of coats
_KINDS: tuple[Kind, ...] = ("background", "panel")


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


def wear_by_turns(
    known: KnownSite, study: Study, places: Sequence[Where], given: Sequence[str | None], values: Mapping[str, str]
) -> Study:  # fmt: skip
    """Return the study with places wearing some coats by turns, in order, each with some values of its own.

    `PLAIN` gives a place the page's own colours, None nothing: it is as it came.

    Raises: StudyError: no such coat.
    """
    for number, coat in enumerate(given):
        for place in places[number :: len(given)]:
            worn = coat
            if coat == PLAIN:
                worn = None
                if place.region is not None and came_with(known, study, place) is not None:
                    study, worn = _with_plain(study)
            study = coats.wear(study, [place], worn, values)
    return study


def _with_plain(study: Study) -> tuple[Study, str | None]:
    """Return the study with a coat that is plain, and its id; None where the page has no background to take."""
    known = plain_coat(study)
    sites = [site for kind in _KINDS if (site := study.first(kind, None)) is not None]
    if known is not None or not sites or sites[0].kind != "background":
        return study, known
    id_ = free_id((coat.id for coat in study.coats), "plain")
    taken = [role.id for role in study.roles]
    roles = [
        Role(id=free_id(taken, f"{id_}.{site.kind}"), kind=site.kind, coat=id_, tier="unseen",
             label=f"Plain {site.label}"[:80], value=site.value, found=site.value, tie=Tie(to=site.id),
             reason="As the page has it.")
        for site in sites
    ]  # fmt: skip
    coat = Coat(id=id_, label="Plain", came=False)
    return study.model_copy(update={"coats": (*study.coats, coat), "roles": (*study.roles, *roles)}), id_

"""Plain: the page's own colours, also for a section that came with others.

A section that came with the page's own colours is plain where it is given nothing. Any other is made plain by a coat
whose colours are tied to the page's own, so that it follows them from then on.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.scopes.coats_worn import came_plain
from glaucon.core.scopes.values import coat_values
from glaucon.core.study import coats
from glaucon.core.study.editing import free_id
from glaucon.core.study.plain import PLAIN, plain_coat
from glaucon.core.study.roles import Coat, Kind, Role
from glaucon.core.study.scopes import Use, Where
from glaucon.core.study.study import Study
from glaucon.core.study.ties import Tie

_ON_PAGE: tuple[Kind, ...] = ("background", "text", "heading", "link")
_KINDS: tuple[Kind, ...] = ("background", "panel")


def plain_values(known: KnownSite, study: Study) -> dict[Use, Colour]:
    """Return what plain places show: the page's own colours, readable on it where the page has none such on it."""
    tried, coat = _with_plain(study)
    page = study.first("background", None)
    values = coat_values(tried, coat) if coat is not None else {}
    reading = known.read(study)
    for kind in _ON_PAGE:
        role = study.first(kind, None)
        on_page = role is not None and page is not None and any(
            pair.background.role == page.id and pair.text.role == role.id for pair in reading.pairs_of(role.id)
        )  # fmt: skip
        if role is not None and (on_page or (kind, "rest") not in values):
            values[kind, "rest"] = role.colour
    return values


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
                if place.region is not None and not came_plain(known, study, place):
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

"""The close-up: one element of a page, how far a change there reaches, its colours, where they come from."""

from __future__ import annotations

from urllib.parse import quote

from django.http import HttpRequest
from ninja import Query, Router

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.parts import (
    AliveIn,
    AliveOut,
    BecauseOut,
    InStateOut,
    PartColourOut,
    PartOut,
    PartQuery,
    ReachOut,
    SectionNameOut,
    StepOut,
)
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.surveys import known_for, tracer_for
from glaucon.apps.studies import services
from glaucon.apps.studies.running import dressed, running_root
from glaucon.apps.work.heavy import heavy
from glaucon.core.cascade.tree import Element
from glaucon.core.known.site import KnownSite
from glaucon.core.places.because import Because, Explainer
from glaucon.core.places.part_colours import PartColour, colours_in
from glaucon.core.places.part_names import part_name, steps_to
from glaucon.core.places.widening import Lineage, WiderReach, reaches_of
from glaucon.core.scopes.reading import place_name
from glaucon.core.study.scopes import is_way
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

router = Router(tags=["sections"])


@router.get("/sites/{slug}/part", response=PartOut, operation_id="getPart")
@light
def get_part(request: HttpRequest, slug: str, asked: Query[PartQuery]) -> PartOut:
    site = own_site(request, slug)
    revision = services.current_of(site)
    study = revision.read()
    known = known_for(site, study)
    if asked.page not in known.survey.pages:
        raise Refused(422, "no-page", f"The page “{asked.page[:80]}” is not there any more. Choose another page.")
    tracer = tracer_for(site, study)
    element = tracer.element(asked.page, asked.path[:2000], asked.opened)
    if element is None:
        raise Refused(422, "no-part", "That part is not on the page any more. Click another one.")
    lineage = tracer.lineage(asked.page, element, known.survey.regions)
    width = _width(known, asked.width)
    trace = tracer.trace(asked.page, element, ContextKey(width, asked.state), asked.opened)
    explainer = Explainer(known, study, asked.page, lineage)
    reading = known.read(study)
    return PartOut(
        base=RevisionName.of(revision),
        path=element.path(),
        label=part_name(element, lineage),
        steps=[StepOut(**step._asdict()) for step in steps_to(element, lineage, asked.page)],
        reaches=[
            _reach(reach, known, study)
            for reach in reaches_of(known, study, asked.page, lineage, width, _alone(element, lineage), reading)
        ],
        sections=[
            SectionNameOut(key=r.key, label=r.label)
            for r in known.survey.regions
            if r.is_section and asked.page in r.pages
        ],
        colours=[_colour(row) for row in colours_in(known, study, reading, asked.page, element.path(), width)],
        because=[_because(one) for one in (explainer.text(trace), explainer.background(trace))],
    )


@router.post("/sites/{slug}/alive", response=AliveOut, operation_id="makeAlive")
@heavy
def make_alive(request: HttpRequest, slug: str, asked: AliveIn) -> AliveOut:
    """Make the site as a release of the open study would have it, and say where a page of it runs with its scripts."""
    site = own_site(request, slug)
    if not site.files.filter(path=asked.page).exists():
        raise Refused(422, "no-page", f"The page “{asked.page[:80]}” is not there any more. Choose another page.")
    return AliveOut(address=running_root(site, dressed(site, services.current_of(site))) + quote(asked.page))


def _alone(element: Element, lineage: Lineage) -> tuple[Element, str] | None:
    """Return an element with what it is called, None where no selector can be made of its way down."""
    return (element, part_name(element, lineage)) if is_way(element.path()) else None


def _width(known: KnownSite, wanted: int) -> int:
    """Return the width that was read that is nearest to one."""
    return min({key.width for key in known.survey.sightings}, key=lambda width: abs(width - wanted))


def _reach(reach: WiderReach, known: KnownSite, study: Study) -> ReachOut:
    now = next((scope for scope in reversed(study.worn) if scope.where == reach.where), None)
    return ReachOut(
        what=reach.what, label=reach.label, count=reach.count, where=reach.where, selector=reach.selector,
        elements=reach.elements, texts=reach.texts, pages=list(reach.pages), also=list(reach.also),
        coat=now.coat if now else None, own=dict(now.set) if now else {},
        like=place_name(known.survey, now.like.where) if now is not None and now.like is not None else "",
    )  # fmt: skip


def _colour(row: PartColour) -> PartColourOut:
    return PartColourOut(
        kind=row.kind, label=row.label, role=row.role, texts=row.texts, lowest=row.lowest, verdict=row.verdict,
        worst=row.worst,
        states=[
            InStateOut(
                state=s.state, colour=s.colour, same=s.is_same, role=s.role, use=s.use, apart=list(s.apart)
            )
            for s in row.states
        ],
    )  # fmt: skip


def _because(one: Because) -> BecauseOut:
    return BecauseOut(of=one.of, role=one.role, says=one.says, notes=one.notes, change=one.change)

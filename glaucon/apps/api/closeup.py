"""The close-up: one element of a page, how far a change there reaches, its colours, where they come from."""

from __future__ import annotations

from typing import Literal

from django.http import HttpRequest
from ninja import Query, Router, Schema

from glaucon.apps.api.answers import current
from glaucon.apps.api.schemas.study import WhereIn
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.effort import light
from glaucon.apps.sites.surveys import known_for, tracer_for
from glaucon.core.cascade.tree import Element
from glaucon.core.places.because import Because, Explainer
from glaucon.core.places.part_colours import PartColour, colours_in
from glaucon.core.places.widening import Lineage, Reach, reaches_of
from glaucon.core.proposal.dressing import place_name
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey

router = Router(tags=["sections"])
State = Literal["rest", "hover", "focus", "active", "visited"]


class StepOut(Schema):
    """One step of the way to an element: the site, the page, a section, a part, the element itself."""

    label: str
    path: str


class ReachOut(Schema):
    """How far a change may go: into the region or page called `label`; `where` is null for the whole site.

    `own` and `coat` are what is set there now.
    """

    what: str
    label: str
    count: str
    where: WhereIn | None
    selector: str
    elements: int
    texts: int
    pages: list[str]
    coat: str | None
    own: dict[str, str]
    like: str


class InStateOut(Schema):
    """What a colour is in one state; `role` gives it there, `use` is what a scope calls that."""

    state: str
    colour: str
    same: bool
    role: str | None
    use: str | None


class PartColourOut(Schema):
    """One colour in the element, in its states; `lowest` is the lowest contrast in any, `worst` the state of that."""

    kind: str
    label: str
    role: str | None
    texts: int
    states: list[InStateOut]
    lowest: float | None
    verdict: str
    worst: str


class BecauseOut(Schema):
    """Where the element's text or background has its colour from, and the role that changes it."""

    of: str
    role: str | None
    says: str
    notes: list[str]
    change: str | None
    set_here: bool


class SectionNameOut(Schema):
    """A section of the page, whose colours a part may take."""

    key: str
    label: str


class PartOut(Schema):
    """An element close up; `path` is the element's own, which may be further out than the one asked for."""

    revision: int
    path: str
    label: str
    steps: list[StepOut]
    reaches: list[ReachOut]
    sections: list[SectionNameOut]
    colours: list[PartColourOut]
    because: list[BecauseOut]


class PartQuery(Schema):
    """Which element of which page, at which width, in which state."""

    page: str
    path: str
    width: int = 1280
    state: State = "rest"


@router.get("/sites/{slug}/part", response=PartOut, operation_id="getPart")
@light
def get_part(request: HttpRequest, slug: str, asked: Query[PartQuery]) -> PartOut:
    site = own_site(request, slug)
    revision = current(site)
    study = revision.read()
    known = known_for(site, study)
    if asked.page not in known.survey.pages:
        raise Refused(422, "no-page", f"The page “{asked.page[:80]}” is not there any more. Choose another page.")
    tracer = tracer_for(site, study)
    element = tracer.element(asked.page, asked.path[:2000])
    if element is None:
        raise Refused(422, "no-part", "That part is not on the page any more. Click another one.")
    lineage = tracer.lineage(asked.page, element, known.survey.regions)
    width = _width(known, asked.width)
    trace = tracer.trace(asked.page, element, ContextKey(width, asked.state))
    explainer = Explainer(known, study, asked.page, lineage)
    reading = known.read(study)
    return PartOut(
        revision=revision.number,
        path=element.path(),
        label=_label(element, lineage),
        steps=_steps(element, lineage, asked.page),
        reaches=[_reach(reach, known, study) for reach in reaches_of(known, study, asked.page, lineage, width)],
        sections=[
            SectionNameOut(key=r.key, label=r.label)
            for r in known.survey.regions
            if r.is_section and asked.page in r.pages
        ],
        colours=[_colour(row) for row in colours_in(known, study, reading, asked.page, element.path(), width)],
        because=[_because(one) for one in (explainer.text(trace), explainer.background(trace))],
    )


def _width(known: KnownSite, wanted: int) -> int:
    """Return the width that was read that is nearest to one."""
    return min({key.width for key in known.survey.sightings}, key=lambda width: abs(width - wanted))


def _label(element: Element, lineage: Lineage) -> str:
    region = next((region for region, own in reversed(lineage) if own is element), None)
    return region.label if region is not None else _NAMES.get(element.tag, f"<{element.tag}>")


_NAMES = {
    "a": "Link", "p": "Text", "span": "Text", "li": "List item", "h1": "Heading", "h2": "Heading", "h3": "Heading",
    "h4": "Heading", "h5": "Heading", "h6": "Heading", "img": "Picture", "button": "Button", "td": "Cell",
    "th": "Table heading", "div": "Box", "body": "The page", "html": "The page", "label": "Label", "strong": "Text",
    "em": "Text", "ul": "List", "ol": "List", "table": "Table", "input": "Field", "blockquote": "Quote",
}  # fmt: skip


def _steps(element: Element, lineage: Lineage, page: str) -> list[StepOut]:
    steps = [StepOut(label=page, path="html")]
    steps += [StepOut(label=region.label, path=own.path()) for region, own in lineage]
    if steps[-1].path != element.path():
        steps.append(StepOut(label=_label(element, lineage), path=element.path()))
    return steps


def _reach(reach: Reach, known: KnownSite, study: Study) -> ReachOut:
    now = next((scope for scope in reversed(study.worn) if scope.where == reach.where), None)
    return ReachOut(
        what=reach.what, label=reach.label, count=reach.count, where=_where(reach.where), selector=reach.selector,
        elements=reach.elements, texts=reach.texts, pages=list(reach.pages),
        coat=now.coat if now else None, own=dict(now.set) if now else {},
        like=place_name(known.survey, now.like.where) if now is not None and now.like is not None else "",
    )  # fmt: skip


def _where(where: Where | None) -> WhereIn | None:
    return WhereIn(**where.model_dump()) if where is not None else None


def _colour(row: PartColour) -> PartColourOut:
    return PartColourOut(
        kind=row.kind, label=row.label, role=row.role, texts=row.texts, lowest=row.lowest, verdict=row.verdict,
        worst=row.worst,
        states=[
            InStateOut(state=s.state, colour=s.colour, same=s.is_same, role=s.role, use=s.use) for s in row.states
        ],
    )  # fmt: skip


def _because(one: Because) -> BecauseOut:
    return BecauseOut(
        of=one.of, role=one.role, says=one.says, notes=one.notes, change=one.change, set_here=one.is_set_here
    )

"""The owner's own CSS: read, checked as it is typed, saved; and where it wins over the palette."""

from __future__ import annotations

from typing import Literal

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from glaucon.apps.api.answers import current, revision_out
from glaucon.apps.api.schemas.study import RevisionOut
from glaucon.apps.errors import Refused
from glaucon.apps.sites.access import own_site
from glaucon.apps.sites.surveys import known_for, known_of, versions_in
from glaucon.apps.studies import services
from glaucon.apps.work.heavy import heavy
from glaucon.core.places.lost_marks import lost_marks, rule_for
from glaucon.core.places.own_rules import OwnRules, won_by_own
from glaucon.core.study.own_css import own_css, problems_with_palette, with_more_css, with_own_css
from glaucon.core.study.study import Study
from glaucon.core.study.wearing import Property

router = Router(tags=["studies"])
MOST_CSS = 16_000  # letters; the rest of what a study may add is for the fading rules


class CssIn(Schema):
    """Some CSS as typed."""

    css: str = Field(max_length=MOST_CSS)


class CssChangeIn(CssIn):
    """The CSS to be kept, from the revision the writer has seen."""

    base: int


class MarkIn(Schema):
    """A lost picture, by its file and the section it lies in, and the way it is to be brought back."""

    base: int
    kind: Literal["picture", "background", "drawing"] = "picture"
    source: str = Field(max_length=400)
    section: str = Field("", max_length=200)
    way: Literal["other", "plate", "light", "dark"]


class CssProblemOut(Schema):
    """What is wrong with a line; with `stops` nothing of the CSS is applied."""

    line: int
    message: str
    stops: bool


class PalettePropertyOut(Schema):
    """A custom property of the palette that the CSS may read."""

    name: str
    label: str
    colour: str


class OverOut(Schema):
    """A role that the own CSS passes over, in how many texts."""

    label: str
    texts: int


class OwnCssOut(Schema):
    """The own CSS, what is wrong with it, whether it is applied, and where it wins over the palette."""

    revision: int
    css: str
    problems: list[CssProblemOut]
    is_applied: bool
    texts: int
    pages: int
    over: list[OverOut]
    properties: list[PalettePropertyOut]


@router.get("/sites/{slug}/own-css", response=OwnCssOut, operation_id="getOwnCss")
@heavy
def get_own_css(request: HttpRequest, slug: str) -> OwnCssOut:
    site = own_site(request, slug)
    revision = current(site)
    study = revision.read()
    problems = _problems(own_css(study), study)
    plain, own = known_of(site), known_for(site, study)
    won = won_by_own(plain, own, study) if own is not plain else OwnRules()
    labels = study.labels
    return OwnCssOut(
        revision=revision.number, css=own_css(study), problems=problems,
        is_applied=not any(one.stops for one in problems), texts=won.texts, pages=len(won.pages),
        over=[OverOut(label=labels[role], texts=texts) for role, texts in won.over.most_common(8)],
        properties=[
            PalettePropertyOut(name=Property(role.id).name, label=role.label, colour=role.colour.hex())
            for role in study.roles if role.tier != "unseen"
        ],
    )  # fmt: skip


@router.post("/sites/{slug}/own-css", response=RevisionOut, operation_id="saveOwnCss")
@heavy
def save_own_css(request: HttpRequest, slug: str, asked: CssChangeIn) -> RevisionOut:
    """Keep CSS of the owner's own, whether it parses or not; it is applied where it does."""
    site = own_site(request, slug)

    def change(study: Study) -> Study:
        return with_own_css(study, asked.css)

    return revision_out(site, services.change(site, asked.base, change, "Own CSS changed"))


@router.post("/sites/{slug}/own-css/mark", response=RevisionOut, operation_id="bringBackMark")
@heavy
def bring_back_mark(request: HttpRequest, slug: str, asked: MarkIn) -> RevisionOut:
    """Add the rule that makes a lost logo or icon stand out again to the owner's own CSS."""
    site = own_site(request, slug)

    def change(study: Study) -> Study:
        known = known_for(site, study)
        lost = next(
            (
                one for one in lost_marks(known, known_of(site), study, versions_in(site))
                if (one.kind, one.source, one.section) == (asked.kind, asked.source, asked.section)
                and asked.way in one.ways
            ),
            None,
        )  # fmt: skip
        if lost is None:
            raise Refused(422, "not-lost", "This picture is not lost any more. Look at the bench again.")
        return with_more_css(study, [rule_for(known, lost, asked.way)])

    return revision_out(site, services.change(site, asked.base, change, "Picture made to stand out"))


@router.post("/sites/{slug}/own-css/check", response=list[CssProblemOut], operation_id="checkOwnCss")
def check_own_css(request: HttpRequest, slug: str, asked: CssIn) -> list[CssProblemOut]:
    """Return what is wrong with CSS as it is typed; nothing is saved."""
    return _problems(asked.css, current(own_site(request, slug)).read())


def _problems(css: str, study: Study) -> list[CssProblemOut]:
    return [
        CssProblemOut(line=one.line, message=one.message, stops=one.stops)
        for one in problems_with_palette(css, study.roles)
    ]

"""Changes of many colours as documents: as they are given to an act, and as a search tells them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from glaucon.core.acts.act import Answer, ColourText, TokenKey
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.places.wear import UseName
from glaucon.core.colour.in_words import change_in_words
from glaucon.core.colour.value import read_colour
from glaucon.core.exchange.preview import PAGE_ATTRIBUTE, token_property, with_states
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.fixed import painted
from glaucon.core.mending.place_changes import PlaceChange, with_place
from glaucon.core.mending.role_changes import Change
from glaucon.core.scopes.css import dressing_of
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId
from glaucon.core.wording import counted

Values = Annotated[dict[RoleId, ColourText], Field(max_length=400)]


class RolePart(BaseModel):
    """A part of a colour that gets its own value: the keys of its places in the site's files."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    role: RoleId
    where: Annotated[str, Field(max_length=80)] = ""
    colour: ColourText
    tokens: Annotated[tuple[TokenKey, ...], Field(min_length=1, max_length=20_000)]


class PlaceValues(BaseModel):
    """What one place alone is to wear, by use ("link.hover"), beside what it wears already."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    place: Where
    values: Annotated[dict[UseName, ColourText], Field(max_length=80)]


Parts = Annotated[tuple[RolePart, ...], Field(max_length=400)]
PlacesValues = Annotated[tuple[PlaceValues, ...], Field(max_length=700)]


def parts_of(study: Study, parts: Iterable[RolePart]) -> list[Change]:
    """Return parts of roles that are to have colours of their own, as changes of a study.

    Raises: StudyError, ColourError: a role that is not of the study, or no colour.
    """
    return [
        Change(one.role, study.role(one.role).colour, read_colour(one.colour), 0, 0, one.tokens, one.where)
        for one in parts
    ]


def with_place_values(site: SiteAtHand, study: Study, places: Iterable[PlaceValues]) -> Study:
    """Return a study with what some places wear alone. Raises: StudyError: a place that the site does not have."""
    for one in places:
        study = with_place(study, site.hold(one.place), one.values)
    return study


class PlaceTold(Answer):
    """What one place alone is to wear, by use ("link.hover"), and the rules that show it on the previews.

    `beside` belongs to the same change: boxes in it that keep the colour they have, further texts that get the same.
    """

    place: Where
    values: dict[str, str]
    css: str
    beside: list[PlaceValues]


class ChangeTold(Answer):
    """One change: a colour of the palette, with `tokens` a part of one, or `there` what one place alone wears.

    `wear` are the custom properties that show a part on the previews; `how` says what happens to the colour.
    """

    role: str
    label: str
    where: str
    before: str
    after: str
    how: str
    texts: int
    fixes: int
    tokens: list[str]
    wear: dict[str, str]
    there: PlaceTold | None = None


def change_told(known: KnownSite, study: Study, one: Change) -> ChangeTold:
    """Return a change of a role or of a part of it, as it is told."""
    worn = painted(known, study, one) if one.tokens else {}
    return ChangeTold(
        role=one.role, label=study.role(one.role).label, where=one.where, before=one.before.hex(),
        after=one.after.hex(), how=change_in_words(one.before, one.after), texts=one.texts, fixes=one.fixes,
        tokens=list(one.tokens),
        wear={token_property(known.survey.tokens[number]): text for number, text in worn.items()},
    )  # fmt: skip


def place_told(known: KnownSite, study: Study, one: PlaceChange) -> ChangeTold:
    """Return a change of one place alone, as it is told."""
    places = {one.where, *one.also, *(inner.where for inner in one.kept)}
    alone = study.model_copy(update={"worn": tuple(s for s in study.worn if s.where in places)})
    rules = dressing_of(one.made_in(alone), known.survey)
    beside = [(inner.where, inner.colour) for inner in one.kept] + [(where, one.after) for where in one.also]
    there = PlaceTold(
        place=one.where, values={one.use: one.after.hex()},
        css=with_states(rules.for_previews(known.survey.pages, PAGE_ATTRIBUTE)),
        beside=[PlaceValues(place=where, values={one.use: colour.hex()}) for where, colour in beside],
    )  # fmt: skip
    return ChangeTold(
        role=one.role, label=study.role(one.role).label, where=_place_in_words(one), before=one.before.hex(),
        after=one.after.hex(), how=change_in_words(one.before, one.after), texts=one.texts, fixes=one.fixes, tokens=[],
        wear={}, there=there,
    )  # fmt: skip


def _place_in_words(one: PlaceChange) -> str:
    if one.where.at is not None:
        return f"of {one.place}" + (f" and {len(one.also)} more" if one.also else "")
    if one.also:
        return f"in {one.place} and {counted(len(one.also), 'more place')}"
    boxes = ", ".join(dict.fromkeys(inner.place for inner in one.kept))
    return f"in {one.place}, but not in {boxes}" if boxes else f"in {one.place}"

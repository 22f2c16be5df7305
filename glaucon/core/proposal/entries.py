"""Roles in the making, and the palette they become."""

from __future__ import annotations

from dataclasses import dataclass, field

from glaucon.core.proposal.grouping import ColourGroup, Surface
from glaucon.core.study.roles import Coat, Kind, Role, StateName, Tier
from glaucon.core.study.study import Study, token_key
from glaucon.core.survey.model import Survey


@dataclass(slots=True, eq=False)
class Entry:
    """A role in the making: a group with what it is for."""

    group: ColourGroup
    kind: Kind
    reason: str
    coat: Surface | None = None
    state: StateName = "rest"
    tier: Tier = "detail"
    base: Entry | None = None  # of a state: the role it belongs to
    follows: Entry | None = None  # the site's own colour, which it has too
    home: Surface | None = None  # of text on a fill that is no coat
    is_chief: bool = False  # the one that its kind is called after, on the site or in its coat
    label: str = ""
    id: str = ""


@dataclass(slots=True)
class Proposal:
    """Roles and coats with the tokens that come under each role."""

    roles: list[Role] = field(default_factory=list)
    coats: list[Coat] = field(default_factory=list)
    tokens: dict[str, list[int]] = field(default_factory=dict)
    unmapped: list[int] = field(default_factory=list)

    def study(self, survey: Survey, name: str) -> Study:
        """Return the study that leaves every colour as it came."""
        return Study(name=name, roles=tuple(self.roles), coats=tuple(self.coats), mapping=self.mapping(survey))

    def mapping(self, survey: Survey) -> dict[str, str]:
        """Return the role of each token by the token's key."""
        return {
            key: role
            for role, numbers in self.tokens.items()
            for number in numbers
            if (key := token_key(survey.tokens[number])) is not None
        }

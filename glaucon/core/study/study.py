"""A study: one candidate set of colours for a site, as an immutable JSON document.

Format 3: roles and coats with their kind, coat, state and tier as fields; what sections and parts wear is in `worn`;
what lies behind them in `backdrops`.
A found colour is known by its place, `file@offset`, or by the name of the browser default that it is.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Final, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.value import css_text, read_colour
from glaucon.core.errors import StudyError
from glaucon.core.study.backdrops import Backdrop, OfRole, paints_of
from glaucon.core.study.roles import Coat, CoatId, Kind, Role, StateName
from glaucon.core.study.scopes import Scope
from glaucon.core.study.ties import RoleId, Tie, in_order, tied_colour
from glaucon.core.study.waivers import Waiver
from glaucon.core.validation import told_error

MOST_SITE_ROLES, MOST_COATS = 9, 6  # of the short palette
FORMAT: Final = 3  # the first that was ever given out
Aim = Literal["AA", "AAA"]


class Study(BaseModel):
    """One immutable revision of a study."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: Literal[3] = FORMAT
    name: str = Field(min_length=1, max_length=80)
    aim: Aim = "AA"
    roles: tuple[Role, ...] = Field(max_length=400)
    coats: tuple[Coat, ...] = Field(default=(), max_length=60)
    mapping: Mapping[str, RoleId] = Field(default_factory=dict, max_length=20_000)
    worn: tuple[Scope, ...] = Field(default=(), max_length=400)
    backdrops: tuple[Backdrop, ...] = Field(default=(), max_length=460)
    coat_backdrops: Mapping[CoatId, Backdrop] = Field(default_factory=dict, max_length=60)
    extra_css: str = Field(default="", max_length=20_000)
    waived: tuple[Waiver, ...] = Field(default=(), max_length=200)

    @model_validator(mode="after")
    def _roles_are_known(self) -> Study:
        ids, coats = [role.id for role in self.roles], [coat.id for coat in self.coats]
        if len(set(ids)) != len(ids):
            raise ValueError("two roles have the same id")
        if len({id_.replace(".", "-") for id_ in ids}) != len(ids):
            raise ValueError("two roles have ids that are the same in CSS, where dots become hyphens")
        if len(set(coats)) != len(coats):
            raise ValueError("two coats have the same id")
        if unknown := {role.coat for role in self.roles if role.coat is not None} - set(coats):
            raise ValueError(f"a role belongs to the coat “{min(unknown)}”, which is not a coat of this study")
        if unknown := {scope.coat for scope in self.worn if scope.coat is not None} - set(coats):
            raise ValueError(f"a section wears the coat “{min(unknown)}”, which is not a coat of this study")
        every = (*self.backdrops, *self.coat_backdrops.values())
        painted = {p.role for one in every for p in paints_of(one) if isinstance(p, OfRole)}
        if unknown := self.coat_backdrops.keys() - set(coats):
            raise ValueError(f"a backdrop belongs to the coat “{min(unknown)}”, which is not a coat of this study")
        if unknown := painted - set(ids):
            raise ValueError(f"a backdrop has the colour “{min(unknown)}”, which is not a colour of this study")
        if len({one.where for one in self.backdrops}) != len(self.backdrops):
            raise ValueError("one place has two backdrops")
        if lost := set(self.mapping.values()) - set(ids):
            raise ValueError(f"a colour is mapped to “{min(lost)}”, which is not a colour of this study")
        try:
            in_order(self.ties, self.labels)
        except StudyError as error:
            raise ValueError(str(error)) from error
        return self

    @property
    def ties(self) -> dict[str, Tie]:
        """Return the ties by the role that follows."""
        return {role.id: role.tie for role in self.roles if role.tie is not None}

    @property
    def labels(self) -> dict[str, str]:
        """Return what each role is called, by its id."""
        return {role.id: role.label for role in self.roles}

    def role(self, id_: str) -> Role:
        """Return the role of that id.

        Raises: StudyError: if there is none.
        """
        found = next((role for role in self.roles if role.id == id_), None)
        if found is None:
            raise StudyError(f"This study has no role “{id_}”. It may have been removed in another window.")
        return found

    def first(self, kind: Kind, coat: str | None = None, state: StateName = "rest") -> Role | None:
        """Return the first role of a kind in a coat (None: the site's own) and state; None where there is none.

        Roles of the main tier come before details.
        """
        held = self.__dict__.get("_firsts")
        # copies take it along: it holds for the very roles it was made of
        if held is None or held[0] is not self.roles:
            held = self.__dict__["_firsts"] = (self.roles, _firsts(self.roles))
        found: Role | None = held[1].get((kind, coat, state))
        return found

    def rest_of(self, role: Role) -> Role | None:
        """Return the role at rest that a state's role belongs to; None for a role at rest, or where there is none."""
        if role.state == "rest":
            return None
        return next((rest for rest in self.roles if f"{rest.id}.{role.state}" == role.id), None)

    def alike_with(self, id_: str) -> list[Role]:
        """Return the roles that wear whatever colour a role has, since they follow it as it is."""
        same = Tie(to=id_)
        return [r for r in self.roles if r.tie is not None and r.tie.model_copy(update={"came": False}) == same]

    def roles_of(self, coat: str | None) -> list[Role]:
        """Return the roles of a coat, or the site's own."""
        return [role for role in self.roles if role.coat == coat]

    def short_roles(self) -> list[Role]:
        """Return the site roles of the short palette: the main ones, at rest."""
        return [r for r in self.roles if r.coat is None and r.tier == "main" and r.state == "rest"]

    def short_coats(self) -> list[Coat]:
        """Return the coats of the short palette: those whose background is of the main tier."""
        shown = {role.coat for role in self.roles if role.tier == "main" and role.kind == "background"}
        return [coat for coat in self.coats if coat.id in shown]

    def with_values(self, values: Mapping[str, str], take: bool = False) -> Study:
        """Return the study with some roles' values replaced, and what follows them; `take` accepts their merges too.

        A tied role that is given a value of its own follows no more.
        Raises: StudyError: an unknown role. ColourError: a value that is no colour.
        """
        for id_ in values:
            self.role(id_)
        new = {id_: css_text(read_colour(value)) for id_, value in values.items()}
        roles = tuple(_given(role, new[role.id], take) if role.id in new else role for role in self.roles)
        return self.model_copy(update={"roles": roles}).settled()

    def settled(self) -> Study:
        """Return the study with every tied role worked out anew.

        A tie that the site came with tells its role only roughly; while what it follows is as found, so is it.
        Raises: StudyError: ties that run in a circle.
        """
        ties = self.ties
        if not ties:
            return self
        roles = {role.id: role for role in self.roles}
        colours = {role.id: role.colour for role in self.roles}
        for id_ in in_order(ties, self.labels):
            tie = ties[id_]
            if tie.came and all(roles[origin].value == roles[origin].found for origin in tie.origins):
                colours[id_] = read_colour(roles[id_].found)
            else:
                colours[id_] = tied_colour(tie, colours)
            roles[id_] = roles[id_].model_copy(update={"value": css_text(colours[id_])})
        return self.model_copy(update={"roles": tuple(roles[role.id] for role in self.roles)})

    def with_roles(self, changes: Mapping[str, Mapping[str, object]]) -> Study:
        """Return the study with some fields of some roles replaced, and what follows them."""
        roles = tuple(role.model_copy(update=dict(changes.get(role.id, {}))) for role in self.roles)
        return self.model_copy(update={"roles": roles}).settled()

    def as_found(self) -> Study:
        """Return the study with every role as the site came."""
        roles = (role.model_copy(update={"value": role.found, "taken": False}) for role in self.roles)
        return self.model_copy(update={"roles": tuple(roles)})

    def with_all_taken(self) -> Study:
        """Return the study with every role's value taken by all its tokens."""
        return self.model_copy(update={"roles": tuple(r.model_copy(update={"taken": True}) for r in self.roles)})

    def changed_roles(self) -> list[Role]:
        """Return the roles whose tokens take their value."""
        return [role for role in self.roles if role.is_changed]


def _given(role: Role, value: str, take: bool) -> Role:
    follows = role.tie if value == role.value else None
    return role.model_copy(update={"value": value, "taken": take, "tie": follows})


def read_study(document: object) -> Study:
    """Return the study of a JSON document.

    Raises: StudyError: one sentence saying what breaks the schema.
    """
    format_ = document.get("format", FORMAT) if isinstance(document, Mapping) else FORMAT
    if format_ != FORMAT:
        raise StudyError(
            f"This study has format {format_}. This version of Glaucon reads format {FORMAT}. Save the study anew."
        )
    try:
        return Study.model_validate(document)
    except ValidationError as error:
        raise StudyError(f"This study cannot be used: {told_error(error)}.") from error


def token_key(token: ColourToken) -> str | None:
    """Return the key a mapping knows a token by, None where it cannot be edited."""
    if token.kind == "default":
        return token.text
    return f"{token.file}@{token.start}" if token.start >= 0 else None


def in_tier(roles: Iterable[Role], *tiers: str) -> list[Role]:
    """Return the roles of some tiers."""
    return [role for role in roles if role.tier in tiers]


def _firsts(roles: Iterable[Role]) -> dict[tuple[Kind, str | None, StateName], Role]:
    """Return the first role of each kind, coat and state, those of the main tier before details."""
    found: dict[tuple[Kind, str | None, StateName], Role] = {}
    for role in roles:
        known = found.setdefault((role.kind, role.coat, role.state), role)
        if known.tier != "main" and role.tier == "main":
            found[role.kind, role.coat, role.state] = role
    return found

"""A study: one candidate set of colours for a site, as an immutable JSON document.

Schema version 2: roles with their values, ties and locks, and the mapping of found colours to roles (version 1 had
neither ties nor locks). A found colour is known by its place, `file@offset`, or by the name of the browser default
that it is.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator, model_validator

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.errors import StudyError
from glaucon.core.palette.ties import RoleName, Tie, in_order, tied_colour
from glaucon.core.reading.reading import token_array

FORMAT = 2
_READABLE = (1, 2)
_ROLE_NAME = re.compile(r"[a-z][a-z0-9]*(?:-[a-z0-9]+)*")


class Role(BaseModel):
    """A role: what the site came with (`found`) and what it wears now (`value`), both CSS colours.

    `taken` says that the owner accepts the merge: near-alike colours under the role take its value although
    the value itself is as found. A `locked` role stays as it is whatever is mended or made; a tied one follows another.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: RoleName
    label: str = Field(max_length=80)
    value: str
    found: str
    taken: bool = False
    reason: str = Field(default="", max_length=400)
    locked: bool = False
    tie: Tie | None = None

    @field_validator("name")
    @classmethod
    def _name_is_plain(cls, name: str) -> str:
        if not _ROLE_NAME.fullmatch(name):
            raise ValueError(f"“{name}” is no role name; use lower case letters, digits and hyphens")
        return name

    @field_validator("value", "found")
    @classmethod
    def _colour_is_written_plainly(cls, value: str) -> str:
        return css_text(read_colour(value))

    @property
    def is_changed(self) -> bool:
        """Return whether the role's tokens take its value instead of keeping their literals."""
        return self.taken or self.value != self.found

    @property
    def colour(self) -> Colour:
        """Return the value as a colour."""
        return read_colour(self.value)


class Study(BaseModel):
    """One immutable revision of a study."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: int = FORMAT
    name: str = Field(min_length=1, max_length=80)
    level: str = Field(default="AA", pattern="^(AA|AAA)$")
    roles: tuple[Role, ...] = Field(max_length=400)
    mapping: Mapping[str, RoleName] = Field(default_factory=dict, max_length=20_000)

    @model_validator(mode="after")
    def _roles_are_known(self) -> Study:
        names = [role.name for role in self.roles]
        if len(set(names)) != len(names):
            raise ValueError("two roles have the same name")
        if unknown := set(self.mapping.values()) - set(names):
            raise ValueError(f"a colour is mapped to “{min(unknown)}”, which is no role of this study")
        try:
            in_order(self.ties, {role.name: role.label for role in self.roles})
        except StudyError as error:
            raise ValueError(str(error)) from error
        return self

    @property
    def ties(self) -> dict[str, Tie]:
        """Return the ties by the role that follows."""
        return {role.name: role.tie for role in self.roles if role.tie is not None}

    def role(self, name: str) -> Role:
        """Return the role of that name.

        Raises: StudyError: if there is none.
        """
        found = next((role for role in self.roles if role.name == name), None)
        if found is None:
            raise StudyError(f"This study has no role “{name}”; it may have been renamed in another window.")
        return found

    def with_values(self, values: Mapping[str, str], take: bool = False) -> Study:
        """Return the study with some roles' values replaced, and what follows them; `take` accepts their merges too.

        A tied role that is given a value of its own follows no more.
        Raises: StudyError: an unknown role. ColourError: a value that is no colour.
        """
        for name in values:
            self.role(name)
        new = {name: css_text(read_colour(value)) for name, value in values.items()}
        roles = tuple(_given(role, new[role.name], take) if role.name in new else role for role in self.roles)
        return self.model_copy(update={"roles": roles}).settled()

    def settled(self) -> Study:
        """Return the study with every tied role worked out anew.

        Raises: StudyError: ties that run in a circle.
        """
        ties = self.ties
        if not ties:
            return self
        colours = {role.name: role.colour for role in self.roles}
        for name in in_order(ties, {role.name: role.label for role in self.roles}):
            colours[name] = tied_colour(ties[name], colours)
        roles = (
            role.model_copy(update={"value": css_text(colours[role.name])}) if role.name in ties else role
            for role in self.roles
        )
        return self.model_copy(update={"roles": tuple(roles)})

    def with_roles(self, changes: Mapping[str, Mapping[str, object]]) -> Study:
        """Return the study with some fields of some roles replaced, and what follows them."""
        roles = tuple(role.model_copy(update=dict(changes.get(role.name, {}))) for role in self.roles)
        return self.model_copy(update={"roles": roles}).settled()

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
    try:
        study = Study.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"]) or "the document"
        raise StudyError(f"This study cannot be used: {place}: {first['msg']}.") from error
    if study.format not in _READABLE:
        raise StudyError(f"This study has format {study.format}; this Glaucon reads formats up to {FORMAT}.")
    return study if study.format == FORMAT else study.model_copy(update={"format": FORMAT})


def token_key(token: ColourToken) -> str | None:
    """Return the key a mapping knows a token by, None where it cannot be edited."""
    if token.kind == "default":
        return token.text
    return f"{token.file}@{token.start}" if token.start >= 0 else None


class MappedTokens:
    """A site's tokens with their colours as brought in and their keys, made once for all studies of the site."""

    def __init__(self, tokens: list[ColourToken]) -> None:
        self.tokens = tokens
        self.found = token_array(tokens)
        self._keys = [token_key(token) for token in tokens]
        self._known: tuple[Mapping[str, str], dict[int, str]] | None = None

    def roles(self, study: Study) -> dict[int, str]:
        """Return the role of each mapped token by its number, remembered for the last mapping."""
        if self._known is None or self._known[0] != study.mapping:
            mapping = study.mapping
            found = {n: mapping[key] for n, key in enumerate(self._keys) if key is not None and key in mapping}
            self._known = (dict(mapping), found)
        return self._known[1]

    def values(self, study: Study) -> Floats:
        """Return what each token shows under a study, shape (tokens, 4).

        A token keeps its literal until its role's value is changed; then it takes the role's value at the token's
        own opacity.
        """
        changed = {role.name: role.colour for role in study.changed_roles()}
        values = self.found.copy()
        for number, role in self.roles(study).items():
            if role in changed:
                colour = changed[role]
                values[number] = (*colour.rgb, colour.alpha * self.found[number, 3])
        return values

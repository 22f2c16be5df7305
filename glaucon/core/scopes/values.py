"""The values of a single scope: its coat's, overridden by its own and by the states tied to its own."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

import numpy as np

from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.study.roles import TEXT_KINDS
from glaucon.core.study.scopes import Scope, Use
from glaucon.core.study.study import Study
from glaucon.core.study.ties import tied_colour
from glaucon.core.study.wearing import Otherwise, readable_on, wears_readably

Values = Mapping[Use, Colour]
Apart = dict[str | int, Colour]  # by the ids of roles, or the numbers of single found colours
TEXT: Use = ("text", "rest")
GROUND: Use = ("background", "rest")
_NEARLY = 0.5  # opacity


def merged_values(study: Study, scope: Scope) -> dict[Use, Colour]:
    """Return the value of each use that a scope sets: its coat's, overridden by its own and by tied states."""
    coat = coat_values(study, scope.coat) if scope.coat is not None else {}
    return Followers(study).over(scope, coat)


class Followers:
    """The states' roles of a study that follow their rest colours; they do so in a scope too."""

    def __init__(self, study: Study) -> None:
        self._study = study
        rests = ((role, study.rest_of(role)) for role in study.roles if role.tie is not None and role.state != "rest")
        self._states = [(r, rest, r.tie) for r, rest in rests if rest is not None and r.tie and r.tie.to == rest.id]

    @cached_property
    def _colours(self) -> dict[str, Colour]:
        return {one.id: one.colour for one in self._study.roles}

    def over(self, scope: Scope, coat: Values) -> dict[Use, Colour]:
        """Return a coat's values overridden by a scope's own; tied states follow the scope's rest colours."""
        own = scope.values
        values = {**coat, **own}
        for role, rest, tie in self._states if own else ():
            if (role.kind, role.state) not in own and (rest.kind, "rest") in own:
                given = {**self._colours, rest.id: own[rest.kind, "rest"]}
                values[role.kind, role.state] = tied_colour(tie, given)
        return values


def contradicting_tokens(study: Study, values: Values, otherwise: Otherwise) -> Apart:
    """Return overrides for tokens whose use in a region contradicts their role's kind.

    A text colour used as a background there takes the scope's background; a background colour used for text there is
    made readable on it.
    """
    ground = values.get(GROUND)
    if ground is None:
        return {}
    return {what: ground if on else readable_on(study, study.role(id_).colour, ground) for what, id_, on in otherwise}


def opacity_share(use: Use, share: float) -> float:
    """Return the opacity, 0 to 1, at which a token shows the colour that a scope gives its use."""
    return float(opacity_shares(use, np.array(share)))


def opacity_shares(use: Use, shares: Floats) -> Floats:
    # a section's background that shone through a little is the colour it is given, so that its text is readable on it
    return np.where(shares >= _NEARLY, 1.0, shares) if use[0] == "background" else shares


def ground_worn(study: Study, section: str, page: str) -> Colour | None:
    """Return the background that scopes give a section on a page, None where they give it none."""
    here = [s for s in study.worn if s.where.region == section and s.where.page in (None, page) and s.where.at is None]
    given = (merged_values(study, scope).get(GROUND) for scope in sorted(here, key=strength_of, reverse=True))
    return next((colour for colour in given if colour is not None), None)


def coat_values(study: Study, coat: str) -> dict[Use, Colour]:
    """Return the value of each use that a coat sets: its background, every kind of text readable on it, its own roles.

    Boxes within take the coat's panel, or its background where it has none, so that the text stays readable on them.
    """
    background = study.first("background", coat)
    values: dict[Use, Colour] = {}
    own = {role.kind for role in study.roles if role.coat == coat} | (TEXT_KINDS - {"accent-text"})
    for use in dict.fromkeys((role.kind, role.state) for role in study.roles if role.tier != "unseen"):
        kind, state = use
        if kind in own:
            worn = wears_readably(study, coat, kind, state)
            if worn is not None:
                values[use] = worn.colour
            elif kind in TEXT_KINDS and state == "rest":
                # only another coat says anything of that kind
                values[use] = _readable_text(study, coat)
        elif kind == "panel" and background is not None:
            values[use] = background.colour
    if background is not None:
        values[GROUND] = background.colour
        values[TEXT] = values.get(TEXT) or _readable_text(study, coat)
    return values


def _readable_text(study: Study, coat: str) -> Colour:
    worn = wears_readably(study, coat, "text")
    return worn.colour if worn is not None else Colour(0, 0, 0)


def strength_of(scope: Scope) -> int:
    if scope.where.at is not None:
        return 2
    return 0 if scope.where.page is None else 1

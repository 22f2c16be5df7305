"""What is worn in a region: the values that scopes give it, those around it with them, a deeper one over a shallower.

A scope redefines, on its element, every role of the kinds it sets, so that what is said inside takes its values; it
says `color` and `background-color` again there, where the page's own rules say none. Here is worked out what each depth
of a chain of regions comes to; `exchange.dressing` writes the same as CSS.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from glaucon.core.cascade.expression import INHERITED
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour
from glaucon.core.reading.colour_table import TokenColours
from glaucon.core.study.roles import TEXT_KINDS, Role
from glaucon.core.study.scopes import Scope, Use
from glaucon.core.study.study import Study
from glaucon.core.study.ties import tied_colour
from glaucon.core.study.wearing import Wearing, share_of_opacity, wears_readably

Values = Mapping[Use, Colour]
_TEXT: Use = ("text", "rest")
_GROUND: Use = ("background", "rest")


def values_of(study: Study, scope: Scope) -> dict[Use, Colour]:
    """Return what a scope sets: its coat's values, then its own and what follows those."""
    values = coat_values(study, scope.coat) if scope.coat is not None else {}
    own = scope.values
    values.update(own)
    for role in study.roles:
        # a state that follows its rest colour does so in a scope too
        rest = study.rest_of(role)
        use: Use = (role.kind, role.state)
        if rest is None or use in own or (rest.kind, "rest") not in own or role.tie is None or role.tie.to != rest.id:
            continue
        colours = {one.id: one.colour for one in study.roles}
        values[use] = tied_colour(role.tie, {**colours, rest.id: own[rest.kind, "rest"]})
    return values


def coat_values(study: Study, coat: str) -> dict[Use, Colour]:
    """Return what a coat gives a region: its background, all kinds of text readable on it, what else it has of its own.

    Boxes within take the coat's panel, or its background where it has none, so that the text stays readable on them.
    """
    background = study.first("background", coat)
    values: dict[Use, Colour] = {}
    for use in dict.fromkeys((role.kind, role.state) for role in study.roles if role.tier != "unseen"):
        kind, state = use
        if kind in TEXT_KINDS - {"accent-text"} or any(role.coat == coat for role in study.roles if role.kind == kind):
            worn = wears_readably(study, coat, kind, state)
            if worn is not None:
                values[use] = worn.colour
        elif kind == "panel" and background is not None:
            values[use] = background.colour
    if background is not None:
        values[_GROUND] = background.colour
        values[_TEXT] = values.get(_TEXT) or _readable_text(study, coat)
    return values


def _readable_text(study: Study, coat: str) -> Colour:
    worn = wears_readably(study, coat, "text")
    return worn.colour if worn is not None else Colour(0, 0, 0)


def scopes_of_level(study: Study, page: str, region: str | None, path: str | None = None) -> list[Scope]:
    """Return the scopes that hold for a page (no region) or a region on it, the weakest first.

    What is worn at one element alone holds where `path`, that of a text in the region, leads through it.
    """
    found: list[tuple[int, Scope]] = []
    for scope in study.worn:
        where = scope.where
        if where.region != region or (where.page is not None and where.page != page):
            continue
        if where.at is not None:
            if path is None or not (
                path == where.at or path.startswith(f"{where.at}>") or path.startswith(f"{where.at}::")
            ):
                continue
            found.append((2, scope))
        else:
            found.append((0 if where.page is None else 1, scope))
    return [scope for _, scope in sorted(found, key=lambda item: item[0])]


@dataclass(frozen=True, slots=True)
class Dress:
    """What each depth of a chain sets, outermost first; the first is the page."""

    levels: tuple[tuple[Scope, ...], ...]

    @property
    def is_plain(self) -> bool:
        """Return whether nothing is set anywhere."""
        return not any(self.levels)


def dress_of(study: Study, page: str, keys: Sequence[str], path: str) -> Dress:
    """Return what a text wears that lies in the regions of some keys, outermost first."""
    levels = [tuple(scopes_of_level(study, page, None))]
    levels += [tuple(scopes_of_level(study, page, key, path)) for key in keys]
    return Dress(tuple(levels))


class Dresser:
    """Works out what texts wear under a study; what scopes come to is worked out once."""

    def __init__(self, study: Study, wearing: Wearing, drawn: Collection[str] = ()) -> None:
        """`drawn` are the keys of regions that browsers draw: those keep what the page says no colour for."""
        self.study, self._drawn = study, drawn
        self._base = wearing.values(study)
        self._of_use = _tokens_by_use(study, wearing)
        self._values: dict[int, dict[Use, Colour]] = {}

    def values(self, scope: Scope) -> dict[Use, Colour]:
        """Return what a scope of the study sets."""
        if id(scope) not in self._values:
            self._values[id(scope)] = values_of(self.study, scope)
        return self._values[id(scope)]

    def colours(self, dress: Dress) -> TokenColours:
        """Return what each token shows at each depth of a dress, and the backgrounds that it gives."""
        cumulated: dict[Use, Colour] = {}
        at: dict[int, Floats] = {}
        grounds: dict[int, Floats] = {}
        said: list[Colour | None] = []
        current = self._base
        for depth, scopes in enumerate(dress.levels):
            own: dict[Use, Colour] = {}
            for scope in scopes:
                own.update(self.values(scope))
            if own:
                cumulated.update(own)
                current = _with(self._base, self._of_use, cumulated)
            at[depth] = current
            if any(scope.where.region in self._drawn for scope in scopes):
                said.append(None)
                continue
            if (ground := own.get(_GROUND)) is not None:
                grounds[depth] = np.array((*ground.rgb, ground.alpha))
            said.append(own.get(_TEXT))
        for depth in range(len(dress.levels)):
            # the colour of text is said again by the deepest region inside that sets it
            again = next((colour for colour in reversed(said[depth + 1 :]) if colour is not None), None)
            at[INHERITED + depth] = at[depth]
            if again is not None:
                at[INHERITED + depth] = np.broadcast_to(np.array((*again.rgb, again.alpha)), self._base.shape)
        return TokenColours(self._base, at, grounds)


def _tokens_by_use(study: Study, wearing: Wearing) -> dict[Use, list[tuple[Role, list[int], Floats]]]:
    found: dict[Use, list[tuple[Role, list[int], Floats]]] = {}
    for id_, numbers in wearing.tokens_of(study).items():
        role = study.role(id_)
        # an attribute's colour is a literal in the page: no scope reaches it
        kept = [n for n in numbers if wearing.tokens[n].kind != "attribute"]
        shares = np.array([share_of_opacity(role, wearing.tokens[n]) for n in kept], dtype=float)
        if kept:
            found.setdefault((role.kind, role.state), []).append((role, kept, shares))
    return found


def _with(base: Floats, of_use: Mapping[Use, Iterable[tuple[Role, list[int], Floats]]], values: Values) -> Floats:
    tokens = base.copy()
    for use, colour in values.items():
        for _, numbers, shares in of_use.get(use, ()):
            tokens[numbers, :3] = colour.rgb
            tokens[numbers, 3] = colour.alpha * shares
    return tokens

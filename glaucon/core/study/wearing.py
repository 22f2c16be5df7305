"""What a token wears under a study: the one place that answers it.

Reading, fixing, swap, ties, exchange and the painter of the bench all ask here which role a token has, at which share
of the role's opacity it takes the role's value, and what it shows. Coats answer here too what they wear of each kind.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from glaucon.core.cascade.tokens import PALETTE_FILE, ColourToken
from glaucon.core.colour.oklab import Floats
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.reading.reading import LEVELS, token_array
from glaucon.core.study.mixing import COMFORT, mixed_link, mixed_quiet, mixed_text, nearest_at, ratio
from glaucon.core.study.roles import Kind, Role, StateName, Tier
from glaucon.core.study.scopes import Use
from glaucon.core.study.study import Study, token_key
from glaucon.core.study.ties import tied_colour
from glaucon.core.survey.model import Region

Numbers = NDArray[np.int64]
Otherwise = tuple[tuple[str | int, str, bool], ...]


def share_of_opacity(role: Role, token: ColourToken) -> float:
    """Return the opacity a token keeps when it takes its role's value, 0 to 1.

    Translucent fills, lines and shadows stay translucent. Text does not: a role of text has the colour that is seen,
    so what its owner chooses is what they get.
    """
    return 1.0 if role.is_text else token.colour.alpha


def colour_at(role: Role, share: float) -> Colour:
    """Return a role's colour at a share of its opacity."""
    colour = role.colour
    return colour.with_alpha(colour.alpha * share)


@dataclass(frozen=True, slots=True)
class Worn:
    """A token with its role and the share of the role's opacity that it shows."""

    token: ColourToken
    role: Role
    share: float

    @property
    def custom_property(self) -> Property:
        """Return the custom property that gives the token its colour."""
        return Property(self.role.id, self.share, self.token.form == "channels")

    @property
    def text(self) -> str:
        """Return, as CSS, what the token shows once its role is changed."""
        return self.custom_property.value(self.role)


@dataclass(frozen=True, slots=True)
class Property:
    """A custom property of a role at a share of its opacity; with `is_channels` as the three numbers of `rgb()`."""

    role: str
    share: float = 1.0
    is_channels: bool = False

    @property
    def name(self) -> str:
        """Return its name; the dots of an id become hyphens."""
        name = f"--gl-{self.role.replace('.', '-')}"
        if self.is_channels:
            return f"{name}-rgb"
        return name if self.share >= 1 else f"{name}-at-{round(self.share * 1000):03d}"

    def value(self, role: Role, share: float | None = None) -> str:
        """Return its value as CSS while the role is as given; `share` is its opacity where that is another."""
        if self.is_channels:
            return ", ".join(str(channel) for channel in role.colour.bytes)
        return css_text(colour_at(role, self.share if share is None else share))


def worn_by(study: Study, tokens: Iterable[ColourToken]) -> Iterator[Worn]:
    """Yield what each mapped token wears."""
    roles = {role.id: role for role in study.roles}
    for token in tokens:
        role = roles.get(study.mapping.get(token_key(token) or "", ""))
        if role is not None:
            yield Worn(token, role, share_of_opacity(role, token))


def contradicting_uses(study: Study, tokens_of: Mapping[str, Sequence[int]], region: Region) -> Otherwise:
    """Return roles and tokens whose use in a region contradicts their role's kind.

    That is a role, by id, where all that shows of it there does; else a found colour, by number, that a custom property
    hands down into the region, where it can be given a value of its own. With each goes its role and whether texts
    stand on it there. `tokens_of` are the found colours under each role.
    """
    handed = {part for one in region.handed_down for part in one.parts if isinstance(part, int)}
    accents = (tokens_of.get(role.id, ()) for role in study.roles if role.kind == "accent")
    on_accents = not all(region.grounds.isdisjoint(tokens) for tokens in accents)
    found: list[tuple[str | int, str, bool]] = []
    for role in study.roles:
        if role.tier == "unseen" or not (role.is_text or role.is_background):
            continue
        tokens = tokens_of.get(role.id, ())
        texts, grounds = region.texts.intersection(tokens), region.grounds.intersection(tokens)
        mine, others = (texts, grounds) if role.is_text else (grounds, texts)
        if others and not mine:
            found.append((role.id, role.id, role.is_text))
        elif role.kind == "accent-text" and mine and not on_accents:  # what a scope sets lies behind it
            found.append((role.id, role.id, False))
        else:
            found += [(token, role.id, role.is_text) for token in sorted((others - mine) & handed)]
    return tuple(found)


_RoleUses = list[tuple[str, Kind, StateName]]


class Wearing:
    """A site's tokens with their colours as found and their keys, made once for all studies of the site."""

    def __init__(self, tokens: list[ColourToken]) -> None:
        self.tokens = tokens
        self.found = token_array(tokens)
        self._keys = [token_key(token) for token in tokens]
        # what the owner's own CSS reads of the palette, by the names of the properties
        self._of_palette = [(n, token.property) for n, token in enumerate(tokens) if token.file == PALETTE_FILE]
        self._known_uses: (
            tuple[dict[int, str], list[tuple[str, Kind, StateName, Tier]], dict[Use, tuple[Numbers, Floats]]] | None
        ) = None
        self._known: tuple[Mapping[str, str], dict[int, str]] | None = None
        self._otherwise: dict[str, Otherwise] = {}

    def roles(self, study: Study) -> dict[int, str]:
        """Return the id of each mapped token's role by the token's number, remembered for the last mapping."""
        if self._known is None or self._known[0] != study.mapping:
            mapping = study.mapping
            found = {n: mapping[key] for n, key in enumerate(self._keys) if key is not None and key in mapping}
            names = {Property(role.id).name: role.id for role in study.roles} if self._of_palette else {}
            found.update({n: names[name] for n, name in self._of_palette if name in names})
            self._known = (dict(mapping), found)
        return self._known[1]

    def tokens_of(self, study: Study) -> dict[str, list[int]]:
        """Return the numbers of the tokens under each role that has any."""
        found: dict[str, list[int]] = {}
        for number, role in self.roles(study).items():
            found.setdefault(role, []).append(number)
        return found

    def of_use(self, study: Study) -> Mapping[Use, tuple[Numbers, Floats]]:
        """Return the tokens that scopes reach by use, with the opacity that each has of its role's; remembered."""
        key = [(role.id, role.kind, role.state, role.tier) for role in study.roles]
        if self._known_uses is None or self._known_uses[0] is not self.roles(study) or self._known_uses[1] != key:
            self._known_uses = (self.roles(study), key, self._find_uses(study))
            self._otherwise = {}
        return self._known_uses[2]

    def otherwise(self, study: Study) -> dict[str, Otherwise]:
        """Return what is remembered of `contradicting_uses` by region, for whoever asks to fill in."""
        self.of_use(study)
        return self._otherwise

    def _find_uses(self, study: Study) -> dict[Use, tuple[Numbers, Floats]]:
        of_role, found = self.tokens_of(study), {}
        for use in dict.fromkeys((role.kind, role.state) for role in study.roles):
            roles = [role for role in study.roles if (role.kind, role.state) == use]
            worn = [(n, role) for role in roles for n in of_role.get(role.id, [])]
            if worn:
                shares = [share_of_opacity(role, self.tokens[n]) for n, role in worn]
                found[use] = (np.array([n for n, _ in worn], dtype=np.int64), np.array(shares))
        return found

    def shares(self, study: Study, id_: str, numbers: Iterable[int]) -> Floats:
        """Return, for some tokens of a role, the share of its opacity that each shows."""
        role = study.role(id_)
        return np.array([share_of_opacity(role, self.tokens[number]) for number in numbers], dtype=float)

    def values(self, study: Study) -> Floats:
        """Return what each token shows under a study, shape (tokens, 4): sRGB and alpha, each 0 to 1.

        A token keeps its literal until its role's value is changed; then it takes the role's.
        """
        changed = {role.id: role for role in study.changed_roles()}
        values = self.found.copy()
        if not changed:
            return values
        for id_, numbers in self.tokens_of(study).items():
            if id_ in changed:
                colour = changed[id_].colour
                values[numbers, :3] = colour.rgb
                values[numbers, 3] = colour.alpha * self.shares(study, id_, numbers)
        return values

    def values_if_changed(self, study: Study) -> Floats:
        """Return what each token would show were every role changed to the value it has, shape (tokens, 4)."""
        return self.values(study.with_all_taken())


@dataclass(frozen=True, slots=True)
class Coated:
    """What a coat wears of a kind in a state, and where that comes from.

    `source` is "own", "tied" (its own rest colour with the site's tie), "site", or "made" (the site's, made readable
    on the coat's background).
    """

    colour: Colour
    source: str


def wears(study: Study, coat: str, kind: Kind, state: StateName = "rest") -> Coated | None:
    """Return what a coat wears of a kind in a state; None where neither it nor the site says anything of that kind."""
    if (own := study.first(kind, coat, state)) is not None:
        return Coated(own.colour, "own")
    site = study.first(kind, None, state)
    rest = study.first(kind, coat)
    if rest is not None:
        if site is None or site.tie is None or site.tie.on is not None:
            return Coated(rest.colour, "own")
        colours = {**{role.id: role.colour for role in study.roles}, site.tie.to: rest.colour}
        return _kept_readable(study, coat, Coated(tied_colour(site.tie, colours), "tied"), site)
    site = site or study.first(kind)
    return _kept_readable(study, coat, Coated(site.colour, "site"), site) if site is not None else None


def wears_readably(study: Study, coat: str, kind: Kind, state: StateName = "rest") -> Coated | None:
    """Return what a section that is given a coat wears of a kind: as `wears`, its own text made readable too."""
    worn, own = wears(study, coat, kind, state), study.first(kind, coat, state) or study.first(kind, coat)
    return _kept_readable(study, coat, worn, own) if worn is not None and own is not None else worn


def _kept_readable(study: Study, coat: str, worn: Coated, role: Role) -> Coated:
    """Return what a coat wears, text that is not comfortable on the coat's background mixed anew."""
    background = study.first("background", coat)
    if background is None or not role.is_text:
        return worn
    comfort = role.state == "rest" and role.tier == "main"
    made = _mixed(study, coat, worn.colour, role, background.colour, comfort)
    return worn if made == worn.colour else Coated(made, "made")


def _mixed(study: Study, coat: str, colour: Colour, role: Role, ground: Colour, comfort: bool) -> Colour:
    """Return a colour if it is readable on a coat's background, text with `comfort`, else what a person would mix."""
    aim = LEVELS[study.aim][0]
    if ratio(colour, ground) >= (COMFORT if comfort and role.kind in ("text", "heading") else aim):
        return colour
    if role.kind == "text" or (text := wears_readably(study, coat, "text")) is None:
        return mixed_text(ground, _own_extremes(study)) if role.kind == "text" else nearest_at(colour, ground, aim)
    of_text = text.colour
    if role.kind == "heading":
        return of_text
    if role.kind == "quiet":
        return mixed_quiet(ground, of_text, aim)
    return mixed_link(ground, of_text, colour, aim) if role.kind == "link" else nearest_at(colour, ground, aim)


def _own_extremes(study: Study) -> list[Colour]:
    """Return the colours that the site's own text and backgrounds have, white where it has none."""
    kinds = ("text", "heading", "background")
    own = [r.colour for r in study.roles if r.kind in kinds and r.tier == "main" and r.state == "rest"]
    return own or [Colour(1.0, 1.0, 1.0)]


def readable_on(study: Study, text: Colour, background: Colour) -> Colour:
    """Return a text's colour, or what a person would mix for a background where it is not readable."""
    is_read = ratio(text, background) >= LEVELS[study.aim][0]
    return text if is_read else mixed_text(background, _own_extremes(study))


def properties_of(study: Study, tokens: Iterable[ColourToken]) -> dict[str, list[Property]]:
    """Return, for each role, the custom properties that its tokens take their colours from, the plain one first."""
    found: dict[str, dict[Property, None]] = {role.id: {Property(role.id): None} for role in study.roles}
    for worn in worn_by(study, tokens):
        found[worn.role.id][worn.custom_property] = None
    return {id_: list(properties) for id_, properties in found.items()}


def wear_of(study: Study, tokens: Iterable[ColourToken]) -> dict[str, str | None]:
    """Return the custom properties that show a study on its previews; None where pages keep their own colour."""
    roles = {role.id: role for role in study.roles}
    return {
        prop.name: prop.value(roles[id_]) if roles[id_].is_changed else None
        for id_, properties in properties_of(study, tokens).items()
        for prop in properties
    }

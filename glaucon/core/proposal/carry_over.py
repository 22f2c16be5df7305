"""A study carried over to a site that has come in again: values kept, the mapping moved to where tokens stand now."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Hashable, Iterable
from dataclasses import dataclass, field

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.proposal.entries import Proposal
from glaucon.core.study.study import Study, token_key


@dataclass(slots=True)
class CarriedOver:
    """The study for the site as it is now, and what became of its tokens: new ones under a role, under none, gone."""

    study: Study
    joined: dict[str, str] = field(default_factory=dict)  # colour → role's label
    new_roles: list[str] = field(default_factory=list)
    unmapped: list[str] = field(default_factory=list)
    gone: int = 0


def carry_over(
    study: Study, before: Iterable[ColourToken], after: Iterable[ColourToken], proposal: Proposal
) -> CarriedOver:
    """Return a study moved from a site's old tokens to its new ones; `proposal` is that of the site as it is now.

    A token is the same where file, rule, property and text are; what is new comes under the role that its colour
    has elsewhere for the same property, else under the role proposed for it, which is added if the study lacks it.
    """
    role_of: dict[Hashable, str | None] = {}
    habit: dict[tuple[str, str], Counter[str]] = defaultdict(Counter)
    for key, token in _keyed(before):
        role = role_of[key] = study.mapping.get(token_key(token) or "")
        if role is not None:
            habit[token.colour.hex(), _family(token)][role] += 1
    known = set(role_of)
    proposed = {number: name for name, numbers in proposal.tokens.items() for number in numbers}
    offered = {role.id: role for role in proposal.roles}
    carried = CarriedOver(study)
    names = {role.id: role for role in study.roles}
    mapping: dict[str, str] = {}
    for key, token in _keyed(after):
        place = token_key(token)
        if place is None:
            continue
        if key in known:
            known.discard(key)
            role = role_of[key]
        else:
            role = _role_for(token, habit, proposed.get(token.number))
            if role is not None and role not in names:
                names[role] = offered[role]
                carried.new_roles.append(offered[role].label)
            if token.kind != "default":
                _tell(carried, token, names[role].label if role is not None else None)
        if role is not None:
            mapping[place] = role
    carried.gone = sum(1 for key in known if role_of[key] is not None)
    update = {"roles": tuple(names.values()), "mapping": mapping}
    carried.study = _with_coats_used(study.model_copy(update=update), proposal)
    return carried


def _with_coats_used(study: Study, proposal: Proposal) -> Study:
    used = {role.coat for role in study.roles} | {scope.coat for scope in study.worn} | set(study.coat_backdrops)
    coats = {coat.id: coat for coat in (*proposal.coats, *study.coats) if coat.id in used}
    return study.model_copy(update={"coats": tuple(coats.values())})


def _role_for(token: ColourToken, habit: dict[tuple[str, str], Counter[str]], proposed: str | None) -> str | None:
    seen = habit.get((token.colour.hex(), _family(token)))
    return seen.most_common(1)[0][0] if seen else proposed


def _tell(carried: CarriedOver, token: ColourToken, label: str | None) -> None:
    colour = token.colour.hex()
    if label is not None:
        carried.joined.setdefault(colour, label)
    elif colour not in carried.unmapped:
        carried.unmapped.append(colour)


def _family(token: ColourToken) -> str:
    return token.property.split("-", 1)[0] if not token.property.startswith("--") else token.property


def _keyed(tokens: Iterable[ColourToken]) -> Iterable[tuple[Hashable, ColourToken]]:
    """Yield tokens with what they are known by, the same ones of one file numbered."""
    count: Counter[Hashable] = Counter()
    for token in tokens:
        if token.kind == "default":
            yield token.text, token
            continue
        same = (token.file, token.kind, token.selector, token.media, token.property, token.text)
        count[same] += 1
        yield (*same, count[same]), token

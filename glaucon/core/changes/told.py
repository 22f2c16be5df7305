"""The changes between two studies in words, each of which can be taken back alone (see `taking_back`)."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import tinycss2

from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.differences import place_key, unlike
from glaucon.core.study.fading import fades_of, without_fades
from glaucon.core.study.own_css import applied_css
from glaucon.core.study.plain import plain_coat
from glaucon.core.study.roles import Role
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.wording import counted, listed, percent, plural

ChangeKind = Literal["colour", "part", "moved", "place", "backdrop", "coat", "order", "aim", "fade", "css"]
_FOUND = "colours as they came"


@dataclass(frozen=True, slots=True)
class ToldChange:
    """One change. `key` names it among those of its two studies; `label` is what changes, `says` how.

    `before` and `after` are colours as hex, "" where it is not one colour; `where` is its place, None for the whole
    site; `tokens` are the found colours it moves, by their keys in the mapping; `lines` are rules of CSS, each with a
    leading "+" or "-".
    """

    key: str
    kind: ChangeKind
    label: str
    says: str
    role: str | None = None
    before: str = ""
    after: str = ""
    where: Where | None = None
    selector: str = ""
    tokens: tuple[str, ...] = ()
    lines: tuple[str, ...] = ()


def told_changes(before: Study, after: Study) -> tuple[ToldChange, ...]:
    """Return what differs in how two studies of a site show; `label` of a place is left to who knows the site."""
    return (
        *_colours(before, after), *_moved(before, after), *_places(before, after), *_backdrops(before, after),
        *_coats(before, after), *_order(before, after), *_aim(before, after),
        *_fades(before, after), *_own(before, after),
    )  # fmt: skip


def _colours(before: Study, after: Study) -> Iterator[ToldChange]:
    plain, were = plain_coat(after), {role.id: role for role in before.roles}
    is_worn = bool(before.worn or after.worn)
    for role in after.roles:
        was = were.get(role.id)
        # the coat that is plain has no colours of its own
        if role.coat is not None and role.coat == plain:
            continue
        if was is None:
            yield from _part(before, after, role)
        elif (role.value, role.is_changed) != (was.value, was.is_changed):
            yield _colour(role, was)
        elif is_worn and role.tie != was.tie:
            # a coat that says nothing of its kind wears what the tie makes of the coat's own colours
            to = [after.labels[one] for one in role.tie.origins] if role.tie is not None else []
            says = f"follows {' and '.join(to)} now" if to else "follows no other colour any more"
            colour = was.colour.hex()
            yield ToldChange(f"colour:{role.id}", "colour", role.label, says, role.id, colour, colour)


def _colour(role: Role, was: Role) -> ToldChange:
    old, new = was.colour.hex(), role.colour.hex()
    says = f"{old.upper()} to {new.upper()}"
    if old == new:
        says = "nearly alike colours merged" if role.is_changed else "nearly alike colours as they came"
    return ToldChange(f"colour:{role.id}", "colour", role.label, says, role.id, old, new)


def _part(before: Study, after: Study, role: Role) -> Iterator[ToldChange]:
    tokens = tuple(key for key, id_ in after.mapping.items() if id_ == role.id)
    if not tokens and not role.is_changed:
        return
    froms = dict.fromkeys(id_ for key in tokens if (id_ := before.mapping.get(key)) is not None)
    labels = {one.id: one for one in before.roles}
    origins = [labels[one] for one in froms if one in labels]
    old = (origins[0].colour.hex() if origins else role.colour.hex()) if tokens else ""
    new, names = role.colour.hex(), " and ".join(one.label for one in origins[:3])
    if not tokens:
        says = f"{new.upper()}, a colour that you added"
    elif old == new:
        says = f"a colour of its own now, apart from {names}" if names else "a colour of its own now"
    else:
        says = f"{old.upper()} to {new.upper()}" + (f", apart from {names}" if names else "")
    yield ToldChange(f"part:{role.id}", "part", role.label, says, role.id, old, new, tokens=tokens)


def _moved(before: Study, after: Study) -> Iterator[ToldChange]:
    """Tell found colours that belong to another role now, by where they come from and go."""
    were, now = ({role.id: role for role in one.roles} for one in (before, after))
    groups: dict[tuple[str, str], list[str]] = {}
    for key in unlike(before.mapping, after.mapping):
        to = after.mapping.get(key)
        if to is None or to in were:
            groups.setdefault((before.mapping.get(key) or "", to or ""), []).append(key)
    for (came, to), keys in groups.items():
        old, new = were.get(came), now.get(to)
        label = old.label if old is not None else "Other colours"
        goes = f"{plural(len(keys), 'goes')} with {new.label if new is not None else 'none'} now"
        says = f"{counted(len(keys), 'colour')} of the site {goes}"
        yield ToldChange(
            f"moved:{came}>{to}", "moved", label, says, to or came, old.colour.hex() if old else "",
            new.colour.hex() if new else "", tokens=tuple(keys),
        )  # fmt: skip


def _places(before: Study, after: Study) -> Iterator[ToldChange]:
    was, now = ({scope.where: scope for scope in one.worn} for one in (before, after))
    coats = {coat.id: coat.label for coat in (*before.coats, *after.coats)}
    for where in unlike(was, now):
        scope = now.get(where)
        says = _wears(scope, coats) if scope is not None else f"{_FOUND}, no longer {_wears(was[where], coats)}"
        key = f"place:{place_key(where)}"
        yield ToldChange(key, "place", "", says, where=where)


def _wears(scope: Scope, coats: Mapping[str, str]) -> str:
    if scope.like is not None:
        said = ["the colours of another place"]
    else:
        said = [f"wears {coats.get(scope.coat, scope.coat)}"] if scope.coat is not None else []
        if scope.set:
            said.append(counted(len(scope.set), "colour") + (" of its own" if not said else " besides"))
    if scope.join is not None:
        said.append("joined to what lies below")
    return ", ".join(said) or _FOUND


def _backdrops(before: Study, after: Study) -> Iterator[ToldChange]:
    was, now = (own_backdrops(one) for one in (before, after))
    for where in unlike(was, now):
        one = now.get(where)
        says = _lies_on(one) if one is not None else "no backdrop of its own any more"
        yield ToldChange(f"backdrop:{place_key(where)}", "backdrop", "", says, where=where)


def own_backdrops(study: Study) -> dict[Where | None, Backdrop]:
    """Return the backdrops that no coat has brought, by their places."""
    return {one.where: one for one in study.backdrops if one.of is None}


def _lies_on(one: Backdrop) -> str:
    shown = one.shown
    plate = ", with a plate behind some of its texts" if one.plate is not None else ""
    if not shown:
        return f"no backdrop{plate}"
    return f"a backdrop of {', '.join(layer.kinds[0] for layer in shown)}{plate}"


def _coats(before: Study, after: Study) -> Iterator[ToldChange]:
    """Tell what coats bring along that places wear in both studies."""
    labels = {coat.id: coat.label for coat in (*before.coats, *after.coats)}
    worn = {scope.coat for scope in (*before.worn, *after.worn)}
    for id_ in unlike(dict(before.coat_backdrops), dict(after.coat_backdrops)):
        if id_ in worn:
            brings = after.coat_backdrops.get(id_)
            says = f"brings {_lies_on(brings)}" if brings is not None else "brings no backdrop any more"
            yield ToldChange(f"coat:{id_}", "coat", labels.get(id_, id_), says)


def _order(before: Study, after: Study) -> Iterator[ToldChange]:
    """Tell where what wears a coat takes other colours of the palette, since they come first in it now."""
    if not before.worn and not after.worn:
        return
    labels, was, now = {**before.labels, **after.labels}, firsts_of(before), firsts_of(after)
    kept = {role.id for role in before.roles}
    names = [labels[now[use]] for use, id_ in was.items() if use in now and now[use] != id_ and now[use] in kept]
    gone = [labels[id_] for use, id_ in was.items() if use not in now]
    if names or gone:
        kind = "its kind" if len(names) == 1 else "their kind"
        said = [f"{listed(names, 4)} now {plural(len(names), 'stands')} for {kind}"]
        said = [*(said if names else []), *([f"{listed(gone, 4)} {plural(len(gone), 'is')} no more"] if gone else [])]
        says = f"where a coat says nothing, {' and '.join(said)}"
        yield ToldChange("order", "order", "The order of the palette", says)


def _aim(before: Study, after: Study) -> Iterator[ToldChange]:
    if before.aim != after.aim and (before.worn or after.worn):
        says = f"{before.aim} to {after.aim}: what coats mix of other colours goes by it"
        yield ToldChange("aim", "aim", "The level aimed at", says)


def firsts_of(study: Study) -> dict[tuple[str, str | None, str], str]:
    """Return the role that stands for each kind in each coat and state."""
    uses = dict.fromkeys((role.kind, role.coat, role.state) for role in study.roles)
    found = {use: study.first(*use) for use in uses}
    return {use: role.id for use, role in found.items() if role is not None}


def _fades(before: Study, after: Study) -> Iterator[ToldChange]:
    was, now = fades_of(before), fades_of(after)
    for selector in unlike(was, now):
        level = now.get(selector)
        says = "as faded as the page has it" if level is None else f"faded to {percent(level)}"
        if level == 1:
            says = "no longer faded"
        yield ToldChange(f"fade:{selector}", "fade", "Faded text", says, selector=selector)


def _own(before: Study, after: Study) -> Iterator[ToldChange]:
    was, now = (without_fades(applied_css(one)) for one in (before, after))
    if was == now:
        return
    old, new = rules_of(was), rules_of(now)
    added, gone = [one for one in new if one not in old], [one for one in old if one not in new]
    parts = [f"{counted(len(added), 'rule')} added" if added else "", f"{len(gone):,} taken out" if gone else ""]
    said = ", ".join(part for part in parts if part) or "its rules in another order, or written otherwise"
    lines = (*(f"+{one}" for one in added), *(f"-{one}" for one in gone))
    yield ToldChange("css", "css", "Your own CSS", said, lines=lines)


def rules_of(css: str) -> list[str]:
    """Return the rules of some CSS, each on one line."""
    nodes = tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True)
    return [" ".join(node.serialize().split()) for node in nodes]

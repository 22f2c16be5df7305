"""One told change taken back, all else kept as it is."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from glaucon.core.changes.told import ToldChange, own_backdrops
from glaucon.core.study.backdrops import OfRole, paints_of
from glaucon.core.study.coat_backdrops import brought_along
from glaucon.core.study.fading import fades_of, with_fade
from glaucon.core.study.own_css import own_css, with_own_css
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study


def taken_back(study: Study, before: Study, change: ToldChange) -> Study:
    """Return a study with one of the changes that it makes to an earlier one taken back.

    What follows a colour keeps the value it has: it is told as a change of its own.
    """
    return brought_along(_WAYS[change.kind](study, before, change))


def _colour(study: Study, before: Study, change: ToldChange) -> Study:
    assert change.role is not None
    was = before.role(change.role)
    same = {"value": was.value, "found": was.found, "taken": was.taken, "tie": was.tie}
    return _with_role(study, study.role(change.role).model_copy(update=same))


def _part(study: Study, before: Study, change: ToldChange) -> Study:
    assert change.role is not None
    study = _moved(study, before, change)
    role = study.role(change.role)
    painted = {p.role for one in study.backdrops for p in paints_of(one) if isinstance(p, OfRole)}
    if role.id in painted or role.id in {to for tie in study.ties.values() for to in tie.origins}:
        return _with_role(study, role.model_copy(update={"value": role.found, "taken": False, "tie": None}))
    return study.model_copy(update={"roles": tuple(one for one in study.roles if one.id != role.id)})


def _moved(study: Study, before: Study, change: ToldChange) -> Study:
    mapping = dict(study.mapping)
    for key in change.tokens:
        mapping.pop(key, None)
        if (was := before.mapping.get(key)) is not None:
            mapping[key] = was
    study = study.model_copy(update={"mapping": mapping})
    return _with_missing(study, before, {before.mapping.get(key) for key in change.tokens})


def _place(study: Study, before: Study, change: ToldChange) -> Study:
    was = next((scope for scope in before.worn if scope.where == change.where), None)
    order = [scope.where for scope in before.worn]
    kept = [scope for scope in study.worn if scope.where != change.where]
    if was is not None:
        # among those of the same place in the cascade the later one holds: it goes where it was
        after = [n for n, one in enumerate(kept) if one.where in order[: order.index(was.where)]]
        kept.insert(after[-1] + 1 if after else 0, was)
    worn = {"worn": tuple(kept)}
    study = study.model_copy(update=worn)
    of_coat = [role.id for role in before.roles if was is not None and role.coat == was.coat and was.coat is not None]
    known = {coat.id for coat in study.coats}
    missing = tuple(coat for coat in before.coats if was is not None and coat.id == was.coat and coat.id not in known)
    study = study.model_copy(update={"coats": (*study.coats, *missing)})
    return _with_missing(study, before, of_coat)


def _backdrop(study: Study, before: Study, change: ToldChange) -> Study:
    was = own_backdrops(before).get(change.where)
    others = tuple(one for one in study.backdrops if one.where != change.where)
    study = study.model_copy(update={"backdrops": (*others, *((was,) if was is not None else ()))})
    if was is None:
        return study
    return _with_missing(study, before, [paint.role for paint in paints_of(was) if isinstance(paint, OfRole)])


def _coat(study: Study, before: Study, change: ToldChange) -> Study:
    id_ = change.key.removeprefix("coat:")
    brought = {name: one for name, one in study.coat_backdrops.items() if name != id_}
    if (was := before.coat_backdrops.get(id_)) is not None:
        brought[id_] = was
    return study.model_copy(update={"coat_backdrops": brought})


def _order(study: Study, before: Study, change: ToldChange) -> Study:
    study = _with_missing(study, before, [role.id for role in before.roles])
    place = {role.id: number for number, role in enumerate(before.roles)}
    tiers = {role.id: role.tier for role in before.roles}
    # what was made since comes after all that was there
    roles = sorted(study.roles, key=lambda role: place.get(role.id, len(place)))
    as_they_were = (role.model_copy(update={"tier": tiers.get(role.id, role.tier)}) for role in roles)
    return study.model_copy(update={"roles": tuple(as_they_were)})


def _aim(study: Study, before: Study, change: ToldChange) -> Study:
    return study.model_copy(update={"aim": before.aim})


def _fade(study: Study, before: Study, change: ToldChange) -> Study:
    return with_fade(study, change.selector, fades_of(before).get(change.selector))


def _css(study: Study, before: Study, change: ToldChange) -> Study:
    return with_own_css(study, own_css(before))


def _with_role(study: Study, role: Role) -> Study:
    roles = tuple(role if one.id == role.id else one for one in study.roles)
    return study.model_copy(update={"roles": roles})


def _with_missing(study: Study, before: Study, ids: Iterable[str | None]) -> Study:
    """Return the study with roles of an earlier one that it has no more."""
    known, wanted = {role.id for role in study.roles}, set(ids)
    missing = [role for role in before.roles if role.id in wanted - known]
    there = known | {role.id for role in missing}
    loose = [role for role in missing if role.tie is not None and not set(role.tie.origins) <= there]
    roles = tuple(role.model_copy(update={"tie": None}) if role in loose else role for role in missing)
    coats = {role.coat for role in missing} - {coat.id for coat in study.coats}
    more = tuple(coat for coat in before.coats if coat.id in coats)
    return study.model_copy(update={"roles": (*study.roles, *roles), "coats": (*study.coats, *more)})


_WAYS: Mapping[str, Callable[[Study, Study, ToldChange], Study]] = {
    "colour": _colour, "part": _part, "moved": _moved, "place": _place, "backdrop": _backdrop, "coat": _coat,
    "order": _order, "aim": _aim, "fade": _fade, "css": _css,
}  # fmt: skip

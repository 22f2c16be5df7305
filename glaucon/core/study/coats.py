"""What is done with coats and scopes: given to sections and taken off, made, renamed, deleted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from glaucon.core.colour.value import css_text, read_colour
from glaucon.core.errors import StudyError
from glaucon.core.study.coat_backdrops import brought_along
from glaucon.core.study.editing import free_id
from glaucon.core.study.roles import Coat, Role
from glaucon.core.study.scopes import Join, Like, Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.wording import counted, plural

_MOST_COATS = 60


def wear(study: Study, places: Iterable[Where], coat: str | None, values: Mapping[str, str]) -> Study:
    """Return the study with some places wearing a coat or values of their own; with neither they wear nothing more.

    Raises: StudyError: no such coat.
    """
    if coat is not None:
        _coat(study, coat)
    wanted = list(dict.fromkeys(places))
    kept = [scope for scope in study.worn if scope.where not in wanted]
    if coat is not None or values:
        joins = _joins(study)
        kept += [
            Scope.model_validate({"in": where, "coat": coat, "set": values, "join": joins.get(where)})
            for where in wanted
        ]
    return _followed(study.model_copy(update={"worn": tuple(kept)}))


def wear_as(study: Study, places: Iterable[Where], like: Like) -> Study:
    """Return the study with some places taking the colours of another from now on, whatever that one wears.

    Raises: StudyError: a place would take its own colours, straight or round a circle.
    """
    wanted = list(dict.fromkeys(places))
    kept = [scope for scope in study.worn if scope.where not in wanted]
    joins = _joins(study)
    kept += [Scope.model_validate({"in": where, "as": like, "join": joins.get(where)}) for where in wanted]
    return _followed(study.model_copy(update={"worn": tuple(kept)}))


def _joins(study: Study) -> dict[Where, Join | None]:
    """Return what each place goes on into: it stays so whatever the place is given."""
    return {scope.where: scope.join for scope in study.worn}


def _followed(study: Study) -> Study:
    """Return the study with each place that takes another's colours wearing what that one wears now.

    Raises: StudyError: places that take each other's colours.
    """
    of_place = {scope.where: scope for scope in study.worn}

    def source(scope: Scope) -> Scope:
        seen = {scope.where}
        like = scope.like
        while like is not None:
            if like.where in seen:
                raise StudyError("These places would take their colours from each other. Choose another one.")
            seen.add(like.where)
            found = of_place.get(like.where)
            if found is None:
                return scope.model_copy(update={"coat": like.came, "set": {}})
            scope, like = found, found.like
        return scope

    worn = []
    for scope in study.worn:
        of = source(scope)
        worn.append(scope.model_copy(update={"coat": of.coat, "set": of.set}) if scope.like is not None else scope)
    return brought_along(study.model_copy(update={"worn": tuple(worn)}))


def join(study: Study, joins: Mapping[Where, Join | None]) -> Study:
    """Return the study with sections that go on into the ones below them, or do no longer."""
    worn = (
        scope.model_copy(update={"join": joins[scope.where]}) if scope.where in joins else scope for scope in study.worn
    )
    return study.model_copy(update={"worn": tuple(worn)})


def add_coat(study: Study, label: str, background: str, like: str | None = None) -> tuple[Study, str]:
    """Return the study with one more coat, and its id; `like` gives it all that another coat has.

    Raises: StudyError: too many coats, or a label that says nothing. ColourError: `background` is no colour.
    """
    label = _label(study, label)
    if len(study.coats) >= _MOST_COATS:
        raise StudyError(f"A study holds {_MOST_COATS} coats at most. Delete one that nothing wears.")
    id_ = free_id((coat.id for coat in study.coats), label)
    taken = [role.id for role in study.roles]
    roles = []
    for role in study.roles_of(like) if like is not None else []:
        own = free_id(taken, f"{id_}.{role.id.partition('.')[2] or role.kind}")
        taken.append(own)
        name = f"{label} {role.kind.replace('-', ' ')}"[:80]
        fields = {"id": own, "coat": id_, "label": name, "found": role.value, "taken": False, "tie": None}
        roles.append(role.model_copy(update=fields))
    if not any(role.kind == "background" and role.state == "rest" for role in roles):
        value = css_text(read_colour(background))
        roles.insert(0, Role(id=free_id(taken, f"{id_}.background"), kind="background", coat=id_, label=label,
                             value=value, found=value, reason="Added by you."))  # fmt: skip
    coat = Coat(id=id_, label=label, came=False)
    brought = dict(study.coat_backdrops)
    if like in brought:
        brought[id_] = brought[like]
    new = {"coats": (*study.coats, coat), "roles": (*study.roles, *roles), "coat_backdrops": brought}
    return study.model_copy(update=new), id_


def rename_coat(study: Study, id_: str, label: str) -> Study:
    """Return the study with a coat called otherwise. Raises: StudyError: no such coat, or a label that says nothing."""
    label = _label(study, label, _coat(study, id_))
    coats = tuple(c.model_copy(update={"label": label}) if c.id == id_ else c for c in study.coats)
    return study.model_copy(update={"coats": coats})


def delete_coat(study: Study, id_: str, to: str | None, is_answered: bool) -> Study:
    """Return the study without a coat; what wears it wears `to` from then on, or the site's own colours.

    Raises: StudyError: it is worn and nothing is said of its wearers; it came with the site, whose colours it holds.
    """
    coat = _coat(study, id_)
    wearers = [scope.where for scope in study.worn if scope.coat == id_ and scope.like is None]
    if coat.came:
        raise StudyError(f"“{coat.label}” came with the site. Give its sections another coat instead.")
    if wearers and not is_answered:
        count = len(wearers)
        raise StudyError(
            f"{counted(count, 'place')} {plural(count, 'wears')} “{coat.label}”. Choose what to wear there instead."
        )
    study = wear(study, wearers, to, {})
    gone = {role.id for role in study.roles_of(id_)}
    mapping = {key: role for key, role in study.mapping.items() if role not in gone}
    roles = tuple(role for role in study.roles if role.id not in gone)
    coats = tuple(one for one in study.coats if one.id != id_)
    brought = {coat: one for coat, one in study.coat_backdrops.items() if coat != id_}
    new = {"coats": coats, "roles": roles, "mapping": mapping, "coat_backdrops": brought}
    return brought_along(study.model_copy(update=new))


def _coat(study: Study, id_: str) -> Coat:
    found = next((coat for coat in study.coats if coat.id == id_), None)
    if found is None:
        raise StudyError(f"This study has no coat “{id_}”. It may have been removed in another window.")
    return found


def _label(study: Study, label: str, own: Coat | None = None) -> str:
    label = " ".join(label.split())[:80]
    if not label:
        raise StudyError("A coat needs a name. Type what it is, such as “Lamp yellow”.")
    if any(coat.label.lower() == label.lower() and coat is not own for coat in study.coats):
        raise StudyError(f"There is a coat called “{label}” already. Choose another name.")
    return label

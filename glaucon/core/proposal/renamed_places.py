"""What a place is known by once its site has come in again, where a heading it was called by has changed."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Region


def renamed(before: Sequence[Region], after: Sequence[Region]) -> dict[str, Region]:
    """Return what regions that are gone by their key are known as now: those of their kind and selector that are new.

    Where two could be meant none is.
    """
    old, new = ({region.key: region for region in regions} for regions in (before, after))
    found: dict[str, Region] = {}
    for key in old.keys() - new.keys():
        was = old[key]
        come = (one for one in after if one.key not in old and one.pages & was.pages)
        some = [one for one in come if (one.kind, one.selector) == (was.kind, was.selector)]
        if len(some) == 1:
            found[key] = some[0]
    return found


def moved_to(study: Study, names: Mapping[str, Region]) -> Study:
    """Return a study whose places are called by their new keys."""
    new = {key: region.key for key, region in names.items()}

    def where(old: Where) -> Where:
        changes = {f: new[v] for f in ("section", "part") if (v := getattr(old, f)) in new}
        return old.model_copy(update=changes) if changes else old

    return study.model_copy(
        update={
            "worn": tuple(_scope(one, where, new) for one in study.worn),
            "backdrops": tuple(_backdrop(one, where) for one in study.backdrops),
        }
    )


def _scope(scope: Scope, where: Callable[[Where], Where], new: Mapping[str, str]) -> Scope:
    like, join = scope.like, scope.join
    if like is not None:
        like = like.model_copy(update={"where": where(like.where)})
    if join is not None:
        join = join.model_copy(update={"below": new.get(join.below, join.below)})
    return scope.model_copy(update={"where": where(scope.where), "like": like, "join": join})


def _backdrop(backdrop: Backdrop, where: Callable[[Where], Where]) -> Backdrop:
    return backdrop.model_copy(update={"where": where(backdrop.where)}) if backdrop.where is not None else backdrop

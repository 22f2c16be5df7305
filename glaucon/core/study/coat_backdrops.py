"""Backdrops laid behind places, and those that coats bring: who is given such a coat lies on its layers."""

from __future__ import annotations

from glaucon.core.errors import StudyError
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.study import Study, read_study


def with_backdrop(study: Study, backdrop: Backdrop) -> Study:
    """Return a study with another backdrop in its place; one without layers is taken away.

    Where a coat brings one, a place without layers keeps having none.
    Raises: StudyError: it names what the study does not have.
    """
    others = tuple(one for one in study.backdrops if one.where != backdrop.where)
    is_brought = any(scope.where == backdrop.where and scope.coat in study.coat_backdrops for scope in study.worn)
    mine = (backdrop,) if backdrop.layers or backdrop.plate is not None or is_brought else ()
    return read_study(study.model_copy(update={"backdrops": others + mine}).model_dump(mode="json"))


def with_coat_backdrop(study: Study, coat: str, backdrop: Backdrop) -> Study:
    """Return the study with a coat that brings the layers of a backdrop from now on; without layers it brings none.

    Where that backdrop lay, in a place that wears the coat, it comes with the coat now.
    Raises: StudyError: no such coat.
    """
    if not any(one.id == coat for one in study.coats):
        raise StudyError(f"This study has no coat “{coat}”. It may have been removed in another window.")
    brought = {name: one for name, one in study.coat_backdrops.items() if name != coat}
    if backdrop.layers:
        brought[coat] = backdrop.model_copy(update={"where": None, "of": None})
    wears = {scope.where for scope in study.worn if scope.coat == coat}
    kept = tuple(one for one in study.backdrops if not (one.where == backdrop.where and one.where in wears))
    return brought_along(study.model_copy(update={"coat_backdrops": brought, "backdrops": kept}))


def brought_along(study: Study) -> Study:
    """Return the study with each place on what its coat brings, unless it has a backdrop of its own."""
    if not study.coat_backdrops and not any(one.of for one in study.backdrops):
        return study
    own = [one for one in study.backdrops if one.of is None]
    taken = {one.where for one in own}
    brought = [
        study.coat_backdrops[scope.coat].model_copy(update={"where": scope.where, "of": scope.coat})
        for scope in study.worn
        if scope.coat is not None
        and scope.coat in study.coat_backdrops
        and scope.where not in taken
        and scope.where.at is None
    ]
    return study.model_copy(update={"backdrops": (*own, *brought)})

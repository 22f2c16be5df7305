"""Another site's palette put where it fits here: by what colours are for, coats by their names, the rest told."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field

from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.brought import Brought
from glaucon.core.study.coat_backdrops import brought_along
from glaucon.core.study.editing import free_id
from glaucon.core.study.roles import Coat, Role
from glaucon.core.study.study import Study
from glaucon.core.wording import counted, listed

_MOST_COATS = 60


@dataclass(slots=True)
class Fitted:
    """A study in another site's palette, and how it fits.

    `worn` lists the colours that found a role: their name there, the colour, our role's name. `left` is one sentence
    for each thing that found none.
    """

    study: Study
    worn: list[tuple[str, str, str]] = field(default_factory=list)
    coats: list[str] = field(default_factory=list)
    backdrops: int = 0
    left: list[str] = field(default_factory=list)


def fitted(study: Study, brought: Brought, places: Collection[str], files: Collection[str]) -> Fitted:
    """Return a study that wears what fits of a palette.

    `places` are the keys of the site's sections and parts, `files` the pictures that backdrops may name here.
    """
    fit = Fitted(study)
    coats = {coat.id: _same_coat(study, coat) for coat in brought.coats}
    values: dict[str, str] = {}
    small = 0
    for role in sorted(brought.roles, key=lambda one: one.tier != "main"):
        coat = coats.get(role.coat) if role.coat is not None else None
        if role.coat is not None and coat is None:
            continue  # it comes with its coat
        ours = _counterpart(study, role, coat.id if coat else None, values)
        if ours is not None:
            values[ours.id] = role.value
            fit.worn.append((role.label or role.id, role.colour.hex(), ours.label))
        elif role.tier == "main":
            fit.left.append(f"{role.label or role.id} ({role.colour.hex().upper()}): this site has nothing like it.")
        else:
            small += 1
    if small:
        fit.left.append(f"{counted(small, 'colour')} of badges, icons and the like: this site has none of those.")
    fit.study = study.with_values(values)
    for coat in brought.coats:
        if coats[coat.id] is None:
            _bring_coat(fit, brought, coat)
    _bring_backdrops(fit, brought, coats, places, files)
    return fit


def _same_coat(study: Study, coat: Coat) -> Coat | None:
    """Return the coat of ours that is called as theirs."""
    by_id = {one.id: one for one in study.coats}
    by_label = {one.label.lower(): one for one in study.coats}
    return by_label.get(coat.label.lower()) or by_id.get(coat.id)


def _counterpart(study: Study, role: Role, coat: str | None, taken: Collection[str]) -> Role | None:
    """Return our role for theirs: of the same id or name, else for a main one the first of its kind and state."""
    some = [
        one for one in study.roles
        if (one.kind, one.coat, one.state) == (role.kind, coat, role.state)
        and one.tier != "unseen" and not one.locked and one.id not in taken
    ]  # fmt: skip
    for same in (lambda one: one.id == role.id, lambda one: one.label.lower() == role.label.lower()):
        if (found := next(filter(same, some), None)) is not None:
            return found
    main = [one for one in some if one.tier == "main"]
    return main[0] if role.tier == "main" and main else None


def _bring_coat(fit: Fitted, brought: Brought, coat: Coat) -> None:
    """Add a coat with all its colours, so that sections here can be given it."""
    study = fit.study
    theirs = [role for role in brought.roles if role.coat == coat.id]
    if len(study.coats) >= _MOST_COATS or not any(one.kind == "background" for one in theirs):
        fit.left.append(f"The coat {coat.label}: {'there are too many' if theirs else 'it has no background'}.")
        return
    id_ = free_id((one.id for one in study.coats), coat.id)
    taken = [role.id for role in study.roles]
    roles = []
    for role in theirs:
        own = free_id(taken, f"{id_}.{role.id.partition('.')[2] or role.kind}")
        taken.append(own)
        fields = {"id": own, "coat": id_, "found": role.value, "taken": False, "tie": None, "locked": False}
        roles.append(role.model_copy(update=fields))
    new = {"coats": (*study.coats, Coat(id=id_, label=coat.label, came=False)), "roles": (*study.roles, *roles)}
    fit.study = study.model_copy(update=new)
    fit.coats.append(coat.label)


def _bring_backdrops(
    fit: Fitted, brought: Brought, coats: dict[str, Coat | None], places: Collection[str], files: Collection[str]
) -> None:
    known = {coat.label: coat.id for coat in fit.study.coats}
    kept = dict(fit.study.coat_backdrops)
    for id_, backdrop in brought.coat_backdrops.items():
        theirs = next(one for one in brought.coats if one.id == id_)
        ours = coats.get(id_)
        if (here := _shown_here(fit, backdrop, theirs.label, files)) is not None and theirs.label in known:
            kept[ours.id if ours else known[theirs.label]] = here
    laid = {one.where: one for one in fit.study.backdrops}
    for backdrop in brought.backdrops:
        region = backdrop.where.region if backdrop.where is not None else None
        name = (region or "the whole site").replace("-", " ")
        if backdrop.where is not None and (region not in places or backdrop.where.page is not None):
            fit.left.append(f"The backdrop of “{name}”: this site has no section of that name.")
        elif (here := _shown_here(fit, backdrop, name, files)) is not None:
            laid[backdrop.where] = here
            fit.backdrops += 1
    fit.backdrops += len(kept) - len(fit.study.coat_backdrops)
    fit.study = brought_along(fit.study.model_copy(update={"coat_backdrops": kept, "backdrops": tuple(laid.values())}))


def _shown_here(fit: Fitted, backdrop: Backdrop, name: str, files: Collection[str]) -> Backdrop | None:
    """Return a backdrop without the pictures that are not here; None where nothing is left of it."""
    gone = [one.picture.file for one in backdrop.layers if one.picture is not None and one.picture.file not in files]
    if not gone:
        return backdrop
    fit.left.append(f"The backdrop of “{name}” needs a picture from the other site: {listed(gone)}. Add it here first.")
    layers = tuple(one for one in backdrop.layers if one.picture is None or one.picture.file in files)
    return backdrop.model_copy(update={"layers": layers, "phone": None}) if layers else None

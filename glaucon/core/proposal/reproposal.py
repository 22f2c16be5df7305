"""A palette proposed anew for a study: values that its owner set stay with their roles."""

from __future__ import annotations

from glaucon.core.proposal.entries import Proposal
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Survey


def reproposed(study: Study, proposal: Proposal, survey: Survey) -> Study:
    """Return the study with the roles, coats and mapping of a new proposal."""
    kept = {role.id: role for role in study.roles}
    roles = []
    for role in proposal.roles:
        old = kept.get(role.id)
        if old is not None and old.value != old.found and old.tie is None:
            role = role.model_copy(update={"value": old.value, "label": old.label, "tie": None})
        roles.append(role)
    # coats that were made, and those that something wears, stay
    proposed = {coat.id for coat in proposal.coats}
    worn = {scope.coat for scope in study.worn} | set(study.coat_backdrops)
    coats = [coat for coat in study.coats if coat.id not in proposed and (not coat.came or coat.id in worn)]
    ids = {role.id for role in roles}
    roles += [role for coat in coats for role in study.roles_of(coat.id) if role.id not in ids]
    changed = study.model_copy(
        update={
            "roles": tuple(roles), "coats": (*proposal.coats, *coats), "mapping": proposal.mapping(survey),
        }
    )  # fmt: skip
    return changed.settled()

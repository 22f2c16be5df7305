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
    changed = study.model_copy(
        update={"roles": tuple(roles), "coats": tuple(proposal.coats), "mapping": proposal.mapping(survey)}
    )
    return changed.settled()

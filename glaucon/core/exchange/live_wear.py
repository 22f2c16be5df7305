"""How a site is live, shown on the previews of the study that is to be released."""

from __future__ import annotations

from collections.abc import Sequence

from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.changes.shown import as_it_came
from glaucon.core.exchange.preview import token_property
from glaucon.core.study.study import Study, token_key
from glaucon.core.study.wearing import Worn, share_of_opacity, wear_of


def live_wear(study: Study, live: Study | None, tokens: Sequence[ColourToken]) -> dict[str, str | None]:
    """Return the custom properties that show what is live on a study's previews; None is live: as it came.

    A colour that the study has set apart from its role is one of the role's there, or as it came.
    """
    original = as_it_came(study)
    if live is None:
        return wear_of(original, tokens)
    were = {role.id: role for role in live.roles}
    past = original.model_copy(update={"roles": tuple(were.get(role.id, role) for role in original.roles)})
    worn = wear_of(past, tokens)
    for token in tokens:
        key = token_key(token)
        was = live.mapping.get(key) if key is not None else None
        if key is None or was == study.mapping.get(key):
            continue
        role = were.get(was) if was is not None else None
        is_worn = role is not None and role.is_changed
        worn[token_property(token)] = (
            Worn(token, role, share_of_opacity(role, token)).text if role is not None and is_worn else token.text
        )
    return worn

"""The palette hidden in a site: few roles and coats that a person can hold, found from use and not from names.

The site's own roles and the coats of its sections are chosen by painted weight until they colour nearly all that is
painted; what is left becomes details, what shows nowhere is kept apart. A state's colour belongs to the colour that
the same texts have at rest.
"""

from __future__ import annotations

from glaucon.core.proposal.backgrounds import Backgrounds
from glaucon.core.proposal.brand import Brand
from glaucon.core.proposal.entries import Proposal
from glaucon.core.proposal.labels import labelled
from glaucon.core.proposal.lines import LinesAndRest
from glaucon.core.proposal.short_palette import ShortPalette
from glaucon.core.proposal.sorting import Sorting
from glaucon.core.proposal.states import States
from glaucon.core.proposal.texts import Texts
from glaucon.core.proposal.usage import TokenUse
from glaucon.core.study.study import token_key
from glaucon.core.survey.model import Survey

_MOST_ROLES = 120


def propose(survey: Survey, uses: list[TokenUse], within: float = 1.0) -> Proposal:
    """Return the palette proposed for a site.

    `within` scales how far apart colours may lie that come under one role: 0 joins only equal ones, 1 those that
    people take for one, 3 those that are plainly different.
    """
    proposal = _sorted(Sorting(survey, uses, within, within))
    coarse = within
    while len(proposal.roles) > _MOST_ROLES and coarse < 8:
        # a framework's stylesheet holds hundreds of colours that no person would keep apart
        coarse = max(1.0, coarse) * 1.6
        proposal = _sorted(Sorting(survey, uses, coarse, within))
    return proposal


def _sorted(so: Sorting) -> Proposal:
    uses, survey, states = so.uses, so.survey, States(so)
    tokens = [
        n for n, use in enumerate(uses)
        if token_key(survey.tokens[n]) is not None
        # a browser default that no text stands on or wears is nobody's colour
        and (survey.tokens[n].kind != "default" or use.runs)
    ]  # fmt: skip
    seen = [n for n in tokens if uses[n].is_seen]
    if not any(uses[n].kind == "background" for n in seen):
        seen = tokens
    at_rest = [n for n in seen if states.is_at_rest(n)]
    of_kind = {kind: [n for n in at_rest if uses[n].kind == kind] for kind in ("background", "text", "line", "other")}
    lines = LinesAndRest(so)
    Backgrounds(so).sort(of_kind["background"])
    Texts(so).sort(of_kind["text"])
    lines.sort_lines(of_kind["line"])
    lines.sort_others(of_kind["other"])
    ShortPalette(so).fill_up()
    states.sort([n for n in seen if n not in so.entry_of])
    lines.sort_unseen([n for n in tokens if n not in so.entry_of])
    Brand(so).lead()
    return labelled(so.palette, so.entries, so.coats, so.entry_of)

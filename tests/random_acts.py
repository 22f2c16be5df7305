"""Acts drawn at random for a study on its site: every kind that there is, the kinds of a person who tries things."""

from __future__ import annotations

import json
from collections.abc import Callable
from random import Random
from typing import Any

from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.changes.shown import as_it_came
from glaucon.core.changes.told import told_changes
from glaucon.core.seeing.beyond import beyond_findings
from glaucon.core.study.study import Study, token_key

Document = dict[str, Any]
Draw = Callable[[Random, SiteAtHand, Study], Document | None]
PATTERNS = ("planks", "ripples", "dots")


def _colour(chance: Random) -> str:
    return f"#{chance.randrange(0x1000000):06x}"


def _role(chance: Random, study: Study) -> str:
    return chance.choice([role.id for role in study.roles])


def _place(chance: Random, site: SiteAtHand) -> Document:
    survey = site.known.survey
    # a backdrop on a lone button of a site that holds its colours in variables is not read as it shows: known, and left
    found = [one.key for one in survey.regions if one.is_section and not one.is_drawn]
    return {"section": chance.choice(found)} if found and chance.random() < 0.8 else {"page": _page(chance, site)}


def _page(chance: Random, site: SiteAtHand) -> str:
    return chance.choice(list(site.known.survey.pages))


def _keys(chance: Random, site: SiteAtHand) -> list[str]:
    found = [key for token in site.known.survey.tokens if (key := token_key(token)) is not None]
    return chance.sample(found, min(2, len(found)))


def _backdrop(chance: Random, site: SiteAtHand, study: Study) -> Document:
    # over plain colours only: what a picture shows at a place only a browser can tell
    ground = {"colour": {"role": _role(chance, study)} if chance.random() < 0.5 else _colour(chance)}
    return {"in": _place(chance, site), "layers": [ground, {"veil": {"colour": _colour(chance), "opacity": 0.4}}]}


def _coat(chance: Random, study: Study) -> str | None:
    return chance.choice([coat.id for coat in study.coats] or [None])


def _of_coat(document: Callable[[Random, str], Document]) -> Draw:
    def draw(chance: Random, site: SiteAtHand, study: Study) -> Document | None:
        coat = _coat(chance, study)
        return None if coat is None else document(chance, coat)

    return draw


def _palette(chance: Random) -> str:
    named = {name: {"$type": "color", "$value": _colour(chance)} for name in ("page background", "text", "link hover")}
    return json.dumps(named)


def _thing(chance: Random, site: SiteAtHand, study: Study) -> str:
    return chance.choice([one.key for one in beyond_findings(site.known, study)] or ["field"])


def _change(chance: Random, site: SiteAtHand, study: Study) -> str:
    told = told_changes(site.released() or as_it_came(study), study)
    return chance.choice([one.key for one in told] or ["colour:none"])


DRAWS: dict[str, Draw] = {
    "take-palette": lambda c, site, s: {"palette": _palette(c)},
    "set-colour": lambda c, site, s: {"role": _role(c, s), "value": _colour(c), "merge": c.random() < 0.3},
    "add-role": lambda c, site, s: {"called": f"Rope {c.randrange(90)}", "value": _colour(c)},
    "rename-role": lambda c, site, s: {"role": _role(c, s), "to": f"Hull {c.randrange(90)}"},
    "remove-role": lambda c, site, s: {"role": _role(c, s), "to": None, "is_answered": True},
    "order-roles": lambda c, site, s: {"order": c.sample([r.id for r in s.roles], len(s.roles))},
    "tie-role": lambda c, site, s: {"role": _role(c, s), "tie": {"to": _role(c, s), "lighter": -0.1}},
    "lock-role": lambda c, site, s: {"role": _role(c, s), "is_locked": c.random() < 0.5},
    "set-aim": lambda c, site, s: {"aim": c.choice(["AA", "AAA"])},
    "move-colours": lambda c, site, s: {"keys": _keys(c, site), "to": _role(c, s)},
    "swap": lambda c, site, s: {"keys": _keys(c, site), "to": _colour(c)},
    "use-palette": lambda c, site, s: {"within": c.choice([None, 0.0, 1.0, 2.0]), "merge": c.random() < 0.3},
    "wear": lambda c, site, s: {"places": [_place(c, site)], "coat": _coat(c, s), "set": {"link": _colour(c)}},
    "wear-like": lambda c, site, s: {"places": [_place(c, site)], "like": _place(c, site)},
    "join-sections": lambda c, site, s: {
        "sections": [one.key for one in site.known.survey.regions if one.is_section][:2], "apart": c.random() < 0.5
    },
    "add-coat": lambda c, site, s: {"called": f"Dusk {c.randrange(90)}", "background": _colour(c)},
    "rename-coat": _of_coat(lambda c, coat: {"coat": coat, "to": f"Dawn {c.randrange(90)}"}),
    "delete-coat": _of_coat(lambda c, coat: {"coat": coat, "to": None, "is_answered": True}),
    "lay-backdrop": lambda c, site, s: {"backdrop": _backdrop(c, site, s)},
    "write-css": lambda c, site, s: {"css": f"h2 {{ color: {_colour(c)} }}"},
    "bring-back-mark": lambda c, site, s: {"source": "img/mark.svg", "way": "plate"},
    "mend-beyond": lambda c, site, s: {"keys": [_thing(c, site, s)]},
    "waive": lambda c, site, s: {"key": _thing(c, site, s), "said": c.choice(["decoration", "told", None])},
    "fade": lambda c, site, s: {"selector": c.choice(sorted(site.known.index.faded_by) or [".small"]), "opacity": 1.0},
    "fix": lambda c, site, s: {"values": {_role(c, s): _colour(c)}, "rules": ["h3 { color: #101010 }"]},
    "take-back": lambda c, site, s: {"change": _change(c, site, s)},
    "wear-palette": lambda c, site, s: {"values": {role.id: _colour(c) for role in s.roles}},
}  # fmt: skip


def draw_act(chance: Random, site: SiteAtHand, study: Study, kinds: tuple[str, ...] = tuple(DRAWS)) -> Document:
    """Return the document of a random act; it may be one that this study or site refuses."""
    while True:
        kind = chance.choice(kinds)
        drawn = DRAWS[kind](chance, site, study)
        if drawn is not None:
            return {"act": kind, **drawn}

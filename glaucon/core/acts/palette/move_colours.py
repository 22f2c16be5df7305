"""Colours of the files come under another role."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.core.acts.act import Act, ColourText, TokenKey
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.study import editing
from glaucon.core.study.roles import StateName
from glaucon.core.study.study import Study, token_key
from glaucon.core.study.ties import RoleId
from glaucon.core.wording import counted


class MoveColours(Act):
    """Move colours under a role (null: under none), or single places by key, to another role or to none.

    With `new_label` they make a role of their own, of the kind of `from_role` and worn in `new_state`.
    """

    act: Literal["move-colours"]
    colours: Annotated[tuple[ColourText, ...], Field(max_length=400)] = ()
    from_role: RoleId | None = None
    keys: Annotated[tuple[TokenKey, ...], Field(max_length=4000)] = ()
    to: RoleId | None = None
    new_label: Annotated[str, Field(max_length=80)] = ""
    new_state: StateName = "rest"

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        keys, to = self._keys(site, study), self.to
        if self.new_label:
            like = study.role(self.from_role) if self.from_role is not None else None
            value = self._value(site, keys)
            shown = next((study.role(r) for key in keys if (r := study.mapping.get(key))), None)
            id_ = f"{like.id}.{self.new_state}" if like and self.new_state != "rest" else ""
            study, to = editing.add_role(study, self.new_label, value, id_, like=like, state=self.new_state)
            if shown is not None and shown.is_changed and not self.colours:  # what is parted looks as it did
                study = study.with_values({to: shown.value})
        return editing.move_tokens(study, keys, to)

    def _keys(self, site: SiteAtHand, study: Study) -> list[str]:
        return [*self.keys, *editing.keys_of(study, site.known.survey.tokens, self.colours, self.from_role)]

    def _value(self, site: SiteAtHand, keys: list[str]) -> str:
        if self.colours:
            return self.colours[0][:7]
        wanted = set(keys)
        found = (t.colour.with_alpha(1.0).hex() for t in site.known.survey.tokens if token_key(t) in wanted)
        return next(found, "#000000")

    def label(self, before: Study, after: Study) -> str:
        moved = sum(before.mapping.get(key) != role for key, role in after.mapping.items())
        moved += sum(key not in after.mapping for key in before.mapping)
        if len(after.roles) > len(before.roles):
            return f"{after.roles[-1].label} has a colour of its own"
        return f"{counted(moved, 'place')} moved to another colour"

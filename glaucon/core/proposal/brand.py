"""The colour that is the site's own: it has a tile, and what else has the very colour follows that.

A person who turns the orange of a site into teal means all of it: buttons, links, the band in the middle. So the tile
that leads is called *Brand* where the colour is on more than what the tile itself is for.
"""

from __future__ import annotations

import re

from glaucon.core.proposal.entries import Entry
from glaucon.core.proposal.grouping import ColourGroup, Palette, Surface
from glaucon.core.proposal.sorting import Sorting
from glaucon.core.study.roles import TEXT_KINDS

LABEL = "Brand"
_SAME = 0.008  # ΔE OK: the very colour
_COLOURFUL = 0.06  # OKLCH chroma
_LEADS = ("accent", "link", "heading", "text")
_SAID = re.compile(r"primary|brand|accent|theme", re.IGNORECASE)
_STATUS = re.compile(r"danger|error|warn|success|info|invalid", re.IGNORECASE)
_IF_SAID = 2.0  # how much more a colour counts that its name says to be the site's own
_MUCH = 0.02  # of all that is painted: that a colour has which no button or link wears
_SHOWS = 0.01  # of all that is painted: that a follower colours for a person to see that the colour is there too
_ALSO = 0.1  # of the weight of its texts: that of what stands on it
_MOSTLY_BUTTONS = 0.5


def buttons_apart(palette: Palette, surfaces: list[Surface]) -> Surface | None:
    """Take the fills of buttons out of a colourful background that bands have too; None where none has such fills."""
    for surface in sorted(surfaces, key=lambda s: -s.weight):
        if palette.chroma(surface.tokens[0]) < _COLOURFUL:
            continue
        own = [n for n in surface.tokens if _fills_buttons(palette, n)]
        left = [n for n in surface.tokens if n not in own]
        if not own or not any(palette.uses[n].background for n in left):
            continue
        weight = sum(palette.uses[n].background for n in own)
        buttons = palette.surface(ColourGroup(sorted(own, key=lambda n: -palette.uses[n].background), weight))
        kept = palette.surface(ColourGroup(left, surface.weight - weight))
        surface.tokens, surface.weight, surface.painters = kept.tokens, kept.weight, kept.painters
        return buttons
    return None


def _fills_buttons(palette: Palette, number: int) -> bool:
    one = palette.surface(ColourGroup([number], 0.0))
    return palette.uses[number].background > 0 and one.button_share > _MOSTLY_BUTTONS


class Brand:
    """Chooses the role that leads, and those that follow it."""

    def __init__(self, sorting: Sorting) -> None:
        self._sorting = sorting
        self._palette = sorting.palette
        self._uses = sorting.uses

    def lead(self) -> None:
        """Name the tile of the site's own colour, and tie to it what else has the colour."""
        leads = [e for e in self._sorting.entries if self._may_lead(e)]
        if not leads:
            return
        leader = max(leads, key=lambda e: (self._weight(e), -_LEADS.index(e.kind)))
        if leader.kind not in ("accent", "link") and self._weight(leader) < _MUCH * self._sorting.total:
            return
        like = [e for e in self._of_its_colour(leader) if e is not leader and self._may_follow(e)]
        if not self._is_ground_too(leader) and not any(self._is_seen(e) for e in like):
            return  # it is what its own name says, and nothing more
        leader.label = LABEL
        for entry in like:
            entry.follows = leader

    def _may_lead(self, entry: Entry) -> bool:
        is_site = entry.coat is None and entry.home is None and entry.state == "rest" and entry.tier == "main"
        is_lively = entry.kind in _LEADS and self._palette.chroma(entry.group.tokens[0]) >= _COLOURFUL
        return is_site and is_lively and (self._says(entry, _SAID) or not self._says(entry, _STATUS))

    @staticmethod
    def _may_follow(entry: Entry) -> bool:
        """Return whether a role may follow: no state of another, and not the site's own text."""
        return entry.base is None and not (entry.kind == "text" and entry.is_chief and entry.coat is None)

    def _is_seen(self, entry: Entry) -> bool:
        """Return whether a follower shows enough, at rest, for the colour to be more than its leader's."""
        if entry.state != "rest" or not any(self._uses[n].is_seen for n in entry.group.tokens):
            return False
        weight = sum(self._uses[n].background + self._uses[n].text for n in entry.group.tokens)
        return entry.tier == "main" or weight > _SHOWS * self._sorting.total or self._says(entry, _SAID)

    def _is_ground_too(self, entry: Entry) -> bool:
        uses = [self._uses[n] for n in entry.group.tokens]
        is_text = entry.kind in TEXT_KINDS
        return is_text and sum(use.background for use in uses) > _ALSO * sum(use.text for use in uses)

    def _says(self, entry: Entry, words: re.Pattern[str]) -> bool:
        told = (self._sorting.survey.tokens[n] for n in entry.group.tokens if self._uses[n].is_seen)
        return any(words.search(f"{token.property} {token.selector}") for token in told)

    def _of_its_colour(self, leader: Entry) -> list[Entry]:
        own = leader.group.tokens[0]
        return [
            e for e in self._sorting.entries
            if e.tier != "unseen" and self._palette.distance(e.group.tokens[0], own) <= _SAME
            and self._palette.alpha(e.group.tokens[0]) == 1
        ]  # fmt: skip

    def _weight(self, leader: Entry) -> float:
        """Return how much of the site has a role's colour, at rest, more where names say that it is the site's own."""
        tokens = [n for e in self._of_its_colour(leader) if e.state == "rest" for n in e.group.tokens]
        shown = sum(self._uses[n].background + self._uses[n].text for n in tokens)
        is_said = any(self._says(e, _SAID) for e in self._of_its_colour(leader) if e.state == "rest")
        return shown * (_IF_SAID if is_said else 1.0)

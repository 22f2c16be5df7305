"""Which roles are shown first: the short palette a person holds."""

from __future__ import annotations

from glaucon.core.proposal.covering import COVERED
from glaucon.core.proposal.entries import Entry
from glaucon.core.proposal.sorting import Sorting
from glaucon.core.study.roles import TEXT_KINDS
from glaucon.core.study.study import MOST_COATS, MOST_SITE_ROLES

_YIELDING = ("panel", "quiet", "heading", "accent-text")  # make room for what is painted more


class ShortPalette:
    """Fills the places that are left among the site's main roles."""

    def __init__(self, sorting: Sorting) -> None:
        self._sorting = sorting
        self._palette = sorting.palette
        self._entries = sorting.entries
        self._coats = sorting.coats
        self._total = sorting.total

    def fill_up(self) -> None:
        """Fill free places in the short palette by painted weight, then replace main roles of little weight."""
        free = sorted(
            (
                e for e in self._entries
                if e.tier == "detail" and e.coat is None and e.home is None and e.kind in ("text", "link")
                and e.state == "rest" and e.group.weight > 0.01 * self._total
            ),
            key=lambda e: (self._is_held(e), -e.group.weight),
        )  # fmt: skip
        for entry in free:
            main = [e for e in self._entries if e.tier == "main" and e.coat is None and e.state == "rest"]
            if len(main) >= MOST_SITE_ROLES:
                least = min((e for e in main if e.kind in _YIELDING), key=lambda e: e.group.weight, default=None)
                if self._is_held(entry):
                    break
                if least is not None and least.group.weight <= 0.5 * entry.group.weight:
                    least.tier = "detail"
                elif not self._panel_to_coat():
                    break
            entry.tier = "main"
        for entry in self._entries:
            if entry.coat is not None and entry.tier == "detail" and entry.group.weight > 0.002 * self._total:
                entry.tier = "main"

    def _panel_to_coat(self) -> bool:
        """Make the panel a coat, where the site's own places are wanted for text; return whether that could be."""
        panel = next((e for e in self._entries if e.kind == "panel" and e.tier == "main"), None)
        if panel is None or self._sorting.panel is None or len(self._coats) >= MOST_COATS:
            return False
        panel.kind, panel.coat = "background", self._sorting.panel
        self._coats.append(self._sorting.panel)
        return True

    def _is_held(self, entry: Entry) -> bool:
        """Return whether the site's short palette has a text of this colour already that is painted as much."""
        own = entry.group.tokens[0]
        return any(
            self._palette.distance(e.group.tokens[0], own) <= COVERED
            for e in self._entries
            if e is not entry
            and e.tier == "main"
            and e.coat is None
            and e.kind in TEXT_KINDS
            and (e.kind != "accent-text" or e.group.weight >= entry.group.weight)
        )

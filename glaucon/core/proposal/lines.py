"""Borders, shadows, and what the files say but no page shows."""

from __future__ import annotations

from glaucon.core.proposal.sorting import ALIKE_LINES, ALIKE_UNSEEN, Sorting
from glaucon.core.study.roles import BACKGROUND_KINDS


class LinesAndRest:
    """Chooses what the site is drawn with besides."""

    def __init__(self, sorting: Sorting) -> None:
        self._sorting = sorting
        self._survey = sorting.survey
        self._uses = sorting.uses
        self._palette = sorting.palette
        self._entries = sorting.entries
        self._entry_of = sorting.entry_of

    def sort_lines(self, tokens: list[int]) -> None:
        marks = [n for n in tokens if self._survey.tokens[n].property.startswith("outline")]
        # the border of a button goes with the button, not with some text that happens to have its colour
        self._sorting.put_equal(tokens, [e for e in self._entries if e.kind == "link" or e.kind in BACKGROUND_KINDS])
        groups = self._palette.cluster([n for n in tokens if n not in self._entry_of and n not in marks], ALIKE_LINES)
        for place, group in enumerate(sorted(groups, key=lambda g: -g.weight)):
            is_first = place == 0
            reason = "Borders and dividers." if is_first else "Other lines."
            self._sorting.add(group, "line", reason, "main" if is_first else "detail")
        for group in self._palette.cluster([n for n in marks if n not in self._entry_of], ALIKE_LINES):
            self._sorting.add(group, "line", "The outline of what has the keyboard's focus.").state = "focus"

    def sort_others(self, tokens: list[int]) -> None:
        """Shadows, glows and the like: under a role that has the colour, else under roles of their own."""
        self._sorting.put_equal([n for n in tokens if self._palette.alpha(n) == 1])
        for group in self._palette.cluster([n for n in tokens if n not in self._entry_of], ALIKE_LINES):
            self._sorting.add(group, "shadow", "Shadows and glows.")

    def sort_unseen(self, tokens: list[int]) -> None:
        """Assign colours that no page shows to the nearest role of the same use, should they ever show."""
        for use, kind in (("background", "background"), ("text", "text"), ("line", "line"), ("other", "shadow")):
            own = [n for n in tokens if self._uses[n].kind == use]
            self._sorting.join(
                own,
                [e for e in self._entries if self._sorting.is_of_use(e, use) and e.state == "rest"],
                ALIKE_UNSEEN / 2,
            )
            for group in self._palette.cluster([n for n in own if n not in self._entry_of], ALIKE_UNSEEN):
                self._sorting.add(group, kind, "In the files, on no page.", "unseen")  # type: ignore[arg-type]

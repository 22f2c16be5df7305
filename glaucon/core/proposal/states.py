"""Roles for colours that show only in a state, each attached to the role its texts have at rest."""

from __future__ import annotations

from collections import defaultdict

from glaucon.core.proposal.entries import Entry
from glaucon.core.proposal.grouping import ColourGroup, Surface
from glaucon.core.proposal.naming import STATE_LABELS
from glaucon.core.proposal.sorting import ALIKE, Sorting
from glaucon.core.study.roles import Kind, StateName

_SAME = 0.005  # a state that looks like its rest
_A_PART = 0.1  # of the texts that show a state's colour
_SHOWN: tuple[StateName, ...] = ("hover", "focus", "active", "visited")

_CURRENT = (
    "aria-current",
    ".active",
    ".current",
    ".selected",
    ".is-active",
    ".current-menu-item",
    "-active",
    "-current",
)
_DISABLED = (":disabled", "[disabled", ".disabled", "aria-disabled")


class States:
    """Chooses what states show."""

    def __init__(self, sorting: Sorting) -> None:
        self._sorting = sorting
        self._survey = sorting.survey
        self._uses = sorting.uses
        self._palette = sorting.palette
        self._entries = sorting.entries
        self._entry_of = sorting.entry_of

    def sort(self, tokens: list[int]) -> None:
        """Put what shows only in a state beside the role that the same texts have at rest."""
        known: dict[tuple[int, str], list[Entry]] = defaultdict(list)
        by_base: dict[tuple[Entry | None, StateName, str], list[int]] = defaultdict(list)
        for number in tokens:
            by_base[self._base_of(number), self._state_of(number), self._uses[number].kind].append(number)
        for (base, state, use), some in by_base.items():
            if base is not None and self._sorting.is_of_use(base, use):
                own = base.group.tokens[0]
                self._sorting.put(base, [n for n in some if self._palette.distance(n, own) < _SAME])
            equal = base is None or base.tier != "main" or use in ("line", "other")
            # A hover may join a main role of its colour, or one of its own kind. Joining a small role of another kind
            # would tie two things that have only the colour in common.
            kind = base.kind if base is not None else None
            alike = (
                [e for e in self._entries if self._sorting.is_of_use(e, use) and (e.kind == kind or e.tier == "main")]
                if use in ("text", "background") else None
            )  # fmt: skip
            self._sorting.put_equal([n for n in some if n not in self._entry_of] if equal else [], alike)
            left = [n for n in some if n not in self._entry_of]
            for group in self._palette.cluster(
                left, ALIKE, lambda n: self._uses[n].text + self._uses[n].background + 1
            ):
                self._add_state(group, base, state, use, known)

    def _add_state(
        self, group: ColourGroup, base: Entry | None, state: StateName, use: str,
        known: dict[tuple[int, str], list[Entry]],
    ) -> None:  # fmt: skip
        kind: Kind = {"text": "text", "background": "background", "line": "line"}.get(use, "shadow")  # type: ignore[assignment]
        if base is not None and self._sorting.is_of_use(base, use):
            kind = base.kind
        else:
            base = None
        entry = self._sorting.add(
            group, kind, f"Shown on {STATE_LABELS[state]} only.", coat=base.coat if base else None
        )
        entry.state, entry.base = state, base
        if base is not None:
            beside = known[id(base), state]
            # more than one hover colour of one role: the first is the tile's, the others are details beside it
            entry.tier = base.tier if not beside else "detail"
            beside.append(entry)

    def _base_of(self, number: int) -> Entry | None:
        weights: dict[int, float] = defaultdict(float)
        entries: dict[int, Entry] = {}
        for before, weight in self._uses[number].at_rest.items():
            if (entry := self._entry_of.get(before)) is not None and entry.state == "rest":
                weights[id(entry)] += weight
                entries[id(entry)] = entry
        if weights:
            # what all links do belongs with the links of the short palette, however large a brand's words are
            main = {
                key
                for key in weights
                if entries[key].tier == "main" and weights[key] >= _A_PART * sum(weights.values())
            }
            best = entries[max(main or weights, key=lambda key: weights[key])]
            # a menu item that is filled when hovered: the page below it has no hover
            is_below = self._uses[number].kind == "background" and best.kind != "accent" and best.home is None
            return None if is_below and not (isinstance(best.group, Surface) and best.group.is_button) else best
        if self._uses[number].kind == "text" and "visited" in self._uses[number].states:
            return next((e for e in self._entries if e.kind == "link" and e.coat is None and e.tier == "main"), None)
        return None

    def is_at_rest(self, number: int) -> bool:
        use = self._uses[number]
        selector = self._survey.tokens[number].selector
        if not use.states:
            return not any(f":{state}" in selector for state in ("hover", "focus", "active", "visited"))
        return "rest" in use.states and not _current_or_disabled(selector)

    def _state_of(self, number: int) -> StateName:
        use, selector = self._uses[number], self._survey.tokens[number].selector
        if "rest" in use.states and (marked := _current_or_disabled(selector)):
            return marked
        shown = [state for state in _SHOWN if state in use.states]
        written = [state for state in _SHOWN if f":{state}" in selector]
        if shown or written:
            return (shown or written)[0]
        return _current_or_disabled(selector) or "hover"


def _current_or_disabled(selector: str) -> StateName | None:
    """Return whether a rule is for the current page's menu item or for what is disabled, by its subject."""
    last = selector.split(",")[0].strip().split(" ")[-1]
    if ":not(" in last:
        return None
    if any(mark in last for mark in _DISABLED):
        return "disabled"
    return "current" if any(mark in last for mark in _CURRENT) else None

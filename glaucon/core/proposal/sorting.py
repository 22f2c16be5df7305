"""The steps of assigning tokens to roles that backgrounds, texts, lines and states have in common."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.value import Colour
from glaucon.core.proposal.entries import Entry
from glaucon.core.proposal.grouping import ColourGroup, Palette, Surface
from glaucon.core.proposal.usage import TokenUse
from glaucon.core.study.roles import BACKGROUND_KINDS, TEXT_KINDS, Kind, Tier
from glaucon.core.study.study import MOST_SITE_ROLES
from glaucon.core.survey.model import Survey
from glaucon.core.wording import counted

# ΔE OK within which found colours count as one; 0.02 is about a just noticeable difference.
ALIKE = 0.022
ALIKE_TEXT = 0.03
ALIKE_LINES = 0.09
ALIKE_UNSEEN = 0.13
JOINS = 0.075  # what little is left joins what is near
_SEEN = 1.5  # contrast under which nobody would see a text


class Sorting:
    """Assigns tokens to roles step by step: holds the roles chosen so far, and joins further tokens to them."""

    def __init__(self, survey: Survey, uses: list[TokenUse], within: float, asked: float) -> None:
        """`asked` is what was asked for where `within` had to be more: what is widely painted goes by that."""
        self.survey, self.uses, self.asked = survey, uses, asked
        self.palette = Palette(survey, uses, within)
        self.entries: list[Entry] = []
        self.entry_of: dict[int, Entry] = {}
        self.surface_of: dict[int, Surface] = {}
        self.page: Surface | None = None
        self.panel: Surface | None = None
        self.accent: Surface | None = None
        self.coats: list[Surface] = []
        self.total = sum(use.background for use in uses) or 1.0

    def add(
        self, group: ColourGroup, kind: Kind, reason: str, tier: Tier = "detail", coat: Surface | None = None,
        home: Surface | None = None,
    ) -> Entry:  # fmt: skip
        is_chief = tier == "main"
        if (
            tier == "main"
            and coat is None
            and sum(1 for e in self.entries if e.tier == "main" and e.coat is None and e.state == "rest")
            >= MOST_SITE_ROLES
        ):
            tier = "detail"
        entry = Entry(group, kind, reason, coat, tier=tier, home=home, is_chief=is_chief)
        self.entries.append(entry)
        self.put(entry, group.tokens, extend=False)
        return entry

    def put(self, entry: Entry, tokens: Iterable[int], extend: bool = True) -> None:
        for number in list(tokens):
            self.entry_of[number] = entry
            if extend and number not in entry.group.tokens:
                entry.group.tokens.append(number)

    def join(self, tokens: Iterable[int], entries: list[Entry], within: float) -> None:
        """Put each token under the nearest of some roles, if it is near enough."""
        for number in tokens:
            near = [(self.palette.distance(number, e.group.tokens[0]), place) for place, e in enumerate(entries)]
            if near and min(near)[0] < within * self.palette.within:
                self.put(entries[min(near)[1]], [number])

    def put_equal(self, tokens: list[int], entries: list[Entry] | None = None) -> None:
        some = self.entries if entries is None else entries
        for number in tokens:
            same = next((e for e in some if e.state == "rest" and self.is_equal(e, number)), None)
            if same is not None:
                self.put(same, [number])

    def is_equal(self, entry: Entry, number: int) -> bool:
        return self.survey.tokens[entry.group.tokens[0]].colour.rgb == self.survey.tokens[number].colour.rgb

    @staticmethod
    def is_of_use(entry: Entry, use: str) -> bool:
        kinds = {"text": TEXT_KINDS, "background": BACKGROUND_KINDS, "line": {"line"}}.get(use, {"shadow"})
        return entry.kind in kinds

    def main_surface(self, number: int) -> Surface | None:
        weights: dict[int, float] = defaultdict(float)
        for below, weight in self.uses[number].on.items():
            surface = self.surface_of.get(below)
            weights[id(surface) if surface is not None else 0] += weight
        best = max(weights, key=lambda key: weights[key], default=0)
        return next((s for s in self.surface_of.values() if id(s) == best), None)

    def largest(self, tokens: list[int]) -> ColourGroup | None:
        groups = self.palette.cluster(tokens, ALIKE_TEXT, self.text_weight)
        return max(groups, key=lambda g: g.weight, default=None)

    def text_weight(self, number: int) -> float:
        return self.uses[number].text

    def background_weight(self, number: int) -> float:
        return self.uses[number].background

    def stands_on(self, surface: Surface) -> str:
        count = len({run for n in surface.tokens for run in self.uses[n].runs})
        return f"Behind {counted(count, 'text')}."

    def shows_on_the_page(self, number: int) -> bool:
        """Return whether a text's colour would be seen on the page's background, or on its panels."""
        grounds = [surface.tokens[0] for surface in (self.page, self.panel) if surface is not None]
        own, *others = (Colour(*self.uses[n].painted[:3]) for n in (number, *grounds))
        return not others or any(contrast_ratio(own, other) >= _SEEN for other in others)

"""The backgrounds of a palette: the page, its buttons and panels, and the coats of sections."""

from __future__ import annotations

from collections import defaultdict

from glaucon.core.proposal.brand import buttons_apart
from glaucon.core.proposal.grouping import ColourGroup, Surface
from glaucon.core.proposal.sorting import ALIKE, ALIKE_TEXT, JOINS, Sorting
from glaucon.core.study.roles import BACKGROUND_KINDS
from glaucon.core.study.study import MOST_COATS

_A_SECTION, _A_FILL = 0.004, 0.015  # of all that is painted: the least a coat of a section, or of another fill, has
_NEARLY, _MUCH = 0.6, 0.25  # opacity of a background that hides most below it; of all backgrounds
_BUTTONS_TOO = 0.33  # of what a colour paints: that it is one of buttons, where none is of little else
_OF_PAGE = 5.0  # how much more a background counts as the page's that the page itself paints


class Backgrounds:
    """Chooses what the site stands on."""

    def __init__(self, sorting: Sorting) -> None:
        self._sorting = sorting
        self._uses = sorting.uses
        self._asked = sorting.asked
        self._palette = sorting.palette
        self._entries = sorting.entries
        self._entry_of = sorting.entry_of
        self._surface_of = sorting.surface_of
        self._coats = sorting.coats
        self._total = sorting.total

    def sort(self, tokens: list[int]) -> None:
        solid = [n for n in tokens if self._is_solid(n) and self._uses[n].background > 0]
        solid = solid or [n for n in tokens if self._palette.alpha(n) == 1] or tokens[:1]
        if not solid:
            return
        # large fills that are barely apart (a white page, a pale grey band) were set apart on purpose
        narrow = ALIKE / 2 * self._asked / self._palette.within if self._palette.within else ALIKE / 2
        groups = self._palette.cluster(solid, narrow, self._sorting.background_weight)
        surfaces = [self._palette.surface(group) for group in self._joined(groups)]
        for surface in surfaces:
            self._surface_of.update(dict.fromkeys(surface.tokens, surface))
        page = max(surfaces, key=_as_page)
        self._sorting.page = page
        heaviest = max(surfaces, key=lambda s: s.weight)
        reason = "Behind most of the text." if page is heaviest else "Behind the page, where no section has its own."
        self._sorting.add(page, "background", reason, "main")
        others = [surface for surface in surfaces if surface is not page]
        self._sorting.accent = self._choose_accent(others)
        if self._sorting.accent is not None:
            others.remove(self._sorting.accent)
        elif (buttons := buttons_apart(self._palette, others)) is not None:
            self._sorting.accent = buttons
            self._surface_of.update(dict.fromkeys(buttons.tokens, buttons))
        if self._sorting.accent is not None:
            self._sorting.add(self._sorting.accent, "accent", "Fills buttons.", "main")
        self._sorting.panel = self._choose_panel(others, page)
        if self._sorting.panel is not None:
            self._sorting.add(self._sorting.panel, "panel", "Fills boxes on the page.", "main")
            others.remove(self._sorting.panel)
        self._choose_coats(others)
        for surface in others:
            if surface not in self._coats:
                self._sorting.add(surface, "background", self._sorting.stands_on(surface))
        left = [n for n in tokens if n not in self._entry_of]
        self._sorting.join(left, [e for e in self._entries if e.kind in BACKGROUND_KINDS], JOINS)
        for group in self._palette.cluster([n for n in left if n not in self._entry_of], JOINS):
            self._sorting.add(self._palette.surface(group), "background", "A fill with no text on it.")

    def _is_solid(self, number: int) -> bool:
        """Return whether a background is one by itself: opaque, or nearly so and behind much of the site."""
        alpha = self._palette.alpha(number)
        return alpha == 1 or (alpha >= _NEARLY and self._uses[number].background > _MUCH * self._total)

    def _joined(self, groups: list[ColourGroup]) -> list[ColourGroup]:
        """Return groups of backgrounds, small ones joined to the nearest that is heavier."""
        kept: list[ColourGroup] = []
        for group in sorted(groups, key=lambda g: -g.weight):
            is_small = group.weight < 0.02 * self._total
            reach = ALIKE * (self._palette.within if is_small else self._asked)
            near = [k for k in kept if self._palette.distance(k.tokens[0], group.tokens[0]) <= reach]
            if near and (is_small or self._asked > 1):
                near[0].tokens.extend(group.tokens)
                near[0].weight += group.weight
            else:
                kept.append(group)
        return kept

    def _choose_accent(self, surfaces: list[Surface]) -> Surface | None:
        buttons = [s for s in surfaces if s.is_button] or [s for s in surfaces if self._fills_buttons_too(s)]
        vivid = [s for s in buttons if self._palette.chroma(s.tokens[0]) > 0.04]
        strong = [
            s
            for s in buttons
            if self._sorting.page and self._palette.distance(s.tokens[0], self._sorting.page.tokens[0]) > 0.3
        ]
        return max(vivid or strong, key=lambda s: sum(len(self._uses[n].runs) for n in s.tokens), default=None)

    def _fills_buttons_too(self, surface: Surface) -> bool:
        """Return whether a colour is that of buttons and of ornaments beside, of no band that a site is built of."""
        is_vivid = self._palette.chroma(surface.tokens[0]) > 0.04
        return is_vivid and not surface.is_landmark and surface.button_share > _BUTTONS_TOO

    def _choose_panel(self, surfaces: list[Surface], page: Surface) -> Surface | None:
        near = [
            s for s in surfaces
            if not s.is_button and s.weight > 0
            and abs(self._palette.lab[s.tokens[0], 0] - self._palette.lab[page.tokens[0], 0]) < 0.09
            and self._palette.chroma(s.tokens[0]) < 0.09
        ]  # fmt: skip
        return max(near, key=lambda s: s.weight, default=None)

    def _choose_coats(self, surfaces: list[Surface]) -> None:
        """Choose the backgrounds that sections wear, the heaviest first, near ones under like text as one coat."""

        def rank(surface: Surface) -> float:
            return surface.weight * (4 if surface.is_landmark else 1 if surface.is_section else 0.4)

        for surface in sorted(surfaces, key=rank, reverse=True):
            least = _A_SECTION if surface.is_section else _A_FILL
            weight = rank(surface) if surface.is_section else surface.weight
            if surface.is_button or weight < least * self._total:
                continue
            near = next((c for c in self._coats if self._is_one_coat(c, surface)), None)
            if near is None and len(self._coats) < MOST_COATS:
                self._coats.append(surface)
                self._sorting.add(surface, "background", self._sorting.stands_on(surface), "main", coat=surface)
            elif near is not None:
                self._merge(near, surface)

    def _is_one_coat(self, one: Surface, other: Surface) -> bool:
        apart = self._palette.distance(one.tokens[0], other.tokens[0])
        return apart <= ALIKE_TEXT * max(1.0, self._palette.within) and self._carries(one) == self._carries(other)

    def _carries(self, surface: Surface) -> str:
        """Return whether the text on a background is lighter or darker than it."""
        light = float(self._palette.lab[surface.tokens[0], 0])
        weights: dict[str, float] = defaultdict(float)
        for number, use in enumerate(self._uses):
            for below, weight in use.on.items():
                if below in surface.tokens:
                    weights["light" if self._palette.lab[number, 0] > light else "dark"] += weight
        return max(sorted(weights), key=lambda name: weights[name], default="")

    def _merge(self, coat: Surface, surface: Surface) -> None:
        entry = next(e for e in self._entries if e.group is coat)
        coat.tokens.extend(surface.tokens)
        coat.weight += surface.weight
        coat.painters.update(surface.painters)
        coat.is_landmark |= surface.is_landmark
        for number in surface.tokens:
            self._surface_of[number] = coat
            self._entry_of[number] = entry
        entry.reason = self._sorting.stands_on(coat)


def _as_page(surface: Surface) -> float:
    """Return how much a background is the page's: what the page itself paints, wide bands may hold more text than."""
    is_of_page = any(painter.tag in ("body", "html") for painter in surface.painters)
    return surface.weight * (0.1 if surface.is_button else 1.0) * (_OF_PAGE if is_of_page else 1.0)

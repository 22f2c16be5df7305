"""The palette hidden in a site: few roles and coats that a person can hold, found from use and not from names.

The site's own roles and the coats of its sections are chosen by painted weight until they colour nearly all that is
painted; what is left becomes details, what shows nowhere is kept apart. A state's colour belongs to the colour that
the same texts have at rest.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable

from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.value import Colour
from glaucon.core.proposal.colour_words import word_of
from glaucon.core.proposal.covering import COVERED
from glaucon.core.proposal.entries import Entry, Proposal
from glaucon.core.proposal.grouping import Group, Palette, Surface
from glaucon.core.proposal.labels import labelled
from glaucon.core.proposal.naming import STATE_LABELS
from glaucon.core.proposal.usage import TokenUse
from glaucon.core.study.roles import BACKGROUND_KINDS, TEXT_KINDS, Kind, StateName, Tier
from glaucon.core.study.study import MOST_COATS, MOST_SITE_ROLES, token_key
from glaucon.core.survey.model import Survey
from glaucon.core.wording import counted

# ΔE OK within which found colours count as one; 0.02 is about a just noticeable difference.
ALIKE = 0.022
ALIKE_TEXT = 0.03
ALIKE_LINES = 0.09
ALIKE_UNSEEN = 0.13
_SAME = 0.005  # a state that looks like its rest
_JOINS = 0.075  # what little is left joins what is near
_LITTLE = 0.004  # of all that is painted
_A_SECTION, _A_FILL = 0.004, 0.015  # of all that is painted: the least a coat of a section, or of another fill, has
_SHOWN: tuple[StateName, ...] = ("hover", "focus", "active", "visited")
_NEARLY, _MUCH = 0.6, 0.25  # opacity of a background that hides most below it; of all backgrounds
_BUTTONS_TOO = 0.33  # of what a colour paints: that it is one of buttons, where none is of little else
_SHARED = 0.25  # of a text: that it is the page's, though a coat has more of it
_SEEN = 1.5  # contrast under which nobody would see a text
_OF_PAGE = 5.0  # how much more a background counts as the page's that the page itself paints
_YIELDING = ("panel", "quiet", "heading", "accent-text")  # make room for what is painted more
_MOST_ROLES = 120


def propose(survey: Survey, uses: list[TokenUse], within: float = 1.0) -> Proposal:
    """Return the palette proposed for a site.

    `within` scales how far apart colours may lie that come under one role: 0 joins only equal ones, 1 those that
    people take for one, 3 those that are plainly different.
    """
    proposal = _Proposer(survey, uses, within, within).run()
    coarse = within
    while len(proposal.roles) > _MOST_ROLES and coarse < 8:
        # a framework's stylesheet holds hundreds of colours that no person would keep apart
        coarse = max(1.0, coarse) * 1.6
        proposal = _Proposer(survey, uses, coarse, within).run()
    return proposal


def _as_page(surface: Surface) -> float:
    """Return how much a background is the page's: what the page itself paints, wide bands may hold more text than."""
    is_of_page = any(painter.tag in ("body", "html") for painter in surface.painters)
    return surface.weight * (0.1 if surface.is_button else 1.0) * (_OF_PAGE if is_of_page else 1.0)


class _Proposer:
    def __init__(self, survey: Survey, uses: list[TokenUse], within: float, asked: float) -> None:
        """`asked` is what was asked for where `within` had to be more: what is widely painted goes by that."""
        self._survey, self._uses, self._asked = survey, uses, asked
        self._palette = Palette(survey, uses, within)
        self._entries: list[Entry] = []
        self._entry_of: dict[int, Entry] = {}
        self._surface_of: dict[int, Surface] = {}
        self._page: Surface | None = None
        self._panel: Surface | None = None
        self._accent: Surface | None = None
        self._coats: list[Surface] = []
        self._total = sum(use.background for use in uses) or 1.0

    def run(self) -> Proposal:
        tokens = [
            n for n, use in enumerate(self._uses)
            if token_key(self._survey.tokens[n]) is not None
            # a browser default that no text stands on or wears is nobody's colour
            and (self._survey.tokens[n].kind != "default" or use.runs)
        ]  # fmt: skip
        seen = [n for n in tokens if self._uses[n].is_seen]
        if not any(self._uses[n].kind == "background" for n in seen):
            seen = tokens
        rest = [n for n in seen if self._is_at_rest(n)]
        self._backgrounds([n for n in rest if self._uses[n].kind == "background"])
        self._texts([n for n in rest if self._uses[n].kind == "text"])
        self._lines([n for n in rest if self._uses[n].kind == "line"])
        self._others([n for n in rest if self._uses[n].kind == "other"])
        self._fill_up()
        self._states([n for n in seen if n not in self._entry_of])
        self._unseen([n for n in tokens if n not in self._entry_of])
        return labelled(self._palette, self._entries, self._coats, self._entry_of)

    # backgrounds

    def _backgrounds(self, tokens: list[int]) -> None:
        solid = [n for n in tokens if self._is_solid(n) and self._uses[n].background > 0]
        solid = solid or [n for n in tokens if self._palette.alpha(n) == 1] or tokens[:1]
        if not solid:
            return
        # large fills that are barely apart (a white page, a pale grey band) were set apart on purpose
        narrow = ALIKE / 2 * self._asked / self._palette.within if self._palette.within else ALIKE / 2
        groups = self._palette.cluster(solid, narrow, self._background_weight)
        surfaces = [self._palette.surface(group) for group in self._joined(groups)]
        for surface in surfaces:
            self._surface_of.update(dict.fromkeys(surface.tokens, surface))
        page = max(surfaces, key=_as_page)
        self._page = page
        heaviest = max(surfaces, key=lambda s: s.weight)
        reason = "Behind most of the text." if page is heaviest else "Behind the page, where no section has its own."
        self._add(page, "background", reason, "main")
        others = [surface for surface in surfaces if surface is not page]
        self._accent = self._choose_accent(others)
        if self._accent is not None:
            self._add(self._accent, "accent", "Fills buttons.", "main")
            others.remove(self._accent)
        self._panel = self._choose_panel(others, page)
        if self._panel is not None:
            self._add(self._panel, "panel", "Fills boxes on the page.", "main")
            others.remove(self._panel)
        self._choose_coats(others)
        for surface in others:
            if surface not in self._coats:
                self._add(surface, "background", self._stands_on(surface))
        left = [n for n in tokens if n not in self._entry_of]
        self._join(left, [e for e in self._entries if e.kind in BACKGROUND_KINDS], _JOINS)
        for group in self._palette.cluster([n for n in left if n not in self._entry_of], _JOINS):
            self._add(self._palette.surface(group), "background", "A fill with no text on it.")

    def _is_solid(self, number: int) -> bool:
        """Return whether a background is one by itself: opaque, or nearly so and behind much of the site."""
        alpha = self._palette.alpha(number)
        return alpha == 1 or (alpha >= _NEARLY and self._uses[number].background > _MUCH * self._total)

    def _joined(self, groups: list[Group]) -> list[Group]:
        """Return groups of backgrounds, small ones joined to the nearest that is heavier."""
        kept: list[Group] = []
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
        strong = [s for s in buttons if self._page and self._palette.distance(s.tokens[0], self._page.tokens[0]) > 0.3]
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
                self._add(surface, "background", self._stands_on(surface), "main", coat=surface)
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
        entry.reason = self._stands_on(coat)

    def _stands_on(self, surface: Surface) -> str:
        count = len({run for n in surface.tokens for run in self._uses[n].runs})
        return f"Behind {counted(count, 'text')}."

    # text

    def _texts(self, tokens: list[int]) -> None:
        by_surface: dict[Surface | None, list[int]] = defaultdict(list)
        for number in tokens:
            by_surface[self._main_surface(number)].append(number)
        own: set[Surface | None] = {None, self._page, self._panel}
        # the body's colour is the site's text, however wide the bands are that it shows on too
        for coat in self._coats:
            shared = [n for n in by_surface[coat] if self._is_of_page(n)]
            by_surface[coat] = [n for n in by_surface[coat] if n not in shared]
            by_surface[None] += shared
        self._text_on(None, [n for s in own for n in by_surface.pop(s, [])])
        for surface, some in sorted(by_surface.items(), key=lambda item: -item[0].weight if item[0] else 0):
            if surface is None or not some:
                continue
            if surface is self._accent:
                self._on_accent(some)
            elif surface in self._coats:
                self._text_on(surface, some)
            else:
                self._on_fill(surface, some)

    def _on_accent(self, tokens: list[int]) -> None:
        groups = sorted(self._palette.cluster(tokens, _JOINS, self._text_weight), key=lambda g: -g.weight)
        self._add(groups[0], "accent-text", "The text of buttons.", "main")
        for group in groups[1:]:
            self._add(group, "accent-text", "Other text on buttons.", home=self._accent)

    def _on_fill(self, surface: Surface, tokens: list[int]) -> None:
        for group in self._palette.cluster(tokens, _JOINS, self._text_weight):
            kind: Kind = "accent-text" if surface.is_button else "text"
            self._add(group, kind, "Text on it.", home=surface)

    def _text_on(self, coat: Surface | None, tokens: list[int]) -> None:
        """Tell text, headings, links and quiet text apart among the text on the page, or on a coat."""
        every = tokens
        if coat is None and (shown := [n for n in tokens if self._shows_on_the_page(n)]):
            # white text over a photograph is not what the page's links, or its quiet text, look like
            tokens = shown
        links = [n for n in tokens if self._uses[n].links > 0.5 * self._uses[n].text > 0]
        headings = [n for n in tokens if n not in links and self._uses[n].headings > 0.5 * self._uses[n].text > 0]
        plain = [n for n in tokens if n not in links and n not in headings]
        text = self._largest(plain)
        if coat is not None and text is not None and not self._leads(text, coat):
            text = None
        where = "" if coat is None else " in these sections"
        if text is not None:
            self._put_or_add(text, "text", f"Most plain text{where}.", coat)
        self._quiet([n for n in plain if n not in self._entry_of], text, coat, where)
        heading = self._largest(headings)
        # where most headings wear the text's colour, the few in another are no role of their own
        if heading is not None and self._headings(heading.tokens) > 0.3 * self._headings(tokens):
            self._put_or_add(heading, "heading", f"Headings{where}.", coat)
        if (link := self._main_link(links, coat)) is not None:
            self._put_or_add(link, "link", f"Most links{where}.", coat)
        self._rest_of_text(coat, [n for n in every if n not in self._entry_of])

    def _is_of_page(self, number: int) -> bool:
        """Return whether plain text that a coat has is the page's too."""
        use = self._uses[number]
        on_page = sum(w for below, w in use.on.items() if self._surface_of.get(below) in (self._page, self._panel))
        is_plain = use.links <= 0.5 * use.text and use.headings <= 0.5 * use.text
        return is_plain and on_page >= _SHARED * sum(use.on.values()) > 0 and self._shows_on_the_page(number)

    def _shows_on_the_page(self, number: int) -> bool:
        """Return whether a text's colour would be seen on the page's background, or on its panels."""
        grounds = [surface.tokens[0] for surface in (self._page, self._panel) if surface is not None]
        own, *others = (Colour(*self._uses[n].painted[:3]) for n in (number, *grounds))
        return not others or any(contrast_ratio(own, other) >= _SEEN for other in others)

    def _headings(self, tokens: Iterable[int]) -> float:
        return sum(self._uses[n].headings for n in tokens)

    def _leads(self, group: Group, coat: Surface) -> bool:
        """Return whether a group is the plain text that a coat mostly has, more than the site's own text there."""

        def on(tokens: Iterable[int]) -> float:
            return sum(w for n in tokens for b, w in self._uses[n].on.items() if self._surface_of.get(b) is coat)

        site = next((e for e in self._entries if e.kind == "text" and e.coat is None and e.tier == "main"), None)
        return site is None or on(group.tokens) > on(site.group.tokens)

    def _put_or_add(self, group: Group, kind: Kind, reason: str, coat: Surface | None) -> None:
        """Add a role of text, unless the site's own of that kind, or the text beside it, has the very colour."""
        like = self._like(group, kind, coat)
        if like is not None:
            self._put(like, group.tokens)
        else:
            self._add(group, kind, reason, "main", coat=coat)

    def _like(self, group: Group, kind: Kind, coat: Surface | None) -> Entry | None:
        return next(
            (
                e
                for e in self._entries
                if e.kind in TEXT_KINDS
                and e.state == "rest"
                and e.tier == "main"
                and ((e.coat is coat and e.kind == "text") or (e.coat is None and e.kind == kind))
                and self._palette.distance(e.group.tokens[0], group.tokens[0]) <= ALIKE / 2
            ),
            None,
        )

    def _quiet(self, tokens: list[int], text: Group | None, coat: Surface | None, where: str) -> None:
        """Find the text that stands back: nearer to its background than the main text is, and hardly coloured."""
        below = coat or self._page
        site = next((e.group for e in self._entries if e.kind == "text" and e.coat is None and e.tier == "main"), None)
        text = text or site
        if text is None or below is None:
            return
        light = float(self._palette.lab[below.tokens[0], 0])
        gap = abs(self._palette.lab[text.tokens[0], 0] - light)
        faint = [
            n for n in tokens
            if self._palette.chroma(n) < 0.05 and abs(float(self._palette.lab[n, 0]) - light) < 0.8 * gap
        ]  # fmt: skip
        if (quiet := self._largest(faint)) is not None:
            self._put_or_add(quiet, "quiet", f"Small and secondary text{where}.", coat)

    def _main_link(self, tokens: list[int], coat: Surface | None) -> Group | None:
        """Return the links' group: coloured ones rather than a menu in the text's grey, unless they are very rare."""
        groups = sorted(self._palette.cluster(tokens, ALIKE_TEXT, self._text_weight), key=lambda g: -g.weight)
        vivid = [g for g in groups if self._palette.chroma(g.tokens[0]) > 0.04 and g.weight > 0.02 * groups[0].weight]
        own = [g for g in (*vivid, *groups) if not self._like(g, "quiet", coat) and not self._like(g, "text", coat)]
        return (own or groups)[0] if groups else None

    def _rest_of_text(self, coat: Surface | None, tokens: list[int]) -> None:
        """Join what little is left to what is near; the rest are roles of their own."""
        near = [
            e for e in self._entries if e.coat is coat and e.kind in TEXT_KINDS - {"accent-text"} and e.tier == "main"
        ]
        small = [n for n in tokens if self._uses[n].text < _LITTLE * self._total]
        self._join(small, near, _JOINS)
        for group in self._palette.cluster(
            [n for n in tokens if n not in self._entry_of], ALIKE_TEXT, self._text_weight
        ):
            uses = [self._uses[n] for n in group.tokens]
            total = sum(use.text for use in uses)
            kind: Kind = "link" if sum(use.links for use in uses) > 0.5 * total > 0 else "text"
            entry = self._add(group, kind, "Other text.", coat=coat)
            if coat is None and not any(self._shows_on_the_page(n) for n in group.tokens):
                entry.label = self._place_label(group, kind)

    def _place_label(self, group: Group, kind: Kind) -> str:
        """Return what text is called that stands on a picture or fill, not on the page: by the section it is in."""
        survey = self._survey
        inside: Counter[str] = Counter()
        for run in {run for n in group.tokens for run in self._uses[n].runs}:
            sections = (survey.regions[number] for number in survey.chains[survey.runs[run].chain])
            name = next((one.label for one in sections if one.is_section), "")
            inside[name] += survey.runs[run].characters
        name, characters = inside.most_common(1)[0] if inside else ("", 0)
        if not name or characters < 0.5 * inside.total():
            word = word_of(self._palette.hex(group.tokens[0]))
            return f"{word[:1].upper()}{word[1:]} {kind}"
        return f"{name} {kind}"

    # lines and the rest

    def _lines(self, tokens: list[int]) -> None:
        marks = [n for n in tokens if self._survey.tokens[n].property.startswith("outline")]
        # the border of a button goes with the button, not with some text that happens to have its colour
        self._put_equal(tokens, [e for e in self._entries if e.kind == "link" or e.kind in BACKGROUND_KINDS])
        groups = self._palette.cluster([n for n in tokens if n not in self._entry_of and n not in marks], ALIKE_LINES)
        for place, group in enumerate(sorted(groups, key=lambda g: -g.weight)):
            is_first = place == 0
            reason = "Borders and dividers." if is_first else "Other lines."
            self._add(group, "line", reason, "main" if is_first else "detail")
        for group in self._palette.cluster([n for n in marks if n not in self._entry_of], ALIKE_LINES):
            self._add(group, "line", "The outline of what has the keyboard's focus.").state = "focus"

    def _others(self, tokens: list[int]) -> None:
        """Shadows, glows and the like: under a role that has the colour, else under roles of their own."""
        self._put_equal([n for n in tokens if self._palette.alpha(n) == 1])
        for group in self._palette.cluster([n for n in tokens if n not in self._entry_of], ALIKE_LINES):
            self._add(group, "shadow", "Shadows and glows.")

    def _put_equal(self, tokens: list[int], entries: list[Entry] | None = None) -> None:
        some = self._entries if entries is None else entries
        for number in tokens:
            same = next((e for e in some if e.state == "rest" and self._is_equal(e, number)), None)
            if same is not None:
                self._put(same, [number])

    def _is_equal(self, entry: Entry, number: int) -> bool:
        return self._survey.tokens[entry.group.tokens[0]].colour.rgb == self._survey.tokens[number].colour.rgb

    # the short palette

    def _fill_up(self) -> None:
        """Give the places left in the short palette to what is painted most, then those of what is hardly painted."""
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
        if panel is None or self._panel is None or len(self._coats) >= MOST_COATS:
            return False
        panel.kind, panel.coat = "background", self._panel
        self._coats.append(self._panel)
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

    # states

    def _states(self, tokens: list[int]) -> None:
        """Put what shows only in a state beside the role that the same texts have at rest."""
        known: dict[tuple[int, str], list[Entry]] = defaultdict(list)
        by_base: dict[tuple[Entry | None, StateName, str], list[int]] = defaultdict(list)
        for number in tokens:
            by_base[self._base_of(number), self._state_of(number), self._uses[number].kind].append(number)
        for (base, state, use), some in by_base.items():
            if base is not None and self._is_of_use(base, use):
                own = base.group.tokens[0]
                self._put(base, [n for n in some if self._palette.distance(n, own) < _SAME])
            equal = base is None or base.tier != "main" or use in ("line", "other")
            # white words are not made of what the page is: what gives them another colour must leave the page as it is
            alike = [e for e in self._entries if self._is_of_use(e, use)] if use in ("text", "background") else None
            self._put_equal([n for n in some if n not in self._entry_of] if equal else [], alike)
            left = [n for n in some if n not in self._entry_of]
            for group in self._palette.cluster(
                left, ALIKE, lambda n: self._uses[n].text + self._uses[n].background + 1
            ):
                self._add_state(group, base, state, use, known)

    def _add_state(
        self, group: Group, base: Entry | None, state: StateName, use: str, known: dict[tuple[int, str], list[Entry]]
    ) -> None:
        kind: Kind = {"text": "text", "background": "background", "line": "line"}.get(use, "shadow")  # type: ignore[assignment]
        if base is not None and self._is_of_use(base, use):
            kind = base.kind
        else:
            base = None
        entry = self._add(group, kind, f"Shown on {STATE_LABELS[state]} only.", coat=base.coat if base else None)
        entry.state, entry.base = state, base
        if base is not None:
            beside = known[id(base), state]
            # more than one hover colour of one role: the first is the tile's, the others are details beside it
            entry.tier = base.tier if not beside else "detail"
            beside.append(entry)

    @staticmethod
    def _is_of_use(entry: Entry, use: str) -> bool:
        kinds = {"text": TEXT_KINDS, "background": BACKGROUND_KINDS, "line": {"line"}}.get(use, {"shadow"})
        return entry.kind in kinds

    def _base_of(self, number: int) -> Entry | None:
        weights: dict[int, float] = defaultdict(float)
        entries: dict[int, Entry] = {}
        for before, weight in self._uses[number].at_rest.items():
            if (entry := self._entry_of.get(before)) is not None and entry.state == "rest":
                weights[id(entry)] += weight
                entries[id(entry)] = entry
        if weights:
            best = entries[max(weights, key=lambda key: weights[key])]
            # a menu item that is filled when hovered: the page below it has no hover
            is_below = self._uses[number].kind == "background" and best.kind != "accent" and best.home is None
            return None if is_below and not (isinstance(best.group, Surface) and best.group.is_button) else best
        if self._uses[number].kind == "text" and "visited" in self._uses[number].states:
            return next((e for e in self._entries if e.kind == "link" and e.coat is None and e.tier == "main"), None)
        return None

    def _is_at_rest(self, number: int) -> bool:
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

    def _unseen(self, tokens: list[int]) -> None:
        """What no page shows: under a role of its use that is near, so that it follows should it be shown one day."""
        for use, kind in (("background", "background"), ("text", "text"), ("line", "line"), ("other", "shadow")):
            own = [n for n in tokens if self._uses[n].kind == use]
            self._join(
                own, [e for e in self._entries if self._is_of_use(e, use) and e.state == "rest"], ALIKE_UNSEEN / 2
            )
            for group in self._palette.cluster([n for n in own if n not in self._entry_of], ALIKE_UNSEEN):
                self._add(group, kind, "In the files, on no page.", "unseen")  # type: ignore[arg-type]

    # shared steps

    def _add(
        self, group: Group, kind: Kind, reason: str, tier: Tier = "detail", coat: Surface | None = None,
        home: Surface | None = None,
    ) -> Entry:  # fmt: skip
        is_chief = tier == "main"
        if (
            tier == "main"
            and coat is None
            and sum(1 for e in self._entries if e.tier == "main" and e.coat is None and e.state == "rest")
            >= MOST_SITE_ROLES
        ):
            tier = "detail"
        entry = Entry(group, kind, reason, coat, tier=tier, home=home, is_chief=is_chief)
        self._entries.append(entry)
        self._put(entry, group.tokens, extend=False)
        return entry

    def _put(self, entry: Entry, tokens: Iterable[int], extend: bool = True) -> None:
        for number in list(tokens):
            self._entry_of[number] = entry
            if extend and number not in entry.group.tokens:
                entry.group.tokens.append(number)

    def _join(self, tokens: Iterable[int], entries: list[Entry], within: float) -> None:
        """Put each token under the nearest of some roles, if it is near enough."""
        for number in tokens:
            near = [(self._palette.distance(number, e.group.tokens[0]), place) for place, e in enumerate(entries)]
            if near and min(near)[0] < within * self._palette.within:
                self._put(entries[min(near)[1]], [number])

    def _main_surface(self, number: int) -> Surface | None:
        weights: dict[int, float] = defaultdict(float)
        for below, weight in self._uses[number].on.items():
            surface = self._surface_of.get(below)
            weights[id(surface) if surface is not None else 0] += weight
        best = max(weights, key=lambda key: weights[key], default=0)
        return next((s for s in self._surface_of.values() if id(s) == best), None)

    def _largest(self, tokens: list[int]) -> Group | None:
        groups = self._palette.cluster(tokens, ALIKE_TEXT, self._text_weight)
        return max(groups, key=lambda g: g.weight, default=None)

    def _text_weight(self, number: int) -> float:
        return self._uses[number].text

    def _background_weight(self, number: int) -> float:
        return self._uses[number].background


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


def _current_or_disabled(selector: str) -> StateName | None:
    """Return whether a rule is for the current page's menu item or for what is disabled, by its subject."""
    last = selector.split(",")[0].strip().split(" ")[-1]
    if ":not(" in last:
        return None
    if any(mark in last for mark in _DISABLED):
        return "disabled"
    return "current" if any(mark in last for mark in _CURRENT) else None

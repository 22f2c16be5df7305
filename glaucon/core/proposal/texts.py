"""Text, headings, links and quiet text, told apart by use: on the page, on each coat, on other fills."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable

from glaucon.core.proposal.colour_words import word_of
from glaucon.core.proposal.entries import Entry
from glaucon.core.proposal.grouping import ColourGroup, Surface
from glaucon.core.proposal.sorting import ALIKE, ALIKE_TEXT, JOINS, Sorting
from glaucon.core.study.roles import TEXT_KINDS, Kind

_LITTLE = 0.004  # of all that is painted
_SHARED = 0.25  # of a text: that it is the page's, though a coat has more of it


class Texts:
    """Chooses what the site is written in."""

    def __init__(self, sorting: Sorting) -> None:
        self._sorting = sorting
        self._survey = sorting.survey
        self._uses = sorting.uses
        self._palette = sorting.palette
        self._entries = sorting.entries
        self._entry_of = sorting.entry_of
        self._surface_of = sorting.surface_of
        self._coats = sorting.coats
        self._total = sorting.total

    def sort(self, tokens: list[int]) -> None:
        by_surface: dict[Surface | None, list[int]] = defaultdict(list)
        for number in tokens:
            by_surface[self._sorting.main_surface(number)].append(number)
        own: set[Surface | None] = {None, self._sorting.page, self._sorting.panel}
        # the body's colour is the site's text, however wide the bands are that it shows on too
        for coat in self._coats:
            shared = [n for n in by_surface[coat] if self._is_of_page(n)]
            by_surface[coat] = [n for n in by_surface[coat] if n not in shared]
            by_surface[None] += shared
        self._text_on(None, [n for s in own for n in by_surface.pop(s, [])])
        for surface, some in sorted(by_surface.items(), key=lambda item: -item[0].weight if item[0] else 0):
            if surface is None or not some:
                continue
            if surface is self._sorting.accent:
                self._on_accent(some)
            elif surface in self._coats:
                self._text_on(surface, some)
            else:
                self._on_fill(surface, some)

    def _on_accent(self, tokens: list[int]) -> None:
        groups = sorted(self._palette.cluster(tokens, JOINS, self._sorting.text_weight), key=lambda g: -g.weight)
        self._sorting.add(groups[0], "accent-text", "The text of buttons.", "main")
        for group in groups[1:]:
            self._sorting.add(group, "accent-text", "Other text on buttons.", home=self._sorting.accent)

    def _on_fill(self, surface: Surface, tokens: list[int]) -> None:
        for group in self._palette.cluster(tokens, JOINS, self._sorting.text_weight):
            kind: Kind = "accent-text" if surface.is_button else "text"
            self._sorting.add(group, kind, "Text on it.", home=surface)

    def _text_on(self, coat: Surface | None, tokens: list[int]) -> None:
        """Tell text, headings, links and quiet text apart among the text on the page, or on a coat."""
        every = tokens
        if coat is None and (shown := [n for n in tokens if self._sorting.shows_on_the_page(n)]):
            # white text over a photograph is not what the page's links, or its quiet text, look like
            tokens = shown
        links = [n for n in tokens if self._uses[n].links > 0.5 * self._uses[n].text > 0]
        headings = [n for n in tokens if n not in links and self._uses[n].headings > 0.5 * self._uses[n].text > 0]
        plain = [n for n in tokens if n not in links and n not in headings]
        text = self._sorting.largest(plain)
        if coat is not None and text is not None and not self._leads(text, coat):
            text = None
        where = "" if coat is None else " in these sections"
        if text is not None:
            self._put_or_add(text, "text", f"Most plain text{where}.", coat)
        self._quiet([n for n in plain if n not in self._entry_of], text, coat, where)
        heading = self._sorting.largest(headings)
        # where most headings wear the text's colour, the few in another are no role of their own
        if heading is not None and self._headings(heading.tokens) > 0.3 * self._headings(tokens):
            self._put_or_add(heading, "heading", f"Headings{where}.", coat)
        if (link := self._main_link(links, coat)) is not None:
            self._put_or_add(link, "link", f"Most links{where}.", coat)
        self._rest_of_text(coat, [n for n in every if n not in self._entry_of])

    def _is_of_page(self, number: int) -> bool:
        """Return whether plain text that a coat has is the page's too."""
        use = self._uses[number]
        on_page = sum(
            w for below, w in use.on.items() if self._surface_of.get(below) in (self._sorting.page, self._sorting.panel)
        )
        is_plain = use.links <= 0.5 * use.text and use.headings <= 0.5 * use.text
        return is_plain and on_page >= _SHARED * sum(use.on.values()) > 0 and self._sorting.shows_on_the_page(number)

    def _headings(self, tokens: Iterable[int]) -> float:
        return sum(self._uses[n].headings for n in tokens)

    def _leads(self, group: ColourGroup, coat: Surface) -> bool:
        """Return whether a group is the plain text that a coat mostly has, more than the site's own text there."""

        def on(tokens: Iterable[int]) -> float:
            return sum(w for n in tokens for b, w in self._uses[n].on.items() if self._surface_of.get(b) is coat)

        site = next((e for e in self._entries if e.kind == "text" and e.coat is None and e.tier == "main"), None)
        return site is None or on(group.tokens) > on(site.group.tokens)

    def _put_or_add(self, group: ColourGroup, kind: Kind, reason: str, coat: Surface | None) -> None:
        """Add a role of text, unless the site's own of that kind, or the text beside it, has the very colour."""
        like = self._like(group, kind, coat)
        if like is not None:
            self._sorting.put(like, group.tokens)
        else:
            self._sorting.add(group, kind, reason, "main", coat=coat)

    def _like(self, group: ColourGroup, kind: Kind, coat: Surface | None) -> Entry | None:
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

    def _quiet(self, tokens: list[int], text: ColourGroup | None, coat: Surface | None, where: str) -> None:
        """Find the text that stands back: nearer to its background than the main text is, and hardly coloured."""
        below = coat or self._sorting.page
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
        if (quiet := self._sorting.largest(faint)) is not None:
            self._put_or_add(quiet, "quiet", f"Small and secondary text{where}.", coat)

    def _main_link(self, tokens: list[int], coat: Surface | None) -> ColourGroup | None:
        """Return the links' group: coloured ones rather than a menu in the text's grey, unless they are very rare."""
        groups = sorted(self._palette.cluster(tokens, ALIKE_TEXT, self._sorting.text_weight), key=lambda g: -g.weight)
        vivid = [g for g in groups if self._palette.chroma(g.tokens[0]) > 0.04 and g.weight > 0.02 * groups[0].weight]
        own = [g for g in (*vivid, *groups) if not self._like(g, "quiet", coat) and not self._like(g, "text", coat)]
        return (own or groups)[0] if groups else None

    def _rest_of_text(self, coat: Surface | None, tokens: list[int]) -> None:
        """Join rarely used text colours to a near role; make roles of the remaining ones."""
        near = [
            e for e in self._entries if e.coat is coat and e.kind in TEXT_KINDS - {"accent-text"} and e.tier == "main"
        ]
        small = [n for n in tokens if self._uses[n].text < _LITTLE * self._total]
        self._sorting.join(small, near, JOINS)
        for group in self._palette.cluster(
            [n for n in tokens if n not in self._entry_of], ALIKE_TEXT, self._sorting.text_weight
        ):
            uses = [self._uses[n] for n in group.tokens]
            total = sum(use.text for use in uses)
            kind: Kind = "link" if sum(use.links for use in uses) > 0.5 * total > 0 else "text"
            entry = self._sorting.add(group, kind, "Other text.", coat=coat)
            if coat is None and not any(self._sorting.shows_on_the_page(n) for n in group.tokens):
                entry.label = self._place_label(group, kind)

    def _place_label(self, group: ColourGroup, kind: Kind) -> str:
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

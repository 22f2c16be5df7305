"""Rules of an add-on stylesheet for colours that stand in attributes of the pages themselves."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from glaucon.core.cascade.stylesheet import Written
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.cascade.tree import Element
from glaucon.core.exchange.addon_text import Place, overlap, places, rendered
from glaucon.core.scopes.hints import HINTED, hint_selector, quoted

_CLASH = "the same attribute stands elsewhere in another colour"


class AttributeRules:
    """Gathers rules for style attributes and presentational attributes; `left` says what they cannot reach."""

    def __init__(self, new: Mapping[Place, str]) -> None:
        self._new = new
        self._inline: dict[str, tuple[str, set[Place]]] = {}
        self.left: dict[Place, str] = {}

    def note(self, element: Element, written: Written, important: Iterable[str]) -> None:
        """Take a style attribute in. Its rules say !important: nothing less comes over an attribute.

        What the site's own rules say `important` shows instead of the attribute, and must go on doing so.
        """
        said: list[str] = []
        here: set[Place] = set()
        for declaration in written.declarations:
            text, changed = rendered(written.source, declaration, self._new)
            if not changed:
                continue
            of_declaration = {p for p in places(written.source, declaration.value) if p in self._new}
            if declaration.important:
                self.left.update(dict.fromkeys(of_declaration, "its style attribute says !important itself"))
                continue
            if any(overlap(declaration.lower_name, name) for name in important):
                self.left.update(dict.fromkeys(of_declaration, "another rule says !important over it"))
                continue
            said.append(f"{text} !important")
            here |= of_declaration
        if not said:
            return
        selector = f"{element.tag}[style={quoted(element.attributes['style'])}]"
        rule = f"{selector} {{ {'; '.join(said)} }}"
        known, where = self._inline.setdefault(selector, (rule, set()))
        if known == rule:
            where |= here
        else:
            self.left.update(dict.fromkeys(here, _CLASH))

    def inline(self) -> tuple[str, set[Place]]:
        """Return the rules for style attributes and the places they reach."""
        reached = set().union(*(where for _, where in self._inline.values()))
        return "".join(f"{rule}\n" for rule, _ in self._inline.values()), reached

    def hints(self, touched: Iterable[ColourToken]) -> tuple[str, set[Place]]:
        """Return the rules for presentational attributes, as weightless as those are, and the places they reach."""
        rules: dict[str, str] = {}
        reached: set[Place] = set()
        for token in touched:
            if token.kind != "attribute":
                continue
            place = (token.file, token.start)
            selector, declaration = _hint(token, self._new[place])
            if rules.setdefault(selector, declaration) == declaration:
                reached.add(place)
            else:
                self.left[place] = _CLASH
        return "".join(f"{selector} {{ {text} }}\n" for selector, text in rules.items()), reached


def _hint(token: ColourToken, value: str) -> tuple[str, str]:
    return hint_selector(token, [token.text]), f"{HINTED.get(token.property, token.property)}: {value}"

"""The palette hidden in a site: found colours gathered under roles, from use and not from names."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.oklab import oklab_from_srgb
from glaucon.core.colour.value import Colour
from glaucon.core.palette.found import word_of
from glaucon.core.palette.study import Role, Study, token_key
from glaucon.core.palette.usage import TokenUse, token_uses
from glaucon.core.survey.model import Survey

# ΔE OK within which two found colours count as one; 0.02 is about a just noticeable difference.
ALIKE = 0.022
ALIKE_WORDS = 0.075
ALIKE_LINES = 0.09
ALIKE_UNUSED = 0.13  # of what no page shows now
_MOST_ROLES = 120
_LABELS = {
    "background": "Background", "panel": "Panel", "text": "Text", "heading": "Heading", "quiet": "Quiet text",
    "link": "Link", "accent": "Accent", "accent-text": "Accent text", "line": "Line", "focus-mark": "Focus mark",
    "shadow": "Shadow",
}  # fmt: skip
_SUFFIX_LABELS = {"text": "text", "link": "link", "heading": "heading", "quiet": "quiet text"}
_STATE_LABELS = {"hover": "pointed at", "focus": "focused", "active": "pressed", "visited": "visited"}


@dataclass(slots=True)
class _Group:
    """Tokens under one role-to-be; the first is the one it takes its colour from."""

    tokens: list[int]
    weight: float
    reason: str = ""


@dataclass(slots=True)
class Proposal:
    """Roles with the tokens that come under them."""

    roles: list[Role] = field(default_factory=list)
    tokens: dict[str, list[int]] = field(default_factory=dict)
    unmapped: list[int] = field(default_factory=list)

    def study(self, survey: Survey, name: str) -> Study:
        """Return the study that leaves every colour as it came."""
        mapping = {}
        for role, numbers in self.tokens.items():
            for number in numbers:
                key = token_key(survey.tokens[number])
                if key is not None:
                    mapping[key] = role
        return Study(name=name, roles=tuple(self.roles), mapping=mapping)


def propose(survey: Survey, within: float = 1.0) -> Proposal:
    """Return the palette proposed for a site.

    `within` scales how far apart colours may lie that come under one role: 0 joins only equal ones, 1 those that
    people take for one, 3 those that are plainly different.
    """
    proposal = _Proposer(survey, within).run()
    while len(proposal.roles) > _MOST_ROLES and within < 8:
        # a framework's stylesheet holds hundreds of colours that no person would keep apart
        within = max(1.0, within) * 1.6
        proposal = _Proposer(survey, within).run()
    return proposal


class _Proposer:
    def __init__(self, survey: Survey, within: float) -> None:
        self._survey = survey
        self._within = within
        self._uses = token_uses(survey)
        self._lab = oklab_from_srgb(np.array([token.colour.rgb for token in survey.tokens]))
        self._proposal = Proposal()
        self._role_of: dict[int, str] = {}
        self._words_of_grounds: dict[str, str] = {}

    def run(self) -> Proposal:
        candidates = [
            n
            for n, use in enumerate(self._uses)
            if token_key(self._survey.tokens[n]) is not None and self._is_of_interest(n, use)
        ]
        shown = [n for n in candidates if self._uses[n].runs or self._uses[n].kind in ("line", "other")]
        if not any(self._uses[n].kind == "ground" for n in shown):
            shown = candidates
        self._grounds([n for n in shown if self._uses[n].kind == "ground"])
        self._words([n for n in shown if self._uses[n].kind == "words"])
        self._lines([n for n in shown if self._uses[n].kind == "line"])
        self._shadows([n for n in shown if self._uses[n].kind == "other"])
        self._unused([n for n in candidates if n not in self._role_of])
        self._proposal.unmapped = [
            t.number for t in self._survey.tokens if t.number not in self._role_of and t.kind != "default"
        ]
        self._proposal.roles.sort(key=_rail_order)
        return self._proposal

    def _is_of_interest(self, number: int, use: TokenUse) -> bool:
        # a browser default that no text stands on or wears is nobody's colour
        return self._survey.tokens[number].kind != "default" or bool(use.runs)

    # grounds

    def _grounds(self, tokens: list[int]) -> None:
        if not tokens:
            return
        rest = [n for n in tokens if self._seen_at_rest(n)]
        stateful = [n for n in tokens if n not in rest]
        opaque = [n for n in rest if self._alpha(n) == 1 and self._uses[n].ground > 0]
        if not opaque:
            opaque = [n for n in rest if self._alpha(n) == 1] or rest[:1]
        if not opaque:
            return
        groups = self._cluster(opaque, ALIKE, lambda n: self._uses[n].ground)
        groups.sort(key=lambda g: -g.weight)
        background = max(groups, key=lambda g: g.weight - self._buttons(g))
        self._take("background", background, "Most words stand on it.")
        others = [g for g in groups if g is not background]
        accent = self._accent(others)
        if accent is not None:
            self._take("accent", accent, "Buttons and badges are filled with it.")
            others.remove(accent)
        panel = self._panel(others, background)
        if panel is not None:
            self._take("panel", panel, "Boxes within the page stand on it.")
            others.remove(panel)
        for index, group in enumerate(others, start=1):
            self._take(f"ground-{index}", group, f"{self._texts(group)} on it.")
        left = [n for n in rest if n not in self._role_of]
        self._join(left, self._ground_roles(), ALIKE_WORDS)
        for group in self._cluster([n for n in left if n not in self._role_of], ALIKE_WORDS, lambda n: 1.0):
            self._take(self._next_ground(), group, "A fill of its own.")
        self._state_grounds(stateful)

    def _accent(self, groups: list[_Group]) -> _Group | None:
        worn = [g for g in groups if self._buttons(g) > 0.5 * g.weight and self._chroma(g.tokens[0]) > 0.04]
        return max(worn, key=lambda g: sum(len(self._uses[n].runs) for n in g.tokens), default=None)

    def _panel(self, groups: list[_Group], background: _Group) -> _Group | None:
        near = [g for g in groups if abs(self._lab[g.tokens[0], 0] - self._lab[background.tokens[0], 0]) < 0.09]
        return max(near, key=lambda g: g.weight, default=None)

    def _state_grounds(self, tokens: list[int]) -> None:
        for group in self._cluster(tokens, ALIKE, lambda n: self._uses[n].ground + 1):
            exact = self._exact_role(group.tokens[0])
            if exact is not None:
                self._put(exact, group.tokens)
                continue
            state = self._state_of(group)
            base = "accent" if "accent" in self._proposal.tokens and self._buttons(group) else "background"
            self._take(self._free(f"{base}-{state}"), group, f"Shows only when {_STATE_LABELS[state]}.")

    # words

    def _words(self, tokens: list[int]) -> None:
        by_ground: dict[str, list[int]] = defaultdict(list)
        stateful = [n for n in tokens if not self._seen_at_rest(n)]
        for n in tokens:
            if n not in stateful:
                by_ground[self._main_ground(n)].append(n)
        main = by_ground.pop("", []) + by_ground.pop("background", []) + by_ground.pop("panel", [])
        self._words_on("", main)
        if on_accent := by_ground.pop("accent", []):
            groups = self._cluster(on_accent, ALIKE_WORDS, lambda n: self._uses[n].words)
            groups.sort(key=lambda g: -g.weight)
            self._take("accent-text", groups[0], "It is what buttons say their words in.")
            for group in groups[1:]:
                self._take(self._free("accent-text"), group, "Other words on the accent.")
        for ground in sorted(by_ground):
            self._words_on(f"{ground}-", by_ground[ground])
        self._state_words(stateful)

    def _words_on(self, prefix: str, tokens: list[int]) -> None:
        """Tell text, headings, links and quiet text apart among the words on one ground."""
        if not tokens:
            return
        links = [n for n in tokens if self._uses[n].links > 0.5 * self._uses[n].words > 0]
        headings = [n for n in tokens if n not in links and self._uses[n].headings > 0.5 * self._uses[n].words > 0]
        plain = [n for n in tokens if n not in links and n not in headings]
        text = self._largest(plain)
        where = self._where(prefix)
        if text is not None:
            self._take(f"{prefix}text", text, f"Most plain words{where} wear it.")
            self._quiet(prefix, [n for n in plain if n not in self._role_of], text, where)
        if heading := self._largest(headings):
            if not prefix or text is None or self._distance(heading.tokens[0], text.tokens[0]) > ALIKE:
                self._take(f"{prefix}heading", heading, f"Headings{where} wear it.")
            else:
                self._put(f"{prefix}text", heading.tokens)
        if link := self._largest(links):
            self._take(f"{prefix}link", link, f"Most links{where} wear it.")
        left = [n for n in tokens if n not in self._role_of]
        own = [r.name for r in self._proposal.roles if r.name in {f"{prefix}{s}" for s in _SUFFIX_LABELS}]
        self._join(left, own, 0.12 if own else 0)
        for group in self._cluster([n for n in left if n not in self._role_of], ALIKE_WORDS, self._words_weight):
            kind = "link" if self._uses[group.tokens[0]].links else "text"
            self._take(self._free(f"{prefix}{kind}"), group, f"Words of their own{where}.")

    def _quiet(self, prefix: str, tokens: list[int], text: _Group, where: str) -> None:
        """Find the words that stand back: nearer to their ground than the text is, and hardly coloured."""
        ground = self._ground_lightness(prefix)
        gap = abs(self._lab[text.tokens[0], 0] - ground)
        faint = [
            n
            for n in tokens
            if self._chroma(n) < 0.05 and abs(self._effective_lightness(n, ground) - ground) < 0.8 * gap
        ]
        quiet = self._largest(faint)
        if quiet is None:
            return
        quiet.tokens.extend(
            n for n in faint if n not in quiet.tokens and self._distance(n, quiet.tokens[0]) < 0.17 * self._within
        )
        self._take(f"{prefix}quiet", quiet, f"Small and secondary words{where} wear it.")

    def _state_words(self, tokens: list[int]) -> None:
        for group in self._cluster(tokens, ALIKE, lambda n: self._uses[n].words + 1):
            exact = self._exact_role(group.tokens[0])
            if exact is not None and exact not in ("background", "panel"):
                self._put(exact, group.tokens)
                continue
            state = self._state_of(group)
            ground = self._main_ground(group.tokens[0])
            prefix = f"{ground}-" if ground.startswith("ground-") else ""
            kind = "accent-text" if ground.startswith("accent") else f"{prefix}link"
            self._take(self._free(f"{kind}-{state}"), group, f"Shows only when {_STATE_LABELS[state]}.")

    # lines

    def _lines(self, tokens: list[int]) -> None:
        marks = [n for n in tokens if self._survey.tokens[n].property.startswith("outline")]
        borders = [n for n in tokens if n not in marks]
        for n in tokens:
            exact = self._exact_role(n)
            if exact is not None:
                self._put(exact, [n])
        borders = [n for n in borders if n not in self._role_of]
        groups = self._cluster(borders, ALIKE_LINES, lambda n: 1.0)
        groups.sort(key=lambda g: -g.weight)
        for index, group in enumerate(groups):
            name = "line" if index == 0 else self._free("line")
            self._take(name, group, "Borders and rules are drawn in it." if index == 0 else "Lines of their own.")
        for group in self._cluster([n for n in marks if n not in self._role_of], ALIKE_LINES, lambda n: 1.0):
            self._take(self._free("focus-mark"), group, "It marks what the keyboard is on.")

    def _shadows(self, tokens: list[int]) -> None:
        """Shadows, glows and the rest: under a role that has the colour, else under roles of their own."""
        for n in tokens:
            exact = self._exact_role(n) if self._alpha(n) == 1 else None
            if exact is not None:
                self._put(exact, [n])
        left = [n for n in tokens if n not in self._role_of]
        for group in self._cluster(left, ALIKE_LINES, lambda n: 1.0):
            self._take(self._free("shadow"), group, "Shadows and glows are drawn in it.")

    def _unused(self, tokens: list[int]) -> None:
        """What no page shows: under the nearest role of its kind, so that it follows should it be shown one day."""
        for kind in ("ground", "words"):
            own = [n for n in tokens if self._uses[n].kind == kind]
            roles = [r.name for r in self._proposal.roles if self._uses[self._proposal.tokens[r.name][0]].kind == kind]
            self._join(own, roles, ALIKE_UNUSED)
            for group in self._cluster([n for n in own if n not in self._role_of], ALIKE_UNUSED, lambda n: 1.0):
                name = self._next_ground() if kind == "ground" else self._free("text")
                self._take(name, group, "No page shows it now.")

    def _next_ground(self) -> str:
        numbers = [int(r.name.split("-")[1]) for r in self._proposal.roles if re.fullmatch(r"ground-\d+", r.name)]
        return f"ground-{max(numbers, default=0) + 1}"

    # shared steps

    def _take(self, name: str, group: _Group, reason: str) -> None:
        first = self._survey.tokens[group.tokens[0]].colour
        opaque = first.with_alpha(1.0)
        count = len({self._survey.tokens[n].colour.hex() for n in group.tokens})
        joined = f" {count} near-alike colours come together." if count > 1 else ""
        value = opaque.hex()
        self._proposal.roles.append(
            Role(name=name, label=self._label(name, value), value=value, found=value, reason=reason + joined)
        )
        self._put(name, group.tokens)

    def _label(self, name: str, value: str) -> str:
        """Return what a role is called: grounds by a word for their colour, what is written on them after them."""
        parts = name.split("-")
        if parts[0] != "ground" or len(parts) < 2 or not parts[1].isdigit():
            return label_of(name)
        if len(parts) == 2:
            word = word_of(value)
            same = sum(1 for known in self._words_of_grounds.values() if known.split(" (")[0] == word)
            self._words_of_grounds[name] = word if not same else f"{word} ({same + 1})"
            return f"Ground: {self._words_of_grounds[name]}"
        ground = self._words_of_grounds.get("-".join(parts[:2]))
        return f"{label_of('-'.join(parts[2:]))} on {ground}" if ground else label_of(name)

    def _put(self, name: str, tokens: Iterable[int]) -> None:
        for n in tokens:
            self._role_of[n] = name
            self._proposal.tokens.setdefault(name, []).append(n)

    def _join(self, tokens: list[int], roles: list[str], within: float) -> None:
        """Put each token under the nearest of some roles, if it is near enough."""
        for n in tokens:
            near = [(self._distance(n, self._proposal.tokens[role][0]), role) for role in roles]
            if near and min(near)[0] < within * self._within:
                self._put(min(near)[1], [n])

    def _cluster(self, tokens: list[int], within: float, weight: Callable[[int], float]) -> list[_Group]:
        """Gather tokens around the heaviest one, then the heaviest of those left, and so on."""
        left = sorted(tokens, key=lambda n: (-weight(n), n))
        groups: list[_Group] = []
        while left:
            seed = left[0]
            members = [n for n in left if self._distance(n, seed) <= within * self._within]
            left = [n for n in left if n not in members]
            groups.append(_Group(members, sum(weight(n) for n in members)))
        return groups

    def _largest(self, tokens: list[int]) -> _Group | None:
        groups = self._cluster(tokens, ALIKE_WORDS, self._words_weight)
        return max(groups, key=lambda g: g.weight, default=None)

    def _words_weight(self, number: int) -> float:
        return self._uses[number].words

    def _distance(self, one: int, other: int) -> float:
        return float(np.linalg.norm(self._lab[one] - self._lab[other]))

    def _alpha(self, number: int) -> float:
        return self._survey.tokens[number].colour.alpha

    def _chroma(self, number: int) -> float:
        return float(np.hypot(self._lab[number, 1], self._lab[number, 2]))

    def _buttons(self, group: _Group) -> float:
        return sum(self._uses[n].buttons for n in group.tokens)

    def _texts(self, group: _Group) -> str:
        count = len({run for n in group.tokens for run in self._uses[n].runs})
        return "No text stands" if count == 0 else "One text stands" if count == 1 else f"{count} texts stand"

    def _seen_at_rest(self, number: int) -> bool:
        use = self._uses[number]
        if not use.states:
            selector = self._survey.tokens[number].selector
            return not any(f":{state}" in selector for state in _STATE_LABELS)
        return "rest" in use.states

    def _state_of(self, group: _Group) -> str:
        seen = {state for n in group.tokens for state in self._uses[n].states}
        written = [s for s in _STATE_LABELS if any(f":{s}" in self._survey.tokens[n].selector for n in group.tokens)]
        return next((s for s in _STATE_LABELS if s in seen), written[0] if written else "hover")

    def _exact_role(self, number: int) -> str | None:
        colour = self._survey.tokens[number].colour.rgb
        for role in self._proposal.roles:
            if read_rgb(role) == colour:
                return role.name
        return None

    def _main_ground(self, number: int) -> str:
        weights: dict[str, float] = defaultdict(float)
        for ground, weight in self._uses[number].on.items():
            weights[self._role_of.get(ground, "")] += weight
        return max(weights, key=lambda name: (weights[name], name), default="")

    def _ground_roles(self) -> list[str]:
        return [r.name for r in self._proposal.roles]

    def _ground_lightness(self, prefix: str) -> float:
        name = prefix.rstrip("-") or "background"
        numbers = self._proposal.tokens.get(name)
        return float(self._lab[numbers[0], 0]) if numbers else 1.0

    def _effective_lightness(self, number: int, ground: float) -> float:
        alpha = self._alpha(number)
        return float(self._lab[number, 0]) * alpha + ground * (1 - alpha)

    def _where(self, prefix: str) -> str:
        name = prefix.rstrip("-")
        return f" on {self._words_of_grounds.get(name, label_of(name))}" if prefix else ""

    def _free(self, name: str) -> str:
        taken = {role.name for role in self._proposal.roles}
        if name not in taken:
            return name
        number = 2
        while f"{name}-{number}" in taken:
            number += 1
        return f"{name}-{number}"


def read_rgb(role: Role) -> tuple[float, float, float]:
    """Return a role's channels."""
    colour: Colour = role.colour
    return colour.rgb


def label_of(name: str) -> str:
    """Return what a role is called on screen until its owner names it."""
    if name in _LABELS:
        return _LABELS[name]
    parts = name.split("-")
    if parts[0] == "ground" and len(parts) > 1 and parts[1].isdigit():
        rest = "-".join(parts[2:])
        tail = label_of(rest) if rest else ""
        return f"Ground {parts[1]}" + (f": {tail[0].lower()}{tail[1:]}" if tail else "")
    if parts[-1].isdigit():
        return f"{label_of('-'.join(parts[:-1]))} {parts[-1]}"
    if parts[-1] in _STATE_LABELS:
        return f"{label_of('-'.join(parts[:-1]))}, {_STATE_LABELS[parts[-1]]}"
    return name.replace("-", " ").capitalize()


_ORDER = [
    "background",
    "panel",
    "text",
    "heading",
    "quiet",
    "link",
    "accent",
    "accent-text",
    "line",
    "focus-mark",
    "shadow",
]


def _rail_order(role: Role) -> tuple[int, int, str]:
    parts = role.name.split("-")
    if parts[0] == "ground" and len(parts) > 1 and parts[1].isdigit():
        return len(_ORDER), int(parts[1]), role.name
    base = next((i for i, known in reversed(list(enumerate(_ORDER))) if role.name.startswith(known)), len(_ORDER) + 1)
    return base, 0, role.name

"""How everything could be fixed: changes of colour, and what is offered beside them."""

from __future__ import annotations

import time
from collections.abc import Collection, Sequence
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from glaucon.core.acts.act import Answer, Effort, Search
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.trying import documents_of
from glaucon.core.acts.whole.changes import ChangeTold, PlaceValues, RolePart, change_told, place_told
from glaucon.core.acts.whole.fix import Fix
from glaucon.core.acts.whole.over_pictures import OVER_SECONDS, VeilOffer, over_pictures
from glaucon.core.backdrops.marked import Text
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.fixed import Fixed, fix_all
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.helping_rules import HelpingRule, RuleWay, helping_rules
from glaucon.core.mending.role_changes import with_changes
from glaucon.core.mending.two_ways import WAYS, Keeps, fixed_so, in_words, question_of
from glaucon.core.study.fading import with_fade
from glaucon.core.study.own_css import own_css, problems_of, with_more_css
from glaucon.core.study.study import Study
from glaucon.core.study.ties import RoleId
from glaucon.core.study.wearing import wear_of
from glaucon.core.survey.model import ContextKey
from glaucon.core.wording import percent

_MOST_FADES = 20
_MORE_LEFT = 0.05  # of what was hard to read: that a way may leave beside another
# of processor time: somebody waits, after that no more is begun; most sites take one or two
_SECONDS, _RULE_SECONDS = 8.0, 2.0
_HELPED_BY_RULES = ("shared", "gradient", "covered", "outside")
_MOST_BYTES = 3_000_000  # of pages that rules are looked for on
_RULED = tuple(ContextKey(width, state) for width in (1280, 390) for state in ("rest", "hover", "focus"))
_WHY = {
    "faded": "The page fades this text to {faded}. Fade it less, and it is readable.",
    "gradient": "It runs over a gradient, and no one colour is read on all of it. Give it a plain background there.",
    "picture": "It lies on a picture. Lay a veil over the picture, or give the text a plain background there.",
    "locked": "A locked colour is in the way. Unlock it to fix more.",
    "time": "There was no time left for this. Apply what was found, then fix all again.",
    "covered": "Something half clear lies over it and dims it. Lift the text above that.",
    "outside": "Its colour is none of the palette: the browser gives it. Give it one by a rule of your own CSS.",
    "shared": "Its colour has to stay as it is elsewhere. Let backgrounds change, or change it under Sections.",
}


class LessFading(Answer):
    """The least fading of what a selector of the page fades that is readable, opacity 0 to 1."""

    selector: str
    opacity: float
    fixes: int


class RuleOffer(Answer):
    """A CSS rule that makes texts readable: its effect in words, its selector, and the colour it sets.

    `role` is the label of the role whose colour it is, None where it is none of the palette's.
    """

    selector: str
    css: str
    ways: list[RuleWay]
    colour: str | None
    role: str | None
    fixes: int
    samples: list[str]


class LeftTexts(Answer):
    """Texts that stay hard to read: samples, and why with the way out."""

    texts: int
    samples: list[str]
    why: str
    locks: list[str]


class WayTold(Answer):
    """One way to take the decision that changes the face of the site: what it keeps, and how pages show it.

    `keeps` asks for it. `wear` are custom properties and `css` rules for the previews; `left` is how many texts stay
    hard to read.
    """

    keeps: Keeps
    says: str
    is_chosen: bool
    left: int
    wear: dict[str, str | None]
    css: str


class FoundFixes(Answer):
    """The changes, what is offered beside them, what stays hard to read, and how many texts are hard to read."""

    search: Literal["fix-all"] = "fix-all"
    before: int
    after: int
    changes: list[ChangeTold]
    fades: list[LessFading]
    veils: list[VeilOffer]
    rules: list[RuleOffer]
    left: list[LeftTexts]
    ways: list[WayTold] = []

    @property
    def offers(self) -> list[tuple[str, str, str, int]]:
        """Return what is offered: its name, its kind, where, and how many texts it fixes."""
        return [
            *((one.selector, "less fading", one.selector, one.fixes) for one in self.fades),
            *((one.section, "plate" if one.behind else "veil", one.label, one.fixes) for one in self.veils),
            *((one.css, "rule", one.selector, one.fixes) for one in self.rules),
        ]

    def taken(self, offers: Collection[str] | None = ()) -> Fix:
        """Return the act that makes all changes, and takes the offers of those names; None takes every one.

        An offer is named by its selector, section or rule, as `offers` lists them.
        """
        wholes = [one for one in self.changes if not one.tokens and one.there is None]
        there = [one.there for one in self.changes if one.there is not None]
        return Fix(
            act="fix",
            values={one.role: one.after for one in wholes},
            parts=tuple(
                RolePart(role=one.role, where=one.where, colour=one.after, tokens=tuple(one.tokens))
                for one in self.changes if one.tokens
            ),
            places=tuple(
                given for one in there for given in (PlaceValues(place=one.place, values=one.values), *one.beside)
            ),
            fades={one.selector: one.opacity for one in self.fades if offers is None or one.selector in offers},
            veils=tuple(one.given for one in self.veils if offers is None or one.section in offers),
            rules=tuple(one.css for one in self.rules if offers is None or one.css in offers),
        )  # fmt: skip


class FindFixes(Search):
    """Find how everything could be fixed, the best in the time that somebody waits.

    `locks` stay as they are beside locked colours; `room` is how much more than must be is given; with `backgrounds`
    those of pages and wide sections may change too. `keeps` says which way to take where there are two (see `ways`).
    """

    effort: ClassVar[Effort] = "heavy"

    search: Literal["fix-all"]
    locks: Annotated[tuple[RoleId, ...], Field(max_length=400)] = ()
    room: Literal["must", "more", "strict"] = "must"
    backgrounds: bool = False
    keeps: Keeps | None = None

    @classmethod
    def seconds(cls) -> float:
        return _SECONDS + OVER_SECONDS + _RULE_SECONDS

    def find(self, site: SiteAtHand, study: Study) -> FoundFixes:
        return self.find_both(site, study)[0]

    def find_both(self, site: SiteAtHand, study: Study) -> tuple[FoundFixes, Fixed]:
        """Return the answer, and the fixed study with its reasons as the core has them."""
        known = site.under(study)
        start = time.thread_time()
        fixed = fix_all(known, study, self.locks, self.room, _SECONDS, self.backgrounds)
        fixed, ways = self._ways(known, study, fixed, time.thread_time() - start)
        guard = Guard(known, study)
        rules = _rules(site, fixed, guard, time.thread_time() + _RULE_SECONDS)
        helped = {text for rule in rules for text in rule.texts}
        answer = FoundFixes(
            before=fixed.before, after=fixed.after,
            changes=[
                change_told(known, study, one) for one in fixed.changes
                if one.tokens or one.role not in fixed.study.ties or fixed.study.role(one.role).follows_brand
            ]
            + [place_told(known, fixed.study, one) for one in fixed.places],
            fades=_fades(fixed, guard),
            veils=over_pictures(site, fixed, guard),
            rules=[_rule_told(known, fixed.study, one) for one in rules],
            left=_left(known, study, fixed, helped), ways=ways,
        )  # fmt: skip
        return answer, fixed

    def _ways(self, known: KnownSite, study: Study, fixed: Fixed, took: float) -> tuple[Fixed, list[WayTold]]:
        """Return what is taken of the ways there are, and all of them; none where there is nothing to ask."""
        question = question_of(known, study)
        kept = set(self.locks) | {role.id for role in study.roles if role.locked}
        is_free = question is not None and not kept & {question.background, question.text}
        if question is None or not is_free or self.backgrounds or took > _SECONDS / len(WAYS):
            return fixed, []
        every: dict[Keeps, Fixed] = {}
        for keeps in WAYS:
            one = fixed_so(known, study, question, keeps, self.locks, self.room, _SECONDS)
            if one.after <= fixed.after + _MORE_LEFT * fixed.before:
                every[keeps] = one
        _, unasked = in_words(known, study, question, fixed.study)
        if len(every) < len(WAYS):
            return fixed, []
        every[unasked or "background"] = fixed if unasked else every["background"]
        chosen = self.keeps or unasked or "background"
        told = [
            WayTold(
                keeps=keeps, says=in_words(known, study, question, one.study)[0], is_chosen=keeps == chosen,
                left=one.after, **_shown_by(known, study, one),
            )
            for keeps, one in every.items()
        ]  # fmt: skip
        is_told = len({one.says for one in told}) == len(told)
        return (every[chosen], sorted(told, key=lambda one: one.keeps)) if is_told else (fixed, [])


def _shown_by(known: KnownSite, study: Study, fixed: Fixed) -> dict[str, Any]:
    """Return the custom properties and the rules by which previews of a study show it fixed."""
    wholes = with_changes(study, [one for one in fixed.changes if not one.tokens])
    told = [change_told(known, study, one) for one in fixed.changes if one.tokens]
    places = [place_told(known, fixed.study, one) for one in fixed.places]
    wear = wear_of(wholes, known.survey.tokens)
    for one in told:
        wear.update(one.wear)
    return {"wear": wear, "css": "\n".join(one.there.css for one in places if one.there is not None)}


def _fades(fixed: Fixed, guard: Guard) -> list[LessFading]:
    """Return the less fading that makes no text worse, one by one, however many of them are taken."""
    study, found = fixed.study, []
    for selector, opacity, fixes in fixed.fades[:_MOST_FADES]:
        tried = with_fade(study, selector, opacity)
        if not guard.worse(tried) and not guard.worse(with_fade(fixed.study, selector, opacity)):
            study = tried
            found.append(LessFading(selector=selector, opacity=opacity, fixes=fixes))
    return found


def _left(known: KnownSite, study: Study, fixed: Fixed, helped: set[Text]) -> list[LeftTexts]:
    labels = study.labels
    return [
        LeftTexts(
            texts=len(texts), samples=_samples(known, texts), why=_WHY[one.why].format(faded=percent(one.faded)),
            locks=[labels[name] for name in one.locks],
        )
        for one in fixed.left
        if (texts := [number for number in one.texts if _text(known, number) not in helped])
    ]  # fmt: skip


def _text(known: KnownSite, number: int) -> Text:
    run = known.survey.runs[number]
    return run.page, run.path


def _samples(known: KnownSite, texts: Sequence[int]) -> list[str]:
    """Return the words of a few texts, each once."""
    return list(dict.fromkeys(known.survey.runs[run].text[:60] for run in texts))[:3]


def _rules(site: SiteAtHand, fixed: Fixed, guard: Guard, until: float) -> list[HelpingRule]:
    """Return the rules of CSS that make texts readable which stay hard to read when all changes are made.

    None where the owner's own CSS does not parse, or the site is too large to be looked at whole while somebody waits.
    """
    left = [number for one in fixed.left if one.why in _HELPED_BY_RULES for number in one.texts]
    study = fixed.study
    if not left or any(one.stops for one in problems_of(own_css(study))):
        return []
    known, files = site.under(study), site.files().files
    pages = known.survey.pages
    if sum(len(files[page]) for page in pages) > _MOST_BYTES:
        return []

    def seen(css: str, some: Collection[str]) -> KnownSite:
        return site.on_pages(with_more_css(study, [css]), some, _RULED)

    found = helping_rules(known, study, left, documents_of(site, pages), seen, until)
    return [
        one
        for one in found
        if not guard.worse_in(seen(one.css, sorted({page for page, _ in one.texts})), with_more_css(study, [one.css]))
    ]


def _rule_told(known: KnownSite, study: Study, one: HelpingRule) -> RuleOffer:
    return RuleOffer(
        selector=one.selector, css=one.css, ways=one.ways, fixes=len(one.texts),
        colour=study.role(one.role).value if one.role else one.colour.hex() if one.colour else None,
        role=study.labels[one.role] if one.role else None,
        samples=_samples(known, [n for n in range(len(known.survey.runs)) if _text(known, n) in one.texts]),
    )  # fmt: skip

"""Fixing everything at once, shaped for the API: what is found, and what of it is taken."""

from __future__ import annotations

import time
from collections.abc import Iterable, Mapping, Sequence

from glaucon.apps.api.places import hold_to_the_site, place_of
from glaucon.apps.api.schemas.study import (
    FadingOut,
    FixesIn,
    FixOut,
    LeftOut,
    MendIn,
    MendOut,
    PartIn,
    RuleOut,
    ThereIn,
    ThereOut,
    TriedIn,
    VeilOut,
    WhereIn,
)
from glaucon.apps.errors import Refused
from glaucon.apps.sites.backdrops import backdrops_for
from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import known_for, known_of
from glaucon.apps.sites.trying import rules_that_help, veil_over_section, with_backdrop
from glaucon.core.backdrops.css import veil_strength
from glaucon.core.colour.value import read_colour
from glaucon.core.exchange.dressing import dressing_of
from glaucon.core.exchange.preview import PAGE_ATTRIBUTE, token_property
from glaucon.core.mending.fixed import Change, Fixed, fix_all, painted, with_changes
from glaucon.core.mending.helping_rules import HelpingRule
from glaucon.core.mending.place_changes import PlaceChange, with_place
from glaucon.core.places.behind import sections_behind
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.backdrops import Backdrop
from glaucon.core.study.fading import with_fades
from glaucon.core.study.own_css import with_more_css
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.wording import counted, percent

_MOST_VEILS = 3
_MOST_FADES = 20
_SECONDS = 8.0  # of processor time: somebody waits, after that no more is begun; most sites take one or two
_VEIL_SECONDS, _RULE_SECONDS = 1.5, 2.0
_HELPED_BY_RULES = ("shared", "gradient", "covered", "outside")


def mend_out(site: Site, study: Study, asked: MendIn) -> MendOut:
    """Return how everything could be fixed, the best found in the time that somebody waits."""
    known = known_for(site, study)
    fixed = fix_all(known, study, asked.locks, asked.room, _SECONDS, asked.backgrounds)
    labels = study.labels
    left = [number for one in fixed.left if one.why in _HELPED_BY_RULES for number in one.texts]
    rules = rules_that_help(site, fixed.study, left, time.thread_time() + _RULE_SECONDS)
    helped = {text for rule in rules for text in rule.texts}
    return MendOut(
        before=fixed.before,
        after=fixed.after,
        changes=[fix_out(known, study, one) for one in fixed.changes if one.role not in fixed.study.ties]
        + [place_out(known, fixed.study, one) for one in fixed.places],
        fades=[FadingOut(selector=s, opacity=o, fixes=n) for s, o, n in fixed.fades[:_MOST_FADES]],
        veils=_veils_out(site, known, fixed, time.thread_time() + _VEIL_SECONDS),
        rules=[_rule_out(known, fixed.study, one) for one in rules],
        left=[
            LeftOut(
                texts=len(texts), samples=_samples(known, texts),
                why=_WHY[one.why].format(faded=percent(one.faded)), locks=[labels[name] for name in one.locks],
            )
            for one in fixed.left
            if (texts := [number for number in one.texts if _place_of(known, number) not in helped])
        ],
    )  # fmt: skip


def _place_of(known: KnownSite, text: int) -> tuple[str, str]:
    run = known.survey.runs[text]
    return run.page, run.path


def _samples(known: KnownSite, texts: Sequence[int]) -> list[str]:
    """Return the words of a few texts, each once."""
    return list(dict.fromkeys(known.survey.runs[run].text[:60] for run in texts))[:3]


def _rule_out(known: KnownSite, study: Study, one: HelpingRule) -> RuleOut:
    return RuleOut(
        selector=one.selector, css=one.css, ways=one.ways, fixes=len(one.texts),
        colour=study.role(one.role).value if one.role else one.colour.hex() if one.colour else None,
        role=study.labels[one.role] if one.role else None,
        samples=_samples(known, [n for n in range(len(known.survey.runs)) if _place_of(known, n) in one.texts]),
    )  # fmt: skip


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


def _veils_out(site: Site, known: KnownSite, fixed: Fixed, until: float) -> list[VeilOut]:
    """Return the veils that would make text on pictures readable which no change of colour does."""
    left = [number for one in fixed.left if one.why in ("picture", "shared") for number in one.texts]
    texts = {(known.survey.runs[number].page, known.survey.runs[number].path) for number in left}
    found = []
    for region, page in sections_behind(known.survey, left)[:_MOST_VEILS]:
        over = veil_over_section(site, fixed.study, region.key, texts) if time.thread_time() < until else None
        veil = over.backdrop.layers[0].veil if over is not None else None
        if over is None or veil is None:
            continue
        alone = fixed.study.model_copy(update={"backdrops": (over.backdrop,)})
        behind = backdrops_for(site, alone, known.survey.regions)
        colour = veil.colour if isinstance(veil.colour, str) else fixed.study.role(veil.colour.role).value
        found.append(
            VeilOut(
                section=region.key, label=region.label, page=page, colour=colour,
                role=None if isinstance(veil.colour, str) else veil.colour.role, opacity=veil_strength(veil),
                fixes=over.fixes, css=behind.for_previews(known.survey.pages, PAGE_ATTRIBUTE),
            )
        )  # fmt: skip
    return found


def fix_out(known: KnownSite, study: Study, one: Change) -> FixOut:
    worn = painted(known, study, one) if one.tokens else {}
    return FixOut(
        role=one.role, label=study.role(one.role).label, where=one.where, before=one.before.hex(),
        after=one.after.hex(), delta_e_ok=one.delta_e_ok, texts=one.texts, fixes=one.fixes, tokens=list(one.tokens),
        wear={token_property(known.survey.tokens[number]): text for number, text in worn.items()},
    )  # fmt: skip


def place_out(known: KnownSite, study: Study, one: PlaceChange) -> FixOut:
    places = {one.where, *one.also, *(inner.where for inner in one.kept)}
    alone = study.model_copy(update={"worn": tuple(s for s in study.worn if s.where in places)})
    rules = dressing_of(one.made_in(alone), known.survey.regions, known.survey.tokens)
    beside = [(inner.where, inner.colour) for inner in one.kept] + [(where, one.after) for where in one.also]
    there = ThereOut(
        place=WhereIn(**one.where.model_dump()), values={one.use: one.after.hex()},
        css=rules.for_previews(known.survey.pages, PAGE_ATTRIBUTE),
        beside=[
            ThereIn(place=WhereIn(**where.model_dump()), values={one.use: colour.hex()}) for where, colour in beside
        ],
    )  # fmt: skip
    return FixOut(
        role=one.role, label=study.role(one.role).label, where=_place_in_words(one),
        before=one.before.hex(), after=one.after.hex(), delta_e_ok=one.delta_e_ok, texts=one.texts, fixes=one.fixes,
        tokens=[], wear={}, there=there,
    )  # fmt: skip


def _place_in_words(one: PlaceChange) -> str:
    if one.where.at is not None:
        return f"of {one.place}" + (f" and {len(one.also)} more" if one.also else "")
    if one.also:
        return f"in {one.place} and {counted(len(one.also), 'more place')}"
    boxes = ", ".join(dict.fromkeys(inner.place for inner in one.kept))
    return f"in {one.place}, but not in {boxes}" if boxes else f"in {one.place}"


def parts_of(study: Study, parts: Iterable[PartIn]) -> list[Change]:
    """Return parts of roles that are to have colours of their own, as changes of a study.

    Raises: StudyError, ColourError: a role that is not of the study, or no colour.
    """
    return [
        Change(one.role, study.role(one.role).colour, read_colour(one.colour), 0, 0, tuple(one.tokens), one.where)
        for one in parts
    ]


def with_worn(known: KnownSite, study: Study, places: Iterable[ThereIn]) -> Study:
    """Return a study with what some places wear alone. Raises: Refused: 422: a place that the site does not have."""
    for one in places:
        where = place_of(one.place)
        hold_to_the_site(known, where)
        study = with_place(study, where, one.values)
    return study


def with_less_fading(known: KnownSite, study: Study, fades: Mapping[str, float]) -> Study:
    """Return a study with what the page fades at other opacities. Raises: Refused: 422: a selector fades nothing."""
    wrong = next((selector for selector in fades if selector not in known.index.faded_by), None)
    if wrong is not None:
        raise Refused(422, "no-fading", f"“{wrong[:80]}” fades no text on this site. Look at the pages again.")
    return with_fades(study, fades)


def with_tried(known: KnownSite, study: Study, asked: TriedIn) -> Study:
    """Return a study with parts of its colours, what places wear and what is faded less as asked.

    Raises: StudyError, ColourError: what is asked for is not of the study. Refused: 422: a place or a selector is not
    of the site.
    """
    tried = with_changes(study, parts_of(study, asked.parts)) if asked.parts else study
    return with_less_fading(known, with_worn(known, tried, asked.places), asked.fades)


def with_taken(site: Site, study: Study, asked: FixesIn) -> Study:
    """Return a study with the changes that were taken.

    Raises: StudyError, ColourError: what is asked for is not of the study. Refused: 422: a selector that fades nothing.
    """
    known = known_of(site)
    changes = [Change(role, study.role(role).colour, read_colour(text), 0, 0) for role, text in asked.values.items()]
    taken = with_tried(known, with_changes(study, changes), asked)
    for veil in asked.veils:
        where = Where(section=veil.section)
        hold_to_the_site(known, where)
        colour: object = {"role": veil.role} if veil.role is not None else read_colour(veil.colour).hex()
        layers = [{"veil": {"colour": colour, "opacity": veil.opacity}}]
        taken = with_backdrop(taken, Backdrop.model_validate({"in": where, "layers": layers}))
    return with_more_css(taken, asked.rules)

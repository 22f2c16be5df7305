"""Made palettes: from a few given colours whole readable studies for a site, in several directions.

A direction says how light the page is, how colourful, and which hues its parts take from the given colours. Each role
is placed by what it does on the site (`drafting`); then everything is mended together with the given colours locked
where they may stay (`placing`).
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.errors import StudyError
from glaucon.core.known.site import KnownSite
from glaucon.core.making.drafting import COLOURFUL, DIRECTIONS, GREY, Direction, Parts, keeps_colour, lch_of
from glaucon.core.making.placing import Placed, begun, fills_buttons, placed
from glaucon.core.making.settling import settled
from glaucon.core.mending.fixed import hard_texts, hard_to_read, least_fading
from glaucon.core.mending.harm import Guard
from glaucon.core.mending.keeping import Keeping
from glaucon.core.mending.place_changes import PlaceChange, with_places
from glaucon.core.mending.role_changes import Change, with_changes
from glaucon.core.proposal.colour_words import word_of
from glaucon.core.proposal.usage import RoleUse
from glaucon.core.study.darkness import is_dark
from glaucon.core.study.editing import add_role
from glaucon.core.study.fading import with_fades
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.wording import listed

__all__ = ["COLOURFUL", "DIRECTIONS", "GREY", "Made", "counterpart", "is_dark", "make_studies", "make_study"]

MOST_GIVEN = 5
_SECONDS = 1.0  # for what is kept as it was
_CHOICE = 3  # directions that are choice enough
APART = 0.08  # ΔE OK, on average over the roles, between any two directions


@dataclass(slots=True)
class Made:
    """A made study, what it does in words, where the given colours stand, and texts that stay hard to read.

    `study` has the `parts`, `places` and `fades` on top of `base`.

    Given colours that find no place among the site's roles are roles of their own that nothing wears yet.
    """

    study: Study
    base: Study  # without the parts
    about: str
    given: dict[str, str]
    failing: int
    parts: tuple[Change, ...] = ()  # of roles, in colours of their own
    places: tuple[PlaceChange, ...] = ()  # with text colours of their own
    fades: dict[str, float] = field(default_factory=dict)  # what the page fades, by selector, and how much less
    left: list[str] = field(default_factory=list)
    is_blocked: bool = False  # no given colour has a place


def make_studies(
    known: KnownSite,
    study: Study,
    given: Sequence[Colour],
    most: int = len(DIRECTIONS),
    progress: Callable[[str, int, int], None] = lambda what, done, total: None,
) -> list[Made]:
    """Return studies made from one to five given colours for a site, each in another direction.

    Raises: StudyError: no colour given, or too many.
    """
    if not 1 <= len(given) <= MOST_GIVEN:
        raise StudyError(f"Give one to {MOST_GIVEN} colours; {len(given)} were given.")
    site = Parts(known, study)
    every: list[Made] = []
    made: list[Made] = []
    for number in range(len(DIRECTIONS)):
        progress("making", number, len(DIRECTIONS))
        if len(made) >= most:
            break
        every.append(make_study(known, study, given, number, site))
        made = _apart(every)
    # a direction in which no given colour has a place comes last, and not where there is choice enough without
    made.sort(key=lambda one: one.is_blocked)
    return [one for number, one in enumerate(made) if not one.is_blocked or number < _CHOICE]


def _apart(every: Sequence[Made]) -> list[Made]:
    """Return those that differ enough from each other, the first first; without the first ones if it is more then."""
    best: list[Made] = []
    for first in range(len(every)):
        kept: list[Made] = []
        for one in every[first:]:
            if all(average_difference(one.study, other.study) >= APART for other in kept):
                kept.append(one)
        if len(kept) > len(best):
            best = kept
        if len(best) >= _CHOICE:
            break
    return best


def make_study(
    known: KnownSite,
    study: Study,
    given: Sequence[Colour],
    direction: int,
    site: Parts | None = None,
    wished: Mapping[str, Colour] | None = None,
    whose: str = "your",
) -> Made:
    """Return the study made from some colours in one direction, a place in DIRECTIONS.

    `wished` says by role which of the given colours are to be where; the others go where they suit. `whose` they are
    is said in the words about it.
    Raises: StudyError: no colour given, or too many; no such direction; no such role.
    """
    if not 1 <= len(given) <= MOST_GIVEN:
        raise StudyError(f"Give one to {MOST_GIVEN} colours; {len(given)} were given.")
    if not 0 <= direction < len(DIRECTIONS):
        raise StudyError(f"There are {len(DIRECTIONS)} directions. Choose one of them, not number {direction + 1}.")
    colours = [colour.with_alpha(1.0).rounded() for colour in given]
    fixed = {study.role(name).id: colour.with_alpha(1.0).rounded() for name, colour in (wished or {}).items()}
    return _made(site or Parts(known, study), DIRECTIONS[direction], colours, fixed, whose)


def _made(site: Parts, direction: Direction, given: list[Colour], wished: Mapping[str, Colour], whose: str) -> Made:
    found = placed(site, direction, given, wished)
    base, stand = found.settled.base, {name: colour.hex() for name, colour in found.places.items()}
    about = _about(site, base, found, whose)
    for colour in found.without:
        base, name = _with_own(base, css_text(colour))
        stand[name] = colour.hex()
    made = finished(site.known, site.study, base, found.settled.parts, found.settled.places, about)
    return replace(made, given=stand, is_blocked=not found.places)


def finished(
    known: KnownSite, before: Study, base: Study, parts: tuple[Change, ...], places: tuple[PlaceChange, ...], about: str
) -> Made:
    """Return the made study complete with parts of roles, place values, and reduced fading.

    What ends hard to read or untold, on a picture, has no less contrast than in the study `before`.
    """
    study, fades = with_places(with_changes(base, parts), places), dict[str, float]()
    failing = len(hard_texts(known, study))
    if failing:
        fades = {name: opacity for name, opacity, _ in least_fading(known, study, hard_to_read(known, study))}
        study = with_fades(study, fades)
    first = Keeping(
        known, before, with_fades(base, fades), Guard(known, before, disabled=False), parts, places, _others(study)
    )
    kept = first.until_kept(time.thread_time() + _SECONDS)
    study, parts, places = kept.made(), kept.changes, kept.places
    failing = len(hard_texts(known, study)) if fades or kept is not first else failing
    left = texts_left(known, study) if failing else []
    return Made(study, base, about, {}, failing, parts, places, fades, left)


def _others(study: Study) -> tuple[Colour, ...]:
    """Return what text on a picture may wear instead of its own colour: the lightest and the darkest there are."""
    own = [role.colour for role in study.roles if role.kind in ("background", "text", "heading") and role.coat is None]
    light = sorted(own, key=lambda one: float(lch_of(one)[0]))
    return (*light[-1:], *light[:1], Colour(1.0, 1.0, 1.0), Colour(0.0, 0.0, 0.0))


def _with_own(study: Study, value: str) -> tuple[Study, str]:
    return add_role(study, f"Yours: {word_of(read_colour(value).hex())}", value, "yours")


def with_given(
    study: Study, values: Mapping[str, str], given: Mapping[str, str], parts: Sequence[Change] = ()
) -> Study:
    """Return a study with made values; given colours are locked, and get new roles if no role holds them.

    `parts` are those of its roles that have colours of their own.

    Raises: StudyError: a value for a role that there is none of. ColourError: a value is no colour.
    """
    known = {role.id for role in study.roles}
    made = study.with_values(
        {name: value for name, value in values.items() if name not in given or name in known}, take=True
    )
    for name, value in given.items():
        if name not in known:
            made, name = _with_own(made, value)
        made = made.with_roles({name: {"locked": True, "tie": None}})
    return with_changes(made, parts)


def average_difference(one: Study, other: Study) -> float:
    """Return ΔE OK between the values of two studies' roles, on average over the roles in use."""
    values, used = {role.id: role.colour.rgb for role in other.roles}, set(one.mapping.values())
    pairs = np.array(
        [(role.colour.rgb, values[role.id]) for role in one.roles if role.id in values and role.id in used]
    )
    return float(delta_e_ok(pairs[:, 0], pairs[:, 1]).mean()) if len(pairs) else 0.0


def texts_left(known: KnownSite, study: Study) -> list[str]:
    """Return samples of the texts that stay hard to read under a made study."""
    reading = known.read(study)
    return [finding.sample for finding in reading.findings if finding.verdict == "fail"][:6]


def _about(site: Parts, study: Study, found: Placed, whose: str) -> str:
    """Return what a direction does, in words: "Your orange on buttons; page white; headings deep blue"."""
    said = [f"{whose} {word_of(c.hex())} on {_does(site, name)}" for name, c in list(found.places.items())[:4]]
    told = [role for kind in ("background", "text", "heading", "link") if (role := study.first(kind)) is not None]
    coats = [role for coat in study.short_coats() if (role := study.first("background", coat.id)) is not None]
    names: dict[str, list[str]] = {}
    for role in [*told, *(role for role in coats[:2] if role.id in site.uses)]:
        if role.id not in found.places:
            names.setdefault(word_of(role.colour.hex()), []).append(_does(site, role.id))
    said += [f"{listed(some, 3)} {word}" for word, some in names.items()]
    if found.without:
        words = " and ".join(f"{whose} {word_of(colour.hex())}" for colour in found.without)
        said.append(f"{words} in the palette, not used yet")
    sentence = "; ".join(said)
    return sentence[:1].upper() + sentence[1:] + "."


_SAID = {"accent": "buttons", "line": "lines", "background": "page", "link": "links", "heading": "headings"}


def _does(site: Parts, name: str) -> str:
    role = site.roles[name]
    if role.coat is not None:
        label = next(coat.label for coat in site.study.coats if coat.id == role.coat)
        is_of_buttons = site.study.first("accent") is None and name in fills_buttons(site)
        return f"buttons and {label}" if is_of_buttons else label
    return _SAID.get(role.kind, role.label.lower())


def counterpart(known: KnownSite, study: Study) -> Made:
    """Return a study of the same character on the other side: dark for a light one, light for a dark one.

    Lightness is turned over, hues and most of the colour stay; fills of middling lightness (buttons) stay as they are;
    what is over pictures is mended against them like everything else.
    """
    site = Parts(known, study)
    names, roles = [role.id for role in study.roles], study.roles
    lch = np.array([lch_of(role.colour) for role in study.roles])
    kinds = [site.uses.get(name, RoleUse("other", None)).kind for name in names]
    turned = _turned_over(lch, kinds, roles)
    values = {}
    for name, rgb in zip(names, into_srgb(turned), strict=True):
        colour = Colour(float(rgb[0]), float(rgb[1]), float(rgb[2]), study.role(name).colour.alpha)
        values[name] = css_text(colour)
    name = f"{study.name}, {'light' if is_dark(study) else 'dark'}"[:80]
    start = begun(study, name, values)
    floors = {n: min(COLOURFUL, float(lch[i, 1])) for i, n in enumerate(names) if keeps_colour(site, n)}
    found = settled(known, start, (), floors)
    about = (
        f"The same hues on a {'light' if is_dark(study) else 'dark'} page. "
        "Buttons keep their colour where it is readable."
    )
    return finished(known, study, found.base, found.parts, found.places, about)


def _turned_over(lch: Floats, kinds: Iterable[str], roles: Iterable[Role]) -> Floats:
    turned = lch.copy()
    for row, (kind, role) in enumerate(zip(kinds, roles, strict=True)):
        lightness, chroma, _ = lch[row]
        if kind == "background" and role.kind == "accent" and 0.4 < lightness < 0.75:
            continue
        # the eye tells dark steps apart less well: they are drawn out
        turned[row, 0] = 0.15 + (1 - min(1.0, lightness)) ** 0.85 * 0.84
        turned[row, 1] = chroma * (0.85 if lightness > 0.5 else 1.0)
    return turned

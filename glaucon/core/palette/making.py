"""Made palettes: from a few given colours whole readable studies for a site, in several directions.

A direction says how light the page is, how colourful, and which hues its parts take from the given colours. Each role
is placed by what it does on the site (`drafting`); then everything is mended together with the given colours locked
where they may stay (`placing`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.oklab import Floats, delta_e_ok
from glaucon.core.colour.value import Colour, css_text, read_colour
from glaucon.core.errors import StudyError
from glaucon.core.palette.drafting import COLOURFUL, DIRECTIONS, GREY, MIDDLING, Direction, Parts, keeps_colour, lch_of
from glaucon.core.palette.editing import add_role
from glaucon.core.palette.found import word_of
from glaucon.core.palette.known import KnownSite
from glaucon.core.palette.mend_all import mend_all
from glaucon.core.palette.placing import Placed, begun, placed
from glaucon.core.palette.study import Study
from glaucon.core.palette.ties import into_srgb
from glaucon.core.palette.usage import RoleUse

__all__ = ["COLOURFUL", "DIRECTIONS", "GREY", "Made", "counterpart", "is_dark", "make_studies", "make_study"]

MOST_GIVEN = 5
APART = 0.08  # ΔE OK, on average over the roles, between any two directions


@dataclass(slots=True)
class Made:
    """A made study, what it does in words, where the given colours stand, and texts that stay hard to read.

    Given colours that find no place among the site's roles are roles of their own that nothing wears yet.
    """

    study: Study
    about: str
    given: dict[str, str]
    failing: int
    left: list[str] = field(default_factory=list)
    is_blocked: bool = False  # a given colour stands in the way, none has a place, or light turned dark


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
        raise StudyError(f"A palette is made from one to {MOST_GIVEN} colours; {len(given)} were given.")
    site = Parts(known, study)
    made: list[Made] = []
    for number in range(len(DIRECTIONS)):
        progress("making", number, len(DIRECTIONS))
        if len(made) >= most:
            break
        found = make_study(known, study, given, number, site)
        if all(average_difference(found.study, other.study) >= APART for other in made):
            made.append(found)
    # a direction that a given colour, or the site, does not let come out is no choice where there are others
    return [one for one in made if not one.is_blocked] or sorted(made, key=lambda one: one.failing)[:1]


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
        raise StudyError(f"A palette is made from one to {MOST_GIVEN} colours; {len(given)} were given.")
    if not 0 <= direction < len(DIRECTIONS):
        raise StudyError(
            f"There are {len(DIRECTIONS)} directions to make a palette in; {direction + 1} is none of them."
        )
    colours = [colour.with_alpha(1.0).rounded() for colour in given]
    fixed = {study.role(name).name: colour.with_alpha(1.0).rounded() for name, colour in (wished or {}).items()}
    return _made(site or Parts(known, study), DIRECTIONS[direction], colours, fixed, whose)


def _made(site: Parts, direction: Direction, given: list[Colour], wished: Mapping[str, Colour], whose: str) -> Made:
    found = placed(site, direction, given, wished)
    made, stand = found.mended.study, {name: colour.hex() for name, colour in found.places.items()}
    about = _about(site, made, found, whose)
    for colour in found.without:
        made, name = _with_own(made, css_text(colour))
        stand[name] = colour.hex()
    is_blocked = found.wrong > found.anyhow or not found.places or _is_turned_over(made, direction)
    return Made(made, about, stand, found.mended.failing_after, texts_left(site.known, made), is_blocked)


def _is_turned_over(study: Study, direction: Direction) -> bool:
    """Return whether mending left a dark direction with dark words, or a light one with light ones."""
    lightness = {role.name: lch_of(role.colour)[0] for role in study.roles if role.name in ("background", "text")}
    return len(lightness) == 2 and (lightness["text"] < lightness["background"]) != direction.is_light


def _with_own(study: Study, value: str) -> tuple[Study, str]:
    return add_role(study, f"Yours: {word_of(read_colour(value).hex())}", value, "yours")


def with_given(study: Study, values: Mapping[str, str], given: Mapping[str, str]) -> Study:
    """Return a study that wears what was made from it, given colours locked, those without a role on ones of their own.

    Raises: StudyError: a value for a role that there is none of. ColourError: a value is no colour.
    """
    known = {role.name for role in study.roles}
    made = study.with_values(
        {name: value for name, value in values.items() if name not in given or name in known}, take=True
    )
    for name, value in given.items():
        if name not in known:
            made, name = _with_own(made, value)
        made = made.with_roles({name: {"locked": True, "tie": None}})
    return made


def average_difference(one: Study, other: Study) -> float:
    """Return ΔE OK between the values of two studies' roles, on average over the roles of the first."""
    values = {role.name: role.colour.rgb for role in other.roles}
    pairs = np.array([(role.colour.rgb, values[role.name]) for role in one.roles if role.name in values])
    return float(delta_e_ok(pairs[:, 0], pairs[:, 1]).mean()) if len(pairs) else 0.0


def texts_left(known: KnownSite, study: Study) -> list[str]:
    """Return samples of the texts that stay hard to read under a made study."""
    reading = known.read(study)
    return [finding.sample for finding in reading.findings if finding.verdict == "fail"][:6]


def _about(site: Parts, study: Study, found: Placed, whose: str) -> str:
    """Return what a direction does, in words."""
    said = []
    if found.places:
        kept = [f"{whose} {word_of(c.hex())} for {_does(site, name)}" for name, c in list(found.places.items())[:3]]
        said.append("keeps " + ", ".join(kept))
    page = next((role for role in study.roles if role.name == "background"), None)
    if page is not None:
        said.append(f"the page is {word_of(page.colour.hex())}")
    text = next((role for role in study.roles if role.name == "text"), None)
    if text is not None:
        said.append(f"text turns {word_of(text.colour.hex())}")
    dark = [r for r in study.roles if r.name.startswith("ground-") and r.name in site.uses]
    if dark:
        said.append(f"{_does(site, dark[0].name)} becomes {word_of(dark[0].colour.hex())}")
    if found.without:
        words = " and ".join(f"{whose} {word_of(colour.hex())}" for colour in found.without)
        said.append(f"{words} would cost a text wherever it went, so it waits in the palette, worn by nothing")
    sentence = "; ".join(said)
    return sentence[:1].upper() + sentence[1:] + "."


def _does(site: Parts, name: str) -> str:
    use = site.uses.get(name)
    if name.startswith("accent"):
        return "buttons"
    if use is not None and use.kind == "line":
        return "lines"
    # "Ground: deep green" is called by a colour it has no more
    kind, _, colour = site.study.role(name).label.lower().partition(": ")
    return f"what was the {colour} {kind}" if colour else kind


def is_dark(study: Study) -> bool:
    """Return whether a study's page is dark."""
    page = next((role for role in study.roles if role.name == "background"), None)
    return page is not None and lch_of(page.colour)[0] < MIDDLING


def counterpart(known: KnownSite, study: Study) -> Made:
    """Return a study of the same character on the other side: dark for a light one, light for a dark one.

    Lightness is turned over, hues and most of the colour stay; fills of middling lightness (buttons) stay as they are;
    what is over pictures is mended against them like everything else.
    """
    site = Parts(known, study)
    names = [role.name for role in study.roles]
    lch = np.array([lch_of(role.colour) for role in study.roles])
    kinds = [site.uses.get(name, RoleUse("other", None)).kind for name in names]
    turned = _turned_over(lch, kinds, names)
    values = {}
    for name, rgb in zip(names, into_srgb(turned), strict=True):
        colour = Colour(float(rgb[0]), float(rgb[1]), float(rgb[2]), study.role(name).colour.alpha)
        values[name] = css_text(colour)
    name = f"{study.name}, {'light' if is_dark(study) else 'dark'}"[:80]
    start = begun(study, name, values)
    floors = {n: min(COLOURFUL, float(lch[i, 1])) for i, n in enumerate(names) if keeps_colour(site, n)}
    mended = mend_all(known, start, floors=floors, most_boxes=0, is_draft=True)
    about = (
        f"The same hues on a {'light' if is_dark(study) else 'dark'} page; buttons keep their colour where they read."
    )
    return Made(mended.study, about, {}, mended.failing_after, texts_left(known, mended.study))


def _turned_over(lch: Floats, kinds: Iterable[str], names: Iterable[str]) -> Floats:
    turned = lch.copy()
    for row, (kind, name) in enumerate(zip(kinds, names, strict=True)):
        lightness, chroma, _ = lch[row]
        if kind == "ground" and name.startswith("accent") and 0.4 < lightness < 0.75:
            continue
        # the eye tells dark steps apart less well: they are drawn out
        turned[row, 0] = 0.15 + (1 - min(1.0, lightness)) ** 0.85 * 0.84
        turned[row, 1] = chroma * (0.85 if lightness > 0.5 else 1.0)
    return turned

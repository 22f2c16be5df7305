"""Made palettes: from a few given colours whole readable studies for a site, in several directions.

A direction says how light the page is, how colourful, and which hues its parts take from the given colours. Each role
is placed by what it does on the site; then everything is mended together (`mend_all`) with the given colours locked.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.oklab import Floats, delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.errors import StudyError
from glaucon.core.palette.found import word_of
from glaucon.core.palette.known import KnownSite
from glaucon.core.palette.mend_all import mend_all
from glaucon.core.palette.study import Study
from glaucon.core.palette.ties import into_srgb
from glaucon.core.palette.usage import RoleUse

MOST_GIVEN = 5
APART = 0.08  # ΔE OK, on average over the roles, between any two directions
COLOURFUL = 0.06  # OKLCH chroma that links and accents keep
GREY = 0.03
_STATES = ("hover", "focus", "active", "visited")
_MIDDLING = 0.62  # OKLCH lightness


@dataclass(frozen=True, slots=True)
class Direction:
    """A way to make a palette. Lightness and chroma are OKLCH; hues are turned from the first given colour's.

    `page` is the page's lightness and chroma, `panel` how much a panel differs; `sections` the lightness and chroma of
    light and dark ones. `leads` says what the first given colour is for: "accent" or "section".
    """

    name: str
    page: tuple[float, float]
    panel: float
    light: tuple[float, float]
    dark: tuple[float, float]
    words: tuple[float, float]
    leads: str = "accent"
    ground_turn: float = 0.0
    link_turn: float = 0.0
    section_turn: float = 0.0
    accent: tuple[float, float] = (0.5, 0.14)


DIRECTIONS = (
    Direction("Still water", (0.985, 0.006), -0.025, (0.945, 0.02), (0.27, 0.05), (0.24, 0.03), accent=(0.49, 0.14)),
    Direction("Night mooring", (0.2, 0.025), 0.055, (0.29, 0.04), (0.13, 0.03), (0.94, 0.02), accent=(0.74, 0.13)),
    Direction("Painted hull", (0.93, 0.055), 0.04, (0.87, 0.09), (0.43, 0.13), (0.36, 0.11), leads="section",
              link_turn=25, accent=(0.42, 0.15)),
    Direction("Far bank", (0.84, 0.06), 0.05, (0.77, 0.09), (0.31, 0.07), (0.16, 0.05), ground_turn=180,
              section_turn=180, accent=(0.36, 0.12)),
    Direction("Evening sky", (0.38, 0.07), 0.04, (0.44, 0.09), (0.25, 0.06), (0.98, 0.02), ground_turn=-40,
              link_turn=60, section_turn=30, accent=(0.86, 0.12)),
    Direction("Chalk and slate", (0.96, 0.0), -0.06, (0.85, 0.004), (0.14, 0.008), (0.1, 0.004), accent=(0.44, 0.14)),
)  # fmt: skip


@dataclass(slots=True)
class Made:
    """A made study, what it does in words, where the given colours stand, and texts that stay hard to read."""

    study: Study
    about: str
    given: dict[str, str]
    failing: int
    left: list[str] = field(default_factory=list)
    is_blocked: bool = False  # a given colour stands in the way of what fails


@dataclass(slots=True)
class _Site:
    """What making needs of a site: the roles in use, what each does and is seen with."""

    known: KnownSite
    study: Study
    uses: Mapping[str, RoleUse] = field(init=False)
    grounds: dict[str, dict[str, float]] = field(init=False)
    like_page: set[str] = field(init=False)

    def __post_init__(self) -> None:
        self.uses = self.known.role_uses(self.study)
        self.grounds = _grounds_of(self.known, self.study)
        self.like_page = self._like_page()

    def _like_page(self) -> set[str]:
        """Return the grounds that are light or dark as the page is: words that stand on it stand on them too."""
        of_page = {
            name for name, grounds in self.grounds.items()
            if sum(grounds.get(one, 0.0) for one in ("background", "panel")) > 0.2 * sum(grounds.values())
        }  # fmt: skip
        carried: dict[str, dict[bool, float]] = {}
        for name, grounds in self.grounds.items():
            for ground, weight in grounds.items():
                share = carried.setdefault(ground, {True: 0.0, False: 0.0})
                share[name in of_page] += weight
        return {"background", "panel"} | {
            ground for ground, share in carried.items()
            if share[True] > 0.04 * (share[True] + share[False]) and self.uses[ground].kind == "ground"
        }  # fmt: skip


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
    site = _Site(known, study)
    made: list[Made] = []
    for number in range(len(DIRECTIONS)):
        progress("making", number, len(DIRECTIONS))
        if len(made) >= most:
            break
        found = make_study(known, study, given, number, site)
        if all(average_difference(found.study, other.study) >= APART for other in made):
            made.append(found)
    # a direction in which a given colour keeps something from reading is no choice where there are others
    return [one for one in made if not one.is_blocked] or sorted(made, key=lambda one: one.failing)[:1]


def make_study(
    known: KnownSite, study: Study, given: Sequence[Colour], direction: int, site: _Site | None = None
) -> Made:
    """Return the study made from some colours in one direction, a place in DIRECTIONS.

    Raises: StudyError: no colour given, or too many; no such direction.
    """
    if not 1 <= len(given) <= MOST_GIVEN:
        raise StudyError(f"A palette is made from one to {MOST_GIVEN} colours; {len(given)} were given.")
    if not 0 <= direction < len(DIRECTIONS):
        raise StudyError(
            f"There are {len(DIRECTIONS)} directions to make a palette in; {direction + 1} is none of them."
        )
    colours = [colour.with_alpha(1.0).rounded() for colour in given]
    return _made(site or _Site(known, study), DIRECTIONS[direction], colours)


def average_difference(one: Study, other: Study) -> float:
    """Return ΔE OK between the values of two studies' roles, on average over the roles of the first."""
    values = {role.name: role.colour.rgb for role in other.roles}
    pairs = np.array([(role.colour.rgb, values[role.name]) for role in one.roles if role.name in values])
    return float(delta_e_ok(pairs[:, 0], pairs[:, 1]).mean()) if len(pairs) else 0.0


def _made(site: _Site, direction: Direction, given: list[Colour]) -> Made:
    """Return the best of a few placings of the given colours, links and accents as colourful as reading lets them."""
    is_grey = _chroma(given[0]) < GREY
    best: tuple[int, bool, Study, dict[str, Colour], Study] | None = None
    for places in _placings(site, direction, given):
        start = _start(site, direction.name, _values(site, direction, given, places))
        floors = {} if is_grey else _floors(site, start, places)
        mended = mend_all(site.known, start, list(places), floors=floors, most_boxes=0, is_draft=True)
        blocked = any(one.locks for one in mended.left)
        if best is None or (mended.failing_after, blocked) < best[:2]:
            best = (mended.failing_after, blocked, mended.study, places, start)
        if not blocked:
            break  # no given colour stands in the way of anything
    assert best is not None
    failing, blocked, study, places, start = best
    if failing and not is_grey:
        for floors in (_floors(site, start, places, is_main=True), {}):
            mended = mend_all(site.known, start, list(places), floors=floors, most_boxes=0, is_draft=True)
            if mended.failing_after < failing:
                failing, study, blocked = mended.failing_after, mended.study, any(one.locks for one in mended.left)
    about, stand = _about(site, direction, study, places), {name: colour.hex() for name, colour in places.items()}
    return Made(study, about, stand, failing, texts_left(site.known, study), blocked)


def _start(site: _Site, name: str, values: Mapping[str, str]) -> Study:
    roles = tuple(role.model_copy(update={"locked": False, "tie": None}) for role in site.study.roles)
    return site.study.model_copy(update={"name": name[:80], "roles": roles}).with_values(values, take=True)


def _floors(site: _Site, start: Study, places: Mapping[str, Colour], is_main: bool = False) -> dict[str, float]:
    """Return the chromas that links and accents keep to, all of them or the main ones alone."""
    names = [role.name for role in start.roles if role.name not in places and _keeps_colour(site, role.name)]
    return {name: COLOURFUL for name in names if not is_main or name in ("link", "accent")}


def texts_left(known: KnownSite, study: Study) -> list[str]:
    """Return samples of the texts that stay hard to read under a made study."""
    reading = known.read(study)
    return [finding.sample for finding in reading.findings if finding.verdict == "fail"][:6]


def _placings(site: _Site, direction: Direction, given: list[Colour]) -> Iterator[dict[str, Colour]]:
    """Yield ways to place the given colours on roles, the direction's own first; a place is a role of its own."""
    names = [role.name for role in site.study.roles if role.name in site.uses]
    fills = [name for name in names if site.uses[name].kind == "ground"]
    plain = [name for name in fills if not site.grounds.get(name)]  # never words themselves
    sections = [name for name in plain if name.startswith("ground-") and not _state_of(name)]
    accents = [name for name in fills if name.startswith("accent") and not _state_of(name)]
    lines = [name for name in names if site.uses[name].kind == "line"]
    preferred = [*sections, *accents] if direction.leads == "section" else [*accents, *sections]
    anywhere = list(
        dict.fromkeys([*preferred, *[n for n in plain if n not in ("background", "panel")], *lines, *names])
    )
    if not anywhere:
        yield {}
        return
    for turn in range(min(4, len(anywhere))):
        order = anywhere[turn:] + anywhere[:turn]
        yield dict(zip(_suited(order, given, site, direction, is_wished=turn == 0), given, strict=False))


def _suited(order: list[str], given: list[Colour], site: _Site, direction: Direction, is_wished: bool) -> list[str]:
    """Return a role for each given colour: pale greyish ones are pages, deep greyish ones text, the rest in order."""
    taken: list[str] = []
    for colour in given:
        lightness, chroma, _ = _lch(colour)
        wish = [n for n in ("background", "panel") if is_wished and lightness > 0.92 and chroma < 0.05]
        wish += [n for n in ("text", "heading") if is_wished and lightness < 0.35 and chroma < 0.05 and len(given) > 1]
        free = [n for n in [*wish, *order] if n not in taken and n in site.uses]
        fits = [n for n in free if _may_stand(site, direction, n, lightness)]
        taken.append(next(iter([*fits, *free]), ""))
    return taken


def _may_stand(site: _Site, direction: Direction, name: str, lightness: float) -> bool:
    """Return whether a colour may be a role's by its lightness: what carries the page's words is as light as it."""
    is_light = direction.page[0] > _MIDDLING
    kind = site.uses[name].kind
    if kind == "ground" and name in site.like_page and not (lightness > 0.86 if is_light else lightness < 0.33):
        return False
    if kind == "words" or name in site.grounds:
        return lightness < 0.56 if is_light else lightness > 0.72
    return True


def _values(site: _Site, direction: Direction, given: list[Colour], places: Mapping[str, Colour]) -> dict[str, str]:
    """Return what every role wears before mending."""
    names = [role.name for role in site.study.roles]
    lch: dict[str, tuple[float, float, float]] = {}
    grounds = [name for name in names if name in site.uses and site.uses[name].kind == "ground"]
    for name in [*grounds, *[n for n in names if n not in grounds]]:
        if name in places:
            lch[name] = _lch(places[name])
        else:
            lch[name] = _placed(site, direction, given, name, lch)
    srgb = into_srgb(np.array([lch[name] for name in names], dtype=float))
    values = {}
    for name, rgb in zip(names, srgb, strict=True):
        colour = places.get(name) or Colour(float(rgb[0]), float(rgb[1]), float(rgb[2]))
        values[name] = css_text(colour.with_alpha(site.study.role(name).colour.alpha))
    return values


def _placed(
    site: _Site, direction: Direction, given: list[Colour], name: str, so_far: Mapping[str, tuple[float, float, float]]
) -> tuple[float, float, float]:
    use = site.uses.get(name, RoleUse("other", None))
    hue = _hue(given[0])
    grey = _chroma(given[0]) < GREY
    tint = 0.0 if grey else 1.0
    state = _state_of(name)
    own = _lch(site.study.role(name).colour)
    if use.kind == "ground":
        lightness, chroma, turn = _ground(direction, name, own, name in site.like_page)
        if name not in site.like_page and (name.startswith("accent") or (own[1] > 0.09 and own[0] < _MIDDLING)):
            hue = _hue(given[min(1, len(given) - 1)]) if direction.leads == "section" else hue
            lightness, chroma = direction.accent
            turn = 0.0
        if state:
            lightness += -0.06 if lightness < _MIDDLING else 0.02
        return lightness, chroma * tint, hue + turn
    if use.kind == "line" or use.kind == "other":
        page = direction.page[0]
        return page + (0.22 if page < _MIDDLING else -0.16), direction.page[1] * 1.5 * tint, hue + direction.ground_turn
    ground = so_far.get(use.seen_with or "background", (*direction.page, hue))
    on_light = ground[0] > _MIDDLING
    part = _words_part(name, own)
    if part == "link":
        link = _hue(given[min(2, len(given) - 1)]) if len(given) > 2 else hue + direction.link_turn
        lightness = 0.42 if on_light else 0.84
        if state:
            lightness += -0.06 if on_light else 0.05
        return lightness, 0.13 * tint, link + (45 if state == "visited" else 0)
    deep, pale = sorted((direction.words[0], 0.25 if direction.words[0] > _MIDDLING else 0.97))
    lightness = deep if on_light else pale
    if part == "heading":
        return lightness, 0.07 * tint, hue
    if part == "quiet":
        return (lightness + 0.2 if on_light else lightness - 0.14), 0.03 * tint, hue + direction.ground_turn
    return lightness, direction.words[1] * tint, hue + direction.ground_turn


def _ground(
    direction: Direction, name: str, own: tuple[float, float, float], is_like_page: bool
) -> tuple[float, float, float]:
    lightness, chroma = direction.page
    if name == "background":
        return lightness, chroma, direction.ground_turn
    if name == "panel":
        return lightness + direction.panel, chroma, direction.ground_turn
    if own[0] < _MIDDLING and not is_like_page:
        return direction.dark[0], direction.dark[1], direction.section_turn
    # light sections keep a little of how they differed from each other
    shift = max(-0.02, min(0.03, (own[0] - 0.92) * 0.4))
    chroma = direction.light[1] * (1.5 if own[1] > 0.09 else 1.0)
    return direction.light[0] + shift, chroma, direction.section_turn + (own[2] % 3 - 1) * 18


def _words_part(name: str, own: tuple[float, float, float]) -> str:
    if "link" in name:
        return "link"
    if name.startswith("accent") and "text" not in name:
        return "link"
    for part in ("heading", "quiet"):
        if part in name:
            return part
    return "text"


def _keeps_colour(site: _Site, name: str) -> bool:
    """Return whether a role is one that tells links and accents from the rest."""
    kind = site.uses[name].kind if name in site.uses else ""
    if name.startswith("accent") and "text" not in name:
        return kind in ("ground", "words")
    return kind == "words" and "link" in name


def _state_of(name: str) -> str:
    return next((state for state in _STATES if f"-{state}" in name), "")


def _grounds_of(known: KnownSite, study: Study) -> dict[str, dict[str, float]]:
    """Return, for each role that is used as words, the roles it stands on, by how much."""
    tokens = known.tokens.roles(study)
    found: dict[str, dict[str, float]] = {}
    for number, role in tokens.items():
        for ground, weight in known.uses[number].on.items():
            if ground in tokens and tokens[ground] != role:
                on = found.setdefault(role, {})
                on[tokens[ground]] = on.get(tokens[ground], 0.0) + weight
    return found


def _about(site: _Site, direction: Direction, study: Study, places: Mapping[str, Colour]) -> str:
    """Return what a direction does, in words."""
    said = []
    if places:
        kept = [f"your {word_of(colour.hex())} for {_does(site, name)}" for name, colour in list(places.items())[:3]]
        said.append("keeps " + ", ".join(kept))
    page = next((role for role in study.roles if role.name == "background"), None)
    if page is not None:
        said.append(f"the page is {word_of(page.colour.hex())}")
    text = next((role for role in study.roles if role.name == "text"), None)
    if text is not None:
        said.append(f"text turns {word_of(text.colour.hex())}")
    dark = [r for r in study.roles if r.name.startswith("ground-") and r.name in site.uses]
    if dark:
        said.append(f"{dark[0].label.lower()} becomes {word_of(dark[0].colour.hex())}")
    sentence = "; ".join(said)
    return sentence[:1].upper() + sentence[1:] + "."


def _does(site: _Site, name: str) -> str:
    use = site.uses.get(name)
    if name.startswith("accent"):
        return "buttons"
    if use is not None and use.kind == "line":
        return "lines"
    return site.study.role(name).label.lower()


def _lch(colour: Colour) -> tuple[float, float, float]:
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(colour.rgb))).tolist()
    return lightness, chroma, hue


def _hue(colour: Colour) -> float:
    return _lch(colour)[2]


def _chroma(colour: Colour) -> float:
    return _lch(colour)[1]


def is_dark(study: Study) -> bool:
    """Return whether a study's page is dark."""
    page = next((role for role in study.roles if role.name == "background"), None)
    return page is not None and _lch(page.colour)[0] < _MIDDLING


def counterpart(known: KnownSite, study: Study) -> Made:
    """Return a study of the same character on the other side: dark for a light one, light for a dark one.

    Lightness is turned over, hues and most of the colour stay; fills of middling lightness (buttons) stay as they are;
    what is over pictures is mended against them like everything else.
    """
    site = _Site(known, study)
    names = [role.name for role in study.roles]
    lch = np.array([_lch(role.colour) for role in study.roles])
    kinds = [site.uses.get(name, RoleUse("other", None)).kind for name in names]
    turned = _turned_over(lch, kinds, names)
    values = {}
    for name, rgb in zip(names, into_srgb(turned), strict=True):
        colour = Colour(float(rgb[0]), float(rgb[1]), float(rgb[2]), study.role(name).colour.alpha)
        values[name] = css_text(colour)
    name = f"{study.name}, {'light' if is_dark(study) else 'dark'}"[:80]
    start = _start(site, name, values)
    floors = {n: min(COLOURFUL, float(lch[i, 1])) for i, n in enumerate(names) if _keeps_colour(site, n)}
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

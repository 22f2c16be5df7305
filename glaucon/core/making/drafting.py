"""First draft of a made palette: a colour for each role, chosen by the role's use on the site, before fixing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour, css_text
from glaucon.core.known.site import KnownSite
from glaucon.core.proposal.usage import RoleUse
from glaucon.core.study.darkness import MIDDLING
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Photo, layer_tokens

COLOURFUL = 0.06  # OKLCH chroma that links and accents keep
GREY = 0.03  # OKLCH chroma under which a given colour has no hue to speak of
_MIDDLE_LUMINANCE = 0.179  # as far from black as from white, by contrast
_DEEP = 0.45  # OKLCH lightness
_VIVID = 0.09  # OKLCH chroma
_DARK_SECTION = 0.38  # OKLCH lightness, in a dark direction
_DARK_VEIL = 0.3
_DRAWN = frozenset({"fill", "stroke", "stop-color"})
_ORNAMENT_KEEPS, _ORNAMENT_TURN = 0.75, 30.0  # of an ornament's chroma; degrees that its hue may be from the given
_STOPS_APART, _STOPS_TURN = 0.1, 12  # OKLCH lightness, and degrees of hue, that stops of one gradient may differ by
_PAINTED = ("background", "background-image")
_ON_BUTTONS = 5.6  # contrast
_DARKEST, _LIGHTEST = 0.14, 0.99  # OKLCH lightness of words
_MIDDLE = (0.5, 0.8)
_WHITE = 0.985  # of what the site has white, beside its page
_ALIKE = 0.04  # ΔE OK under which a state hardly differs from rest


@dataclass(frozen=True, slots=True)
class Direction:
    """A way to make a palette. Lightness and chroma are OKLCH; hues are turned from the first given colour's.

    `page` is the page's lightness and chroma, `panel` how much a panel differs; `sections` the lightness and chroma of
    light and dark ones. `words`, `heading` and `link` are lightness, chroma and turn on grounds like the page.
    Where all given colours are grey, one that `borrows` takes the hue of the site's own buttons.
    """

    name: str
    page: tuple[float, float]
    panel: float
    light: tuple[float, float]
    dark: tuple[float, float]
    words: tuple[float, float, float]
    heading: tuple[float, float, float]
    link: tuple[float, float, float]
    ground_turn: float = 0.0
    section_turn: float = 0.0
    accent: tuple[float, float] = (0.5, 0.14)
    borrows: bool = False

    @property
    def is_light(self) -> bool:
        """Return whether the page is light."""
        return self.page[0] > MIDDLING


# a light page at a lightness of 0.94 and up, a dark one from 0.17 to 0.27; text from 9 to 16 : 1 on them
DIRECTIONS = (
    Direction("Still water", (0.985, 0.006), -0.025, (0.945, 0.02), (0.27, 0.05), (0.29, 0.03, 0), (0.33, 0.08, 0),
              (0.45, 0.14, 0), accent=(0.49, 0.14)),
    Direction("Night mooring", (0.21, 0.025), 0.055, (0.3, 0.04), (0.15, 0.03), (0.92, 0.02, 0), (0.9, 0.06, 0),
              (0.82, 0.12, 0), accent=(0.74, 0.13)),
    Direction("Painted hull", (0.945, 0.055), -0.05, (0.85, 0.1), (0.47, 0.16), (0.32, 0.13, 0), (0.44, 0.18, 0),
              (0.41, 0.17, 70), accent=(0.36, 0.17), borrows=True),
    Direction("Far bank", (0.94, 0.045), -0.06, (0.83, 0.09), (0.44, 0.11), (0.3, 0.1, 180), (0.4, 0.14, 180),
              (0.4, 0.15, 150), ground_turn=180, section_turn=180, accent=(0.32, 0.14), borrows=True),
    Direction("Evening sky", (0.265, 0.07), 0.05, (0.38, 0.1), (0.17, 0.05), (0.93, 0.04, 60), (0.93, 0.1, 70),
              (0.86, 0.13, 100), ground_turn=-40, section_turn=30, accent=(0.86, 0.12)),
    Direction("Chalk and slate", (0.96, 0.0), -0.06, (0.85, 0.004), (0.22, 0.008), (0.25, 0.0, 0), (0.22, 0.0, 0),
              (0.36, 0.11, -60), accent=(0.44, 0.14)),
)  # fmt: skip


@dataclass(slots=True)
class Parts:
    """Facts about a site for making palettes: roles in use, the use of each, and the roles seen with it."""

    known: KnownSite
    study: Study
    uses: Mapping[str, RoleUse] = field(init=False)
    grounds: dict[str, dict[str, float]] = field(init=False)
    like_page: set[str] = field(init=False)
    roles: dict[str, Role] = field(init=False)
    on_pictures: frozenset[str] = field(init=False)  # used as words, for the most part on pictures
    page: frozenset[str] = field(init=False)  # the page's own backgrounds: the page and its panels
    veils: frozenset[str] = field(init=False)  # backgrounds that mostly let a picture through
    shapes: frozenset[str] = field(init=False)  # colourful ones of drawings alone
    cut: frozenset[str] = field(init=False)  # stops of gradients that are cut to words
    leads: Mapping[str, str] = field(init=False)  # the role that another stop of the same gradient goes by

    def __post_init__(self) -> None:
        self.roles = {role.id: role for role in self.study.roles}
        firsts = (self.study.first("background"), self.study.first("panel"))
        self.page = frozenset(role.id for role in firsts if role is not None)
        self.uses = self.known.role_uses(self.study)
        self.grounds = _grounds_of(self.known, self.study)
        self.on_pictures = _on_pictures(self.known, self.study)
        self.like_page = self._like_page()
        self.leads = self._leads()
        self.veils = _veils(self.known, self.study)
        self.shapes = self._shapes()
        self.cut = self._cut()

    def _cut(self) -> frozenset[str]:
        """Return the colourful roles that words have by a gradient alone: titles that it is cut to."""
        painted, written = set[str](), set[str]()
        for number, name in self.known.tokens.roles(self.study).items():
            if (use := self.known.uses[number]).kind == "text" and use.runs:
                is_cut = self.known.survey.tokens[number].property in _PAINTED
                (painted if is_cut else written).add(name)
        some = (painted - written) & set(self.roles)
        return frozenset(name for name in some if chroma_of(self.roles[name].colour) >= COLOURFUL)

    def _shapes(self) -> frozenset[str]:
        drawn, written = set[str](), set[str]()
        for number, name in self.known.tokens.roles(self.study).items():
            token, use = self.known.survey.tokens[number], self.known.uses[number]
            if token.property in _DRAWN:
                drawn.add(name)
            elif use.text > 0 or use.background > 0:
                written.add(name)
        some = (drawn - written) & set(self.roles)
        return frozenset(name for name in some if chroma_of(self.roles[name].colour) >= COLOURFUL)

    def _leads(self) -> Mapping[str, str]:
        """Return, for backgrounds that are stops of a gradient, the stop that they go by: the likeliest accent."""
        stops: dict[tuple[str, str, str, str], list[str]] = {}
        of_token = self.known.tokens.roles(self.study)
        for token in self.known.survey.tokens:
            role = of_token.get(token.number, "")
            if role in self.uses and self.uses[role].kind == "background" and token.property in _PAINTED:
                stops.setdefault((token.file, token.selector, token.property, token.media), []).append(role)
        found: dict[str, str] = {}
        for some in stops.values():
            names = sorted(dict.fromkeys(some), key=self._rank)
            for name in names[1:]:
                found.setdefault(name, names[0])
        return {name: lead for name, lead in found.items() if name not in self.page and lead not in found}

    def _rank(self, name: str) -> tuple[bool, bool]:
        return self.roles[name].kind != "accent", self.roles[name].tier != "main"

    def _like_page(self) -> set[str]:
        """Return the grounds that are light or dark as the page is: words that stand on it stand on them too.

        A wide section that is dark where the page is light, or light where it is dark, stays so: it has words of its
        own.
        """
        page_side = {self.is_dark(one) for one in self.page}
        of_page = {
            name for name, grounds in self.grounds.items()
            if sum(grounds.get(one, 0.0) for one in self.page) > 0.2 * sum(grounds.values())
        }  # fmt: skip
        carried: dict[str, dict[bool, float]] = {}
        for name, grounds in self.grounds.items():
            for ground, weight in grounds.items():
                share = carried.setdefault(ground, {True: 0.0, False: 0.0})
                share[name in of_page] += weight
        return set(self.page) | {
            ground for ground, share in carried.items()
            if share[True] > 0.04 * (share[True] + share[False]) and self.uses[ground].kind == "background"
            and (self.roles[ground].coat is None or self.is_dark(ground) in page_side)
        }  # fmt: skip

    def is_dark(self, ground: str) -> bool:
        """Return whether a background is dark: of a middling one, whether most text on it is lighter."""
        lightness = lch_of(self.roles[ground].colour)[0]
        if not _MIDDLE[0] < lightness < _MIDDLE[1]:
            return lightness < MIDDLING
        lighter = 0.0
        for name, grounds in self.grounds.items():
            sign = 1 if lch_of(self.roles[name].colour)[0] > lightness else -1
            lighter += sign * grounds.get(ground, 0.0)
        return lighter > 0 if lighter else lightness < MIDDLING


def drafted(site: Parts, direction: Direction, given: list[Colour], places: Mapping[str, Colour]) -> dict[str, str]:
    """Return what every role wears before mending."""
    names = [role.id for role in site.study.roles]
    lch: dict[str, tuple[float, float, float]] = {}

    def place(some: Iterable[str]) -> None:
        for name in some:
            rest = site.study.rest_of(site.roles[name])
            is_background = site.roles[name].is_background
            if name in places:
                lch[name] = lch_of(places[name])
            elif rest is not None and rest.id in lch and (is_background or _is_alike(site, name, rest)):
                lch[name] = _in_state(lch[rest.id], is_background)
            else:
                lch[name] = _placed(site, direction, given, name, lch)

    # what a state shows comes from what is there at rest, what text wears from what it stands on
    grounds = [name for name in names if name in site.uses and site.uses[name].kind == "background"]
    rest = [name for name in grounds if site.roles[name].state == "rest"]
    place(sorted(rest, key=lambda one: one in site.leads))
    _turn_to_one_side(site, lch, places)
    others = [*(n for n in grounds if n not in lch), *(n for n in names if n not in grounds)]
    place(sorted(others, key=lambda one: site.roles[one].state != "rest"))
    srgb = into_srgb(np.array([lch[name] for name in names], dtype=float))
    values = {}
    for name, rgb in zip(names, srgb, strict=True):
        colour = places.get(name) or Colour(float(rgb[0]), float(rgb[1]), float(rgb[2]))
        values[name] = css_text(colour.with_alpha(site.study.role(name).colour.alpha))
    return values


def _turn_to_one_side(site: Parts, lch: dict[str, tuple[float, float, float]], places: Mapping[str, Colour]) -> None:
    """Turn small backgrounds light or dark as the wide one that a text of theirs mostly stands on.

    One colour of text cannot be read on both sides. What stands on the small one alone follows it.
    """
    carried: dict[str, float] = {}
    for grounds in site.grounds.values():
        for name, weight in grounds.items():
            carried[name] = carried.get(name, 0.0) + weight
    for grounds in site.grounds.values():
        drafted = {name: weight for name, weight in grounds.items() if name in lch}
        if len(drafted) < 2:
            continue
        # what was given stays: all others of the text's go by it, and wide ones of which it is the most text
        much = sum(drafted.values()) / 4
        given = [n for n, weight in drafted.items() if n in places and n not in site.page and weight > much]
        most = max(given or drafted, key=lambda name: drafted[name])
        for name in drafted:
            if name == most or name in places or name in site.page:
                continue
            if _is_wide(site, name) and not (given and drafted[name] > carried[name] / 2):
                continue
            _, chroma, hue = lch[name]
            if takes_dark_words(lch[name]) != takes_dark_words(lch[most]):
                lch[name] = lch[most][0], min(chroma, max(lch[most][1], GREY)), hue


def _is_wide(site: Parts, name: str) -> bool:
    """Return whether a background is that of a coat of the short palette, or the site's buttons."""
    role = site.roles[name]
    return role.tier == "main" and (role.kind == "accent" or role.coat is not None)


def _is_alike(site: Parts, name: str, rest: Role) -> bool:
    """Return whether a state hardly differs from rest on the site as it is."""
    own = np.array(site.roles[name].colour.rgb)
    return float(delta_e_ok(own, np.array(rest.colour.rgb))) < _ALIKE


def _in_state(rest: tuple[float, float, float], is_background: bool) -> tuple[float, float, float]:
    """Return what a state shows: a background a step further from the text on it, text as it is at rest."""
    lightness, chroma, hue = rest
    return lightness + ((0.05 if lightness > MIDDLING else -0.06) if is_background else 0.0), chroma, hue


def _placed(
    site: Parts, direction: Direction, given: list[Colour], name: str, so_far: Mapping[str, tuple[float, float, float]]
) -> tuple[float, float, float]:
    use = site.uses.get(name, RoleUse("other", None))
    hue = hue_of(given[0])
    tint = 0.0 if chroma_of(given[0]) < GREY else 1.0
    role, own = site.roles[name], lch_of(site.roles[name].colour)
    if use.kind == "background":
        is_dark = site.is_dark(name)
        lightness, chroma, turn = _ground(direction, role, own, is_dark and name not in site.like_page)
        lead = site.leads.get(name, "")
        if name in site.veils and is_dark == direction.is_light:
            lightness, chroma = direction.dark if is_dark else direction.page
            lightness = min(lightness, _DARK_VEIL) if is_dark else lightness
            return lightness, chroma * tint, hue_of(_deep(given)) if is_dark else hue
        came_colourful = lead in so_far and min(chroma_of(site.roles[lead].colour), own[1]) >= COLOURFUL
        if lead in so_far and (came_colourful or so_far[lead][1] >= COLOURFUL):
            return _beside(so_far[lead], own, lch_of(site.roles[lead].colour))
        if name not in site.like_page and (role.kind == "accent" or (own[1] > _VIVID and is_dark)):
            lightness, chroma = direction.accent
            if role.kind != "accent" and role.coat is not None and not direction.is_light:
                lightness = min(lightness, _DARK_SECTION)  # a dark section stays a dark one
            turn = 0.0
        elif lightness < MIDDLING:
            hue = hue_of(_deep(given))
        if role.state != "rest":
            lightness += -0.06 if lightness < MIDDLING else 0.02
        return lightness, chroma * tint, hue + turn
    if name in site.shapes or (use.kind in ("other", "line") and own[1] >= COLOURFUL):
        return _ornament(site, own, hue if tint else own[2])
    if use.kind == "line" or use.kind == "other":
        page = direction.page[0]
        return page + (0.22 if page < MIDDLING else -0.16), direction.page[1] * 1.5 * tint, hue + direction.ground_turn
    ground = so_far.get(use.seen_with or "", (*direction.page, hue))
    # a picture stays as it is: what is read on it stays light or dark
    is_on_light = own[0] < MIDDLING if name in site.on_pictures else takes_dark_words(ground)
    is_title = name in site.cut and tint > 0
    words = _words(direction, given, role, _words_part(role, own), is_on_light)
    words = _of_title(site, own, hue, is_on_light) if is_title else words
    return _enough(words, ground, is_on_light) if role.kind == "accent-text" else words


def _ornament(site: Parts, own: tuple[float, float, float], hue: float) -> tuple[float, float, float]:
    """Return what is colourful and no text's background in the hues of a direction: as lively, and stops apart."""
    lead = site.study.first("accent") or site.study.first("link")
    turn = (own[2] - hue_of(lead.colour) + 180) % 360 - 180 if lead is not None else 0.0
    hue += min(_ORNAMENT_TURN, max(-_ORNAMENT_TURN, turn))
    levels = (min(0.75, max(0.4, own[0])) + np.linspace(0, 0.35, 15)[:, None] * np.array([[1.0, -1.0]])).ravel()
    # where sRGB has no such strong colour of that hue, one on the way to its own
    back = (own[2] - hue + 180) % 360 - 180
    tried = np.array([(level, own[1], hue + share * back) for share in (0, 0.25, 0.5, 0.75, 1) for level in levels])
    holds = oklch_from_oklab(oklab_from_srgb(into_srgb(tried)))[:, 1] >= _ORNAMENT_KEEPS * own[1]
    lightness, chroma, turned = tried[int(np.argmax(holds))].tolist()
    return lightness, chroma, turned


def _of_title(
    site: Parts, own: tuple[float, float, float], hue: float, is_on_light: bool
) -> tuple[float, float, float]:
    """Return a stop of a gradient that words are cut from: as lively as it came, dark or light enough to be read."""
    turn = (own[2] - lch_of(site.roles[min(site.cut)].colour)[2] + 180) % 360 - 180  # from its first stop
    turned = hue + min(_ORNAMENT_TURN, max(-_ORNAMENT_TURN, turn))
    return _held(0.42 if is_on_light else 0.84, own[1], turned)


def _enough(
    words: tuple[float, float, float], ground: tuple[float, float, float], is_on_light: bool
) -> tuple[float, float, float]:
    """Return the words of a button as dark or as light as they have to be on it for comfort, or as they may."""
    levels = np.linspace(words[0], min(words[0], _DARKEST) if is_on_light else max(words[0], _LIGHTEST), 25)
    tried = np.stack([levels, np.full(25, words[1]), np.full(25, words[2])], axis=1)
    below = relative_luminance(into_srgb(np.array([ground])))
    fits = ratio_of_luminances(relative_luminance(into_srgb(tried)), below) >= _ON_BUTTONS
    return float(levels[int(np.argmax(fits)) if fits.any() else -1]), words[1], words[2]


def _beside(
    lead: tuple[float, float, float], own: tuple[float, float, float], was: tuple[float, float, float]
) -> tuple[float, float, float]:
    """Return a stop beside the one it goes by, about as far from it as it came."""
    turn = (own[2] - was[2] + 180) % 360 - 180
    lightness = lead[0] + min(_STOPS_APART, max(-_STOPS_APART, own[0] - was[0]))
    return lightness, lead[1], lead[2] + min(_STOPS_TURN, max(-_STOPS_TURN, turn))


def _words(
    direction: Direction, given: list[Colour], role: Role, part: str, is_on_light: bool
) -> tuple[float, float, float]:
    """Return what words wear on a light or a dark ground."""
    hue, tint = hue_of(given[0]), 0.0 if chroma_of(given[0]) < GREY else 1.0
    is_at_home = is_on_light == direction.is_light
    if part == "link":
        lightness, chroma, turn = direction.link if is_at_home else (0.42 if is_on_light else 0.84, 0.13, 0)
        link = hue_of(given[min(2, len(given) - 1)]) if len(given) > 2 else hue + turn
        if role.state != "rest":
            lightness += -0.06 if is_on_light else 0.05
        return _held(lightness, chroma * tint, link + (45 if role.state == "visited" else 0))
    hue = hue_of(_deep(given)) if is_on_light else hue
    lightness, chroma, turn = direction.heading if part == "heading" else direction.words
    if not is_at_home:
        lightness, chroma = (0.25, 0.05) if is_on_light else (0.97, min(chroma, 0.03))
    if part == "quiet":
        return lightness + (0.2 if is_on_light else -0.14), min(chroma, 0.03) * tint, hue + turn
    return lightness, chroma * tint, hue + turn


def _deep(given: list[Colour]) -> Colour:
    """Return the given colour whose hue the dark parts take: the first deep one with a hue, else the first."""
    return next((one for one in given if lch_of(one)[0] < _DEEP and chroma_of(one) >= GREY), given[0])


def _held(lightness: float, chroma: float, hue: float) -> tuple[float, float, float]:
    """Return a colour as near to the middle of lightness as it must be for sRGB to hold a link's colour in it."""
    levels = lightness + (MIDDLING - lightness) * np.linspace(0, 0.6, 13)
    tried = np.stack([levels, np.full(13, chroma), np.full(13, hue)], axis=1)
    holds = oklch_from_oklab(oklab_from_srgb(into_srgb(tried)))[:, 1] >= min(chroma, COLOURFUL + 0.005)
    return float(levels[int(np.argmax(holds))]), chroma, hue


def _ground(
    direction: Direction, role: Role, own: tuple[float, float, float], is_dark: bool
) -> tuple[float, float, float]:
    lightness, chroma = direction.page
    if role.kind == "background" and role.coat is None and role.tier == "main":
        return lightness, chroma, direction.ground_turn
    if role.kind == "panel":
        return lightness + direction.panel, chroma, direction.ground_turn
    if own[0] > _WHITE and direction.is_light:
        return 0.99, min(chroma, 0.008), direction.ground_turn  # white cards and fields stay the lightest there is
    if is_dark:
        return direction.dark[0], direction.dark[1], direction.section_turn
    # light sections keep a little of how they differed from each other
    shift = max(-0.02, min(0.03, (own[0] - 0.92) * 0.4))
    chroma = direction.light[1] * (1.5 if own[1] > _VIVID else 1.0)
    return direction.light[0] + shift, chroma, direction.section_turn + (own[2] % 3 - 1) * 18


def _words_part(role: Role, own: tuple[float, float, float]) -> str:
    if role.kind == "link" and ((role.coat is None and role.tier == "main") or own[1] >= GREY):
        return "link"
    if role.kind == "accent":
        return "link"
    return role.kind if role.kind in ("heading", "quiet") else "text"


def keeps_colour(site: Parts, name: str) -> bool:
    """Return whether a role is one that tells links and accents from the rest: white links on a dark bar do not."""
    use = site.uses[name].kind if name in site.uses else ""
    role = site.roles[name]
    if name in site.cut:
        return True
    is_main = role.coat is None and role.tier == "main" and role.state == "rest"
    if not (is_main and role.kind in ("link", "accent")) and chroma_of(role.colour) < GREY:
        return False
    if role.kind == "accent":
        return use in ("background", "text")
    return use == "text" and role.kind == "link"


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


def _on_pictures(known: KnownSite, study: Study) -> frozenset[str]:
    """Return the roles used as words of which most texts have a picture behind them."""
    roles, index = known.tokens.roles(study), known.index
    found: dict[str, list[int]] = {}
    for number, pairing in enumerate(known.survey.pairings):
        token = index.text_token(number)
        if token in roles:
            counts = found.setdefault(roles[token], [0, 0])
            counts[any(isinstance(layer, Photo) for layer in pairing.below)] += int(index.text_counts[number])
    return frozenset(role for role, (plain, pictured) in found.items() if pictured > plain)


def _veils(known: KnownSite, study: Study) -> frozenset[str]:
    """Return background roles that are translucent veils over a picture for most of their text.

    A picture stays as it is, and so it stays a dark or a light one: a pale veil over a dark one is grey.
    """
    roles, index = known.tokens.roles(study), known.index
    found: dict[str, list[int]] = {}
    for number, pairing in enumerate(known.survey.pairings):
        is_over = False
        for layer in pairing.below:
            if isinstance(layer, Photo):
                is_over = True
            for role in {roles[token] for token in layer_tokens(layer) if token in roles}:
                found.setdefault(role, [0, 0])[is_over] += int(index.text_counts[number])
    return frozenset(role for role, (plain, over) in found.items() if over > plain)


def takes_dark_words(lch: tuple[float, float, float]) -> bool:
    """Return whether black has more contrast with a background (OKLCH) than white."""
    return float(relative_luminance(into_srgb(np.array([lch])))[0]) > _MIDDLE_LUMINANCE


def lch_of(colour: Colour) -> tuple[float, float, float]:
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(colour.rgb))).tolist()
    return lightness, chroma, hue


def hue_of(colour: Colour) -> float:
    return lch_of(colour)[2]


def chroma_of(colour: Colour) -> float:
    return lch_of(colour)[1]

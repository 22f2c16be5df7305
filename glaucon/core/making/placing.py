"""Where given colours go on a site: roles in which they may stay as they are while everything else is made to read."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from glaucon.core.colour.value import Colour
from glaucon.core.making.drafting import COLOURFUL, GREY, Direction, Parts, chroma_of, keeps_colour, lch_of
from glaucon.core.making.drafting import values_of as drafted
from glaucon.core.mending.mend_all import MendedAll, hopeless, mend_all
from glaucon.core.study.roles import Kind
from glaucon.core.study.study import Study

_SECONDS = 0.7  # of one try: the draft that is kept has been searched well enough by then
_MOST_TRIES = 6  # roles tried for one colour


@dataclass(slots=True)
class Placed:
    """Given colours on their roles, and those without one, with what mending around them came to.

    `wrong` counts the texts that stay hard to read though each by itself need not, `anyhow` those that do with
    no more than the wished colours in the way.
    """

    places: dict[str, Colour]
    start: Study
    mended: MendedAll
    wrong: int
    anyhow: int = 0
    without: list[Colour] = field(default_factory=list)


def placed(parts: Parts, direction: Direction, given: Sequence[Colour], wished: Mapping[str, Colour]) -> Placed:
    """Return given colours on roles where everything reads that can; such as find no role there stay without one.

    A `wished` colour is on its role whatever comes of it. Links and accents stay colourful unless that costs a text.
    """
    free = [colour for colour in given if colour not in wished.values()]
    tries = _Tries(parts, direction, given)
    found = tries.of({**wished, **_all_at_once(parts, direction, free, wished)})
    if found.wrong:
        bare = tries.of(wished)
        if found.wrong > bare.wrong and free:
            found = _one_after_the_other(tries, free, wished)
        found.anyhow = bare.wrong
    if found.wrong and chroma_of(given[0]) >= GREY:
        for kept in ("none", "main"):
            again = tries.of(found.places, kept)
            if again.wrong < found.wrong or (kept == "main" and again.wrong == found.wrong):
                again.without, again.anyhow, found = found.without, found.anyhow, again
            elif kept == "none":
                break
    return found


def _one_after_the_other(tries: _Tries, free: Sequence[Colour], wished: Mapping[str, Colour]) -> Placed:
    """Place one colour after the other, each where it leaves no more hard to read than there was without it."""
    found = tries.of(wished)
    without = []
    for colour in free:
        for name in _roles_for(tries.parts, tries.direction, colour, found.places):
            tried = tries.of({**found.places, name: colour})
            if tried.wrong <= found.wrong:
                found = tried
                break
        else:
            without.append(colour)
    found.without = without
    return found


@dataclass(slots=True)
class _Tries:
    """What mending comes to with given colours on roles, each way tried once."""

    parts: Parts
    direction: Direction
    given: Sequence[Colour]
    _known: dict[tuple[frozenset[tuple[str, Colour]], str], Placed] = field(default_factory=dict)

    def of(self, places: Mapping[str, Colour], kept: str = "all") -> Placed:
        """Return what came of some places; `kept` says which links and accents stay colourful: all, main or none."""
        key = (frozenset(places.items()), kept)
        if key not in self._known:
            self._known[key] = self._mended(places, kept)
        return self._known[key]

    def _mended(self, places: Mapping[str, Colour], kept: str) -> Placed:
        parts = self.parts
        values = drafted(parts, self.direction, list(self.given), places)
        start = begun(parts.study, self.direction.name, values)
        is_free = kept == "none" or chroma_of(self.given[0]) < GREY
        floors = {} if is_free else _floors(parts, start, places, kept == "main")
        mended = mend_all(
            parts.known, start, list(places), floors=floors, most_boxes=0, is_draft=True, seconds=_SECONDS
        )
        failing = {pairing for one in mended.left for pairing in one.pairings}
        failing -= hopeless(parts.known, start, failing)
        return Placed(dict(places), start, mended, len(parts.known.index.runs_of(sorted(failing))))


def begun(study: Study, name: str, values: Mapping[str, str]) -> Study:
    """Return a study of some values without the locks and ties of the one it is made from."""
    roles = tuple(role.model_copy(update={"locked": False, "tie": None}) for role in study.roles)
    return study.model_copy(update={"name": name[:80], "roles": roles}).with_values(values, take=True)


def _floors(parts: Parts, start: Study, places: Mapping[str, Colour], is_main: bool) -> dict[str, float]:
    """Return the chromas that links and accents keep to, all of them or the main ones alone."""
    names = [role.id for role in start.roles if role.id not in places and keeps_colour(parts, role.id)]
    firsts = _firsts(parts, "link", "accent")
    return {name: COLOURFUL for name in names if not is_main or name in firsts}


def _all_at_once(
    parts: Parts, direction: Direction, free: Sequence[Colour], taken: Mapping[str, Colour]
) -> dict[str, Colour]:
    """Return a role for each colour: pale greyish ones are pages, deep greyish ones text, the rest in order."""
    found: dict[str, Colour] = {}
    for colour in free:
        name = next(_roles_for(parts, direction, colour, {**taken, **found}, len(free) > 1), None)
        if name is not None:
            found[name] = colour
    return found


def _roles_for(
    parts: Parts, direction: Direction, colour: Colour, taken: Mapping[str, Colour], is_one_of_many: bool = True
) -> Iterator[str]:
    """Yield the roles a colour may be tried on, the likeliest first."""
    lightness, chroma, _ = lch_of(colour)
    wish = _firsts(parts, "background", "panel") if lightness > 0.92 and chroma < 0.05 else []
    wish += _firsts(parts, "text", "heading") if lightness < 0.35 and chroma < 0.05 and is_one_of_many else []
    free = [n for n in dict.fromkeys([*wish, *_order(parts, direction)]) if n not in taken and n in parts.uses]
    fits = [n for n in free if _may_stand(parts, direction, n, lightness)]
    yield from [*fits, *(n for n in free if n not in fits)][:_MOST_TRIES]


def _order(parts: Parts, direction: Direction) -> list[str]:
    """Return the roles in the order in which a direction wants given colours on them."""
    # a given colour is to be seen: what the short palette holds goes before any detail
    roles = sorted(parts.study.roles, key=lambda role: role.tier != "main")
    names = [role.id for role in roles if role.id in parts.uses]
    fills = [name for name in names if parts.uses[name].kind == "background"]
    plain = [name for name in fills if not parts.grounds.get(name)]  # never words themselves
    at_rest = {name for name in fills if parts.roles[name].state == "rest"}
    sections = [name for name in plain if name in at_rest and parts.roles[name].coat is not None]
    accents = [name for name in fills if name in at_rest and parts.roles[name].kind == "accent"]
    lines = [name for name in names if parts.uses[name].kind == "line"]
    preferred = [*sections, *accents] if direction.leads == "section" else [*accents, *sections]
    pages = _firsts(parts, "background")
    rest = sorted(names, key=lambda name: name in pages)  # a page given as it is leaves directions little choice
    return [*preferred, *(n for n in plain if n not in parts.page), *lines, *rest]


def _firsts(parts: Parts, *kinds: Kind) -> list[str]:
    return [role.id for kind in kinds if (role := parts.study.first(kind)) is not None]


def _may_stand(parts: Parts, direction: Direction, name: str, lightness: float) -> bool:
    """Return whether a colour may be a role's by its lightness: what carries the page's words is as light as it."""
    is_light = direction.is_light
    kind = parts.uses[name].kind
    if kind == "background" and name in parts.like_page and not (lightness > 0.86 if is_light else lightness < 0.33):
        return False
    if kind == "text" or name in parts.grounds:
        return lightness < 0.56 if is_light else lightness > 0.72
    return True

"""Colours that mean different things and become alike to other eyes, with the least change that parts them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.oklab import Floats, delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import Finding
from glaucon.core.seeing.eyes import Eye, seen
from glaucon.core.seeing.lanes import lanes_of
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study

_APART, _ALIKE, _TOLD_APART = 0.12, 0.06, 0.09  # ΔE OK: plainly two colours; hardly; enough to be told apart by
_KEPT = 0.6  # of the difference: what keeps more has lost little
_COLOURFUL = 0.04  # of chroma: greys are told apart by lightness, which most eyes keep
_SAYING = 0.07  # of chroma: text in such a colour says something by it
_LIGHTNESSES = np.linspace(0.02, 0.99, 98)
_WORDS = frozenset({"text", "quiet", "link", "detail"})  # a heading is told by its size


@dataclass(frozen=True, slots=True)
class PartingChange:
    """The least change that parts two colours: a role's new colour."""

    role: str
    value: str


@dataclass(frozen=True, slots=True)
class AlikePair:
    """Two roles that mean different things; how far apart they are to most eyes and to this one (ΔE OK).

    `where` is what both stand on, "" where they are backgrounds or marks.
    """

    one: Role
    other: Role
    where: str
    apart: float
    left: float
    change: PartingChange | None


def alike_pairs(known: KnownSite, study: Study, eye: Eye, strength: float) -> list[AlikePair]:
    """Return the pairs that become alike to an eye, the most alike first."""
    roles = {role.id: role for role in study.roles}
    readable = _needs(known, study)
    found = []
    for one, other, where in _meant_apart(known, study, roles):
        before = np.array([one.colour.rgb, other.colour.rgb])
        if max(_chroma(one), _chroma(other)) < _COLOURFUL:
            continue
        after = seen(before, eye, strength)
        apart, left = (float(delta_e_ok(pair[0], pair[1])) for pair in (before, after))
        if apart < _APART or left >= _ALIKE or left > _KEPT * apart:
            continue
        changes = [_parting(a, b, readable.get(a.id, ()), eye, strength) for a, b in ((other, one), (one, other))]
        best = min((one for one in changes if one is not None), key=lambda one: one[0], default=None)
        found.append(AlikePair(one, other, where, apart, left, best[1] if best else None))
    return sorted(found, key=lambda pair: pair.left)


def _meant_apart(known: KnownSite, study: Study, roles: dict[str, Role]) -> Iterator[tuple[Role, Role, str]]:
    """Yield pairs of roles that mean different things, each once: texts on one background, and filled marks."""
    met: set[frozenset[str]] = set()
    for lane in lanes_of(known, study):
        texts = {f.text.role for f in lane.standing if f.text.role is not None and f.text.role in roles}
        words = [roles[name] for name in roles if name in texts and roles[name].kind in _WORDS]
        for one, other in combinations(words, 2):
            both = frozenset((one.id, other.id))
            if both not in met and _is_meant(one, other):
                met.add(both)
                yield one, other, study.labels.get(lane.role or "", "")
    marks = [role for role in study.roles if role.kind == "accent" and role.tier != "unseen"]
    for one, other in combinations(marks, 2):
        if one.coat == other.coat and _is_meant(one, other):
            yield one, other, ""


def _is_meant(one: Role, other: Role) -> bool:
    """Return whether two roles' colours say different things: of kind, of state, or one-offs of other hues."""
    if one.colour.hex() == other.colour.hex():
        return False
    if one.state != other.state:
        return _rest(one) == _rest(other)  # what a link says by changing
    if one.state != "rest":
        return False
    if one.kind != other.kind:
        return "link" in (one.kind, other.kind)
    return one.kind in ("detail", "accent") or min(_chroma(one), _chroma(other)) >= _SAYING


def _rest(role: Role) -> str:
    return role.id if role.state == "rest" else role.id.rpartition(".")[0]


def _needs(known: KnownSite, study: Study) -> dict[str, Sequence[tuple[Colour, float]]]:
    """Return, for each role of text, what it is read on and the contrast it needs there, where it has it now."""
    found: dict[str, list[tuple[Colour, float]]] = defaultdict(list)
    reading = known.read(study)
    findings: list[Finding] = reading.index.every_finding(reading.readings, reading.groups)
    for one in findings:
        if one.text.role is not None and one.verdict == "pass" and one.required is not None and one.background.colour:
            found[one.text.role].append((read_colour(one.background.colour), one.required))
    return dict(found)


def _parting(
    moved: Role, other: Role, needs: Sequence[tuple[Colour, float]], eye: Eye, strength: float
) -> tuple[float, PartingChange] | None:
    """Return how far a role has to move in lightness to be told from another by an eye, and where to; None: nowhere."""
    if moved.locked:
        return None
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(moved.colour.rgb))).tolist()
    size = len(_LIGHTNESSES)
    tried: Floats = np.round(
        into_srgb(np.stack([_LIGHTNESSES, np.full(size, chroma), np.full(size, hue)], axis=1)) * 255
    ) / 255  # fmt: skip
    to = seen(np.array([other.colour.rgb]), eye, strength)
    is_good = delta_e_ok(seen(tried, eye, strength), to) >= _TOLD_APART
    shown = relative_luminance(tried)
    for ground, required in needs:
        is_good &= ratio_of_luminances(shown, relative_luminance(np.array(ground.rgb))) >= required
    if not is_good.any():
        return None
    far = np.where(is_good, np.abs(_LIGHTNESSES - lightness), np.inf)
    best = int(np.argmin(far))
    return float(far[best]), PartingChange(moved.id, Colour(*tried[best].tolist()).hex())


def _chroma(role: Role) -> float:
    return float(oklch_from_oklab(oklab_from_srgb(np.array(role.colour.rgb)))[1])

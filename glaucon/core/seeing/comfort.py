"""Notes on comfort: what can be read and still tires or confuses; they block nothing, each has a change to try.

Thresholds are ours, in OKLCH and WCAG ratios; docs/decisions/065 says how they were chosen.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.gamut import into_srgb
from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.seeing.alike import alike_pairs
from glaucon.core.seeing.lanes import Lane, lanes_of
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study

NoteKind = Literal[
    "strong-field", "vibrates", "long-strong", "black-on-white", "thin", "many", "hue-alone", "faint-hover"
]
_STRONG_FIELD, _FIELD_SHARE = 0.17, 0.15
_VIBRATES, _HUES_APART, _VIBRATES_UNDER = 0.15, 90.0, 5.0
_LONG_STRONG, _LONG = 0.15, 400  # characters
_PURE, _ALL_BLACK_SHARE = ("#000000", "#ffffff"), 0.4
_THIN, _THIN_PX, _THIN_NEEDS = 300, 20.0, 7.0
_STRONG_HUE, _HUE_STEP, _MOST_HUES = 0.13, 40.0, 5
_FAINT = 0.035
_CALMER = 0.55  # of the chroma


@dataclass(frozen=True, slots=True)
class ComfortNote:
    """One note: why in a sentence, the colours it is about, where; and a change of one role to try, if there is one."""

    kind: NoteKind
    says: str
    text: str
    ground: str
    where: str
    role: str | None = None
    value: str | None = None
    finding: Finding | None = None


def comfort_notes(known: KnownSite, study: Study) -> list[ComfortNote]:
    """Return the notes on a site under a study; of a kind at most three, those that concern most first."""
    reading = known.read(study)
    lanes = lanes_of(known, study, reading)
    roles = {role.id: role for role in study.roles}
    every = max(1, sum(one.characters for lane in lanes for one in lane.standing))
    notes = [
        *_strong_fields(lanes, roles, every), *_pairs(known, lanes, roles, every), *_thin(reading, lanes, roles),
        *_many(known, study, reading), *_hue_alone(known, study, lanes), *_faint_hovers(study, known),
    ]  # fmt: skip
    found: dict[NoteKind, list[ComfortNote]] = defaultdict(list)
    for note in notes:
        if len(found[note.kind]) < 3:
            found[note.kind].append(note)
    return [note for some in found.values() for note in some]


def _strong_fields(lanes: list[Lane], roles: dict[str, Role], every: int) -> Iterator[ComfortNote]:
    for lane in lanes:
        role = roles.get(lane.role or "")
        share = sum(one.characters for one in lane.standing) / every
        if lane.ground != "solid" or role is None or role.kind == "accent" or share < _FIELD_SHARE:
            continue
        lightness, chroma, hue = _lch(role.colour)
        if chroma >= _STRONG_FIELD:
            says = "A large area in a very strong colour tires the eyes. A calmer shade of it keeps its character."
            value = _of(lightness, chroma * _CALMER, hue)
            yield ComfortNote("strong-field", says, "", lane.colour, role.label, role.id, value, lane.standing[0])


def _pairs(known: KnownSite, lanes: list[Lane], roles: dict[str, Role], every: int) -> Iterator[ComfortNote]:
    for lane in lanes:
        for one in lane.standing if lane.ground == "solid" else ():
            role = roles.get(one.text.role or "")
            if role is None or one.ratio is None or role.state != "rest" or _is_code(known, one):
                continue
            where = f"{role.label} on {lane.where or roles[lane.role].label if lane.role in roles else lane.colour}"
            text, ground = _lch(role.colour), _lch(read_colour(lane.colour))
            hues = abs((text[2] - ground[2] + 180) % 360 - 180)
            if min(text[1], ground[1]) >= _VIBRATES and hues >= _HUES_APART and one.ratio < _VIBRATES_UNDER:
                says = "Two strong colours of about the same lightness seem to flicker where they meet."
                value = _of(text[0], 0.03, text[2])
                yield ComfortNote("vibrates", says, role.value, lane.colour, where, role.id, value, one)
            elif text[1] >= _LONG_STRONG and one.characters >= _LONG and _is_prose(known, one, role):
                says = "Long text in a strong colour is tiring to read. Keep the colour for headings and links."
                value = _of(text[0], 0.04, text[2])
                yield ComfortNote("long-strong", says, role.value, lane.colour, where, role.id, value, one)
            elif (
                role.colour.hex() == "#000000"
                and lane.colour == "#ffffff"
                and one.characters >= _ALL_BLACK_SHARE * every
            ):
                says = (
                    "Pure black on pure white is the hardest contrast there is. Most people read dark grey more easily."
                )
                yield ComfortNote("black-on-white", says, role.value, lane.colour, where, role.id, "#1f1f1f", one)


def _thin(reading: SiteReading, lanes: list[Lane], roles: dict[str, Role]) -> Iterator[ComfortNote]:
    thin: set[int] = set()
    for key, sightings in reading.index.survey.sightings.items():
        if key.state == "rest":
            weights, sizes = np.asarray(sightings.weights), np.asarray(sightings.sizes_px)
            some = (weights <= _THIN) & (sizes < _THIN_PX)
            thin.update(np.asarray(sightings.pairings)[some].tolist())
    for lane in lanes:
        for one in lane.standing:
            role = roles.get(one.text.role or "")
            pale = one.ratio is not None and one.verdict == "pass" and one.ratio < _THIN_NEEDS
            if role is not None and pale and lane.ground == "solid" and thin & set(one.pairings):
                says = "Thin letters look paler than they are. They need more contrast than bold ones: about 7."
                value = _with_contrast(role.colour, read_colour(lane.colour), _THIN_NEEDS)
                yield ComfortNote("thin", says, role.value, lane.colour, role.label, role.id, value, one)


def _many(known: KnownSite, study: Study, reading: SiteReading) -> Iterator[ComfortNote]:
    """Note pages with many strong hues, told by what their text and its backgrounds show at rest."""
    index, hues = reading.index, defaultdict(set)
    of_role = known.tokens.roles(study)
    roles = {role.id: role for role in study.roles}
    runs, pairings = index.pairs()
    at_rest = index.at_rest
    for run, pairing in zip(runs.tolist(), pairings.tolist(), strict=True):
        if at_rest[pairing]:
            for token in index.tokens_of(pairing):
                role = roles.get(of_role.get(token, ""))
                if role is not None:
                    _, chroma, hue = _lch(role.colour)
                    if chroma >= _STRONG_HUE:
                        hues[index.survey.runs[run].page].add(int(hue // _HUE_STEP))
    worst = max(hues, key=lambda page: len(hues[page]), default=None)
    if worst is not None and len(hues[worst]) > _MOST_HUES:
        says = f"{len(hues[worst])} strong colours on one page: nothing stands out any more. Three are plenty."
        yield ComfortNote("many", says, "", "", worst)


def _is_code(known: KnownSite, finding: Finding) -> bool:
    """Return whether a finding's example is code, whose colours have a meaning of their own."""
    assert finding.seen is not None
    path = known.survey.runs[finding.seen.run].path
    return any(f">{tag}:" in path or f">{tag}>" in path for tag in ("pre", "code", "samp", "kbd"))


def _is_prose(known: KnownSite, finding: Finding, role: Role) -> bool:
    assert finding.seen is not None
    return role.kind in ("text", "quiet") and not known.survey.runs[finding.seen.run].is_link


def _hue_alone(known: KnownSite, study: Study, lanes: list[Lane]) -> Iterator[ComfortNote]:
    read = [one for lane in lanes for one in lane.standing]
    in_code = {one.text.role for one in read if _is_code(known, one)}
    elsewhere = {one.text.role for one in read if not _is_code(known, one)}
    for pair in alike_pairs(known, study, "deutan", 1.0):
        is_code = {pair.one.id, pair.other.id} & (in_code - elsewhere)
        if pair.one.state == pair.other.state == "rest" and not is_code:
            says = "Only the hue tells these two apart. One man in sixteen hardly sees the difference."
            change = pair.change
            yield ComfortNote(
                "hue-alone", says, pair.one.value, pair.other.value, f"{pair.one.label} and {pair.other.label}",
                change.role if change else None, change.value if change else None,
            )  # fmt: skip


def _faint_hovers(study: Study, known: KnownSite) -> Iterator[ComfortNote]:
    used = known.role_uses(study)
    for role in study.roles:
        rest = study.rest_of(role)
        if role.state != "hover" or rest is None or role.tier == "unseen" or role.kind not in ("link", "accent"):
            continue
        moved = float(delta_e_ok(np.array(role.colour.rgb), np.array(rest.colour.rgb)))
        if 0 < moved < _FAINT and role.id in used:
            says = "On hover this changes so little that few notice. A clearly darker or lighter shade shows it."
            lightness, chroma, hue = _lch(rest.colour)
            value = _of(lightness + (-0.12 if lightness > 0.4 else 0.12), chroma, hue)
            yield ComfortNote("faint-hover", says, role.value, rest.value, role.label, role.id, value)


def _lch(colour: Colour) -> tuple[float, float, float]:
    lightness, chroma, hue = oklch_from_oklab(oklab_from_srgb(np.array(colour.rgb))).tolist()
    return lightness, chroma, hue


def _of(lightness: float, chroma: float, hue: float) -> str:
    return Colour(*into_srgb(np.array([[min(1.0, max(0.0, lightness)), chroma, hue]]))[0].tolist()).hex()


def _with_contrast(colour: Colour, ground: Colour, least: float) -> str | None:
    """Return the nearest lightness of a colour that has so much contrast, None where none has."""
    lightness, chroma, hue = _lch(colour)
    tried = [_of(step / 100, chroma, hue) for step in range(101)]
    good = [step for step, one in enumerate(tried) if contrast_ratio(read_colour(one), ground) >= least]
    return tried[min(good, key=lambda step: abs(step / 100 - lightness))] if good else None

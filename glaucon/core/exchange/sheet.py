"""The palette as a page to print: the short palette, coats, details, and which colours go on which."""

from __future__ import annotations

import numpy as np
from coloraide import Color
from pydantic import BaseModel

from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import Finding, SiteReading
from glaucon.core.reading.reading import LEVELS
from glaucon.core.study.roles import Role
from glaucon.core.study.study import Study

_MOST_PAIRS = 60
_GREY = 0.002  # chroma under which a hue says nothing


class SheetPair(BaseModel):
    """A text colour on a background: the colours, the contrast and what it may be used for."""

    text: str
    background: str
    text_colour: str
    background_colour: str
    ratio: float | None
    use: str
    sample: str


class SheetRole(BaseModel):
    """A role with its codes, and what its states are."""

    id: str
    label: str
    hex: str
    rgb: str
    hsl: str
    oklch: str
    follows: str
    states: dict[str, str]


class SheetCoat(BaseModel):
    """A coat with its roles."""

    label: str
    roles: list[SheetRole]


class Sheet(BaseModel):
    """A site's palette on one page."""

    site: str
    study: str
    roles: list[SheetRole]
    coats: list[SheetCoat]
    details: list[SheetRole]
    pairs: list[SheetPair]


def sheet_of(known: KnownSite, study: Study, site_name: str, study_name: str) -> Sheet:
    """Return the sheet of a study on a site."""
    details = (role for role in study.roles if role.tier == "detail" and role.state == "rest")
    return Sheet(
        site=site_name, study=study_name, roles=[_role(study, role) for role in study.short_roles()],
        coats=[
            SheetCoat(label=coat.label, roles=[_role(study, r) for r in _main_at_rest(study, coat.id)])
            for coat in study.short_coats()
        ],
        details=[_role(study, role) for role in details], pairs=_pairs(study, known.read(study)),
    )  # fmt: skip


def may_be_used(ratio: float) -> str:
    """Return what text a contrast ratio is enough for, in words. Source: WCAG 2.2, 1.4.3 and 1.4.6."""
    if ratio >= LEVELS["AAA"][0]:
        return "all text, AAA (strict)"
    if ratio >= LEVELS["AA"][0]:
        return "all text, AA (normal)"
    return "large text only" if ratio >= LEVELS["AA"][1] else "not for text"


def _pairs(study: Study, reading: SiteReading) -> list[SheetPair]:
    """Return the pairs of roles that are seen together, those of most text first."""
    found: dict[tuple[str, str], Finding] = {}
    for role in study.roles:
        for one in reading.pairs_of(role.id) if role.tier != "unseen" and role.id in reading.roles else []:
            if one.text.role and one.background.role and one.ratio is not None:
                found.setdefault((one.text.role, one.background.role), one)
    labels = study.labels
    return [
        SheetPair(
            text=labels[text], background=labels[background], text_colour=one.text.colour,
            background_colour=one.background.colour, ratio=one.ratio, use=may_be_used(one.ratio or 1.0),
            sample=one.sample,
        )
        for (text, background), one in sorted(found.items(), key=lambda item: -item[1].characters)[:_MOST_PAIRS]
    ]  # fmt: skip


def _main_at_rest(study: Study, coat: str) -> list[Role]:
    return [role for role in study.roles_of(coat) if role.tier == "main" and role.state == "rest"]


def _role(study: Study, role: Role) -> SheetRole:
    colour = role.colour
    red, green, blue = colour.bytes
    alpha = "" if colour.alpha == 1 else f" / {round(colour.alpha, 3):g}"
    hue, saturation, lightness = Color("srgb", list(colour.rgb)).convert("hsl").coords(nans=False)
    light, chroma, turn = oklch_from_oklab(oklab_from_srgb(np.array(colour.rgb))).tolist()
    states: dict[str, str] = {one.state: one.colour.hex() for one in study.roles if study.rest_of(one) == role}
    return SheetRole(
        id=role.id, label=role.label, hex=colour.hex(), rgb=f"rgb({red} {green} {blue}{alpha})",
        hsl=f"hsl({hue:.0f} {saturation * 100:.0f}% {lightness * 100:.0f}%{alpha})",
        oklch=f"oklch({light * 100:.1f}% {chroma:.3f} {turn if chroma > _GREY else 0:.0f}{alpha})",
        follows=study.labels.get(role.tie.to, "") if role.tie else "", states=states if role.tier == "main" else {},
    )  # fmt: skip

"""The ways a site's colours are handed back: the site, an add-on stylesheet, custom properties, Design Tokens."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from glaucon.core.exchange.addon import addon_stylesheet
from glaucon.core.exchange.addon_scopes import scopes_css
from glaucon.core.exchange.addon_text import Unreached
from glaucon.core.exchange.backdrops import Backdrops
from glaucon.core.exchange.design_tokens import design_tokens
from glaucon.core.exchange.recolour import palette_css, recolour_site
from glaucon.core.exchange.schemes import scheme_of
from glaucon.core.scopes.css import dressing_of
from glaucon.core.study.own_css import applied_css
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Survey
from glaucon.core.survey.site import Progress, SiteFiles

WAYS = ("site", "addon", "variables", "tokens")
_ZIP_DATE = (1987, 4, 18, 8, 0, 0)  # the same bytes for the same files


@dataclass(slots=True)
class HandedBack:
    """What one way gives: its bytes, the files it changes, the colours and places it cannot reach.

    `stood` is how its pages would then stand, of those that are read as their scripts made them.
    """

    data: bytes
    filename: str
    changed: list[str] = field(default_factory=list)
    unreached: list[Unreached] = field(default_factory=list)
    missed: list[str] = field(default_factory=list)
    stood: dict[str, str] = field(default_factory=dict)


def hand_back(
    site: SiteFiles,
    survey: Survey,
    study: Study,
    way: str,
    changed_only: bool = False,
    progress: Progress = lambda what, done, total: None,
    other: Study | None = None,
    backdrops: Backdrops | None = None,
) -> HandedBack:
    """Return a site's colours one way, one of WAYS; `changed_only` leaves files that stay the same out of the zip.

    `backdrops` are the study's with their pictures: an add-on with files is a zip of both.
    With another study, light where this is dark or the other way round, visitors who ask for that get it.

    Raises: StudyError: both studies are light, or both dark.
    """
    scheme = scheme_of(study, other) if other is not None else None
    if way == "site":
        made = recolour_site(site, survey, study, scheme, backdrops)
        files = made.files if changed_only else {**site.files, **made.files}
        changed = sorted(path for path, data in made.files.items() if data != site.files.get(path))
        return HandedBack(zip_of(files), "site.zip", changed, stood={**site.stood, **made.stood})
    missed: list[str] = []
    if way == "addon":
        kinds = dressing_of(study, survey).kinds
        addon = addon_stylesheet(site, survey.tokens, study, progress, kinds)
        css = addon.css + scopes_css(site, survey, study, backdrops, missed)
        unreached = addon.unreached
        if scheme is not None:
            second = addon_stylesheet(site, survey.tokens, _all_said(scheme.study, study), progress)
            css += f"@media (prefers-color-scheme: {scheme.name}) {{\n{second.css}}}\n" if second.css else ""
            unreached = second.unreached
        return _with_files(HandedBack(css.encode(), "glaucon-addon.css", [], unreached, missed), backdrops)
    if way == "variables":
        worn = scopes_css(site, survey, study, backdrops, missed)
        own = applied_css(study)
        css = palette_css(study, (), study.roles, scheme) + (f"{own}\n" if own else "") + worn
        return _with_files(HandedBack(css.encode(), "palette.css", missed=missed), backdrops)
    return HandedBack(design_tokens(study).encode(), "palette.tokens.json")


def _with_files(made: HandedBack, backdrops: Backdrops | None) -> HandedBack:
    """Return a stylesheet alone, or in a zip with the files that its backdrops name."""
    files = backdrops.files() if backdrops is not None else {}
    if not files:
        return made
    packed = zip_of({made.filename: made.data, **files})
    return replace(made, data=packed, filename=made.filename.replace(".css", ".zip"))


def _all_said(study: Study, first: Study) -> Study:
    """Return a study that says the roles too that it leaves as they came, where the first changes them."""
    said = {role.id for role in first.changed_roles()}
    roles = tuple(role.model_copy(update={"taken": True}) if role.id in said else role for role in study.roles)
    return study.model_copy(update={"roles": roles})


def zip_of(files: Mapping[str, bytes]) -> bytes:
    """Return files as a zip archive, the same bytes for the same files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, data in sorted(files.items()):
            archive.writestr(zipfile.ZipInfo(path, _ZIP_DATE), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()

"""The ways a site's colours are handed back: the site, an add-on stylesheet, custom properties, Design Tokens."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field

from glaucon.core.exchange.addon import addon_stylesheet
from glaucon.core.exchange.addon_text import Unreached
from glaucon.core.exchange.design_tokens import design_tokens
from glaucon.core.exchange.recolour import palette_css, recolour_site
from glaucon.core.palette.study import Study
from glaucon.core.survey.model import Survey
from glaucon.core.survey.site import Progress, SiteFiles

WAYS = ("site", "addon", "variables", "tokens")
_ZIP_DATE = (1987, 4, 18, 8, 0, 0)  # the same bytes for the same files


@dataclass(slots=True)
class HandedBack:
    """What one way gives: its bytes, the files it changes, the colours it cannot reach."""

    data: bytes
    filename: str
    changed: list[str] = field(default_factory=list)
    unreached: list[Unreached] = field(default_factory=list)


def hand_back(
    site: SiteFiles,
    survey: Survey,
    study: Study,
    way: str,
    changed_only: bool = False,
    progress: Progress = lambda what, done, total: None,
) -> HandedBack:
    """Return a site's colours one way, one of WAYS; `changed_only` leaves files that stay the same out of the zip."""
    if way == "site":
        new = recolour_site(site, survey.tokens, study).files
        files = new if changed_only else {**site.files, **new}
        return HandedBack(zip_of(files), "site.zip", sorted(path for path in new if new[path] != site.files.get(path)))
    if way == "addon":
        addon = addon_stylesheet(site, survey.tokens, study, progress)
        return HandedBack(addon.css.encode(), "glaucon-addon.css", [], addon.unreached)
    if way == "variables":
        return HandedBack(palette_css(study, (), study.roles).encode(), "palette.css")
    return HandedBack(design_tokens(study).encode(), "palette.tokens.json")


def zip_of(files: Mapping[str, bytes]) -> bytes:
    """Return files as a zip archive, the same bytes for the same files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, data in sorted(files.items()):
            archive.writestr(zipfile.ZipInfo(path, _ZIP_DATE), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()

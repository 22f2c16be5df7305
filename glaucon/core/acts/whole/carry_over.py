"""A study is carried over to its site's new files. What is done when a site is updated; nobody sends it."""

from __future__ import annotations

from typing import Literal

from pydantic import InstanceOf

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.cascade.tokens import ColourToken
from glaucon.core.proposal.carry_over import CarriedOver, carry_over
from glaucon.core.proposal.renamed_places import moved_to, renamed
from glaucon.core.scopes.cascade import is_inside
from glaucon.core.study.study import Study
from glaucon.core.survey.model import Region, Survey
from glaucon.core.wording import counted, listed, plural


class CarryOver(Act):
    """Carry the palette over to the site's new files; `before` and `places` are the colours and the regions it had."""

    act: Literal["carry-over"] = "carry-over"
    before: tuple[InstanceOf[ColourToken], ...]
    places: tuple[InstanceOf[Region], ...] = ()

    def apply(self, site: SiteAtHand, study: Study) -> Study:
        return self._carried(site, study).study

    def label(self, before: Study, after: Study) -> str:
        return "Updated from the site"

    def told(self, site: SiteAtHand, study: Study) -> list[str]:
        """Return what it changes among a study's colours, in sentences; none where that is nothing."""
        carried = self._carried(site, study)
        return _colours_told(carried) + self._renamed_told(site, study) + _places_gone(carried.study, site.known.survey)

    def _renamed_told(self, site: SiteAtHand, study: Study) -> list[str]:
        places = [scope.where for scope in study.worn] + [one.where for one in study.backdrops]
        dressed = {where.region for where in places if where is not None}
        was = {region.key: region.label for region in self.places}
        return [
            f"“{was[key]}” is now “{region.label}”. It keeps its colours."
            for key, region in renamed(self.places, site.known.survey.regions).items() if key in dressed
        ]  # fmt: skip

    def _carried(self, site: SiteAtHand, study: Study) -> CarriedOver:
        survey = site.known.survey
        there = moved_to(study, renamed(self.places, survey.regions))
        return carry_over(there, self.before, survey.tokens, site.known.proposal())


def _colours_told(carried: CarriedOver) -> list[str]:
    told = [f"New colour {colour.upper()} goes with {label}." for colour, label in list(carried.joined.items())[:12]]
    if carried.new_roles:
        told.append(f"New in the palette: {listed(carried.new_roles)}.")
    if carried.unmapped:
        told.append(f"Not in the palette: {listed(carried.unmapped)}.")
    if carried.gone:
        gone = carried.gone
        told.append(f"{counted(gone, 'place')} of the palette {plural(gone, 'is')} gone from the files.")
    return told


def _places_gone(study: Study, survey: Survey) -> list[str]:
    """Return a sentence naming scopes whose place is gone from the site; they are kept in case it comes back."""
    pages_of = {region.key: region.pages for region in survey.regions}
    texts_of: dict[str, list[str]] = {}
    for run in survey.runs:
        texts_of.setdefault(run.page, []).append(run.path)
    gone = []
    for where in (scope.where for scope in study.worn):
        pages = pages_of.get(where.region or "", survey.pages)
        if (where.region is not None and where.region not in pages_of) or (where.page and where.page not in pages):
            gone.append(where.region or str(where.page))
        if where.at is not None and where.page in survey.pages:
            texts = texts_of.get(where.page or "", ())
            gone += [] if any(is_inside(path, where.at) for path in texts) else [f"one text of {where.page}"]
    return [f"Not there any more, its colours are kept: {listed(gone)}."] if gone else []

"""A kept site as acts ask of it, with what of it is live."""

from __future__ import annotations

from glaucon.apps.releases.services import live_study
from glaucon.apps.sites.at_hand import KeptSite
from glaucon.core.study.study import Study


class ReleasedSite(KeptSite):
    """A site of the database and the study that is live on it."""

    def released(self) -> Study | None:
        return live_study(self.site)

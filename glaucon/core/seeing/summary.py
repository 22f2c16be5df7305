"""What a site comes to in a few figures: for the report, the statement and whoever asks."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import Finding
from glaucon.core.seeing.beyond import BeyondText, judged_things
from glaucon.core.seeing.lanes import Lane, lanes_of
from glaucon.core.study.study import Study


@dataclass(frozen=True, slots=True)
class SiteSummary:
    """What was looked at and what was found. Counts are of texts, in all states and at all widths.

    `measured` is how many of the pages a browser has measured: only there it is known what lies behind all texts.
    """

    pages: tuple[str, ...]
    measured: int
    widths: tuple[int, ...]
    states: tuple[str, ...]
    aim: str
    texts: int
    hard_before: int
    hard: int
    unsure: int
    lanes: tuple[Lane, ...]
    left: tuple[Finding, ...]
    things: tuple[BeyondText, ...]

    @property
    def readable(self) -> int:
        """Return how many texts are readable in every state."""
        return self.texts - self.hard - self.unsure

    def beyond(self) -> Counter[str]:
        """Return how many things besides text have which verdict; what the owner lets through as "waived"."""
        return Counter("waived" if one.waiver is not None else one.verdict for one in self.things)


def summary_of(known: KnownSite, came: KnownSite, study: Study) -> SiteSummary:
    """Return the summary of a site under a study; `came` is the site without what the study adds of its own."""
    reading = known.read(study)
    before = came.read(came.first_study("As it came").model_copy(update={"aim": study.aim}))
    contexts = list(known.survey.sightings)
    lanes = tuple(lanes_of(known, study, reading))
    return SiteSummary(
        pages=tuple(known.survey.pages), measured=len(known.survey.laid),
        widths=tuple(sorted({key.width for key in contexts}, reverse=True)),
        states=tuple(dict.fromkeys(key.state for key in contexts)), aim=study.aim, texts=reading.texts,
        hard_before=before.hard, hard=reading.hard, unsure=reading.unsure, lanes=lanes,
        left=tuple(one for lane in lanes for one in lane.standing if one.verdict in ("fail", "unsure")),
        things=tuple(judged_things(known, study)),
    )  # fmt: skip

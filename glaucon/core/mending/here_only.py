"""A finding mended where it is and nowhere else: the least change to the text's colour in its section, part or page."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from glaucon.core.colour.value import Colour, read_colour
from glaucon.core.known.rows import Rows
from glaucon.core.known.site import KnownSite
from glaucon.core.reading.counterparts import Counterparts
from glaucon.core.reading.findings import Finding, Side, SiteReading
from glaucon.core.reading.nearest import Nearest, nearest_readable
from glaucon.core.scopes.reading import place_name
from glaucon.core.study.coats import wear
from glaucon.core.study.roles import Role
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study


@dataclass(frozen=True, slots=True)
class HereOnly:
    """A new value for a place's text or background; `values` are all values to set there, beside `coat`.

    It makes so many texts readable in some state, hard to read, and leaves so many of the finding's.
    """

    where: Where
    place: str
    colour: Colour
    coat: str | None
    values: Mapping[str, str]
    fixes: int
    breaks: int
    left: int
    before: Colour


def here_only(
    known: KnownSite, study: Study, reading: SiteReading, finding: Finding, where: Where | None = None,
    nearest_of: Callable[[Colour, Counterparts], Nearest] = nearest_readable, is_text: bool = True,
    also: Sequence[Where] = (),
) -> HereOnly | None:  # fmt: skip
    """Return the nearest readable colour for a finding's text in a place, else in the narrowest that all of it is in.

    None where none helps. `nearest_of` is how it is looked for; `is_text`: the text's, else its background's. `also`
    are further places for the same colour, which wear nothing yet.
    """
    side = finding.text if is_text else finding.background
    role = study.role(side.role) if side.role is not None else None
    where = where or (_place_of(known, study, reading, finding) if role is not None else None)
    if role is None or where is None:
        return None
    now = next((scope for scope in study.worn if scope.where == where), None)
    coat, own = (now.coat, dict(now.set)) if now is not None else (None, {})
    here = _Here(known, study, reading, finding, (where, *also), coat, _seen(side, role), nearest_of)
    colour = here.nearest(role.use, own)
    if colour is None:
        return None
    values = {**own, role.use: colour.hex()}
    fixes, breaks, left, states = here.effect(values)
    for state in sorted(states) if fixes and role.state == "rest" else ():
        # what is readable at rest and would not be while it is hovered takes a colour for that too
        use = f"{role.kind}.{state}"
        if use not in values and (then := here.nearest(use, values)) is not None:
            tried = {**values, use: then.hex()}
            if (better := here.effect(tried))[1] < breaks and better[0] >= fixes:
                values, (fixes, breaks, left, _) = tried, better
    if not fixes:
        return None
    return HereOnly(where, place_name(known.survey, where), colour, coat, values, fixes, breaks, left, here.seen)


@dataclass(frozen=True, slots=True)
class _Here:
    """A finding and the places that are to wear a colour of their own; `seen` is the colour to stay near to."""

    known: KnownSite
    study: Study
    reading: SiteReading
    finding: Finding
    places: tuple[Where, ...]
    coat: str | None
    seen: Colour
    nearest_of: Callable[[Colour, Counterparts], Nearest]

    def worn(self, values: Mapping[str, str]) -> Study:
        return wear(self.study, list(self.places), self.coat, values)

    def nearest(self, use: str, values: Mapping[str, str]) -> Colour | None:
        """Return the nearest colour for a use under which all that wears it there reads, else the finding's texts."""

        def at_level(level: float) -> Study:
            grey = f"#{round(level * 255):02x}" + f"{round(level * 255):02x}" * 2
            return self.worn({**values, use: grey})

        scoped = at_level(0.0)
        rows = Rows(self.known, scoped)
        numbers = rows.of_ways({number for number, one in enumerate(scoped.worn) if one.where in self.places})
        counterparts = rows.counterparts(numbers, at_level)
        found = self.nearest_of(self.seen, counterparts)
        if found.colour is None:
            texts = set(self.reading.index.runs_of(list(self.finding.pairings)).tolist())
            own = _of_texts(counterparts, numbers, rows, texts)
            found = self.nearest_of(self.seen, own) if len(own.pairing) else found
        return found.colour

    def effect(self, values: Mapping[str, str]) -> tuple[int, int, int, set[str]]:
        return _effect(self.known, self.reading, self.worn(values), self.finding)


def _of_texts(counterparts: Counterparts, numbers: list[int], rows: Rows, wanted: set[int]) -> Counterparts:
    """Return those counterparts that some texts show."""
    return counterparts.only(
        [
            place for place, number in enumerate(counterparts.pairing.tolist())
            if wanted & set(rows.texts([numbers[number]]).tolist())
        ]
    )  # fmt: skip


def _seen(side: Side, role: Role) -> Colour:
    """Return the colour to stay near to: the one that is seen there."""
    return read_colour(side.colour) if side.colour else role.colour


def wearing_here(known: KnownSite, study: Study, finding: Finding) -> Where | None:
    """Return the deepest place whose colours a finding's texts wear, None where they wear the site's own."""
    scopes = known.dressed(study).ways[finding.dress].scopes if finding.dress else []
    return study.worn[scopes[-1]].where if scopes else None


def _place_of(known: KnownSite, study: Study, reading: SiteReading, finding: Finding) -> Where | None:
    """Return the narrowest place that all of a finding's texts are in."""
    worn = wearing_here(known, study, finding)
    if worn is not None:
        return worn
    runs = [known.survey.runs[number] for number in reading.index.runs_of(list(finding.pairings)).tolist()]
    chains = [known.survey.chains[run.chain] for run in runs]
    common = [region for region in chains[0] if all(region in chain for chain in chains)] if chains else []
    if common:
        region = known.survey.regions[common[-1]]
        return Where(section=region.key) if region.is_section else Where(part=region.key)
    pages = {run.page for run in runs}
    return Where(page=pages.pop()) if len(pages) == 1 else None


def _effect(
    known: KnownSite, before: SiteReading, study: Study, finding: Finding
) -> tuple[int, int, int, set[str]]:  # fmt: skip
    """Return how many texts a study fixes, breaks, leaves of a finding's, and the states in which it breaks those."""
    # state by state: a link that is hard to read hovered too is mended at rest first
    was, now = before.failing_in(), known.read(study).failing_in()
    own = {(run, state) for run in before.index.runs_of(list(finding.pairings)).tolist() for state in finding.states}
    texts = {run for run, _ in own}
    states = {state for run, state in now - was if run in texts and state != "rest"}
    return _texts(was - now), _texts(now - was), _texts(own & now), states


def _texts(some: set[tuple[int, str]]) -> int:
    return len({run for run, _ in some})

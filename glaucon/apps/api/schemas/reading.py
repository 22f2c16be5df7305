"""What the API says of a study as it is read on its site."""

from __future__ import annotations

from typing import Literal

from glaucon.apps.api.schemas.asked import RevisionName
from glaucon.apps.api.schemas.told import Told


class SideOut(Told):
    """The text or the background of a pairing: its role, if any, what that is called, and the colour seen."""

    role: str | None
    label: str
    colour: str


class SeenOut(Told):
    """Where a finding's sample is to be seen: its page, element, the section it lies in, and the screen and state.

    `opened` is what is opened on the page.
    """

    page: str
    path: str
    section: str
    width: int
    state: str
    opened: str


class FindingOut(Told):
    """One text colour on one background; `key` names it, `faded` is the opacity the page gives the text if below 1.

    `on` is "picture" or "gradient" where one lies behind the worst of it.

    `where` is what a section or page is called that wears something of its own there, "" for the site's own colours.
    `own` is what the owner's own CSS sets of it: there the palette does not count.
    """

    key: str
    text: SideOut
    background: SideOut
    verdict: str
    ratio: float | None
    required: float | None
    places: int
    pages: list[str]
    states: list[str]
    widths: list[int]
    sample: str
    seen: SeenOut
    why: str
    on: str
    faded: float | None
    where: str
    own: Literal["", "text", "background", "both"]


class RoleReadingOut(Told):
    """What the rail shows of a role."""

    lowest: float | None
    verdict: str
    places: int
    pages: int


class LostMarkOut(Told):
    """A logo or icon that is hard to see on what a study puts behind it: its file and where that is to be had.

    A drawing in the page has neither: `source` is what finds it. `colours` are its main ones, `ratio` the best of them,
    `under` is what lies under it; `ways` are what would bring it back.
    """

    kind: Literal["picture", "background", "drawing"]
    source: str
    address: str
    words: str
    colours: list[str]
    section: str
    place: str
    pages: list[str]
    ratio: float
    under: str
    plate: str
    ways: list[Literal["other", "plate", "light", "dark"]]


class ReadingOut(Told):
    """A whole study read on a whole site; `pairs` is everything the role asked for is read with, hardest first.

    `lost` are the pictures that are hard to see on what the study puts behind them.

    `hard` and `unsure` count colour pairs, `hard_texts` and `unsure_texts` the texts that show them.
    """

    texts: int
    hard_texts: int
    unsure_texts: int
    hard: int
    unsure: int
    findings: list[FindingOut]
    roles: dict[str, RoleReadingOut]
    pages: dict[str, int]
    pairs: list[FindingOut]
    lost: list[LostMarkOut]
    tied: dict[str, str]


class PairsOut(Told):
    """Everything a role is read with, hardest first."""

    base: RevisionName
    pairs: list[FindingOut]

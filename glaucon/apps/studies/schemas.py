"""What the API says of studies and their reading."""

from __future__ import annotations

from ninja import Schema
from pydantic import Field


class SideOut(Schema):
    """The words or the ground of a pairing: its role, if any, and the colour seen."""

    role: str | None
    label: str
    colour: str


class FindingOut(Schema):
    """One text colour on one ground."""

    words: SideOut
    ground: SideOut
    verdict: str
    ratio: float | None
    required: float | None
    large_only: bool
    places: int
    pages: list[str]
    states: list[str]
    sample: str
    why: str


class RoleReadingOut(Schema):
    """What the rail shows of a role."""

    lowest: float | None
    verdict: str
    places: int
    pages: int


class ReadingOut(Schema):
    """A whole study read on a whole site; `pairs` is everything the role asked for is read with, hardest first."""

    texts: int
    hard_texts: int
    unsure_texts: int
    hard: int
    unsure: int
    findings: list[FindingOut]
    roles: dict[str, RoleReadingOut]
    pages: dict[str, int]
    pairs: list[FindingOut] = []


class RoleOut(Schema):
    """A role with the custom properties the bench sets for it and the opacity of each.

    `kind` is "ground", "words", "line" or "other"; `seen_with` is the role it is mostly seen with.
    """

    name: str
    label: str
    value: str
    found: str
    taken: bool
    changed: bool
    reason: str
    kind: str
    seen_with: str | None
    properties: dict[str, float]
    found_colours: list[str]


class RevisionOut(Schema):
    """A revision of a study. `mapping` names which tokens come under which role: previews are made for one."""

    number: int
    what: str
    can_undo: bool
    can_redo: bool
    study: str
    level: str
    mapping: str
    roles: list[RoleOut]
    waiting: int
    reading: ReadingOut


class ChangeIn(Schema):
    """New values for some roles, from the revision the writer has seen."""

    base: int
    values: dict[str, str] = Field(max_length=400)
    take: bool = False


class BaseIn(Schema):
    """The revision the writer has seen."""

    base: int


class DraftIn(Schema):
    """Values to be read, not written, and the role whose pairs are wanted."""

    values: dict[str, str] = Field(max_length=400)
    role: str | None = None


class AmongIn(Schema):
    """Colours (hex) asked about for one role, and what the hand has changed meanwhile."""

    colours: list[str] = Field(max_length=4000)
    values: dict[str, str] = Field({}, max_length=400)


class AmongOut(Schema):
    """Whether each colour reads against everything the role stands with: "1" or "0" each, in order."""

    reads: str


class MendIn(Schema):
    """Roles that stay as they are."""

    locks: list[str] = Field([], max_length=400)


class MendOut(Schema):
    """New values for the roles that move, and how many texts are hard to read before and after."""

    values: dict[str, str]
    before: int
    after: int


class NearestOut(Schema):
    """The nearest readable colour of a role.

    `serves` of `of` counterparts where no colour serves all; `stays` where the role's own value reads.
    """

    role: str
    colour: str | None
    delta_e_ok: float | None
    other_hue: bool
    serves: int | None
    of: int | None
    stays: bool


class OfferOut(Schema):
    """A colour that mends a finding, and how many texts it makes readable and unreadable over all."""

    words: str | None
    ground: str | None
    role: str
    colour: str
    delta_e_ok: float
    other_hue: bool
    mended: int
    harmed: int
    left: int


class RoleDetailOut(Schema):
    """A role's nearest readable colour, and everything the role is read with."""

    pairs: list[FindingOut]
    nearest: NearestOut


class ColourIn(Schema):
    """A colour as typed."""

    text: str = Field(max_length=400)


class ColourOut(Schema):
    """A colour as understood: hex, and lightness, colourfulness and hue in OKLCH."""

    hex: str
    lightness: float
    chroma: float
    hue: float
    alpha: float

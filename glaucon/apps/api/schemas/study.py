"""What the API says of studies and their reading."""

from __future__ import annotations

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from glaucon.apps.api.schemas.site import ColourText, StripColour
from glaucon.core.study.roles import Kind, StateName, Tier
from glaucon.core.study.study import Aim
from glaucon.core.study.ties import RoleId, Tie

FindingKey = Annotated[str, Field(max_length=200)]


class SideOut(Schema):
    """The text or the background of a pairing: its role, if any, what that is called, and the colour seen."""

    role: str | None
    label: str
    colour: str


class FindingOut(Schema):
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
    large_only: bool
    places: int
    pages: list[str]
    states: list[str]
    sample: str
    why: str
    on: str
    faded: float | None
    where: str
    own: Literal["", "text", "background", "both"]


class RoleReadingOut(Schema):
    """What the rail shows of a role."""

    lowest: float | None
    verdict: str
    places: int
    pages: int


class LostMarkOut(Schema):
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


class ReadingOut(Schema):
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
    pairs: list[FindingOut] = []
    lost: list[LostMarkOut] = []
    tied: dict[str, str] = {}


class PropertyOut(Schema):
    """A custom property that a role's places take their colour from: at an opacity, or as the channels of `rgb()`."""

    name: str
    opacity: float
    is_channels: bool


class RoleOut(Schema):
    """A role; `seen_with` is the role it is mostly seen with, `found_colours` what the site has under it.

    `rest` is, for a role of a state, the role at rest that it belongs to.
    """

    id: str
    kind: Kind
    coat: str | None
    state: StateName
    tier: Tier
    rest: str | None
    label: str
    value: str
    found: str
    taken: bool
    changed: bool
    reason: str
    seen_with: str | None
    properties: list[PropertyOut]
    found_colours: list[str]
    locked: bool
    tie: Tie | None


class CoatOut(Schema):
    """A coat, and how many sections and parts of the site wear it."""

    id: str
    label: str
    came: bool
    places: int


class FadeOut(Schema):
    """What a rule of the page fades, and the opacity, 0 to 1, that a study gives it; None: the page's own."""

    selector: str
    opacity: float | None


class RevisionOut(Schema):
    """A revision of a study. `mapping` names which places come under which role: previews are made for one.

    `extra_css` are the rules it adds to the site, as previews show them.
    """

    number: int
    what: str
    can_undo: bool
    can_redo: bool
    study: str
    aim: Aim
    mapping: str
    roles: list[RoleOut]
    coats: list[CoatOut]
    fades: list[FadeOut]
    extra_css: str
    waiting: int
    reading: ReadingOut


class ChangeIn(Schema):
    """New values for some roles, from the revision the writer has seen."""

    base: int
    values: dict[RoleId, ColourText] = Field(max_length=400)
    take: bool = False


class FadeIn(Schema):
    """An opacity, 0 to 1, for all that a selector of the page fades; None: as the page has it."""

    base: int
    selector: str = Field(min_length=1, max_length=400)
    opacity: float | None = Field(None, ge=0, le=1)


class BaseIn(Schema):
    """The revision the writer has seen."""

    base: int


TokenKey = Annotated[str, Field(max_length=500)]
Selector = Annotated[str, Field(min_length=1, max_length=400)]
Opacity = Annotated[float, Field(ge=0, le=1)]


class PartIn(Schema):
    """A part of a colour that gets its own value: the keys of its places in the site's files."""

    role: RoleId
    where: str = Field("", max_length=80)
    colour: ColourText
    tokens: list[TokenKey] = Field(min_length=1, max_length=20_000)


class ThereIn(Schema):
    """What one place alone is to wear, by use ("link.hover"), beside what it wears already."""

    place: WhereIn
    values: dict[Annotated[str, Field(max_length=80)], ColourText] = Field(max_length=80)


class TriedIn(Schema):
    """What is tried beside values of colours: parts of them, what places wear, what is faded less."""

    parts: list[PartIn] = Field([], max_length=400)
    places: list[ThereIn] = Field([], max_length=700)
    fades: dict[Selector, Opacity] = Field({}, max_length=100)


class DraftIn(TriedIn):
    """Values to be read, not written, and the role whose pairs are wanted.

    `taken` are roles whose value all that is merged with them takes, though it is the one they have.
    """

    values: dict[RoleId, ColourText] = Field(max_length=400)
    taken: list[RoleId] = Field([], max_length=400)
    role: RoleId | None = None


class AmongIn(Schema):
    """Colours (hex) asked about for one role, and what is changed and not saved yet."""

    colours: list[ColourText] = Field(max_length=4000)
    values: dict[RoleId, ColourText] = Field({}, max_length=400)


class AmongOut(Schema):
    """Whether each colour is readable with everything the role is seen with: "1" or "0" each, in order."""

    reads: str




class MendIn(Schema):
    """What stays as it is beside locked colours, and how much room is given: what must be, a little more, or strict.

    With `backgrounds` those of pages and wide sections may change too.
    """

    locks: list[RoleId] = Field([], max_length=400)
    room: Literal["must", "more", "strict"] = "must"
    backgrounds: bool = False


class WhereIn(Schema):
    """A page; a section or part, on one page or on all; one part alone, `at` the path of its element."""

    page: str | None = Field(None, max_length=400)
    section: str | None = Field(None, max_length=200)
    part: str | None = Field(None, max_length=200)
    at: str | None = Field(None, max_length=2000)


class ThereOut(Schema):
    """What one place alone is to wear, by use ("link.hover"), and the rules that show it on the previews.

    `beside` belongs to the same change: boxes in it that keep the colour they have, further texts that get the same.
    """

    place: WhereIn
    values: dict[str, str]
    css: str
    beside: list[ThereIn]


class FixOut(Schema):
    """One change: a colour of the palette, with `tokens` a part of one, or `there` what one place alone wears.

    `wear` are the custom properties that show a part on the previews.
    """

    role: str
    label: str
    where: str
    before: str
    after: str
    delta_e_ok: float
    texts: int
    fixes: int
    tokens: list[str]
    wear: dict[str, str]
    there: ThereOut | None = None


class VeilOut(Schema):
    """The least veil over a section's picture with which text on it is readable, and the rules that show it."""

    section: str
    label: str
    page: str
    colour: str
    role: str | None
    opacity: float
    fixes: int
    css: str


class LeftOut(Schema):
    """Texts that stay hard to read: samples, and why with the way out."""

    texts: int
    samples: list[str]
    why: str
    locks: list[str]


class FadingOut(Schema):
    """The least fading of what a selector of the page fades that is readable, opacity 0 to 1."""

    selector: str
    opacity: float
    fixes: int


class RuleOut(Schema):
    """A rule of CSS that makes texts readable: what it does to what its selector finds, and the colour it gives.

    `role` is the label of the role whose colour it is, None where it is none of the palette's.
    """

    selector: str
    css: str
    ways: list[Literal["lift", "clear", "colour", "background"]]
    colour: str | None
    role: str | None
    fixes: int
    samples: list[str]


class MendOut(Schema):
    """The changes, what stays hard to read, what could be faded less, and how many texts are hard to read."""

    before: int
    after: int
    changes: list[FixOut]
    fades: list[FadingOut]
    veils: list[VeilOut]
    rules: list[RuleOut]
    left: list[LeftOut]


class VeilIn(Schema):
    """A veil over what a section has behind it, of a colour of the palette or any other."""

    section: str = Field(max_length=200)
    role: RoleId | None = None
    colour: ColourText
    opacity: Opacity


class FixesIn(TriedIn):
    """The changes that are taken: values of colours, parts, what places wear, what is faded less, veils, rules."""

    base: int
    values: dict[RoleId, ColourText] = Field({}, max_length=400)
    veils: list[VeilIn] = Field([], max_length=20)
    rules: list[Annotated[str, Field(max_length=2000)]] = Field([], max_length=30)


class StudyOut(Schema):
    """A study of a site: its colours by how much they show, and how much of the site reads."""

    number: int
    name: str
    is_open: bool
    is_deleted: bool
    is_dark: bool
    colours: list[StripColour]
    texts: int
    hard_texts: int
    changed: int


class NewStudyIn(Schema):
    """A copy of a study (the open one where none is named), with other values if any.

    `given` are colours by role that are locked; those of no role yet become roles of their own.
    """

    name: str = Field("", max_length=200)
    copy_of: int | None = None
    values: dict[RoleId, ColourText] = Field({}, max_length=400)
    given: dict[RoleId, ColourText] = Field({}, max_length=5)
    parts: list[PartIn] = Field([], max_length=400)
    places: list[ThereIn] = Field([], max_length=700)
    fades: dict[Selector, Opacity] = Field({}, max_length=100)
    is_opened: bool = False


class StudyStepIn(Schema):
    """What is to be done with a study."""

    what: Literal["open", "rename", "delete", "bring-back"]
    name: str = Field("", max_length=200)


class ComparedRole(Schema):
    """A role under two studies: its colours and its lowest contrast."""

    id: str
    label: str
    colours: list[str | None]
    lowest: list[float | None]
    verdicts: list[str]


class ComparedSide(Schema):
    """One of two studies: its pages, what they wear, how much reads."""

    number: int
    name: str
    preview: str
    wear: dict[str, str | None]
    texts: int
    hard_texts: int
    pages: dict[str, int]


class ComparedOut(Schema):
    """Two studies side by side, and the roles in which they differ."""

    sides: list[ComparedSide]
    roles: list[ComparedRole]


class MakeIn(Schema):
    """Colours to make a palette from, those wanted on a certain role, and the direction; or a starting study's name."""

    colours: list[ColourText] = Field([], max_length=5)
    places: dict[RoleId, ColourText] = Field({}, max_length=5)
    direction: int = 0
    starting: str | None = Field(None, max_length=80)


class MadeOut(Schema):
    """A made palette: values for all roles, what it does in words, where the given colours stand, what fails.

    `parts` of roles and `places` have colours of their own on top of the values; `fades` are what the page fades, by
    selector, and the opacity it is to have.
    """

    name: str
    about: str
    values: dict[str, str]
    parts: list[FixOut]
    places: list[FixOut]
    fades: dict[str, float]
    given: dict[str, str]
    hard_texts: int
    samples: list[str]
    colours: list[StripColour]
    is_dark: bool
    is_blocked: bool


class StartingOut(Schema):
    """A palette to start from, and the colours of a small page in it."""

    name: str
    is_dark: bool
    page: str
    section: str
    dark: str
    text: str
    heading: str
    accent: str


class PictureColourOut(Schema):
    """A main colour of a picture and its share."""

    colour: str
    share: float


class PictureOut(Schema):
    """The main colours of a picture and those a palette would be made from."""

    colours: list[PictureColourOut]
    seeds: list[str]


class SitePictureOut(Schema):
    """A picture of the site, where it can be shown from."""

    path: str
    address: str
    is_logo: bool


class PaletteTextIn(Schema):
    """A palette file's text, or codes as pasted."""

    text: str = Field(max_length=1_100_000)


class NamedColourOut(Schema):
    """A colour and what it is called."""

    name: str
    colour: str


class SwapLookIn(Schema):
    """The colour to be swapped and how far (ΔE OK) others may lie from it."""

    colour: ColourText
    within: float = Field(0, ge=0, le=0.3)


class SwapPlaceOut(Schema):
    """A place that wears the colour or one near it."""

    key: str
    colour: str
    role: str | None
    label: str
    file: str
    line: int
    property: str
    selector: str
    texts: int


class SwapIn(Schema):
    """The places chosen and the colour they take."""

    base: int
    keys: list[str] = Field(max_length=20_000)
    to: ColourText


class SheetPair(Schema):
    """A text colour on a background: the colours, the contrast and what it may be used for."""

    text: str
    background: str
    text_colour: str
    background_colour: str
    ratio: float | None
    use: str
    sample: str


class SheetRole(Schema):
    """A role with its codes, and what its states are."""

    id: str
    label: str
    hex: str
    rgb: str
    hsl: str
    oklch: str
    follows: str
    states: dict[str, str]


class SheetCoat(Schema):
    """A coat with its roles."""

    label: str
    roles: list[SheetRole]


class SheetOut(Schema):
    """The palette on one page: the short palette first, then coats and details."""

    site: str
    study: str
    roles: list[SheetRole]
    coats: list[SheetCoat]
    details: list[SheetRole]
    pairs: list[SheetPair]


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
    """A colour that fixes a finding: how many texts it makes readable and hard to read, and leaves of the finding's."""

    role: str
    label: str
    is_text: bool
    colour: str
    delta_e_ok: float
    other_hue: bool
    fixes: int
    breaks: int
    left: int


class OffersIn(Schema):
    """The findings in sight, by key, in the revision they were read in."""

    revision: int
    keys: list[FindingKey] = Field(max_length=8)


class HereOut(Schema):
    """A change of the text in the place of a finding alone: what is set there then, and what it fixes and breaks."""

    where: WhereIn
    place: str
    colour: str
    coat: str | None
    values: dict[str, str]
    fixes: int
    breaks: int
    left: int


class VeilPlaceOut(Schema):
    """A section that has a picture behind it which a veil may be laid over, and a page that it is on."""

    section: str
    label: str
    page: str


class OffersOut(Schema):
    """What would fix a finding, everywhere or in its place alone; where nothing would, why not.

    `veil` is the section whose picture lies behind it.
    """

    key: str
    offers: list[OfferOut]
    here: HereOut | None
    fadings: list[FadingOut]
    veil: VeilPlaceOut | None
    reason: str


class RoleDetailOut(Schema):
    """A role's nearest readable colour, and everything the role is read with."""

    pairs: list[FindingOut]
    nearest: NearestOut


class ColourIn(Schema):
    """A colour as typed."""

    text: ColourText


class ColourOut(Schema):
    """A colour as understood: hex, and lightness, colourfulness and hue in OKLCH."""

    hex: str
    lightness: float
    chroma: float
    hue: float
    alpha: float

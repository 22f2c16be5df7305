"""What the API says of all that has to be seen on a site: the ladder and the list of texts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from glaucon.apps.api.schemas.asked import Asked, RevisionName
from glaucon.apps.api.schemas.reading import FindingOut, SeenOut
from glaucon.apps.api.schemas.told import Told
from glaucon.core.exchange.reports.texts import TextsFormat
from glaucon.core.seeing.comfort import NoteKind
from glaucon.core.seeing.eyes import Eye
from glaucon.core.seeing.lanes import Ground
from glaucon.core.seeing.texts import SortedBy, TextKind, TextsWanted
from glaucon.core.study.waivers import WaivedAs
from glaucon.core.survey.model import ThingKind

State = Literal["rest", "hover", "focus", "active", "visited"]
SaidOf = Literal["pass", "fail", "unsure", "exempt"]


class LaneOut(Told):
    """A background and all that is read on it, the least contrast first.

    `colour` is what most of its texts have behind them, `spread` the darkest and lightest where it is not one colour.
    """

    key: str
    ground: Ground
    role: str | None
    label: str
    colour: str
    spread: list[str] | None
    section: str
    where: str
    texts: int
    standing: list[FindingOut]


class LadderOut(Told):
    """Every background of a site with what is read on it."""

    base: RevisionName
    lanes: list[LaneOut]
    texts: int
    hard_texts: int
    unsure_texts: int


class TextsQuery(Asked):
    """Which texts are wanted, in which order; what is left out leaves out nothing."""

    page: str | None = None
    section: str | None = None
    part: str | None = None
    state: State | Annotated[str, Field(pattern="^opened: ", max_length=80)] | None = None
    width: int | None = None
    is_large: bool | None = None
    kind: TextKind | None = None
    verdict: SaidOf | None = None
    words: Annotated[str, Field(max_length=80)] = ""
    by: SortedBy = "worst"
    is_backwards: bool = False

    @property
    def wanted(self) -> TextsWanted:
        """Return it as the core has it."""
        return TextsWanted(**{name: getattr(self, name) for name in TextsQuery.model_fields})


class TextsPageQuery(TextsQuery):
    """The same, a part of the list at a time."""

    start: Annotated[int, Field(ge=0)] = 0
    most: Annotated[int, Field(ge=1, le=200)] = 60


class TextsFileQuery(TextsQuery):
    """The same as a file."""

    form: TextsFormat = "csv"


class WaiverOut(Told):
    """The owner's reason why a finding beyond text does not count."""

    said: WaivedAs
    why: str


class ThingSeenOut(Told):
    """Where a thing is to be seen."""

    page: str
    path: str
    section: str
    state: str
    words: str


class BeyondOut(Told):
    """Several fields, links, icons or focus rings with the same result; `seen` is an example.

    `colour` is the colour that shows them, `against` the colour it is compared with.

    `rule` is the CSS that would mend them, "" where none would.
    """

    key: str
    what: ThingKind
    criterion: str
    state: str
    colour: str
    against: str
    ratio: float | None
    required: float | None
    verdict: str
    why: str
    count: int
    pages: list[str]
    seen: ThingSeenOut
    rule: str
    waiver: WaiverOut | None


class BeyondListOut(Told):
    """All that besides text has to be seen on a site, the worst first."""

    base: RevisionName
    findings: list[BeyondOut]


class EyeQuery(Asked):
    """Whose eyes, and how far they differ from most: 0 to 1."""

    eye: Eye
    strength: Annotated[float, Field(ge=0, le=1)] = 1.0


class AlikeSideOut(Told):
    """A role's colour as it is, and `seen` as the chosen eyes see it."""

    role: str
    label: str
    colour: str
    seen: str


class PartingOut(Told):
    """The least change that parts two colours."""

    role: str
    label: str
    value: str


class AlikeOut(Told):
    """Two colours that mean different things and look alike; `where` is what both stand on, "" for marks."""

    one: AlikeSideOut
    other: AlikeSideOut
    where: str
    change: PartingOut | None


class EyesOut(Told):
    """How pages look to some eyes: a matrix for linear sRGB, row by row with what is added; a blur in pixels."""

    matrix: list[float]
    blur: float
    alike: list[AlikeOut]


class ComfortOut(Told):
    """A note on comfort: why in a sentence, its colours, where; what to try, and where it is to be seen."""

    kind: NoteKind
    says: str
    text: str
    ground: str
    where: str
    change: PartingOut | None
    seen: SeenOut | None
    sample: str


class NamedOut(Told):
    """A region: its key and what it is called."""

    key: str
    label: str


class TextOut(Told):
    """A text as it is worst among the widths and states asked for, which are named where it is so.

    `opened` is what has to be opened for it to be there.
    """

    page: str
    path: str
    opened: str
    text: str
    kind: TextKind
    section: str
    part: str
    size_px: float
    weight: int
    is_large: bool
    colour: str
    background: str
    spread: list[str] | None
    ratio: float | None
    required: float | None
    verdict: SaidOf
    why: str
    states: list[str]
    widths: list[int]


class TextsOut(Told):
    """A part of the list; `total` counts all that are as wanted, `counts` by verdict whatever verdict is wanted."""

    base: RevisionName
    total: int
    counts: dict[str, int]
    texts: list[TextOut]
    sections: list[NamedOut]
    parts: list[NamedOut]
    widths: list[int]

"""What a project archive says of a site: `project.json`, and where each content that it names lies in the archive.

project.json             this document
site/PATH                the site's files as they came in
backdrops/NAME.webp      pictures for backdrops
studies/N/REVISION.json  each revision of the N-th study, a study document (format 3)
layouts/SHA256.json      what was measured of a page at a width
content/SHA256           pages as their scripts made them; files of releases that are none of the site's own
"""

from __future__ import annotations

from typing import Annotated, Final, Literal

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field

KIND: Final = "glaucon-project"
FORMAT: Final = 1
MOST_REVISIONS, MOST_RELEASES, MOST_STUDIES = 20_000, 500, 300

Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
FilePath = Annotated[str, Field(min_length=1, max_length=400)]
Number = Annotated[int, Field(ge=1, le=10_000_000)]
Count = Annotated[int, Field(ge=0, le=100_000_000)]
Line = Annotated[str, Field(max_length=2000)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class KeptFile(_Part):
    """A file: where it is, and the SHA-256 of what it holds."""

    path: FilePath
    sha256: Digest


class KeptSiteFile(KeptFile):
    """A file of the site; `stood` is what a page's scripts made of it, as HTML, if it is read by that."""

    stood: Digest | None = None


class KeptPicture(_Part):
    """A picture that the owner gave for backdrops."""

    path: Annotated[str, Field(pattern=r"^backdrops/[^/\\]{1,100}\.webp$")]
    label: Annotated[str, Field(min_length=1, max_length=80)]
    sha256: Digest


class KeptLayout(_Part):
    """What was measured of a page at a width in CSS pixels."""

    page: FilePath
    width: Annotated[int, Field(ge=100, le=10_000)]
    sha256: Digest


class KeptRevision(_Part):
    """One revision of a study; `base` is the number of the revision it was made from."""

    number: Number
    base: Number | None
    what: Annotated[str, Field(max_length=160)]
    touches: Annotated[tuple[Line, ...], Field(max_length=20_000)]
    made: AwareDatetime
    sha256: Digest


class KeptStudy(_Part):
    """A study with all its states; `current` is the one its owner stands on."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    is_open: bool
    deleted: AwareDatetime | None
    current: Number
    revisions: Annotated[tuple[KeptRevision, ...], Field(min_length=1, max_length=MOST_REVISIONS)]


class RevisionAt(_Part):
    """A revision: the study by its place among the studies, from 1, and the revision's number."""

    study: Number
    number: Number


class KeptWaived(_Part):
    """A text that went live hard to read, with its owner's word why."""

    key: Line
    sample: Line
    where: Line
    text: Line
    background: Line
    ratio: float | None
    required: float | None
    places: Count
    why: Line


class KeptRelease(_Part):
    """A release; number 0 is the site as it came in and has no revision."""

    number: Count
    revision: RevisionAt | None
    is_live: bool
    made: AwareDatetime
    live_since: AwareDatetime | None
    due: AwareDatetime | None
    name: Annotated[str, Field(max_length=80)]
    stylesheet: Annotated[str, Field(max_length=80)]
    statement: Annotated[str, Field(max_length=400)]
    texts: Count
    hard: Count
    unsure: Count
    let_through: Annotated[tuple[KeptWaived, ...], Field(max_length=5000)]
    files: Annotated[tuple[KeptFile, ...], Field(max_length=10_000)]


class KeptDownload(_Part):
    """What the owner took home last."""

    revision: RevisionAt
    made: AwareDatetime


class Project(_Part):
    """A site with everything."""

    kind: Literal["glaucon-project"]
    format: Literal[1]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    origin: Annotated[str, Field(max_length=300)]
    came_by: Line
    hosted_at: Line
    most_pages: Annotated[int, Field(ge=0, le=100_000)]
    brought_in: AwareDatetime
    files: Annotated[tuple[KeptSiteFile, ...], Field(min_length=1, max_length=10_000)]
    pictures: Annotated[tuple[KeptPicture, ...], Field(max_length=200)]
    layouts: Annotated[tuple[KeptLayout, ...], Field(max_length=20_000)]
    studies: Annotated[tuple[KeptStudy, ...], Field(min_length=1, max_length=MOST_STUDIES)]
    releases: Annotated[tuple[KeptRelease, ...], Field(max_length=MOST_RELEASES)]
    download: KeptDownload | None

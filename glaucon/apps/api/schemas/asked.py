"""What every request is made of: fields that are known and no others; the revision that it was worked out from."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.services import Base, base_of


class Asked(BaseModel):
    """A request's body or query; a field that nobody knows is refused."""

    model_config = ConfigDict(extra="forbid")


class RevisionName(Asked):
    """A revision: the number of its study, and its number in that."""

    study: Annotated[int, Field(ge=0)]
    revision: Annotated[int, Field(ge=0)]

    @classmethod
    def of(cls, revision: Revision) -> RevisionName:
        """Return how a revision is named."""
        return cls(**base_of(revision)._asdict())

    @property
    def named(self) -> Base:
        """Return it as services take it."""
        return Base(self.study, self.revision)


class BaseIn(Asked):
    """The revision the writer has seen."""

    base: RevisionName

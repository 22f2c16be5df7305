"""What is asked of the two routes of the job: acts to be done, and searches."""

from __future__ import annotations

from typing import Annotated, Union, cast

from pydantic import Field, RootModel, create_model

from glaucon.apps.api.schemas.asked import BaseIn, RevisionName
from glaucon.core.acts.act import Search
from glaucon.core.acts.any_act import Acts, AnyAct
from glaucon.core.acts.any_search import SEARCHES, AnyAnswer
from glaucon.core.study.ties import RoleId


class ActsIn(BaseIn):
    """Acts to be done one after the other; they are one step of undo."""

    acts: Acts


class DraftIn(BaseIn):
    """Acts that a hand has not let go of yet, to be read with; and the role whose pairs are wanted."""

    acts: Annotated[tuple[AnyAct, ...], Field(max_length=400)] = ()
    role: RoleId | None = None


# each search with the revision it is about beside its own fields
_ASKED = tuple(create_model(f"{one.__name__}In", __base__=one, base=(RevisionName, ...)) for one in SEARCHES.values())


_AnyAsked = Union[_ASKED]  # type: ignore[valid-type]  # noqa: UP007


class SearchIn(RootModel[Annotated[_AnyAsked, Field(discriminator="search")]]):
    """A search, known by its name."""

    @property
    def question(self) -> Search:
        """Return what is asked."""
        return cast(Search, self.root)

    @property
    def base(self) -> RevisionName:
        """Return the revision it is about."""
        return cast(RevisionName, self.root.base)  # type: ignore[attr-defined]


class AnswerOut(RootModel[AnyAnswer]):
    """What a search has found, known by the search's name."""

"""What an act and a search are."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.colour.value import read_colour
from glaucon.core.study.differences import touched
from glaucon.core.study.study import Study

May = Literal["edit", "look"]
# How much work it is: milliseconds; many readings of the site; one page surveyed anew; or seconds.
Effort = Literal["light", "many", "page", "heavy"]
ColourText = Annotated[str, Field(max_length=200)]
TokenKey = Annotated[str, Field(max_length=500)]
PagePath = Annotated[str, Field(max_length=400)]
_MOST_SECONDS: dict[Effort, float] = {"light": 0.6, "many": 5.0, "page": 5.0, "heavy": 30.0}


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, arbitrary_types_allowed=True)

    effort: ClassVar[Effort] = "light"
    may: ClassVar[May] = "edit"

    @classmethod
    def name(cls) -> str:
        """Return what it is called in documents: the one value of its first field."""
        field = next(iter(cls.model_fields.values()))
        return str(field.annotation.__args__[0])  # type: ignore[union-attr]

    @classmethod
    def says(cls) -> str:
        """Return what it does in a sentence: the first line of its docstring."""
        return (cls.__doc__ or "").strip().splitlines()[0]


class Act(_Document, ABC):
    """One thing that a person does to a study."""

    @abstractmethod
    def apply(self, site: SiteAtHand, study: Study) -> Study:
        """Return the study after it. Raises: GlauconError: it cannot be done to this study on this site."""

    @abstractmethod
    def label(self, before: Study, after: Study) -> str:
        """Return the act's name in the history, such as “Link to #0b5c7a”, from the study before and after it."""

    def get_ready(self, site: SiteAtHand, after: Study) -> None:
        """Make what has to be there before the study is kept: files that it names."""

    def touches(self, before: Study, after: Study) -> frozenset[str]:
        """Return the keys of what it changed: "role:link", "place:…", "css"; see `differences`."""
        return touched(before, after)


class Search(_Document, ABC):
    """A question about what would help; nothing is changed by it. Its answer is a document too."""

    may: ClassVar[May] = "look"

    @classmethod
    def seconds(cls) -> float:
        """Return the processor time it may take at most, in seconds."""
        return _MOST_SECONDS[cls.effort]

    @abstractmethod
    def find(self, site: SiteAtHand, study: Study) -> Any:
        """Return the answer. Raises: GlauconError: there is none."""


class Answer(BaseModel):
    """What a search has found; its `search` field says which."""

    model_config = ConfigDict(extra="forbid")


def as_hex(text: str) -> str:
    """Return a colour as hex. Raises: ColourError: it is none."""
    return read_colour(text).hex()

"""Places that are named in a question: a page, a section, a part."""

from __future__ import annotations

from pydantic import ValidationError

from glaucon.apps.api.schemas.study import WhereIn
from glaucon.apps.errors import Refused
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.scopes import Where


def place_of(place: WhereIn) -> Where:
    """Return a place as it is named. Raises: Refused: 422 where it names nothing, or two things at once."""
    try:
        return Where(**place.dict())
    except ValidationError as error:
        said = str(error.errors()[0]["msg"]).removeprefix("Value error, ")
        raise Refused(422, "no-place", f"That is no place: {said}. Look at the map again.") from error


def hold_to_the_site(known: KnownSite, place: Where) -> None:
    """Hold a place to what the site has. Raises: Refused: 422 where it is on nothing."""
    if place.page is not None and place.page not in known.survey.pages:
        raise Refused(422, "no-page", f"The page “{place.page[:80]}” is not there any more. Look at the map again.")
    region = next((one for one in known.survey.regions if one.key == place.region), None)
    if place.region is not None and (region is None or (place.page is not None and place.page not in region.pages)):
        raise Refused(422, "no-section", f"“{place.region[:80]}” is not there any more. Look at the map again.")

"""All acts, by name. One that is not listed here does not exist for anybody outside; see `act` for what one is."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, get_args

from pydantic import Field, TypeAdapter, ValidationError

from glaucon.core.acts.act import Act
from glaucon.core.acts.at_hand import SiteAtHand
from glaucon.core.acts.behind.bring_back_mark import BringBackMark
from glaucon.core.acts.behind.fade import Fade
from glaucon.core.acts.behind.lay_backdrop import LayBackdrop
from glaucon.core.acts.behind.mend_beyond import MendBeyond
from glaucon.core.acts.behind.waive import Waive
from glaucon.core.acts.behind.write_css import WriteCss
from glaucon.core.acts.palette.add_role import AddRole
from glaucon.core.acts.palette.lock_role import LockRole
from glaucon.core.acts.palette.move_colours import MoveColours
from glaucon.core.acts.palette.order_roles import OrderRoles
from glaucon.core.acts.palette.remove_role import RemoveRole
from glaucon.core.acts.palette.rename_role import RenameRole
from glaucon.core.acts.palette.set_aim import SetAim
from glaucon.core.acts.palette.set_colour import SetColour
from glaucon.core.acts.palette.swap import Swap
from glaucon.core.acts.palette.tie_role import TieRole
from glaucon.core.acts.palette.use_palette import UsePalette
from glaucon.core.acts.places.add_coat import AddCoat
from glaucon.core.acts.places.delete_coat import DeleteCoat
from glaucon.core.acts.places.join_sections import JoinSections
from glaucon.core.acts.places.rename_coat import RenameCoat
from glaucon.core.acts.places.wear import Wear
from glaucon.core.acts.places.wear_like import WearLike
from glaucon.core.acts.whole.fix import Fix
from glaucon.core.acts.whole.take_back import TakeBack
from glaucon.core.acts.whole.take_palette import TakePalette
from glaucon.core.acts.whole.wear_palette import WearPalette
from glaucon.core.errors import StudyError
from glaucon.core.study.study import Study, read_study
from glaucon.core.validation import told_error

MOST_ACTS = 400
AnyAct = Annotated[
    SetColour | AddRole | RenameRole | RemoveRole | OrderRoles | TieRole | LockRole | SetAim | MoveColours
    | Swap | UsePalette | Wear | WearLike | JoinSections | AddCoat | RenameCoat | DeleteCoat | LayBackdrop
    | WriteCss | BringBackMark | MendBeyond | Waive | Fade | Fix | WearPalette | TakePalette
    | TakeBack,
    Field(discriminator="act"),
]  # fmt: skip
Acts = Annotated[tuple[AnyAct, ...], Field(min_length=1, max_length=MOST_ACTS)]
ACTS: dict[str, type[Act]] = {one.name(): one for one in get_args(get_args(AnyAct)[0])}


def read_acts(document: object) -> tuple[Act, ...]:
    """Return the acts of a JSON document, a list. Raises: StudyError: one sentence saying what is wrong with it."""
    try:
        return TypeAdapter[tuple[Act, ...]](Acts).validate_python(document)
    except ValidationError as error:
        raise StudyError(f"These acts cannot be done: {told_error(error)}.") from error


def applied(site: SiteAtHand, study: Study, acts: Sequence[Act]) -> Study:
    """Return a study after some acts, one after the other, held to the schema.

    Raises: GlauconError: one of them cannot be done to this study on this site.
    """
    after = study
    for act in acts:
        after = act.apply(site, after)
    return read_study(after.model_dump(mode="json"))


def label_of(acts: Sequence[Act], before: Study, after: Study) -> str:
    """Return what some acts done in one step are called: a few by name, more by their number."""
    labels = list(dict.fromkeys(act.label(before, after) for act in acts))
    return ", ".join(labels) if len(labels) <= 3 else f"{labels[0]} and {len(labels) - 1} more changes"

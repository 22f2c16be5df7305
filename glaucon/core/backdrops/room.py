"""The room a backdrop has on a measured page: whether it is large enough to show it, where a picture leaves it bare."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from glaucon.core.backdrops.pictures import WIDE
from glaucon.core.cascade.tree import Document
from glaucon.core.layout.document import Box, PageLayout
from glaucon.core.layout.finding import only_box, paths_found
from glaucon.core.study.backdrops import Backdrop, Picture

Side = Literal["top", "right", "foot", "left"]
_SMALL_PX = 40
_SEEN_PX = 1.0


@dataclass(frozen=True, slots=True)
class Room:
    """The box a backdrop lies in and the part of the page in view, width and height in CSS pixels."""

    box: tuple[float, float]
    screen: tuple[float, float]

    @property
    def is_small(self) -> bool:
        """Return whether hardly anything of a backdrop shows there."""
        return min(self.box) < _SMALL_PX


def room_of(layout: PageLayout, document: Document, selector: str) -> Room | None:
    """Return the room of what a selector finds, "" for the page; None where it is not measured or is several."""
    whole = Box(0.0, 0.0, float(layout.width), layout.height)
    box = only_box(layout, paths_found(document, selector)) if selector else whole
    return Room((box.width, box.height), (float(layout.width), layout.viewport)) if box is not None else None


def bare_sides(picture: Picture, own: tuple[int, int], room: Room) -> list[Side]:
    """Return the sides at which a picture of some pixels leaves its room bare."""
    if picture.fit not in ("contain", "natural"):
        return []
    area = room.screen if picture.fixed else room.box
    scale = min(area[0] / own[0], area[1] / own[1])
    if picture.fit == "natural":
        scale = min(own[0], WIDE) * picture.scale / own[0]
    free = area[0] - own[0] * scale, area[1] - own[1] * scale
    shares: dict[Side, float] = {
        "top": free[1] * picture.at[1], "right": free[0] * (1 - picture.at[0]),
        "foot": free[1] * (1 - picture.at[1]), "left": free[0] * picture.at[0],
    }  # fmt: skip
    return [side for side, share in shares.items() if share > _SEEN_PX]


def bare_of(backdrop: Backdrop, own: dict[str, tuple[int, int]], room: Room) -> list[Side]:
    """Return the sides that no picture or gradient of a backdrop covers, where its topmost picture leaves them bare."""
    shown = [layer for layer in backdrop.layers if not layer.off]
    picture = next((layer.picture for layer in reversed(shown) if layer.picture is not None), None)
    if picture is None or picture.file not in own or any(layer.gradient is not None for layer in shown):
        return []
    return bare_sides(picture, own[picture.file], room)

"""What lies behind the cells of grids and tables: boxes in the same cell of a grid, columns of a table."""

from __future__ import annotations

from dataclasses import replace

from glaucon.core.cascade.computed import Style
from glaucon.core.cascade.tree import Element, whole_number
from glaucon.core.survey.boxes import grid_cell, traits_of, z_of
from glaucon.core.survey.layers import faded
from glaucon.core.survey.model import Layer, Stack
from glaucon.core.survey.texts import has_words
from glaucon.core.survey.walk.covers import NOWHERE, Covers
from glaucon.core.survey.walk.frame import Cover, Frame
from glaucon.core.survey.walk.styles import PageStyles

_MOST_IN_CELL = 16


# by cell: when a box is painted (see `_painted_at`), and the box
_InCells = dict[tuple[str, ...], list[tuple[tuple[int, bool, int], Cover]]]


class Cells:
    """Finds layers behind grid items and table cells: boxes in the same grid cell, backgrounds of columns."""

    def __init__(self, page: PageStyles, covers: Covers) -> None:
        self._page, self._covers = page, covers
        self._cells: dict[int, _InCells] = {}
        self.column_layers: dict[int, tuple[Layer, ...]] = {}  # of a cell: what its column paints

    def in_cell(self, element: Element, own: Style, parent: Style, frame: Frame) -> Frame:
        """Return the frame with the textless boxes that share a grid item's cell: below it or above it."""
        assert element.parent is not None
        if element.parent.order not in self._cells:  # once for all items: there may be thousands
            self._cells[element.parent.order] = self._cells_of(element.parent, parent, frame)
        stack, covers = frame.stack, frame.covers
        for at, box in self._cells[element.parent.order].get(grid_cell(own), ()):
            if box.order == element.order:
                continue
            if at < _painted_at(element, own):
                stack = (*stack, *box.layers)
            else:
                covers = (*covers, box)
        return replace(frame, stack=stack, covers=covers)

    def _cells_of(self, grid: Element, parent: Style, frame: Frame) -> _InCells:
        """Return the wordless boxes in the cells of a grid that paint something, and when they are painted."""
        cells: _InCells = {}
        for child in grid.children:
            if has_words(child):
                continue
            style = self._page.style(child, parent, frame.containers)
            traits, cell = traits_of(style), grid_cell(style)
            if not cell or not traits.is_shown or traits.is_out_of_flow or self._page.is_gone(style):
                continue
            layers = faded(self._covers.laid_under(child, style, frame, depth=0), style.values.get("opacity", 1.0))
            some = cells.setdefault(cell, [])
            if layers and len(some) < _MOST_IN_CELL:
                some.append((_painted_at(child, style), Cover(layers, z_of(style), child.order)))
        return cells

    def columns(
        self, element: Element, style: Style, depth: int, frame: Frame
    ) -> tuple[int, tuple[tuple[Layer, ...], ...]] | None:
        """Return the backgrounds of a table's columns, which lie between its own and its rows'."""
        if element.tag != "table":
            return frame.columns if element.tag in ("tbody", "thead", "tfoot", "tr") else None
        columns: list[tuple[Layer, ...]] = []
        for child in element.children:
            if child.tag not in ("colgroup", "col"):
                continue
            outer = self._page.style(child, style, frame.containers)
            below = self._page.background(child, outer, NOWHERE)
            for one in [c for c in child.children if c.tag == "col"] or [child]:
                own = () if one is child else self._page.style(one, outer, frame.containers)
                layers = (*below, *self._page.background(child, own, NOWHERE)) if isinstance(own, Style) else below
                span = one.attributes.get("span", "1")
                columns.extend([layers] * (min(whole_number(span) or 1, 60)))
        return (depth, tuple(columns)) if any(columns) else None

    def on_column(self, cell: Element, frame: Frame) -> Stack:
        assert frame.columns is not None
        depth, columns = frame.columns
        column = 0
        for other in cell.parent.children if cell.parent else ():
            if other is cell:
                break
            span = other.attributes.get("colspan", "1")
            column += min(whole_number(span) or 1, 1000)
        layers = columns[column] if column < len(columns) else ()
        if layers and self._page.laid is not None:
            self.column_layers[cell.order] = layers
        return (*frame.stack[:depth], *layers, *frame.stack[depth:])


def _painted_at(item: Element, style: Style) -> tuple[int, bool, int]:
    """Return when a grid item is painted among the others: by z-index, what is raised after what is not, by order."""
    traits = traits_of(style)
    return z_of(style), traits.is_positioned or traits.makes_context, item.order

"""Container queries, answered by width where the container's width is known (CSS Containment Level 3, section 6)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from glaucon.core.cascade.media import Viewport, media_matches


@dataclass(frozen=True, slots=True)
class Container:
    """An ancestor that may be asked: its names, and its content width in pixels where that is known."""

    names: frozenset[str]
    width: float | None


Containers = tuple[Container, ...]  # outermost first


@dataclass(frozen=True, slots=True, eq=False)
class ContainerQuery:
    """The prelude of a `@container` rule."""

    name: str
    prelude: tuple[Any, ...]

    @classmethod
    def read(cls, prelude: list[Any]) -> ContainerQuery:
        """Return the query of a prelude."""
        words = [n for n in prelude if n.type not in ("whitespace", "comment")]
        named = bool(words) and words[0].type == "ident" and words[0].lower_value not in ("not", "none", "and", "or")
        return cls(words[0].value if named else "", tuple(words[1:] if named else words))


def container_for(query: ContainerQuery, containers: Containers) -> Container | None:
    """Return the nearest container that a query speaks of."""
    return next((c for c in reversed(containers) if not query.name or query.name in c.names), None)


def holds_in(query: ContainerQuery, containers: Containers) -> bool:
    """Return whether a query holds; without a container, or where its width is not known, it does not."""
    container = container_for(query, containers)
    if container is None or container.width is None:
        return False
    return media_matches(list(query.prelude), Viewport(int(container.width)))

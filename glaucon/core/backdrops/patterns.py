"""Twenty-four patterns, each a small tile drawn in one colour: tiles, weaves, waves and grains."""

from __future__ import annotations

from dataclasses import dataclass

from glaucon.core.colour.value import Colour
from glaucon.core.errors import StudyError


@dataclass(frozen=True, slots=True)
class Tile:
    """A tile of some pixels; `lines` are drawn as strokes, `shapes` are filled."""

    family: str
    width: int
    height: int
    lines: str = ""
    shapes: str = ""
    thick: float = 2


def _dots(*places: tuple[float, float, float]) -> str:
    return "".join(f'<circle cx="{x:g}" cy="{y:g}" r="{r:g}"/>' for x, y, r in places)


PATTERNS: dict[str, Tile] = {
    # tiles
    "bricks": Tile("tiles", 48, 32, "M0 1H48M0 17H48M12 1V17M36 17V33"),
    "planks": Tile("tiles", 40, 96, "M1 0V96M21 0V96M1 30H21M21 78H41"),
    "scales": Tile("tiles", 40, 40, "M0 20A20 20 0 0 0 40 20M-20 0A20 20 0 0 0 20 0A20 20 0 0 0 60 0M-20 40A20 20 0 0 0 20 40A20 20 0 0 0 60 40"),
    "diamonds": Tile("tiles", 32, 48, shapes='<path d="M16 6L28 24L16 42L4 24Z"/>'),
    "checks": Tile("tiles", 40, 40, shapes='<path d="M0 0H20V20H0ZM20 20H40V40H20Z"/>'),
    "hexagons": Tile("tiles", 48, 84, "M24 0L48 14V42L24 56L0 42V14ZM24 56V84"),
    # weaves
    "rope": Tile("weaves", 24, 24, "M-6 18L18 -6M-6 30L30 -6M6 30L30 6", thick=3),
    "basket": Tile("weaves", 48, 48, "M2 4H22M2 12H22M2 20H22M28 2V22M36 2V22M44 2V22M26 28H46M26 36H46M26 44H46M4 26V46M12 26V46M20 26V46"),
    "canvas": Tile("weaves", 12, 12, "M0 3H6M6 9H12M3 6V12M9 0V6", thick=1),
    "herringbone": Tile("weaves", 32, 16, "M0 0L16 16L32 0M0 8L8 16M24 16L32 8M8 0L16 8L24 0"),
    "knots": Tile("weaves", 48, 48, "M12 24A12 12 0 0 1 36 24A12 12 0 0 1 12 24M24 0V12M24 36V48M0 24H12M36 24H48"),
    "ladder": Tile("weaves", 28, 20, "M4 0V20M24 0V20M4 10H24"),
    # waves
    "ripples": Tile("waves", 48, 24, "M0 12C12 0 12 0 24 12S36 24 48 12"),
    "swell": Tile("waves", 96, 40, "M0 20C24 -4 24 -4 48 20S72 44 96 20M0 40C24 16 24 16 48 40S72 64 96 40M0 0C24 -24 24 -24 48 0S72 24 96 0"),
    "reeds": Tile("waves", 36, 72, "M9 72C4 48 14 24 9 0M27 72C32 48 22 24 27 0M18 72V40"),
    "current": Tile("waves", 64, 32, "M0 8H18C26 8 26 16 34 16H50C58 16 58 8 64 8M0 24H10C16 24 16 30 22 30H46C54 30 54 24 64 24"),
    "wake": Tile("waves", 48, 16, "M-6 -4L24 16L54 -4M-6 12L24 32L54 12M-6 -20L24 0L54 -20"),
    "arches": Tile("waves", 40, 28, "M0 28A20 20 0 0 1 40 28M8 28A12 12 0 0 1 32 28"),
    # grains
    "sand": Tile("grains", 32, 32, shapes=_dots((4, 6, 1), (17, 3, 1.2), (27, 12, 0.9), (10, 17, 1.3), (22, 22, 1), (5, 27, 1.1), (29, 29, 0.8))),
    "pebbles": Tile("grains", 64, 64, shapes='<ellipse cx="14" cy="16" rx="10" ry="7"/><ellipse cx="44" cy="12" rx="8" ry="6"/><ellipse cx="30" cy="38" rx="11" ry="8"/><ellipse cx="54" cy="46" rx="7" ry="9"/><ellipse cx="11" cy="52" rx="7" ry="6"/>'),
    "rain": Tile("grains", 40, 48, "M6 4L2 16M26 10L22 22M16 30L12 42M36 34L32 46"),
    "stars": Tile("grains", 60, 60, shapes='<path d="M15 8L17 14L23 16L17 18L15 24L13 18L7 16L13 14ZM44 34L46 40L52 42L46 44L44 50L42 44L36 42L42 40Z"/>'),
    "dots": Tile("grains", 24, 24, shapes=_dots((6, 6, 3), (18, 18, 3))),
    "crosshatch": Tile("grains", 16, 16, "M0 0L16 16M16 0L0 16", thick=1),
}  # fmt: skip


def pattern_of(name: str) -> Tile:
    """Return a pattern. Raises: StudyError: there is none of that name."""
    if name not in PATTERNS:
        raise StudyError(f"There is no pattern “{name[:40]}”. Choose one of {', '.join(PATTERNS)}.")
    return PATTERNS[name]


def drawn(name: str, colour: Colour, scale: float = 1, turn: float = 0) -> bytes:
    """Return a pattern as an SVG picture: one tile, or, turned, a picture without a size that fills what it is put on.

    Raises: StudyError: there is none of that name.
    """
    tile = pattern_of(name)
    width, height = tile.width * scale, tile.height * scale
    paint = colour.hex()
    inner = f'<g fill="{paint}">{tile.shapes}</g>' if tile.shapes else ""
    if tile.lines:
        inner += f'<path d="{tile.lines}" fill="none" stroke="{paint}" stroke-width="{tile.thick:g}"/>'
    start = '<svg xmlns="http://www.w3.org/2000/svg"'
    box = f'viewBox="0 0 {tile.width} {tile.height}"'
    if not turn % 360:
        return f'{start} width="{width:g}" height="{height:g}" {box}>{inner}</svg>'.encode()
    return (
        f'{start}><defs><pattern id="p" width="{width:g}" height="{height:g}" {box} patternUnits="userSpaceOnUse" '
        f'patternTransform="rotate({turn:g})">{inner}</pattern></defs>'
        '<rect width="100%" height="100%" fill="url(#p)"/></svg>'
    ).encode()

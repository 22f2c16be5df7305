"""What the commands and their options are. Nothing is imported here that takes time: `--help` is there at once."""

from __future__ import annotations

import argparse
import sys
from importlib import import_module
from pathlib import Path

from glaucon.core.errors import GlauconError

NOTHING_FAILS, SOMETHING_FAILS, COULD_NOT = 0, 1, 2
STATES = ("rest", "hover", "focus", "active", "visited")
_WAYS = ("site", "addon", "variables", "tokens")


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        print(f"glaucon: {message}; see `{self.prog} --help`", file=sys.stderr)
        raise SystemExit(COULD_NOT)


def main(arguments: list[str] | None = None) -> int:
    """Run the command line and return its exit status."""
    options = _parser().parse_args(arguments)
    try:
        status: int = import_module(f"glaucon.cli.{options.command}").run(options)
    except GlauconError as error:
        print(f"glaucon: {error}", file=sys.stderr)
        return COULD_NOT
    except BrokenPipeError:
        return COULD_NOT
    return status


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="glaucon", description="Check and change a site's colours, so that every text is readable.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    _audit(commands.add_parser("audit", help="check every text of a site: can it be read?"))
    _colours(commands.add_parser("colours", help="show the colours a site uses and the palette proposed for it"))
    _sections(commands.add_parser("sections", help="show the sections of a site's pages and the parts in them"))
    _recolour(commands.add_parser("recolour", help="write the site with other colours"))
    _mend(commands.add_parser("mend", help="write the site with every text readable, changed as little as possible"))
    _palette(commands.add_parser("palette", help="make whole readable palettes for this site from a few colours"))
    _act(commands.add_parser("act", help="do acts to a study, as the application does them"))
    _measure(commands.add_parser("measure", help="measure where things lie on the pages, in a headless Chromium"))
    return parser


def _audit(audit: argparse.ArgumentParser) -> None:
    _takes_site(audit, ("table", "json", "csv", "html", "earl"))
    audit.add_argument("--width", type=_width, default=1280, metavar="PX", help="viewport width (default 1280)")
    audit.add_argument("--state", choices=STATES, default="rest", help="the state every element is in (default rest)")
    audit.add_argument("--level", choices=("AA", "AAA"), default="AA", help="the aim (default AA)")
    audit.add_argument("--scheme", choices=("light", "dark"), default="light", help="prefers-color-scheme")
    audit.add_argument("--beyond", action="store_true", help="also fields, icons, focus and links among text")
    _may_take_study(audit)
    _may_take_layout(audit)


def _colours(found: argparse.ArgumentParser) -> None:
    _takes_site(found)
    found.add_argument("--out-study", type=Path, metavar="FILE", help="where the proposed study goes, as JSON")
    _may_take_layout(found)


def _sections(shown: argparse.ArgumentParser) -> None:
    _takes_site(shown)
    _may_take_study(shown)
    _may_take_layout(shown)


def _recolour(recolour: argparse.ArgumentParser) -> None:
    _takes_site(recolour)
    recolour.add_argument("--set", action="append", default=[], metavar="ROLE=VALUE", dest="values")
    _may_take_study(recolour)
    recolour.add_argument("--as", choices=_WAYS, default="site", dest="way", help="what is written (default site)")
    recolour.add_argument("--out", type=Path, required=True, metavar="FILE")
    _may_take_layout(recolour)


def _mend(mend: argparse.ArgumentParser) -> None:
    _takes_site(mend)
    mend.add_argument("--lock", action="append", default=[], metavar="ROLE", dest="locks", help="a colour to keep")
    mend.add_argument("--level", choices=("AA", "AAA"), default="AA", help="the aim (default AA)")
    mend.add_argument("--states", type=_states, metavar="STATE,…", help="the states looked at (default all)")
    mend.add_argument(
        "--take", default="none", metavar="all|none|NAME,…",
        help="what is offered beside changes of colour (default none): rules, veils, less fading, by their names",
    )  # fmt: skip
    _may_take_study(mend)
    mend.add_argument("--out", type=Path, required=True, metavar="FILE", help="where the site goes, as .zip")
    mend.add_argument("--out-study", type=Path, metavar="FILE", help="where the study goes, as JSON")
    _may_take_layout(mend)


def _palette(palette: argparse.ArgumentParser) -> None:
    _takes_site(palette)
    source = palette.add_mutually_exclusive_group(required=True)
    source.add_argument("--from", nargs="+", metavar="COLOUR", dest="colours", help="one to five colours")
    source.add_argument("--picture", type=Path, metavar="FILE", help="a picture to take them from")
    palette.add_argument("--directions", type=int, metavar="N", help="how many at most (default all)")
    palette.add_argument("--out", type=Path, metavar="FILE", help="where the studies go, as a JSON list")
    _may_take_layout(palette)


def _act(act: argparse.ArgumentParser) -> None:
    act.add_argument("path", type=Path, metavar="PATH", nargs="?", help="a folder or a .zip of a static website")
    act.add_argument("--study", type=Path, metavar="FILE", help="the study they are done to")
    act.add_argument("--acts", type=Path, metavar="FILE", help="the acts, as a JSON list")
    act.add_argument("--out-study", type=Path, metavar="FILE", help="where the study goes, as JSON")
    act.add_argument("--list", action="store_true", help="show which acts and searches there are")
    act.add_argument("--format", choices=("table", "json"), default="table", dest="form")
    _may_take_layout(act)


def _measure(measure: argparse.ArgumentParser) -> None:
    measure.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    measure.add_argument(
        "--width", type=_width, action="append", metavar="PX", dest="widths",
        help="viewport width, several times for several (default 1280, 768 and 390)",
    )  # fmt: skip
    measure.add_argument(
        "--scripts", action="store_true",
        help="run the site's own scripts once and keep what then stands on each page: a snapshot beside the layout",
    )  # fmt: skip
    measure.add_argument("--out", type=Path, required=True, metavar="FILE", help="where the layout goes, as JSON")


def _takes_site(command: argparse.ArgumentParser, forms: tuple[str, ...] = ("table", "json")) -> None:
    command.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    command.add_argument("--format", choices=forms, default="table", dest="form")


def _may_take_study(command: argparse.ArgumentParser) -> None:
    command.add_argument("--study", type=Path, metavar="FILE", help="a study instead of the proposed palette")


def _may_take_layout(command: argparse.ArgumentParser) -> None:
    command.add_argument("--layout", type=Path, metavar="FILE", help="where things lie, as `glaucon measure` found")


def _width(text: str) -> int:
    if not text.isdigit() or not 100 <= int(text) <= 10_000:
        raise argparse.ArgumentTypeError(f"“{text}” is not a width. Give whole pixels from 100 to 10000")
    return int(text)


def _states(text: str) -> list[str]:
    states = [part.strip() for part in text.split(",") if part.strip()]
    unknown = [state for state in states if state not in STATES]
    if unknown or not states:
        raise argparse.ArgumentTypeError(f"“{text}” is not a list of states. Use some of {', '.join(STATES)}")
    return states

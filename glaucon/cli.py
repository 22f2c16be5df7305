"""The command line: `glaucon audit PATH`, for people who never open the web application."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from glaucon.core.cascade.selectors import STATES
from glaucon.core.errors import GlauconError
from glaucon.core.exchange.audit import as_csv, as_json, as_table, audit_site
from glaucon.core.survey.site import read_site

NOTHING_FAILS, SOMETHING_FAILS, COULD_NOT = 0, 1, 2


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        print(f"glaucon: {message}; see `{self.prog} --help`", file=sys.stderr)
        raise SystemExit(COULD_NOT)


def main(arguments: list[str] | None = None) -> int:
    """Run the command line and return its exit status."""
    options = _parser().parse_args(arguments)
    try:
        status: int = options.run(options)
    except GlauconError as error:
        print(f"glaucon: {error}", file=sys.stderr)
        return COULD_NOT
    except BrokenPipeError:
        return COULD_NOT
    return status


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="glaucon", description="A site's colours, checked for reading.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    audit = commands.add_parser("audit", help="every text of a site and whether it can be read")
    audit.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    audit.add_argument("--width", type=_width, default=1280, metavar="PX", help="viewport width (default 1280)")
    audit.add_argument("--state", choices=STATES, default="rest", help="taken for every element (default rest)")
    audit.add_argument("--level", choices=("AA", "AAA"), default="AA", help="the aim (default AA)")
    audit.add_argument("--format", choices=("table", "json", "csv"), default="table", dest="form")
    audit.add_argument("--scheme", choices=("light", "dark"), default="light", help="prefers-color-scheme")
    audit.set_defaults(run=_audit)
    return parser


def _width(text: str) -> int:
    if not text.isdigit() or not 100 <= int(text) <= 10_000:
        raise argparse.ArgumentTypeError(f"“{text}” is no width; give whole pixels from 100 to 10000")
    return int(text)


def _audit(options: argparse.Namespace) -> int:
    site = read_site(options.path)
    report = audit_site(site, options.width, options.state, options.level, options.scheme)
    writer = {"table": as_table, "json": as_json, "csv": as_csv}[options.form]
    sys.stdout.write(writer(report))
    return SOMETHING_FAILS if report["summary"]["fail"] else NOTHING_FAILS


if __name__ == "__main__":
    sys.exit(main())

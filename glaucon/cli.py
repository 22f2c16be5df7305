"""The command line, for people who never open the web application: a developer's build, a nightly check."""

from __future__ import annotations

import argparse
import json
import os
import sys
from pathlib import Path

from glaucon.core.backdrops.pictures import FOLDER
from glaucon.core.cascade.selectors import STATES
from glaucon.core.colour.value import read_colour
from glaucon.core.errors import GlauconError, StudyError
from glaucon.core.exchange import colours, making, mending, sections
from glaucon.core.exchange.audit import as_csv, as_json, as_table, audit_site, audit_study
from glaucon.core.exchange.backdrops import Source, backdrops_of, survey_with, with_least_veils
from glaucon.core.exchange.hand_back import WAYS, HandedBack, hand_back
from glaucon.core.layout.document import Layouts, read_layouts, write_layouts
from glaucon.core.making.making import DIRECTIONS, make_studies
from glaucon.core.making.picture import main_colours, seeds_of
from glaucon.core.mending.fixed import fix_all
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import STANDARD_WIDTHS, survey_site
from glaucon.core.wording import counted, hard_to_read, listed, plural
from glaucon.measuring import measure_site

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
    parser = _Parser(prog="glaucon", description="Check and change a site's colours, so that every text is readable.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    audit = commands.add_parser("audit", help="check every text of a site: can it be read?")
    audit.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    audit.add_argument("--width", type=_width, default=1280, metavar="PX", help="viewport width (default 1280)")
    audit.add_argument("--state", choices=STATES, default="rest", help="the state every element is in (default rest)")
    audit.add_argument("--level", choices=("AA", "AAA"), default="AA", help="the aim (default AA)")
    audit.add_argument("--format", choices=("table", "json", "csv"), default="table", dest="form")
    audit.add_argument("--scheme", choices=("light", "dark"), default="light", help="prefers-color-scheme")
    audit.add_argument("--study", type=Path, metavar="FILE", help="the study to apply")
    _may_take_layout(audit)
    audit.set_defaults(run=_audit)
    found = commands.add_parser("colours", help="show the colours a site uses and the palette proposed for it")
    found.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    found.add_argument("--format", choices=("table", "json"), default="table", dest="form")
    found.add_argument("--out-study", type=Path, metavar="FILE", help="where the proposed study goes, as JSON")
    found.set_defaults(run=_colours)
    shown = commands.add_parser("sections", help="show the sections of a site's pages and the parts in them")
    shown.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    shown.add_argument("--study", type=Path, metavar="FILE", help="the study to apply")
    shown.add_argument("--format", choices=("table", "json"), default="table", dest="form")
    shown.set_defaults(run=_sections)
    recolour = commands.add_parser("recolour", help="write the site with other colours")
    recolour.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    recolour.add_argument("--set", action="append", default=[], metavar="ROLE=VALUE", dest="values")
    recolour.add_argument("--study", type=Path, metavar="FILE", help="a study instead of the proposed palette")
    recolour.add_argument("--as", choices=WAYS, default="site", dest="way", help="what is written (default site)")
    recolour.add_argument("--out", type=Path, required=True, metavar="FILE")
    recolour.add_argument("--format", choices=("table", "json"), default="table", dest="form")
    _may_take_layout(recolour)
    recolour.set_defaults(run=_recolour)
    mend = commands.add_parser("mend", help="write the site with every text readable, changed as little as possible")
    mend.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    mend.add_argument("--lock", action="append", default=[], metavar="ROLE", dest="locks", help="a colour to keep")
    mend.add_argument("--level", choices=("AA", "AAA"), default="AA", help="the aim (default AA)")
    mend.add_argument("--states", type=_states, default=list(STATES), metavar="STATE,…", help="default all")
    mend.add_argument("--out", type=Path, required=True, metavar="FILE", help="where the site goes, as .zip")
    mend.add_argument("--out-study", type=Path, metavar="FILE", help="where the study goes, as JSON")
    mend.add_argument("--format", choices=("table", "json"), default="table", dest="form")
    _may_take_layout(mend)
    mend.set_defaults(run=_mend)
    palette = commands.add_parser("palette", help="make whole readable palettes for this site from a few colours")
    palette.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    source = palette.add_mutually_exclusive_group(required=True)
    source.add_argument("--from", nargs="+", metavar="COLOUR", dest="colours", help="one to five colours")
    source.add_argument("--picture", type=Path, metavar="FILE", help="a picture to take them from")
    palette.add_argument("--directions", type=int, default=len(DIRECTIONS), metavar="N", help="how many at most")
    palette.add_argument("--out", type=Path, metavar="FILE", help="where the studies go, as a JSON list")
    palette.add_argument("--format", choices=("table", "json"), default="table", dest="form")
    _may_take_layout(palette)
    palette.set_defaults(run=_palette)
    measure = commands.add_parser("measure", help="measure where things lie on the pages, in a headless Chromium")
    measure.add_argument("path", type=Path, metavar="PATH", help="a folder or a .zip of a static website")
    measure.add_argument(
        "--width", type=_width, action="append", metavar="PX", dest="widths",
        help="viewport width, several times for several (default 1280, 768 and 390)",
    )  # fmt: skip
    measure.add_argument("--out", type=Path, required=True, metavar="FILE", help="where the layout goes, as JSON")
    measure.set_defaults(run=_measure)
    return parser


def _may_take_layout(command: argparse.ArgumentParser) -> None:
    command.add_argument("--layout", type=Path, metavar="FILE", help="where things lie, as `glaucon measure` found")


def _width(text: str) -> int:
    if not text.isdigit() or not 100 <= int(text) <= 10_000:
        raise argparse.ArgumentTypeError(f"“{text}” is not a width. Give whole pixels from 100 to 10000")
    return int(text)


def _audit(options: argparse.Namespace) -> int:
    site = read_site(options.path)
    study = _read_study(options.study) if options.study is not None else None
    layouts = _layouts(options, options.width)
    context = ContextKey(options.width, options.state, options.scheme)
    if study is not None and study.backdrops:
        pictures, regions = _beside(options.study, site), survey_site(site, [context]).regions
        study = with_least_veils(site, study, regions, pictures, layouts)
        survey = survey_with(site, backdrops_of(study, regions, pictures), [context], layouts)
        report = audit_study(survey, context, options.level, study)
    else:
        report = audit_site(site, options.width, options.state, options.level, options.scheme, study, layouts)
    writer = {"table": as_table, "json": as_json, "csv": as_csv}[options.form]
    sys.stdout.write(writer(report))
    return SOMETHING_FAILS if report["summary"]["fail"] else NOTHING_FAILS


def _colours(options: argparse.Namespace) -> int:
    known = KnownSite(survey_site(read_site(options.path)))
    report = colours.report_of(known)
    if options.out_study is not None:
        _write_out(options.out_study, _document(known.first_study("Proposed")))
    sys.stdout.write(colours.as_json(report) if options.form == "json" else colours.as_table(report))
    return NOTHING_FAILS


def _sections(options: argparse.Namespace) -> int:
    known = KnownSite(survey_site(read_site(options.path)))
    report = sections.report_of(known, _study(options, known))
    sys.stdout.write(sections.as_json(report) if options.form == "json" else sections.as_table(report))
    return NOTHING_FAILS


def _recolour(options: argparse.Namespace) -> int:
    site = read_site(options.path)
    layouts = _layouts(options)
    known = KnownSite(survey_site(site, layouts=layouts))
    study = _study(options, known).with_values(_values(options.values))
    behind = None
    if study.backdrops:
        pictures = _beside(options.study, site)
        study = with_least_veils(site, study, known.survey.regions, pictures, layouts)
        behind = backdrops_of(study, known.survey.regions, pictures)
    handed = hand_back(site, known.survey, study, options.way, backdrops=behind)
    _write_out(options.out, handed.data)
    read = known if behind is None else KnownSite(survey_with(site, behind, None, layouts))
    failing = read.read(study).hard
    _say_recoloured(options, study, handed, failing)
    return SOMETHING_FAILS if failing else NOTHING_FAILS


def _beside(study: Path, site: SiteFiles) -> Source:
    """Return what finds a backdrop's picture: beside the study's file, else among the site's files."""

    def source(path: str) -> bytes | None:
        own = study.parent / path
        is_own = path.startswith(FOLDER) and ".." not in path.split("/") and own.is_file()
        return _read_bytes(own) if is_own else site.files.get(path)

    return source


def _states(text: str) -> list[str]:
    states = [part.strip() for part in text.split(",") if part.strip()]
    unknown = [state for state in states if state not in STATES]
    if unknown or not states:
        raise argparse.ArgumentTypeError(f"“{text}” is not a list of states. Use some of {', '.join(STATES)}")
    return states


_MOST_SECONDS = 8.0  # that fixing searches: somebody waits


def _mend(options: argparse.Namespace) -> int:
    site = read_site(options.path)
    contexts = [ContextKey(width, state) for width in (1280, 390) for state in options.states]
    known = KnownSite(survey_site(site, contexts, _layouts(options)))
    study = known.first_study("Mended").model_copy(update={"aim": options.level})
    found = fix_all(known, study, options.locks, seconds=_MOST_SECONDS)
    fixed, after = found.study, found.after
    report = mending.report(known, found, options.level)
    _write_out(options.out, hand_back(site, known.survey, fixed, "site").data)
    if options.out_study is not None:
        _write_out(options.out_study, _document(fixed))
    sys.stdout.write(mending.as_json(report) if options.form == "json" else mending.as_table(report))
    return SOMETHING_FAILS if after else NOTHING_FAILS


def _palette(options: argparse.Namespace) -> int:
    given = [read_colour(text) for text in options.colours or []] or seeds_of(
        main_colours(_read_bytes(options.picture))
    )
    known = KnownSite(survey_site(read_site(options.path), layouts=_layouts(options)))
    study = known.first_study("Proposed")
    made = make_studies(known, study, given, options.directions)
    if options.out is not None:
        documents = [one.study.model_dump(mode="json") for one in made]
        _write_out(options.out, (json.dumps(documents, indent=1, ensure_ascii=False) + "\n").encode())
    sys.stdout.write(making.as_json(made, given) if options.form == "json" else making.as_table(made))
    return SOMETHING_FAILS if any(one.failing for one in made) else NOTHING_FAILS


def _measure(options: argparse.Namespace) -> int:
    site = read_site(options.path)
    if not site.pages:
        raise GlauconError(f"There is no HTML page in “{options.path}”. Name the folder that holds the pages.")
    widths = sorted(set(options.widths or STANDARD_WIDTHS), reverse=True)
    raw = measure_site(site, widths)
    _write_out(options.out, write_layouts(raw).encode())
    texts = sum(len(one["runs"]) for one in raw.values())
    at = listed([f"{width} px" for width in widths])
    sys.stdout.write(f"Measured {counted(len(site.pages), 'page')} at {at}: {counted(texts, 'text')}.\n")
    cut = listed([f"{page} at {width} px" for (page, width), one in raw.items() if not one["isWhole"]])
    if cut:
        sys.stdout.write(f"Too much for the time there is, measured in part: {cut}.\n")
    return NOTHING_FAILS


def _layouts(options: argparse.Namespace, width: int | None = None) -> Layouts:
    """Return the layouts of the file that was named, none where none was; `width` must be among theirs."""
    if options.layout is None:
        return {}
    try:
        found = read_layouts(options.layout.read_text("utf-8"))
    except (OSError, UnicodeDecodeError) as error:
        why = error.strerror if isinstance(error, OSError) else "it is no text"
        raise GlauconError(f"“{options.layout}” could not be read ({why}). Name a layout file.") from error
    if width is not None and not any(width == one for _, one in found):
        raise GlauconError(f"“{options.layout}” holds no page at {width} px. Measure with --width {width}.")
    return found


def _read_bytes(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise GlauconError(f"“{path}” could not be read ({error.strerror}). Name a picture that is there.") from error


def _study(options: argparse.Namespace, known: KnownSite) -> Study:
    return known.first_study("Proposed") if options.study is None else _read_study(options.study)


def _read_study(path: Path) -> Study:
    try:
        return read_study(json.loads(path.read_text("utf-8")))
    except OSError as error:
        raise StudyError(f"“{path}” could not be read ({error.strerror}). Name a study file.") from error
    except json.JSONDecodeError as error:
        raise StudyError(f"“{path}” is not a study: it is not JSON ({error}).") from error


def _document(study: Study) -> bytes:
    return (json.dumps(study.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n").encode()


def _values(pairs: list[str]) -> dict[str, str]:
    values = {}
    for pair in pairs:
        role, sign, value = pair.partition("=")
        if not sign or not role.strip() or not value.strip():
            raise StudyError(f"“{pair}” is not ROLE=VALUE. Write for example --set text=#223322.")
        values[role.strip()] = value.strip()
    return values


def _write_out(path: Path, data: bytes) -> None:
    """Write a file whole or not at all."""
    part = path.with_name(f".{path.name}.part")
    try:
        part.write_bytes(data)
        os.replace(part, path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise GlauconError(f"“{path}” could not be written ({error.strerror}). Choose another place.") from error


def _say_recoloured(options: argparse.Namespace, study: Study, handed: HandedBack, failing: int) -> None:
    moved = [{"role": r.id, "from": r.found, "to": r.value} for r in study.changed_roles()]
    unreached = [
        {"file": one.token.file, "line": one.token.line, "colour": one.token.text, "why": one.why}
        for one in handed.unreached
    ]
    if options.form == "json":
        report = {
            "format": 1, "as": options.way, "changed": moved, "files": handed.changed, "unreached": unreached,
            "failing": failing,
        }  # fmt: skip
        sys.stdout.write(json.dumps(report, indent=1, ensure_ascii=False) + "\n")
        return
    lines = [f"{one['role']}: {one['from']} → {one['to']}" for one in moved] or ["The palette is unchanged."]
    if handed.changed:
        count = len(handed.changed)
        lines.append(f"{counted(count, 'file')} {plural(count, 'differs')}: {listed(handed.changed)}")
    lines += [f"not reached: {u['file']}, line {u['line']}: {u['colour']}: {u['why']}" for u in unreached]
    sentence = hard_to_read(failing)
    lines.append(f"{sentence[:1].upper()}{sentence[1:]}.")
    sys.stdout.write("\n".join(lines) + "\n")


if __name__ == "__main__":
    sys.exit(main())

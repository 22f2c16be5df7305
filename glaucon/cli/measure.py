"""`glaucon measure`: where things lie on the pages, by headless Chromium."""

from __future__ import annotations

import argparse
import sys

from glaucon.cli.files import write_out
from glaucon.cli.parser import NOTHING_FAILS
from glaucon.core.bringing.reading import read_brought
from glaucon.core.errors import GlauconError
from glaucon.core.layout.document import write_layouts
from glaucon.core.snapshot.document import as_it_stood, written_snapshot
from glaucon.core.survey.survey import STANDARD_WIDTHS
from glaucon.core.wording import counted, listed
from glaucon.measuring import measure_site, stand_site


def run(options: argparse.Namespace) -> int:
    """Write the layouts."""
    site = read_brought(options.path)
    if not site.pages:
        raise GlauconError(f"There is no HTML page in “{options.path}”. Name the folder that holds the pages.")
    widths = sorted(set(options.widths or STANDARD_WIDTHS), reverse=True)
    snapshot, fallen = stand_site(site) if options.scripts else ({}, [])
    site = as_it_stood(site, snapshot)
    raw = measure_site(site, widths)
    kept = written_snapshot(site, snapshot) if options.scripts else None
    write_out(options.out, write_layouts(raw, kept).encode())
    texts = sum(len(one["runs"]) for one in raw.values())
    at = listed([f"{width} px" for width in widths])
    sys.stdout.write(f"Measured {counted(len(site.pages), 'page')} at {at}: {counted(texts, 'text')}.\n")
    cut = listed([f"{page} at {width} px" for (page, width), one in raw.items() if not one["isWhole"]])
    if cut:
        sys.stdout.write(f"Too much for the time there is, measured in part: {cut}.\n")
    for note in site.notes:
        sys.stdout.write(f"{note}\n")
    if fallen:
        sys.stdout.write(
            f"Scripts kept these pages from standing, so they are read as their files say: {listed(fallen)}.\n"
        )
    return NOTHING_FAILS

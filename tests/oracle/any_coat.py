"""Any coat on any section: what is hard to read in it then. `python -m tests.oracle.any_coat [NAME …]`.

Every coat a site came with and two made ones (sand, deep blue) on every section of the real sites and the sample, each
alone, at rest on a wide screen. What was hard to read there before counts apart: no coat promises to mend a button.
"""

from __future__ import annotations

import argparse
from itertools import product
from pathlib import Path

from glaucon.core.known.site import KnownSite
from glaucon.core.reading.findings import SiteReading
from glaucon.core.reading.reading import FAIL
from glaucon.core.study import coats
from glaucon.core.study.scopes import Where
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus

REST = ContextKey(1280, "rest")


def hard_in(known: KnownSite, reading: SiteReading, region: int) -> set[int]:
    """Return the texts of a region, by number, that are plainly hard to read."""
    survey = known.survey
    return {
        sighting.run for sighting in reading.index.survey.sightings[REST]
        if region in survey.chains[survey.runs[sighting.run].chain] and reading.index.counts(sighting.pairing)
        and reading.readings.verdict[sighting.pairing] == FAIL
    }  # fmt: skip


def row(folder: Path) -> str:
    """Return a site's row: pairs, those that leave something hard to read, those that make it so, and which."""
    known = KnownSite(survey_site(read_site(folder), [REST]))
    study = known.first_study("Coats")
    study, _ = coats.add_coat(study, "Sandbank", "#f0e0c0", None)
    study, _ = coats.add_coat(study, "Deep water", "#12304a", None)
    came = known.read(study)
    sections = [(n, region) for n, region in enumerate(known.survey.regions) if region.is_section]
    pairs = left = 0
    made: list[str] = []
    for (number, region), coat in product(sections, study.coats):
        reading = known.read(coats.wear(study, [Where(section=region.key)], coat.id, {}))
        hard = hard_in(known, reading, number)
        pairs += 1
        left += bool(hard)
        if hard - hard_in(known, came, number):
            made.append(f"{coat.label} on {region.label}")
    return f"| {folder.name} | {pairs} | {left} | {len(made)} | {'; '.join(made[:4])} |"


def main() -> None:
    """Print the table."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    chosen = options.parse_args()
    folders = [corpus.ROOT / "samples" / "otterlock", *sorted(p for p in corpus.FETCHED.iterdir() if p.is_dir())]
    for folder in folders:
        if not chosen.names or folder.name in chosen.names:
            print(row(folder), flush=True)


if __name__ == "__main__":
    main()

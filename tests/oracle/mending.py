"""Proves mending against Chromium's computed colours and pixels: python -m tests.oracle.mending [--real] [NAME …]

A site is mended, handed back and painted: texts that fail before and after, by Chromium's own account; which of them
the report names impossible (each proof checked by tests/checking_proofs.py) or cannot judge; which are none of these.
"""

from __future__ import annotations

import argparse
import time
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.exchange.audit import audit_survey
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.mending.mend_all import MendedAll, mend_all, spots_of
from glaucon.core.proposal.known import KnownSite
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.checking_proofs import is_impossible
from tests.oracle import corpus
from tests.oracle.agreement import NEAR_A_THRESHOLD, ratios_of
from tests.oracle.chromium_truth import TrueRun, true_runs
from tests.oracle.handing_back import as_folder
from tests.oracle.server import serve

WIDTHS, STATES = (1280, 390), ("rest", "hover")
DOCUMENT = corpus.ROOT / "docs" / "mending.md"
Text = tuple[str, str]


@dataclass(slots=True)
class Proof:
    """What was seen of one site. `before` and `after` are texts that fail as Chromium paints them."""

    name: str
    before: set[Text] = field(default_factory=set)
    after: set[Text] = field(default_factory=set)
    named: int = 0
    unsure: int = 0
    unexplained: list[str] = field(default_factory=list)
    moved: int = 0
    proofs: int = 0
    proofs_held: int = 0
    unproved: int = 0
    seconds: float = 0.0


def prove(browser: Browser, folder: Path) -> Proof:
    """Return what was seen of one site."""
    site = read_site(folder)
    contexts = [ContextKey(width, state) for width in WIDTHS for state in STATES]
    known = KnownSite(survey_site(site, contexts))
    study = KnownSite(known.survey).first_study("Proposed")
    proof = Proof(folder.name)
    known.index, known.uses  # noqa: B018 (worked out before the clock starts)
    start = time.perf_counter()
    mended = mend_all(known, study)
    proof.seconds = time.perf_counter() - start
    proof.moved = len(mended.moved)
    _check_proofs(known, study, mended, proof)
    new = recolour_site(site, known.survey.tokens, mended.study).files
    runs = known.survey.runs
    named = {(runs[n].page, runs[n].path) for one in mended.left for n in one.runs}
    values = known.tokens.values(mended.study)
    reports = {context: audit_survey(known.survey, context, "AA", values)["runs"] for context in contexts}
    with serve(folder) as old, as_folder(folder, new) as fresh:
        for page in known.survey.pages:
            for width in WIDTHS:
                first, then = (
                    true_runs(browser, address + page, width, STATES, as_read=True) for address in (old, fresh)
                )
                for state in STATES:
                    rows = {r["path"]: r for r in reports[ContextKey(width, state)] if r["page"] == page}
                    proof.before |= {(page, path) for path, run in first[state].items() if _fails(run, rows.get(path))}
                    for path, run in then[state].items():
                        if _fails(run, rows.get(path)):
                            _note(proof, page, path, f"{width} px, {state}", rows.get(path), named, run)
    return proof


def _check_proofs(known: KnownSite, study: Study, mended: MendedAll, proof: Proof) -> None:
    spots, bounds = spots_of(known, study)
    for one in mended.left:
        if not one.proof:
            proof.unproved += len(one.pairings)
            continue
        proof.proofs += 1
        rows = [n for n in range(len(spots)) if int(spots.pairing[n]) in one.proof]
        proof.proofs_held += is_impossible(spots.only(rows), bounds)


def _fails(run: TrueRun, row: dict[str, object] | None) -> bool:
    """Return whether a text fails as painted; none that is left out of judging (see `agreement`) or exempt."""
    if run.scrolled_out or run.covered or not len(run.ground) or row is None or row["verdict"] == "exempt":
        return False
    if "::" in run.path and not run.is_uniform:
        return False
    large = run.size_px >= 24 or (run.size_px >= 18.66 and run.weight >= 700)
    return _worst(run) < (3.0 if large else 4.5) - NEAR_A_THRESHOLD


def _worst(run: TrueRun) -> float:
    """Return the least ratio at a hundredth of a text's pixels: the last ones at its edge are a neighbour's."""
    ratios = ratios_of(run)
    order = np.argsort(ratios)
    share = np.cumsum(run.counts[order]) / run.counts.sum()
    return float(ratios[order][int(np.argmax(share >= 0.01))])


def _note(
    proof: Proof, page: str, path: str, where: str, row: dict[str, object] | None, named: set[Text], run: TrueRun
) -> None:
    text = (page, path)
    if text in proof.after:
        return
    proof.after.add(text)
    if text in named:
        proof.named += 1
    elif row is not None and row["verdict"] == "unsure":
        proof.unsure += 1
    else:
        ratio = _worst(run)
        proof.unexplained.append(
            f"{page} at {where}: {path} “{run.text[:30]}” {ratio:.2f}; ours {row and row['ratio']}"
        )


HEADINGS = (
    "site", "failing before", "after", "of them named impossible", "not to be judged", "none of these",
    "colours moved", "proofs", "that hold", "pairings left without proof", "seconds",
)  # fmt: skip


def row_of(proof: Proof) -> tuple[str, ...]:
    """Return a proof as a row under HEADINGS."""
    return (
        proof.name, str(len(proof.before)), str(len(proof.after)), str(proof.named), str(proof.unsure),
        str(len(proof.unexplained)), str(proof.moved), str(proof.proofs), str(proof.proofs_held), str(proof.unproved),
        f"{proof.seconds:.1f}",
    )  # fmt: skip


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--real", action="store_true", help="the real sites, not the own ones")
    chosen = options.parse_args()
    folders = [corpus.fetch(s) for s in corpus.REAL if not chosen.names or s.name in chosen.names] if chosen.real else (
        [folder for folder in corpus.own_sites() if not chosen.names or folder.name in chosen.names]
    )  # fmt: skip
    print(f"| {' | '.join(HEADINGS)} |\n|{'---|' * len(HEADINGS)}", flush=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in folders:
            proof = prove(browser, folder)
            print(f"| {' | '.join(row_of(proof))} |", flush=True)
            for line in proof.unexplained[:6]:
                print("   ", line, flush=True)
        browser.close()


if __name__ == "__main__":
    main()

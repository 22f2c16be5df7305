"""Proves what is handed back against Chromium: python -m tests.oracle.handing_back [--real|--fresh] [--write] [NAME …]

Share of colour tokens under roles; pixels of the site with every mapped token behind a custom property of no value
yet; texts and grounds with every role set to a vivid colour of its own, by the recoloured site and by the add-on.
"""

from __future__ import annotations

import argparse
import colorsys
import re
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from glaucon.core.exchange.addon import addon_stylesheet
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.exchange.reports.audit import audit_survey
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study, token_key
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.__main__ import explained, write
from tests.oracle.agreement import Tally, compare_page
from tests.oracle.chromium_truth import picture_of, true_runs
from tests.oracle.fresh import FRESH
from tests.oracle.server import serve

WIDTHS = (1280, 390)
STATES = ("rest", "hover")
DOCUMENT = corpus.ROOT / "docs" / "handing-back.md"


@dataclass(slots=True)
class Proof:
    """What was seen of one site. `stray_bytes` counts files that differ otherwise than in tokens and the link."""

    name: str
    tokens: int = 0
    mapped: int = 0
    stray_bytes: int = 0
    pixels: int = 0
    pixels_differing: int = 0
    recoloured: Tally = field(default_factory=Tally)
    addon: Tally = field(default_factory=Tally)
    unreached: int = 0


def vivid(study: Study) -> Study:
    """Return the study with every role in a colour that nothing else has."""
    count = max(1, len(study.roles))
    values = {}
    for n, role in enumerate(study.roles):
        r, g, b = colorsys.hls_to_rgb((n * 0.618034) % 1, 0.35 + 0.3 * ((n * 7) % count) / count, 0.95)
        values[role.id] = f"#{int(r * 255):02x}{int(g * 255):02x}{int(b * 255):02x}"
    return study.with_values(values)


def prove(browser: Browser, folder: Path, widths: tuple[int, ...] = WIDTHS) -> Proof:
    """Return what was seen of one site."""
    site = read_site(folder)
    contexts = [ContextKey(width, state) for width in widths for state in STATES]
    known = KnownSite(survey_site(site, contexts))
    study = KnownSite(known.survey).first_study("Proposed")
    proof = Proof(folder.name)
    written = [token for token in known.survey.tokens if token.kind != "default"]
    proof.tokens = len(written)
    proof.mapped = sum(1 for token in written if token_key(token) in study.mapping)
    assert recolour_site(site, known.survey, study).files == {}, "an unchanged palette changes nothing"
    bright = vivid(study)
    changed = recolour_site(site, known.survey, bright)
    quiet = recolour_site(site, known.survey, _without_attributes(bright, known))
    proof.stray_bytes = _strays(site, quiet.files)
    _hold_pixels(browser, folder, site, quiet.files, quiet.stylesheet, widths, proof)
    _hold_colours(browser, folder, known, bright, contexts, changed.files, proof)
    return proof


def _without_attributes(study: Study, known: KnownSite) -> Study:
    """Return the study without the attributes' colours: those take a literal, which cannot be taken out again."""
    keys = {token_key(token) for token in known.survey.tokens if token.kind == "attribute"}
    return study.model_copy(update={"mapping": {k: role for k, role in study.mapping.items() if k not in keys}})


def _strays(site: SiteFiles, new: dict[str, bytes]) -> int:
    """Count files in which taking the tokens and the link out again does not give the old bytes back."""
    strays = 0
    for path, data in new.items():
        if path in site.files:
            back = _VAR.sub(lambda found: found.group(1), _LINK.sub(b"", data))
            strays += back != site.files[path]
    return strays


_LINK = re.compile(rb'<link rel="stylesheet" href="[^"]*glaucon-[0-9a-f]{12}\.css">')
_VAR = re.compile(rb"var\(--gl-[a-z0-9-]+, ((?:[^()]|\((?:[^()]|\([^()]*\))*\))*)\)")


@contextmanager
def as_folder(folder: Path, new: dict[str, bytes]) -> Iterator[str]:
    """Serve a site with some files replaced."""
    with folder_of({**read_all(folder), **new}) as address:
        yield address


@contextmanager
def folder_of(files: dict[str, bytes]) -> Iterator[str]:
    """Serve some files."""
    with tempfile.TemporaryDirectory() as scratch:
        top = Path(scratch)
        for path, data in files.items():
            (top / path).parent.mkdir(parents=True, exist_ok=True)
            (top / path).write_bytes(data)
        with serve(top) as address:
            yield address


def read_all(folder: Path) -> dict[str, bytes]:
    """Return all files of a folder."""
    return {p.relative_to(folder).as_posix(): p.read_bytes() for p in folder.rglob("*") if p.is_file()}


def _hold_pixels(
    browser: Browser, folder: Path, site: SiteFiles, new: dict[str, bytes], sheet: str, widths: tuple[int, ...],
    proof: Proof,
) -> None:  # fmt: skip
    """Compare pixels with the palette left out: then each token shows what it showed."""
    quiet = {**new, sheet: b""}
    with serve(folder) as before, as_folder(folder, quiet) as after:
        for page in site.pages:
            for width in widths:
                one, other = (picture_of(browser, address + page, width) for address in (before, after))
                proof.pixels += one.shape[0] * one.shape[1]
                if one.shape != other.shape:
                    proof.pixels_differing += one.shape[0] * one.shape[1]
                else:
                    proof.pixels_differing += int((one != other).any(axis=-1).sum())


def _hold_colours(
    browser: Browser, folder: Path, known: KnownSite, bright: Study, contexts: list[ContextKey],
    new: dict[str, bytes], proof: Proof,
) -> None:  # fmt: skip
    survey = known.survey
    values = known.tokens.values(bright)
    reports = {context: audit_survey(survey, context, "AA", values)["runs"] for context in contexts}
    addon = addon_stylesheet(read_site(folder), survey.tokens, bright)
    proof.unreached = len(addon.unreached)
    with serve(folder) as before, as_folder(folder, new) as after:
        for page in survey.pages:
            for width in sorted({context.width for context in contexts}):
                for address, css, tally in ((after, "", proof.recoloured), (before, addon.css, proof.addon)):
                    truth = true_runs(browser, address + page, width, STATES, css)
                    for state in STATES:
                        found = compare_page(reports[ContextKey(width, state)], truth[state], page)
                        # a ground of several colours promises no single one
                        found.ground_judged -= sum(e.kind == "ground" and "'varied'" in e.ours for e in found.examples)
                        for example in found.examples:
                            example.page = f"{page} at {width} px, {state}"
                        tally.add(found)


HEADINGS = (
    "site", "colour tokens", "under roles %", "files straying", "pixels differing", "of",
    "recoloured: words %", "grounds %", "add-on: words %", "grounds %", "not reached",
)  # fmt: skip


def row_of(proof: Proof) -> tuple[str, ...]:
    """Return a proof as a row under HEADINGS."""
    share = Tally.share
    one, other = proof.recoloured, proof.addon
    return (
        proof.name, str(proof.tokens), f"{share(proof.mapped, proof.tokens):.1f}", str(proof.stray_bytes),
        f"{proof.pixels_differing:,}", f"{proof.pixels:,}",
        f"{share(one.colour_right, one.colour_judged):.1f}", f"{share(one.ground_right, one.ground_judged):.1f}",
        f"{share(other.colour_right, other.colour_judged):.1f}",
        f"{share(other.ground_right, other.ground_judged):.1f}", str(proof.unreached),
    )  # fmt: skip


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--real", action="store_true", help="the real sites, not the own ones")
    options.add_argument("--fresh", action="store_true", help="the sites nothing was built against")
    options.add_argument("--write", action="store_true", help="put the table into docs/handing-back.md")
    chosen = options.parse_args()
    which = "fresh" if chosen.fresh else "real" if chosen.real else "own"
    sites = {"fresh": FRESH, "real": corpus.REAL, "own": ()}[which]
    folders = [corpus.fetch(one) for one in sites if not chosen.names or one.name in chosen.names]
    if which == "own":
        folders = [one for one in corpus.own_sites() if not chosen.names or one.name in chosen.names]
    lines = [f"| {' | '.join(HEADINGS)} |", f"|{'---|' * len(HEADINGS)}"]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in folders:
            proof = prove(browser, folder)
            lines.append(f"| {' | '.join(row_of(proof))} |")
            print(lines[-1], flush=True)
            for way, tally in (("recoloured", proof.recoloured), ("add-on", proof.addon)):
                wrong = [
                    one for one in tally.examples
                    if one.kind == "colour" or (one.kind == "ground" and "'varied'" not in one.ours)
                ]  # fmt: skip
                if wrong:
                    print(way, explained(wrong, 6), sep="\n", flush=True)
        browser.close()
    if chosen.write:
        write(which, "\n".join(lines) + "\n", DOCUMENT)


if __name__ == "__main__":
    main()

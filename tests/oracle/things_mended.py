"""What is offered for fields, focus and links, taken, as Chromium shows it: python -m tests.oracle.things_mended [NAME]

Every finding with a rule is mended at once. A thing counts as hard to see before and after by the pixels, as in
`things`; a text as made harder by `harm`, in all states.
"""

from __future__ import annotations

import argparse
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from glaucon.core.acts.any_act import applied
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.behind.mend_beyond import MendBeyond
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.seeing.beyond import BeyondText, beyond_findings, judged_things
from glaucon.core.seeing.beyond_rules import rule_for
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from tests import chromium
from tests.core.test_beyond_on_sites import MOST_PAGES, SITES
from tests.oracle import corpus
from tests.oracle.backdrops import as_folder
from tests.oracle.chromium_truth import opened, true_runs
from tests.oracle.harm import worse_texts
from tests.oracle.server import serve
from tests.oracle.things import NEAR, NEEDED, WIDTH, contrast_shown, in_sight

STATES = ("rest", "hover", "focus")


@dataclass(slots=True)
class Mended:
    """What Chromium shows of one site's things that are said to be hard to see, before and after."""

    name: str
    said: int = 0
    before: Counter[str] = field(default_factory=Counter)
    after: Counter[str] = field(default_factory=Counter)
    worse: set[tuple[str, str, str]] = field(default_factory=set)
    left: list[str] = field(default_factory=list)


def see(browser: Browser, folder: Path) -> Mended:
    """Return what comes of taking all that is offered on one site."""
    files = read_site(folder)
    for page in files.pages[MOST_PAGES:]:
        del files.files[page]
    site = ReadSite(files, contexts=[ContextKey(WIDTH, state) for state in STATES])
    study = site.known.first_study("As it came")
    failing = [one for one in beyond_findings(site.known, study) if one.first.verdict == "fail"]
    keys = [one.key for one in failing if rule_for(one, study)]
    mended = study
    for start in range(0, len(keys), 60):
        mended = applied(site, mended, [MendBeyond(act="mend-beyond", keys=tuple(keys[start : start + 60]))])
    things = [one for one in judged_things(site.known, study) if one.verdict == "fail"]
    seen = Mended(folder.name, len(things))
    changed = recolour_site(files, site.known.survey, mended, None, site.backdrops(mended)).files
    with serve(folder) as old, as_folder(folder, changed) as new:
        for page in site.known.survey.pages:
            own = [one for one in things if one.page == page]
            _see_things(browser, seen, (old + page, new + page), own)
            first, then = (true_runs(browser, one + page, WIDTH, STATES, as_read=True) for one in (old, new))
            for state in STATES:
                seen.worse |= {(page, state, path) for path in worse_texts(first[state], then[state])}
    return seen


def _see_things(browser: Browser, seen: Mended, addresses: tuple[str, str], things: list[BeyondText]) -> None:
    shown: list[dict[str, float]] = []
    for address in addresses:
        with opened(browser, address, WIDTH) as page:
            told = {
                f"{one.what} {one.path}": contrast
                for one, element in in_sight(page, things)
                if (contrast := contrast_shown(page, one, element)) is not None
            }
            shown.append(told)
    for key, contrast in shown[0].items():
        # what hover and focus add to a link in a sentence is another way out of the finding: none was offered here
        if key in shown[1] and contrast < NEEDED - NEAR:
            what = key.split(" ")[0]
            seen.before[what] += 1
            if shown[1][key] < NEEDED - NEAR:
                seen.after[what] += 1
                seen.left.append(f"{addresses[0].rsplit('/', 1)[-1]} {shown[1][key]:.2f} {key[-110:]}")


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    chosen = options.parse_args().names or SITES
    before, after, worse = 0, 0, 0
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for name in chosen:
            seen = see(browser, corpus.FETCHED / name)
            before, after = before + seen.before.total(), after + seen.after.total()
            worse += len(seen.worse)
            said = f"{seen.name}: said {seen.said}, shown {dict(seen.before)}, then {dict(seen.after)}"
            print(
                f"{said}, texts harder {len(seen.worse)}",
                *seen.left[:5],
                *sorted(seen.worse)[:5],
                sep="\n    ",
                flush=True,
            )
        browser.close()
    print(f"{before} before, {after} after: {100 * (1 - after / max(1, before)):.1f} % gone; {worse} texts made harder")


if __name__ == "__main__":
    main()

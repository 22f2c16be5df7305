"""Measures fixing by Chromium's computed colours and pixels: python -m tests.oracle.mending [--real | --fresh] [NAME …]

A site is fixed, handed back and painted at rest and hovered, at two widths: what plainly failed before and after, why
the rest stays, and whether it is still the same site: colourful uses kept, quieter text still quieter, what did not
fail left alone. Then with half of what is offered beside it taken, and with all: less fading, veils, rules.
And in all three: which texts are made worse (see `harm`).
"""

from __future__ import annotations

import argparse
import itertools
import random
import time
from collections import Counter
from collections.abc import Mapping
from contextlib import ExitStack
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, sync_playwright

from glaucon.core.acts.any_act import applied
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.find_fixes import FindFixes, FoundFixes
from glaucon.core.colour.oklab import delta_e_ok, oklab_from_srgb, oklch_from_oklab
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.exchange.reports.audit import context_report
from glaucon.core.layout.document import read_page_layout
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.measuring import measure_with
from tests import chromium
from tests.oracle import corpus, fresh
from tests.oracle.agreement import NEAR_A_THRESHOLD
from tests.oracle.chromium_truth import TrueRun, true_runs
from tests.oracle.handing_back import as_folder
from tests.oracle.harm import WORST, at_share, can_be_seen, needed, worse_texts
from tests.oracle.server import serve

WIDTHS, STATES = (1280, 390), ("rest", "hover")
TAKEN = ("nothing", "half", "all")  # of what is offered
_COLOURFUL, _FAR, _LOUDER, _SAME = 0.07, 0.15, 1.25, 0.004
Text = tuple[str, str]


@dataclass(slots=True)
class Seen:
    """What was seen of one site. `before` and `after` are texts that fail as Chromium paints them."""

    name: str
    before: set[Text] = field(default_factory=set)
    after: set[Text] = field(default_factory=set)
    with_offers: set[Text] = field(default_factory=set)  # that fail with all that is offered taken
    why: Counter[str] = field(default_factory=Counter)
    colourful: list[float] = field(default_factory=lambda: [0.0, 0.0])  # weight kept, of all
    order: list[int] = field(default_factory=lambda: [0, 0])  # pairs still in order, of all
    changed: set[Text] = field(default_factory=set)
    readable: set[Text] = field(default_factory=set)
    roles: int = 0
    parts: int = 0
    places: int = 0
    seconds: float = 0.0
    worse: dict[str, set[Text]] = field(default_factory=lambda: {taken: set() for taken in TAKEN})


def see(browser: Browser, folder: Path, measured: bool = False) -> Seen:
    """Return what was seen of one site; `measured`: fixed as it is on the bench, where it is known what lies where."""
    site = read_site(folder)
    contexts = [ContextKey(width, state) for width in WIDTHS for state in STATES]
    raw = measure_with(browser, site, list(WIDTHS)) if measured else {}
    layouts = {key: read_page_layout(one) for key, one in raw.items()}
    at_hand = ReadSite(site, layouts, contexts)
    known = at_hand.known
    study = known.first_study("Proposed")
    seen = Seen(folder.name)
    known.index, known.uses  # noqa: B018 (worked out before the clock starts)
    start = time.perf_counter()
    found, fixed = FindFixes(search="fix-all").find_both(at_hand, study)
    seen.seconds = time.perf_counter() - start
    seen.parts = sum(1 for one in fixed.changes if one.tokens)
    seen.roles = len(fixed.changes) - seen.parts
    seen.places = len(fixed.places)
    fixed_studies = {
        taken: applied(at_hand, study, [found.taken(_chosen(found, taken, folder.name))]) for taken in TAKEN
    }
    runs = known.survey.runs
    why = {(runs[n].page, runs[n].path): one.why for one in fixed.left for n in one.texts}
    reading = known.read(fixed_studies["nothing"])
    reports = {
        context: context_report(reading.index.survey, context, "AA", list(reading.readings))["runs"]
        for context in contexts
    }
    with ExitStack() as stack:
        old = stack.enter_context(serve(folder))
        new = {
            taken: stack.enter_context(as_folder(folder, _files(site, at_hand, one)))
            for taken, one in fixed_studies.items()
        }
        for page, width in itertools.product(known.survey.pages, WIDTHS):
            first = true_runs(browser, old + page, width, STATES, as_read=True)
            then = {taken: true_runs(browser, one + page, width, STATES, as_read=True) for taken, one in new.items()}
            for state in STATES:
                rows = {r["path"]: r for r in reports[ContextKey(width, state)] if r["page"] == page}
                for taken, one in then.items():
                    seen.worse[taken] |= {(page, path) for path in worse_texts(first[state], one[state])}
                seen.with_offers |= {
                    (page, path) for path, run in then["all"][state].items()
                    if path in first[state] and _is_judged(first[state][path], rows.get(path)) and _fails(run)
                }  # fmt: skip
                _compare(seen, page, first[state], then["nothing"][state], rows, why, is_rest=state == "rest")
    return seen


def _chosen(found: FoundFixes, taken: str, seed: str) -> list[str] | None:
    """Return the names of the offers that are taken; None for every one."""
    names = [name for name, *_ in found.offers]
    return [] if taken == "nothing" else None if taken == "all" else random.Random(seed).sample(names, len(names) // 2)


def _files(site: SiteFiles, at_hand: ReadSite, study: Study) -> dict[str, bytes]:
    known = at_hand.known
    behind = at_hand.backdrops(study)
    return recolour_site(site, known.survey, study, None, behind).files


def _compare(
    seen: Seen, page: str, first: Mapping[str, TrueRun], then: Mapping[str, TrueRun],
    rows: Mapping[str, dict[str, object]], why: Mapping[Text, str], is_rest: bool,
) -> None:  # fmt: skip
    judged = [path for path in first if path in then and _is_judged(first[path], rows.get(path))]
    for path in judged:
        text = (page, path)
        failed = _fails(first[path])
        if failed:
            seen.before.add(text)
        if _fails(then[path]) and text not in seen.after:
            seen.after.add(text)
            verdict = (rows.get(path) or {}).get("verdict")
            seen.why["cannot be told" if verdict == "unsure" else why.get(text, "not foreseen")] += 1
        if not is_rest:
            continue
        sides = [(_words(one), _ground(one)) for one in (first[path], then[path])]
        _note_colourful(seen, first[path], sides, failed)
        if not failed:
            seen.readable.add(text)
            if any(_apart(sides[0][n], sides[1][n]) > _SAME for n in (0, 1)):
                seen.changed.add(text)
    if is_rest:
        _note_order(seen, [(first[path], then[path]) for path in judged if first[path].is_uniform])


def _note_colourful(seen: Seen, run: TrueRun, sides: list[tuple[np.ndarray, np.ndarray]], failed: bool) -> None:
    weight = len(run.text) * run.size_px**2
    for place in (0, 1):
        before, after = (_lch(side[place]) for side in sides)
        if before[1] < _COLOURFUL or (place == 0 and failed):
            continue
        turned = abs((after[2] - before[2] + 180) % 360 - 180)
        kept = _apart(sides[0][place], sides[1][place]) <= _FAR and after[1] >= 0.5 * before[1] and turned <= 15
        seen.colourful[0] += weight * kept
        seen.colourful[1] += weight


def _note_order(seen: Seen, pairs: list[tuple[TrueRun, TrueRun]]) -> None:
    """Count pairs of texts on one background of which one is plainly louder, each two colours once."""
    of_ground: dict[tuple[int, ...], dict[tuple[float, ...], tuple[float, float]]] = {}
    for before, after in pairs:
        ground = tuple(int(v) for v in before.ground[0])
        of_ground.setdefault(ground, {})[tuple(before.colour), *map(float, after.colour)] = (
            _worst(before), _worst(after),
        )  # fmt: skip
    for texts in of_ground.values():
        for loud in texts.values():
            for quiet in texts.values():
                if loud[0] >= _LOUDER * quiet[0]:
                    seen.order[0] += loud[1] >= quiet[1] - 0.05
                    seen.order[1] += 1


def _is_judged(run: TrueRun, row: dict[str, object] | None) -> bool:
    """Return whether a text counts; none that is left out of judging (see `agreement`) or exempt."""
    return can_be_seen(run) and row is not None and row["verdict"] != "exempt"


def _fails(run: TrueRun) -> bool:
    return _worst(run) < needed(run) - NEAR_A_THRESHOLD


def _worst(run: TrueRun) -> float:
    return at_share(run, WORST)


def _ground(run: TrueRun) -> np.ndarray:
    return run.ground[int(np.argmax(run.counts))] / 255 if len(run.ground) else np.ones(3)


def _words(run: TrueRun) -> np.ndarray:
    alpha = run.colour[3] * run.opacity
    return np.array(run.colour[:3]) / 255 * alpha + _ground(run) * (1 - alpha)


def _lch(rgb: np.ndarray) -> np.ndarray:
    return np.asarray(oklch_from_oklab(oklab_from_srgb(rgb[None]))[0])


def _apart(one: np.ndarray, other: np.ndarray) -> float:
    return float(delta_e_ok(one, other))


HEADINGS = (
    "site", "failing before", "after", "why", "gone %", "with what is offered %", "colourful uses kept %",
    "still in order %", "readable and changed %", "made worse", "colours", "parts, places", "seconds",
)  # fmt: skip


def figures(seen: Seen) -> tuple[float, ...]:
    """Return the shares of `HEADINGS`, in per cent."""
    gone, offered = (
        100 * (1 - len(left) / len(seen.before)) if seen.before else 100.0 for left in (seen.after, seen.with_offers)
    )
    kept = 100 * seen.colourful[0] / seen.colourful[1] if seen.colourful[1] else 100.0
    order = 100 * seen.order[0] / seen.order[1] if seen.order[1] else 100.0
    changed = 100 * len(seen.changed) / len(seen.readable) if seen.readable else 0.0
    return gone, offered, kept, order, changed


def row_of(seen: Seen) -> tuple[str, ...]:
    """Return what was seen as a row under HEADINGS."""
    why = ", ".join(f"{count} {reason}" for reason, count in seen.why.most_common())
    return (
        seen.name, str(len(seen.before)), str(len(seen.after)), why, *(f"{one:.1f}" for one in figures(seen)),
        ", ".join(str(len(seen.worse[taken])) for taken in TAKEN),
        str(seen.roles), f"{seen.parts}, {seen.places}", f"{seen.seconds:.1f}",
    )  # fmt: skip


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--real", action="store_true", help="the real sites, not the own ones")
    options.add_argument("--fresh", action="store_true", help="the sites of docs/palette.md")
    options.add_argument("--layout", action="store_true", help="with the layout measured first, as on the bench")
    options.add_argument("--name-worse", action="store_true", help="name the texts that are made worse")
    chosen = options.parse_args()
    sites = fresh.FRESH if chosen.fresh else corpus.REAL
    folders = [corpus.fetch(s) for s in sites if not chosen.names or s.name in chosen.names] if (
        chosen.real or chosen.fresh
    ) else [f for f in corpus.own_sites() if not chosen.names or f.name in chosen.names]  # fmt: skip
    print(f"| {' | '.join(HEADINGS)} |\n|{'---|' * len(HEADINGS)}", flush=True)
    found = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in folders:
            seen = see(browser, folder, chosen.layout)
            found.append(figures(seen))
            print(f"| {' | '.join(row_of(seen))} |", flush=True)
            if chosen.name_worse:
                for taken in TAKEN:
                    print(taken, *sorted(seen.worse[taken]), sep="\n  ", flush=True)
        browser.close()
    means = " | ".join(f"{one:.1f}" for one in np.mean(found, axis=0)) if found else ""
    print(f"| mean over sites | | | | {means} | | | | |", flush=True)


if __name__ == "__main__":
    main()

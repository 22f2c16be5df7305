"""What scopes come to, held against Chromium: python -m tests.oracle.scopes [NAME …] [--layout] [--count N] [--seed N]

For random scopes of every kind on a site, the site handed back is shown by Chromium, and the colour of every text and
the background under it are compared with what the reading says; texts outside must be as they were.
"""

from __future__ import annotations

import argparse
import random
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from glaucon.core.colour.value import Colour
from glaucon.core.exchange.hand_back import hand_back
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.exchange.reports.audit import context_report
from glaucon.core.known.site import KnownSite
from glaucon.core.mending.single_texts import element_of
from glaucon.core.study.roles import Coat, Role
from glaucon.core.study.scopes import Scope, Where
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests import chromium
from tests.oracle import corpus
from tests.oracle.agreement import Example, Tally, compare_page
from tests.oracle.chromium_truth import true_runs
from tests.oracle.fresh import FRESH
from tests.oracle.handing_back import as_folder
from tests.oracle.measured import layouts_of
from tests.oracle.server import serve

WIDTH = 1280
STATES = ("rest", "hover")
KINDS = ("page", "section", "section", "part", "one", "alone")
_SET = ("background", "text", "link", "heading", "quiet", "panel", "accent", "line")


@dataclass
class Outcome:
    """What was compared for one site, over all its scopes."""

    name: str
    scopes: int = 0
    tally: Tally = field(default_factory=Tally)
    examples: list[str] = field(default_factory=list)


def random_scope(known: KnownSite, study: Study, dice: random.Random, kinds: Sequence[str] = KINDS) -> Scope:
    """Return a scope of some kind on some region or page, wearing a coat or values of its own."""
    survey = known.survey
    page = dice.choice(survey.pages)
    kind = dice.choice(kinds)
    if kind == "alone":
        return _alone(known, study, dice)
    some = [r for r in survey.regions if r.is_section == (kind == "section")]
    where = Where(page=page)
    if kind != "page" and some:
        region = dice.choice(some)
        on = dice.choice(sorted(region.pages))
        paths = [run.path for run in survey.runs if run.page == on and region.key in _keys(known, run.chain)]
        if kind == "section":
            where = Where(section=region.key, page=dice.choice([None, on]))
        elif kind == "one" and paths:
            where = Where(part=region.key, page=on, at=_start(known, dice.choice(paths), on, region.selector))
        else:
            where = Where(part=region.key, page=dice.choice([None, on]))
    if dice.random() < 0.5:
        return Scope(where=where, coat=dice.choice([coat.id for coat in study.coats]))
    return Scope(where=where, set={name: _any(dice) for name in dice.sample(_SET, dice.randint(1, 4))})


def _alone(known: KnownSite, study: Study, dice: random.Random) -> Scope:
    """Return one colour of a text's own element, as the close-up gives it: what its words wear, or its background."""
    survey = known.survey
    seen = survey.sightings[ContextKey(WIDTH, "rest")]
    run, row = dice.choice(list(zip(seen.runs, seen.pairings, strict=True)))
    roles = known.tokens.roles(study)
    uses = [study.role(roles[token]).use for token in survey.pairings[row].word_tokens() if token in roles]
    use = dice.choice([*uses, *uses, "background"])
    return Scope(where=element_of(survey, survey.runs[run]), set={use: _any(dice)})


def _any(dice: random.Random) -> str:
    return Colour(dice.random(), dice.random(), dice.random()).hex()


def _keys(known: KnownSite, chain: int) -> list[str]:
    return [known.survey.regions[number].key for number in known.survey.chains[chain]]


def _start(known: KnownSite, path: str, page: str, selector: str) -> str:
    """Return the path of the element of a simple selector that a text's path leads through."""
    tag = selector.split(".")[0].split("#")[0]
    steps = path.split("::")[0].split(">")
    for end in range(len(steps), 0, -1):
        if steps[end - 1].split(":")[0] == tag:
            return ">".join(steps[:end])
    return ">".join(steps)


def with_coats(study: Study) -> Study:
    """Return a study with a dark and a light coat more, of a background and nothing else."""
    roles, coats = list(study.roles), list(study.coats)
    for name, value in (("night", "#101820"), ("sand-made", "#e9dcc0")):
        coats.append(Coat(id=name, label=name, came=False))
        roles.append(Role(id=f"{name}.background", kind="background", coat=name, label=name, value=value, found=value))
    return study.model_copy(update={"roles": tuple(roles), "coats": tuple(coats)})


def prove(
    browser: Browser, folder: Path, count: int, seed: int, most_pages: int = 6, measured: bool = False,
    kinds: Sequence[str] = KINDS,
) -> Outcome:  # fmt: skip
    """Return how a site under random scopes, each alone, is shown by Chromium, against what the reading says."""
    site = read_site(folder)
    for page in site.pages[most_pages:]:
        del site.files[page]
    layouts = layouts_of(browser, site, [WIDTH]) if measured else {}
    survey = survey_site(site, [ContextKey(WIDTH, state) for state in STATES], layouts)
    known = KnownSite(survey)
    study = with_coats(known.first_study("Scoped"))
    dice = random.Random(seed)
    outcome = Outcome(folder.name)
    for _ in range(count):
        scope = random_scope(known, study, dice, kinds)
        scoped = read_study(study.model_copy(update={"worn": (scope,)}).model_dump(mode="json"))
        dressed = known.dressed(scoped)
        pages = sorted({survey.runs[n].page for n in dressed.of_run.nonzero()[0].tolist()})[:2]
        new = recolour_site(site, survey, scoped)
        reading = known.read(scoped)
        verdicts, shown = list(reading.readings), reading.index.survey
        reports = {s: context_report(shown, ContextKey(WIDTH, s), "AA", verdicts)["runs"] for s in STATES}
        addon = hand_back(site, survey, scoped, "addon").data.decode()
        outcome.scopes += 1
        said = scope.model_dump(mode="json", exclude_defaults=True)
        with serve(folder) as before, as_folder(folder, new.files) as after:
            for page in pages:
                for way, address, css in (("site", after, ""), ("add-on", before, addon)):
                    if "is not reached" in css:
                        continue
                    truth = true_runs(browser, address + page, WIDTH, STATES, css)
                    for state in STATES:
                        compared = compare_page(reports[state], truth[state], page)
                        outcome.tally.add(compared)
                        outcome.examples += [f"{way} {state} {said}: {example}" for example in wrong(compared)]
    return outcome


def wrong(tally: Tally) -> list[Example]:
    """Return the texts whose colour or background is otherwise than told, layers that vary left out."""
    return [e for e in tally.examples if e.kind in ("colour", "ground") and "'varied'" not in e.ours]


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*")
    options.add_argument("--count", type=int, default=40)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--layout", action="store_true", help="measure the pages first, and read them so")
    options.add_argument("--kind", choices=KINDS, help="scopes of one kind alone")
    chosen = options.parse_args()
    kinds = (chosen.kind,) if chosen.kind else KINDS
    own = [path for path in sorted(corpus.OWN.iterdir()) if path.is_dir()]
    folders = [corpus.ROOT / "samples" / "otterlock", *own, *(corpus.FETCHED / site.name for site in FRESH)]
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for folder in folders:
            if chosen.names and folder.name not in chosen.names:
                continue
            found = prove(browser, folder, chosen.count, chosen.seed, measured=chosen.layout, kinds=kinds)
            tally, bad = found.tally, wrong(found.tally)
            colours = Tally.share(tally.colour_judged - sum(e.kind == "colour" for e in bad), tally.colour_judged)
            grounds = Tally.share(tally.ground_judged - sum(e.kind == "ground" for e in bad), tally.ground_judged)
            print(f"| {found.name} | {found.scopes} | {tally.colour_judged} | {colours:.1f} | {grounds:.1f} |")
            print(*found.examples[:8], sep="\n    ", flush=True)
        browser.close()


if __name__ == "__main__":
    main()

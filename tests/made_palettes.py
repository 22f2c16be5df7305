"""What making gives for random seeds and pictures on sites it was not built for: python -m tests.made_palettes [SITE …]

Options: --seeds N (100; a tenth as many pictures beside them). Seeds are one to three random colours. Three directions
are made of each, as they are shown first. Rows are sites; times are as multiples of one *Fix all* of that site, each in
processor time of the same run.
"""

from __future__ import annotations

import argparse
import time
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.colour.oklab import oklab_from_srgb, oklch_from_oklab
from glaucon.core.colour.value import Colour
from glaucon.core.known.site import KnownSite
from glaucon.core.making.making import APART, Made, average_difference, make_studies, make_study
from glaucon.core.mending.fixed import fix_all, hard_texts
from glaucon.core.mending.standing import on_pictures
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.core.test_made_many import given
from tests.oracle import corpus
from tests.oracle.fresh import FRESH

SITES = (
    "otterlock", "agency-7", "clean-blog-6", "bamboo-css", "landing-page-6", "freelancer-7", "requests-doc",
    "shop-homepage-5",
)  # fmt: skip
MOST_PAGES = 5
THREE = 3
# what a made palette aims for: the ratios of main text, quiet text, buttons; OKLCH lightness of dark and light pages
TEXT, QUIET, BUTTONS = (9.0, 16.0), 5.5, 5.0
_ALL_BUT = 0.95  # of the most that a given colour lets words on it have, where that is less
DARK, LIGHT = (0.17, 0.27), 0.94
HEADINGS = (
    "site", "palettes", "texts hard to read (most)", "given colours changed", "three apart %", "main text 9 to 16 %",
    "text in coats 5.5 and up %", "quiet 5.5 and up %", "buttons 5 and up %", "pages as light or dark as meant %",
    "given colours on", "first, median", "first, worst",
)  # fmt: skip


_KINDS = ("text", "coats", "quiet", "accent-text")


@dataclass
class Tally:
    """What came of all seeds on one site."""

    name: str
    palettes: int = 0
    unread: list[int] = field(default_factory=list)
    changed: int = 0
    seeds: int = 0
    three_apart: int = 0
    comfort: dict[str, list[bool]] = field(default_factory=lambda: {name: [] for name in _KINDS})
    pages: list[bool] = field(default_factory=list)
    where: Counter[str] = field(default_factory=Counter)
    times: list[float] = field(default_factory=list)


def known_site(name: str) -> KnownSite:
    """Return a site, five pages of it at most."""
    site = read_site(_folder(name))
    for page in site.pages[MOST_PAGES:]:
        del site.files[page]
    return KnownSite(survey_site(site))


def _folder(name: str) -> Path:
    if name == "otterlock":
        return corpus.ROOT / "samples" / name
    return corpus.fetch(next(site for site in FRESH if site.name == name))


def tally(name: str, seeds: list[list[Colour]]) -> Tally:
    """Return what making gives for some seeds on a site."""
    known, found = known_site(name), Tally(name)
    study = known.first_study("Proposed")
    known.index, known.uses  # noqa: B018 (worked out before the clock starts)
    fixing = _seconds(lambda: fix_all(known, study))
    for colours in seeds:
        found.times.append(_seconds(lambda: make_study(known, study, colours, 0)) / fixing)  # noqa: B023 (called at once)
        made = make_studies(known, study, colours, most=THREE)
        found.seeds += 1
        apart = all(average_difference(a.study, b.study) >= APART for n, a in enumerate(made) for b in made[:n])
        found.three_apart += len(made) == THREE and apart
        for one in made:
            _count(found, known, one)
    return found


def _seconds(do: object) -> float:
    assert callable(do)
    start = time.thread_time()
    do()
    return time.thread_time() - start


def _count(found: Tally, known: KnownSite, made: Made) -> None:
    found.palettes += 1
    found.unread.append(len(hard_texts(known, made.study)))
    roles = {role.id: role for role in made.study.roles}
    found.changed += sum(roles[name].value != colour for name, colour in made.given.items())
    for name in made.given:
        role = roles[name]
        found.where["a coat" if role.coat else "not used" if role.kind == "detail" else str(role.kind)] += 1
    page = made.study.first("background")
    if page is not None and page.id not in made.given:
        lightness = float(oklch_from_oklab(oklab_from_srgb(np.array([page.colour.rgb])))[0, 0])
        found.pages.append(DARK[0] - 5e-3 <= lightness <= DARK[1] + 5e-3 or lightness >= LIGHT - 5e-3)
    _comfort(found, known, made)


def _comfort(found: Tally, known: KnownSite, made: Made) -> None:
    """Count the pairings at rest, whose text is no given colour, that have the ratio they aim for."""
    study, given_roles = made.study, set(made.given)
    reading, owner = known.read(study), known.tokens.roles(study)
    roles = {role.id: role for role in study.roles}
    fades, index = reading.readings.fades, reading.index
    on_picture = on_pictures(known, study, known.tokens.values(study))
    pairings = known.dressed(study).index.pairing if study.worn else np.arange(len(on_picture))
    for row in np.nonzero(index.at_rest & index.is_used & ~on_picture[pairings])[0].tolist():
        token = index.text_token(row)
        role = roles.get(owner.get(token, "")) if token is not None else None
        ratio = float(reading.readings.ratio[row])
        below = next((roles[owner[t]] for t in index.background_tokens(row) if t in owner), None)
        if role is None or role.id in given_roles or np.isnan(ratio) or str(role.kind) not in found.comfort:
            continue
        if not index.counts(row) or index.fading(row, fades) < 1:
            continue  # what is exempt, and what the page fades, is not made
        wanted = QUIET if role.kind in ("text", "quiet") else BUTTONS
        if below is not None and below.id in given_roles:
            wanted = min(wanted, _ALL_BUT * _most_on(below.colour))
        is_good = ratio + 0.05 >= wanted
        if role.kind != "text":
            found.comfort[str(role.kind)].append(is_good)
        elif below in (made.study.first("background"), made.study.first("panel")):
            found.comfort["text"].append(TEXT[0] <= ratio + 0.05 and ratio <= TEXT[1] + 0.05)
        else:
            found.comfort["coats"].append(is_good)


def _most_on(ground: Colour) -> float:
    """Return the most contrast that words can have on a colour."""
    return max(contrast_ratio(Colour(level, level, level), ground.with_alpha(1.0)) for level in (0.0, 1.0))


def row_of(one: Tally) -> list[str]:
    """Return a row under HEADINGS."""
    where = ", ".join(f"{name} {count}" for name, count in one.where.most_common())
    hard = sum(count > 0 for count in one.unread)
    return [
        one.name, str(one.palettes), f"{hard} ({max(one.unread)})", str(one.changed),
        f"{100 * one.three_apart / one.seeds:.0f}", *(_share(one.comfort[kind]) for kind in one.comfort),
        _share(one.pages), where, f"{np.median(one.times):.1f}", f"{max(one.times):.1f}",
    ]  # fmt: skip


def _share(some: list[bool]) -> str:
    return f"{100 * np.mean(some):.0f}" if some else ""


def main() -> None:
    """Run it."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("names", nargs="*", default=SITES)
    options.add_argument("--seeds", type=int, default=100)
    chosen = options.parse_args()
    print(f"| {' | '.join(HEADINGS)} |\n|{'---|' * len(HEADINGS)}", flush=True)
    for name in chosen.names or SITES:
        print(f"| {' | '.join(row_of(tally(name, given(chosen.seeds))))} |", flush=True)


if __name__ == "__main__":
    main()

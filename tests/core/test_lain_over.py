"""A menu that lies over a section without lying in it: read on what the section wears, once a browser has measured."""

from __future__ import annotations

import pytest

from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Box, Measured, PageLayout, Spot
from glaucon.core.places.widening import TextCounts
from glaucon.core.reading.reading import FAIL
from glaucon.core.study import coats
from glaucon.core.study.scopes import Where
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

PAGE = """<!doctype html><title>Yard</title><style>
header { position: absolute; top: 0; width: 100%; } header a { color: #fff; text-decoration: none }
#lock { HERO } #lock p { color: #fff } #reach { background: #fff; color: #123 }
</style><header><a href="boats.html">Boats</a></header>
<section id=lock><p>Slow water, and a boat for every week of it, from the yard below the bridge.
<table><tr><td>Locks<td>Two</table></section>
<section id=reach><p>Prices, and what they hold: the boat, the gas, the mooring and the first tank.</section>"""
HTML, BODY = "html", "html>body:nth-child(2)"
HEADER, LOCK, REACH = f"{BODY}>header:nth-child(1)", f"{BODY}>section:nth-child(2)", f"{BODY}>section:nth-child(3)"
TABLE = f"{LOCK}>table:nth-child(2)"
LINK, WORDS = f"{HEADER}>a:nth-child(1)", f"{LOCK}>p:nth-child(1)"


def known_site(hero: str, *over: str) -> KnownSite:
    """Return a page whose menu lies over one of its sections."""
    places = {BODY: (0, 0, 1280, 900), HEADER: (0, 0, 1280, 40), LOCK: (0, 0, 1280, 300), REACH: (0, 0, 1280, 600)}
    places[TABLE] = (0, 0, 200, 60)
    boxes = {path: Measured(Box(*map(float, place))) for path, place in {HTML: places[BODY], **places}.items()}
    runs = {
        LINK: (Spot(Box(10.0, 10.0, 60.0, 20.0), (LINK, HEADER, *over, BODY, HTML), ()),),
        WORDS: (Spot(Box(10.0, 80.0, 600.0, 20.0), (WORDS, LOCK, BODY, HTML), ()),),
    }
    layout = PageLayout(1280, 800, 900, boxes=boxes, runs=runs)
    files = SiteFiles({"index.html": PAGE.replace("HERO", hero).encode()})
    return KnownSite(survey_site(files, [ContextKey(1280, "rest")], {("index.html", 1280): layout}))


def menu_of(known: KnownSite, where: Where | None) -> tuple[str, float, bool]:
    """Return what the menu's word stands on, its ratio and whether it is hard to read, a place being white."""
    study = known.first_study("x")
    if where is not None:
        study = coats.wear(study, [where], None, {"background": "#ffffff"})
    reading = known.read(study)
    survey = reading.index.survey
    run = next(n for n, one in enumerate(survey.runs) if one.path == LINK)
    row = next(one.pairing for one in survey.sightings[ContextKey(1280, "rest")] if one.run == run)
    ground = reading.readings.ground[row]
    shown = "#" + "".join(f"{round(float(v) * 255):02x}" for v in ground[:3])
    return shown, round(float(reading.readings.ratio[row]), 2), bool(reading.readings.verdict[row] == FAIL)


NAVY = "background: #102a43"
OVER = {
    "as it came": (NAVY, None, [LOCK], "#102a43"),
    "its section made white": (NAVY, Where(section="lock"), [LOCK], "#ffffff"),
    "a table of it made white": (NAVY, Where(part="table"), [TABLE, LOCK], "#ffffff"),
    "that one table made white": (NAVY, Where(part="table", page="index.html", at=TABLE), [TABLE, LOCK], "#ffffff"),
    "that table, not lain over": (NAVY, Where(part="table", page="index.html", at=TABLE), [LOCK], "#102a43"),
    "a section that paints nothing": ("", Where(section="lock"), [LOCK], "#ffffff"),
    "a section in a property": ("--deep: #102a43; background: var(--deep)", Where(section="lock"), [LOCK], "#ffffff"),
    "another section made white": (NAVY, Where(section="reach"), [LOCK], "#102a43"),
}


@pytest.mark.parametrize("name", OVER)
def test_what_a_menu_lies_over_is_what_the_section_wears(name: str) -> None:
    hero, where, over, ground = OVER[name]
    shown, ratio, is_hard = menu_of(known_site(hero, *over), where)
    assert shown == ground
    assert is_hard == (ground == "#ffffff") and (ratio == 1.0) == is_hard


@pytest.mark.parametrize(("over", "texts"), [(LOCK, (4, 1)), (REACH, (3, 2))])
def test_a_reach_counts_what_lies_over_it(over: str, texts: tuple[int, int]) -> None:
    known = known_site(NAVY, over)
    counts = TextCounts(known, known.first_study("x"), 1280)
    assert (counts.reached(Where(section="lock")), counts.reached(Where(section="reach"))) == texts

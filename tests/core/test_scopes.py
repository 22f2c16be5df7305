"""Sections, parts and what is worn there: found by name and selector, read as set, refused where they cannot be."""

from __future__ import annotations

import re
from itertools import product
from pathlib import Path

import numpy as np
import pytest

from glaucon.core.cascade.tree import parse_document
from glaucon.core.colour.contrast import contrast_ratio
from glaucon.core.errors import StudyError
from glaucon.core.exchange.recolour import recolour_site
from glaucon.core.known.site import KnownSite
from glaucon.core.layout.document import Box, Measured, PageLayout, Spot
from glaucon.core.places.joining import join_sections, part_sections
from glaucon.core.places.plain import PLAIN, plain_coat, plain_values, wear_by_turns
from glaucon.core.reading.reading import FAIL
from glaucon.core.scopes.coats_worn import came_apart
from glaucon.core.scopes.css import dressing_of
from glaucon.core.scopes.values import coat_values
from glaucon.core.study import coats
from glaucon.core.study.roles import TEXT_KINDS
from glaucon.core.study.scopes import Like, Where
from glaucon.core.study.study import Study, read_study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.pointing import pointing_at
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle import corpus

WORDS = "Forty quiet miles of water and two locks to the basin, and a kettle on the stove for whoever comes by. "


REST = ContextKey(1280, "rest")


@pytest.fixture(scope="module")
def yard(otterlock: Path) -> KnownSite:
    return KnownSite(survey_site(read_site(otterlock), [ContextKey(1280, "rest"), ContextKey(1280, "hover")]))


def page_of(body: str, css: str = "") -> SiteFiles:
    return SiteFiles({"index.html": f"<!doctype html><title>Yard</title><style>{css}</style>{body}".encode()})


def page(body: str, css: str = "") -> KnownSite:
    return KnownSite(survey_site(page_of(body, css), [REST]))


# pages of every make, and the sections a person would name on them
MADE = {
    "landmarks": (
        f"<header><h1>Yard</h1><p>{WORDS}</p></header><main><section><h2>Boats</h2>{WORDS}</section>"
        f"<section><h2>Locks</h2>{WORDS}</section></main><footer>{WORDS}</footer>",
        "", ["Header", "Boats", "Locks", "Footer"],
    ),
    "boxes with classes": (
        f"<div id=wrap><div id=header>{WORDS}</div><div class=sidebar>{WORDS}</div><div id=content>{WORDS}</div>"
        f"<div class=footer>{WORDS}</div></div>",
        "", ["Header", "Sidebar", "Content", "Footer"],
    ),
    "a table for layout": (
        f"<table><tr><td bgcolor=#dde>{WORDS}</td><td class=news><h2>News</h2>{WORDS * 3}</td></tr></table>",
        ".news { background: #eef }", ["Forty quiet miles", "News"],
    ),
    "bands that paint": (
        f"<div class=a>{WORDS}</div><div class=price-band><h2>Prices</h2>{WORDS}</div><div class=c>{WORDS}</div>",
        ".price-band { background: #fe9 }", ["Prices"],
    ),
    "cards are parts": (
        "<main><h2>Fleet</h2>" + f"<div class=card><h3>Heron</h3><p>{WORDS}</p></div>" * 3 + "</main>",
        ".card { background: #eee }", ["Content"],
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", MADE)
def test_sections_are_what_a_person_would_name(name: str) -> None:
    body, css, labels = MADE[name]
    found = [region.label for region in page(body, css).survey.regions if region.is_section]
    assert found == labels


def test_selectors_find_exactly_their_elements(yard: KnownSite, otterlock: Path) -> None:
    """Each on the pages its region is on, as another parser's selectors say."""
    from selectolax.lexbor import LexborHTMLParser

    files = read_site(otterlock).files
    trees = {path: LexborHTMLParser(data) for path, data in files.items() if path.endswith(".html")}
    for number, region in enumerate(yard.survey.regions):
        own = {r.page for r in yard.survey.runs if number in yard.survey.chains[r.chain]}
        assert own <= region.pages
        counts = {page: len(trees[page].css(region.selector)) for page in region.pages}
        assert all(count == 1 if region.is_section else count >= 1 for count in counts.values()), (region, counts)


def test_a_selector_by_place_only_where_nothing_else_tells() -> None:
    text = f"<main><div>{WORDS}</div><div>{WORDS}</div></main>"
    document = parse_document(text)
    second = [one for one in document.elements if one.tag == "div"][1]
    assert list(pointing_at([("a", second)], {"a": document})) == [("main > div:nth-child(2)", [("a", second)])]


def test_any_coat_on_any_section_is_readable(yard: KnownSite) -> None:
    """Text of all kinds, on the coat's own background and panel (the coats that came may fail by themselves)."""
    study = coats.add_coat(yard.first_study("x"), "Night", "#0d1b2a")[0]
    study = coats.add_coat(study, "Noon", "#f7d046")[0]
    for coat in ("night", "noon"):
        values = coat_values(study, coat)
        grounds = [values["background", "rest"], values.get(("panel", "rest"), values["background", "rest"])]
        text = {use: colour for use, colour in values.items() if use[0] in TEXT_KINDS - {"accent-text"}}
        assert {"text", "link", "quiet", "heading"} <= {kind for kind, _ in text}
        assert all(contrast_ratio(c, ground) >= 4.5 - 1e-9 for c, ground in product(text.values(), grounds))


_LINES = "".join(f"<li><a href=#{n}>Lock number {n}</a></li>" for n in range(6))
_BAND = "<section class=band><h2>Open water</h2><p>Two locks to the basin, and a kettle on the stove.</p></section>"
_ENTRY = f"<section class=entry><h2>A lock</h2><p>{WORDS}</p><p class=date>March to October</p></section>"
# what one colour does in a section may be another thing than it does elsewhere
UNLIKE = {
    "a menu on the colour of words": (
        f"<nav><ul>{_LINES}</ul></nav><main>{_ENTRY}{_ENTRY}</main>",
        ":root { --brand: #bd5d38 } nav { background: var(--brand) } nav a { color: #fff }"
        ".date { color: var(--brand); font-size: 40px }",
    ),
    "words in the colour of a band": (
        f"<main>{_BAND * 3}{_ENTRY}</main>",
        ":root { --brand: #12506a } .band { background: var(--brand); color: #fff } .date { color: var(--brand) }",
    ),
    "a menu that the page shines through": (
        f"<nav><ul>{_LINES}</ul></nav><main>{_ENTRY}</main>",
        "body { background: #2f170f; color: #eee } nav { background: rgb(47 23 15 / 0.9) } nav a { color: #e6a756 }",
    ),
    "links that only the footer has": (
        f"<main>{_ENTRY}{_BAND}</main><footer><ul>{_LINES}</ul></footer>",
        ".band { background: #6c757d; color: #fff } footer { background: #212529; color: #fff }"
        "footer a { color: #9b9d9f }",
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", UNLIKE)
def test_any_coat_is_readable_where_colours_do_other_things(name: str) -> None:
    known = page(*UNLIKE[name])
    study, _ = coats.add_coat(known.proposal().study(known.survey, "x"), "Sandbank", "#f0e0c0", None)
    sections = [(n, region) for n, region in enumerate(known.survey.regions) if region.is_section]
    assert len(sections) >= 2
    for (number, region), coat in product(sections, study.coats):
        reading = known.read(coats.wear(study, [Where(section=region.key)], coat.id, {}))
        within = [
            known.survey.runs[sighting.run].text
            for sighting in reading.index.survey.sightings[REST]
            if number in known.survey.chains[known.survey.runs[sighting.run].chain]
            and reading.readings.verdict[sighting.pairing] == FAIL
        ]
        assert within == [], (region.key, coat.label)


def test_deeper_wins_and_one_page_over_all(yard: KnownSite) -> None:
    study = yard.first_study("x")
    worn = [
        {"in": {"page": "index.html"}, "set": {"text": "#111111", "background": "#fafafa"}},
        {"in": {"section": "from-the-towpath"}, "set": {"text": "#222222"}},
        {"in": {"section": "footer"}, "set": {"text": "#333333"}},
        {"in": {"section": "footer", "page": "index.html"}, "set": {"text": "#444444"}},
    ]
    scoped = read_study({**study.model_dump(mode="json"), "worn": worn})
    seen = colours_of(yard, scoped)
    assert seen["index.html", "The yard keeps"] == "#111111"
    assert seen["index.html", "Two herons"] == "#222222"
    assert seen["index.html", "Otterlock Boats, the top"] == "#444444"
    assert seen["prices.html", "Otterlock Boats, the top"] == "#333333"
    # what no scope is on is as it was
    before = colours_of(yard, study)
    assert {key: seen[key] for key in seen if key[0] == "book.html" and "Otterlock" not in key[1]} == {
        key: before[key] for key in before if key[0] == "book.html" and "Otterlock" not in key[1]
    }


def colours_of(yard: KnownSite, study: Study) -> dict[tuple[str, str], str]:
    """Return the colour of some texts at rest, by page and the first words."""
    reading = yard.read(study)
    found = {}
    for sighting in reading.index.survey.sightings[ContextKey(1280, "rest")]:
        run = yard.survey.runs[sighting.run]
        words = reading.readings.words[sighting.pairing]
        for start in ("The yard keeps", "Two herons", "Otterlock Boats, the top"):
            if run.text.startswith(start):
                found[run.page, start] = "#" + "".join(f"{round(float(c) * 255):02x}" for c in np.clip(words, 0, 1))
    return found


def test_only_tokens_and_the_link_change(yard: KnownSite, otterlock: Path) -> None:
    from tests.oracle.handing_back import _strays

    site, study = read_site(otterlock), yard.first_study("x")
    scoped = coats.wear(study, [Where(section="footer"), Where(page="prices.html")], "sand", {})
    out = recolour_site(site, yard.survey, scoped)
    assert _strays(site, out.files) == 0
    sheets = [path for path in out.files if path.startswith("glaucon-")]
    # the price page has a stylesheet of its own, all others share one
    assert len(sheets) == 3 and b":where(footer.foot)" in out.files[max(sheets, key=lambda s: len(out.files[s]))]


def test_what_stands_in_an_attribute_follows_a_scope(yard: KnownSite, otterlock: Path) -> None:
    study, _ = coats.add_coat(yard.first_study("x"), "Moss", "#6f7f4f")
    place = Where(section="tunnel-shut-for-brickwork", page="notices/tunnel.html")
    scoped = coats.wear(study, [place], "moss", {})
    index = (reading := yard.read(scoped)).index.survey
    (one,) = {s.pairing for s in index.sightings[REST] if index.runs[s.run].text == "(Updated twice.)"}
    assert reading.readings.ratio[one] >= 4.5
    out = recolour_site(read_site(otterlock), yard.survey, scoped)
    assert b'<font color="#8a8a8a">' in out.files[place.page]
    rule = b':where(font[color="#8a8a8a"], font[color="#8c8a78"]) { color: var(--gl-quiet, #8a8a8a) }'
    assert sum(rule in data for data in out.files.values()) == 1


# what a section takes over from around it, and what is said again in it
SAID_AGAIN = {
    "of the page": (":root { --brand: #c8452b }", "--brand", "var(--gl-link, #c8452b)"),
    "with more in it": (
        ":root { --edge: 1px solid #0a0b0c } p { border: var(--edge) }",
        "--edge",
        "1px solid var(--gl-line, #0a0b0c)",
    ),
    "of an element around": (".bar { --brand: #c8452b }", "--brand", "var(--gl-link, #c8452b)"),
    "made of another": (":root { --a: #c8452b } .bar { --brand: var(--a) }", "--brand", "var(--gl-link, #c8452b)"),
    "three numbers": (
        ":root { --brand-rgb: 200, 69, 43 } a { color: rgb(var(--brand-rgb)) } "
        ".bar { --tint: rgba(var(--brand-rgb), .5) }",
        "--tint",
        "rgba( var(--gl-link-rgb, 200, 69, 43) , .5)",
    ),
    "not where two differ": (".bar { --brand: #c8452b } .bar + .bar { --brand: #00c }", "--brand", None),
    "not with an address": (".bar { --tint: #c8452b url(a.png) }", "--tint", None),
    "not of another colour": (".bar { --brand: #c8452b; --other: #123456 }", "--other", None),
}


@pytest.mark.parametrize("name", SAID_AGAIN)
def test_custom_properties_of_the_site_are_said_again(name: str) -> None:
    css, prop, wanted = SAID_AGAIN[name]
    bar = f"<div class=bar><div class=card><p><a href=#>Boats</a> {WORDS}</div></div>"
    known = page(f"<main>{bar}{bar}{bar}</main>", f"a {{ color: var(--brand, #c8452b) }} p {{ color: #123456 }} {css}")
    study = known.first_study("x")
    scoped = coats.wear(study, [Where(part="card")], None, {"link": "#00ff00", "line": "#0000ff"})
    said = dressing_of(scoped, known.survey).css("index.html")
    (inner,) = re.findall(r":where\(div\.card\) \{ (.*?) \}", said)
    told = dict(one.split(": ", 1) for one in inner.split("; "))
    assert told["--gl-link"] == "#00ff00" and told.get(prop) == wanted


def test_custom_properties_that_differ_from_page_to_page_are_said_again_on_each() -> None:
    bar = f"<main><div class=card><p><a href=#>Boats</a> {WORDS}</div><div class=card><p>{WORDS}</div></main>"
    site = SiteFiles(
        {
            f"{name}.html": f"<!doctype html><title>{name}</title><style>a {{ color: var(--brand) }} "
            f":root {{ --brand: {colour} }}</style>{bar}".encode()
            for name, colour in {"hire": "#c8452b", "locks": "#00c", "moor": "#c8452b"}.items()
        }
    )
    known = KnownSite(survey_site(site, [REST]))
    study = coats.wear(known.first_study("x"), [Where(part="card")], None, {"link": "#0f0"})
    dressing = dressing_of(study, known.survey)
    said = {name: re.findall(r"--brand: (.*?)[;} ]*\}", dressing.css(f"{name}.html")) for name in ("hire", "locks")}
    assert said["hire"] == ["var(--gl-link, #c8452b)"] and "#00c" in said["locks"][0]
    together = dressing.for_previews(known.survey.pages, "data-page").splitlines()
    assert len(together) == 3
    assert "--brand" not in together[0] and "locks" in together[2] and "hire" not in together[2]


# (boxes of three sections, where words lie in between, the backgrounds): the sentence, or the gap that is closed
TOP, MIDDLE, LOW = [24, 24, 600, 100], [24, 156, 600, 100], [24, 288, 600, 100]
SAND, TEAL = {"background": "#e4d3b0"}, {"background": "#0b5d4a"}
JOINED = {
    "one under another": ([TOP, MIDDLE, LOW], [], [SAND, SAND, SAND], 33.0),
    "a gap that rounding makes": ([TOP, [24, 124.3, 600, 100], LOW], [], [SAND, SAND, SAND], 64.7),
    "touching": ([TOP, [24, 124, 600, 100], [24, 224, 600, 90]], [], [SAND, SAND, SAND], "touch already"),
    "beside each other": ([TOP, [700, 24, 600, 100], [1400, 24, 90, 90]], [], [SAND, SAND, SAND], "one right under"),
    "narrower": ([TOP, [200, 156, 100, 100], [24, 5000, 600, 90]], [], [SAND, SAND, SAND], "one right under"),
    "words between": ([TOP, MIDDLE, [24, 5000, 9, 9]], [40, 130, 80, 20], [SAND, SAND, SAND], "one right under"),
    "in two colours": ([TOP, MIDDLE, LOW], [], [SAND, TEAL, SAND], "Give them one coat first"),
    "not measured": (None, [], [SAND, SAND, SAND], "not measured yet"),
}


@pytest.mark.parametrize("name", JOINED)
def test_neighbours_are_made_one_by_the_gap_between_them(name: str) -> None:
    boxes, words, worn, wanted = JOINED[name]
    keys = ("berths", "tolls", "wharf")
    files = page_of("".join(f"<section id={key}><p>{WORDS}</section>" for key in keys))
    known = KnownSite(survey_site(files, [REST]))
    study = known.first_study("x")
    sections = [next(r for r in known.survey.regions if r.selector == f"#{key}") for key in keys]
    for section, values in zip(sections, worn, strict=True):
        study = coats.wear(study, [Where(section=section.key)], None, values)
    layouts = {}
    if boxes is not None:
        at = [f"html>body:nth-child(2)>section:nth-child({n + 1})" for n in range(3)]
        spots = {at[0] + ">p:nth-child(1)": (Spot(Box(*map(float, words)), (), ()),)} if words else {}
        measured = {path: Measured(Box(*map(float, box))) for path, box in zip(at, boxes, strict=True)}
        layouts["index.html", 1280] = PageLayout(1280, 800, 900, boxes=measured, runs=spots)
    if isinstance(wanted, str):
        with pytest.raises(StudyError, match=wanted):
            join_sections(study, files, layouts, sections, known.survey.pages)
        return
    joined = join_sections(study, files, layouts, sections, known.survey.pages)

    def closed(of: Study) -> list[str]:
        css = dressing_of(of, known.survey).css("index.html")
        return re.findall(r":where\((#\w+)\) \{ box-shadow: 0 ([\d.]+)px #e4d3b0 \}", css)

    if name == "one under another":
        assert closed(joined) == [("#berths", "33"), ("#tolls", "33")]
    assert (sections[1].selector, f"{wanted:g}") in closed(joined)
    # it holds while both wear the same, and comes back with that
    other = coats.wear(joined, [Where(section=sections[1].key)], None, TEAL)
    assert closed(other) == [] and closed(coats.wear(other, [Where(section=sections[1].key)], None, SAND))
    assert closed(part_sections(joined, [s.key for s in sections])) == [] == closed(study)


HEADER, FOOTER = Where(section="header"), Where(section="footer")
REFUSED = {
    "a coat nobody has": (lambda s: coats.wear(s, [Where(page="a")], "lamp", {}), "no coat “lamp”"),
    "a coat that came": (lambda s: coats.delete_coat(s, "footer", None, True), "came with the site"),
    "a name that is taken": (lambda s: coats.add_coat(s, s.coats[0].label.lower(), "#fff"), "footer” already"),
    "no name": (lambda s: coats.add_coat(s, "  ", "#fff"), "needs a name"),
    "colours taken from itself": (lambda s: coats.wear_as(s, [HEADER], Like(where=HEADER)), "from each other"),
    "colours taken in a circle": (
        lambda s: coats.wear_as(coats.wear_as(s, [HEADER], Like(where=FOOTER)), [FOOTER], Like(where=HEADER)),
        "from each other",
    ),
    "wearers nobody answered for": (
        lambda s: coats.delete_coat(
            coats.wear(coats.add_coat(s, "N", "#000")[0], [Where(page="a")], "n", {}), "n", None, False
        ),
        "1 place wears “N”",
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", REFUSED)
def test_what_cannot_be_is_refused(name: str, yard: KnownSite) -> None:
    act, words = REFUSED[name]
    with pytest.raises(StudyError, match=words):
        act(yard.first_study("x"))


def test_coats_are_copied_renamed_deleted_and_worn_by_turns(yard: KnownSite) -> None:
    study = coats.add_coat(yard.first_study("x"), "Lock gate", "#000", like="hull")[0]
    assert study.first("background", "lock-gate").value == study.first("background", "hull").value  # type: ignore[union-attr]
    places = [Where(section=name) for name in ("header", "boats-at-the-yard", "from-the-towpath", "footer")]
    study = wear_by_turns(yard, study, places, ["lock-gate", None], {})
    assert [(scope.where.section, scope.coat) for scope in study.worn] == [
        ("header", "lock-gate"), ("from-the-towpath", "lock-gate"),
    ]  # fmt: skip
    study = coats.rename_coat(study, "lock-gate", "Gate")
    gone = coats.delete_coat(study, "lock-gate", "sand", True)
    assert [scope.coat for scope in gone.worn] == ["sand", "sand"] and not gone.roles_of("lock-gate")


def test_plain_is_the_pages_own_colours_wherever_a_section_came_with_others(yard: KnownSite) -> None:
    places = [Where(section=name) for name in ("header", "boats-at-the-yard", "from-the-towpath", "footer")]
    study = wear_by_turns(yard, yard.first_study("x"), places, [PLAIN, "hull"], {})
    plain = plain_coat(study)
    # the header came plain; the towpath came sand-coloured
    worn = {scope.where.section: scope.coat for scope in study.worn}
    assert worn == {"boats-at-the-yard": "hull", "from-the-towpath": plain, "footer": "hull"}
    for page in ("#fbf7ef", "#ffffff"):
        repainted = study.with_values({"background": page})
        values = coat_values(repainted, plain or "")
        assert values["background", "rest"].hex() == page
        assert contrast_ratio(values["text", "rest"], values["background", "rest"]) >= 4.5
    again = wear_by_turns(yard, study, places, [PLAIN], {})
    assert plain_coat(again) == plain and len(again.coats) == len(study.coats)
    assert not wear_by_turns(yard, again, places, [None], {}).worn


def test_a_section_on_a_colour_that_texts_have_too_came_apart_and_is_made_plain() -> None:
    """One custom property paints the menu and the dates: it can be no coat, and is called after neither."""
    css = (
        ":root { --brand: #bd5d38 } body { background: #fff; color: #444 } nav { background: var(--brand) }"
        "nav a { color: #fff } .date { color: var(--brand); font-size: 40px } h2 { color: #222 }"
    )
    menu = "".join(f"<li><a href=#{n}>Lock number {n}</a></li>" for n in range(6))
    entry = f"<h2>A lock</h2><p>{WORDS}</p><p class=date>March to October</p>"
    main = f"<main><section id=a>{entry}</section><section id=b>{entry}</section></main>"
    known = page(f"<nav><ul>{menu}</ul></nav>{main}", css)
    study = known.proposal().study(known.survey, "x")
    brand = next(role for role in study.roles if role.colour.hex() == "#bd5d38")
    assert (brand.label, study.coats) == ("Brand", ())
    apart = {known.survey.regions[n].key for n in came_apart(known, study)}
    assert apart == {"navigation"}
    # what the card of plain shows is what plain gives: white links are only on the menu
    values = plain_values(known, study)
    ground = values["background", "rest"]
    assert ground.hex() == "#ffffff" and contrast_ratio(values["link", "rest"], ground) >= 4.5
    worn = wear_by_turns(known, study, [Where(section="navigation"), Where(section="a")], [PLAIN], {})
    assert [(scope.where.region, scope.coat) for scope in worn.worn] == [("navigation", plain_coat(worn))]
    reading = known.read(worn)
    assert reading.hard == 0, [finding.sample for finding in reading.findings]


def test_a_place_takes_the_colours_of_another_whatever_that_one_wears(yard: KnownSite) -> None:
    tag = Where(part="tag")
    study = coats.wear_as(yard.first_study("x"), [tag], Like(where=FOOTER, came="footer"))

    def worn(of: Study) -> tuple[str | None, dict[str, str]]:
        scope = next(one for one in of.worn if one.where == tag)
        return scope.coat, dict(scope.set)

    assert worn(study) == ("footer", {})
    given = coats.wear(study, [FOOTER], "sand", {"link": "#0b5c7a"})
    assert worn(given) == ("sand", {"link": "#0b5c7a"})
    assert worn(coats.wear(given, [FOOTER], None, {})) == ("footer", {})
    chained = coats.wear_as(given, [HEADER], Like(where=tag))
    assert next(one for one in chained.worn if one.where == HEADER).coat == "sand"
    assert read_study(given.model_dump(mode="json", by_alias=True)) == given


@pytest.mark.parametrize("folder", [corpus.OWN / "variables", corpus.OWN / "stacks"], ids=lambda path: path.name)
def test_without_scopes_nothing_is_dressed(folder: Path) -> None:
    known = KnownSite(survey_site(read_site(folder), [ContextKey(1280, "rest")]))
    study = known.first_study("x")
    plain = known.read(study)
    far = study.model_copy(update={"worn": read_study(
        {**study.model_dump(mode="json"), "worn": [{"in": {"section": "gone"}, "set": {"text": "#ff0000"}}]}
    ).worn})  # fmt: skip
    assert (known.read(far).readings.verdict == plain.readings.verdict).all()

"""Logos that are lost on a new background are told, those that are not are not, and each way out brings them back."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from glaucon.core.known.site import KnownSite
from glaucon.core.places.lost_marks import Way, lost_marks, rule_for, versions_of
from glaucon.core.study import coats
from glaucon.core.study.own_css import NAME
from glaucon.core.study.scopes import Where
from glaucon.core.study.study import Study
from glaucon.core.survey.model import ContextKey
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import Surveyor

REST = ContextKey(1280, "rest")
PAGE = (
    "<!doctype html><title>Yard</title><style>{css}</style><header><img src=img/LOGO alt='Otterlock'> "
    "<a href=#>Boats</a></header><main><p>Forty quiet miles of water and two locks to the basin.</p></main>"
)


def png(*colours: tuple[int, int, int, int]) -> bytes:
    """Return stripes of colours, the same width each."""
    pixels = np.repeat(np.array([colours], dtype=np.uint8), 20, axis=0).repeat(12, axis=1)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


def svg(inner: str) -> bytes:
    return f"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 40 20' width='40' height='20'>{inner}</svg>".encode()


GREEN, ORANGE, WHITE, CLEAR = (20, 61, 51, 255), (200, 69, 43, 255), (255, 255, 255, 255), (0, 0, 0, 0)
NOISE = tuple((40 * n % 256, 90 * n % 256, 13 * n % 256, 255) for n in range(20))
# (the logo, what the header gets, the ways out; None: nothing is told)
LOGOS: dict[str, tuple[bytes, str, tuple[Way, ...] | None]] = {
    "green on green": (png(GREEN, CLEAR, GREEN), "#0f2f27", ("plate", "light")),
    "green on white": (png(GREEN, CLEAR, GREEN), "#ffffff", None),
    "a drawing": (svg("<path d='M0 0h9v9z' fill='#143d33'/>"), "#0f2f27", ("plate", "light")),
    "a drawing that says no colour": (svg("<path d='M0 0h9v9z'/>"), "#111111", ("plate", "light")),
    "white on white, as it came": (png(WHITE, CLEAR), "#fffff0", None),
    "mostly green, some orange": (png(GREEN, GREEN, GREEN, GREEN, ORANGE, CLEAR), "#0f2f27", ("plate",)),
    "half of it is seen": (png(GREEN, WHITE, CLEAR), "#0f2f27", None),
    "with a background of its own": (png(GREEN, WHITE), "#0f2f27", None),
    "a photograph cut out": (png(*NOISE, CLEAR, CLEAR), "#0f2f27", None),
    "a file of no picture": (b"nothing", "#0f2f27", None),
}


def known(logo: bytes, more: str = "") -> KnownSite:
    name = "logo.svg" if logo.startswith(b"<svg") else "logo.png"
    page = PAGE.replace("LOGO", name).replace("{css}", "body { background: #fdf9f0 } header { padding: 1em }")
    site = SiteFiles({"index.html": page.encode(), f"img/{name}": logo})
    return KnownSite(Surveyor(site, more_css=more, more_file=NAME).survey([REST]))


def on(site: KnownSite, background: str) -> Study:
    header = next(region for region in site.survey.regions if region.kind == "header")
    return coats.wear(site.first_study("x"), [Where(section=header.key)], None, {"background": background})


@pytest.mark.parametrize("name", LOGOS)
def test_a_logo_is_lost_where_most_of_it_hardly_differs(name: str) -> None:
    logo, background, ways = LOGOS[name]
    site = known(logo)
    study = on(site, background)
    found = lost_marks(site, site, study)
    assert [one.ways for one in found] == ([] if ways is None else [ways])
    assert lost_marks(site, site, site.first_study("x")) == []
    for one in found:
        assert one.words == "Otterlock" and one.place == "Header" and one.pages == ("index.html",)
        assert one.under.hex() == background and one.plate.hex() == "#fdf9f0" and one.ratio < 3
        for way in one.ways:
            # the rule read with the site
            assert lost_marks(known(logo, rule_for(site, one, way)), site, study) == [], rule_for(site, one, way)


LINE = "<path d='M0 9h9' fill='none' stroke='currentColor'/>"
OF_IT = "background: url(img/logo.png)"
# (the header's content, CSS, the kind of mark that is told; None: nothing is)
ELSEWHERE: dict[str, tuple[str, str, str | None]] = {
    "behind a link": ("<a class=brand href=#></a>", f".brand {{ {OF_IT} no-repeat }}", "background"),
    "behind a link, in tiles": ("<a class=brand href=#></a>", f".brand {{ {OF_IT} }}", None),
    "behind words": ("<a class=brand href=#>Otterlock</a>", f".brand {{ {OF_IT} no-repeat }}", None),
    "drawn inline": (
        "<a href=#><svg viewBox='0 0 9 9'><title>Otterlock</title><path d='M0 0h9v9z' fill='#143d33'/>"
        "<path d='M0 0h9z' fill='#143d33'/></svg></a>", "", "drawing",
    ),
    "in the colour of its text": (
        f"<a class=brand href=#><svg viewBox='0 0 9 9'>{LINE}</svg></a>", ".brand { color: #143d33 }", "drawing",
    ),
    "drawn by rules": ("<svg class=mark><g><circle r=4 /></g></svg>", ".mark g { fill: #143d33 }", "drawing"),
    "used from elsewhere": (
        "<svg hidden><symbol id=otter><path d='M0 0h9z'/></symbol></svg><svg class=mark><use href='#otter'/></svg>",
        "[hidden] { display: none } .mark { fill: #143d33 }", "drawing",
    ),
    "white, seen": ("<svg viewBox='0 0 9 9'><path d='M0 0h9v9z' fill='#fff' stroke='#143d33'/></svg>", "", None),
    "on a ground of its own": ("<svg viewBox='0 0 9 9'><rect width='9' height='9'/></svg>", "", None),
    "beside words that say it": ("<a href=#><svg aria-hidden=true><circle r=4 /></svg> Call</a>", "", None),
    "filled with a gradient": ("<svg viewBox='0 0 9 9'><circle r=4 fill='url(#g)'/></svg>", "", None),
    "the edge of a section": ("<svg viewBox='0 0 900 9'><path d='M0 0h9v9z'/></svg>", "", None),
}  # fmt: skip


@pytest.mark.parametrize("name", ELSEWHERE)
def test_a_logo_that_is_no_picture_in_the_page(name: str) -> None:
    inner, css, told = ELSEWHERE[name]
    page = f"<!doctype html><title>Yard</title><style>body {{ background: #fdf9f0 }} {css}</style>"
    page += f"<header>{inner}</header><main><p>Forty quiet miles of water and two locks to the basin.</p></main>"
    files = {"index.html": page.encode(), "img/logo.png": png(GREEN, CLEAR, GREEN)}

    def read(more: str = "") -> KnownSite:
        return KnownSite(Surveyor(SiteFiles(files), more_css=more, more_file=NAME).survey([REST]))

    site = read()
    study = on(site, "#0f2f27")
    found = lost_marks(site, site, study)
    assert [(one.kind, one.ways) for one in found] == ([] if told is None else [(told, ("plate", "light"))])
    for one in found:
        assert one.colours[0].hex() == "#143d33" and one.place == "Header"
        for way in one.ways:
            assert lost_marks(read(rule_for(site, one, way)), site, study) == [], rule_for(site, one, way)


def test_a_logo_that_only_the_own_css_shows_was_not_seen_before() -> None:
    page = PAGE.replace("LOGO", "logo.png").replace("{css}", "header img { display: none }")
    site = SiteFiles({"index.html": page.encode(), "img/logo.png": png(GREEN, CLEAR, GREEN)})
    plain = KnownSite(Surveyor(site).survey([REST]))
    shown = KnownSite(Surveyor(site, more_css="header img { display: inline }", more_file=NAME).survey([REST]))
    assert not plain.survey.marks and len(shown.survey.marks) == 1
    assert lost_marks(shown, plain, on(plain, "#0f2f27")) == []


# (the file beside the logo, what it shows, whether it is offered on a dark green)
BESIDE: dict[str, tuple[str, bytes, bool]] = {
    "a white drawing": ("img/logo-white.svg", svg("<path d='M0 0h9v9z' fill='#fff'/>"), True),
    "white, elsewhere and large": ("assets/Logo_light.png", png(WHITE, CLEAR, WHITE), True),
    "as dark": ("img/logo-inverse.png", png(GREEN, CLEAR), False),
    "of another thing": ("img/mark-white.png", png(WHITE, CLEAR, WHITE), False),
    "broken": ("img/logo-white.png", b"nothing", False),
}


@pytest.mark.parametrize("name", BESIDE)
def test_another_version_of_a_lost_logo_is_shown_where_the_site_has_one(name: str) -> None:
    path, data, is_offered = BESIDE[name]
    logo = png(GREEN, CLEAR, GREEN)
    site = known(logo)
    files = {"img/logo.png": logo, path: data, "index.html": b""}
    others = lambda source: {one: files[one] for one in versions_of(source, files)}  # noqa: E731
    (lost,) = lost_marks(site, site, on(site, "#0f2f27"), others)
    assert (lost.ways[0] == "other") is is_offered
    if is_offered:
        assert lost_marks(known(logo, rule_for(site, lost, "other")), site, on(site, "#0f2f27")) == []

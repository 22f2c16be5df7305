"""What besides text has to be seen: small cases from WCAG 2.2 and its Understanding documents, as a person would judge.

Each is a page's CSS and markup; what is said of its first thing of a kind.
"""

from __future__ import annotations

import pytest

from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.behind.waive import Waive
from glaucon.core.known.site import KnownSite
from glaucon.core.seeing.beyond import BeyondFinding, BeyondText, beyond_findings, judged_things
from glaucon.core.seeing.beyond_rules import rule_for
from glaucon.core.study.study import Study
from glaucon.core.survey.site import SiteFiles
from glaucon.core.survey.survey import survey_site

FIELD = '<input id="x" name="x">'
SENTENCE = "<p>Ring the yard, or read <a href='#'>the notices</a> before you come.</p>"
DRAWING = "<svg viewBox='0 0 9 9' width=9><path d='M0 0h9v9z'/></svg>"
ICON_BUTTON = f"<button>{DRAWING}</button>"
ICON_LINK = f"<a href='#' aria-label=Menu>{DRAWING}</a>"
ICON_BESIDE = f"<button>{DRAWING.replace('<svg', '<svg aria-hidden=true')} Menu</button>"
LINK = "<p>Moorings</p><a href='#'>the notices</a>"

# what, the page's CSS, its markup, criterion and verdict: written before the code was run on them
FIRST: list[tuple[str, str, str, str]] = [
    # 1.4.11, Understanding: a field needs an edge or a fill of 3 : 1
    ("field", "input{border:1px solid #767676}", FIELD, "1.4.11 pass"),
    ("field", "input{border:1px solid #949494}", FIELD, "1.4.11 pass"),
    ("field", "input{border:1px solid #969696}", FIELD, "1.4.11 fail"),
    ("field", "input{border:1px solid #ccc}", FIELD, "1.4.11 fail"),
    ("field", "input{border:0;background:#f2f2f2}", FIELD, "1.4.11 fail"),
    ("field", "input{border:0;background:#777}", FIELD, "1.4.11 pass"),
    ("field", "input{border:0;background:none}", FIELD, "1.4.11 fail"),
    ("field", "input{border:0;border-bottom:1px solid #333}", FIELD, "1.4.11 pass"),
    ("field", "input{border:0;border-bottom:1px solid #ddd}", FIELD, "1.4.11 fail"),
    ("field", "body{background:#333}input{border:1px solid #333;background:#fff}", FIELD, "1.4.11 pass"),
    ("field", "body{background:#333}input{border:1px solid #444;background:#3a3a3a}", FIELD, "1.4.11 fail"),
    ("field", "body{background:#777}input{border:1px solid #777;background:#808080}", FIELD, "1.4.11 fail"),
    ("field", "body{background:#777}input{border:1px solid #fff;background:#777}", FIELD, "1.4.11 pass"),
    ("field", "input{border:0;box-shadow:0 0 0 1px #333}", FIELD, "1.4.11 pass"),
    ("field", "input{border:0;box-shadow:0 2px 8px #000}", FIELD, "1.4.11 fail"),
    ("field", "input{border:0;box-shadow:inset 0 0 0 2px #555}", FIELD, "1.4.11 pass"),
    ("field", "input{border:1px solid transparent;background:#eee}", FIELD, "1.4.11 fail"),
    ("field", "input{border:0 solid #000}", FIELD, "1.4.11 fail"),
    ("field", "input{border:2px none #000}", FIELD, "1.4.11 fail"),
    ("field", "input{border:1px solid #0003}", FIELD, "1.4.11 fail"),
    ("field", "input{border:1px solid;color:#555}", FIELD, "1.4.11 pass"),
    ("field", ":root{--edge:#bbb}input{border:1px solid var(--edge)}", FIELD, "1.4.11 fail"),
    ("field", "", FIELD, "1.4.11 exempt"),
    ("field", "input{width:20em;padding:4px}", FIELD, "1.4.11 exempt"),
    ("field", "select{border:1px solid #ddd}", "<select><option>a</select>", "1.4.11 fail"),
    ("field", "textarea{border:1px solid #666}", "<textarea></textarea>", "1.4.11 pass"),
    ("field", ".b{border:1px solid #ddd}", "<div class=b role=textbox tabindex=0>x</div>", "1.4.11 fail"),
    ("field", "input{border:1px solid #ddd}", "<input disabled>", "none"),
    ("field", "input{border:1px solid #ddd}", "<input type=hidden>", "none"),
    ("field", "input{border:1px solid #ddd;display:none}", FIELD, "none"),
    ("field", "body{background:linear-gradient(#fff,#000)}input{border:1px solid #777}", FIELD, "1.4.11 pass"),
    ("field", "body{background:linear-gradient(#fff,#000)}input{border:1px solid #777;background:none}", FIELD, "1.4.11 unsure"),
    # a button that is known by its words needs no edge; one without words does
    ("border", "button{border:0;background:#eee}", "<button>Book</button>", "1.4.11 exempt"),
    ("border", "button{border:0;background:#06c}", "<button>Book</button>", "1.4.11 pass"),
    ("border", "button{border:1px solid #eee;background:none}", "<button></button>", "1.4.11 fail"),
    ("border", "input{border:1px solid #eee;background:none}", "<input type=submit value=Go>", "1.4.11 exempt"),
    ("border", ".b{background:#f4f4f4}", "<div class=b role=button tabindex=0>Go</div>", "1.4.11 exempt"),
    # 1.4.1: links among words
    ("link-in-text", "", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration:none}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;color:#06c}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;color:#333}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;color:#3366cc}a:hover,a:focus{text-decoration:underline}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration:none;color:#06c}a:hover{text-decoration:underline}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration:none;color:#06c;outline:0}a:hover{text-decoration:underline}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;color:#222}a:hover,a:focus{text-decoration:underline}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;font-weight:700}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration:none;font-weight:500}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;border-bottom:1px solid}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration:none;border-bottom:1px solid transparent}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;background:#ff0}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration:none;background-image:linear-gradient(red,red)}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration-line:none}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:underline transparent}", SENTENCE, "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none;font-size:1.3em}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "a{text-decoration:none}", "<p><a href='#'>Prices</a></p>", "none"),
    ("link-in-text", "a{text-decoration:none}", "<nav>Go to <a href='#'>Prices</a></nav>", "none"),
    ("link-in-text", "a{text-decoration:none}", "<p><a href='#'>Prices</a> | <a href='#'>Boats</a></p>", "none"),
    ("link-in-text", "a{text-decoration:none;display:inline-block}", SENTENCE, "none"),
    ("link-in-text", "a{text-decoration:none}", "<p>By <a>nobody</a></p>", "none"),
    ("link-in-text", "a{text-decoration:none;color:inherit}", SENTENCE, "1.4.1 fail"),
    # 2.4.7 and 1.4.11: the sign of focus
    ("focus", "", LINK, "1.4.11 exempt"),
    ("focus", "a:focus{outline:0}", LINK, "2.4.7 fail"),
    ("focus", "*{outline:none}", LINK, "2.4.7 fail"),
    ("focus", "a:focus{outline:none}a:focus-visible{outline:2px solid #000}", LINK, "1.4.11 pass"),
    ("focus", "a:focus-visible{outline:2px solid #ddd}", LINK, "1.4.11 fail"),
    ("focus", "a:focus{outline:2px dotted #555}", LINK, "1.4.11 pass"),
    ("focus", "a:focus{outline:0;box-shadow:0 0 0 3px #06c}", LINK, "1.4.11 pass"),
    ("focus", "a:focus{outline:0;box-shadow:0 0 0 3px #06c3}", LINK, "1.4.11 fail"),
    ("focus", "a:focus{outline:0;color:#000}", LINK, "1.4.11 fail"),
    ("focus", "a:focus{outline:0;background:#000;color:#fff}", LINK, "1.4.11 pass"),
    ("focus", "a:focus{outline:0;background:#eee}", LINK, "1.4.11 fail"),
    ("focus", "a{text-decoration:none}a:focus{outline:0;text-decoration:underline}", LINK, "1.4.11 pass"),
    ("focus", "a:focus{outline:0 solid #000}", LINK, "2.4.7 fail"),
    ("focus", "a:focus{outline:2px solid transparent}", LINK, "2.4.7 fail"),
    ("focus", "body{background:#222}a:focus{outline:2px solid #fff}", LINK, "1.4.11 pass"),
    ("focus", "body{background:#222}a:focus{outline:2px solid #333}", LINK, "1.4.11 fail"),
    ("focus", "input{border:1px solid #767676}input:focus{outline:0;border-color:#767676}", FIELD, "2.4.7 fail"),
    ("focus", "input{border:1px solid #ccc}input:focus{outline:0;border-color:#000}", FIELD, "1.4.11 pass"),
    ("focus", "input{border:1px solid #ccc}input:focus{outline:0;border-color:#bbb}", FIELD, "1.4.11 fail"),
    ("focus", "input{border:1px solid #ccc}input:focus{outline:0;border-color:#06c}", FIELD, "1.4.11 pass"),
    ("focus", "button:focus{outline:0}", "<button>Book</button>", "2.4.7 fail"),
    ("focus", "summary:focus{outline:0}", "<details><summary>More</summary>x</details>", "2.4.7 fail"),
    ("focus", "div:focus{outline:0}", "<div tabindex=0>x</div>", "2.4.7 fail"),
    ("focus", "div:focus{outline:0}", "<div tabindex=-1>x</div>", "none"),
    ("focus", "a:focus{outline:0}", "<a>nowhere</a>", "none"),
    ("focus", "button:focus{outline:0}", "<button disabled>x</button>", "none"),
    ("focus", "a:focus{outline:3px solid #000;outline-offset:-3px}", LINK, "1.4.11 pass"),
    ("focus", ":focus-visible{outline:2px solid var(--ring,#aaa)}", LINK, "1.4.11 fail"),
    ("focus", "a:focus{outline:medium solid}", LINK, "1.4.11 pass"),
    ("focus", "@media (min-width:9999px){a:focus{outline:0}}", LINK, "1.4.11 exempt"),
    # icons: what alone tells what a link or button does
    ("icon", "svg{fill:#333}", ICON_BUTTON, "1.4.11 pass"),
    ("icon", "svg{fill:#ccc}", ICON_BUTTON, "1.4.11 fail"),
    ("icon", "svg{fill:currentColor}a{color:#bbb}", ICON_LINK, "1.4.11 fail"),
    ("icon", "svg{fill:#ccc}", ICON_BESIDE, "none"),
]  # fmt: skip


def judged(css: str, markup: str, aim: str = "AA") -> tuple[KnownSite, list[BeyondText]]:
    page = f"<!doctype html><title>t</title><style>{css}</style><body>{markup}".encode()
    known = KnownSite(survey_site(SiteFiles({"index.html": page})))
    study = known.first_study("As it came").model_copy(update={"aim": aim})
    return known, judged_things(known, study)


def said_of(found: list[BeyondText], what: str) -> str:
    first = next((one for one in found if one.what == what and (what == "focus" or one.state == "rest")), None)
    return "none" if first is None else f"{first.criterion} {first.verdict}"


@pytest.mark.parametrize(
    ("what", "css", "markup", "expected"), [pytest.param(*one, id=f"{one[0]}-{n}") for n, one in enumerate(FIRST)]
)
def test_a_thing_is_judged_as_a_careful_person_would(what: str, css: str, markup: str, expected: str) -> None:
    assert said_of(judged(css, markup)[1], what) == expected


# after the code: places, states and widths where it had to be right too
THEN: list[tuple[str, str, str, str]] = [
    ("field", ".foot{background:#14342b}input{border:1px solid #14342b;background:#1d4438}", f"<footer class=foot>{FIELD}</footer>", "1.4.11 fail"),
    ("field", ".foot{background:#14342b}input{border:1px solid #ccc;background:#14342b}", f"<footer class=foot>{FIELD}</footer>", "1.4.11 pass"),
    ("field", "form{opacity:.4}input{border:1px solid #767676;background:none}", f"<form>{FIELD}</form>", "1.4.11 fail"),
    ("field", "input{border-color:#ddd!important;border:1px solid #000}", FIELD, "1.4.11 fail"),
    ("field", "input{border:1px solid #000}@media (min-width:600px){input{border-color:#ddd}}", FIELD, "1.4.11 fail"),
    ("field", "input{border-block-end:2px solid #333;border-inline:0;border-top:0}", FIELD, "1.4.11 pass"),
    ("field", "input{all:unset;border:1px solid #ddd}", FIELD, "1.4.11 fail"),
    ("field", "input{border:thin solid #999;background:#fff}", FIELD, "1.4.11 fail"),
    ("field", "input{border:1px solid #ddd}", "<input type=checkbox>", "none"),
    ("field", "input{border:1px solid #ddd}", "<input type=search>", "1.4.11 fail"),
    ("border", "button{border:0;background:none}", "<button aria-label=Menu></button>", "1.4.11 fail"),
    ("border", "button{border:0;background:url(x.png)}", "<button aria-label=Menu></button>", "1.4.11 exempt"),
    ("link-in-text", "a{text-decoration:none}", "<ul><li>Ask <a href='#'>Ann</a> first</ul>", "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none}", "<p><span>Ask </span><a href='#'>Ann</a></p>", "none"),
    ("link-in-text", "a{text-decoration:none}", "<p>Ask <em><a href='#'>Ann</a></em> first</p>", "1.4.1 fail"),
    ("link-in-text", "a{text-decoration:none}a{text-decoration:underline}", SENTENCE, "1.4.1 pass"),
    ("link-in-text", "p a{text-decoration:none}a:visited{text-decoration:underline}", SENTENCE, "1.4.1 fail"),
    ("focus", "a:focus-within{outline:0}", LINK, "2.4.7 fail"),
    ("focus", ".top a:focus{outline:0}", f"<div class=top>{LINK}</div>", "2.4.7 fail"),
    ("focus", "a{outline:2px solid #000}", LINK, "2.4.7 fail"),
    ("focus", "a{outline:2px solid #ddd}a:focus{outline-color:#000}", LINK, "1.4.11 pass"),
    ("focus", "a:focus{outline:0;border-bottom:3px solid #000}", LINK, "1.4.11 pass"),
    ("focus", "@media (prefers-color-scheme:dark){a:focus{outline:0}}", LINK, "1.4.11 exempt"),
    ("focus", "a:focus:not(:focus-visible){outline:0}", LINK, "1.4.11 exempt"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("what", "css", "markup", "expected"), [pytest.param(*one, id=f"{one[0]}-{n}") for n, one in enumerate(THEN)]
)
def test_it_is_judged_so_where_it_stands_too(what: str, css: str, markup: str, expected: str) -> None:
    assert said_of(judged(css, markup)[1], what) == expected


# what the page fades to nothing no edge brings back
FAILING = [one for one in (*FIRST, *THEN) if one[3].endswith("fail") and one[0] != "icon" and "opacity" not in one[1]]


@pytest.mark.parametrize(
    ("what", "css", "markup"), [pytest.param(*one[:3], id=f"{one[0]}-{n}") for n, one in enumerate(FAILING)]
)
def test_what_is_offered_mends_it(what: str, css: str, markup: str) -> None:
    known, _ = judged(css, markup)
    study = known.first_study("As it came")
    rules = [rule for one in beyond_findings(known, study) if (rule := rule_for(one, study))]
    assert rules
    mended = judged(f"{css} {' '.join(rules)}", markup)[1]
    assert [one for one in mended if one.what == what and one.verdict == "fail"] == []


def test_at_aaa_a_thin_ring_is_told_beside_its_contrast() -> None:
    for width, expected in (("1px", ["1.4.11 pass", "2.4.13 fail"]), ("2px", ["1.4.11 pass"])):
        found = judged(f"a:focus{{outline:{width} solid #000}}", LINK, "AAA")[1]
        assert [f"{one.criterion} {one.verdict}" for one in found if one.what == "focus"] == expected


def test_what_the_owner_lets_through_counts_no_more_and_says_why() -> None:
    page = f"<!doctype html><title>t</title><style>input{{border:1px solid #ddd}}</style>{FIELD}".encode()
    site = ReadSite(SiteFiles({"index.html": page}))
    study = site.known.first_study("As it came")

    def field(worn: Study) -> BeyondFinding:
        return next(one for one in beyond_findings(site.known, worn) if one.first.what == "field")

    key = field(study).key
    waived = Waive(act="waive", key=key, said="told", why="The label tells it").apply(site, study)
    after = field(waived).first
    assert (after.verdict, after.required) == ("exempt", None)
    assert after.waiver is not None and after.waiver.why == "The label tells it"
    again = Waive(act="waive", key=field(waived).key, said=None).apply(site, waived)
    assert field(again).first.verdict == "fail"

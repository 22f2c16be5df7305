"""What is handed back: each way says what the study says, changes nothing else, and tells what it cannot reach."""

from __future__ import annotations

import io
import json
import re
import zipfile
from pathlib import Path

import jsonschema
import pytest

import glaucon
from glaucon import cli
from glaucon.core.cascade.tree import parse_document
from glaucon.core.colour.value import read_colour
from glaucon.core.exchange.checking import check_handed_back
from glaucon.core.exchange.hand_back import HandedBack, hand_back
from glaucon.core.exchange.page_markers import markers_of, telling
from glaucon.core.exchange.state_places import state_places
from glaucon.core.known.site import KnownSite
from glaucon.core.study.study import Study
from glaucon.core.survey.site import SiteFiles, read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle.handing_back import vivid

LINK = "<!doctype html><link rel=stylesheet href=a.css>"


def handed(files: dict[str, str], way: str) -> tuple[HandedBack, KnownSite, Study, SiteFiles]:
    """Hand a small site back with every role in a colour of its own."""
    site = SiteFiles({path: text.encode() for path, text in files.items()})
    known = KnownSite(survey_site(site))
    study = vivid(KnownSite(known.survey).first_study("Vivid"))
    return hand_back(site, known.survey, study, way), known, study, site


# page, stylesheet, what the add-on must hold (colours stand as #), how many colours it cannot reach
ADDONS: dict[str, tuple[str, str, list[str], int]] = {
    "plain": ("<p class=a>x", ".a { color: red }", [".a { color: # }"], 0),
    "only what changes": ("<p class=a>x", ".a { color: red; margin: 3px; font-size: 20px }", [".a { color: # }"], 0),
    "important stays": ("<p class=a>x", ".a { color: red !important }", [".a { color: # !important }"], 0),
    "under its conditions": (
        "<p class=a>x", "@media (max-width: 500px) { .a { color: red } }", ["@media (max-width: 500px) {\n.a { color: # }\n}"], 0,
    ),
    "in its layer": (
        "<p class=a>x", "@layer base, top; @layer base { .a { color: red } } @layer top { .a { color: blue } }",
        ["@layer base {\n.a { color: # }\n}", "@layer top {\n.a { color: # }\n}"], 0,
    ),
    "anonymous layer": ("<p class=a>x", "@layer { .a { color: red } }", [], 1),
    "nested": ("<div class=a><p>x", ".a { & p { color: red } }", [":is(.a) p { color: # }"], 0),
    "states": ("<a class=a href=#>x</a>", ".a { color: red } .a:hover { color: blue }", [".a:hover { color: # }"], 0),
    "gradient": ("<p class=a>x", ".a { background: linear-gradient(#fff, #eee 40%) }", ["linear-gradient(#, # 40%)"], 0),
    "picture beside a colour": ("<p class=a>x", ".a { background: #eee url(p.png) }", [".a { background-color: # }"], 0),
    "picture beside a gradient": (
        "<p class=a>x", ".a { background: url(p.png), linear-gradient(#fff, #eee) }", ['url("/p.png"), linear-gradient'], 0,
    ),
    "pseudo-element": ("<p class=a>x", ".a::before { content: '!'; color: red }", [".a::before { color: # }"], 0),
    "custom property": ("<p class=a>x", ":root { --ink: red } .a { color: var(--ink) }", [":root { --ink: # }"], 0),
    "digits without # in quirks": ("<p class=a>x<b>y", ".a { color: 336699 } b { color: 123 }", [".a { color: # }", "b { color: # }"], 0),
    "cut to its words by a browser's own name": (
        "<p class=a>x", ".a { background: #123; -webkit-background-clip: text; color: transparent }",
        [".a { background: #; -webkit-background-clip: text }"], 0,
    ),
    "style attribute": ("<p style='color: red'>x", "", ['p[style="color: red"] { color: # !important }'], 0),
    "important style attribute": ("<p style='color: red !important'>x", "", [], 1),
    "attribute under an important rule": ("<p style='color: red'>x", "p { color: blue !important }", ["p { color: # !important }"], 1),
    "presentational attributes": (
        "<body bgcolor=#ffeedd text=#332211><p><font color=#990000>x</font>", "",
        [':where(body[bgcolor="#ffeedd"]) { background-color: # }', ':where(font[color="#990000"]) { color: # }'], 0,
    ),
    "scroll bars": ("<p class=a>x", ".a { color: red } ::-webkit-scrollbar-thumb { background: #999 }", ["scrollbar-thumb { background: # }"], 0),
    "style element": ("<style>.a { color: red }</style><p class=a>x", "", [".a { color: # }"], 0),
    "linked for print": ("<p class=a>x", ".a { color: red } @media print { .a { color: black } }", [".a { color: # }"], 0),
}  # fmt: skip


@pytest.mark.parametrize("name", ADDONS)
def test_addon_says_again_only_what_changes_and_reads_as_promised(name: str) -> None:
    page, sheet, holds, unreached = ADDONS[name]
    head = LINK if "quirks" not in name else LINK.removeprefix("<!doctype html>")
    files = {"index.html": head + page, "a.css": sheet, "p.png": ""}
    found, known, study, site = handed(files, "addon")
    css = re.sub(r"#[0-9a-f]{6}\b(?!\")", "#", found.data.decode())
    for part in holds:
        assert part in css, css
    assert len(found.unreached) == unreached
    if not unreached:
        checked = check_handed_back(site, known, study, "addon", found)
        assert (checked.right, checked.examples) == (checked.texts, [])
        assert checked.texts


def test_addon_keeps_what_came_later_at_equal_weight() -> None:
    sheet = ".a { color: red } .b { color: inherit } .c { margin: 0 } .a.d { color: inherit } .e { color: inherit }"
    found, known, study, site = handed(
        {"index.html": LINK + "<p class='a b'>x<p class='a d'>y<p class=e>z", "a.css": sheet}, "addon"
    )
    css = found.data.decode()
    assert ".b { color: inherit }" in css, "it follows on the same element and would lose to the copy"
    assert ".a.d" not in css, "it weighs more and wins by itself"
    assert ".e" not in css and ".c" not in css, "they never meet the copy"
    checked = check_handed_back(site, known, study, "addon", found)
    assert checked.right == checked.texts


def test_addon_tells_pages_apart_that_do_not_share_a_rule() -> None:
    pages = {
        "one.html": "<link rel=stylesheet href=a.css><p class=a>x",
        "two.html": "<link rel=stylesheet href=b.css><p class=a>x",
        "three.html": "<body class=shop><style>.a { color: #00aa00 }</style><p class=a>x",
        "four.html": "<p class=a>x",
    }
    sheets = {"a.css": ".a { color: #aa0000 }", "b.css": ".a { color: #0000aa }"}
    found, known, study, site = handed({**pages, **sheets}, "addon")
    css = found.data.decode()
    assert ':where(:root:has(link[href="a.css"])' in css and 'body[class="shop"]' in css
    checked = check_handed_back(site, known, study, "addon", found)
    assert (checked.right, checked.examples) == (checked.texts, [])


SOURCES = {
    "windows line ends": b"<!doctype html>\r\n<style>\r\n p { color: red } /* keep */\r\n</style>\r\n<p>x\r\n",
    "latin-1": "<meta charset=iso-8859-1><style>p { color: red }</style><p>Möwe".encode("latin-1"),
    "utf-16 with mark": "\ufeff<style>p { color: red }</style><p>Möwe".encode("utf-16-le"),
    "utf-8 with mark": b"\xef\xbb\xbf<style>p { color: red }</style><p>x",
    "bytes that are no text": b"<style>p { color: red } /* \xff\xfe\x80 */</style><p>x",
    "no head, odd case": b"<STYLE>P{COLOR:RED}</STYLE><P>x",
}


@pytest.mark.parametrize("name", SOURCES)
def test_recoloured_site_differs_in_tokens_and_the_link_only(name: str) -> None:
    site = SiteFiles({"index.html": SOURCES[name], "other.txt": b"\0\xff"})
    known = KnownSite(survey_site(site))
    study = KnownSite(known.survey).first_study("Same")
    role = next(role for role in study.roles if role.id.startswith("text"))
    new = study.with_values({role.id: "#123456"})
    archive = zipfile.ZipFile(io.BytesIO(hand_back(site, known.survey, new, "site").data))
    data = archive.read("index.html")
    wide = b"\0" if "utf-16" in name else b""

    def as_written(text: str) -> bytes:
        return wide.join(bytes([c]) for c in text.encode()) + wide

    link = re.search(rb"<" + wide + rb"l.{0,20}r.{0,4}e.{0,4}l.{0,200}?>" + wide, data, re.S)
    assert link is not None and b"glaucon-"[:1] in link.group()
    token = re.search(
        re.escape(as_written(f"var(--gl-{role.id}, ")) + rb"(.*?)" + re.escape(as_written(")")), data, re.S
    )
    assert token is not None
    back = data.replace(link.group(), b"").replace(token.group(), token.group(1))
    assert back == SOURCES[name]
    assert archive.read("other.txt") == b"\0\xff"


def test_unchanged_palette_changes_no_byte(otterlock: Path) -> None:
    site = read_site(otterlock)
    known = KnownSite(survey_site(site))
    study = KnownSite(known.survey).first_study("Same")
    whole = hand_back(site, known.survey, study, "site")
    archive = zipfile.ZipFile(io.BytesIO(whole.data))
    assert {name: archive.read(name) for name in archive.namelist()} == site.files
    assert (whole.changed, hand_back(site, known.survey, study, "addon").data) == ([], b"")
    assert whole.data == hand_back(site, known.survey, study, "site").data


def test_variables_and_tokens_hold_every_role_exactly(otterlock: Path) -> None:
    site = read_site(otterlock)
    known = KnownSite(survey_site(site))
    study = vivid(KnownSite(known.survey).first_study("Vivid"))
    css = hand_back(site, known.survey, study, "variables").data.decode()
    tokens = json.loads(hand_back(site, known.survey, study, "tokens").data)
    for role in study.roles:
        name = role.id.replace(".", "-")
        assert f"--gl-{name}: {role.value};" in css
        value = tokens[name]["$value"]
        assert (tokens[name]["$type"], value["colorSpace"]) == ("color", "srgb")
        assert value["components"] == pytest.approx(read_colour(role.value).rgb, abs=1e-6)


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    status = cli.main(list(arguments))
    said = capsys.readouterr()
    return status, said.out, said.err


def test_colours_from_the_command_line(capsys: pytest.CaptureFixture[str], otterlock: Path, tmp_path: Path) -> None:
    kept = tmp_path / "study.json"
    status, out, _ = run(capsys, "colours", str(otterlock), "--format", "json", "--out-study", str(kept))
    report = json.loads(out)
    jsonschema.validate(report, schema("colours"))
    assert (status, report["format"], report["unmapped"]) == (0, 2, [])
    body = next(one for one in report["found"] if one["colour"] == "#22302b" and one["use"] == "text")
    assert {"file": "css/site.css", "line": 4, "column": 47, "property": "color", "selector": "body"} in body["places"]
    roles = {one["id"]: one for one in report["roles"]}
    assert roles["text"]["value"] == "#22302b" and "#22302b" in roles["text"]["found"]
    assert set(report["short"]["roles"]) <= {id_ for id_, one in roles.items() if one["tier"] == "main"}
    assert set(report["short"]["coats"]) <= {one["id"] for one in report["coats"]} and report["covers"] > 0.9
    table = run(capsys, "colours", str(otterlock))[1]
    assert table.startswith("62 colours. Nine would do, and six for sections") and "in no group" not in table
    assert run(capsys, "colours", str(otterlock), "--format", "json")[1] == out
    document = json.loads(kept.read_text())
    jsonschema.validate(document, schema("study"))
    asked = tmp_path / "out.zip"
    status, said, _ = run(capsys, "recolour", str(otterlock), "--study", str(kept), "--out", str(asked))
    assert "The palette is unchanged." in said


def schema(name: str) -> dict[str, object]:
    path = Path(glaucon.__file__).parent / "core" / "exchange" / f"{name}.schema.json"
    return dict(json.loads(path.read_text("utf-8")))


def test_recolour_from_the_command_line(capsys: pytest.CaptureFixture[str], otterlock: Path, tmp_path: Path) -> None:
    out = tmp_path / "out"
    site = str(otterlock)
    for way, holds in (("addon", b"#0a0a5a"), ("variables", b"--gl-text: #0a0a5a"), ("tokens", b'"hex": "#0a0a5a"')):
        status, said, _ = run(capsys, "recolour", site, "--set", "text=#0a0a5a", "--as", way, "--out", str(out))
        assert (status, holds in out.read_bytes()) == (1, True)
        assert "text: #22302b → #0a0a5a" in said
    status, said, _ = run(capsys, "recolour", site, "--out", str(out), "--format", "json")
    assert json.loads(said)["changed"] == [] and zipfile.is_zipfile(out)


WRONG = {
    "no such role": (["--set", "txet=#000"], "no role “txet”"),
    "no colour": (["--set", "text=blurple"], "blurple"),
    "no sign": (["--set", "text"], "is not ROLE=VALUE"),
    "no study": (["--study", "gone.json"], "could not be read"),
    "nowhere": (["--out", "/nowhere/at/all.zip"], "could not be written"),
}


@pytest.mark.parametrize("name", WRONG)
def test_what_cannot_be_done_is_said_in_one_line(
    capsys: pytest.CaptureFixture[str], otterlock: Path, tmp_path: Path, name: str
) -> None:
    arguments, says = WRONG[name]
    out = [] if "--out" in arguments else ["--out", str(tmp_path / "out.zip")]
    status, _, error = run(capsys, "recolour", str(otterlock), *arguments, *out)
    assert (status, error.count("\n"), list(tmp_path.iterdir())) == (2, 1, [])
    assert says in error


@pytest.mark.parametrize(
    ("css", "spoken_of"),
    [
        ("a:hover, b:FOCUS{color:red} i:link::before{}", [":hover", ":FOCUS", ":link"]),
        ("a:not(:hover, .x):focus-within b{}", [":hover", ":focus-within"]),
        ("nav{a:active{} color:var(--x:hover); &:visited{}}", [":active", ":visited"]),
        ("@media (hover:hover){a:hover{}} @supports selector(:focus){}", [":hover"]),
        ("a{content:':hover{'} /* b:hover{} */ i{background:url(x:hover{)}", []),
        (r".md\:hover{} .sm\:hover:hover{} a:hovering{} a:hover-x{}", [":hover"]),
        ("@import 'x:hover'; a:focus-visible", []),
    ],
)
def test_states_are_found_where_selectors_speak_of_them(css: str, spoken_of: list[str]) -> None:
    places = list(state_places(css))
    assert [css[place.start : place.end] for place in places] == spoken_of
    assert [place.name for place in places] == [name[1:].lower() for name in spoken_of]


# (what two pages are, the second one's marker; None where nothing tells it apart)
MARKED: dict[str, tuple[str, str, list[str] | None]] = {
    "the class of its body": ("<body class=a>", "<body class=b><p class=b>", ['body[class="b"]']),
    "the current item of its menu": (
        "<a href=x.html aria-current=page>X</a><a href=y.html>Y</a>",
        "<a href=x.html>X</a><a href=y.html aria-current=page>Y</a>", ['a[aria-current][href="y.html"]'],
    ),
    "what stands on it": ("<main><p class=note>", "<main><div class='note hull'>", [".hull"]),
    "nothing": ("<main><p class=note>", "<main><p class=note>There", None),
}  # fmt: skip


@pytest.mark.parametrize("name", MARKED)
def test_what_tells_a_page_apart(name: str) -> None:
    first, second, wanted = MARKED[name]
    markers = {"x.html": markers_of(parse_document(first)), "y.html": markers_of(parse_document(second))}
    assert telling(["y.html"], {"x.html"}, markers) == wanted

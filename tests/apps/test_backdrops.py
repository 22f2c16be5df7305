"""Backdrops as the API takes them: kept, shown, tried, released; pictures taken in or refused."""

from __future__ import annotations

import io
import json
import re
import zipfile
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from glaucon.apps.sites.models import Site
from tests.apps.conftest import Api, zipped

YARD = "otterlock"
SITE = f"/sites/{YARD}"
FOOTER = {"section": "footer"}
VEIL = {"veil": {"colour": "#102028", "opacity": 0.5}}
GRADIENT = {"gradient": {"stops": [{"at": 0, "colour": {"role": "link"}}, {"at": 1, "colour": "#ffffff"}]}}


def picture(kind: str = "PNG", size: tuple[int, int] = (400, 300), **more: Any) -> bytes:
    out = io.BytesIO()
    Image.effect_noise(size, 60).convert("RGB").save(out, kind, **more)
    return out.getvalue()


def moving() -> bytes:
    out = io.BytesIO()
    frames = [Image.new("RGB", (20, 20), colour) for colour in ("red", "blue")]
    frames[0].save(out, "GIF", save_all=True, append_images=frames[1:])
    return out.getvalue()


@pytest.fixture
def at_the_yard(wren: Api, yard: str) -> Api:
    return wren


def sent(api: Api, data: bytes, name: str = "Still Water.png") -> Any:
    return api.client.post(f"/api{SITE}/backdrops/pictures", {"picture": SimpleUploadedFile(name, data)})


def keep(api: Api, layers: list[dict[str, Any]], place: Any = None, **more: Any) -> Any:
    coat = {"coat": more.pop("coat")} if "coat" in more else {}
    return api.act(YARD, {"act": "lay-backdrop", "backdrop": {"in": place, "layers": layers, **more}, **coat})


def test_kept_shown_read_undone_and_released_with_its_files(at_the_yard: Api) -> None:
    api = at_the_yard
    before = api.get(f"{SITE}/study").json()
    own = sent(api, picture(size=(1000, 600))).json()
    assert (own["path"], own["label"], own["width"]) == ("backdrops/still-water.webp", "Still Water", 1000)
    assert sent(api, picture(), "Still water.PNG").json()["path"] == "backdrops/still-water-2.webp"
    layers = [{"colour": "#123b34"}, {"picture": {"file": own["path"], "opacity": 0.9}}]
    kept = keep(api, layers, FOOTER).json()
    css = kept["extra_css"]
    assert "footer" in css and 'url("backdrops/still-water-' in css and kept["waiting"] == before["waiting"] + 1
    # nobody has looked where the texts lie on it; some would be hard to read anywhere
    worse = [kept["reading"][name] - before["reading"][name] for name in ("unsure_texts", "hard_texts")]
    assert sum(worse) > 0 and min(worse) >= 0
    told = api.get(f"{SITE}/backdrops").json()
    assert [(one["name"], one["pages"]) for one in told["backdrops"]] == [("Footer", 9)]
    assert len(told["patterns"]) == 24 and len(told["library"]) >= 12
    # what the rules name is served beside the pages, on every depth
    root = api.get(f"{SITE}").json()["pages"][0]["preview"].rsplit("/", 1)[0]
    for path in re.findall(r'url\("(backdrops/[^"]+)"\)', css):
        assert api.client.get(f"{root}/{path}").status_code == 200
    assert api.client.get(f"{root}/backdrops/../db.sqlite3").status_code == 404
    released = api.release(YARD)
    assert released.status_code == 200, released.content
    with zipfile.ZipFile(io.BytesIO(api.client.get(f"/api{SITE}/hand-back/site/file").content)) as archive:
        names = archive.namelist()
        sheets = "".join(archive.read(name).decode() for name in names if name.startswith("glaucon-"))
    assert all(path in names for path in re.findall(r'url\("(backdrops/[^"]+)"\)', sheets)) and "!important" in sheets
    addon = api.client.get(f"/api{SITE}/hand-back/addon/file")
    with zipfile.ZipFile(io.BytesIO(addon.content)) as archive:
        assert "glaucon-addon.css" in archive.namelist() and len(archive.namelist()) == 3
    # and taken back without trace
    undone = api.move(YARD, "undo").json()
    assert undone["extra_css"] == before["extra_css"]
    assert undone["reading"]["hard_texts"] == before["reading"]["hard_texts"]


def test_a_gradient_follows_the_palette_and_is_read(at_the_yard: Api) -> None:
    kept = keep(at_the_yard, [GRADIENT], FOOTER).json()
    assert "var(--gl-link, #" in kept["extra_css"]
    changed = at_the_yard.colour(YARD, {"link": "#ffffff"}).json()
    assert changed["reading"]["hard_texts"] + changed["reading"]["unsure_texts"] > 0
    gone = keep(at_the_yard, [], FOOTER).json()
    assert "linear-gradient" not in gone["extra_css"]


def test_shown_while_it_is_tried_and_files_made_when_asked(at_the_yard: Api) -> None:
    own = at_the_yard.post(f"{SITE}/backdrops/library", {"name": "dawn"}).json()
    picture = {"file": own["path"], "strength": 0.2}
    acts = [{"act": "lay-backdrop", "backdrop": {"in": None, "layers": [{"picture": picture}]}}]
    shown = at_the_yard.search(YARD, "show", acts=acts).json()
    assert ":root {" in shown["css"] and "> body {" in shown["css"] and not shown["is_ready"]
    made = at_the_yard.search(YARD, "show-made", acts=acts).json()
    assert made["css"] == shown["css"] and at_the_yard.search(YARD, "show", acts=acts).json()["is_ready"]
    assert at_the_yard.get(f"{SITE}/study").json()["base"]["revision"] == 1
    found = at_the_yard.get(f"{SITE}/backdrops/colours?path={own['path']}").json()
    assert len(found["colours"]) >= 2 and re.fullmatch("#[0-9a-f]{6}", found["edge"])
    assert at_the_yard.get(f"{SITE}/library/near", words="water lamps").json() == ["night-mooring"]


def hard_on_prices(api: Api, layers: list[Any]) -> int:
    """Return how many texts of the prices' page would be hard to read on some layers."""
    backdrop = {"in": {"page": "prices.html"}, "layers": layers}
    return int(api.search(YARD, "try-backdrop", backdrop=backdrop, page="prices.html").json()["hard"])


def test_the_least_veil_leaves_nothing_hard_that_it_can_help_and_less_does(at_the_yard: Api) -> None:
    layers = [{"colour": "#8a9a92"}, {"veil": {"colour": {"role": "background"}, "opacity": 0}}]
    least = at_the_yard.search(YARD, "veil", backdrop={"in": {"page": "prices.html"}, "layers": layers}).json()
    assert 0 < least["opacity"] < 1

    def hard(opacity: float) -> int:
        tried = [layers[0], {"veil": {"colour": {"role": "background"}, "opacity": opacity}}]
        return hard_on_prices(at_the_yard, tried)

    # a hair is left for what browsers round
    assert hard(least["opacity"] - 0.03) > hard(least["opacity"]) == len(least["hard"])


def test_another_stop_of_a_gradient_leaves_hard_what_nothing_could_help(at_the_yard: Api) -> None:
    stops = [{"at": 0, "colour": "#8a9a92"}, {"at": 1, "colour": "#8a9a92"}]
    place = {"in": {"page": "prices.html"}}

    def hard(layers: list[Any]) -> int:
        return hard_on_prices(at_the_yard, layers)

    layers: list[Any] = [{"gradient": {"stops": stops}}]
    # two greys are so pale that they are hard to read on any page background
    assert hard(layers) > 2
    found = at_the_yard.search(YARD, "stops", backdrop={**place, "layers": layers}).json()
    assert (found["moved"], found["hard"], hard(found["layers"])) == (2, 2, 2)
    bare = at_the_yard.search(YARD, "stops", backdrop={**place, "layers": [{"colour": "#8a9a92"}]}).json()
    assert (bare["moved"], bare["hard"]) == (0, None)


def test_a_veil_in_the_colour_of_a_coat_is_no_coat(at_the_yard: Api) -> None:
    def worn() -> dict[str, str | None]:
        return {one["key"]: one["coat"] for one in at_the_yard.get(f"{SITE}/sections").json()["regions"]}

    before = worn()
    assert "card" in before.values() and None in before.values()
    veil = {"veil": {"colour": {"role": "card.background"}, "opacity": 0.4}}
    assert keep(at_the_yard, [{"colour": {"role": "background"}}, veil]).status_code == 200
    assert worn() == before


SEVEN = [{"at": n / 6, "colour": "#fff"} for n in range(7)]
REFUSED_LAYERS: dict[str, tuple[list[Any], str]] = {
    "a seventh stop": ([{"gradient": {"stops": SEVEN}}], "two to 6 stops"),
    "no layer at all": ([{"shadow": {}}], "shadow"),
    "two kinds at once": ([{**VEIL, **GRADIENT}], "one of colour"),
    "a base on top": ([VEIL, {"colour": "#ffffff"}], "lowest layer"),
    "a colour that is none": ([{"veil": {"colour": "url(x)", "opacity": 1}}], "colour"),
    "a role that is not there": ([{"veil": {"colour": {"role": "nobody"}, "opacity": 1}}], "nobody"),
    "a pattern nobody drew": ([{"pattern": {"name": "../x", "colour": "#000"}}], "There is no pattern"),
    "a picture that is not there": ([{"picture": {"file": "backdrops/none.webp"}}], "not there any more"),
    "out of the folder": ([{"picture": {"file": "../../etc/passwd"}}], "not there any more"),
    "a picture that is a page": ([{"picture": {"file": "index.html"}}], "cannot read that picture"),
}


@pytest.mark.parametrize("name", REFUSED_LAYERS)
def test_what_no_backdrop_can_be_is_refused_in_a_sentence(at_the_yard: Api, name: str) -> None:
    layers, said = REFUSED_LAYERS[name]
    answer = keep(at_the_yard, layers, FOOTER)
    assert answer.status_code == 422 and said in answer.json()["message"], answer.content
    assert at_the_yard.get(f"{SITE}/study").json()["base"]["revision"] == 1


@pytest.mark.parametrize(
    ("data", "said"),
    [(b"no picture", "cannot read"), (moving(), "moves"), (picture()[:200], "cannot read"), (b"<svg/>", "cannot read")],
    ids=["text", "animated", "cut short", "drawing"],
)
def test_pictures_that_are_no_good(at_the_yard: Api, data: bytes, said: str) -> None:
    answer = sent(at_the_yard, data)
    assert answer.status_code == 422 and said in answer.json()["message"]


def test_a_picture_is_taken_in_upright_and_without_what_it_tells(at_the_yard: Api) -> None:
    exif = Image.Exif()
    exif[0x0112], exif[0x010F] = 6, "A camera at the yard"
    own = sent(at_the_yard, picture("JPEG", exif=exif), "quay.jpg").json()
    assert (own["width"], own["height"]) == (300, 400)
    shown = at_the_yard.client.get(own["address"])
    assert shown["Content-Type"] == "image/webp" and b"camera" not in shown.content


def test_pictures_of_a_stranger_are_not_there(at_the_yard: Api, stranger: Api) -> None:
    own = sent(at_the_yard, picture()).json()
    assert stranger.client.get(own["address"]).status_code == 404
    assert Site.objects.get(slug="otterlock").pictures.count() == 1
    assert json.loads(stranger.get(f"{SITE}/backdrops").content)["code"] == "not-found"


def under_a_pale_sky(wren: Api, body: str) -> str:
    """Bring a page whose header has white text on a picture that is too pale for it all over; return the site."""
    slope = np.repeat(np.linspace(0x98, 0xD0, 64).astype(np.uint8)[None, :], 64, axis=0)
    out = io.BytesIO()
    Image.fromarray(slope).convert("RGB").save(out, "PNG")
    page = f"<!doctype html><title>Quay</title><link rel=stylesheet href=a.css>{body}"
    css = (
        "body { background: #fff; color: #222 } header { color: #fff; background: url(a.png) 0 0 / 100% 100% }"
        " .tag { background: #25323a }"
    )
    job = wren.bring(zipped({"index.html": page.encode(), "a.css": css.encode(), "a.png": out.getvalue()})).json()
    return str(job["site"])


def test_fixing_all_lays_the_least_veil_over_a_picture_where_it_is_taken(wren: Api) -> None:
    words = "<p>White words over a pale morning</p>" * 4
    page = (
        f"<header><h1>Quay</h1>{words}"
        f"<p class=tag>White words on slate</p></header><main><h2>Boats</h2>{'<p>Dark words on white.</p>' * 6}</main>"
    )
    site = under_a_pale_sky(wren, page)
    before = wren.get(f"/sites/{site}/study").json()
    found = wren.search(site, "fix-all").json()
    assert before["reading"]["hard_texts"] == 5 and found["changes"] == []
    (veil,) = found["veils"]
    assert veil["label"] == "Header" and veil["fixes"] == 5 and 0.3 < veil["opacity"] < 0.6
    assert "box-shadow: inset 0 0 0 9999px" in veil["css"]
    taken = {"act": "fix", "veils": [{key: veil[key] for key in ("section", "role", "colour", "opacity")}]}
    after = wren.act(site, taken).json()
    assert after["reading"]["hard_texts"] == 0 and veil["css"].splitlines()[0] in after["extra_css"]
    assert wren.search(site, "fix-all").json()["veils"] == [], "there is one already"
    undone = wren.move(site, "undo").json()
    assert undone["reading"] == before["reading"]
    for wrong in ({"section": "nowhere"}, {"role": "nobody"}, {"colour": "url(x)"}, {"opacity": 2}):
        refused = wren.act(site, {**taken, "veils": [{**taken["veils"][0], **wrong}]})
        assert refused.status_code == 422 and refused.json()["message"], wrong


def test_fixing_all_lays_a_plate_behind_the_text_where_every_veil_would_spoil_another(wren: Api) -> None:
    light, dark = (
        "<p>White words over a pale morning</p>" * 4,
        "<p class=ink>Dark words over it</p><p class=tag>On slate</p>",
    )
    page = (
        f"<style>.ink {{ color: #111 }}</style><header>{light}{dark}</header><main><p>Dark words on white.</p></main>"
    )
    site = under_a_pale_sky(wren, page)
    found = wren.search(site, "fix-all").json()
    (plate,) = found["veils"]
    assert plate["behind"] == ["p:nth-child(1)", "p:nth-child(2)", "p:nth-child(3)", "p:nth-child(4)"]
    assert plate["fixes"] == 4 and "background-color" in plate["css"]
    taken = {key: plate[key] for key in ("section", "role", "colour", "opacity", "behind")}
    after = wren.act(site, {"act": "fix", "veils": [taken]}).json()
    assert after["reading"]["hard_texts"] == 0


def test_a_finding_on_a_picture_names_the_section_whose_picture_it_is(wren: Api) -> None:
    page = (
        "<nav><a href=#>Boats and moorings</a></nav>"
        f"<header><h1>Quay</h1><p>White words over a pale morning</p></header><p>{'Dark words on white. ' * 9}</p>"
    )
    site = under_a_pale_sky(wren, page)
    study = wren.get(f"/sites/{site}/study").json()
    finding = next(one for one in study["reading"]["findings"] if one["on"] == "picture" and one["verdict"] == "fail")
    (told,) = wren.search(site, "offers", keys=[finding["key"]]).json()["findings"]
    assert told["veil"] == {"section": "header", "label": "Header", "page": "index.html"} and told["reason"] == ""


def test_a_coat_brings_its_backdrop_and_takes_it_along(at_the_yard: Api) -> None:
    api = at_the_yard
    welcome, strip = {"section": "welcome-area"}, {"section": "strip"}

    def wear(coat: str | None, *places: dict[str, str]) -> list[str]:
        assert api.act(YARD, {"act": "wear", "places": places, "coat": coat}).status_code == 200
        return lying()

    def lying() -> list[str]:
        found = api.get(f"{SITE}/backdrops").json()["backdrops"]
        return sorted(f"{one['in']['section']} {one['of'] or ''}".strip() for one in (row["backdrop"] for row in found))

    assert wear("sand", welcome) == []
    kept = keep(api, [VEIL, GRADIENT], welcome, coat="sand").json()
    assert lying() == ["welcome-area sand"] and kept["extra_css"].count("linear-gradient(") == 2
    assert wear("sand", strip) == ["strip sand", "welcome-area sand"]
    # one of its own counts for itself, also where that is none
    keep(api, [VEIL], strip)
    assert lying() == ["strip", "welcome-area sand"]
    keep(api, [], strip)
    assert lying() == ["strip", "welcome-area sand"] and "veil" not in api.get(f"{SITE}/study").json()["extra_css"]
    # changed with the coat, it changes wherever that is worn; it goes with it
    keep(api, [GRADIENT], welcome, coat="sand")
    assert wear("sand", FOOTER) == ["footer sand", "strip", "welcome-area sand"]
    assert wear(None, welcome, FOOTER) == ["strip"]
    api.move(YARD, "undo")
    assert lying() == ["footer sand", "strip", "welcome-area sand"]
    refused = keep(api, [VEIL], welcome, coat="nothing")
    assert refused.status_code == 422 and "no coat “nothing”" in refused.json()["message"]


def test_a_plate_lies_behind_the_hard_words_alone(wren: Api) -> None:
    words = "<p class=lead>White words over a pale morning</p>" * 2
    cards = "<div class=card><p>Dark words on a card</p><a class=card href=#>A button</a></div><a href=#>Fares</a>"
    css = "<style>.card { background: #fff; color: #222 } a { color: #fff }</style>"
    site = under_a_pale_sky(wren, f"{css}<header><h1>Quay</h1>{words}{cards}</header>")
    before = wren.get(f"/sites/{site}/study").json()
    assert before["reading"]["hard_texts"] == 4
    place = {"section": "header"}

    def lay(plate: dict[str, Any] | None) -> Any:
        return wren.act(site, {"act": "lay-backdrop", "backdrop": {"in": place, "layers": [], "plate": plate}})

    found = wren.search(site, "plate", backdrop={"in": place, "layers": []}).json()
    plate = found["plate"]
    assert sorted(plate["behind"]) == ["a:nth-child(5)", "h1", "p.lead"], "no button, no card"
    assert found["hard"] == 0 and 0.3 < plate["opacity"] < 0.7
    kept = lay(plate).json()
    assert (kept["reading"]["hard_texts"], kept["reading"]["unsure_texts"]) == (0, 0)
    (rule,) = [one for one in kept["extra_css"].splitlines() if "box-decoration-break" in one]
    assert all(f"header {one}" in rule for one in ("h1", "p.lead")) and ".card" not in rule
    less = {**plate, "opacity": 0.9 * plate["opacity"]}
    barely = lay(less).json()
    assert barely["reading"]["unsure_texts"] > 0, "about the least there is: on the palest spot they are not"
    told = wren.get(f"/sites/{site}/backdrops").json()["backdrops"][0]["backdrop"]
    assert told["plate"]["behind"] == plate["behind"] and told["layers"] == []
    gone = lay(None).json()
    assert gone["reading"] == before["reading"] and gone["extra_css"] == before["extra_css"]
    for wrong in ({"behind": ["p } body { color: red"]}, {"behind": []}, {"opacity": 2}, {"colour": "url(x)"}):
        refused = lay({**plate, **wrong})
        assert refused.status_code == 422 and refused.json()["message"], wrong

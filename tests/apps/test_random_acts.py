"""Random acts, through the application: each taken back to the byte, and what goes live shows as the reading says."""

from __future__ import annotations

from pathlib import Path
from random import Random

import pytest
from playwright.sync_api import sync_playwright

from glaucon.apps.sites.at_hand import KeptSite
from glaucon.apps.sites.blobs import get_blob
from glaucon.apps.sites.models import Site
from glaucon.apps.studies.models import Revision
from glaucon.apps.studies.services import current_of
from glaucon.core.exchange.reports.audit import context_report
from tests import chromium
from tests.apps.conftest import Api, folder_files, zipped
from tests.oracle import corpus
from tests.oracle.agreement import Tally, compare_page
from tests.oracle.chromium_truth import true_runs
from tests.oracle.handing_back import folder_of
from tests.random_acts import draw_act


def _documents(slug: str) -> list[str]:
    """Return the current study's document, and those of all revisions before it in the history, as kept."""
    revision: Revision | None = current_of(Site.objects.get(slug=slug))
    found = []
    while revision is not None:
        found.append(revision.read().model_dump_json())
        revision = revision.base
    return found


def _at_random(tab: Api, slug: str, seed: int, many: int) -> int:
    """Do random acts, each from what the one before made; return how many were done."""
    chance, done = Random(seed), 0
    site = Site.objects.get(slug=slug)
    for _ in range(many):
        study = current_of(site).read()
        some = [draw_act(chance, KeptSite(site), study) for _ in range(chance.choice((1, 1, 1, 2, 3)))]
        before = _documents(slug)
        answer = tab.act(slug, *some)
        now = _documents(slug)
        if answer.status_code == 200:
            assert now[-len(before) :] == before and len(now) - len(before) in (0, 1), some
            done += len(now) - len(before)
        else:
            assert (answer.status_code, now) == (422, before) and answer.json()["message"], (some, answer.json())
    return done


@pytest.mark.parametrize("seed", range(2))
def test_random_acts_are_taken_back_to_the_byte_and_done_again(wren: Api, yard: str, seed: int) -> None:
    done = _at_random(wren, yard, seed, 14)
    assert done > 5
    history = _documents(yard)
    for number in range(1, len(history)):
        assert wren.move(yard, "undo").status_code == 200
        assert _documents(yard) == history[number:]
    for number in range(len(history) - 2, -1, -1):
        assert wren.move(yard, "redo").status_code == 200
        assert _documents(yard) == history[number:]


@pytest.mark.prove
@pytest.mark.parametrize(
    "folder", [corpus.ROOT / "samples" / "otterlock", corpus.OWN / "states", corpus.OWN / "variables"]
)
def test_what_random_acts_release_shows_as_the_reading_says(wren: Api, folder: Path) -> None:
    job = wren.bring(zipped(folder_files(folder)), f"{folder.name}.zip").json()
    slug, total, released = job["site"], Tally(), []
    for seed in range(4):
        _at_random(wren, slug, seed, 8)
        assert wren.release(slug).status_code == 200
        site = Site.objects.get(slug=slug)
        files = {file.path: get_blob(file.blob) for file in site.releases.get(is_live=True).files.all()}
        study = current_of(site).read().model_copy(update={"aim": "AA"})  # what the pixels are judged by
        reading = KeptSite(site).under(study).read(study)
        survey = reading.index.survey
        context = max((one for one in survey.sightings if one.state == "rest"), key=lambda one: one.width)
        report = context_report(survey, context, study.aim, list(reading.readings))["runs"]
        released.append((files, survey.pages, context, report))
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium.executable(), args=chromium.ARGUMENTS)
        for files, pages, context, report in released:
            with folder_of(files) as address:
                for page in pages:
                    truth = true_runs(browser, address + page, context.width, [context.state])
                    total.add(compare_page(report, truth[context.state], page))
        browser.close()
    print(f"{folder.name}: {total.verdict_right} of {total.verdict_judged}, {total.unsure} unsure")
    assert total.true > 100 and total.colour_right == total.colour_judged, total.examples[:6]
    assert total.verdict_right + total.unsure >= 0.99 * total.verdict_judged, total.examples[:6]

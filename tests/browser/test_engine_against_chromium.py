"""The cascade and the compositing, held against Chromium's computed styles and pixels."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser

from glaucon.core.cascade.expression import evaluate
from glaucon.core.reading.reading import read_pairings
from glaucon.core.survey.model import ContextKey, Survey
from glaucon.core.survey.site import read_site
from glaucon.core.survey.survey import survey_site
from tests.oracle.chromium_truth import TrueRun, true_runs
from tests.oracle.server import serve

CONTEXTS = [ContextKey(width, state) for width in (1280, 390) for state in ("rest", "hover")]
TEXT_TOLERANCE, GROUND_TOLERANCE = 1, 2  # of 255


@pytest.fixture(scope="module")
def survey(otterlock: Path) -> Survey:
    return survey_site(read_site(otterlock), CONTEXTS)


@pytest.mark.parametrize("context", CONTEXTS, ids=lambda c: f"{c.width}-{c.state}")
def test_every_run_of_the_sample_site_is_as_chromium_paints_it(
    browser: Browser, otterlock: Path, survey: Survey, context: ContextKey, capsys: pytest.CaptureFixture[str]
) -> None:
    """Text colours within 1 of 255, grounds within 2; what varies or is a picture is counted and named."""
    verdicts = read_pairings(survey.pairings, lambda n: survey.tokens[n].colour)
    truth: dict[tuple[str, str], TrueRun] = {}
    with serve(otterlock) as address:
        for page in survey.pages:
            for path, run in true_runs(browser, address + page, context.width, context.state).items():
                truth[page, path] = run
    counts: Counter[str] = Counter()
    wrong: list[str] = []
    ours = set()
    for sighting in survey.sightings[context]:
        run, pairing = survey.runs[sighting.run], survey.pairings[sighting.pairing]
        ours.add((run.page, run.path))
        true = truth.get((run.page, run.path))
        if true is None:
            wrong.append(f"{run.page} {run.path} is not rendered: {run.text!r}")
            continue
        counts["compared"] += 1
        colour = evaluate(pairing.colour, lambda n: survey.tokens[n].colour)
        assert colour is not None
        mine = np.array([*(channel * 255 for channel in colour.rgb), colour.alpha * 255])
        if np.abs(mine - np.array([*true.colour[:3], true.colour[3] * 255])).max() > TEXT_TOLERANCE + 1e-6:
            wrong.append(f"{run.page} {run.path} text {colour.hex()}, Chromium {true.colour}: {run.text!r}")
        if abs(sighting.size_px - true.size_px) > 0.02 or sighting.weight != true.weight:
            wrong.append(
                f"{run.page} {run.path} {sighting.size_px}/{sighting.weight}, Chromium {true.size_px}/{true.weight}"
            )
        verdict = verdicts[sighting.pairing]
        if verdict.kind != "solid":
            counts[f"{verdict.kind}: {verdict.why or 'a gradient lies behind it'}"] += 1
        elif len(true.ground):
            assert verdict.background is not None
            off = np.abs(true.ground.astype(int) - np.array(verdict.background.bytes)).max(axis=1)
            if (off > GROUND_TOLERANCE).mean() > 0:
                seen = Counter(map(tuple, true.ground.tolist())).most_common(2)
                wrong.append(f"{run.page} {run.path} ground {verdict.background.hex()}, Chromium {seen}: {run.text!r}")
            counts["grounds compared"] += 1
    wrong.extend(f"{page} {path} was not found" for page, path in truth.keys() - ours)
    with capsys.disabled():
        print(f"\n  {context.width} px, {context.state}: {dict(counts)}")
    assert wrong == []
    assert counts["compared"] >= 100
    assert counts["grounds compared"] >= 100

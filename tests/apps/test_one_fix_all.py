"""*Fix all* is one thing: the screen, the shell and the published figures come to the same study, to the byte."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from glaucon.apps.sites.models import Site
from glaucon.apps.studies.services import current_of
from glaucon.cli import main
from glaucon.core.acts.any_act import applied
from glaucon.core.acts.at_hand import ReadSite
from glaucon.core.acts.whole.find_fixes import FindFixes, FoundFixes
from glaucon.core.study.study import read_study
from glaucon.core.survey.site import read_site
from tests.apps.conftest import Api, folder_files, zipped
from tests.oracle import corpus

SITES = [corpus.ROOT / "samples" / "otterlock", *sorted(one for one in corpus.OWN.iterdir() if one.is_dir())]
SHORT = ("stacks", "states")


@pytest.mark.parametrize(
    "folder", [pytest.param(one, id=one.name, marks=() if one.name in SHORT else pytest.mark.prove) for one in SITES]
)
@pytest.mark.parametrize("take", ["all", "none"])
def test_screen_shell_and_proof_fix_alike(wren: Api, folder: Path, take: str, tmp_path: Path) -> None:
    slug = wren.bring(zipped(folder_files(folder)), f"{folder.name}.zip").json()["site"]
    start = current_of(Site.objects.get(slug=slug)).read()
    # the screen: the search's answer, sent back as an act with what is offered beside it ticked, or not
    found = FoundFixes.model_validate(wren.search(slug, "fix-all").json())
    act = found.taken(None if take == "all" else ()).model_dump(mode="json")
    answer = wren.act(slug, act)
    assert answer.status_code == 200, answer.json()
    screen = current_of(Site.objects.get(slug=slug)).read().model_dump_json()
    # the shell, from the same study
    before, after = tmp_path / "before.json", tmp_path / "after.json"
    before.write_text(start.model_dump_json())
    main(
        [
            "mend",
            str(folder),
            "--study",
            str(before),
            "--take",
            take,
            "--out",
            str(tmp_path / "site.zip"),
            "--out-study",
            str(after),
        ]
    )
    # the proof, as tests.oracle.mending measures it
    at_hand = ReadSite(read_site(folder))
    fixes, _ = FindFixes(search="fix-all").find_both(at_hand, start)
    proof = applied(at_hand, start, [fixes.taken(None if take == "all" else ())]).model_dump_json()
    assert screen == proof
    assert read_study(json.loads(after.read_bytes())).model_dump_json() == proof

"""What an operator does: backups while Glaucon runs, put in place to the byte, checks, limits for one owner."""

from __future__ import annotations

import contextlib
import hashlib
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model

from glaucon.apps.releases.models import Release
from glaucon.apps.sites.blobs import blob_path, get_blob, put_blob
from glaucon.apps.sites.models import Site
from glaucon.operating import admin
from glaucon.operating.backup import BackupError, check_archive, make_backup, restore
from tests.apps.conftest import Api, folder_files, zipped
from tests.apps.test_strangers import SAFE
from tests.running import Running, running

ROOT = Path(__file__).parents[2]


def _tool(data: Path, *words: str) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "GLAUCON_DATA": str(data), "GLAUCON_ENV": "/dev/null"}
    environment.pop("DJANGO_SETTINGS_MODULE", None)
    command = [str(ROOT / "bin" / "glaucon-admin"), *words]
    return subprocess.run(command, capture_output=True, text=True, env=environment, check=False)


def _rows(database: Path) -> dict[str, list[tuple[Any, ...]]]:
    """Return all that a database holds, without what comes and goes."""
    with contextlib.closing(sqlite3.connect(database)) as opened:
        names = [row[0] for row in opened.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        passing = ("glaucon_work_work", "sqlite_sequence")
        return {
            name: sorted(opened.execute(f"SELECT * FROM {name}"), key=repr) for name in names if name not in passing
        }


@contextlib.contextmanager
def _busy(demo: Running) -> Iterator[list[int]]:
    """Keep changing colours and releasing meanwhile; the list has the status of every answer."""
    ended, told = threading.Event(), list[int]()

    def work() -> None:
        chance = random.Random(4)
        while not ended.is_set():
            colour = f"#{chance.randrange(0x1000000):06x}"
            told.append(demo.act({"act": "set-colour", "role": "link", "value": colour})[0])
            status, answer = demo.release()
            told.append(demo.done("GET", f"/api/work/{answer['work']}")[0] if status == 202 else status)

    thread = threading.Thread(target=work)
    thread.start()
    try:
        yield told
    finally:
        ended.set()
        thread.join()


@pytest.mark.prove
def test_a_backup_under_load_is_put_in_place_elsewhere_to_the_byte(tmp_path: Path) -> None:
    data, there, file = tmp_path / "data", tmp_path / "there", tmp_path / "backup.zip"
    data.mkdir()
    with running(data) as demo, _busy(demo) as told:
        time.sleep(3)
        made = _tool(data, "backup", str(file))
        assert made.returncode == 0 and "checked" in made.stdout, made.stderr
        refused = _tool(data, "restore", str(file), "--over")
        assert refused.returncode == 2 and "is running on this data" in refused.stderr
        time.sleep(1)
    assert set(told) == {200}
    manifest = check_archive(file)
    restored = _tool(there, "restore", str(file))
    assert restored.returncode == 0, restored.stderr
    with zipfile.ZipFile(file) as archive:
        (tmp_path / "copy.sqlite3").write_bytes(archive.read("glaucon.sqlite3"))
    assert _rows(there / "glaucon.sqlite3") == _rows(tmp_path / "copy.sqlite3")
    for name, said in manifest["files"].items():
        assert hashlib.sha256((there / name).read_bytes()).hexdigest() == said["sha256"] or name == "glaucon.sqlite3"
    assert _tool(there, "check").stdout == "Everything is there and opens.\n"
    # what was live then is live there
    with running(there) as other:
        assert b"glaucon-" in other.call("GET", "/live/otterlock-boats/")[1]
        assert other.act({"act": "set-colour", "role": "link", "value": "#123456"})[0] == 200


@pytest.mark.prove
def test_a_kill_during_backup_or_restore_leaves_a_whole_state(tmp_path: Path) -> None:
    data, file = tmp_path / "data", tmp_path / "backup.zip"
    data.mkdir()
    with running(data) as demo:
        demo.act({"act": "set-colour", "role": "link", "value": "#123456"})
        assert demo.release()[0] in (200, 202)
        time.sleep(2)
    make_backup(data, file)
    shutil.copytree(data, tmp_path / "later")
    with running(tmp_path / "later") as demo:
        demo.act({"act": "set-colour", "role": "link", "value": "#654321"})
    old, new = _rows(tmp_path / "later" / "glaucon.sqlite3"), _rows(data / "glaucon.sqlite3")
    ends = {"killed": 0, "ended": 0, "as before": 0, "restored": 0}
    for seed in range(12):
        target = tmp_path / f"target-{seed}"
        shutil.copytree(tmp_path / "later", target)
        for words in (("backup", str(target / "made.zip")), ("restore", str(file), "--over")):
            environment = {**os.environ, "GLAUCON_DATA": str(target), "GLAUCON_ENV": "/dev/null"}
            environment.pop("DJANGO_SETTINGS_MODULE", None)
            child = subprocess.Popen(
                [sys.executable, "-m", "glaucon.operating.admin", *words], cwd=ROOT, env=environment
            )
            time.sleep(0.35 + random.Random(seed).random() * 0.5)
            with contextlib.suppress(ProcessLookupError):
                os.kill(child.pid, signal.SIGKILL)
            ends["killed" if child.wait() == -signal.SIGKILL else "ended"] += 1
        assert not (target / "made.zip").exists() or check_archive(target / "made.zip")
        is_new = _rows(target / "glaucon.sqlite3") == new
        assert is_new or _rows(target / "glaucon.sqlite3") == old
        ends["restored" if is_new else "as before"] += 1
        assert _tool(target, "check").stdout == "Everything is there and opens.\n"
        shutil.rmtree(target)
    assert ends["killed"] > 6, ends


def _python(data: Path, code: str) -> subprocess.Popen[bytes]:
    """Run some code with Glaucon set up on some data."""
    environment = {**os.environ, "GLAUCON_DATA": str(data), "DJANGO_SETTINGS_MODULE": "glaucon.settings.base"}
    return subprocess.Popen([sys.executable, "-c", f"import django; django.setup()\n{code}"], cwd=ROOT, env=environment)


_MIGRATE = "from django.core.management import call_command; call_command('migrate', {0!r}, verbosity=0)"
_THIN = (
    "from glaucon.apps.bringing.sweeping import thin\nfrom glaucon.apps.studies.models import Study\n"
    "print(sum(thin(one) for one in Study.objects.all()))"
)
_MANY = """
INSERT INTO glaucon_studies_revision (number, document, what, touches, made, base_id, study_id)
WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 3000)
SELECT 1000 + i, document, 'Made', '[]', datetime('now', '-40 days', '+' || (i * 12) || ' minutes'), id, study_id
FROM n, glaucon_studies_revision WHERE id = (SELECT MIN(id) FROM glaucon_studies_revision)
"""


@pytest.mark.prove
def test_a_kill_during_migration_or_thinning_leaves_a_whole_state(tmp_path: Path) -> None:
    data = tmp_path / "data"
    data.mkdir()
    with running(data) as demo:
        demo.act({"act": "set-colour", "role": "link", "value": "#123456"})
    with contextlib.closing(sqlite3.connect(data / "glaucon.sqlite3")) as opened:
        opened.executescript(_MANY)
        opened.execute("UPDATE glaucon_studies_revision SET base_id = id - 1 WHERE number > 1001")
        opened.commit()
    back = "from django.core.management import call_command\n" + "\n".join(
        f"call_command('migrate', '{app}', '0001', verbosity=0)" for app in ("glaucon_releases", "glaucon_work")
    )
    old = tmp_path / "old"
    shutil.copytree(data, old)
    assert _python(old, back).wait() == 0
    wanted, killed = _rows(data / "glaucon.sqlite3"), 0
    for seed in range(10):
        target = tmp_path / f"target-{seed}"
        shutil.copytree(old, target)
        for code in (_MIGRATE.replace("{0!r}, ", ""), _THIN):
            child = _python(target, code)
            time.sleep(0.5 + random.Random(seed).random() * 0.9)
            child.kill()
            killed += child.wait() == -signal.SIGKILL
            # whatever came of it, done once more it is done
            assert _python(target, code).wait() == 0
            told = _tool(target, "check").stdout
            assert told == "Everything is there and opens.\n", told
        now = _rows(target / "glaucon.sqlite3")
        assert now.keys() == wanted.keys() and len(now["glaucon_studies_revision"]) < 900
        assert now["glaucon_studies_study"] == wanted["glaucon_studies_study"]
        shutil.rmtree(target)
    assert killed > 8, killed


def test_data_of_a_newer_version_is_refused(tmp_path: Path) -> None:
    assert _python(tmp_path, _MIGRATE.replace("{0!r}, ", "")).wait() == 0
    with contextlib.closing(sqlite3.connect(tmp_path / "glaucon.sqlite3")) as opened:
        opened.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('glaucon_sites', '9000_later', '2030')"
        )
        opened.commit()
    environment = {**os.environ, **SAFE, "GLAUCON_DATA": str(tmp_path)}
    command = [sys.executable, "-m", "glaucon.operating.start"]
    ended = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    assert ended.returncode == 2 and ended.stderr.count("\n") == 1, ended.stderr
    assert "newer Glaucon (it has glaucon_sites.9000_later)" in ended.stderr


def test_files_are_packed_where_that_saves_room_and_read_as_they_were(wren: Api, settings: Any) -> None:
    for data, is_packed in ((b"a { color: red }\n" * 400, True), (os.urandom(5000), False), (b"", False)):
        name = put_blob(data)
        path = blob_path(name)
        assert (path.suffix == ".zst", get_blob(name)) == (is_packed, data)
        assert put_blob(data) == name and len(list(path.parent.glob(f"{name}*"))) == 1
    # what was kept as it is before still is read
    plain = blob_path(name).with_name(name := hashlib.sha256(b"old" * 900).hexdigest()).parent.parent / name[:2] / name
    plain.parent.mkdir(exist_ok=True)
    plain.write_bytes(b"old" * 900)
    assert get_blob(put_blob(b"old" * 900)) == b"old" * 900 and not plain.with_name(f"{name}.zst").exists()


def _small_backup(folder: Path) -> Path:
    with contextlib.closing(sqlite3.connect(folder / "glaucon.sqlite3")) as made:
        made.executescript(
            "CREATE TABLE django_migrations (app, name); CREATE TABLE glaucon_sites_sitefile (blob);"
            "CREATE TABLE glaucon_sites_sitepicture (blob); CREATE TABLE glaucon_releases_releasefile (blob);"
        )
        made.commit()
    make_backup(folder, folder / "backup.zip")
    return folder / "backup.zip"


def _with(archive: Path, name: str, data: bytes) -> None:
    files = {one: zipfile.ZipFile(archive).read(one) for one in zipfile.ZipFile(archive).namelist()}
    with zipfile.ZipFile(archive, "w") as made:
        for one, content in {**files, name: data}.items():
            made.writestr(one, content)


BROKEN = {
    "no zip": (lambda path: path.write_bytes(b"no"), "no backup that can be read"),
    "cut off": (lambda path: path.write_bytes(path.read_bytes()[:-60]), "no backup that can be read"),
    "another format": (lambda path: _with(path, "manifest.json", b'{"format": 9, "files": {}}'), "another format"),
    "no manifest": (lambda path: _with(path, "manifest.json", b"[]"), "no backup that can be read"),
    "a database that was changed": (lambda path: _with(path, "glaucon.sqlite3", b"x"), "is damaged at"),
    "a way out of the folder": (
        lambda path: _with(path, "manifest.json", b'{"format": 1, "files": {"blobs/../../x": {"sha256": ""}}}'),
        "outside of the data",
    ),
}  # fmt: skip


@pytest.mark.parametrize(("breaking", "words"), BROKEN.values(), ids=list(BROKEN))
def test_a_broken_backup_is_refused_and_nothing_is_lost(tmp_path: Path, breaking: Any, words: str) -> None:
    file = _small_backup(tmp_path)
    breaking(file)
    with pytest.raises(BackupError, match=words):
        restore(tmp_path / "there", file)
    assert not (tmp_path / "there" / "glaucon.sqlite3").exists()


def test_a_backup_writes_over_nothing_and_misses_nothing(tmp_path: Path) -> None:
    file = _small_backup(tmp_path)
    with pytest.raises(BackupError, match="is there already"):
        make_backup(tmp_path, file)
    with pytest.raises(BackupError, match="has a database already"):
        restore(tmp_path, file)
    with contextlib.closing(sqlite3.connect(tmp_path / "glaucon.sqlite3")) as made:
        made.execute("INSERT INTO glaucon_sites_sitefile VALUES (?)", ["ab" * 32])
        made.commit()
    with pytest.raises(BackupError, match="is missing, which a site needs"):
        make_backup(tmp_path, tmp_path / "other.zip")
    assert not list(tmp_path.glob("*other*"))


def test_what_is_damaged_is_found_and_whose_it_is(wren: Api, yard: str, capsys: Any, settings: Any) -> None:
    assert admin.main(["check"]) == 0
    site = Site.objects.get(slug=yard)
    first, second = site.files.order_by("path")[:2]
    blob_path(first.blob).unlink()
    kept = blob_path(second.blob)
    kept.write_bytes(b"otherwise")
    assert admin.main(["check"]) == 1
    told = capsys.readouterr().out
    assert (
        f"of {yard} ({first.path}), is missing." in told and f"of {yard} ({second.path}), is not what it was." in told
    )
    kept.unlink()  # what comes in again is written anew


def test_an_owners_limits_hold_and_can_be_set_for_one(
    wren: Api, yard: str, otterlock: Path, capsys: Any, settings: Any
) -> None:
    settings.GLAUCON_MOST_SITES = 1
    archive = zipped(folder_files(otterlock))
    refused = wren.bring(archive)
    assert (refused.status_code, refused.json()["code"]) == (409, "too-many-sites")
    assert admin.main(["quota", "WREN", "--sites", "3", "--mb", "1"]) == 0
    assert "3 sites, 1 MB" in capsys.readouterr().out
    big = zipped({**folder_files(otterlock), "big.bin": os.urandom(900_000)})
    job = wren.bring(big).json()
    assert (job["state"], "MB left" in job["message"]) == ("refused", True)
    assert admin.main(["quota", "wren", "--mb", "all", "--releases", "2"]) == 0
    for colour in ("#111111", "#222222", "#333333", "#444444"):
        wren.colour(yard, {"text": colour})
        assert wren.release(yard).status_code == 200
    # the original, and the last two: older ones that nobody has named are gone
    assert [one.number for one in Release.objects.order_by("number")] == [0, 3, 4]
    settings.GLAUCON_PROCESSES, settings.GLAUCON_MOST_WORKS_AN_HOUR = True, 0
    busy = wren.post(f"/sites/{yard}/hand-back/site/check")
    assert (busy.status_code, busy.json()["code"]) == (429, "works")
    assert admin.main(["owners"]) == 0 and "1 of 3" in capsys.readouterr().out
    assert admin.main(["quota", "nobody"]) == 2
    assert admin.main(["stop-works", "wren"]) == 0 and get_user_model().objects.count() == 1

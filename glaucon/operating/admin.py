"""What an operator types: glaucon-admin backup FILE, restore FILE, check, owners, quota NAME, stop-works; projects."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path
from typing import Any

from glaucon.core.errors import GlauconError

_DONE, _FAULTS, _COULD_NOT = 0, 1, 2


def main(arguments: list[str] | None = None) -> int:
    """Run a command; the exit status is 1 where something was found that is wrong, 2 where it could not be done."""
    options = _parser().parse_args(arguments)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "glaucon.settings.base")
    import django

    django.setup()
    from glaucon.apps.errors import Refused

    try:
        status: int = options.run(options)
    except (GlauconError, Refused) as error:
        print(f"glaucon-admin: {error}", file=sys.stderr)
        return _COULD_NOT
    return status


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="glaucon-admin", description="Looks after a Glaucon; GLAUCON_DATA says which."
    )
    commands = parser.add_subparsers(required=True)
    backup = commands.add_parser("backup", help="write a backup, checked, while Glaucon runs")
    backup.add_argument("file", type=Path)
    backup.set_defaults(run=_backup)
    restore = commands.add_parser("restore", help="put a backup in place, while Glaucon does not run")
    restore.add_argument("file", type=Path)
    restore.add_argument("--over", action="store_true", help="replace what is there")
    restore.set_defaults(run=_restore)
    commands.add_parser("check", help="is every file, revision and release there and whole?").set_defaults(run=_check)
    commands.add_parser("owners", help="who has what").set_defaults(run=_owners)
    quota = commands.add_parser("quota", help="what one owner may have")
    quota.add_argument("name")
    for name in ("sites", "mb", "releases", "works-an-hour"):
        quota.add_argument(f"--{name}", type=_limit, metavar="N", help="a number, or “all” for what holds for all")
    quota.set_defaults(run=_quota)
    staff = commands.add_parser("staff", help="let one person into /admin/, where owners are helped, or no more")
    staff.add_argument("name")
    staff.add_argument("--no", action="store_true", help="no more")
    staff.set_defaults(run=_staff)
    save = commands.add_parser("save-project", help="write a site with everything as one archive")
    save.add_argument("site", help="its name in addresses")
    save.add_argument("file", type=Path)
    save.set_defaults(run=_save_project)
    bring = commands.add_parser("bring-project", help="bring a project archive in for an owner")
    bring.add_argument("file", type=Path)
    bring.add_argument("name")
    bring.set_defaults(run=_bring_project)
    stop = commands.add_parser("stop-works", help="cancel heavy work that waits or runs")
    stop.add_argument("name", nargs="?")
    stop.set_defaults(run=_stop_works)
    return parser


def _limit(text: str) -> int | str:
    if text == "all":
        return text
    if not (text.isascii() and text.isdigit()):
        raise argparse.ArgumentTypeError(f"“{text}” is no whole number; write one, or “all”")
    return int(text)


def _data() -> Path:
    from django.conf import settings

    return Path(settings.DATA_DIR)


def _backup(options: argparse.Namespace) -> int:
    from glaucon.operating.backup import make_backup

    made = make_backup(_data(), options.file)
    size = sum(one["size"] for one in made["files"].values())
    print(f"{options.file}: {len(made['files']):,} files, {size / 1e6:,.1f} MB, checked.")
    return _DONE


def _restore(options: argparse.Namespace) -> int:
    from django.db import connections

    from glaucon.apps.work.sole import AlreadyRunning, sole_worker
    from glaucon.operating.backup import BackupError, restore
    from glaucon.operating.start import locked

    connections.close_all()
    try:
        with sole_worker():
            lock = locked(_data())
            if lock is None:
                raise AlreadyRunning
            with lock:
                made = restore(_data(), options.file, options.over)
    except AlreadyRunning as error:
        raise BackupError("Glaucon is running on this data. End it before something is put in its place.") from error
    print(
        f"Restored as of {made['made']}: {len(made['files']):,} files. Start Glaucon, which brings the data up to date."
    )
    return _DONE


def _check(options: argparse.Namespace) -> int:
    from glaucon.operating.checking import faults

    found = list(faults())
    print(*(found or ["Everything is there and opens."]), sep="\n")
    return _FAULTS if found else _DONE


def _owners(options: argparse.Namespace) -> int:
    from django.contrib.auth import get_user_model

    from glaucon.apps.accounts.limits import limits_of
    from glaucon.apps.sites.room import taken_by

    print(f"{'owner':<30} {'last in':<10} {'sites':>11} {'MB':>14}")
    for user in get_user_model().objects.order_by("pk"):
        taken, most = taken_by(user), limits_of(user)
        last = f"{user.last_login:%Y-%m-%d}" if user.last_login else "never"
        sites, room = f"{taken.sites} of {most.sites}", f"{taken.bytes / 1e6:.1f} of {most.mb}"
        print(f"{user.get_username():<30} {last:<10} {sites:>11} {room:>14}")
    return _DONE


def _quota(options: argparse.Namespace) -> int:
    from glaucon.apps.accounts.limits import limits_of
    from glaucon.apps.accounts.models import Quota

    user = _user(options.name)
    said = {name: getattr(options, name) for name in ("sites", "mb", "releases", "works_an_hour")}
    changes = {name: None if value == "all" else value for name, value in said.items() if value is not None}
    if changes:
        Quota.objects.update_or_create(owner=user, defaults=changes)
    most = limits_of(user)
    print(
        f"{user.get_username()}: {most.sites} sites, {most.mb} MB, {most.releases} releases kept of a site, "
        f"{most.works_an_hour} heavy works an hour."
    )
    return _DONE


def _staff(options: argparse.Namespace) -> int:
    user = _user(options.name)
    user.is_staff = not options.no
    user.save(update_fields=["is_staff"])
    said = "is let in at /admin/, with a second step or a passkey" if user.is_staff else "is let in there no more"
    print(f"{user.get_username()} {said}.")
    return _DONE


def _save_project(options: argparse.Namespace) -> int:
    from glaucon.apps.bringing.project_out import save_project
    from glaucon.apps.sites.models import Site
    from glaucon.operating.backup import BackupError

    site = Site.objects.filter(slug=options.site).first()
    if site is None:
        raise BackupError(f"No site has the address “{options.site}”. It is the last part of what its bench is at.")
    with options.file.open("wb") as out:
        save_project(site, out)
    print(f"{options.file}: {site.name}, {options.file.stat().st_size / 1e6:,.1f} MB.")
    return _DONE


def _bring_project(options: argparse.Namespace) -> int:
    from glaucon.apps.bringing import jobs
    from glaucon.apps.bringing.sources import keep_upload
    from glaucon.apps.sites.models import Job
    from glaucon.operating.backup import BackupError

    user = _user(options.name)
    try:
        kept = keep_upload([options.file.read_bytes()])
    except OSError as error:
        raise BackupError(f"“{options.file}” could not be read ({error.strerror}). Name a project archive.") from error
    number = jobs.open_job(user, options.file.stem, str(kept)).pk
    jobs.run_job(number)
    job = Job.objects.select_related("site").get(pk=number)
    if job.site is None:
        raise BackupError(job.message)
    print(f"{job.site.name} is there for {user.get_username()}, at /sites/{job.site.slug}/bench.")
    return _DONE


def _stop_works(options: argparse.Namespace) -> int:
    from glaucon.apps.work import queue
    from glaucon.apps.work.models import Work

    works = Work.objects.filter(state__in=(Work.State.WAITING, Work.State.RUNNING))
    if options.name is not None:
        works = works.filter(owner=_user(options.name))
    stopped = list(works)
    for work in stopped:
        queue.cancel(work)
    print(f"{len(stopped)} stopped.")
    return _DONE


def _user(name: str) -> Any:
    from django.contrib.auth import get_user_model

    from glaucon.operating.backup import BackupError

    found = get_user_model().objects.filter(username__iexact=name).first()
    if found is None:
        raise BackupError(f"Nobody here is called “{name}”. glaucon-admin owners lists all.")
    return found


if __name__ == "__main__":
    raise SystemExit(main())

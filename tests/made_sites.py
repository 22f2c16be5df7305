"""Sites made for tests of size and of cutting off."""

from __future__ import annotations

from pathlib import Path

from tests.apps.conftest import folder_files

_WORDS = "lock pound paddle winding hole summit level feeder weir sluice balance beam bywash towpath".split()


def many_pages(sample: Path, pages: int) -> dict[str, bytes]:
    """Return the sample site with its pages repeated under other names, each with words of its own."""
    files = folder_files(sample)
    originals = sorted(path for path in files if path.endswith(".html") and "/" not in path)
    made = dict(files)
    for number in range(pages - sum(path.endswith(".html") for path in files)):
        text = files[originals[number % len(originals)]].decode()
        word = _WORDS[number % len(_WORDS)]
        made[f"page-{number}.html"] = text.replace("boat", f"{word} boat {number}").encode()
    return made

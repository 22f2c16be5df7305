"""Sites made for tests of size and of cutting off."""

from __future__ import annotations

from pathlib import Path

from tests.apps.conftest import folder_files

_WORDS = "lock pound paddle winding hole summit level feeder weir sluice balance beam bywash towpath".split()


def many_pages(sample: Path, pages: int, words: int = 0) -> dict[str, bytes]:
    """Return the sample site with its pages repeated under other names, each with words of its own.

    `words` adds that many times thirty texts to every page, on grounds the site has.
    """
    files = folder_files(sample)
    originals = sorted(path for path in files if path.endswith(".html") and "/" not in path)
    made = dict(files)
    for number in range(pages - sum(path.endswith(".html") for path in files)):
        text = files[originals[number % len(originals)]].decode()
        word = _WORDS[number % len(_WORDS)]
        text = text.replace("boat", f"{word} boat {number}")
        more = "".join(_block(number, place) for place in range(words))
        made[f"page-{number}.html"] = text.replace("</main>", f"{more}</main>").encode()
    return made


def _block(number: int, place: int) -> str:
    kind = ("", "sand", "hull", "lamp", "rope")[place % 5]
    items = "".join(f"<p>{word} {number} <a href=#>{place}</a></p>" for word in _WORDS)
    return f'<section class="section {kind}"><h2>Notes {place}</h2>{items}<p class="small">Kept by hand.</p></section>'

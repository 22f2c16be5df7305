"""Draws sentences and labels of screens, errors and command line to be read: python -m tests.drawing_sentences SEED [N]

Each is read against the voice that the project writes in: plain, short, naming the thing and the way out.
"""

from __future__ import annotations

import random
import re
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
_TEXT = re.compile(r">\s*([^<>{}\n]*[a-z]{3,}[^<>{}\n]*)\s*<")
_ATTRIBUTE = re.compile(r"\b(?:aria-label|title|label|placeholder|about|heading)=\"([^\"]+)\"")
_QUOTED = re.compile(r"[\"'`]([A-Z][^\"'`\n]{6,}|[^\"'`\n]*\$\{[^\"'`\n]+)[\"'`]")
_RAISED = re.compile(r"(?:Error|Refusal|Failed)\w*\(\s*f?\"([^\"]{12,})\"")
_HELP = re.compile(r"(?:help|description|print)\w*[=(]\s*f?\"([^\"]{8,})\"")


def sentences() -> list[tuple[str, str]]:
    """Return (file, sentence) of all there are."""
    found: dict[tuple[str, str], None] = {}
    for path in sorted((ROOT / "web" / "src").rglob("*.vue")):
        markup = path.read_text("utf-8").split("<style")[0]
        for pattern in (_TEXT, _ATTRIBUTE, _QUOTED):
            for one in pattern.findall(markup):
                found[path.name, one.strip()] = None
    for path in [*sorted((ROOT / "web" / "src").rglob("*.ts")), *sorted((ROOT / "glaucon").rglob("*.py"))]:
        source = path.read_text("utf-8")
        if path.suffix == ".ts" and ".test." not in path.name and path.name != "schema.ts":
            found.update(dict.fromkeys((path.name, one.strip()) for one in _QUOTED.findall(source)))
        for pattern in (_RAISED, _HELP) if path.suffix == ".py" else ():
            found.update(dict.fromkeys((path.name, one.strip()) for one in pattern.findall(source)))
    return [(file, text) for file, text in found if " " in text and not re.search(r"=>|===|\bimport\b|@/|;$", text)]


def main() -> None:
    """Print some."""
    seed, count = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 60
    for file, text in random.Random(seed).sample(sentences(), count):
        print(f"{file}: {text}")


if __name__ == "__main__":
    main()

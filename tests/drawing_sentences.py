"""Draws sentences and labels of screens, errors and command line to be read: python -m tests.drawing_sentences SEED [N]

Each is read against the voice that the project writes in: plain, short, naming the thing and the way out.
"""

from __future__ import annotations

import ast
import random
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
_TEXT = re.compile(r"(?<![-=])>([^<>]*[a-z]{2,}[^<>]*)<")
_ATTRIBUTE = re.compile(r"(?<![:\w])(?:aria-label|title|label|placeholder|about|heading)=\"([^\"]+)\"")
_QUOTED = re.compile(r"`([^`\n]+)`|'([^'\n]{2,})'|\"([^\"\n=]{2,})\"")
_CODE = re.compile(
    r"=>|===|\bimport\b|@/|;$|[()]:|gradient\(|Math\.|\.(join|length)\b|^[./]|^[\w.-]+$|^\w+\.\w+|/api/|--gl|[{<\\]$|^\W+$"
    r"|^\(?\w+(, \w+)*\)? in |emit\(|^\W|&&|\w+\(.*\)$|'self'|charset|@layer|:where|max-age|\\n|sandbox|\s\?|, textarea"
)
_LISTS = 12  # lower-case words in a row without a stop: names of CSS and HTML, class names


def sentences() -> list[tuple[str, str]]:
    """Return (file, sentence) of all there are."""
    found: dict[tuple[str, str], None] = {}
    for path in sorted((ROOT / "web" / "src").rglob("*.vue")):
        markup = path.read_text("utf-8").split("<style")[0]
        for text in (*_TEXT.findall(markup.split("</script>")[-1]), *_ATTRIBUTE.findall(markup), *_quoted(markup)):
            found[path.name, " ".join(text.split())] = None
    for path in sorted((ROOT / "web" / "src").rglob("*.ts")):
        if ".test." not in path.name and path.name != "schema.ts":
            found.update(dict.fromkeys((path.name, text) for text in _quoted(path.read_text("utf-8"))))
    for path in sorted((ROOT / "glaucon").rglob("*.py")):
        if "migrations" not in path.parts and "settings" not in path.parts:
            found.update(dict.fromkeys((path.name, text) for text in _said_in(ast.parse(path.read_text("utf-8")))))
    return [(file, text) for file, text in found if _is_said(text)]


def _quoted(source: str) -> Iterator[str]:
    return ("".join(groups) for groups in _QUOTED.findall(source))


def _said_in(tree: ast.Module) -> Iterator[str]:
    """Yield the strings of a module that are no docstrings, what is filled in as {name}."""
    silent = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    for node in ast.walk(tree):
        silent.update(id(value) for value in node.values) if isinstance(node, ast.JoinedStr) else None
        if id(node) in silent:
            continue
        if isinstance(node, ast.JoinedStr):
            yield ast.unparse(node)[2:-1]
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield node.value


def _is_said(text: str) -> bool:
    """Return whether a string is a sentence or a label rather than code: words beside what is filled in."""
    plain = re.sub(r"\{\{[^}]*\}\}|\$?\{[^}]*\}?", " ", text)
    words = re.findall(r"[A-Za-z’]{2,}", plain)
    is_list = len(words) > _LISTS and text == text.lower() and not re.search(r"[.,:]", text)
    return len(words) > 1 and " " in text.strip() and not _CODE.search(text) and not is_list


def main() -> None:
    """Print some."""
    seed, count = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 60
    for file, text in random.Random(seed).sample(sentences(), count):
        print(f"{file}: {text}")


if __name__ == "__main__":
    main()

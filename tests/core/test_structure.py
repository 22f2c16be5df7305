"""The shape of the code, as docs/architecture.md says it: names that mean one thing, parts of a size to read."""

from __future__ import annotations

import ast
from collections import defaultdict
from pathlib import Path

import glaucon

ROOT = Path(glaucon.__file__).parent
TREES = {path: ast.parse(path.read_text("utf-8")) for path in ROOT.rglob("*.py") if "migrations" not in path.parts}
MOST_FILES, MOST_LINES, MOST_IN_A_FUNCTION = 21, 500, 40
# Django looks for these by name; there is nothing in them to explain
WITHOUT_WORDS = {"management", "commands"}


def test_a_class_name_means_one_thing_across_the_core() -> None:
    where = defaultdict(list)
    for path, tree in TREES.items():
        if ROOT / "core" in path.parents:
            for one in tree.body:
                if isinstance(one, ast.ClassDef):
                    where[one.name].append(str(path.relative_to(ROOT)))
    assert len(where) > 200 and {name: files for name, files in where.items() if len(files) > 1} == {}


def test_every_package_says_what_is_inside_and_where_to_begin() -> None:
    packages = [path for path in TREES if path.name == "__init__.py" and path.parent.name not in WITHOUT_WORDS]
    silent = [
        str(path.parent.relative_to(ROOT))
        for path in packages
        if path.parent != ROOT and "Begin with" not in (ast.get_docstring(TREES[path]) or "")
    ]
    assert len(packages) > 20 and silent == []


def test_rooms_files_and_steps_stay_small() -> None:
    files = defaultdict(int)
    too_long = []
    for path, tree in TREES.items():
        files[path.parent] += 1
        lines = len(path.read_text("utf-8").splitlines())
        if lines > MOST_LINES:
            too_long.append((str(path), lines))
        for one in ast.walk(tree):
            if isinstance(one, ast.FunctionDef | ast.AsyncFunctionDef):
                lines = (one.end_lineno or one.lineno) - one.lineno + 1
                if lines > MOST_IN_A_FUNCTION:
                    too_long.append((f"{path.name} {one.name}", lines))
    assert too_long == []
    assert {str(path): many for path, many in files.items() if many > MOST_FILES} == {}

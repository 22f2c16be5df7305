"""Fading: text that the page itself fades by `opacity`, made readable by a rule of the study's added stylesheet.

Such a rule has the selector of the page's own rule and says `opacity: N !important`, nothing else; the study keeps it
in `extra_css`. What else stands there is left as it is.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import tinycss2

from glaucon.core.study.study import Study


def fades_of(study: Study) -> Mapping[str, float]:
    """Return the opacity, 0 to 1, that a study gives what a selector of the page fades."""
    return _read(study.extra_css)[0] if study.extra_css else {}


def without_fades(css: str) -> str:
    """Return some CSS without its fading rules."""
    return _read(css)[1]


def fading_rules(css: str) -> list[str]:
    """Return the fading rules in some CSS, each as a rule of its own."""
    return _rules(_read(css)[0])


def _rules(fades: Mapping[str, float]) -> list[str]:
    return [f"{name} {{ opacity: {level:g} !important }}" for name, level in fades.items()]


def with_fade(study: Study, selector: str, opacity: float | None) -> Study:
    """Return the study with what a selector fades at an opacity of 0 to 1; None: as the page has it."""
    fades, rest = _read(study.extra_css)
    fades = {name: level for name, level in fades.items() if name != selector}
    if opacity is not None:
        fades[selector] = opacity
    return study.model_copy(update={"extra_css": "\n".join([*([rest] if rest else []), *_rules(fades)])})


def with_fades(study: Study, fades: Mapping[str, float]) -> Study:
    """Return the study with what some selectors fade at other opacities."""
    for selector, opacity in fades.items():
        study = with_fade(study, selector, opacity)
    return study


_FADING = re.compile(r"\{ opacity: [0-9.]+ !important \}$")


@lru_cache(maxsize=64)
def _read(css: str) -> tuple[dict[str, float], str]:
    """Return the fading rules of some CSS, and the rest of it."""
    fades: dict[str, float] = {}
    lines = css.split("\n")
    kept: list[str] = []
    # one a line, as they are written below: what the owner writes is kept as it stands, whether it parses or not
    for line in lines:
        nodes = tinycss2.parse_stylesheet(line) if _FADING.search(line) else []
        level = _opacity(nodes[0]) if len(nodes) == 1 else None
        if level is None:
            kept.append(line)
        else:
            fades[tinycss2.serialize(nodes[0].prelude).strip()] = level
    return fades, "\n".join(kept).strip("\n")


def _opacity(node: Any) -> float | None:
    if node.type != "qualified-rule":
        return None
    said = [one for one in tinycss2.parse_blocks_contents(node.content) if one.type not in ("whitespace", "comment")]
    if len(said) != 1 or said[0].type != "declaration" or said[0].lower_name != "opacity" or not said[0].important:
        return None
    value = [token for token in said[0].value if token.type != "whitespace"]
    return float(value[0].value) if len(value) == 1 and value[0].type == "number" else None

"""Older studies lifted to format 3, once, when they are read.

Formats 1 and 2 had no fields for kind, coat and state; they lay in names such as `ground-2-link-hover`. This is the
one place that takes such names apart. Format 1 had neither ties nor locks.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from glaucon.core.errors import StudyError

_OLD_STATES = ("hover", "focus", "active", "visited")
_OLD_KINDS = ("accent-text", "background", "panel", "text", "heading", "quiet", "link", "accent", "line", "shadow")
_SECTION = re.compile(r"ground-(\d+)(?:-(.+))?")
_NOT_SHOWN = "No page shows it now"
_MAIN_SITE_ROLES, _MAIN_COATS = 9, 6
# what roles were called before anybody named them
_OURS = re.compile(
    r"(?:Background|Panel|Text|Heading|Quiet text|Link|Accent|Accent text|Line|Focus mark|Shadow)"
    r"(?: \d+)?(?:, (?:pointed at|focused|pressed|visited))?(?: \d+)?(?: on [a-z -]+(?: \(\d+\))?)?"
)
_LABELS = {
    "background": "Background", "panel": "Panel", "text": "Text", "heading": "Heading", "quiet": "Quiet text",
    "link": "Link", "accent": "Buttons", "accent-text": "Button text", "line": "Line", "shadow": "Shadow",
    "detail": "Detail",
}  # fmt: skip
_IN_COAT = {"quiet": "quiet text", "accent": "button", "accent-text": "button text"}
_STATE_WORDS = {"hover": "hover", "focus": "focus", "active": "pressed", "visited": "visited"}
_OLD_LABEL = re.compile(r"Ground: (.+?)(?: \(\d+\))?")


def lifted(document: object) -> object:
    """Return a document of format 1 or 2 as one of format 3, anything else as it is.

    Raises: StudyError: the document is of a format that this Glaucon does not know.
    """
    if not isinstance(document, Mapping):
        return document
    format_ = document.get("format", 2)
    if format_ == 3:
        return document
    if format_ not in (1, 2):
        raise StudyError(
            f"This study has format {format_}. This version of Glaucon reads formats up to 3. Use a newer version."
        )
    roles = document.get("roles")
    if not isinstance(roles, list | tuple) or not all(isinstance(role, Mapping) for role in roles):
        return {**document, "format": 3}
    return _Lift(document, [dict(role) for role in roles]).document()


class _Lift:
    def __init__(self, old: Mapping[str, Any], roles: list[dict[str, Any]]) -> None:
        self._old, self._roles = old, roles
        self._ids: dict[str, str] = {}
        self._coats: dict[str, str] = {}
        self._main: set[tuple[str, str | None]] = set()
        self._labels: set[str] = set()

    def document(self) -> dict[str, Any]:
        for role in self._roles:
            self._note_coat(str(role.get("name", "")), str(role.get("label", "")))
        new = [self._role(role) for role in self._roles]
        for role in new:
            if isinstance(role.get("tie"), Mapping):
                role["tie"] = self._tie(role["tie"])
        mapping = self._old.get("mapping") or {}
        return {
            "format": 3,
            "name": self._old.get("name"),
            "aim": self._old.get("level", "AA"),
            "roles": new,
            "coats": [{"id": id_, "label": label, "came": True} for id_, label in self._coats.items()],
            "mapping": {key: self._ids.get(name, name) for key, name in mapping.items()},
        }

    def _note_coat(self, name: str, label: str) -> None:
        section = _SECTION.fullmatch(name)
        if section is None or section[2] is not None:
            return
        word = _OLD_LABEL.fullmatch(label)
        text = f"{word[1][:60].capitalize()} section" if word else label or name
        known = set(self._coats.values())
        self._coats[f"ground-{section[1]}"] = text if text not in known else f"{text}, {self._value(name)}"

    def _value(self, name: str) -> str:
        return next((str(role.get("found", "")).upper() for role in self._roles if role.get("name") == name), name)

    def _role(self, old: dict[str, Any]) -> dict[str, Any]:
        name = str(old.pop("name", ""))
        kind, coat, state, number = _parsed(name, self._coats)
        id_ = self._free(".".join(part for part in (coat, kind, "" if state == "rest" else state, number) if part))
        if coat is None and (kind, state) == ("detail", "rest"):
            id_ = self._free(name)
        self._ids[name] = id_
        is_unseen = str(old.get("reason", "")).startswith(_NOT_SHOWN)
        label = str(old.get("label", ""))
        if kind == "background" and coat is not None and state == "rest":
            label = self._coats[coat]
        elif _OURS.fullmatch(label):
            label = self._label(kind, coat, state, str(old.get("found", "")))
        return {
            **old, "id": id_, "kind": kind, "coat": coat, "state": state, "label": label[:80],
            "tier": "unseen" if is_unseen else self._tier(kind, coat, state, number),
        }  # fmt: skip

    def _tier(self, kind: str, coat: str | None, state: str, number: str) -> str:
        if state != "rest":
            return "main" if (kind, coat) in self._main and not number else "detail"
        is_first = not number and kind not in ("detail", "shadow") and (kind, coat) not in self._main
        shown = list(self._coats)[:_MAIN_COATS]
        fits = coat in shown or (coat is None and sum(1 for _, c in self._main if c is None) < _MAIN_SITE_ROLES)
        if is_first and fits:
            self._main.add((kind, coat))
            return "main"
        return "detail"

    def _label(self, kind: str, coat: str | None, state: str, found: str) -> str:
        """Return what a role is called today that its owner never named."""
        base = f"{self._coats[coat]}: {_IN_COAT.get(kind, kind)}" if coat else _LABELS.get(kind, kind.capitalize())
        label = base if state == "rest" else f"{base} ({_STATE_WORDS[state]})"
        label = label if label not in self._labels else f"{label}, {found.upper()}"
        self._labels.add(label)
        return label

    def _free(self, id_: str) -> str:
        taken = set(self._ids.values())
        return id_ if id_ not in taken else next(n for k in range(2, 999) if (n := f"{id_}.{k}") not in taken)

    def _tie(self, tie: Mapping[str, Any]) -> dict[str, Any]:
        new = dict(tie)
        for field in ("to", "on"):
            if isinstance(new.get(field), str):
                new[field] = self._ids.get(new[field], new[field])
        return new


def _parsed(name: str, coats: Mapping[str, str]) -> tuple[str, str | None, str, str]:
    """Return kind, coat, state and number of an old name."""
    section = _SECTION.fullmatch(name)
    coat = f"ground-{section[1]}" if section and f"ground-{section[1]}" in coats else None
    rest = (section[2] or "background") if section and coat else name
    number = ""
    if (tail := re.fullmatch(r"(.+?)-(\d+)", rest)) is not None:
        rest, number = tail[1], tail[2]
    state = next((one for one in _OLD_STATES if rest.endswith(f"-{one}")), "rest")
    rest = rest.removesuffix(f"-{state}")
    if rest == "focus-mark":
        return "line", coat, "focus", number
    kind = rest if rest in _OLD_KINDS else "detail"
    return kind, coat, state, number

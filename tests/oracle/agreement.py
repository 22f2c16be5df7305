"""An audit report held against what Chromium painted, run by run, and counted."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from glaucon.core.colour.contrast import ratio_of_luminances, relative_luminance
from glaucon.core.survey.texts import is_icon
from tests.oracle.chromium_truth import TrueRun

TEXT_TOLERANCE, GROUND_TOLERANCE = 2, 3  # of 255
NEAR_A_THRESHOLD = 0.02


@dataclass(slots=True)
class Example:
    """One disagreement, to be explained."""

    kind: str
    page: str
    path: str
    text: str
    ours: str
    theirs: str


@dataclass(slots=True)
class Tally:
    """Counts over runs. `left_out` tells why a true run could not be judged by its pixels."""

    true: int = 0
    found: int = 0
    extra: int = 0
    reported: int = 0
    colour_right: int = 0
    colour_judged: int = 0
    ground_right: int = 0
    ground_judged: int = 0
    verdict_right: int = 0
    verdict_judged: int = 0
    unsure: int = 0
    truly_failing: int = 0
    failing_found: int = 0
    failing_reported: int = 0
    failing_reported_right: int = 0
    false_pass: int = 0
    near: int = 0
    exempt: int = 0
    left_out: Counter[str] = field(default_factory=Counter)
    examples: list[Example] = field(default_factory=list)

    def add(self, other: Tally) -> None:
        """Add another tally to this one."""
        for name in self.__dataclass_fields__:
            if name == "examples":
                self.examples.extend(other.examples)
            elif name == "left_out":
                self.left_out.update(other.left_out)
            else:
                setattr(self, name, getattr(self, name) + getattr(other, name))

    @staticmethod
    def share(part: int, whole: int) -> float:
        """Return a share in per cent; all of nothing is 100."""
        return 100.0 * part / whole if whole else 100.0


# what the engine calls unsure, and the recorder cannot tell either
_NOT_RECORDED = {
    "moving or embedded picture": "a moving picture lies behind it, which is not there to be recorded",
    "from another host": "its picture lies on another host, which is not asked",
}


def compare_page(rows: Iterable[dict[str, Any]], truth: dict[str, TrueRun], page: str) -> Tally:
    """Return how the rows of one page of a report agree with Chromium's runs of that page."""
    tally = Tally()
    ours = {row["path"]: row for row in rows if row["page"] == page}
    tally.true, tally.reported = len(truth), len(ours)
    for path, true in truth.items():
        row = ours.get(path)
        if row is None and true.covered:
            tally.found += 1  # covered texts are no runs, once it is known that they are covered
            tally.left_out["covered by something else"] += 1
            continue
        if row is None and true.colour[3] * true.opacity == 0 and true.inks is None:
            tally.found += 1
            tally.left_out["its words are painted in nothing"] += 1
            continue
        if row is None:
            _note(tally, "missed", page, true, "", f"{true.size_px:g}px {true.colour}")
            continue
        tally.found += 1
        _compare_run(tally, row, true, page)
    for path in ours.keys() - truth.keys():
        tally.extra += 1
        row = ours[path]
        tally.examples.append(Example("extra", page, path, row["text"], row["verdict"], ""))
    return tally


def _compare_run(tally: Tally, row: dict[str, Any], true: TrueRun, page: str) -> None:
    if true.scrolled_out:
        tally.left_out["scrolled out of its box"] += 1
        return
    if true.covered:
        tally.left_out["covered by something else"] += 1
        return
    if "::" in true.path and len(true.ground) and not true.is_uniform:
        tally.left_out["something else stands among the glyphs of generated text"] += 1
        return
    if not len(true.ground):
        tally.left_out["no pixels to be had (generated text beside other text)"] += 1
        return
    middle = true.ground[true.counts.argmax()].astype(float)
    seen = _seen(true, middle[None])[0] if true.inks is None else np.zeros(3)
    if true.inks is None and (true.is_uniform or true.colour[3] * true.opacity >= 0.999):
        tally.colour_judged += 1
        mine = _bytes(row["colour"])
        if mine is not None and np.abs(mine - seen).max() <= TEXT_TOLERANCE + 0.5:
            tally.colour_right += 1
        else:
            _note(tally, "colour", page, true, str(row["colour"]), _hex(seen))
    if true.is_uniform:
        tally.ground_judged += 1
        background = row["background"]
        told = (background.get(name) for name in ("colour", "darkest", "lightest") if name in background)
        mine = [found for one in told if (found := _bytes(one)) is not None]  # of what varies, both of its ends
        if mine and max(np.abs(one - middle).max() for one in mine) <= GROUND_TOLERANCE + 0.5:
            tally.ground_right += 1
        else:
            _note(tally, "ground", page, true, str(background) + row.get("why", ""), _hex(middle))
    for told, reason in _NOT_RECORDED.items():
        if row["verdict"] == "unsure" and told in row.get("why", ""):
            tally.left_out[reason] += 1
            return
    _compare_verdict(tally, row, true, page)


def _compare_verdict(tally: Tally, row: dict[str, Any], true: TrueRun, page: str) -> None:
    if row["verdict"] == "exempt":
        tally.exempt += 1
        return
    large = true.size_px >= 24 or (true.size_px >= 18.66 and true.weight >= 700)
    required = 3.0 if large or is_icon(true.text) else 4.5
    ratio = float(ratios_of(true).min())
    if abs(ratio - required) <= NEAR_A_THRESHOLD:
        tally.near += 1
        return
    verdict = "pass" if ratio >= required else "fail"
    tally.verdict_judged += 1
    tally.verdict_right += row["verdict"] == verdict
    tally.unsure += row["verdict"] == "unsure"
    tally.truly_failing += verdict == "fail"
    tally.failing_found += verdict == "fail" == row["verdict"]
    tally.failing_reported += row["verdict"] == "fail"
    tally.failing_reported_right += verdict == "fail" == row["verdict"]
    tally.false_pass += verdict == "fail" and row["verdict"] == "pass"
    if row["verdict"] != verdict:
        kind = "false pass" if row["verdict"] == "pass" else f"verdict {row['verdict']}"
        mine = f"{row['ratio']} {row['colour']} on {row['background']} {row.get('why', '')}"
        _note(
            tally, kind, page, true, mine, f"{ratio:.2f} needs {required} on {_hex(true.ground[true.counts.argmax()])}"
        )


def ratios_of(true: TrueRun) -> np.ndarray:
    """Return the contrast ratio at every different pixel under a text."""
    pixels = true.ground.astype(float)
    words = _seen(true, pixels)
    return ratio_of_luminances(relative_luminance(words / 255), relative_luminance(pixels / 255))


def _seen(true: TrueRun, ground: np.ndarray) -> np.ndarray:
    # a faded box is mixed with what is behind it as a whole: its words do not mix with its own background
    if true.inks is not None:
        return true.inks.astype(float)
    if true.seen is not None and (true.is_uniform or true.opacity < 1):
        return np.broadcast_to(true.seen, ground.shape)
    alpha = true.colour[3] * true.opacity
    if true.own is not None:
        return np.clip(ground + alpha * (np.array(true.colour[:3]) - np.array(true.own)), 0, 255)
    return np.array(true.colour[:3]) * alpha + ground * (1 - alpha)


def _bytes(hex_: str | None) -> np.ndarray | None:
    return None if hex_ is None else np.array([int(hex_[i : i + 2], 16) for i in (1, 3, 5)], dtype=float)


def _hex(rgb: np.ndarray) -> str:
    return "#{:02x}{:02x}{:02x}".format(*(int(v + 0.5) for v in rgb))


def _note(tally: Tally, kind: str, page: str, true: TrueRun, ours: str, theirs: str) -> None:
    tally.examples.append(Example(kind, page, true.path, true.text, ours, theirs))


HEADINGS = (
    "site", "runs", "recall", "colour", "ground", "verdict", "unsure", "failing found", "failing right", "false pass",
    "extra", "left out", "near",
)  # fmt: skip


def row_of(name: str, tally: Tally) -> tuple[str, ...]:
    """Return a tally as a row under HEADINGS; shares in per cent."""
    share = Tally.share
    left_out = sum(tally.left_out.values())
    return (
        name, f"{tally.true:,}", f"{share(tally.found, tally.true):.1f}",
        f"{share(tally.colour_right, tally.colour_judged):.1f}",
        f"{share(tally.ground_right, tally.ground_judged):.1f}",
        f"{share(tally.verdict_right, tally.verdict_judged):.1f}", f"{share(tally.unsure, tally.verdict_judged):.1f}",
        f"{share(tally.failing_found, tally.truly_failing):.1f}",
        f"{share(tally.failing_reported_right, tally.failing_reported):.1f}", str(tally.false_pass),
        f"{share(tally.extra, tally.reported):.1f}", f"{share(left_out, tally.true):.1f}", str(tally.near),
    )  # fmt: skip

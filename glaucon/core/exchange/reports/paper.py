"""The report to print or keep, and the statement for the site's own use: HTML that stands alone.

The report is for whoever answers for a site, the statement for its visitors. Both say what was not judged.
"""

from __future__ import annotations

import datetime
import math
from collections.abc import Iterable, Mapping
from html import escape
from importlib.resources import files

from glaucon.core.cascade.selectors.state import in_words
from glaucon.core.reading.findings import Finding
from glaucon.core.seeing.beyond import BeyondText
from glaucon.core.seeing.lanes import Lane
from glaucon.core.seeing.summary import SiteSummary
from glaucon.core.wording import counted

_STATES = {"rest": "at rest", "hover": "hovered", "focus": "focused", "active": "pressed", "visited": "visited"}


def _called(state: str) -> str:
    return _STATES.get(state) or in_words(state)


_THINGS = {"field": "Field", "border": "Button", "focus": "Keyboard focus", "link-in-text": "Link in text",
           "icon": "Icon or logo"}  # fmt: skip
_WAIVED = {"logotype": "a logo", "decoration": "decoration", "told": "told in another way"}
_AIMS = {"AA": "AA (4.5 : 1, large text 3 : 1)", "AAA": "AAA (7 : 1, large text 4.5 : 1)"}
_MOST_ROWS = 200
_TICKS = (1, 2, 3, 4.5, 7, 10, 15, 21)


def report_page(site: str, study: str, summary: SiteSummary, labels: Mapping[str, str], made: datetime.date) -> str:
    """Return the report as an HTML page."""
    left, things = summary.left, [one for one in summary.things if one.verdict in ("fail", "unsure")]
    waived = [one for one in summary.things if one.waiver is not None]
    parts = [
        f"<h1>How well {escape(site)} can be read</h1>",
        f'<p class="soft">The study “{escape(study)}”, {_date(made)}</p>',
        _figures(summary),
        "<h2>What was checked</h2>", _checked(summary),
        "<h2>Every background, and what is read on it</h2>", _ladder(summary.lanes, labels),
        "<h2>What is left</h2>", _left(left, labels) if left else "<p>Nothing: every text is readable.</p>",
        "<h2>What besides text has to be seen</h2>", _beyond(summary, things),
    ]  # fmt: skip
    if waived:
        parts += ["<h2>What the owner lets through</h2>", _waived(waived)]
    return _page(f"How well {site} can be read", parts)


def statement_page(site: str, summary: SiteSummary, made: datetime.date) -> str:
    """Return the readability statement for the site's own visitors, as an HTML page."""
    share = summary.readable / max(1, summary.texts)
    parts = [
        f"<h1>Can {escape(site)} be read?</h1>",
        f"<p>On {_date(made)} the contrast of every text on this site was checked: "
        f"{counted(summary.texts, 'text')} on {counted(len(summary.pages), 'page')}, also when text is hovered or has "
        "the keyboard’s focus, on wide and narrow screens.</p>",
        f"<p><b>{summary.readable:,} of {summary.texts:,} texts ({math.floor(100 * share)} %) have the contrast that "
        f"level {summary.aim} of the Web Content Accessibility Guidelines (WCAG) 2.2 asks for</b> (criterion "
        f"{'1.4.6' if summary.aim == 'AAA' else '1.4.3'}).</p>",
    ]
    if summary.hard:
        parts.append(f"<p>{counted(summary.hard, 'text')} {'has' if summary.hard == 1 else 'have'} less than that.</p>")
    if summary.unsure:
        parts.append(f"<p>{counted(summary.unsure, 'text')} could not be judged: what lies behind is not known.</p>")
    parts.append(
        "<p>Not checked here: text inside pictures and videos, what scripts add after a page has loaded, other "
        "websites this one links to, and all that accessibility needs besides contrast.</p>"
        "<p>If you find something that is hard to read, please tell us.</p>"
    )
    return _page(f"Can {site} be read?", parts)


def _page(title: str, parts: Iterable[str]) -> str:
    head = f'<meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>{escape(title)}</title>'
    style = files("glaucon.core.exchange.reports").joinpath("paper.css").read_text("utf-8")
    body = "\n".join(parts)
    return f'<!doctype html>\n<html lang="en"><head>{head}<style>{style}</style></head><body>\n{body}\n</body></html>\n'


def _date(made: datetime.date) -> str:
    return f"{made.day} {made:%B %Y}"


def _figures(summary: SiteSummary) -> str:
    rows = [
        ("Readable", f"{summary.readable:,} of {summary.texts:,} texts"),
        ("Hard to read", f"{summary.hard:,} (as the site came: {summary.hard_before:,})"),
    ]
    if summary.unsure:
        rows.append(("Not judged", f"{summary.unsure:,}"))
    return (
        '<table class="sum">' + "".join(f"<tr><th>{name}</th><td>{said}</td></tr>" for name, said in rows) + "</table>"
    )


def _checked(summary: SiteSummary) -> str:
    states = ", ".join(_called(state) for state in summary.states)
    widths = ", ".join(map(str, summary.widths))
    measured = "No page has been measured in a browser yet, so some texts may not be judged."
    if summary.measured >= len(summary.pages):
        measured = "A browser has measured every page."
    elif summary.measured:
        measured = f"A browser has measured {summary.measured} of them; elsewhere some texts cannot be judged."
    return (
        f"<p>{counted(summary.texts, 'text')} on {counted(len(summary.pages), 'page')}, at widths of {widths} pixels, "
        f"{states}. The rule is WCAG 2.2, level {_AIMS[summary.aim]}. {measured} Not checked: text inside pictures, "
        "and what scripts add after a page has loaded.</p>"
    )


def _share(ratio: float) -> float:
    return 100 * math.log(max(1.0, min(21.0, ratio))) / math.log(21)


def _ladder(lanes: Iterable[Lane], labels: Mapping[str, str]) -> str:
    ticks = "".join(f'<span style="left:{_share(tick):.2f}%">{tick:g}</span>' for tick in _TICKS)
    drawn = [f'<div class="ticks" aria-hidden="true">{ticks}</div>']
    for lane in list(lanes)[:_MOST_ROWS]:
        name = labels.get(lane.role or "", "") or (lane.colour if lane.ground == "solid" else lane.ground.capitalize())
        fill = f"linear-gradient(90deg,{lane.spread[0]},{lane.spread[1]})" if lane.spread else lane.colour or "#fff"
        marks = "".join(
            f'<b class="{one.verdict}" style="left:{_share(one.ratio):.2f}%" title="{escape(one.sample[:40])}"></b>'
            for one in lane.standing if one.ratio is not None
        )  # fmt: skip
        worst = next((one for one in lane.standing if one.ratio is not None), None)
        least = f"least {worst.ratio:g}" if worst is not None and worst.ratio is not None else "not judged"
        lines = "".join(f'<i style="left:{_share(need):.2f}%"></i>' for need in (3, 4.5))
        called = f'{escape(name)}<br><span class="soft">{counted(lane.texts, "text")}, {least}</span>'
        track = f'<span class="track" style="background:{fill}">{lines}{marks}</span>'
        drawn.append(f'<div class="lane"><span>{called}</span>{track}</div>')
    drawn.append(
        '<p class="soft">Further right reads better. Rings are readable; filled diamonds are hard to read.</p>'
    )
    return "".join(drawn)


def _left(left: Iterable[Finding], labels: Mapping[str, str]) -> str:
    rows = []
    for one in list(left)[:_MOST_ROWS]:
        said = "hard to read" if one.verdict == "fail" else one.why
        ratio = "?" if one.ratio is None else f"{one.ratio:g}, needs {one.required:g}"
        looks = f"color:{one.text.colour or '#1b1b1b'};background:{one.background.colour or '#fff'}"
        when = ", ".join(_called(state) for state in one.states)
        sample = f'<span class="sample" style="{looks}">{escape(one.sample[:30])}</span>'
        rows.append(
            f"<tr><td>{sample}<br>{escape(one.sample[:60])}</td>"
            f"<td>{ratio}<br><span class=soft>{escape(said)}</span></td><td>{counted(one.places, 'text')}, "
            f"{escape(', '.join(one.pages[:3]))}{' and more' if len(one.pages) > 3 else ''}<br>"
            f'<span class="soft">{when}</span></td></tr>'
        )
    return f"<table><tr><th>Text</th><th>Contrast</th><th>Where</th></tr>{''.join(rows)}</table>"


def _beyond(summary: SiteSummary, things: list[BeyondText]) -> str:
    counts = summary.beyond()
    told = (
        f"<p>{sum(counts.values()):,} fields, buttons, links in text, icons and signs of focus on a wide screen: "
        f"{counts['fail']} hard to see, {counts['unsure']} not judged, {counts['waived']} let through by the owner.</p>"
    )
    rows: dict[tuple[str, ...], list[BeyondText]] = {}
    for one in things:
        rows.setdefault((one.what, one.criterion, one.colour, one.against), []).append(one)
    if not rows:
        return told
    body = "".join(
        f"<tr><td>{_THINGS[what]} ({criterion})</td><td>{some[0].ratio or '?'}, needs 3<br><span class=soft>"
        f"{escape(colour or 'nothing')} on {escape(against or '?')}</span></td><td>{counted(len(some), 'place')}, "
        f"{escape(some[0].page)}</td></tr>"
        for (what, criterion, colour, against), some in list(rows.items())[:_MOST_ROWS]
    )
    return f"{told}<table><tr><th>What</th><th>Contrast</th><th>Where</th></tr>{body}</table>"


def _waived(things: list[BeyondText]) -> str:
    told = {
        f"{_THINGS[one.what]}: {_WAIVED[one.waiver.said]}{f' ({one.waiver.why})' if one.waiver.why else ''}"
        for one in things if one.waiver is not None
    }  # fmt: skip
    return "<ul>" + "".join(f"<li>{escape(one)}</li>" for one in sorted(told)) + "</ul>"

"""What a site asks of robots: where they stay out, and how long they wait between requests."""

from __future__ import annotations

from urllib.robotparser import RobotFileParser

from glaucon.apps.bringing.outside.fetching import AGENT, Fetcher, Unanswered
from glaucon.core.bringing.links import origin_of

_MOST_BYTES = 512 * 1024
_MOST_DELAY_SECONDS = 2.0


def robots_of(fetcher: Fetcher, origin: str) -> RobotFileParser:
    """Return what a site asks of robots; the fetcher goes at the pace that it asks for from now on."""
    robots = RobotFileParser()
    try:
        answer = fetcher.fetch(f"{origin}/robots.txt", _MOST_BYTES, lambda url: origin_of(url) == origin)
        robots.parse(answer.data.decode("utf-8", "replace").splitlines())
    except Unanswered:
        robots.parse([])
    if delay := robots.crawl_delay(AGENT):
        fetcher.pace_seconds = max(fetcher.pace_seconds, min(float(delay), _MOST_DELAY_SECONDS))
    return robots

"""What a web thread may do itself: how much work a site's reading is, as it was found when the site was read.

A page of some 150 kB can be honest to read and long to judge (3,000 texts in 400 translucent boxes: 5 s). Whatever
looks at such a site is work of its own, so that nobody else waits for it.
"""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest

from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import is_at_hand
from glaucon.apps.work.heavy import View, here_unless

_MOST_HERE = 0.6  # processor seconds to a first reading; the readings after it take a tenth to a hundredth
_MOST_SEARCHED_HERE = 0.15  # where a view reads it many times over


def _asked(request: HttpRequest, given: dict[str, object]) -> list[Site]:
    sites = Site.objects.of(request.user)
    return list(sites.filter(slug=given["slug"]) if "slug" in given else sites)


def _are_missing(request: HttpRequest, **given: object) -> bool:
    return not all(map(is_at_hand, _asked(request, given)))


def is_costly(site: Site, most: float = _MOST_HERE) -> bool:
    """Return whether looking at a site takes more processor time than a web thread may, or nobody knows yet."""
    return site.effort is None or site.effort > most


def _takes_more(most: float) -> Callable[..., bool]:
    return lambda request, **given: any(is_costly(site, most) for site in _asked(request, given))


def light(view: View) -> View:
    """Make a view that looks at a site, or at all of its owner's, answer here where that takes milliseconds."""
    return here_unless(_takes_more(_MOST_HERE), _are_missing)(view)


def light_change(view: View) -> View:
    """Make a view that changes a study and reads it answer here where that takes milliseconds."""
    return here_unless(_takes_more(_MOST_HERE), _are_missing, is_change=True)(view)


def searching(view: View) -> View:
    """Make a view that reads a site many times over answer here where that takes milliseconds."""
    return here_unless(_takes_more(_MOST_SEARCHED_HERE), _are_missing)(view)

"""What a web thread may do itself: how much work a site's reading is, as it was found when the site was read.

A page of some 150 kB can be honest to read and long to judge (3,000 texts in 400 translucent boxes: 5 s). Whatever
looks at such a site is work of its own, so that nobody else waits for it.
"""

from __future__ import annotations

import functools
import hashlib
import json
import time
from collections.abc import Callable
from typing import Any

from django.core.cache import cache
from django.http import HttpRequest
from pydantic import BaseModel

from glaucon.apps.sites.models import Site
from glaucon.apps.sites.surveys import is_at_hand
from glaucon.apps.work.heavy import View, here_unless

_MOST_HERE = 0.6  # processor seconds to a first reading; the readings after it take a tenth to a hundredth
_MOST_SEARCHED_HERE = 0.15  # where a view reads it many times over
_MOST_TRIED_HERE = 0.8  # for one try in a process that has all to read first; those after it take a tenth
_TRIES_KEPT = 24 * 3600  # seconds


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


def searching(view: View) -> View:
    """Make a view that reads a site many times over answer here where that takes milliseconds."""
    return here_unless(_takes_more(_MOST_SEARCHED_HERE), _are_missing)(view)


def trying(view: View) -> View:
    """Make a view that reads a page with something tried on it answer here once a try of the same kind was short.

    Of the same kind are tries on the same site and page that differ in numbers and colours only, as while a stop or a
    veil is dragged: the first is work of its own, and how long it took is kept.
    """

    @functools.wraps(view)
    def timed(request: HttpRequest, **given: Any) -> Any:
        start = time.thread_time()
        answer = view(request, **given)
        name = _kind_of_try(request, given)
        if name is not None:
            took = time.thread_time() - start
            cache.set(name, max(took, cache.get(name) or 0.0), _TRIES_KEPT)
        return answer

    def is_long(request: HttpRequest, **given: Any) -> bool:
        name = _kind_of_try(request, given)
        took = None if name is None else cache.get(name)
        return took is None or took > _MOST_TRIED_HERE or any(is_costly(site) for site in _asked(request, given))

    return here_unless(is_long, _are_missing)(timed)


def _kind_of_try(request: HttpRequest, given: dict[str, Any]) -> str | None:
    sites = _asked(request, given)
    if len(sites) != 1:
        return None
    asked = {name: _shape(one.model_dump(mode="json")) for name, one in given.items() if isinstance(one, BaseModel)}
    said = json.dumps([sites[0].content, sites[0].layout, asked], sort_keys=True)
    return f"try-{hashlib.sha256(said.encode()).hexdigest()}"


def _shape(value: Any) -> Any:
    """Return a value of JSON without its numbers and colours."""
    if isinstance(value, dict):
        return {name: _shape(one) for name, one in value.items()}
    if isinstance(value, list):
        return [_shape(one) for one in value]
    if isinstance(value, bool) or value is None:
        return value
    return "#" if isinstance(value, int | float) or value.startswith("#") else value

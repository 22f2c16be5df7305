"""How often an owner may do what costs the server much, counted by the hour for all processes."""

from __future__ import annotations

import time
from typing import Literal

from django.conf import settings
from django.core.cache import cache

from glaucon.apps.errors import Refused

What = Literal["bring-ins", "measurings"]
_HOUR = 3600


def refuse_too_often(owner: object, what: What) -> None:
    """Count one more. Raises: Refused: 429 where an owner has done as much within this hour as they may."""
    most = {
        "bring-ins": settings.GLAUCON_MOST_BRING_INS_AN_HOUR,
        "measurings": settings.GLAUCON_MOST_MEASURINGS_AN_HOUR,
    }
    number = getattr(owner, "pk", None)
    key = f"rate:{what}:{number}:{int(time.time()) // _HOUR}"
    cache.add(key, 0, _HOUR)
    try:
        done = cache.incr(key)
    except ValueError:  # gone in between
        done = 1
    if done > most[what]:
        raise Refused(
            429, "too-often", f"That was {most[what]:,} {what} within an hour, as many as there may be. Wait a little."
        )

"""Turns: nobody takes the processors from all others by asking much at once.

Each owner, and each address of those who are not signed in, has some requests answered at once in a process; the next
wait for those, and what would wait too long is refused. Files of sites are served without.
"""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from threading import Condition

from django.http import HttpRequest, HttpResponse, JsonResponse

from glaucon.apps.errors import Refused, answer_to

AT_ONCE = 2
MOST_WAITING = 20
MOST_SECONDS = 20.0
_FREE = ("/static/", "/live/", "/preview/")


class Turns:
    """Who is being answered, and who waits."""

    def __init__(self) -> None:
        self._answered: Counter[str] = Counter()
        self._waiting: Counter[str] = Counter()
        self._moved = Condition()

    @contextmanager
    def one(self, client: str) -> Iterator[None]:
        """Wait for a client's turn and hold it. Raises: Refused: 429 where too many of theirs wait, or too long."""
        with self._moved:
            if self._waiting[client] >= MOST_WAITING:
                raise _too_much()
            until = time.monotonic() + MOST_SECONDS
            self._waiting[client] += 1
            try:
                while self._answered[client] >= AT_ONCE:
                    if not self._moved.wait(until - time.monotonic()):
                        raise _too_much()
            finally:
                self._waiting[client] -= 1
            self._answered[client] += 1
        try:
            yield
        finally:
            with self._moved:
                self._answered[client] -= 1
                for counter in (self._answered, self._waiting):
                    if not counter[client]:
                        del counter[client]
                self._moved.notify_all()


def _too_much() -> Refused:
    return Refused(429, "too-much", "You ask for very much at once. Wait for some of it, then try again.")


_turns = Turns()


def takes_turns(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Return a middleware that has each client wait for their turn."""

    def turned(request: HttpRequest) -> HttpResponse:
        if request.path.startswith(_FREE):
            return answer(request)
        number = request.user.pk
        client = f"owner {number}" if number is not None else f"address {request.META.get('REMOTE_ADDR', '')}"
        try:
            with _turns.one(client):
                return answer(request)
        except Refused as refusal:
            told = answer_to(refusal)
            assert told is not None
            return JsonResponse(told[1], status=told[0])

    return turned

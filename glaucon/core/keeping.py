"""Results kept for those who ask again, the ones asked for last; safe to use from several threads."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

V = TypeVar("V")


class Kept(Generic[V]):
    """Keeps so many results at most."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._found: OrderedDict[Hashable, V] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Hashable, find: Callable[[], V]) -> V:
        """Return what is kept under a key, else what `find` returns, which is kept then."""
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
                return self._found[key]
        value = find()
        with self._lock:
            self._found[key] = value
            while len(self._found) > self._most:
                self._found.popitem(last=False)
        return value

"""One request after another to a site outside: guarded, at a polite pace, within limits of size and time."""

from __future__ import annotations

import contextlib
import secrets
import socket
import ssl
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any
from urllib.parse import urljoin, urlsplit

import urllib3
from urllib3.connection import HTTPConnection, HTTPSConnection

from glaucon.apps.bringing.outside.guard import Guard, Target
from glaucon.core.errors import SiteError

AGENT = "Glaucon"
MOST_REDIRECTS = 8
_TIMEOUT = urllib3.Timeout(connect=8, read=12)
_SECONDS_A_FILE, _SECONDS_MORE = 60.0, 10.0  # and to be connected and answered at all
_PIECE = 64 * 1024


class Unanswered(SiteError):
    """One address that gave nothing that could be used; the sentence says why."""


@dataclass(frozen=True, slots=True)
class Answer:
    """What an address answered in the end; `url` is where the redirects led, `kind` the media type.

    `held_seconds` is how long a cache on the way has had it, where it says so (RFC 9111, section 5.1).
    """

    url: str
    kind: str
    charset: str
    data: bytes
    held_seconds: int | None = None


class Fetcher:
    """Fetches addresses. `pace_seconds` lie between requests; `wait` is called meanwhile and may raise to stop."""

    def __init__(self, guard: Guard, pace_seconds: float, wait: Callable[[], None] = lambda: None) -> None:
        self._guard = guard
        self.pace_seconds = pace_seconds
        self._wait = wait
        self._last = 0.0
        self._tls = ssl.create_default_context()
        self._pools: dict[Target, urllib3.HTTPConnectionPool] = {}
        self._open: list[socket.socket] = []
        self._is_broken_off = False

    def fetch(
        self, url: str, most_bytes: int, stays: Callable[[str], bool] = lambda url: True, past_caches: bool = False
    ) -> Answer:
        """Return what an address answers, redirects followed, each judged anew.

        `stays` says whether a redirect may be followed; `past_caches` asks for what the host itself has.
        Raises: Unanswered; SiteError: a private network.
        """
        if past_caches:
            # a cache that goes by the address alone holds nothing of one that was never asked
            url = f"{url}{'&' if '?' in url else '?'}glaucon={secrets.token_hex(4)}"
        met: set[str] = set()
        for _ in range(MOST_REDIRECTS):
            if url in met:
                raise Unanswered(f"{url} redirects in a circle; open it in a browser and copy the address it ends on.")
            met.add(url)
            found = self._answered(url, most_bytes, past_caches)
            if isinstance(found, Answer):
                return found
            led = found
            try:
                url = urljoin(url, led).split("#", 1)[0]
            except ValueError as error:
                raise Unanswered(f"{url} leads to “{led[:80]}”, which is no address.") from error
            if not stays(url):
                raise Unanswered(f"{url} leads away from the site.")
        raise Unanswered(f"{url} redirects too often; open it in a browser and copy the address it ends on.")

    def _answered(self, url: str, most_bytes: int, past_caches: bool) -> Answer | str:
        """Return what one address answers, or where it leads."""
        with self._until(url, _SECONDS_A_FILE + _SECONDS_MORE):
            response = self._ask(url, past_caches)
            try:
                led = response.headers.get("Location") if response.status in (301, 302, 303, 307, 308) else None
                return self._answer(url, response, most_bytes) if led is None else led
            finally:
                response.release_conn()

    @contextlib.contextmanager
    def _until(self, url: str, seconds: float) -> Iterator[None]:
        """Break off what is being read when it is not done by then, however steadily it drips."""
        self._is_broken_off = False
        ending = threading.Timer(seconds, self._break_off)
        ending.daemon = True
        ending.start()
        try:
            yield
        finally:
            ending.cancel()
        # what was broken off may look whole: a status line without its end, a page without a length
        if self._is_broken_off:
            raise Unanswered(f"{url} took longer than a minute and was left out.")

    def _break_off(self) -> None:
        self._is_broken_off = True
        for each in list(self._open):
            with contextlib.suppress(OSError):
                each.shutdown(socket.SHUT_RDWR)

    def _ask(self, url: str, past_caches: bool) -> urllib3.BaseHTTPResponse:
        target = self._guard.target(url)
        while (left := self._last + self.pace_seconds - time.monotonic()) > 0:
            self._wait()
            time.sleep(min(left, 0.2))
        self._wait()
        self._last = time.monotonic()
        parts = urlsplit(url)
        path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
        fresh = {"Cache-Control": "no-cache", "Pragma": "no-cache"} if past_caches else {}
        try:
            return self._pool(target).urlopen(
                "GET", path, redirect=False, retries=False, timeout=_TIMEOUT, preload_content=False,
                headers={"Host": target.origin.split("://", 1)[1], "User-Agent": AGENT, "Accept-Encoding": "identity",
                         **fresh},
            )  # fmt: skip
        except (urllib3.exceptions.HTTPError, OSError, ValueError) as error:
            raise Unanswered(f"{url} does not answer ({_why(error)}). Check the address and try again.") from error

    def _pool(self, target: Target) -> urllib3.HTTPConnectionPool:
        if target not in self._pools:
            if target.scheme == "https":
                self._pools[target] = urllib3.HTTPSConnectionPool(
                    target.address, target.port, ssl_context=self._tls,
                    server_hostname=target.host, assert_hostname=target.host,
                )  # fmt: skip
            else:
                self._pools[target] = urllib3.HTTPConnectionPool(target.address, target.port)
            self._pools[target].ConnectionCls = _noting(self._open, target.scheme)
        return self._pools[target]

    def _answer(self, url: str, response: urllib3.BaseHTTPResponse, most_bytes: int) -> Answer:
        if response.status in (401, 403, 407):
            raise Unanswered(f"{url} needs a sign-in. Bring the site as a folder or a .zip instead.")
        if response.status >= 400 or response.status < 200:
            raise Unanswered(f"{url} answers with an error ({response.status}).")
        kind, _, rest = response.headers.get("Content-Type", "").partition(";")
        charset = rest.partition("charset=")[2].split(";")[0].strip(" \"'")
        data = bytearray()
        until = time.monotonic() + _SECONDS_A_FILE
        try:
            for piece in response.stream(_PIECE):
                data += piece
                if len(data) > most_bytes:
                    raise Unanswered(f"{url} is larger than {most_bytes // 1024 // 1024} MB and was left out.")
                if time.monotonic() > until:
                    raise Unanswered(f"{url} took longer than a minute and was left out.")
                self._wait()
        except (urllib3.exceptions.HTTPError, OSError) as error:
            raise Unanswered(f"{url} broke off while it was read ({_why(error)}).") from error
        age = response.headers.get("Age", "").strip()
        held = int(age) if age.isascii() and age.isdigit() and len(age) < 10 else None
        return Answer(url, kind.strip().lower(), charset, bytes(data), held)

    def close(self) -> None:
        """Close all connections."""
        for pool in self._pools.values():
            pool.close()
        for each in self._open:
            each.close()


def _noting(opened: list[socket.socket], scheme: str) -> Any:
    """Return a kind of connection that notes its sockets, so that another thread can end what they wait for."""
    kind: Any = HTTPSConnection if scheme == "https" else HTTPConnection

    class Noted(kind):
        def _new_conn(self) -> socket.socket:
            made: socket.socket = super()._new_conn()
            opened.append(made.dup())
            return made

    return Noted


def _why(error: Exception) -> str:
    name = type(error).__name__
    known = {
        "ConnectTimeoutError": "it took too long", "ReadTimeoutError": "it took too long",
        "NewConnectionError": "nothing answers there", "SSLError": "its certificate is not valid",
    }  # fmt: skip
    return known.get(name, "the connection failed")

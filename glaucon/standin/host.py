"""Serves a folder as an ordinary web host does, with the habits that real hosts have: see `_HABITS`."""

from __future__ import annotations

import contextlib
import functools
import http.server
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import urlsplit

Habit = tuple[int, dict[str, str], bytes]
_HTML = {"Content-Type": "text/html; charset=utf-8"}


def _page(body: str) -> bytes:
    return f"<!doctype html><title>Stand-in</title>{body}".encode()


# What some addresses answer, whatever the folder holds.
_HABITS: dict[str, Habit] = {
    "/robots.txt": (200, {"Content-Type": "text/plain"}, b"User-agent: *\nDisallow: /office/\n"),
    "/office/": (200, _HTML, _page("<p>Robots are asked to stay out of here.</p>")),
    "/old-address": (301, {"Location": "/"}, b""),
    "/circle-1": (302, {"Location": "/circle-2"}, b""),
    "/circle-2": (302, {"Location": "/circle-1"}, b""),
    "/members/": (401, {"WWW-Authenticate": 'Basic realm="members"'}, b""),
    "/list.json": (200, {"Content-Type": "application/json"}, b"{}"),
    "/to-private": (302, {"Location": "http://10.1.2.3/"}, b""),
    "/to-loopback": (302, {"Location": "http://localhost:1/"}, b""),
    "/by-script": (200, _HTML, _page("<div id=app></div><script>document.body.append('Words')</script>")),
    "/broken": (500, _HTML, _page("<p>Broken.</p>")),
}


class _Cache:
    """A cache in front of the host: it gives out for a while what was asked before, whatever the host has by then."""

    def __init__(self, seconds: float) -> None:
        self._seconds = seconds
        self._kept: dict[str, tuple[float, str, bytes]] = {}
        self._lock = threading.Lock()

    def held(self, path: str) -> tuple[int, str, bytes] | None:
        """Return what is kept of an address: for how many seconds, its type, its bytes."""
        with self._lock:
            kept = self._kept.get(path)
        if kept is None or time.monotonic() - kept[0] > self._seconds:
            return None
        return int(time.monotonic() - kept[0]), kept[1], kept[2]

    def keep(self, path: str, kind: str, data: bytes) -> None:
        """Keep what an address has answered."""
        with self._lock:
            self._kept[path] = (time.monotonic(), kind, data)


class _Handler(http.server.SimpleHTTPRequestHandler):
    cache: _Cache | None = None

    def do_GET(self) -> None:
        path = urlsplit(self.path).path
        if self.cache is not None and "?" not in self.path and "no-cache" not in self.headers.get("Cache-Control", ""):
            self._by_cache(self.cache, path)
            return
        self._by_host(path)

    def _by_cache(self, cache: _Cache, path: str) -> None:
        held = cache.held(path)
        file = Path(self.translate_path(path))
        file = file / "index.html" if file.is_dir() else file
        if held is None and not (file.is_file() and path not in _HABITS):
            self._by_host(path)
            return
        if held is None:
            held = (0, self.guess_type(str(file)), file.read_bytes())
            cache.keep(path, held[1], held[2])
        age, kind, data = held
        self.send_response(200)
        for name, value in {"Content-Type": kind, "Content-Length": str(len(data)), "Age": str(age)}.items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(data)

    def _by_host(self, path: str) -> None:
        habit = _HABITS.get(path)
        if habit is None:
            # pages are had with and without their suffix, as many hosts have it
            if "." not in path.rsplit("/", 1)[-1] and (Path(self.directory) / f"{path.lstrip('/')}.html").is_file():
                self.path = f"{path}.html"
            super().do_GET()
            return
        status, headers, body = habit
        self.send_response(status)
        for name, value in {**headers, "Content-Length": str(len(body))}.items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *arguments: object) -> None:
        pass


class _Server(http.server.ThreadingHTTPServer):
    daemon_threads = True

    def handle_error(self, request: object, client_address: object) -> None:
        pass  # a client that closes a connection early is no error


def server(folder: Path, port: int = 0, cached_seconds: float = 0) -> http.server.ThreadingHTTPServer:
    """Return a host of a folder on a port of this machine (0: any free one), not started yet.

    With `cached_seconds` a cache stands before it, which gives out so long what was asked before.
    """
    cache = _Cache(cached_seconds) if cached_seconds else None
    handler = type("_Cached", (_Handler,), {"cache": cache})
    return _Server(("127.0.0.1", port), functools.partial(handler, directory=str(folder)))


@contextlib.contextmanager
def hosting(folder: Path, cached_seconds: float = 0) -> Iterator[str]:
    """Yield the address (without a closing slash) of a folder hosted for a while; see `server`."""
    host = server(folder, cached_seconds=cached_seconds)
    thread = threading.Thread(target=host.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{host.server_address[1]}"
    finally:
        host.shutdown()
        host.server_close()
        thread.join()

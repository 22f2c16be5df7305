"""Serves a folder as an ordinary web host does, with the habits that real hosts have: see `_HABITS`."""

from __future__ import annotations

import contextlib
import functools
import http.server
import threading
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


class _Handler(http.server.SimpleHTTPRequestHandler):
    def do_GET(self) -> None:
        path = urlsplit(self.path).path
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


def server(folder: Path, port: int = 0) -> http.server.ThreadingHTTPServer:
    """Return a host of a folder on a port of this machine (0: any free one), not started yet."""
    return _Server(("127.0.0.1", port), functools.partial(_Handler, directory=str(folder)))


@contextlib.contextmanager
def hosting(folder: Path) -> Iterator[str]:
    """Yield the address (without a closing slash) of a folder hosted for a while."""
    host = server(folder)
    thread = threading.Thread(target=host.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{host.server_address[1]}"
    finally:
        host.shutdown()
        host.server_close()
        thread.join()

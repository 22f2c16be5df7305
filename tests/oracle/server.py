"""Serves a folder on localhost as a visitor's browser meets it, with every script kept from running or all at work."""

from __future__ import annotations

import contextlib
import functools
import http.server
import threading
from collections.abc import Iterator
from pathlib import Path


class _Handler(http.server.SimpleHTTPRequestHandler):
    def end_headers(self) -> None:
        # not by parsing without scripts: <noscript> must stay what a visitor gets
        self.send_header("Content-Security-Policy", "script-src 'none'")
        super().end_headers()

    def log_message(self, *arguments: object) -> None:
        pass


class _WithScripts(http.server.SimpleHTTPRequestHandler):
    def log_message(self, *arguments: object) -> None:
        pass


class _Server(http.server.ThreadingHTTPServer):
    def handle_error(self, request: object, client_address: object) -> None:
        pass  # a browser that closes a connection early is no error


@contextlib.contextmanager
def serve(folder: Path, with_scripts: bool = False) -> Iterator[str]:
    """Yield the address of a folder served on a free port."""
    handler = _WithScripts if with_scripts else _Handler
    server = _Server(("127.0.0.1", 0), functools.partial(handler, directory=str(folder)))
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}/"
    finally:
        server.shutdown()
        server.server_close()
        thread.join()

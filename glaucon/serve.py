"""The server: a few processes behind one socket, each of which buffers what is sent before a thread takes it up.

A request that is sent a byte at a time, or never to its end, holds a place among the connections and nothing else.
"""

from __future__ import annotations

import os
import signal
import socket
import sys
import threading
import time
from types import FrameType

import waitress

_THREADS = 40  # most of them wait for heavy work that is done elsewhere
_MOST_BYTES = 64 * 1024 * 1024  # of a request: an archive of 60 MB and what is around it
_MOST_CONNECTIONS = 800
_LOOKED_SECONDS = 0.5


def main(host: str, port: int) -> None:
    """Serve until told to end; a process that ends by itself is started again."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    from django.conf import settings

    from glaucon.wsgi import application

    processes = settings.GLAUCON_WEB_PROCESSES
    listening = socket.socket(socket.AF_INET)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listening.bind((host, port))
    listening.listen(256)
    listening.setblocking(False)
    children: set[int] = set()
    parent = os.getpid()

    def end(number: int, frame: FrameType | None) -> None:
        for child in children:
            os.kill(child, signal.SIGTERM)
        sys.exit(0)

    for each in (signal.SIGTERM, signal.SIGINT):
        signal.signal(each, end)
    while True:
        while len(children) < processes:
            child = os.fork()
            if child == 0:
                _serve(listening, application, parent)
                os._exit(0)
            children.add(child)
        gone, _ = os.wait()
        children.discard(gone)


def _serve(listening: socket.socket, application: object, parent: int) -> None:
    threading.Thread(target=_end_with, args=(parent,), daemon=True).start()
    for each in (signal.SIGTERM, signal.SIGINT):
        signal.signal(each, lambda number, frame: sys.exit(0))
    from glaucon.operating.bodies import use_in_server

    use_in_server()
    waitress.serve(
        application, sockets=[listening], threads=_THREADS, channel_timeout=30, cleanup_interval=10,
        connection_limit=_MOST_CONNECTIONS, max_request_body_size=_MOST_BYTES, max_request_header_size=65_536,
        clear_untrusted_proxy_headers=False, ident="", asyncore_use_poll=True, _quiet=True,
    )  # fmt: skip


def _end_with(parent: int) -> None:
    """End this process once its parent is gone: else it would hold the address, and queue work that nobody does."""
    while os.getppid() == parent:
        time.sleep(_LOOKED_SECONDS)
    os._exit(1)


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]))

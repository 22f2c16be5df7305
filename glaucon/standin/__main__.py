"""Hosts a folder, behind a cache if asked: python -m glaucon.standin FOLDER PORT [CACHED_SECONDS]."""

from __future__ import annotations

import sys
from pathlib import Path

from glaucon.standin.host import server

if __name__ == "__main__":
    cached = float(sys.argv[3]) if len(sys.argv) > 3 else 0
    with server(Path(sys.argv[1]), int(sys.argv[2]), cached) as host:
        host.serve_forever()

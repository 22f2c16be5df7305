"""Hosts a folder: python -m glaucon.standin FOLDER PORT."""

from __future__ import annotations

import sys
from pathlib import Path

from glaucon.standin.host import server

if __name__ == "__main__":
    with server(Path(sys.argv[1]), int(sys.argv[2])) as host:
        host.serve_forever()

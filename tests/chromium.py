"""Where the tests' browser is and how it is started."""

from __future__ import annotations

import os
import shutil

ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
    "--hide-scrollbars",
]


def executable() -> str:
    """Return the path of Chromium: GLAUCON_CHROMIUM, else Debian's."""
    found = os.environ.get("GLAUCON_CHROMIUM") or shutil.which("chromium") or "/usr/bin/chromium"
    if not os.path.exists(found):
        raise RuntimeError(f"no Chromium at {found}: install Debian's package chromium or set GLAUCON_CHROMIUM")
    return found

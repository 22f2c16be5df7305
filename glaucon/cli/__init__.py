"""The command line, for people who never open the web application: a developer's build, a nightly check.

Begin with `parser`; each command is a module of its own, imported when it is run. `files` reads and writes.
"""

from __future__ import annotations

from glaucon.cli.parser import main

__all__ = ["main"]

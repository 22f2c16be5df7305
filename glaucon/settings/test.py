"""Settings of the test run: a data folder of its own, jobs done at once, quick password hashes."""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile

os.environ["GLAUCON_DATA"] = tempfile.mkdtemp(prefix="glaucon-test-")

from glaucon.settings.base import *  # noqa: F403
from glaucon.settings.base import DATABASES

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
# a file, since the live server answers from threads of its own
DATABASES["default"]["TEST"] = {"NAME": DATABASES["default"]["NAME"].with_name("test.sqlite3")}
atexit.register(shutil.rmtree, os.environ["GLAUCON_DATA"], ignore_errors=True)
GLAUCON_PACE_SECONDS = 0.0
GLAUCON_PROCESSES = False

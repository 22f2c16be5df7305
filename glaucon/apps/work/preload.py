"""What every process of work needs, imported once before any of them is forked."""

from __future__ import annotations

from importlib import import_module

import django

django.setup()
# by name: nothing here may know what the calls are
import_module("glaucon.apps.api.main")

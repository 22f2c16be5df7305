"""The WSGI application. At each start, what a killed process left is put right."""

from __future__ import annotations

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "glaucon.settings.base")
application = get_wsgi_application()

"""Settings for strangers: everything from the environment, named in `.env.example`; `operating/surroundings` checks it.

They stand behind a proxy that speaks TLS. What a proxy says of its client counts only from those that are trusted.
"""

from __future__ import annotations

import os
from urllib.parse import unquote, urlsplit

from glaucon.operating.surroundings import LEAST_FREE_MB, host_of, listed
from glaucon.settings.base import *  # noqa: F403
from glaucon.settings.base import DATA_DIR, DATABASES, LOGGING, MIDDLEWARE

GLAUCON_ADDRESS = os.environ.get("GLAUCON_ADDRESS", "127.0.0.1")
GLAUCON_PORT = int(os.environ.get("GLAUCON_PORT", "8000"))
GLAUCON_LEAST_FREE_MB = int(os.environ.get("GLAUCON_LEAST_FREE_MB", LEAST_FREE_MB))
GLAUCON_CONTENT_HOST = os.environ.get("GLAUCON_CONTENT_HOST", "")
GLAUCON_PROXIES = listed(os.environ.get("GLAUCON_PROXIES", ""))
GLAUCON_MOST_SITES = int(os.environ.get("GLAUCON_MOST_SITES", "20"))
GLAUCON_MOST_MB = int(os.environ.get("GLAUCON_MOST_MB", "1000"))
GLAUCON_MOST_RELEASES = int(os.environ.get("GLAUCON_MOST_RELEASES", "100"))
GLAUCON_MOST_WORKS_AN_HOUR = int(os.environ.get("GLAUCON_MOST_WORKS_AN_HOUR", "600"))
GLAUCON_MOST_BRING_INS_AN_HOUR = int(os.environ.get("GLAUCON_MOST_BRING_INS_AN_HOUR", "60"))
GLAUCON_MOST_MEASURINGS_AN_HOUR = int(os.environ.get("GLAUCON_MOST_MEASURINGS_AN_HOUR", "6000"))
SECRET_KEY = os.environ["GLAUCON_SECRET"]

_hosts = listed(os.environ.get("GLAUCON_HOSTS", ""))
ALLOWED_HOSTS = [host_of(host) for host in (*_hosts, GLAUCON_CONTENT_HOST)]
CSRF_TRUSTED_ORIGINS = GLAUCON_ORIGINS = [f"https://{host}" for host in _hosts]

MIDDLEWARE = ["glaucon.apps.proxies.as_told_by_trusted", "glaucon.apps.requests_told.told", *MIDDLEWARE]
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_SSL_REDIRECT = True
SECURE_REDIRECT_EXEMPT = [r"^health$", r"^ready$"]
SECURE_HSTS_SECONDS = 365 * 24 * 3600
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
SESSION_COOKIE_NAME = "__Host-session"
CSRF_COOKIE_NAME = "__Host-csrftoken"
X_FRAME_OPTIONS = "DENY"
MFA_WEBAUTHN_ALLOW_INSECURE_ORIGIN = False

STATIC_ROOT = DATA_DIR / "static"
WHITENOISE_USE_FINDERS = False

# what is written is on the disk when it is said to be
DATABASES["default"]["OPTIONS"]["init_command"] = (
    "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;"
)

_mail = urlsplit(os.environ.get("GLAUCON_MAIL", ""))
if _mail.scheme.startswith("smtp"):
    EMAIL_BACKEND = "django.core.mail.backends.smtp.EmailBackend"
    EMAIL_HOST, EMAIL_PORT = _mail.hostname or "", _mail.port or (465 if _mail.scheme == "smtps" else 587)
    EMAIL_HOST_USER, EMAIL_HOST_PASSWORD = unquote(_mail.username or ""), unquote(_mail.password or "")
    EMAIL_USE_SSL, EMAIL_USE_TLS = _mail.scheme == "smtps", _mail.scheme == "smtp+tls"
    EMAIL_TIMEOUT = 20
DEFAULT_FROM_EMAIL = SERVER_EMAIL = os.environ.get("GLAUCON_MAIL_FROM", "glaucon@localhost")

LOGGING = {
    **LOGGING,
    "filters": {
        "told": {"()": "glaucon.apps.requests_told.WithRequest"},
        "bounded": {"()": "glaucon.apps.requests_told.BoundedTracebacks"},
    },
    "formatters": {
        "lines": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "fmt": "%(asctime)s %(levelname)s %(name)s %(message)s %(request)s %(owner)s",
            "rename_fields": {"asctime": "at", "levelname": "level", "name": "of"},
        }
    },
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "lines", "filters": ["told", "bounded"]}},
    "loggers": {**LOGGING["loggers"], "glaucon.requests": {"level": "INFO"}},
}

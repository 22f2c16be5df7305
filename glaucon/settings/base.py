"""Settings for every way of running Glaucon. GLAUCON_DATA says where the database and files live."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

BASE_DIR = Path(__file__).resolve().parent.parent.parent
DATA_DIR = Path(os.environ.get("GLAUCON_DATA", BASE_DIR / "var")).resolve()
os.umask(0o077)  # what is kept is for nobody else on this machine
DATA_DIR.mkdir(parents=True, exist_ok=True)
SAMPLES_DIR = BASE_DIR / "samples"


def _kept_secret() -> str:
    """Return the installation's own secret, made at the first start."""
    path = DATA_DIR / "secret"
    if not path.exists():
        try:
            handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        except FileExistsError:
            return path.read_text()
        with os.fdopen(handle, "w") as file:
            file.write(secrets.token_urlsafe(48))
    return path.read_text()


SECRET_KEY = os.environ.get("GLAUCON_SECRET") or _kept_secret()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("GLAUCON_HOSTS", "localhost,127.0.0.1,[::1]").split(",")
# The demo signs its visitor in, on loopback only.
GLAUCON_DEMO = os.environ.get("GLAUCON_DEMO") == "1"
GLAUCON_DEMO_USER = "wren"
# host:port pairs that may be brought in by address although they are not public, such as the stand-in's
GLAUCON_ALLOWED_ADDRESSES = frozenset(filter(None, os.environ.get("GLAUCON_ALLOWED_ADDRESSES", "").split(",")))
# ports that sites are fetched from, beside 80 and 443
GLAUCON_PORTS = frozenset(int(one) for one in os.environ.get("GLAUCON_PORTS", "").split(",") if one.strip().isdigit())
GLAUCON_STAND_IN = os.environ.get("GLAUCON_STAND_IN", "")
GLAUCON_PACE_SECONDS = float(os.environ.get("GLAUCON_PACE_SECONDS", "0.15"))
# strangers' files are served by this host alone, "" where they share the application's; it is framed by these origins
GLAUCON_CONTENT_HOST = os.environ.get("GLAUCON_CONTENT_HOST", "")
GLAUCON_ORIGINS = [one for one in os.environ.get("GLAUCON_ORIGINS", "").split(",") if one]
GLAUCON_PROXIES: list[str] = []  # whose word on a request's client counts
GLAUCON_LEAST_FREE_MB = 64
GLAUCON_WEB_PROCESSES = int(os.environ.get("GLAUCON_WEB_PROCESSES", min(8, (os.cpu_count() or 1) + 1)))
# what one owner may have, unless a quota of their own says otherwise
GLAUCON_MOST_SITES = int(os.environ.get("GLAUCON_MOST_SITES", "200"))
GLAUCON_MOST_MB = int(os.environ.get("GLAUCON_MOST_MB", "5000"))
GLAUCON_MOST_RELEASES = int(os.environ.get("GLAUCON_MOST_RELEASES", "400"))
GLAUCON_MOST_WORKS_AN_HOUR = int(os.environ.get("GLAUCON_MOST_WORKS_AN_HOUR", "6000"))
GLAUCON_MOST_BRING_INS_AN_HOUR = int(os.environ.get("GLAUCON_MOST_BRING_INS_AN_HOUR", "1000"))
GLAUCON_MOST_MEASURINGS_AN_HOUR = int(os.environ.get("GLAUCON_MOST_MEASURINGS_AN_HOUR", "50000"))
# heavy work is done in processes of its own; tests do it where they are
GLAUCON_PROCESSES = True
# what is tried too often is counted here, by address and by name, for all processes and whatever is started anew
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.db.DatabaseCache",
        "LOCATION": "glaucon_cache",
        "OPTIONS": {"MAX_ENTRIES": 1_000_000},
    }
}
PREVIEW_SECONDS = 12 * 3600

INSTALLED_APPS = [
    "django.contrib.admin.apps.SimpleAdminConfig",
    "django.contrib.messages",
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "glaucon.apps.accounts",
    "allauth",
    "allauth.account",
    "allauth.mfa",
    "allauth.usersessions",
    "allauth.headless",
    "glaucon.apps.work",
    "glaucon.apps.sites",
    "glaucon.apps.studies",
    "glaucon.apps.releases",
    "glaucon.apps.bringing",
    "glaucon.apps.api",
]
MIDDLEWARE = [
    "glaucon.apps.health.tells_health",
    "glaucon.apps.hosts.only_for_our_hosts",
    "glaucon.apps.content_host.strangers_apart",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "glaucon.apps.accounts.last_seen.notes_sessions",
    "glaucon.apps.accounts.turns.takes_turns",
    "glaucon.apps.accounts.passes.remembers_who_asks",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "glaucon.urls"
# letters and Django's admin are made of templates
TEMPLATES = [{
    "BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [], "APP_DIRS": True,
    "OPTIONS": {"context_processors": [
        "django.template.context_processors.request", "django.contrib.auth.context_processors.auth",
        "django.contrib.messages.context_processors.messages",
    ]},
}]  # fmt: skip
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "CONN_MAX_AGE": None,
        "NAME": DATA_DIR / "glaucon.sqlite3",
        "OPTIONS": {
            "timeout": 5,  # seconds that a write waits for the lock; it is answered 503 after that
            # writers queue at the start of a transaction instead of failing in its middle
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 8}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AUTHENTICATION_BACKENDS = [
    "django.contrib.auth.backends.ModelBackend",
    "allauth.account.auth_backends.AuthenticationBackend",
]
# accounts are django-allauth's, asked by the front end through its JSON interface at /auth/
HEADLESS_ONLY = True
HEADLESS_CLIENTS = ("browser",)
HEADLESS_FRONTEND_URLS = {
    "account_confirm_email": "/account/confirm/{key}",
    "account_reset_password": "/account/reset",
    "account_reset_password_from_key": "/account/reset/{key}",
    "account_signup": "/sign-in",
}
ACCOUNT_ADAPTER = "glaucon.apps.accounts.adapter.AccountAdapter"
ACCOUNT_LOGIN_METHODS = {"email"}
ACCOUNT_SIGNUP_FIELDS = ["email*", "password1*"]
ACCOUNT_EMAIL_VERIFICATION = "mandatory"
ACCOUNT_EMAIL_NOTIFICATIONS = True
ACCOUNT_LOGIN_ON_EMAIL_CONFIRMATION = True  # in the browser that signed up
ACCOUNT_CHANGE_EMAIL = True  # one address, changed once the new one is confirmed
ACCOUNT_LOGOUT_ON_PASSWORD_CHANGE = False
ACCOUNT_REAUTHENTICATION_TIMEOUT = 900
ACCOUNT_RATE_LIMITS = {
    "login_failed": "20/10m/ip,10/10m/key", "signup": "20/h/ip", "reset_password": "20/h/ip,5/h/key",
    "confirm_email": "1/m/key",
}  # fmt: skip
USERSESSIONS_TRACK_ACTIVITY = True
MFA_SUPPORTED_TYPES = ["totp", "webauthn", "recovery_codes"]
MFA_PASSKEY_LOGIN_ENABLED = True
MFA_WEBAUTHN_ALLOW_INSECURE_ORIGIN = True  # on one's own machine; `production` says otherwise
MFA_ADAPTER = "glaucon.apps.accounts.adapter.SecondStepAdapter"
MFA_TOTP_ISSUER = "Glaucon"
# the demo's letters go to its Mailbox screen, which stands in for the outside
EMAIL_BACKEND = "glaucon.apps.accounts.mailbox.MailboxBackend"
DEFAULT_FROM_EMAIL = "glaucon@localhost"
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"

STATIC_URL = "/static/"
STATICFILES_DIRS = [BASE_DIR / "web" / "dist"] if (BASE_DIR / "web" / "dist").exists() else []
WHITENOISE_USE_FINDERS = True
WHITENOISE_MAX_AGE = 0
WHITENOISE_IMMUTABLE_FILE_TEST = r"^.+/assets/.+-[\w-]{8}\.\w+$"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
DATA_UPLOAD_MAX_MEMORY_SIZE = 5 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # refusals are answers, not news
    "loggers": {
        "django.request": {"level": "ERROR"},
        "django.security": {"level": "CRITICAL"},
        "waitress.queue": {"level": "ERROR"},
    },
}

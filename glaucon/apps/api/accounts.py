"""Signing up, in and out, by Django's own authentication."""

from __future__ import annotations

import hashlib

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
from django.contrib.auth.password_validation import validate_password
from django.core.cache import cache
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router
from ninja.utils import check_csrf

from glaucon.apps.api.schemas.account import Credentials, SessionOut
from glaucon.apps.errors import Refused
from glaucon.apps.proxies import OF_PROXIES

router = Router(tags=["account"])
_LOOPBACK = frozenset({"127.0.0.1", "::1"})
_LOOPBACK_NAMES = frozenset({"localhost", "127.0.0.1", "[::1]"})
_MOST_WRONG, _WRONG_SECONDS = 10, 600


@router.get("/session", response=SessionOut, auth=None, operation_id="getSession")
def get_session(request: HttpRequest) -> SessionOut:
    get_token(request)  # sets the cookie that every later write must show
    is_here = _is_loopback(request) and request.get_host().rsplit(":", 1)[0] in _LOOPBACK_NAMES
    if settings.GLAUCON_DEMO and not request.user.is_authenticated and is_here:
        user = get_user_model().objects.filter(username=settings.GLAUCON_DEMO_USER).first()
        if user is not None and not request.session.get("signed_out"):
            login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


@router.post("/session", response=SessionOut, auth=None, operation_id="signIn")
def sign_in(request: HttpRequest, credentials: Credentials) -> SessionOut:
    _from_our_own_form(request)
    # by name and by where it comes from: guessing from elsewhere keeps nobody out of their own
    tried = f"{credentials.name.strip().lower()} {request.META.get('REMOTE_ADDR')}"
    wrong = f"wrong-{hashlib.sha256(tried.encode()).hexdigest()}"
    if cache.get(wrong, 0) >= _MOST_WRONG:
        raise Refused(429, "too-many", "Too many wrong passwords for this name. Wait ten minutes and try again.")
    user = authenticate(request, username=credentials.name, password=credentials.password)
    if user is None:
        cache.set(wrong, cache.get(wrong, 0) + 1, _WRONG_SECONDS)
        raise Refused(422, "credentials", "Wrong name or password. Try again or sign up.")
    cache.delete(wrong)
    login(request, user)
    return _session(request)


@router.delete("/session", response=SessionOut, operation_id="signOut")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    request.session["signed_out"] = True  # so that the demo does not sign in again at once
    return _session(request)


@router.post("/account", response=SessionOut, auth=None, operation_id="signUp")
def sign_up(request: HttpRequest, credentials: Credentials) -> SessionOut:
    _from_our_own_form(request)
    users = get_user_model()
    name = credentials.name.strip()
    if users.objects.filter(username__iexact=name).exists():
        raise Refused(422, "name-taken", f"The name “{name}” is taken. Choose another name or sign in.")
    user = users(username=name)
    try:
        user.full_clean(exclude=["password"])
        validate_password(credentials.password, user)
    except ValidationError as error:
        raise Refused(422, "password", " ".join(error.messages)) from error
    user.set_password(credentials.password)
    try:
        with transaction.atomic():
            user.save()
    except IntegrityError as error:  # somebody else was quicker
        raise Refused(422, "name-taken", f"The name “{name}” is taken. Choose another name or sign in.") from error
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


def _from_our_own_form(request: HttpRequest) -> None:
    """Raises: Refused: 403 where another site's page sent it."""
    if check_csrf(request) is not None:
        raise Refused(403, "foreign-form", "This did not come from Glaucon's own page. Load the page again and retry.")


def _is_loopback(request: HttpRequest) -> bool:
    """Return whether a request comes from this machine itself, through no proxy on it."""
    forwarded = any(name.startswith("HTTP_X_FORWARDED") or name in OF_PROXIES for name in request.META)
    return request.META.get("REMOTE_ADDR") in _LOOPBACK and not forwarded


def _session(request: HttpRequest) -> SessionOut:
    name = request.user.get_username() if request.user.is_authenticated else None
    return SessionOut(name=name, demo=settings.GLAUCON_DEMO, stand_in=settings.GLAUCON_STAND_IN)

"""Signing up, in and out, by Django's own authentication."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema
from pydantic import Field

from glaucon.apps.errors import Refused

router = Router(tags=["account"])
_LOOPBACK = frozenset({"127.0.0.1", "::1"})


class SessionOut(Schema):
    """Who is signed in, if anyone; in the demo, the address of the host that stands in for the outside."""

    name: str | None
    demo: bool
    stand_in: str


class Credentials(Schema):
    """A name and a password."""

    name: str = Field(min_length=1, max_length=150)
    password: str = Field(min_length=1, max_length=200)


@router.get("/session", response=SessionOut, auth=None, operation_id="getSession")
def get_session(request: HttpRequest) -> SessionOut:
    get_token(request)  # sets the cookie that every later write must show
    if settings.GLAUCON_DEMO and not request.user.is_authenticated and _is_loopback(request):
        user = get_user_model().objects.filter(username=settings.GLAUCON_DEMO_USER).first()
        if user is not None and not request.session.get("signed_out"):
            login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


@router.post("/session", response=SessionOut, auth=None, operation_id="signIn")
def sign_in(request: HttpRequest, credentials: Credentials) -> SessionOut:
    user = authenticate(request, username=credentials.name, password=credentials.password)
    if user is None:
        raise Refused(422, "credentials", "Wrong name or password. Try again or sign up.")
    login(request, user)
    return _session(request)


@router.delete("/session", response=SessionOut, operation_id="signOut")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    request.session["signed_out"] = True  # so that the demo does not sign in again at once
    return _session(request)


@router.post("/account", response=SessionOut, auth=None, operation_id="signUp")
def sign_up(request: HttpRequest, credentials: Credentials) -> SessionOut:
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
    user.save()
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


def _is_loopback(request: HttpRequest) -> bool:
    forwarded = "HTTP_X_FORWARDED_FOR" in request.META or "HTTP_FORWARDED" in request.META
    return request.META.get("REMOTE_ADDR") in _LOOPBACK and not forwarded


def _session(request: HttpRequest) -> SessionOut:
    name = request.user.get_username() if request.user.is_authenticated else None
    return SessionOut(name=name, demo=settings.GLAUCON_DEMO, stand_in=settings.GLAUCON_STAND_IN)

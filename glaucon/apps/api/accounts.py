"""Who is signed in, what they may have, all that is theirs, and the end of it; signing in is django-allauth's."""

from __future__ import annotations

from allauth.mfa.adapter import get_adapter
from allauth.mfa.totp.internal.auth import get_totp_secret
from django.conf import settings
from django.contrib.auth import get_user_model, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router

from glaucon.apps.accounts.limits import limits_of
from glaucon.apps.accounts.models import Letter
from glaucon.apps.api.schemas.account import EndAccountIn, LetterOut, RoomOut, SessionOut
from glaucon.apps.bringing.owners import end_account, own_data
from glaucon.apps.errors import Refused
from glaucon.apps.proxies import OF_PROXIES
from glaucon.apps.sites.room import taken_by

router = Router(tags=["account"])
_LOOPBACK = frozenset({"127.0.0.1", "::1"})
_LOOPBACK_NAMES = frozenset({"localhost", "127.0.0.1", "[::1]"})
_MOST_LETTERS = 60


@router.get("/session", response=SessionOut, auth=None, operation_id="getSession")
def get_session(request: HttpRequest) -> SessionOut:
    get_token(request)  # sets the cookie that every later write must show
    if settings.GLAUCON_DEMO and not request.user.is_authenticated and _is_here(request):
        user = get_user_model().objects.filter(username=settings.GLAUCON_DEMO_USER).first()
        if user is not None and not request.session.get("signed_out"):
            login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return _session(request)


@router.delete("/session", response=SessionOut, operation_id="signOut")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    request.session["signed_out"] = True  # so that the demo does not sign in again at once
    return _session(request)


@router.get("/room", response=RoomOut, operation_id="getRoom")
def get_room(request: HttpRequest) -> RoomOut:
    """Return how much the asker has, and may have."""
    taken, most = taken_by(request.user), limits_of(request.user)
    return RoomOut(sites=taken.sites, most_sites=most.sites, bytes=taken.bytes, most_bytes=most.mb * 1_000_000)


@router.get("/account/second-step.svg", operation_id="showSecondStep")
def show_second_step(request: HttpRequest) -> HttpResponse:
    """Give the secret of the second step that is being set up as a picture that an app reads."""
    secret, adapter = get_totp_secret(regenerate=False), get_adapter()
    if not secret:
        raise Refused(404, "not-set-up", "No second step is being set up. Begin on the page of your account.")
    drawn = adapter.build_totp_svg(adapter.build_totp_url(request.user, secret))
    response = HttpResponse(drawn, content_type="image/svg+xml")
    response["Cache-Control"] = "no-store"
    return response


@router.get("/account/data", operation_id="downloadOwnData")
def download_own_data(request: HttpRequest) -> HttpResponse:
    """Give all that is kept of the asker as one archive."""
    response = HttpResponse(own_data(request.user), content_type="application/zip")
    response["Content-Disposition"] = 'attachment; filename="glaucon-my-data.zip"'
    return response


@router.delete("/account", response=SessionOut, operation_id="endAccount")
def delete_account(request: HttpRequest, asked: EndAccountIn) -> SessionOut:
    """End the asker's account with all that is theirs; the password is asked for once more."""
    user = request.user
    if user.username == settings.GLAUCON_DEMO_USER and settings.GLAUCON_DEMO:
        raise Refused(409, "demo", "The demo's own account stays. Sign up for another one to try this.")
    if not user.check_password(asked.password):
        raise Refused(422, "password", "That is not your password. Type it again; nothing was deleted.")
    logout(request)
    end_account(user)
    return _session(request)


@router.get("/mailbox", response=list[LetterOut], auth=None, operation_id="getMailbox")
def get_mailbox(request: HttpRequest) -> list[LetterOut]:
    """Return the letters that the demo would have sent, the newest first; on this machine only."""
    if not (settings.GLAUCON_DEMO and _is_here(request)):
        raise Refused(404, "no-mailbox", "Letters go out by mail here. Look into your own mailbox.")
    return [
        LetterOut(to=one.to, subject=one.subject, body=one.body, sent=one.sent.isoformat())
        for one in Letter.objects.all()[:_MOST_LETTERS]
    ]


def _is_here(request: HttpRequest) -> bool:
    """Return whether a request comes from this machine itself, by its own name, through no proxy on it."""
    forwarded = any(name.startswith("HTTP_X_FORWARDED") or name in OF_PROXIES for name in request.META)
    is_loopback = request.META.get("REMOTE_ADDR") in _LOOPBACK and not forwarded
    return is_loopback and request.get_host().rsplit(":", 1)[0] in _LOOPBACK_NAMES


def _session(request: HttpRequest) -> SessionOut:
    user = request.user
    name = (user.email or user.get_username()) if user.is_authenticated else None
    return SessionOut(name=name, demo=settings.GLAUCON_DEMO, stand_in=settings.GLAUCON_STAND_IN)

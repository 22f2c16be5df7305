"""Every request is for a host that this installation answers to: another name that leads here reads nothing."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

Answer = Callable[[HttpRequest], HttpResponse]


def only_for_our_hosts(answer: Answer) -> Answer:
    """Return a middleware that refuses a request for another host with 400, whatever it asks for."""

    def checked(request: HttpRequest) -> HttpResponse:
        request.get_host()  # raises where it is not one of ALLOWED_HOSTS; Django answers that with 400
        return answer(request)

    return checked

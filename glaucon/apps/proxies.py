"""What proxies say of their clients: believed where the operator trusts them, taken away where not."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

Answer = Callable[[HttpRequest], HttpResponse]
_Network = ipaddress.IPv4Network | ipaddress.IPv6Network
# what a proxy says of whom it speaks for; the server passes these on (`serve`)
OF_PROXIES = frozenset({
    "HTTP_FORWARDED", "HTTP_VIA", "HTTP_X_REAL_IP", "HTTP_CLIENT_IP", "HTTP_TRUE_CLIENT_IP",
    "HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_HOST", "HTTP_X_FORWARDED_PORT",
    "HTTP_X_FORWARDED_SERVER", "HTTP_X_FORWARDED_SCHEME", "HTTP_X_FORWARDED_PREFIX",
})  # fmt: skip


def as_told_by_trusted(answer: Answer) -> Answer:
    """Return a middleware that takes a request's client and scheme from a trusted proxy, and from no one else."""
    trusted = [ipaddress.ip_network(one, strict=False) for one in settings.GLAUCON_PROXIES]

    def told(request: HttpRequest) -> HttpResponse:
        meta = request.META
        said = {name: meta.pop(name) for name in OF_PROXIES if name in meta}
        if _is_in(meta.get("REMOTE_ADDR", ""), trusted):
            meta["REMOTE_ADDR"] = client_of(said.get("HTTP_X_FORWARDED_FOR", ""), trusted) or meta["REMOTE_ADDR"]
            if said.get("HTTP_X_FORWARDED_PROTO", "").strip().lower() == "https":
                meta["HTTP_X_FORWARDED_PROTO"] = "https"
        return answer(request)

    return told


def client_of(forwarded: str, trusted: list[_Network]) -> str:
    """Return the client that a chain of proxies speaks for: the last address that none of the trusted has."""
    chain = [one.strip() for one in forwarded.split(",") if one.strip()]
    for one in reversed(chain):
        if not _is_address(one):
            return ""
        if not _is_in(one, trusted):
            return one
    return chain[0] if chain else ""


def _is_address(text: str) -> bool:
    try:
        ipaddress.ip_address(text)
    except ValueError:
        return False
    return True


def _is_in(text: str, networks: list[_Network]) -> bool:
    return _is_address(text) and any(ipaddress.ip_address(text) in network for network in networks)

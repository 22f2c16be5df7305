"""Which addresses of the outside may be asked: only public ones, however they are named.

A name is resolved once, every address it has is judged, and the connection goes to the very address judged: asking
the name again could give another one (rebinding).
"""

from __future__ import annotations

import ipaddress
import socket
from dataclasses import dataclass
from urllib.parse import urlsplit

from glaucon.core.errors import SiteError

_PORTS = {"http": 80, "https": 443}
_CARRIED = {  # networks that carry an IPv4 address inside an IPv6 one
    ipaddress.IPv6Network("64:ff9b::/96"): 0,
    ipaddress.IPv6Network("2002::/16"): 80,
}


# addresses that look public and tell a machine in a cloud its secrets, or its neighbours
_OF_CLOUDS = frozenset(map(ipaddress.ip_address, ("168.63.129.16", "192.0.0.192", "100.100.100.200")))


@dataclass(frozen=True, slots=True)
class Target:
    """Where a request goes: the address that was judged, and the name it was asked by."""

    scheme: str
    host: str
    port: int
    address: str

    @property
    def origin(self) -> str:
        """Return the origin as it is written in links."""
        named = f"[{self.host}]" if ":" in self.host else self.host
        return f"{self.scheme}://{named}" + ("" if self.port == _PORTS[self.scheme] else f":{self.port}")


class Guard:
    """Judges addresses.

    `allowed` are `host:port` texts that are let through although they are not public; `ports` are asked beside 80 and
    443; `own` are the names that this server itself answers to.
    """

    def __init__(
        self,
        allowed: frozenset[str] = frozenset(),
        ports: frozenset[int] = frozenset(),
        own: frozenset[str] = frozenset(),
    ) -> None:
        self._allowed = allowed
        self._ports = {*_PORTS.values(), *ports}
        self._own = {one.lower().strip(".") for one in own}

    def target(self, url: str) -> Target:
        """Return where a request for `url` goes.

        Raises: SiteError: no web address, a name that does not resolve, or one that leads to a private network.
        """
        scheme, host, port = _parts(url)
        is_allowed = f"{host}:{port}" in self._allowed
        addresses = _resolved(host, port)
        if not is_allowed:
            for address in addresses:
                if not is_public(address):
                    raise SiteError(
                        f"“{host}” is on a private network, where Glaucon does not look. "
                        "Bring that site as a folder or a .zip."
                    )
            if port not in self._ports:
                raise SiteError(f"Glaucon looks at sites on the web's own ports, not at {port}. Leave “:{port}” out.")
            if host in self._own or any(map(is_own, addresses)):
                raise SiteError(f"“{host}” is Glaucon itself. Give the address of your own site.")
        return Target(scheme, host, port, addresses[0])


def _parts(url: str) -> tuple[str, str, int]:
    try:
        parts = urlsplit(url)
        host, port = parts.hostname or "", parts.port
        host = host.encode("idna").decode("ascii") if host and not host.isascii() else host
    except (ValueError, UnicodeError) as error:
        raise SiteError(f"“{url[:120]}” is not a web address. Write it like https://your-site.example.") from error
    if parts.scheme not in _PORTS or not host:
        raise SiteError(f"“{url[:120]}” is not a web address. Write it like https://your-site.example.")
    if parts.username or parts.password:
        raise SiteError("The address contains a name or password. Leave it out: Glaucon reads only public pages.")
    return parts.scheme, host.rstrip(".").lower(), port or _PORTS[parts.scheme]


def _resolved(host: str, port: int) -> list[str]:
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError) as error:
        raise SiteError(f"“{host}” was not found. Check the spelling of the address.") from error
    addresses = list(dict.fromkeys(str(entry[4][0]) for entry in found))
    if not addresses:
        raise SiteError(f"“{host}” was not found. Check the spelling of the address.")
    return addresses


def is_own(address: str) -> bool:
    """Return whether a public address is one of this machine's: only those can be listened at."""
    if not is_public(address):
        return False
    family = socket.AF_INET6 if ":" in address else socket.AF_INET
    try:
        with socket.socket(family, socket.SOCK_DGRAM) as tried:
            tried.bind((address, 0))
    except OSError:
        return False
    return True


def is_public(address: str) -> bool:
    """Return whether an IP address is one of the open internet, also where it carries another in itself."""
    try:
        ip = ipaddress.ip_address(address.split("%", 1)[0])
    except ValueError:
        return False
    if isinstance(ip, ipaddress.IPv6Address):
        carried = [ip.ipv4_mapped] if ip.ipv4_mapped else []
        carried += [
            ipaddress.IPv4Address((int(ip) >> shift) & 0xFFFFFFFF) for net, shift in _CARRIED.items() if ip in net
        ]
        if carried:
            return all(is_public(str(one)) for one in carried)
        if ip.is_site_local:
            return False
    return ip.is_global and not ip.is_multicast and not ip.is_reserved and ip not in _OF_CLOUDS

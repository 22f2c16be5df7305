"""How long an owner waits for a reading while another attacks: python -m tests.bench.attacked [SECONDS]

A demo of its own; one owner reads, drags and keeps colours twice a second, first in peace, then under each attack.
"""

from __future__ import annotations

import contextlib
import io
import os
import random
import socket
import sys
import tempfile
import threading
import time
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path

from tests.running import Running, running

_HANDS = 10  # how many the attacker has at once
Attack = Callable[[Running, threading.Event, Counter[int]], None]


@contextlib.contextmanager
def _slow_host() -> Iterator[str]:
    """Yield host:port of a server that answers a letter every 50 ms, without end."""
    with socket.create_server(("127.0.0.1", 0), backlog=64) as listening:

        def drip(there: socket.socket) -> None:
            with there, contextlib.suppress(OSError):
                there.sendall(b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: 90000\r\n\r\n")
                while True:
                    there.sendall(b"a")
                    time.sleep(0.05)

        def serve() -> None:
            with contextlib.suppress(OSError):
                while True:
                    threading.Thread(target=drip, args=(listening.accept()[0],), daemon=True).start()

        threading.Thread(target=serve, daemon=True).start()
        yield f"127.0.0.1:{listening.getsockname()[1]}"


def _bomb(number: int) -> bytes:
    """Return a zip of 100 kB that unpacks to a site with 12 MB of picture, another site for each number."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("index.html", f"<p>Boat {number}</p><img src=big.bin>")
        archive.writestr("big.bin", b"\x00" * 12_000_000)
        archive.writestr("noise.bin", os.urandom(80_000))
    return out.getvalue()


def _bring_slow_host(host: str) -> Attack:
    def attack(attacker: Running, ended: threading.Event, told: Counter[int]) -> None:
        while not ended.is_set():
            told[attacker.call("POST", "/api/bring/address", {"address": f"http://{host}/"})[0]] += 1
            ended.wait(0.5)

    return attack


def _bring_archives(attacker: Running, ended: threading.Event, told: Counter[int]) -> None:
    while not ended.is_set():
        try:
            attacker.upload(_bomb(random.randrange(10**9)), "yard.zip")
            told[200] += 1
        except AssertionError:
            told[429] += 1
            ended.wait(0.1)


def _send_bodies(attacker: Running, ended: threading.Event, told: Counter[int]) -> None:
    """Send bodies of 60 MB as nobody, and hold connections that never end their heads."""
    while not ended.is_set():
        with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", attacker.port), 5) as there:
            there.sendall(b"POST /api/bring/zip HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 60000000\r\n\r\n")
            with contextlib.suppress(OSError):
                for _ in range(60):
                    there.sendall(b"x" * 1_000_000)
            there.settimeout(2)
            told[int((there.recv(20).split() or [b"0", b"0"])[1])] += 1
        with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", attacker.port), 5) as there:
            for letter in b"GET /api/session HTTP/1.1\r\nX: " + b"y" * 20:
                there.sendall(bytes([letter]))
                if ended.wait(0.02):
                    return


def _sign_in(attacker: Running, ended: threading.Event, told: Counter[int]) -> None:
    nobody = attacker.as_nobody()
    while not ended.is_set():
        guess = {"email": f"owner{random.randrange(20)}@yard.example", "password": str(random.random())}
        told[nobody.call("POST", "/auth/browser/v1/auth/login", guess)[0]] += 1


def _ask_much(attacker: Running, ended: threading.Event, told: Counter[int]) -> None:
    """Ask for readings again and again, each with another colour."""
    site = attacker.call("GET", "/api/sites")[1][0]["slug"]
    base = attacker.base(site)
    while not ended.is_set():
        acts = [{"act": "set-colour", "role": "link", "value": f"#{random.randrange(0x1000000):06x}"}]
        asked = {"base": base, "search": "show", "acts": acts}
        told[attacker.call("POST", f"/api/sites/{site}/searches", asked)[0]] += 1


def _waits(owner: Running, site: str, seconds: float) -> list[float]:
    """Return how long each reading of an owner took, s."""
    took, at, until = [], f"/api/sites/{site}", time.monotonic() + seconds
    while time.monotonic() < until:
        for method, path, body in (
            ("GET", f"{at}/study", None),
            ("POST", f"{at}/searches", {"search": "show", "acts": [{"act": "set-colour", "role": "link",
             "value": f"#{random.randrange(0x1000000):06x}"}]}),
        ):  # fmt: skip
            if body is not None:
                body["base"] = owner.base(site)
            began = time.monotonic()
            status, answer = owner.call(method, path, body)
            took.append(time.monotonic() - began)
            assert status == 200, answer
        time.sleep(0.5)
    return sorted(took)


def main(seconds: float) -> None:
    """Run it and print a row for each attack."""
    with tempfile.TemporaryDirectory() as folder, _slow_host() as host, running(Path(folder), [host]) as demo:
        owner, attacker = demo.as_owner("owner"), demo.as_owner("attacker")
        site = owner.bring_sample()
        attacker.bring_sample()
        attacks: dict[str, Attack | None] = {
            "nothing": None, "hosts that drip": _bring_slow_host(host), "sign-ins": _sign_in,
            "readings": _ask_much, "bodies of nobody": _send_bodies, "archives of 100 kB": _bring_archives,
        }  # fmt: skip
        for name, attack in attacks.items():
            ended, told = threading.Event(), Counter[int]()
            hands = [
                threading.Thread(target=attack, args=(attacker, ended, told)) for _ in range(_HANDS if attack else 0)
            ]  # fmt: skip
            for hand in hands:
                hand.start()
            took = _waits(owner, site, seconds)
            ended.set()
            for hand in hands:
                hand.join()
            middle, late = took[len(took) // 2], took[int(0.95 * len(took))]
            print(
                f"| {name} | {len(took)} | {1000 * middle:.0f} ms | {1000 * late:.0f} ms | {dict(told)} |", flush=True
            )


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 20)

"""Glaucon as its people run it: `bin/demo` in a process group of its own, that a test may kill."""

from __future__ import annotations

import contextlib
import copy
import http.cookiejar
import json
import os
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
START_SECONDS = 90


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Running:
    """A started demo and a client that is signed in to it."""

    def __init__(self, data: Path, hosts: Iterable[str] = ()) -> None:
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        environment = {**os.environ, "PORT": str(self.port), "GLAUCON_DATA": str(data)}
        environment["GLAUCON_ALLOWED_ADDRESSES"] = ",".join(hosts)
        environment.pop("DJANGO_SETTINGS_MODULE", None)
        self._log = (data / "log.txt").open("ab")
        self._process = subprocess.Popen(
            [str(ROOT / "bin" / "demo")], cwd=ROOT, env=environment, stdout=self._log, stderr=self._log,
            stdin=subprocess.DEVNULL, start_new_session=True,
        )  # fmt: skip
        self._jar = http.cookiejar.CookieJar()
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self._jar))
        self._wait()

    def _wait(self) -> None:
        until = time.monotonic() + START_SECONDS
        while time.monotonic() < until:
            with contextlib.suppress(OSError):
                if self.call("GET", "/api/session")[0] == 200:
                    return
            if self._process.poll() is not None:
                break
            time.sleep(0.1)
        self.kill()
        raise RuntimeError("the demo did not start: " + Path(self._log.name).read_text()[-800:])

    def call(self, method: str, path: str, body: object = None, kind: str = "application/json") -> tuple[int, Any]:
        """Return (status, answer) of one request; the answer is JSON where it is any."""
        data = body if isinstance(body, bytes) else json.dumps(body).encode() if body is not None else None
        request = urllib.request.Request(self.address + path, data, {"Content-Type": kind}, method=method)
        token = next((cookie.value for cookie in self._jar if cookie.name == "csrftoken"), None)
        request.add_header("X-CSRFToken", token or "")
        try:
            with self._opener.open(request, timeout=60) as answer:
                return answer.status, _read(answer.read())
        except urllib.error.HTTPError as refused:
            return refused.code, _read(refused.read())

    def base(self, site: str = "otterlock-boats") -> dict[str, int]:
        """Return how the current revision of a site's open study is named."""
        named: dict[str, int] = self.done("GET", f"/api/sites/{site}/study")[1]["base"]
        return named

    def act(self, *acts: dict[str, Any], site: str = "otterlock-boats") -> tuple[int, Any]:
        """Do some acts from the current revision; return (status, answer), waited for where it is work."""
        return self.done("POST", f"/api/sites/{site}/acts", {"base": self.base(site), "acts": acts})

    def search(self, name: str, site: str = "otterlock-boats", **fields: Any) -> tuple[int, Any]:
        """Ask a search about the current revision; return (status, answer), which may be work."""
        asked = {"base": self.base(site), "search": name, **fields}
        return self.call("POST", f"/api/sites/{site}/searches", asked)

    def release(self, site: str = "otterlock-boats") -> tuple[int, Any]:
        """Release the current revision; return (status, answer), which may be work."""
        plan = self.done("GET", f"/api/sites/{site}/release")[1]
        seen = {"base": plan["base"], "live_number": plan["live_number"]}
        return self.call("POST", f"/api/sites/{site}/release", seen)

    def done(self, method: str, path: str, body: object = None) -> tuple[int, Any]:
        """Return (status, answer) of one request, waited for where it is work."""
        status, answer = self.call(method, path, body)
        while status == 202:
            time.sleep(0.1)
            status, answer = self.call("GET", f"/api/work/{answer['work']}")
        return status, answer

    @property
    def cookies(self) -> list[http.cookiejar.Cookie]:
        """Return the cookies of the client."""
        return list(self._jar)

    @property
    def is_running(self) -> bool:
        """Return whether what was started still runs."""
        return self._process.poll() is None

    def as_nobody(self) -> Running:
        """Return a client of the same demo that is signed out."""
        other = copy.copy(self)
        other._jar = http.cookiejar.CookieJar()
        other._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(other._jar))
        for method in ("GET", "DELETE", "GET"):
            other.call(method, "/api/session")
        return other

    def as_owner(self, name: str) -> Running:
        """Return a client of the same demo that is signed up under an address of its own."""
        other, address = self.as_nobody(), f"{name}@yard.example"
        credentials = {"email": address, "password": "lock keeper 9"}
        status, said = other.call("POST", "/auth/browser/v1/auth/signup", credentials)
        assert status == 401, said
        letter = next(one["body"] for one in other.call("GET", "/api/mailbox")[1] if one["to"] == address)
        key = urllib.parse.unquote(letter.split("/account/confirm/")[1].split()[0])
        status, said = other.call("POST", "/auth/browser/v1/auth/email/verify", {"key": key})
        assert status == 200, said
        return other

    def bring_sample(self) -> str:
        """Bring Otterlock Boats in; return its site's name in addresses."""
        job = self.call("POST", "/api/bring/sample", {"name": "otterlock"})[1]
        while job["state"] in ("waiting", "running"):
            time.sleep(0.3)
            job = self.call("GET", f"/api/jobs/{job['number']}")[1]
        return str(job["site"])

    def upload(self, archive: bytes, name: str, path: str = "/api/bring/zip") -> Any:
        """Bring an archive; return the job."""
        edge = "glaucon-edge"
        head = f'--{edge}\r\nContent-Disposition: form-data; name="archive"; filename="{name}"\r\n\r\n'
        body = head.encode() + archive + f"\r\n--{edge}--\r\n".encode()
        status, job = self.call("POST", path, body, f"multipart/form-data; boundary={edge}")
        assert status == 200, job
        return job

    def processes(self) -> list[int]:
        """Return the ids of all processes of the demo."""
        found = []
        for entry in Path("/proc").iterdir():
            if entry.name.isdigit():
                with contextlib.suppress(OSError):
                    if os.getpgid(int(entry.name)) == self._process.pid:
                        found.append(int(entry.name))
        return found

    def largest_mb(self) -> float:
        """Return the most memory that any process of the demo has had so far, in MB."""
        most = 0.0
        for number in self.processes():
            with contextlib.suppress(OSError, StopIteration):
                lines = Path(f"/proc/{number}/status").read_text().splitlines()
                most = max(most, int(next(line for line in lines if line.startswith("VmHWM")).split()[1]) / 1024)
        return most

    def kill(self) -> None:
        """End the server, its worker and all they started at once, as a power cut would."""
        with contextlib.suppress(ProcessLookupError):
            os.killpg(self._process.pid, signal.SIGKILL)
        self._process.wait()
        self._log.close()

    def stop(self) -> int:
        """End it as Ctrl-C does and return the exit status."""
        self._process.send_signal(signal.SIGTERM)
        try:
            return self._process.wait(20)
        finally:
            self._log.close()


def _read(data: bytes) -> Any:
    try:
        return json.loads(data)
    except ValueError:
        return data


@contextlib.contextmanager
def running(data: Path, hosts: Iterable[str] = ()) -> Iterator[Running]:
    """Yield a started demo that may ask some hosts, as host:port; it is killed at the end if it still runs."""
    demo = Running(data, hosts)
    try:
        yield demo
    finally:
        demo.kill()

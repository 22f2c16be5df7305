"""As docs/operating.md says it, in an empty folder behind nginx with TLS: from signing up to a live site."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import re
import shutil
import signal
import socket
import ssl
import subprocess
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import unquote

import pytest

from tests.running import free_port

ROOT = Path(__file__).parents[2]
APP, SITES = "colours.example", "sites.example"


class _Letters:
    """A mail server that keeps what it is sent."""

    def __init__(self) -> None:
        self.kept: list[str] = []
        self._socket = socket.create_server(("127.0.0.1", 0))
        self.port = self._socket.getsockname()[1]
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self) -> None:
        while True:
            connection, _ = self._socket.accept()
            threading.Thread(target=self._talk, args=(connection,), daemon=True).start()

    def _talk(self, connection: socket.socket) -> None:
        file = connection.makefile("rwb")

        def say(text: str) -> None:
            file.write(f"{text}\r\n".encode())
            file.flush()

        say("220 mail.example")
        for line in file:
            word = line.decode().strip().upper()
            if word == "DATA":
                say("354 go on")
                body = []
                for part in file:
                    if part == b".\r\n":
                        break
                    body.append(part.decode())
                self.kept.append("".join(body))
                say("250 kept")
            elif word == "QUIT":
                say("221 bye")
                return
            else:
                say("250 mail.example")


class _Visitor:
    """A browser, as far as cookies and hosts go, that comes in through nginx."""

    def __init__(self, port: int) -> None:
        self._port, self.cookies = port, dict[str, str]()
        self._tls = ssl.create_default_context()
        self._tls.check_hostname, self._tls.verify_mode = False, ssl.CERT_NONE

    def ask(self, method: str, path: str, body: Any = None, host: str = APP, **headers: str) -> tuple[int, Any, Any]:
        connection = http.client.HTTPSConnection("127.0.0.1", self._port, context=self._tls, timeout=60)
        sent = {"Host": host, "Origin": f"https://{host}", "Referer": f"https://{host}/", **headers}
        if host == APP:
            sent["Cookie"] = "; ".join(f"{name}={value}" for name, value in self.cookies.items())
            sent["X-CSRFToken"] = self.cookies.get("__Host-csrftoken", "")
        data = json.dumps(body).encode() if body is not None else None
        connection.request(method, path, data, {**sent, "Content-Type": "application/json"})
        answer = connection.getresponse()
        told = answer.read()
        for header in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = header.split(";")[0].strip().partition("=")
            self.cookies[name] = value
            assert {"Secure", "Path=/"} <= {part.strip() for part in header.split(";")}, header
        with contextlib.suppress(ValueError):
            return answer.status, answer.headers, json.loads(told)
        return answer.status, answer.headers, told

    def done(self, method: str, path: str, body: Any = None) -> Any:
        status, _, told = self.ask(method, path, body)
        while status == 202:
            time.sleep(0.2)
            status, _, told = self.ask("GET", f"/api/work/{told['work']}")
        assert status == 200, told
        return told


@contextlib.contextmanager
def _served(folder: Path, letters: _Letters) -> Iterator[int]:
    """Run what docs/operating.md says in a fresh clone, with nginx in front; yield the port that speaks TLS."""
    subprocess.run(["git", "clone", "--quiet", str(ROOT), str(folder / "glaucon")], check=True)
    home, port, tls = folder / "glaucon", free_port(), free_port()
    env = (home / ".env.example").read_text()
    for name, value in (
        ("SECRET", "k3P-x8Qw7ZrT5vN2mB9cL4jH6gF1dS0aYeUiOpXz_2nDfG7hJ9kL5"), ("MAIL", f"smtp://127.0.0.1:{letters.port}"),
    ):  # fmt: skip
        env = re.sub(rf"^GLAUCON_{name}=.*$", f"GLAUCON_{name}={value}", env, flags=re.M)
    (home / ".env").write_text(f"{env}\nGLAUCON_PORT={port}\nGLAUCON_DATA={folder / 'data'}\n")
    conf = (home / "deploy" / "nginx.conf").read_text().replace("127.0.0.1:8000", f"127.0.0.1:{port}")
    conf = conf.replace("listen 443 ssl", f"listen 127.0.0.1:{tls} ssl").replace("/etc/glaucon/", f"{folder}/")
    conf = conf.replace("listen 80;", f"listen 127.0.0.1:{free_port()};")
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", f"/CN={APP}", "-keyout",
         str(folder / "tls.key"), "-out", str(folder / "tls.crt")], check=True, capture_output=True,
    )  # fmt: skip
    (folder / "nginx.conf").write_text(
        f"daemon off; pid {folder}/nginx.pid; error_log {folder}/error.log;\nevents {{}}\n"
        f"http {{ access_log off; client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy;\n{conf} }}\n"
    )
    kept = {name: value for name, value in os.environ.items() if not name.startswith(("GLAUCON", "DJANGO"))}
    with (folder / "log").open("wb") as log:
        served = subprocess.Popen(
            [str(home / "bin" / "serve")], env=kept, stdout=log, stderr=log, start_new_session=True
        )
        proxy = subprocess.Popen(["nginx", "-c", str(folder / "nginx.conf"), "-e", str(folder / "error.log")])
        try:
            for _ in range(1800):
                with contextlib.suppress(OSError, http.client.HTTPException):
                    if _Visitor(tls).ask("GET", "/health")[0] == 200:
                        break
                assert served.poll() is None, (folder / "log").read_text()
                time.sleep(0.3)
            yield tls
        finally:
            proxy.terminate()
            served.send_signal(signal.SIGTERM)
            assert served.wait(40) == 0
            proxy.wait(20)


@pytest.mark.prove
@pytest.mark.skipif(shutil.which("nginx") is None, reason="Debian's package nginx is not installed")
def test_operating_by_the_letter_from_signing_up_to_a_live_site(tmp_path: Path) -> None:
    letters = _Letters()
    with _served(tmp_path, letters) as port:
        marl = _Visitor(port)
        status, headers, _ = marl.ask("GET", "/")
        assert status == 200 and "max-age=31536000" in headers["Strict-Transport-Security"]
        assert f"script-src https://{APP}/static/" in headers["Content-Security-Policy"]
        assert marl.ask("GET", "/api/session")[2]["demo"] is False
        credentials = {"email": "marl@yard.example", "password": "lock keeper 9"}
        assert marl.ask("POST", "/auth/browser/v1/auth/signup", credentials)[0] == 401
        text = letters.kept[-1].replace("=\r\n", "").replace("=3D", "=")
        found = re.search(rf"https://{APP}/account/confirm/(\S+)", text)
        assert found is not None, text
        key = unquote(found.group(1))
        assert marl.ask("POST", "/auth/browser/v1/auth/email/verify", {"key": key})[0] == 200
        assert {"__Host-session", "__Host-csrftoken"} <= set(marl.cookies)
        job = marl.ask("POST", "/api/bring/sample", {"name": "otterlock"})[2]
        while (job := marl.ask("GET", f"/api/jobs/{job['number']}")[2])["state"] in ("waiting", "running"):
            time.sleep(0.3)
        assert job["state"] == "done", job
        slug = job["site"]
        base = marl.done("GET", f"/api/sites/{slug}/study")["base"]
        paint = {"act": "set-colour", "role": "background", "value": "#202a26"}
        marl.done("POST", f"/api/sites/{slug}/acts", {"base": base, "acts": [paint]})
        plan = marl.done("GET", f"/api/sites/{slug}/release")
        plan = marl.done("POST", f"/api/sites/{slug}/release", {"base": plan["base"], "live_number": None})
        assert plan["address"] == f"//{SITES}/live/{slug}/"
        status, headers, page = marl.ask("GET", f"/live/{slug}/", host=SITES)
        assert status == 200 and b"glaucon-" in page and headers["Set-Cookie"] is None
        assert headers["Content-Security-Policy"].startswith("sandbox allow-scripts")
        assert marl.ask("GET", f"/live/{slug}/")[1]["Location"] == f"//{SITES}/live/{slug}/"
        assert marl.ask("GET", "/api/session", host=SITES)[0] == 404
        # a form of another origin, and another name for this machine, get nowhere
        assert marl.ask("DELETE", f"/api/sites/{slug}", Origin="https://evil.example")[0] == 403
        assert marl.ask("GET", "/", host="elsewhere.example")[0] == 400
        log = (tmp_path / "log").read_text()
    assert '"message": "GET /health 200' in log and "lock keeper" not in log and key not in log
    assert "marl@" not in log

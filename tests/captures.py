"""A folder's site as browsers and crawls keep it: written with the standard's own tools, one kind each."""

from __future__ import annotations

import base64
import io
import json
import mimetypes
import re
import zipfile
from email.mime.base import MIMEBase
from email.mime.multipart import MIMEMultipart
from pathlib import PurePosixPath
from urllib.parse import urljoin

from warcio.statusandheaders import StatusAndHeaders
from warcio.warcwriter import WARCWriter

from glaucon.core.survey.site import SiteFiles

HOST = "https://otterlock.example/"


def kind_of(path: str) -> str:
    return mimetypes.guess_type(path)[0] or "application/octet-stream"


def as_mhtml(site: SiteFiles, page: str, host: str = HOST) -> bytes:
    message = MIMEMultipart("related", type="text/html")
    message["Snapshot-Content-Location"] = host + page
    for path in [page, *(one for one in site.files if one not in site.pages)]:
        part = MIMEBase(*kind_of(path).split("/"))
        part["Content-Location"] = host + path
        part["Content-Transfer-Encoding"] = "base64"
        part.set_payload(base64.encodebytes(site.files[path]).decode())
        message.attach(part)
    return message.as_bytes()


def as_mhtmls(site: SiteFiles) -> bytes:
    return zipped({f"{n}.mhtml": as_mhtml(site, page) for n, page in enumerate(site.pages)})


def as_har(site: SiteFiles) -> bytes:
    entries = []
    for path, data in site.files.items():
        content = {"mimeType": kind_of(path), "encoding": "base64", "text": base64.b64encode(data).decode()}
        if kind_of(path).startswith("text/"):
            content = {"mimeType": kind_of(path), "text": data.decode()}
        answer = {"status": 200, "content": content}
        entries.append({"request": {"method": "GET", "url": HOST + path}, "response": answer})
    return json.dumps({"log": {"version": "1.2", "entries": entries}}).encode()


def as_warc(site: SiteFiles, is_packed: bool = True) -> bytes:
    out = io.BytesIO()
    writer = WARCWriter(out, gzip=is_packed)
    for path, data in site.files.items():
        said = [("Content-Type", kind_of(path)), ("Content-Length", str(len(data)))]
        headers = StatusAndHeaders("200 OK", said, protocol="HTTP/1.1")
        writer.write_record(writer.create_warc_record(HOST + path, "response", io.BytesIO(data), http_headers=headers))
    return out.getvalue()


def as_plain_warc(site: SiteFiles) -> bytes:
    return as_warc(site, is_packed=False)


def as_wacz(site: SiteFiles) -> bytes:
    listed = "\n".join(['{"format": "json-pages-1.0"}', *(json.dumps({"url": HOST + page}) for page in site.pages)])
    return zipped(
        {"archive/data.warc.gz": as_warc(site), "datapackage.json": b"{}", "pages/pages.jsonl": listed.encode()}
    )


def as_one_file(site: SiteFiles, page: str) -> bytes:
    """Return a page with its sheets and pictures in it."""

    def inside(address: str, base: str) -> str:
        path = urljoin(f"/{base}", address).lstrip("/")
        data = site.files.get(path)
        if data is None:
            return address
        if path.endswith(".css"):
            sheet = re.sub(r"url\(['\"]?([^)'\"]+)['\"]?\)", lambda m: f"url({inside(m[1], path)})", data.decode())
            data = sheet.encode()
        return f"data:{kind_of(path)};base64,{base64.b64encode(data).decode()}"

    def tag(match: re.Match[str]) -> str:
        return f'{match[1]}"{inside(match[2], page)}"'

    return re.sub(r'(<(?:link|img)\b[^>]*?\s(?:href|src)=)"([^"]+)"', tag, site.files[page].decode()).encode()


def zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            archive.writestr(str(PurePosixPath(name)), data)
    return out.getvalue()

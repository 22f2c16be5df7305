"""What has stopped the application, or could: input that is small to send and was, or might be, long to work on.

Each case is done in a process of its own under the system's limits, and its processor time and memory are told.
"""

from __future__ import annotations

import io
import multiprocessing
import resource
import struct
import time
import zipfile
import zlib
from collections.abc import Callable
from dataclasses import dataclass

from glaucon.core.backdrops.picture_colours import main_colours
from glaucon.core.colour.value import read_colour
from glaucon.core.errors import GlauconError
from glaucon.core.exchange.palette_files import read_palette
from glaucon.core.study.own_css import problems_of
from glaucon.core.survey.site import SiteFiles, read_archive
from glaucon.core.survey.survey import Surveyor

CPU_SECONDS, MEMORY_MB = 30, 600


def page(html: str, **files: bytes) -> Callable[[], object]:
    return lambda: Surveyor(SiteFiles({"index.html": html.encode(), **files})).survey()


def css(text: str, body: str = "<p class=c0>Hello <b>there</b>") -> Callable[[], object]:
    return page(f"<!doctype html><title>x</title><link rel=stylesheet href=s.css>{body}", **{"s.css": text.encode()})


def svg(text: str) -> Callable[[], object]:
    html = "<!doctype html><style>body{background:url(a.svg)}</style><img src=a.svg><p>Hello"
    return page(html, **{"a.svg": text.encode()})


def png(width: int, height: int, depth: int = 8, kind: int = 2) -> bytes:
    """Return a picture of one colour, as small as it gets."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    channels = {0: 1, 2: 3, 6: 4}[kind]
    row = b"\0" + bytes(width * channels * depth // 8)
    packer = zlib.compressobj(9)
    data = b"".join([*(packer.compress(row) for _ in range(height)), packer.flush()])
    head = struct.pack(">IIBBBBB", width, height, depth, kind, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", data) + chunk(b"IEND", b"")


def ico(inner: bytes) -> bytes:
    """Return an icon that holds a picture."""
    return struct.pack("<HHH", 0, 1, 1) + struct.pack("<BBBBHHII", 0, 0, 0, 0, 1, 32, len(inner), 22) + inner


def odd_zip(name: str, version: int = 20, method: int = 0) -> bytes:
    """Return an archive whose first file has a name, a version and a method that may be wrong."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        info = zipfile.ZipInfo(name)
        archive.writestr(info, b"<p>Hello")
        archive.writestr("index.html", b"<p>Hello")
    data = bytearray(out.getvalue())
    for mark, at in ((b"PK\x03\x04", 4), (b"PK\x01\x02", 6)):
        place = data.find(mark)
        data[place + at] = version
        data[place + at + 4] = method
    return bytes(data)


def _zip(name: str, version: int = 20, method: int = 0) -> Callable[[], object]:
    return lambda: read_archive(io.BytesIO(odd_zip(name, version, method)))


SIBLINGS = "".join(f"<p class='c{n % 500}'>words {n}</p>" for n in range(500))
CASES: dict[str, Callable[[], object]] = {
    "comments before no doctype": page("<!-- -->" * 45 + "<p>Hello"),
    "many comments before no doctype": page("<!-- -->" * 20_000 + "<p>Hello"),
    "nested lists of selectors": css("a,b{" * 18 + "color:red" + "}" * 18),
    "nested lists, deeper": css("a,b{" * 60 + "color:red" + "}" * 60),
    "ampersands that double": css("p,b,i{&,& &{" * 6 + "color:red" + "}}" * 6),
    "ampersands, more of them": css("p,b,i{&,& &{" * 20 + "color:red" + "}}" * 20),
    "doubling color-mix": css(
        ":root{--a0:red;" + "".join(f"--a{n}:color-mix(in srgb,var(--a{n - 1}),var(--a{n - 1}));" for n in range(1, 17))
        + "}p{color:var(--a16)}"
    ),
    "doubling calc": css(
        ":root{--a0:1px;" + "".join(f"--a{n}:calc(var(--a{n - 1}) + var(--a{n - 1}));" for n in range(1, 17))
        + "}p{font-size:var(--a16)}"
    ),
    "doubling, deeper": css(
        ":root{--a0:red;" + "".join(f"--a{n}:color-mix(in srgb,var(--a{n - 1}),var(--a{n - 1}));" for n in range(1, 40))
        + "}p{color:var(--a39)}"
    ),
    "colours from colours": css("p{color:" + "rgb(from " * 60 + "red" + " r g b)" * 60 + "}"),
    "bold and paragraphs": page("<b><p>" * 400),
    "fonts and paragraphs": page("<font size=3><p>" * 200),
    "fonts and paragraphs, more": page("<font size=3><p>" * 500),
    "bold and drawings": page("<b><svg></p>" * 60_000),
    "bold with slashes": page("<b/>" * 60_000 + "</p>" * 60_000),
    "bold of many kinds": page("".join(f"<font size={n}>" for n in range(4_000)) + "<p>x" * 60_000),
    "texts between tags that are none": page("<td>x</td>" * 260_000),
    "texts between ends": page("x</i>" * 300_000),
    "later siblings": css("".join(f".c{n}~p{{color:#{n:03x}}}" for n in range(500)), SIBLINGS),
    "has, on all": css("".join(f":has(.c{n}){{color:#{n:03x}}}" for n in range(200)), SIBLINGS),
    "has in has": css(":has(" * 64 + "b" + ")" * 64 + "{color:red}", "<div>" * 300 + "<p>x"),
    "has siblings": css("".join(f"p:has(~ .c{n}){{color:#{n:03x}}}" for n in range(200)), SIBLINGS),
    "very many attributes": page("<p " + " ".join(f"a{n}=1" for n in range(222_000)) + ">Hello"),
    "a selector of 3,000 parts": css(" ".join(["p"] * 3_000) + "{color:red}"),
    "a selector of 3,000 functions": css(":is(" * 3_000 + "p" + ")" * 3_000 + "{color:red}"),
    "a list of selectors of 5 MB": css(",".join(f".c{n}" for n in range(620_000)) + "{color:red}"),
    "a number of 4,300 digits": css("p{color:rgb(" + "9" * 4_300 + ",0,0);font-size:" + "9" * 5_000 + "px}"),
    "a number with 4,300 digits in an attribute": page("<table border=" + "9" * 5_000 + "><td width=" + "9" * 5_000 + ">x"),
    "brackets": css("p{color:" + "(" * 100_000),
    "braces": css("p{" * 20_000),
    "at-rules": css("@media all{" * 5_000 + "p{color:red}"),
    "svg: a fill of blanks": svg("<svg fill:" + " " * 20_000 + "x"),
    "svg: many openings": svg("<svg " * 4_000),
    "svg: width with two points": svg("<svg width='1.2.3' height='4.5.6'><rect fill='red' width='1.2.3'/></svg>"),
    "svg: entities": svg(
        "<!DOCTYPE svg [<!ENTITY a 'aaaaaaaaaa'>" + "".join(f"<!ENTITY {chr(98 + n)} '{('&' + chr(97 + n) + ';') * 10}'>" for n in range(9))
        + "]><svg xmlns='http://www.w3.org/2000/svg'><text>&j;</text></svg>"
    ),
    "svg: deep": svg("<svg xmlns='http://www.w3.org/2000/svg'>" + "<g>" * 50_000),
    "srcset": page("<img srcset='" + "a" * 8_000 + "'><p>Hello"),
    "srcset of commas": page("<img srcset='" + "a, " * 8_000 + "'><p>Hello"),
    "a colour of blanks": lambda: read_colour("a:x" + " " * 6_000 + "y"),
    "colours out of all bounds": lambda: [
        _refused(lambda t=t: read_colour(t)) for t in ("oklch(1e308 1e308 1e308)", "rgb(1e400 0 0)", "hsl(1e300 1e300% 1e300%)", "color(srgb 1e308 -1e308 1e308)", "lab(nan nan nan)")
    ],
    "a palette of open brackets": lambda: read_palette("rgb(" * 30_000),
    "a palette of blanks": lambda: read_palette("a" + " " * 200_000 + "b"),
    "a palette in rows": lambda: read_palette("GIMP Palette\n" + "1 1 1" + " " * 100_000 + "\n"),
    "own css": lambda: problems_of("a,b{" * 18 + "color:red" + "}" * 18),
    "picture: 40 megapixels in 16 bits": lambda: main_colours(png(8_000, 5_000, 16)),
    "picture: 177 megapixels in an icon": lambda: main_colours(ico(png(13_300, 13_300))),
    "picture: 300 megapixels": lambda: main_colours(png(20_000, 15_000)),
    "archive: broken LZMA": _zip("a.html", method=14),
    "archive: version 9.9": _zip("a.html", version=99),
    "archive: an empty name": _zip(""),
}  # fmt: skip


def _refused(work: Callable[[], object]) -> str:
    try:
        return str(work())
    except GlauconError as error:
        return str(error)


@dataclass(frozen=True, slots=True)
class Outcome:
    """How a case went: "done", the sentence it was refused with, or what broke; processor seconds and megabytes."""

    said: str
    is_ours: bool
    cpu: float
    memory: float


def happened(name: str) -> Outcome:
    """Return how a case goes in a process of its own."""
    here, there = multiprocessing.Pipe(duplex=False)
    process = multiprocessing.get_context("fork").Process(target=_run, args=(CASES[name], there))
    start = time.monotonic()
    process.start()
    there.close()
    try:
        said, ours, cpu, memory = here.recv()
    except EOFError:
        said, ours, cpu, memory = "killed", False, time.monotonic() - start, float("nan")
    process.join()
    return Outcome(said, ours, cpu, memory)


def _run(work: Callable[[], object], there: object) -> None:
    resource.setrlimit(resource.RLIMIT_CPU, (CPU_SECONDS, CPU_SECONDS + 1))
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    try:
        work()
        said, ours = "done", True
    except GlauconError as error:
        said, ours = str(error), True
    except BaseException as error:
        said, ours = f"{type(error).__name__}: {error}"[:200], False
    used = resource.getrusage(resource.RUSAGE_SELF)
    # what it was forked with is the tests' own, whatever they did before
    memory = max(0, used.ru_maxrss - before) / 1024
    there.send((said, ours, used.ru_utime + used.ru_stime, memory))  # type: ignore[attr-defined]


def main() -> None:
    """Print the table, or the cases named."""
    import sys

    for name in sys.argv[1:] or CASES:
        one = happened(name)
        print(
            f"| {name} | {one.cpu:.1f} s | {one.memory:.0f} MB | {'' if one.is_ours else 'BROKEN: '}{one.said[:110]} |",
            flush=True,
        )


if __name__ == "__main__":
    main()

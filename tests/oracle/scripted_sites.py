# ruff: noqa: E501
"""Twenty sites that are nothing without their scripts: pinned packages, and small pages around them.

They were chosen by what they do (things that show when scrolled to, slides, tabs and menus of several frameworks, web
components, a dark switch, calendars, charts, documentation drawn by the browser), and the pages written from the
packages' manuals, before anything was tried on them. Each is made in a folder that git ignores.
"""

from __future__ import annotations

import fnmatch
import shutil
import tempfile
from dataclasses import dataclass
from pathlib import Path

from tests.oracle.corpus import FETCHED, RealSite, unpacked

# name: version, the registry's integrity
PACKAGES = {
    "aos": ("2.3.4", "sha512-zh/ahtR2yME4I51z8IttIt4lC1Nw0ktsFtmeDzID1m9naJnWXhCoARaCgNOGXb5CLy3zm+wqmRAEgMYB5E2HUw=="),
    "scrollreveal": (
        "4.0.9",
        "sha512-fefGvzVS8YbXbDK1+T0kvy2yqxaiBJZeGUhPeqajf+7sGqtX4xikbKGAlzQuPCpswAMswx94ZwhDjXKnRIqW1w==",
    ),
    "wowjs": (
        "1.1.3",
        "sha512-HQp1gi56wYmjOYYOMZ08TnDGpT+AO21RJVa0t1NJ3jU8l3dMyP+sY7TO/lilzVp4JFjW88bBY87RnpxdpSKofA==",
    ),
    "reveal.js": (
        "4.6.1",
        "sha512-1CW0auaXNPmwmvQ7TwpszwVxMi2Xr5cTS3J3EBC/HHgbPF32Dn7aiu/LKWDOGjMbaDwKQiGmfqcoGQ74HUHCMw==",
    ),
    "swiper": (
        "4.5.1",
        "sha512-se6I7PWWu950NAMXXT+ENtF/6SVb8mPyO+bTfNxbQBILSeLqsYp3Ndap+YOA0EczOIUlea274PKejT6gKZDseA==",
    ),
    "alpinejs": (
        "3.12.3",
        "sha512-fLz2dfYQ3xCk7Ip8LiIpV2W+9brUyex2TAE7Z0BCvZdUDklJE+n+a8gCgLWzfZ0GzZNZu7HUP8Z0z6Xbm6fsSA==",
    ),
    "jstree": (
        "3.3.16",
        "sha512-yeeIJffi2WAqyMeHufXj/Ozy7GqgKdDkxfN8L8lwbG0h1cw/TgDafWmyhroH4AKgDSk9yW1W6jiJZu4zXAqzXw==",
    ),
    "jquery": (
        "3.7.1",
        "sha512-m4avr8yL8kmFN8psrbFFFmB/If14iN5o9nw/NgnnM+kybDJpRsAynV2BsfpTYrTRysYUdADVD7CkUUizgkpLfg==",
    ),
    "tabulator-tables": (
        "5.5.2",
        "sha512-GlzUPXeH9Rw1iPXcl3uBLJk6Sz51xdwscZ5RrsKxDQDQ+t2g31hGq/0xjaj6ea62wHgl8vzVsHuwap0jKzsUNg==",
    ),
    "flatpickr": (
        "4.6.13",
        "sha512-97PMG/aywoYpB4IvbvUJi0RQi8vearvU0oov1WW3k0WZPBMrTQVqekSX5CjSG/M4Q3i6A/0FKXC7RyAoAUUSPw==",
    ),
    "chartist": (
        "0.11.4",
        "sha512-H4AimxaUD738/u9Mq8t27J4lh6STsLi4BQHt65nOtpLk3xyrBPaLiLMrHw7/WV9CmsjGA02WihjuL5qpSagLYw==",
    ),
    "frappe-charts": (
        "1.6.2",
        "sha512-9TC3/+YVUi84yYoEbxFiSqu+1FQ5If/ydUNj6i8FRpwynd08t6a7RkS+IRJozAk6NfdL8/LVTTE1DUOjjKZZxg==",
    ),
    "mermaid": (
        "9.4.3",
        "sha512-TLkQEtqhRSuEHSE34lh5bCa94KATCyluAXmFnNI2PRZwOpXFeqiJWwZl+d2CcemE1RS6QbbueSSq9QIg8Uxcyw==",
    ),
    "bootstrap": (
        "5.3.3",
        "sha512-8HLCdWgyoMguSO9o+aH+iuZ+aht+mzW0u3HIMzVu7Srrpv7EBBxTnrFlSCskwdY1+EOFQSm7uMJhNQHkdPcmjg==",
    ),
    "vue": (
        "3.4.38",
        "sha512-f0ZgN+mZ5KFgVv9wz0f4OgVKukoXtS3nwET4c2vLBGQR50aI8G0cqbFtLlX9Yiyg3LFGBitruPHt2PxwTduJEw==",
    ),
    "element-plus": (
        "2.8.1",
        "sha512-p11/6w/O0+hGvPhiN3jrcgh+XG+eg5jZlLdQVYvcPHZYhhCh3J3YeZWW1JO/REPES1vevkboT6VAi+9wHA8Dsg==",
    ),
    "react": (
        "18.3.1",
        "sha512-wS+hAgJShR0KhEvPJArfuPVN1+Hz1t0Y6n5jLrGQbkb4urgPE/0Rve+1kMB1v/oWgHgm4WIcV+i7F2pTVj+2iQ==",
    ),
    "react-dom": (
        "18.3.1",
        "sha512-5m4nQKp+rZRb09LNH59GM4BxTh9251/ylbKIbpe7TpGxfJ+9kv6BLkLBXIjjspbgbnIBNqlI23tRnTWT0snUIw==",
    ),
    "@shoelace-style/shoelace": (
        "2.16.0",
        "sha512-OV4XYAAZv0OfOR4RlpxCYOn7pH8ETIL8Pkh5hFvIrL+BN4/vlBLoeESYDU2tB/f9iichu4cfwdPquJITmKdY1w==",
    ),
    "docsify": (
        "4.13.1",
        "sha512-BsDypTBhw0mfslw9kZgAspCMZSM+sUIIDg5K/t1hNLkvbem9h64ZQc71e1IpY+iWsi/KdeqfazDfg52y2Lmm0A==",
    ),
    "darkmode-js": (
        "1.5.7",
        "sha512-gM1KhV/yy/84ZUpES9/oeOn0CVtuOi2HBd+Kccr4CJz+rFccQo2gUuPbjfyPXUx7t800Zf408G6kZb5rkTgjFA==",
    ),
    "fullcalendar": (
        "6.1.15",
        "sha512-CFnh1yswjRh9puJVDk8VGwTlyZ6eXxr4qLI7QCA0+bozyAm+BluP1US5mOtgk0gEq23nQxGSNDoBvAraz++saQ==",
    ),
    "startbootstrap-sb-admin-2": (
        "4.1.4",
        "sha512-Zr0JNu4tRD4EJVDwVLETKWfMniFx4Dy3qAnJ96ucqUqIZ8Ns4/H5a6Y0E44/K5lxO05EBQwi24hPxaLEz+2IhA==",
    ),
}
_TOP = "<!doctype html><html lang=en><meta charset=utf-8><title>Hollow Reach Narrowboats</title>"


@dataclass(frozen=True, slots=True)
class Scripted:
    """A site: files of packages by pattern, each under its package's name, and pages of our own or theirs."""

    name: str
    files: tuple[str, ...]
    own: dict[str, str]
    pages: tuple[str, ...] = ("index.html",)


def _page(head: str, body: str) -> dict[str, str]:
    return {"index.html": f"{_TOP}{head}<body>{body}</body></html>"}


SITES = (
    Scripted("aos", ("aos/dist/*", "aos/demo/*"), {}, ("aos/demo/simple.html", "aos/demo/async.html")),
    Scripted("scrollreveal", ("scrollreveal/dist/*",), _page(
        "<style>section{height:900px}.late{color:#24506b}</style>",
        """<h1>Moorings</h1><section><p class=late>By the lock</p></section><section><p class=late>By the mill</p>
        </section><section><p class=late>By the yard</p></section><script src=scrollreveal/dist/scrollreveal.js></script>
        <script>ScrollReveal().reveal(".late", { delay: 100, distance: "50px" })</script>""",
    )),
    Scripted("wowjs", ("wowjs/demo.html", "wowjs/dist/*", "wowjs/css/*"), {}, ("wowjs/demo.html",)),
    Scripted("reveal.js", ("reveal.js/demo.html", "reveal.js/index.html", "reveal.js/dist/*", "reveal.js/plugin/*"), {},
             ("reveal.js/demo.html", "reveal.js/index.html")),
    Scripted("swiper", ("swiper/dist/css/*", "swiper/dist/js/swiper.js"), _page(
        "<link rel=stylesheet href=swiper/dist/css/swiper.css><style>.swiper-slide{background:#143d4a;color:#e9dcb8}</style>",
        """<div class=swiper-container><div class=swiper-wrapper><div class=swiper-slide><h2>Dawn on the cut</h2></div>
        <div class=swiper-slide><h2>The long tunnel</h2></div><div class=swiper-slide><h2>Lock flight</h2></div></div>
        <div class=swiper-pagination></div></div><p>Three days afloat</p><script src=swiper/dist/js/swiper.js></script>
        <script>new Swiper(".swiper-container", { loop: true, pagination: { el: ".swiper-pagination" } })</script>""",
    )),
    Scripted("alpinejs", ("alpinejs/dist/cdn.js",), _page(
        """<script defer src=alpinejs/dist/cdn.js></script><style>[x-cloak]{display:none}.on{background:#0b5c7a;color:#fff}
        .menu{background:#222;color:#999}</style>""",
        """<div x-data="{ tab: 'rates', open: false }"><button @click="open = !open" :aria-expanded="open">Menu</button>
        <ul class=menu x-show="open" x-cloak><li>Day boats</li><li>Week boats</li></ul>
        <button :class="{ on: tab == 'rates' }" @click="tab = 'rates'">Rates</button>
        <button :class="{ on: tab == 'times' }" @click="tab = 'times'">Times</button>
        <div x-show="tab == 'rates'">From 140 a day</div><div x-show="tab == 'times'" x-cloak>From nine to five</div>
        <ul><template x-for="one in ['Heron', 'Otter', 'Coot']"><li x-text="one"></li></template></ul></div>""",
    )),
    Scripted("jstree", ("jstree/demo/*", "jstree/dist/*", "jquery/dist/jquery.js"), {}, ("jstree/demo/basic/index.html",)),
    Scripted("tabulator", ("tabulator-tables/dist/css/tabulator.css", "tabulator-tables/dist/js/tabulator.js"), _page(
        "<link rel=stylesheet href=tabulator-tables/dist/css/tabulator.css>",
        """<h1>Berths</h1><div id=t></div><script src=tabulator-tables/dist/js/tabulator.js></script><script>
        new Tabulator("#t", { data: [{ boat: "Heron", length: "57 ft" }, { boat: "Otter", length: "45 ft" }], columns: [
        { title: "Boat", field: "boat" }, { title: "Length", field: "length" }] })</script>""",
    )),
    Scripted("flatpickr", ("flatpickr/dist/flatpickr.css", "flatpickr/dist/flatpickr.js"), _page(
        "<link rel=stylesheet href=flatpickr/dist/flatpickr.css>",
        """<h1>Book</h1><input id=d><script src=flatpickr/dist/flatpickr.js></script>
        <script>flatpickr("#d", { inline: true, defaultDate: "2026-06-14" })</script>""",
    )),
    Scripted("fullcalendar", ("fullcalendar/index.global.js",), _page(
        "", """<h1>When we are open</h1><div id=c></div><script src=fullcalendar/index.global.js></script><script>
        new FullCalendar.Calendar(document.getElementById("c"), { initialDate: "2026-06-14", events: [
        { title: "Lock closed", start: "2026-06-10" }, { title: "Fair", start: "2026-06-20" }] }).render()</script>""",
    )),
    Scripted("chartist", ("chartist/dist/chartist.css", "chartist/dist/chartist.js"), _page(
        "<link rel=stylesheet href=chartist/dist/chartist.css>",
        """<h1>Boats a month</h1><div class="ct-chart ct-golden-section"></div><script src=chartist/dist/chartist.js></script>
        <script>new Chartist.Bar(".ct-chart", { labels: ["Apr", "May", "Jun", "Jul"], series: [[5, 9, 12, 14]] })</script>""",
    )),
    Scripted("frappe-charts", ("frappe-charts/dist/frappe-charts.umd.js", "frappe-charts/dist/*.css"), _page(
        "", """<h1>Miles</h1><div id=f></div><script src=frappe-charts/dist/frappe-charts.umd.js></script><script>
        new frappe.Chart("#f", { title: "Miles cruised", type: "bar", height: 250, data: { labels: ["Mon", "Tue", "Wed"],
        datasets: [{ values: [8, 14, 11] }] } })</script>""",
    )),
    Scripted("mermaid", ("mermaid/dist/mermaid.js",), _page(
        "", """<h1>How hire works</h1><pre class=mermaid>graph TD; A[Ask] --> B[Book]; B --> C[Cruise]</pre>
        <script src=mermaid/dist/mermaid.js></script><script>mermaid.initialize({ startOnLoad: true })</script>""",
    )),
    Scripted("bootstrap", ("bootstrap/dist/css/bootstrap.css", "bootstrap/dist/js/bootstrap.bundle.js"), _page(
        "<link rel=stylesheet href=bootstrap/dist/css/bootstrap.css>",
        """<nav class="navbar navbar-expand-lg bg-dark" data-bs-theme=dark><div class=container><a class=navbar-brand
        href=#>Hollow Reach</a><button class=navbar-toggler data-bs-toggle=collapse data-bs-target=#nav aria-label="Main menu">
        </button><div class="collapse navbar-collapse" id=nav><ul class=navbar-nav><li class=nav-item><a class=nav-link
        href=#>Boats</a></li><li class="nav-item dropdown"><a class="nav-link dropdown-toggle" href=# data-bs-toggle=dropdown
        aria-expanded=false>Routes</a><ul class=dropdown-menu><li><a class=dropdown-item href=#>To the weir</a></li><li><a
        class="dropdown-item disabled">To the sea</a></li></ul></li></ul></div></div></nav><main class=container>
        <ul class="nav nav-tabs" role=tablist><li class=nav-item><button class="nav-link active" data-bs-toggle=tab
        data-bs-target=#a role=tab aria-selected=true>Prices</button></li><li class=nav-item><button class=nav-link
        data-bs-toggle=tab data-bs-target=#b role=tab aria-selected=false>Rules</button></li></ul><div class=tab-content>
        <div class="tab-pane show active" id=a>Prices by the week</div><div class=tab-pane id=b>No swimming in locks</div></div>
        <div class=accordion id=q><div class=accordion-item><h2 class=accordion-header><button
        class="accordion-button collapsed" data-bs-toggle=collapse data-bs-target=#q1 aria-expanded=false>Do I need a
        licence?</button></h2><div id=q1 class="accordion-collapse collapse"><div class=accordion-body>None at all.</div></div>
        </div></div><button class="btn btn-primary" data-bs-toggle=modal data-bs-target=#m>Book now</button><button
        class="btn btn-outline-warning" data-bs-toggle=offcanvas data-bs-target=#o>Basket</button></main><div class="modal fade"
        id=m tabindex=-1><div class=modal-dialog><div class=modal-content><div class=modal-header><h5 class=modal-title>Book
        </h5></div><div class=modal-body>Which week?</div><div class=modal-footer><button class="btn btn-secondary"
        data-bs-dismiss=modal>Close</button></div></div></div></div><div class="offcanvas offcanvas-end" id=o tabindex=-1>
        <div class=offcanvas-body>Nothing in it yet</div></div><script src=bootstrap/dist/js/bootstrap.bundle.js></script>""",
    )),
    Scripted("element-plus", ("vue/dist/vue.global.prod.js", "element-plus/dist/index.full.min.js", "element-plus/dist/index.css"),
             _page(
        "<link rel=stylesheet href=element-plus/dist/index.css>",
        """<div id=app></div><script src=vue/dist/vue.global.prod.js></script>
        <script src=element-plus/dist/index.full.min.js></script><script>Vue.createApp({ data: () => ({ tab: "boats",
        open: [], dialog: false }), template: `<h1>Yard desk</h1><el-tabs v-model="tab"><el-tab-pane label="Boats"
        name="boats">Four boats out</el-tab-pane><el-tab-pane label="Crew" name="crew">Two on the quay</el-tab-pane></el-tabs>
        <el-collapse v-model="open"><el-collapse-item title="Weather" name="1">Dry until noon</el-collapse-item></el-collapse>
        <el-button type="primary" @click="dialog = true">New hire</el-button><el-tag type="warning">Due today</el-tag>
        <el-dialog v-model="dialog" title="New hire">Choose a boat</el-dialog>` }).use(ElementPlus).mount("#app")</script>""",
    )),
    Scripted("react", ("react/umd/react.production.min.js", "react-dom/umd/react-dom.production.min.js"), _page(
        "<style>.on{background:#0b5c7a;color:#fff}.pop{background:#fdf3d6;color:#b58900}</style>",
        """<div id=app></div><script src=react/umd/react.production.min.js></script>
        <script src=react-dom/umd/react-dom.production.min.js></script><script>const h = React.createElement;
        function Yard() { const [tab, turn] = React.useState(0), [open, flip] = React.useState(false);
        return h("main", null, h("h1", null, "Hire desk"), h("div", { role: "tablist" }, ["Today", "Week"].map((name, n) =>
        h("button", { role: "tab", key: n, className: tab == n ? "on" : "", "aria-selected": tab == n, onClick: () => turn(n) },
        name))), h("p", null, tab ? "Nine hires this week" : "Two hires today"), h("button", { onClick: () => flip(!open),
        "aria-expanded": open }, "Notes"), open && h("div", { className: "pop" }, "Bring ropes back dry")) }
        ReactDOM.createRoot(document.getElementById("app")).render(h(Yard))</script>""",
    )),
    Scripted("shoelace", ("@shoelace-style/shoelace/cdn/*.js", "@shoelace-style/shoelace/cdn/themes/light.css"), _page(
        """<link rel=stylesheet href="@shoelace-style/shoelace/cdn/themes/light.css"><script type=module
        src="@shoelace-style/shoelace/cdn/shoelace.js"></script>""",
        """<h1>Boat hire</h1><sl-button variant=primary>Choose a boat</sl-button><sl-badge variant=warning>Few left</sl-badge>
        <sl-card><div slot=header>Heron</div>Six berths, two cabins<sl-button slot=footer variant=success>Take it</sl-button>
        </sl-card><sl-alert open variant=danger>The lock is shut</sl-alert><sl-details summary="What is in the price?">Fuel and
        a rope</sl-details><sl-tab-group><sl-tab slot=nav panel=a>Kit</sl-tab><sl-tab slot=nav panel=b>Rules</sl-tab>
        <sl-tab-panel name=a>Lamps and ropes</sl-tab-panel><sl-tab-panel name=b>Slow past boats</sl-tab-panel></sl-tab-group>""",
    )),
    Scripted("docsify", ("docsify/lib/docsify.js", "docsify/lib/themes/vue.css"), {
        **_page("<link rel=stylesheet href=docsify/lib/themes/vue.css>", """<div id=app></div><script>window.$docsify = {
        name: "Handbook", loadSidebar: true }</script><script src=docsify/lib/docsify.js></script>"""),
        "README.md": "# Handbook\n\nHow to take a boat through a **lock**.\n\n> Mind the sill.\n\n- Rope\n- Windlass\n",
        "_sidebar.md": "- [Home](/)\n- [Locks](locks.md)\n", "locks.md": "# Locks\n",
    }),
    Scripted("darkmode-js", ("darkmode-js/lib/darkmode-js.js",), _page(
        "<style>body{color:#333;background:#fff}.dark{background:#111;color:#555}.dark a{color:#48a}</style>",
        """<h1>Night moorings</h1><p>Lamps are lit at dusk. <a href=#>Where</a></p><button class=switch
        onclick="document.body.classList.toggle('dark')" aria-pressed=false>Dark</button>
        <script src=darkmode-js/lib/darkmode-js.js></script><script>new Darkmode().showWidget()</script>""",
    )),
    Scripted("sb-admin-2", (
        "startbootstrap-sb-admin-2/index.html", "startbootstrap-sb-admin-2/cards.html", "startbootstrap-sb-admin-2/css/*.css",
        "startbootstrap-sb-admin-2/js/*.js", "startbootstrap-sb-admin-2/vendor/bootstrap/js/bootstrap.bundle.min.js",
        "startbootstrap-sb-admin-2/vendor/jquery*/*.min.js", "startbootstrap-sb-admin-2/vendor/chart.js/Chart.min.js",
        "startbootstrap-sb-admin-2/vendor/fontawesome-free/css/all.min.css",
    ), {}, ("startbootstrap-sb-admin-2/index.html", "startbootstrap-sb-admin-2/cards.html")),
)  # fmt: skip


def made(site: Scripted) -> Path:
    """Return a site's folder, its packages fetched, checked and its pages written. Raises: CorpusError."""
    folder = FETCHED / "scripted" / site.name
    if (folder / ".made").exists():
        return folder
    shutil.rmtree(folder, ignore_errors=True)
    for package in dict.fromkeys(_package_of(pattern) for pattern in site.files):
        version, digest = PACKAGES[package]
        with tempfile.TemporaryDirectory() as scratch:
            pinned = RealSite(package, "", "npm", package, version, digest, "package", "", 0)
            top = unpacked(pinned, Path(scratch)) / "package"
            for file in sorted(one for one in top.rglob("*") if one.is_file()):
                name = f"{package}/{file.relative_to(top).as_posix()}"
                if any(fnmatch.fnmatch(name, pattern) for pattern in site.files):
                    (folder / name).parent.mkdir(parents=True, exist_ok=True)
                    shutil.copyfile(file, folder / name)
    for name, text in site.own.items():
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_text(text, "utf-8")
    (folder / ".made").write_text("")
    return folder


def _package_of(pattern: str) -> str:
    parts = pattern.split("/")
    return "/".join(parts[:2]) if pattern.startswith("@") else parts[0]

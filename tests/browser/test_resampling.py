"""Pictures drawn larger and smaller, held against Chromium's pixels."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser

from glaucon.core.layout.drawing import painted_at
from glaucon.core.layout.resampling import Drawable
from tests.oracle.chromium_truth import picture_of
from tests.oracle.handing_back import folder_of

# a picture's own width and height, and what it is drawn as
SIZES = [
    (640, 400, 900, 562), (1203, 807, 250, 167), (1200, 800, 500, 333),
    *(pytest.param(one, marks=pytest.mark.prove) for one in (
        (1200, 800, 900, 600), (1200, 800, 250, 167), (640, 400, 700, 300), (2811, 933, 400, 133),
        (1501, 1000, 500, 333),
    )),
]  # fmt: skip


@pytest.mark.parametrize("alpha", [False, True], ids=["opaque", "lets through"])
@pytest.mark.parametrize("size", SIZES, ids=str)
def test_it_is_drawn_as_chromium_draws_it(browser: Browser, size: tuple[int, int, int, int], alpha: bool) -> None:
    wide, high, across, down = size
    dice = np.random.default_rng(sum(size))
    smooth = Image.fromarray(dice.integers(0, 256, (6, 8, 4)).astype(np.uint8)).resize((wide, high), 3)
    noisy = np.asarray(smooth, dtype=float) + dice.normal(0, 12, (high, wide, 4))
    pixels = noisy.clip(0, 255).astype(np.uint8)
    pixels[..., 3] = pixels[..., 3] if alpha else 255
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    box = f"width: {across}px; height: {down}px; background: url(a.png) 0 0 / 100% 100%"
    css = f"body {{ margin: 0; background: #fff }} div {{ {box} }}"
    page = f"<!doctype html><style>{css}</style><div></div>"
    with folder_of({"index.html": page.encode(), "a.png": out.getvalue()}) as address:
        seen = picture_of(browser, address + "index.html", 1000)[40 : down - 40, 30 : across - 60].astype(int)
    drawn = Drawable(pixels).drawn((across, down), 30, 40, across - 90, down - 80)
    share = drawn[..., 3:] / 255
    mine = np.rint(drawn[..., :3] * share + 255 * (1 - share))
    apart = np.abs(mine - seen)
    assert apart.mean() < (0.6 if alpha else 0.05) and np.percentile(apart, 99.9) <= 2


WAVES = """<path d='M0 60C90 0 130 120 300 50V120H0z' fill='#1d5546'/>
<path d='M0 9L300 110' stroke='#c8452b' stroke-width='3'/>"""
# (how the drawing says its size, what it is drawn as)
FRAMES = {
    "in its own proportion": ("viewBox='0 0 300 120'", (600, 240)),
    "in another, all of it": ("viewBox='0 0 300 120'", (600, 400)),
    "in another, filling": ("viewBox='0 0 300 120' preserveAspectRatio='xMidYMid slice'", (600, 400)),
    "stretched": ("viewBox='0 0 300 120' preserveAspectRatio='none' width='300' height='120'", (500, 400)),
    "without a box": ("width='300' height='120'", (500, 400)),
}


@pytest.mark.parametrize("name", FRAMES)
def test_a_drawing_is_drawn_as_chromium_draws_it(browser: Browser, name: str) -> None:
    said, (across, down) = FRAMES[name]
    drawing = f"<svg xmlns='http://www.w3.org/2000/svg' {said}>{WAVES}</svg>".encode()
    box = f"width: {across}px; height: {down}px; background: url(a.svg) 0 0 / {across}px {down}px no-repeat"
    page = f"<!doctype html><style>body {{ margin: 0; background: #fff }} div {{ {box} }}</style><div></div>"
    with folder_of({"index.html": page.encode(), "a.svg": drawing}) as address:
        seen = picture_of(browser, address + "index.html", 1000)[:down, :across].astype(int)
    png = painted_at(drawing, (across, down), 5)
    assert png is not None
    drawn = np.asarray(Image.open(io.BytesIO(png)).convert("RGBA")).astype(int)
    share = drawn[..., 3:] / 255
    apart = np.abs(drawn[..., :3] * share + 255 * (1 - share) - seen)
    # edges are smoothed by shares of a pixel that differ a little
    assert apart.mean() < 0.3 and np.percentile(apart, 99) <= 40 and len(np.unique(drawn.reshape(-1, 4), axis=0)) > 2

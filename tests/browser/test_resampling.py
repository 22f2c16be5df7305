"""Pictures drawn larger and smaller, held against Chromium's pixels."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser

from glaucon.core.layout.resampling import Drawable
from tests.oracle.chromium_truth import picture_of
from tests.oracle.handing_back import folder_of

# a picture's own width and height, and what it is drawn as
SIZES = [
    (640, 400, 900, 562), (1200, 800, 900, 600), (1200, 800, 500, 333), (1200, 800, 250, 167), (640, 400, 700, 300),
    (1203, 807, 250, 167), (2811, 933, 400, 133), (1501, 1000, 500, 333),
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
